package dasein.app.stage;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.ServerTest;
import dasein.app.store.ShotMapper;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** The call sheet from an empty shot to rendered frames, and what the front page keeps of it. */
class CallSheetTest extends ServerTest {
    @Autowired
    CallSheet sheet;

    @Autowired
    Sheets sheets;

    @Autowired
    ShotMapper rows;

    private String states(Shot s) {
        return states(sheet.of(seen(s)));
    }

    /** A letter for each stage: missing, stale, fresh, running, x for failed. */
    private static String states(List<CallSheet.Entry> all) {
        StringBuilder b = new StringBuilder();
        for (CallSheet.Entry e : all)
            b.append(e.state().equals("failed") ? 'x' : e.state().charAt(0));
        return b.toString();
    }

    @Test
    void linesFollowTheWork() {
        assertThat(states(Shot.BLANK)).isEqualTo("mmmmmmmmmm");
        Shot s = plated();
        assertThat(states(s)).isEqualTo("fmmmmmmmmm");
        assertThat(states(s.with(s.plate().read("", "", 0, 0))))
                .as("nobody said the rate")
                .startsWith("s");
        results.save("tracks", Prints.tracks(s), Map.of("tracks", 40, "doubts", List.of()), "");
        assertThat(states(s)).startsWith("ff");
        solve(s, "moving");
        // The ground is proposed, its size unknown.
        assertThat(states(s)).isEqualTo("fffsmmmmmm");
        Shot sized = edit(s, "set", "camera-height", "metres", "1.6").shot();
        assertThat(states(sized)).isEqualTo("ffffmmmmmm");
        Shot placed = edit(sized, "blocking", "add", "model", model("crate")).shot();
        assertThat(states(placed)).isEqualTo("fffffmmmmm");
        for (int f = 1; f <= FRAMES; f++) {
            assertThat(states(placed).charAt(6)).isEqualTo(f == 1 ? 'm' : 's');
            results.save("passes", Prints.frame(placed, f), Map.of("noise", 0.02, "samples", 8), "");
        }
        assertThat(states(placed)).startsWith("fffffmff");
        // Whoever moves somebody has no rendered frames any more.
        Shot moved = edit(placed, "blocking", "move", "id", "1", "frame", "1", "x", "0.5", "z", "-4")
                .shot();
        assertThat(states(moved).substring(6, 8)).doesNotContain("f");
        assertThat(states(placed)).as("and has them again after undo").startsWith("fffffmff");
    }

    @Test
    void linesSayTheirFigures() {
        Shot s = plated();
        solve(s, "moving");
        List<CallSheet.Entry> all = sheet.of(seen(s));
        assertThat(all).extracting(CallSheet.Entry::number).containsExactly(1, 2, 3, 4, 5, 6, 7, 8, 9, 10);
        assertThat(all.get(0).proof()).isEqualTo("6 frames at 24, 160 x 96");
        assertThat(all.get(2).proof()).contains("0.30 px");
        assertThat(sheet.of(seen(Shot.BLANK)).get(3).proof()).isEqualTo("needs a solved camera");
    }

    @Test
    void footageThatIsGoneIsSaidInItsLineAndTheOthersStand() {
        Shot s = Shot.BLANK.with(Shot.BLANK.plate().withFile("a".repeat(64)));
        List<CallSheet.Entry> all = sheet.of(seen(s));
        assertThat(all).hasSize(10);
        assertThat(all.get(0).state()).isEqualTo("failed");
        assertThat(all.get(0).proof()).contains("missing");
        assertThat(states(all)).endsWith("m");
    }

    /** The front page shows what was worked out last, and never that of an older revision. */
    @Test
    void theFrontPageKeepsThemByRevision() {
        long id = make(plated());
        sheets.of(seeing.of(id));
        assertThat(sheets.of(List.of(rows.shot(id))).get(id).lines()).hasSize(10);
        shots.change(
                id, "count", k -> edit(k, "tracks", "settings", "count", "77").shot());
        Sheets.Kept k = sheets.of(List.of(rows.shot(id))).get(id);
        // Its plate is open by now, so that it is worked out on the way.
        assertThat(k.lines()).hasSize(10);
        assertThat(k.first()).isEqualTo(1);
        assertThat(k.trouble()).isNull();
    }

    @Test
    void aShowsOtherRateIsLoud() {
        Shot s = plated();
        long id = make(s);
        rows.showRate(rows.shot(id).showId(), "25");
        try {
            List<CallSheet.Entry> all = sheet.of(seeing.of(id));
            assertThat(all.get(0).state()).isEqualTo("failed");
            assertThat(all.get(0).proof()).contains("24").contains("25");
        } finally {
            rows.showRate(rows.shot(id).showId(), "");
        }
    }
}

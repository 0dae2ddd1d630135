package dasein.app.stage.plate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.app.ServerTest;
import dasein.app.stage.Change;
import dasein.core.BadInput;
import dasein.core.plate.Conform;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.track.TrackSettings;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** What the edits of the Plate stage make of a document. */
class PlateEditsTest extends ServerTest {
    private Change plate(Shot s, String action, String... fields) {
        return edit(s, "plate", action, fields);
    }

    private void refused(Shot s, String with, String action, String... fields) {
        assertThatThrownBy(() -> plate(s, action, fields))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining(with);
    }

    @Test
    void notesAreKeptAndChangeNoResult() {
        Shot s = plated(),
                n =
                        plate(s, "settings", "sensorWidthMm", "24.9", "focalMm", "28", "notes", "dusk", "lens", "no. 3")
                                .shot();
        assertThat(n.plate().sensorWidthMm()).isEqualTo(24.9);
        assertThat(n.plate().notes()).isEqualTo("dusk");
        assertThat(Prints.tracks(n)).isEqualTo(Prints.tracks(s));
        // An emptied field says that nothing is known.
        assertThat(plate(n, "settings", "focalMm", "").shot().plate().focalMm()).isZero();
        refused(s, "sensor width", "settings", "sensorWidthMm", "wide");
        refused(s, "sensor width", "settings", "sensorWidthMm", "-3");
    }

    @Test
    void aRangeMustLieInTheFootage() {
        Shot s = plated();
        assertThat(plate(s, "settings", "first", "2", "last", "5")
                        .shot()
                        .plate()
                        .last())
                .isEqualTo(5);
        refused(s, "frame", "settings", "last", "400");
        refused(s, "frame", "settings", "first", "5", "last", "2");
    }

    @Test
    void howItIsReadMakesWhatWasFoundOld() {
        Shot s = plated(), linear = plate(s, "settings", "encoding", "linear").shot();
        assertThat(Prints.tracks(linear)).isNotEqualTo(Prints.tracks(s));
        Shot wide = plate(s, "settings", "aspect", "2").shot();
        assertThat(wide.plate().conform().aspect()).isEqualTo(2);
        assertThat(desk.plates().facts(wide).width()).isEqualTo(2 * WIDTH);
        Shot fields = plate(s, "settings", "fields", "UPPER").shot();
        assertThat(fields.plate().conform().fields()).isEqualTo(Conform.Fields.UPPER);
        refused(s, "no choice", "settings", "order", "BACKWARDS");
        refused(s, "encoding", "settings", "encoding", "sepia");
        refused(s, "timecode", "settings", "timecode", "yesterday");
    }

    @Test
    void distancesAreNotedAndTakenOff() {
        Shot one =
                plate(plated(), "distance", "name", "bollards", "metres", "4.2").shot();
        assertThat(one.plate().distances()).containsExactly(new PlateRecipe.Distance("bollards", 4.2));
        Change off = plate(one, "no-distance", "index", "0");
        assertThat(off.shot().plate().distances()).isEmpty();
        assertThat(off.summary()).isEqualTo("bollards taken off the notes");
        refused(one, "needs a name", "distance", "name", "", "metres", "2");
        refused(one, "the distance", "distance", "name", "x", "metres", "0");
        // Of two windows the other one may have taken it off already.
        refused(off.shot(), "no longer there", "no-distance", "index", "0");
        refused(off.shot(), "no longer there", "no-distance");
        refused(one, "no longer there", "no-distance", "index", "7");
    }

    @Test
    void repeatedFramesAreLeftOut() {
        Shot s = plated();
        refused(s, "no repeated frames", "no-repeats");
        assertThat(plate(s, "thorough").shot().tracks().quality()).isEqualTo(TrackSettings.Quality.THOROUGH);
        results.save("health", Prints.health(s), Map.of("repeated", List.of(3, 5)), "");
        Shot without = plate(s, "no-repeats").shot();
        assertThat(without.plate().conform().order()).isEqualTo(Conform.Order.WITHOUT);
        assertThat(without.plate().conform().leftOut()).containsExactly(3, 5);
        assertThat(desk.plates().facts(without).count()).isEqualTo(FRAMES - 2);
    }
}

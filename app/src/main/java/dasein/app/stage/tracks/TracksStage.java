package dasein.app.stage.tracks;

import dasein.app.stage.Change;
import dasein.app.stage.Desk;
import dasein.app.stage.FileNames;
import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.store.Media;
import dasein.app.task.Tasks;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.track.HandMark;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import org.springframework.web.multipart.MultipartFile;
import tools.jackson.databind.JsonNode;

/** Marks, found or put by hand, and masks. */
@Component
class TracksStage implements Stage {
    private static final int MOST_DOUBTS = 10;

    private final Desk desk;
    private final TrackEdits edits;
    private final Tasks tasks;

    TracksStage(Desk desk, TrackEdits edits, Tasks tasks) {
        this.desk = desk;
        this.edits = edits;
        this.tasks = tasks;
    }

    @Override
    public String key() {
        return "tracks";
    }

    @Override
    public String name() {
        return "Tracks";
    }

    @Override
    public List<String> works() {
        return List.of("tracks", "marks");
    }

    private static JsonNode facts(Seen s) {
        return s.facts("tracks", Prints.tracks(s.shot()));
    }

    /** What goes into a solve: all that were found and not taken out, and marks by hand. */
    private static int count(Shot s, JsonNode facts) {
        return facts.path("count").asInt()
                - s.tracks().deleted().size()
                + s.tracks().marks().size();
    }

    @Override
    public Line line(Seen s) {
        JsonNode f = facts(s);
        // Marks by hand stand on their own.
        int byHand = s.shot().tracks().marks().size();
        if (f == null && byHand >= HandMark.ENOUGH && s.last("tracks") == null)
            return s.desk().results().unfollowed(s.shot()).isEmpty()
                    ? Line.fresh(byHand + " marks by hand")
                    : Line.stale(byHand + " marks by hand, being followed");
        return Line.computed(
                s.last("tracks"),
                () -> f == null
                        ? null
                        : count(s.shot(), f) + " tracks, "
                                + Math.round(100 * f.path("covered").asDouble()) + " % covered",
                "not tracked yet");
    }

    record Doubt(int track, int frame, String reason) {}

    record Moving(int number, int tracks, String ids, long percent) {}

    record MarkLine(HandMark mark, String said) {}

    private static MarkLine markLine(Seen s, HandMark k) {
        JsonNode f = s.facts("marks", Prints.mark(s.shot(), k));
        if (f == null) return new MarkLine(k, "being followed");
        int from = f.path("from").asInt(), to = f.path("to").asInt();
        String held = from == to ? "frame " + from : "frames " + from + " to " + to;
        List<String> lost = new ArrayList<>();
        if (from > k.first()) lost.add("before " + from + why(f, "lostBefore"));
        if (to < k.last()) lost.add("after " + to + why(f, "lostAfter"));
        return new MarkLine(
                k, lost.isEmpty() ? held + ", " + k.fixes().size() + " put" : "lost " + String.join(" and ", lost));
    }

    private static String why(JsonNode facts, String which) {
        String w = facts.path(which).asString("");
        return w.isEmpty() ? "" : " (" + w + ")";
    }

    @Override
    public void bench(Model m, Seen s) {
        Shot shot = s.shot();
        m.addAttribute("trackFacts", facts(s));
        m.addAttribute("rateSaid", s.plate() == null || s.saidRate() != null);
        Map<Integer, String> carried = new HashMap<>();
        desk.results()
                .planes(shot)
                .forEach((id, way) -> carried.put(
                        id, way.isEmpty() ? ": never seen" : ", held " + way.firstKey() + " to " + way.lastKey()));
        m.addAttribute("carried", carried);
        m.addAttribute(
                "handMarks",
                shot.tracks().marks().stream().map(k -> markLine(s, k)).toList());
        JsonNode f = facts(s);
        if (f == null) return;
        Set<Integer> gone = new HashSet<>(shot.tracks().deleted());
        shot.tracks().cuts().forEach(c -> gone.add(c.track()));
        List<Doubt> doubts = new ArrayList<>(), brief = new ArrayList<>(), went = new ArrayList<>();
        for (JsonNode d : f.path("doubts")) {
            Doubt doubt = new Doubt(
                    d.path("track").asInt(),
                    d.path("frame").asInt(),
                    d.path("reason").asString());
            // What was held briefly does no harm.
            boolean serious = d.path("badness").asDouble() >= 1;
            (gone.contains(doubt.track()) ? went : serious ? doubts : brief).add(doubt);
        }
        if (!gone.isEmpty()) m.addAttribute("went", went);
        m.addAttribute("count", count(shot, f));
        m.addAttribute("doubts", doubts);
        m.addAttribute("brief", brief);
        m.addAttribute("most", MOST_DOUBTS);
        m.addAttribute("doubtful", doubts.size());
        m.addAttribute("groups", moving(shot, f, gone));
    }

    private static List<Moving> moving(Shot s, JsonNode facts, Set<Integer> gone) {
        List<Moving> out = new ArrayList<>();
        int n = 0;
        for (JsonNode g : facts.path("groups")) {
            List<String> ids = new ArrayList<>();
            for (JsonNode i : g.path("tracks"))
                if (!gone.contains(i.asInt()) && !s.tracks().moving().contains(i.asInt())) ids.add(i.asString());
            if (!ids.isEmpty())
                out.add(new Moving(
                        n,
                        ids.size(),
                        String.join(",", ids),
                        Math.round(100 * g.path("breadth").asDouble())));
            n++;
        }
        return out;
    }

    @Override
    public Change edit(Seen s, String action, Form f) {
        return edits.apply(s.shot(), action, f);
    }

    /** Marks put or moved by hand are followed at once. A task that waits will see them; one that runs may not. */
    @Override
    public void after(Seen s, String action) {
        if (desk.results().toFollow(s.shot()))
            tasks.startOnceMore(s.id(), s.head().revision().id(), "marks", "Following", "");
    }

    @Override
    public void start(Seen s, Form f) {
        s.needRate();
        s.refuseWhile("tracks", "bring");
        tasks.start(s.id(), s.head().revision().id(), "tracks", "Tracks", "");
    }

    @Override
    public void bring(Seen s, List<MultipartFile> files, Form f) throws IOException {
        String name = FileNames.of(files.get(0));
        Media m = desk.media().tracks(files.get(0).getInputStream(), name);
        var h = desk.shots()
                .change(s.id(), "tracks from " + name, k -> k.with(k.tracks().withFile(m.hash())));
        tasks.startOnceMore(s.id(), h.revision().id(), "tracks", "Tracks", "");
    }

    @Override
    public void data(Map<String, Object> m, Seen s) {
        Shot shot = s.shot();
        JsonNode f = facts(s);
        if (f != null) m.put("alive", f.path("alive"));
        m.put(
                "tracksPrint",
                Prints.keptTracks(shot)
                        + (f != null)
                        + desk.results().unfollowed(shot).size());
        m.put("marks", shot.tracks().marks());
        m.put("masks", shot.tracks().masks());
        m.put("planes", desk.comps().ways(shot));
        m.put("groups", shot.tracks().groups());
        m.put("deleted", shot.tracks().deleted());
    }
}

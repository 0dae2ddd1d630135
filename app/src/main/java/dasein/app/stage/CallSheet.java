package dasein.app.stage;

import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.app.store.ShotMapper;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.TaskMapper;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.ground.GroundFit;
import dasein.core.plate.Plate;
import dasein.core.plate.Rate;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;

/** The ten stages of a shot with their state and proof figure. */
@Component
public class CallSheet {
    public static final List<String> STAGES =
            List.of("plate", "tracks", "camera", "set", "blocking", "light", "passes", "comp", "presence", "output");

    private final Plates plates;
    private final Results results;
    private final TaskMapper tasks;

    CallSheet(Plates plates, Results results, TaskMapper tasks) {
        this.plates = plates;
        this.results = results;
        this.tasks = tasks;
    }

    /** State is a shape: missing, stale, fresh, running, failed. */
    public record Line(int number, String key, String name, String state, String proof) {}

    public List<Line> of(Shots.Head h) {
        Shot s = h.shot();
        Map<String, Task> last = tasks.last(h.id()).stream().collect(Collectors.toMap(Task::kind, t -> t));
        List<Line> out = new ArrayList<>();
        Plate plate;
        try {
            plate = plates.of(s);
        } catch (BadInput e) {
            plate = null;
            out.add(new Line(1, "plate", "Plate", "failed", e.getMessage()));
        }
        if (out.isEmpty())
            out.add(
                    plate == null
                            ? new Line(1, "plate", "Plate", "missing", "no footage yet")
                            : otherRate(h.row(), plate) == null
                                    ? new Line(1, "plate", "Plate", "fresh", plateProof(s, plate))
                                    : new Line(1, "plate", "Plate", "failed", otherRate(h.row(), plate)));
        out.add(computed(
                2,
                "tracks",
                "Tracks",
                "tracks",
                Results.tracksPrint(s),
                last,
                f -> f.path("count").asInt() + " tracks, "
                        + Math.round(100 * f.path("covered").asDouble()) + " % covered",
                "not tracked yet"));
        out.add(computed(
                3,
                "camera",
                "Camera",
                "camera",
                Results.cameraPrint(s),
                last,
                f -> cameraProof(s, f),
                "not solved yet"));
        out.add(set(s));
        String who = s.performers().stream()
                .map(p -> String.format(Locale.ROOT, "%s %.1f m", p.name(), p.heightMetres()))
                .collect(Collectors.joining(", "));
        out.add(new Line(
                5,
                "blocking",
                "Blocking",
                s.performers().isEmpty() ? "missing" : "fresh",
                s.performers().isEmpty() ? "nobody placed yet" : who));
        out.add(new Line(6, "light", "Light", s.light().environment().isEmpty() ? "missing" : "fresh", lightProof(s)));
        out.addAll(rendered(s, plate, last));
        return out;
    }

    /** A sentence when the plate's rate is not the show's; else null. Nothing ruins a shot more quietly. */
    static String otherRate(ShotMapper.ShotRow row, Plate p) {
        if (row.showRate().isEmpty()) return null;
        Rate show = Rate.parse(row.showRate()), r = p.rate();
        return (long) show.num() * r.den() == (long) r.num() * show.den()
                ? null
                : "the plate has " + r.words() + " frames a second, the show " + show.words();
    }

    private static String plateProof(Shot s, Plate p) {
        int n = ShotSteps.cutLast(s.plate(), p) - ShotSteps.cutFirst(s.plate(), p) + 1;
        return n + " frames at " + rate(p) + ", " + p.width() + " x " + p.height();
    }

    public static String rate(Plate p) {
        return p.rate().words();
    }

    private static String cameraProof(Shot s, JsonNode f) {
        String px = String.format(Locale.ROOT, "%.2f px", f.path("rms").asDouble());
        double sensor = s.plate().sensorWidthMm();
        if (sensor <= 0)
            return px
                    + String.format(
                            Locale.ROOT, ", focal %.0f px", f.path("focalPx").asDouble());
        return px
                + String.format(
                        Locale.ROOT,
                        ", %.1f mm",
                        f.path("focalPx").asDouble() * sensor / f.path("width").asDouble());
    }

    private static String lightProof(Shot s) {
        String sun =
                switch (s.light().sun().source()) {
                    case "own" ->
                        String.format(
                                Locale.ROOT,
                                "sun %.0f deg high",
                                s.light().sun().elevationDeg());
                    case "map" -> "sun from the map";
                    default -> "no sun apart";
                };
        return s.light().environment().isEmpty() ? "even grey sky, " + sun : "map, " + sun;
    }

    private interface Proof {
        String of(JsonNode facts);
    }

    private Line computed(
            int n,
            String key,
            String name,
            String kind,
            String print,
            Map<String, Task> last,
            Proof proof,
            String missing) {
        Task t = last.get(kind);
        JsonNode f = results.facts(kind, print);
        if (t != null && t.open())
            return new Line(n, key, name, "running", t.state().equals("waiting") ? "waiting" : t.note());
        if (f != null) return new Line(n, key, name, "fresh", proof.of(f));
        if (t != null && t.state().equals("failed")) return new Line(n, key, name, "failed", t.note());
        if (t != null && t.state().equals("done")) return new Line(n, key, name, "stale", "older than its settings");
        return new Line(n, key, name, "missing", missing);
    }

    private Line set(Shot s) {
        try {
            GroundFit.Result g = results.set(s);
            if (g == null) return new Line(4, "set", "Set", "missing", "needs a solved camera");
            if (g.points().isEmpty() && results.camera(s).measured())
                return new Line(4, "set", "Set", "fresh", "in the frame of measured places");
            if (g.points().isEmpty())
                return new Line(
                        4,
                        "set",
                        "Set",
                        g.scaled() ? "fresh" : "stale",
                        g.scaled()
                                ? String.format(
                                        Locale.ROOT,
                                        "level, %.2f m below the camera",
                                        s.plate().cameraHeightMetres())
                                : "level ground, size unknown");
            if (!g.scaled()) return new Line(4, "set", "Set", "stale", "ground proposed, size unknown");
            if (g.checks().stream().anyMatch(GroundFit.Check::contradicts))
                return new Line(
                        4,
                        "set",
                        "Set",
                        "fresh",
                        g.checks().stream()
                                        .filter(GroundFit.Check::contradicts)
                                        .map(GroundFit.Check::name)
                                        .findFirst()
                                        .orElse("")
                                + " contradicts the rest");
            if (g.residuals().isEmpty()) return new Line(4, "set", "Set", "fresh", "size from the camera's height");
            if (g.residuals().size() == 1) return new Line(4, "set", "Set", "fresh", "size from one yardstick");
            double worst = g.residuals().stream().mapToDouble(Math::abs).max().orElse(0);
            return new Line(
                    4,
                    "set",
                    "Set",
                    "fresh",
                    String.format(
                            Locale.ROOT,
                            "%d yardsticks within %.1f cm",
                            g.residuals().size(),
                            100 * worst));
        } catch (BadInput | NoSolution e) {
            return new Line(4, "set", "Set", "failed", e.getMessage());
        }
    }

    public List<Integer> renderedFrames(Shot s, Plate plate) {
        if (plate == null) return List.of();
        int first = ShotSteps.first(s.plate(), plate), last = ShotSteps.last(s.plate(), plate);
        Map<String, Integer> prints = IntStream.rangeClosed(first, last)
                .boxed()
                .collect(Collectors.toMap(f -> Results.framePrint(s, f), f -> f));
        return results.known("passes", List.copyOf(prints.keySet())).stream()
                .map(prints::get)
                .sorted()
                .toList();
    }

    /** How many frames of the cut are rendered. */
    public int renderedInCut(Shot s, Plate plate) {
        if (plate == null) return 0;
        int from = ShotSteps.cutFirst(s.plate(), plate), to = ShotSteps.cutLast(s.plate(), plate);
        return (int) renderedFrames(s, plate).stream()
                .filter(f -> f >= from && f <= to)
                .count();
    }

    private List<Line> rendered(Shot s, Plate plate, Map<String, Task> last) {
        int from = plate == null ? 0 : ShotSteps.cutFirst(s.plate(), plate),
                to = plate == null ? -1 : ShotSteps.cutLast(s.plate(), plate),
                all = to - from + 1;
        int have = renderedInCut(s, plate);
        Task t = last.get("passes"), o = last.get("output"), q = last.get("presence");
        List<Line> out = new ArrayList<>();
        boolean running = t != null && t.open();
        String state = running
                ? "running"
                : have == 0
                        ? t != null && t.state().equals("failed")
                                ? "failed"
                                : t != null && t.state().equals("done") ? "stale" : "missing"
                        : have < all ? "stale" : "fresh";
        String said = running
                ? have + " of " + all + " rendered"
                : have == 0
                        ? t == null || t.state().equals("cancelled")
                                ? "nothing rendered yet"
                                : t.state().equals("failed") ? t.note() : "older than its settings"
                        : have + " of " + all + " frames";
        out.add(new Line(7, "passes", "Passes", state, said));
        out.add(new Line(
                8,
                "comp",
                "Comp",
                have == 0 ? "missing" : have < all ? "stale" : "fresh",
                have == 0 ? "needs passes" : "ready in " + have + " frames"));
        JsonNode f = plate == null ? null : presence(s, plate, have);
        long bad = 0;
        if (f != null)
            for (JsonNode x : f.path("findings")) if (!x.path("passed").asBoolean()) bad++;
        out.add(new Line(
                9,
                "presence",
                "Presence",
                q != null && q.open()
                        ? "running"
                        : f != null ? "fresh" : q != null && q.state().equals("done") ? "stale" : "missing",
                f == null
                        ? "not looked at yet"
                        : bad == 0
                                ? "nothing found, " + f.path("frames").asInt() + " frames"
                                : bad + (bad == 1 ? " finding" : " findings")));
        String movie = plate == null ? null : Results.moviePrint(s, "movie", from, to);
        boolean written = movie != null && results.find("output", movie) != null;
        out.add(new Line(
                10,
                "output",
                "Output",
                o != null && o.open()
                        ? "running"
                        : written
                                ? "fresh"
                                : o != null && o.state().equals("failed")
                                        ? "failed"
                                        : o != null && o.state().equals("done") ? "stale" : "missing",
                o != null && o.open()
                        ? o.note()
                        : written
                                ? "movie written"
                                : o != null && o.state().equals("failed")
                                        ? o.note()
                                        : o != null && o.state().equals("done")
                                                ? "written, not the whole or older"
                                                : "nothing written yet"));
        return out;
    }

    /** What the checks found over the frames rendered now, or null. */
    public JsonNode presence(Shot s, Plate plate, int rendered) {
        return results.facts(
                "presence",
                Results.presencePrint(s, ShotSteps.cutFirst(s.plate(), plate), ShotSteps.cutLast(s.plate(), plate))
                        + "-" + rendered);
    }
}

package dasein.app.web;

import dasein.app.stage.CallSheet;
import dasein.app.store.Inbox;
import dasein.app.store.MediaMapper;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.app.store.ShotMapper;
import dasein.app.store.Shots;
import dasein.app.task.TaskMapper;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.ground.GroundFit;
import dasein.core.ground.Piece;
import dasein.core.ground.PlaneSearch;
import dasein.core.ground.SetRecipe;
import dasein.core.ground.StickSlide;
import dasein.core.image.Encoding;
import dasein.core.lens.FilmBack;
import dasein.core.lens.Lens;
import dasein.core.plate.Conform;
import dasein.core.plate.Plate;
import dasein.core.plate.Timecode;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.CameraExchange;
import dasein.core.solve.CameraMatch;
import dasein.core.solve.Cleaning;
import dasein.core.solve.Hints;
import dasein.core.solve.SolveDifference;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.StillSolver;
import dasein.core.track.DrawnMask;
import dasein.core.track.HandMark;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What the bench of each stage shows besides the recipe itself. */
@Component
class Bench {
    private static final JsonMapper JSON = new JsonMapper();

    private final Plates plates;
    private final Results results;
    private final MediaMapper media;
    private final CallSheet sheet;
    private final TaskMapper tasks;

    private final Inbox inbox;
    private final BlockingBench blockingBench;

    Bench(
            Plates plates,
            Results results,
            MediaMapper media,
            CallSheet sheet,
            TaskMapper tasks,
            Inbox inbox,
            BlockingBench blockingBench) {
        this.blockingBench = blockingBench;
        this.inbox = inbox;
        this.plates = plates;
        this.results = results;
        this.media = media;
        this.sheet = sheet;
        this.tasks = tasks;
    }

    /** @param off measured minus solved in metres; not a number while its points are not solved */
    record Stick(int index, SetRecipe.Yardstick yardstick, double off) {
        public boolean lost() {
            return Double.isNaN(off);
        }
    }

    /** A set piece, and what it does in words. */
    record PieceLine(Piece piece) {
        public String said() {
            if (piece.kind() == Piece.Kind.HOLE) return "opens the ground onto what is below";
            List<String> does = new ArrayList<>();
            for (Piece.Role r : piece.roles())
                does.add(
                        switch (r) {
                            case SHADOW -> "takes shadow and given light";
                            case REFLECTION -> "mirrors performers";
                            case BOUNCE -> "gives its colour back to performers";
                            case HIDE -> "hides what is behind it";
                        });
            return does.isEmpty() ? "does nothing" : String.join(", ", does);
        }

        public boolean has(String what) {
            return switch (piece.kind()) {
                case FLOOR, TERRAIN, HOLE -> !what.equals("height") && !what.equals("steps");
                case WALL -> !what.equals("depth") && !what.equals("steps");
                case POLYGON -> false;
                case MODEL -> what.equals("height");
                case STAIRS -> true;
                default -> !what.equals("steps");
            };
        }
    }

    void fill(Model m, Shots.Head h, String stage) {
        Shot s = h.shot();
        Plate p = null;
        try {
            p = plates.of(s);
        } catch (BadInput e) {
            m.addAttribute("trouble", e.getMessage());
            m.addAttribute("gap", e instanceof Plate.Gap);
        }
        m.addAttribute("plate", p);
        m.addAttribute("rate", p == null ? "" : CallSheet.rate(p));
        m.addAttribute("first", p == null ? 1 : ShotSteps.first(s.plate(), p));
        m.addAttribute("last", p == null ? 1 : ShotSteps.last(s.plate(), p));
        m.addAttribute("cutFirst", p == null ? 1 : ShotSteps.cutFirst(s.plate(), p));
        m.addAttribute("cutLast", p == null ? 1 : ShotSteps.cutLast(s.plate(), p));
        m.addAttribute("trackFacts", results.facts("tracks", Results.tracksPrint(s)));
        SolvedCamera c = results.camera(s);
        m.addAttribute("camera", c);
        switch (stage) {
            case "plate" -> plate(m, s, p);
            case "tracks" -> tracks(m, s);
            case "camera" -> {
                m.addAttribute("lenses", media.shelf("lens"));
                m.addAttribute(
                        "surfaces",
                        s.tracks().masks().stream()
                                .filter(k -> k.carry() == DrawnMask.Carry.PLANE)
                                .toList());
                m.addAttribute("turns", CameraExchange.TURNS.keySet());
                if (s.camera().locked()) m.addAttribute("lineErrors", lineErrors(s, c));
                if (s.camera().locked()) m.addAttribute("placeErrors", placeErrors(s, c));
                double readout = s.camera().hints().readout();
                m.addAttribute(
                        "readoutMs",
                        p == null || readout == 0 || readout == Hints.SOLVE_READOUT
                                ? ""
                                : String.format(
                                        Locale.ROOT,
                                        "%.2f",
                                        1000 * readout / p.rate().perSecond()));
                m.addAttribute("findsReadout", readout == Hints.SOLVE_READOUT);
                m.addAttribute("keptSolves", keptSolves(s, c));
                m.addAttribute(
                        "movers",
                        s.tracks().groups().stream()
                                .filter(g -> g.moving()
                                        && s.camera().objects().stream().noneMatch(o -> o.group() == g.id()))
                                .toList());
                m.addAttribute(
                        "things",
                        s.camera().objects().stream()
                                .map(o -> new Thing(o, results.facts("object", Results.objectPrint(s, o))))
                                .toList());
                if (c == null) break;
                m.addAttribute(
                        "worst",
                        c.points().stream()
                                .sorted(Comparator.comparingDouble(q -> -q.rmsPx()))
                                .limit(6)
                                .toList());
                m.addAttribute(
                        "mm",
                        s.plate().sensorWidthMm() > 0
                                ? c.frames().get(0).focalPx() * s.plate().sensorWidthMm() / c.width()
                                : 0.0);
                m.addAttribute(
                        "above",
                        c.points().stream()
                                .filter(q -> q.rmsPx() > Cleaning.limit(c))
                                .count());
                m.addAttribute("bars", bars(c));
                m.addAttribute("focalSaid", focal(c, s.plate().sensorWidthMm()));
                m.addAttribute("bentSaid", bent(c.lens()));
            }
            case "set" -> {
                m.addAttribute(
                        "pieces", s.set().pieces().stream().map(PieceLine::new).toList());
                m.addAttribute("shelf", media.shelf("model"));
                m.addAttribute("kinds", Piece.Kind.values());
                m.addAttribute("coloured", results.facts("colours", Results.coloursPrint(s)));
                m.addAttribute("planes", c == null || !c.depth() ? List.of() : PlaneSearch.planes(c, 4));
                try {
                    GroundFit.Result g = results.set(s);
                    m.addAttribute("ground", g);
                    List<Track> kept = results.kept(s);
                    if (c != null && kept != null && !c.points().isEmpty())
                        m.addAttribute("slide", StickSlide.of(c, kept));
                    m.addAttribute("checks", g == null ? List.of() : g.checks());
                    List<Stick> sticks = new ArrayList<>();
                    if (g != null)
                        for (int k = 0; k < g.residuals().size(); k++)
                            sticks.add(new Stick(
                                    k,
                                    s.set().yardsticks().get(k),
                                    g.residuals().get(k)));
                    m.addAttribute("sticks", sticks);
                    if (g != null && s.plate().cameraHeightMetres() > 0)
                        m.addAttribute(
                                "cameraHeight",
                                results.cameraInSet(s)
                                        .frames()
                                        .get(0)
                                        .pose()
                                        .position()
                                        .y());
                } catch (BadInput | NoSolution e) {
                    m.addAttribute("trouble", e.getMessage());
                    List<Stick> sticks = new ArrayList<>();
                    for (SetRecipe.Yardstick y : s.set().yardsticks())
                        sticks.add(new Stick(sticks.size(), y, Double.NaN));
                    m.addAttribute("sticks", sticks);
                }
            }
            case "blocking" -> blockingBench.fill(m, s);
            case "light" -> m.addAttribute("maps", media.shelf("environment"));
            case "passes", "comp", "output", "presence" -> {
                List<Integer> done = sheet.renderedFrames(s, p);
                m.addAttribute("rendered", done);
                if (!done.isEmpty())
                    m.addAttribute(
                            "frameFacts", results.facts("passes", Results.framePrint(s, done.get(done.size() / 2))));
                if (stage.equals("presence") && p != null)
                    m.addAttribute("presence", sheet.presence(s, p, sheet.renderedInCut(s, p)));
                if (stage.equals("output") && p != null) outputs(m, h.id(), s, p);
            }
            default -> {}
        }
    }

    private void plate(Model m, Shot s, Plate p) {
        m.addAttribute("encodings", Encoding.values());
        m.addAttribute("filmBacks", FilmBack.STANDARD);
        m.addAttribute(
                "orders",
                java.util.Arrays.stream(Conform.Order.values())
                        .filter(o -> o != Conform.Order.WITHOUT
                                || !s.plate().conform().leftOut().isEmpty())
                        .toList());
        m.addAttribute("lines2", Conform.Fields.values());
        m.addAttribute("inbox", inbox.names());
        m.addAttribute("inboxRoot", inbox.root());
        m.addAttribute("health", results.facts("health", Results.healthPrint(s)));
        if (p == null) return;
        double grey = p.encoding().encode(0.18);
        m.addAttribute(
                "greyCode",
                p.encoding().linear()
                        ? "18 % grey is the value 0.18."
                        : String.format(
                                Locale.ROOT,
                                "18 %% grey lies at code %d of 255 (%d of 1023).",
                                Math.round(255 * grey),
                                Math.round(1023 * grey)));
        m.addAttribute("warnings", p.facts() == null ? List.of() : p.facts().warnings(p.count()));
        String code = !s.plate().timecode().isEmpty()
                ? s.plate().timecode()
                : p.facts() == null ? "" : p.facts().timecode();
        if (code.isEmpty()) return;
        try {
            Timecode t = Timecode.parse(code, p.rate());
            int first = ShotSteps.first(s.plate(), p), last = ShotSteps.last(s.plate(), p);
            m.addAttribute("timecodes", t.plus(first - p.first()) + " to " + t.plus(last - p.first()));
        } catch (BadInput e) {
            m.addAttribute("timecodes", e.getMessage());
        }
    }

    /** "28.03 mm +- 0.05", in pixels where the film back is not known, and from where to where a zoom goes. */
    private static String focal(SolvedCamera c, double sensorMm) {
        double k = sensorMm > 0 ? sensorMm / c.width() : 1, lo = Double.MAX_VALUE, hi = 0;
        String unit = sensorMm > 0 ? "mm" : "px";
        for (SolvedCamera.Frame f : c.frames()) {
            lo = Math.min(lo, f.focalPx() * k);
            hi = Math.max(hi, f.focalPx() * k);
        }
        String off = Double.isNaN(c.focalOff()) || c.focalOff() == 0
                ? c.focalOff() == 0 ? ", held" : ""
                : String.format(Locale.ROOT, sensorMm > 0 ? " \u00b1 %.2f" : " \u00b1 %.1f", c.focalOff() * k);
        return hi - lo > 0.002 * hi
                ? String.format(Locale.ROOT, "%.2f to %.2f %s%s", lo, hi, unit, off)
                : String.format(Locale.ROOT, sensorMm > 0 ? "%.2f %s%s" : "%.1f %s%s", lo, unit, off);
    }

    record LineError(int index, String axis, String off) {}

    private static List<LineError> lineErrors(Shot s, SolvedCamera c) {
        double[] off = c == null ? null : StillSolver.residuals(s.camera().lines(), c);
        List<LineError> out = new ArrayList<>();
        for (int i = 0; i < s.camera().lines().size(); i++)
            out.add(new LineError(
                    i,
                    s.camera().lines().get(i).axis().name().toLowerCase(Locale.ROOT),
                    off == null ? "" : String.format(Locale.ROOT, "%.1f px", off[i])));
        return out;
    }

    private static List<LineError> placeErrors(Shot s, SolvedCamera c) {
        List<CameraMatch.Placed> all = s.camera().match().points();
        double[] off = c == null || all.size() < 4 ? null : StillSolver.pointResiduals(all, c);
        List<LineError> out = new ArrayList<>();
        for (int i = 0; i < all.size(); i++)
            out.add(new LineError(i, "", off == null ? "" : String.format(Locale.ROOT, "%.1f px", off[i])));
        return out;
    }

    /** A solve that was kept, or the one of the present settings (print empty). */
    record KeptSolve(String print, String name, String said, String differs, boolean counts) {}

    private List<KeptSolve> keptSolves(Shot s, SolvedCamera now) {
        if (s.camera().kept().isEmpty()) return List.of();
        List<KeptSolve> out = new ArrayList<>();
        String counts = Results.cameraPrint(s), own = Results.settingsPrint(s);
        if (s.camera().kept().stream().noneMatch(k -> k.print().equals(own)))
            out.add(new KeptSolve(
                    "",
                    "as set now",
                    said(results.facts("camera", own)),
                    "",
                    s.camera().use().isEmpty()));
        for (CameraRecipe.Kept k : s.camera().kept()) {
            boolean mine = k.print().equals(counts);
            SolvedCamera c = mine || now == null ? null : results.keptSolve(k.print());
            SolveDifference d = c == null ? null : SolveDifference.of(now, c);
            out.add(new KeptSolve(
                    k.print(),
                    k.name(),
                    said(results.facts("camera", k.print())),
                    d == null
                            ? ""
                            : String.format(
                                    Locale.ROOT,
                                    "path differs by %.2f %%, direction by %.2f deg, focal length by %.2f %%",
                                    100 * d.path(),
                                    d.turnDeg(),
                                    100 * d.focal()),
                    mine));
        }
        return out;
    }

    private static String said(JsonNode f) {
        return f == null
                ? "not solved"
                : String.format(
                        Locale.ROOT,
                        "%.2f px, focal %.0f px, %d frames, %d points",
                        f.path("rms").asDouble(),
                        f.path("focalPx").asDouble(),
                        f.path("frames").asInt(),
                        f.path("points").asInt());
    }

    /** A thing that moves by itself, and what came of it; null while it is not solved. */
    record Thing(CameraRecipe.Moved of, JsonNode facts) {
        public String said() {
            return facts == null
                    ? "not solved"
                    : String.format(
                            Locale.ROOT,
                            "%.2f px, frames %d to %d, %.2f away at first",
                            facts.path("rms").asDouble(),
                            facts.path("from").asInt(),
                            facts.path("to").asInt(),
                            facts.path("distance").asDouble());
        }
    }

    private static String bent(Lens l) {
        List<String> out = new ArrayList<>(List.of(String.format(Locale.ROOT, "k1 %.4f", l.k1())));
        if (l.k2() != 0) out.add(String.format(Locale.ROOT, "k2 %.4f", l.k2()));
        if (l.k3() != 0) out.add(String.format(Locale.ROOT, "k3 %.4f", l.k3()));
        if (l.p1() != 0 || l.p2() != 0) out.add(String.format(Locale.ROOT, "p %.5f, %.5f", l.p1(), l.p2()));
        return String.join(", ", out);
    }

    record Doubt(int track, int frame, String reason) {}

    record Moving(int number, int tracks, String ids, long percent) {}

    record MarkLine(HandMark mark, String said) {}

    private MarkLine markLine(Shot s, HandMark k) {
        JsonNode f = results.facts("marks", Results.markPrint(s, k));
        if (f == null) return new MarkLine(k, "being followed");
        int from = f.path("from").asInt(), to = f.path("to").asInt();
        String held = from == to ? "frame " + from : "frames " + from + " to " + to;
        List<String> lost = new ArrayList<>();
        if (from > k.first()) lost.add("before " + from);
        if (to < k.last()) lost.add("after " + to);
        return new MarkLine(
                k, lost.isEmpty() ? held + ", " + k.fixes().size() + " put" : "lost " + String.join(" and ", lost));
    }

    private void tracks(Model m, Shot s) {
        Map<Integer, String> carried = new HashMap<>();
        results.planes(s)
                .forEach((id, way) -> carried.put(
                        id, way.isEmpty() ? ": never seen" : ", held " + way.firstKey() + " to " + way.lastKey()));
        m.addAttribute("carried", carried);
        m.addAttribute(
                "handMarks",
                s.tracks().marks().stream().map(k -> markLine(s, k)).toList());
        JsonNode f = results.facts("tracks", Results.tracksPrint(s));
        if (f == null) return;
        Set<Integer> gone = new HashSet<>(s.tracks().deleted());
        s.tracks().cuts().forEach(c -> gone.add(c.track()));
        Set<Integer> grouped = s.tracks().moving();
        List<Doubt> doubts = new ArrayList<>();
        for (JsonNode d : f.path("doubts"))
            if (!gone.contains(d.path("track").asInt()))
                doubts.add(new Doubt(
                        d.path("track").asInt(),
                        d.path("frame").asInt(),
                        d.path("reason").asString()));
        List<Moving> groups = new ArrayList<>();
        int n = 0;
        for (JsonNode g : f.path("groups")) {
            List<String> ids = new ArrayList<>();
            for (JsonNode i : g.path("tracks"))
                if (!gone.contains(i.asInt()) && !grouped.contains(i.asInt())) ids.add(i.asString());
            if (!ids.isEmpty())
                groups.add(new Moving(
                        n,
                        ids.size(),
                        String.join(",", ids),
                        Math.round(100 * g.path("breadth").asDouble())));
            n++;
        }
        if (!gone.isEmpty()) {
            List<Doubt> went = new ArrayList<>();
            for (JsonNode d : f.path("doubts"))
                if (gone.contains(d.path("track").asInt()))
                    went.add(new Doubt(
                            d.path("track").asInt(),
                            d.path("frame").asInt(),
                            d.path("reason").asString()));
            m.addAttribute("went", went);
        }
        long serious =
                doubts.stream().filter(d -> !d.reason().startsWith("was held")).count();
        m.addAttribute("doubts", doubts.stream().limit(10).toList());
        m.addAttribute("doubtful", serious);
        m.addAttribute("groups", groups);
    }

    record Written(String label, String url, String size, boolean movie) {}

    private void outputs(Model m, long shot, Shot s, Plate p) {
        List<Written> out = new ArrayList<>();
        int first = ShotSteps.cutFirst(s.plate(), p), last = ShotSteps.cutLast(s.plate(), p);
        LinkedHashSet<String> asked = new LinkedHashSet<>(List.of(
                "movie " + first + " " + last,
                "png " + first + " " + last,
                "exr " + first + " " + last,
                "straight " + first + " " + last));
        asked.addAll(tasks.written(shot));
        for (String settings : asked) {
            String[] a = settings.split(" ");
            int from = Integer.parseInt(a[1]), to = Integer.parseInt(a[2]);
            ShotMapper.Result r = results.find("output", Results.moviePrint(s, a[0], from, to));
            if (r == null) continue;
            String range = from == first && to == last ? "" : ", " + from + " to " + to;
            out.add(new Written(
                    (a[0].equals("movie")
                                    ? "H.264 movie"
                                    : a[0].equals("straight")
                                            ? "undistorted plate, ST maps"
                                            : a[0].toUpperCase(Locale.ROOT) + " frames")
                            + range,
                    r.fingerprint(),
                    size(JSON.readTree(r.facts()).path("bytes").asLong()),
                    a[0].equals("movie")));
        }
        m.addAttribute("written", out);
    }

    static String size(long bytes) {
        return bytes < 1 << 20
                ? (bytes + 1023) / 1024 + " KB"
                : String.format(Locale.ROOT, "%.1f MB", bytes / 1048576.0);
    }

    /** Histogram of per-track errors for the proof: share of the tallest in [0, 1], 34 bins of 0.1 px. */
    private static List<Double> bars(SolvedCamera c) {
        int[] n = new int[34];
        for (SolvedCamera.Point q : c.points()) n[Math.min(33, (int) (q.rmsPx() * 20))]++;
        int most = 1;
        for (int k : n) most = Math.max(most, k);
        List<Double> out = new ArrayList<>();
        for (int k : n) out.add((double) k / most);
        return out;
    }

    void readyToRender(Shot s, int from, int to) {
        SolvedCamera c = results.camera(s);
        if (c == null) throw new BadInput("the camera is not solved yet");
        for (int f = from; f <= to; f++)
            if (!c.has(f))
                throw new BadInput("frame " + f + " is not solved; the camera has frames " + c.first() + " to "
                        + c.last() + (c.gaps().isEmpty() ? "" : " without " + c.gaps()));
        results.set(s);
        if (s.performers().isEmpty()) throw new BadInput("nobody is placed in the shot yet");
    }
}

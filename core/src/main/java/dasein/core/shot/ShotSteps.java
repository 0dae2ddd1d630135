package dasein.core.shot;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.ground.GroundFit;
import dasein.core.image.Cube;
import dasein.core.image.Encoding;
import dasein.core.lens.Lens;
import dasein.core.plate.Plate;
import dasein.core.plate.Rate;
import dasein.core.plate.Span;
import dasein.core.solve.CameraSolver;
import dasein.core.solve.SolveSettings;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.StillSolver;
import dasein.core.solve.SurfaceSolver;
import dasein.core.solve.file.LensFile;
import dasein.core.track.AutoTracker;
import dasein.core.track.DrawnMask;
import dasein.core.track.HandMark;
import dasein.core.track.HandTracker;
import dasein.core.track.MarkMotion;
import dasein.core.track.PlaneTracker;
import dasein.core.track.Track;
import dasein.core.track.TrackSettings;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.function.IntFunction;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/** Each stage computed from its recipe and the results before it: the one place where recipes meet the algorithms. */
public final class ShotSteps {
    private static final int SHORTEST_TRACK = 6;

    private ShotSteps() {}

    /** @param table of the recipe, or null */
    public static Plate plate(PlateRecipe r, Path path, Path table) {
        return Plate.open(
                path,
                r.encoding().isEmpty() ? null : Encoding.of(r.encoding()),
                r.rate().isEmpty() ? null : Rate.parse(r.rate()),
                table == null ? null : Cube.read(table),
                r.conform());
    }

    /** First frame of the cut, which is what is delivered. */
    public static int cutFirst(PlateRecipe r, Span p) {
        return r.first() == 0 ? p.first() : within(r.first(), p);
    }

    public static int cutLast(PlateRecipe r, Span p) {
        int last = r.last() == 0 ? p.last() : within(r.last(), p);
        if (last < cutFirst(r, p))
            throw new BadInput("the range ends at frame " + last + ", before its first frame " + cutFirst(r, p));
        return last;
    }

    /** First frame that is worked on: the cut's, with its handle as far as there are frames. */
    public static int first(PlateRecipe r, Span p) {
        return Math.max(p.first(), cutFirst(r, p) - r.handles());
    }

    public static int last(PlateRecipe r, Span p) {
        return Math.min(p.last(), cutLast(r, p) + r.handles());
    }

    private static int within(int frame, Span p) {
        if (frame < p.first() || frame > p.last())
            throw new BadInput(
                    "frame " + frame + " is outside the plate, which has frames " + p.first() + " to " + p.last());
        return frame;
    }

    /** @param mask frame to "do not look here", added to the drawn masks; may be null */
    public static List<Track> tracks(Shot shot, Plate plate, IntFunction<boolean[]> mask, Progress progress) {
        return tracks(shot, plate, mask, ways(shot, plate, Progress.NONE), progress, null);
    }

    /**
     * All that carries a mask, followed: maps from the frame a mask was drawn in to others, by the number of the mask.
     */
    public static Map<Integer, TreeMap<Integer, double[]>> ways(Shot shot, Plate plate, Progress progress) {
        Set<Integer> wanted =
                shot.tracks().masks().stream().flatMap(m -> m.marks().stream()).collect(Collectors.toSet());
        Map<Integer, TreeMap<Integer, double[]>> out = byMarks(
                shot.tracks().masks(),
                shot.tracks().marks().stream()
                        .filter(m -> wanted.contains(m.id()))
                        .map(m -> mark(shot, plate, tracker(plate, m.weights()), m, progress))
                        .toList());
        for (DrawnMask m : shot.tracks().masks())
            if (m.carry() == DrawnMask.Carry.PLANE) out.put(m.id(), plane(shot, plate, m, out, progress));
        return out;
    }

    /** @param weights of red, green and blue, empty for brightness */
    public static HandTracker tracker(Plate plate, List<Double> weights) {
        return new HandTracker(
                f -> weights.isEmpty() ? plate.grey(f) : plate.grey(f, weights.get(0), weights.get(1), weights.get(2)),
                plate.width(),
                plate.height());
    }

    /** A mark put by hand, followed. */
    public static Track mark(Shot shot, Plate plate, HandTracker tracker, HandMark m, Progress progress) {
        return tracker.follow(
                m.to(Math.max(first(shot.plate(), plate), m.first()), Math.min(last(shot.plate(), plate), m.last())),
                progress);
    }

    /**
     * The way of the surface under a mask. Parts that other masks cover, other than those carried by surfaces
     * themselves, do not count.
     */
    public static TreeMap<Integer, double[]> plane(
            Shot shot,
            Plate plate,
            DrawnMask m,
            Map<Integer, ? extends Map<Integer, double[]>> ways,
            Progress progress) {
        List<DrawnMask> others = shot.tracks().masks().stream()
                .filter(k -> k.id() != m.id() && k.use() == DrawnMask.Use.AWAY && k.carry() != DrawnMask.Carry.PLANE)
                .toList();
        IntFunction<boolean[]> hidden =
                others.isEmpty() ? null : f -> DrawnMask.any(others, ways, f, plate.width(), plate.height());
        return new PlaneTracker(plate::grey, plate.width(), plate.height())
                .follow(
                        m,
                        HandMark.Motion.PERSPECTIVE,
                        first(shot.plate(), plate),
                        last(shot.plate(), plate),
                        hidden,
                        progress);
    }

    /** The ways of the masks that are carried by marks, as far as those have been followed. */
    public static Map<Integer, TreeMap<Integer, double[]>> byMarks(List<DrawnMask> masks, List<Track> followed) {
        Map<Integer, Track> by = followed.stream().collect(Collectors.toMap(Track::id, t -> t));
        Map<Integer, TreeMap<Integer, double[]>> out = new HashMap<>();
        for (DrawnMask m : masks) {
            if (m.carry() != DrawnMask.Carry.MARKS || !by.keySet().containsAll(m.marks())) continue;
            int from = m.keys().get(0).frame();
            out.put(
                    m.id(),
                    m.marks().size() == 1
                            ? MarkMotion.one(by.get(m.marks().get(0)), from)
                            : MarkMotion.two(
                                    by.get(m.marks().get(0)), by.get(m.marks().get(1)), from));
        }
        return out;
    }

    /**
     * @param ways of the masks that are carried, by their number; @param found told after every frame what is alive, as
     *     x, y pairs; may be null
     */
    public static List<Track> tracks(
            Shot shot,
            Plate plate,
            IntFunction<boolean[]> mask,
            Map<Integer, TreeMap<Integer, double[]>> ways,
            Progress progress,
            Consumer<double[]> found) {
        TrackRecipe r = shot.tracks();
        int first = first(shot.plate(), plate), last = last(shot.plate(), plate);
        TrackSettings s = new TrackSettings(
                r.count(),
                r.threshold(),
                r.region(),
                r.spacing(),
                Math.min(SHORTEST_TRACK, last - first + 1),
                r.quality());
        List<DrawnMask> away =
                r.masks().stream().filter(m -> m.use() == DrawnMask.Use.AWAY).toList();
        IntFunction<boolean[]> drawn =
                away.isEmpty() ? null : f -> DrawnMask.any(away, ways, f, plate.width(), plate.height());
        return AutoTracker.track(plate, first, last, both(mask, drawn), s, progress, found);
    }

    private static IntFunction<boolean[]> both(IntFunction<boolean[]> a, IntFunction<boolean[]> b) {
        if (a == null || b == null) return a == null ? b : a;
        return f -> {
            boolean[] p = a.apply(f), q = b.apply(f);
            if (p == null || q == null) return p == null ? q : p;
            boolean[] m = p.clone();
            for (int i = 0; i < m.length; i++) m[i] |= q[i];
            return m;
        };
    }

    /** What a person left of the tracks: without the deleted ones and the parts cut out, those joined that are one. */
    public static List<Track> kept(TrackRecipe r, List<Track> tracks) {
        Set<Integer> gone = new HashSet<>(r.deleted());
        Map<Integer, List<TrackRecipe.Cut>> cuts =
                r.cuts().stream().collect(Collectors.groupingBy(TrackRecipe.Cut::track));
        Map<Integer, Track> left = new LinkedHashMap<>();
        tracks.stream()
                .filter(t -> !gone.contains(t.id()))
                .map(t -> cuts.containsKey(t.id()) ? without(t, cuts.get(t.id())) : t)
                .filter(t -> t.length() > 0)
                .forEach(t -> left.put(t.id(), t));
        for (TrackRecipe.Join j : r.joins()) {
            Track a = left.get(j.track()), b = left.get(j.other());
            if (a == null || b == null) continue;
            left.remove(j.other());
            left.put(j.track(), joined(a, b));
        }
        return List.copyOf(left.values());
    }

    private static Track joined(Track a, Track b) {
        TreeMap<Integer, double[]> all = new TreeMap<>();
        for (Track t : List.of(a, b))
            for (int i = 0; i < t.length(); i++)
                all.putIfAbsent(t.frames()[i], new double[] {t.x()[i], t.y()[i], t.match()[i]});
        float[] match = new float[all.size()];
        int n = 0;
        for (double[] v : all.values()) match[n++] = (float) v[2];
        return new Track(
                a.id(),
                all.keySet().stream().mapToInt(f -> f).toArray(),
                all.values().stream().mapToDouble(v -> v[0]).toArray(),
                all.values().stream().mapToDouble(v -> v[1]).toArray(),
                match);
    }

    /** Only what is seen in frames first..last. */
    public static List<Track> inRange(List<Track> tracks, int first, int last) {
        return tracks.stream()
                .map(t -> t.within(first, last))
                .filter(t -> t.length() > 0)
                .toList();
    }

    private static Track without(Track t, List<TrackRecipe.Cut> cuts) {
        int[] stay = IntStream.range(0, t.length())
                .filter(i -> cuts.stream().noneMatch(c -> t.frames()[i] >= c.from() && t.frames()[i] <= c.to()))
                .toArray();
        float[] match = new float[stay.length];
        for (int i = 0; i < stay.length; i++) match[i] = t.match()[stay[i]];
        return new Track(
                t.id(),
                Arrays.stream(stay).map(i -> t.frames()[i]).toArray(),
                Arrays.stream(stay).mapToDouble(i -> t.x()[i]).toArray(),
                Arrays.stream(stay).mapToDouble(i -> t.y()[i]).toArray(),
                match);
    }

    /**
     * @param kept tracks to solve from, null for a locked camera; @param before an earlier solve by the same settings
     *     to go on from, or null
     * @param lens of the recipe, or null
     */
    public static SolvedCamera camera(
            Shot shot, List<Track> kept, Plate p, SolvedCamera before, LensFile.Calibrated lens, Progress progress) {
        SolveSettings s = settings(shot, p.width());
        Lens held = lens == null ? null : lens.at(p.width(), p.height());
        if (shot.camera().locked()) {
            double focal = held != null ? held.focalPx() : s.focal() == SolveSettings.Focal.UNKNOWN ? 0 : s.focalPx();
            return StillSolver.solve(
                    shot.camera().lines(),
                    shot.camera().match(),
                    shot.camera().terms().centre(),
                    p.width(),
                    p.height(),
                    p.rate(),
                    first(shot.plate(), p),
                    last(shot.plate(), p),
                    focal);
        }
        if (before != null && held == null) return CameraSolver.again(before, kept, s, progress);
        return CameraSolver.solve(kept, p.width(), p.height(), p.rate(), s, held, progress);
    }

    /**
     * A locked camera's perspective in the frames its surface was carried to; the same where none carries it.
     *
     * @param ways of the masks that have been followed, by their number
     */
    public static SolvedCamera carried(Shot shot, SolvedCamera still, Map<Integer, TreeMap<Integer, double[]>> ways) {
        CameraRecipe c = shot.camera();
        if (!c.locked() || c.surface() == 0) return still;
        DrawnMask m = shot.tracks().masks().stream()
                .filter(k -> k.id() == c.surface())
                .findFirst()
                .orElseThrow(() ->
                        new BadInput("the surface that carries the camera is no longer drawn on the Tracks stage"));
        TreeMap<Integer, double[]> way = ways.get(m.id());
        if (way == null)
            throw new BadInput(
                    m.name() + " is not carried by the surface under it; have it followed on the Tracks stage");
        int drawn = m.keys().get(0).frame();
        return SurfaceSolver.carried(
                still,
                drawn,
                m.at(drawn),
                way,
                c.match().points().isEmpty()
                        && c.match().rectangle() != null
                        && c.match().rectangle().standing());
    }

    /** @param width of the plate */
    public static SolveSettings settings(Shot shot, int width) {
        PlateRecipe p = shot.plate();
        CameraRecipe c = shot.camera();
        boolean noted = p.focalMm() > 0 && p.sensorWidthMm() > 0;
        SolveSettings.Focal use =
                switch (c.focal()) {
                    case "auto" -> noted && !c.locked() ? SolveSettings.Focal.NEAR : SolveSettings.Focal.UNKNOWN;
                    case "given" -> SolveSettings.Focal.HELD;
                    case "near" -> SolveSettings.Focal.NEAR;
                    case "zoom" -> SolveSettings.Focal.ZOOM;
                    default -> SolveSettings.Focal.UNKNOWN;
                };
        if (!noted && (use == SolveSettings.Focal.HELD || use == SolveSettings.Focal.NEAR))
            throw new BadInput("the focal length is to be held as given, but the plate's notes lack the focal length "
                    + "or the sensor width");
        double focal = noted && use != SolveSettings.Focal.UNKNOWN ? p.focalMm() / p.sensorWidthMm() * width : 0;
        SolveSettings.Kind kind =
                switch (c.kind()) {
                    case "moving" -> SolveSettings.Kind.MOVING;
                    case "nodal" -> SolveSettings.Kind.NODAL;
                    default -> SolveSettings.Kind.AUTO;
                };
        return new SolveSettings(kind, use, focal, c.terms(), c.smoothPx(), 1, c.hints());
    }

    /** The solve in the set's frame. */
    public static SolvedCamera inSet(Shot shot, SolvedCamera solve) {
        return solve.in(GroundFit.fit(solve, shot.set(), shot.plate().cameraHeightMetres())
                .toSet());
    }
}

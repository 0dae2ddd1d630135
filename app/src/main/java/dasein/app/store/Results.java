package dasein.app.store;

import dasein.core.ground.GroundFit;
import dasein.core.ground.PickedPoint;
import dasein.core.ground.Piece;
import dasein.core.ground.Shape;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.scene.Model;
import dasein.core.scene.Performer;
import dasein.core.scene.Tie;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.SetPieces;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.CameraFile;
import dasein.core.solve.Hints;
import dasein.core.solve.ObjectFile;
import dasein.core.solve.ObjectSolver;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.DrawnMask;
import dasein.core.track.HandMark;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.Supplier;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Results by fingerprint, and which fingerprint each stage of a shot has. Fresh or stale is only ever a comparison of
 * these.
 */
@Component
public class Results {
    private static final JsonMapper JSON = new JsonMapper();
    private static final int KEPT = 24;

    private final ShotMapper mapper;
    private final MediaStore media;
    private final Map<String, Object> loaded = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Object> e) {
            return size() > KEPT;
        }
    };

    Results(ShotMapper mapper, MediaStore media) {
        this.mapper = mapper;
        this.media = media;
    }

    public static String platePrint(Shot s) {
        Shot.PlateRecipe p = s.plate();
        return ShotJson.fingerprint("plate", p.file(), p.encoding(), p.rate(), p.table(), p.conform());
    }

    /** The footage as it is read, and which part of it is worked on. */
    public static String rangePrint(Shot s) {
        return ShotJson.fingerprint(
                platePrint(s), s.plate().first(), s.plate().last(), s.plate().handles());
    }

    public static String tracksPrint(Shot s) {
        Shot.TrackRecipe t = s.tracks();
        return ShotJson.fingerprint(
                "tracks",
                rangePrint(s),
                t.count(),
                t.threshold(),
                t.region(),
                t.spacing(),
                t.quality(),
                t.mask(),
                t.masks().stream().filter(m -> m.use() == DrawnMask.Use.AWAY).toList(),
                carriersPrint(s),
                t.file());
    }

    public static String healthPrint(Shot s) {
        return ShotJson.fingerprint("health", rangePrint(s));
    }

    public static String markPrint(Shot s, HandMark m) {
        return ShotJson.fingerprint(
                "marks",
                rangePrint(s),
                m.region(),
                m.search(),
                m.motion(),
                m.fixes(),
                m.first(),
                m.last(),
                m.sameLight(),
                m.weights());
    }

    /** The marks that carry masks. */
    private static List<String> carriersPrint(Shot s) {
        java.util.Set<Integer> wanted = s.tracks().masks().stream()
                .filter(m -> m.use() == DrawnMask.Use.AWAY)
                .flatMap(m -> m.marks().stream())
                .collect(java.util.stream.Collectors.toSet());
        return s.tracks().marks().stream()
                .filter(m -> wanted.contains(m.id()))
                .map(m -> markPrint(s, m))
                .toList();
    }

    public static String cameraPrint(Shot s) {
        return s.camera().use().isEmpty() ? settingsPrint(s) : s.camera().use();
    }

    /** What the present settings would give, whichever solve counts. */
    public static String settingsPrint(Shot s) {
        boolean given = !s.camera().focal().equals("unknown");
        CameraRecipe c = s.camera().solving();
        if (c.locked())
            return ShotJson.fingerprint(
                    "camera",
                    rangePrint(s),
                    c,
                    s.tracks().masks().stream()
                            .filter(m -> m.id() == c.surface())
                            .map(m -> planePrint(s, m))
                            .toList(),
                    given ? s.plate().focalMm() : 0,
                    given ? s.plate().sensorWidthMm() : 0);
        return ShotJson.fingerprint(
                "camera",
                tracksPrint(s),
                s.tracks().deleted(),
                s.tracks().cuts(),
                s.tracks().joins(),
                s.tracks().marks().stream().map(m -> markPrint(s, m)).toList(),
                s.tracks().moving(),
                c,
                given ? s.plate().focalMm() : 0,
                given ? s.plate().sensorWidthMm() : 0);
    }

    public static String framePrint(Shot s, int frame) {
        return ShotJson.fingerprint(
                "passes",
                cameraPrint(s),
                carriersOf(s),
                s.set(),
                s.performers(),
                s.light(),
                s.passes(),
                s.shutter(),
                s.plate().cameraHeightMetres(),
                frame);
    }

    public static String coloursPrint(Shot s) {
        return ShotJson.fingerprint(
                "colours",
                cameraPrint(s),
                platePrint(s),
                carriersOf(s),
                s.set(),
                s.plate().cameraHeightMetres());
    }

    public static String moviePrint(Shot s, String kind, int first, int last) {
        return ShotJson.fingerprint("output", kind, framePrint(s, first), framePrint(s, last), s.comp(), first, last);
    }

    public static String presencePrint(Shot s, int first, int last) {
        return ShotJson.fingerprint("presence", framePrint(s, first), s.comp(), first, last);
    }

    public ShotMapper.Result find(String kind, String print) {
        return mapper.result(kind, print);
    }

    public List<String> known(String kind, List<String> prints) {
        return prints.isEmpty() ? List.of() : mapper.known(kind, prints);
    }

    public JsonNode facts(String kind, String print) {
        ShotMapper.Result r = find(kind, print);
        return r == null ? null : JSON.readTree(r.facts());
    }

    public void save(String kind, String print, Object facts, String file) {
        mapper.insertResult(new ShotMapper.Result(kind, print, JSON.writeValueAsString(facts), file));
    }

    /** Tracks of the shot as tracked (deleted ones included), or null. */
    public List<Track> tracks(Shot s) {
        return load("tracks", tracksPrint(s), f -> TrackFile.read(media.result("tracks", f)));
    }

    public static String planePrint(Shot s, DrawnMask m) {
        List<DrawnMask> covering = s.tracks().masks().stream()
                .filter(k -> k.id() != m.id() && k.use() == DrawnMask.Use.AWAY && k.carry() != DrawnMask.Carry.PLANE)
                .toList();
        return ShotJson.fingerprint(
                "planes", rangePrint(s), m.keys().get(0), covering, covering.isEmpty() ? List.of() : carriersPrint(s));
    }

    /** Masks whose surface has not been followed yet. */
    public List<DrawnMask> uncarried(Shot s) {
        return s.tracks().masks().stream()
                .filter(m -> m.carry() == DrawnMask.Carry.PLANE && find("planes", planePrint(s, m)) == null)
                .toList();
    }

    /** The ways of all that carries masks, as far as it has been followed, by the number of the mask. */
    public Map<Integer, TreeMap<Integer, double[]>> planes(Shot s) {
        Map<Integer, TreeMap<Integer, double[]>> out =
                new TreeMap<>(ShotSteps.byMarks(s.tracks().masks(), byHand(s)));
        for (DrawnMask m : s.tracks().masks()) {
            JsonNode f = m.carry() == DrawnMask.Carry.PLANE ? facts("planes", planePrint(s, m)) : null;
            if (f == null) continue;
            TreeMap<Integer, double[]> by = new TreeMap<>();
            f.properties()
                    .forEach(e -> by.put(Integer.parseInt(e.getKey()), JSON.treeToValue(e.getValue(), double[].class)));
            out.put(m.id(), by);
        }
        return out;
    }

    /** Marks put by hand that have not been followed as they are now. */
    public List<HandMark> unfollowed(Shot s) {
        return s.tracks().marks().stream()
                .filter(m -> find("marks", markPrint(s, m)) == null)
                .toList();
    }

    /** Tracks of the marks put by hand that have been followed. */
    public List<Track> byHand(Shot s) {
        List<Track> out = new java.util.ArrayList<>();
        for (HandMark m : s.tracks().marks()) {
            List<Track> t = load("marks", markPrint(s, m), f -> TrackFile.read(media.result("marks", f)));
            // The number is not part of what was computed.
            if (t != null) for (Track k : t) out.add(new Track(m.id(), k.frames(), k.x(), k.y(), k.match()));
        }
        return out;
    }

    /** What the camera is solved from; null while there are no tracks. */
    public List<Track> still(Shot s) {
        List<Track> t = kept(s);
        return t == null
                ? null
                : t.stream().filter(k -> !s.tracks().moving().contains(k.id())).toList();
    }

    /** Found tracks that were kept, and those by hand; null while there are none. */
    public List<Track> kept(Shot s) {
        List<Track> found = tracks(s);
        if (found == null) return null;
        List<Track> all = new java.util.ArrayList<>(found);
        all.addAll(byHand(s));
        return ShotSteps.kept(s.tracks(), all);
    }

    /** The tracks of a thing that moves, in the camera that counts. */
    public static String objectPrint(Shot s, CameraRecipe.Moved o) {
        List<Integer> tracks = s.tracks().groups().stream()
                .filter(g -> g.id() == o.group())
                .flatMap(g -> g.tracks().stream())
                .toList();
        return ShotJson.fingerprint(
                "object", cameraPrint(s), settingsPrint(s.with(s.camera().with(Hints.NONE))), tracks, o.distance());
    }

    /** What carries set pieces and performers, as it is solved now. */
    public static List<String> carriersOf(Shot s) {
        List<Tie> ties = s.performers().stream()
                .map(Performer::tie)
                .filter(t -> t != null)
                .toList();
        List<String> out = new java.util.ArrayList<>(s.camera().objects().stream()
                .filter(o -> s.set().pieces().stream().anyMatch(p -> p.follows() == o.id())
                        || ties.stream().anyMatch(t -> t.to() == Tie.To.OBJECT && t.id() == o.id()))
                .map(o -> objectPrint(s, o))
                .toList());
        for (Tie t : ties) {
            if (t.to() != Tie.To.TRACK) continue;
            out.add(s.tracks().marks().stream()
                    .filter(m -> m.id() == t.id())
                    .map(m -> markPrint(s, m))
                    .findFirst()
                    .orElse(tracksPrint(s)));
            out.add(ShotJson.fingerprint(s.tracks().cuts(), s.tracks().joins()));
        }
        return out;
    }

    /** Poses in the set of the things that move, by their number and frame, as far as they are solved. */
    public Map<Integer, NavigableMap<Integer, Pose>> moved(Shot s) {
        Map<Integer, NavigableMap<Integer, Pose>> out = new TreeMap<>();
        for (CameraRecipe.Moved o : s.camera().objects()) {
            ObjectSolver.Result r = object(s, o);
            if (r == null) continue;
            NavigableMap<Integer, Pose> way = new TreeMap<>();
            for (ObjectSolver.Frame f : r.frames())
                way.put(f.frame(), set(s).toSet().apply(f.objectToWorld()));
            out.put(o.id(), way);
        }
        return out;
    }

    /** A thing that moves, in the solve's own frame; null while it is not solved. */
    public ObjectSolver.Result object(Shot s, CameraRecipe.Moved o) {
        return load("object", objectPrint(s, o), f -> ObjectFile.read(media.result("object", f)));
    }

    /** A solve that was kept, in its own frame, or null. */
    public SolvedCamera keptSolve(String print) {
        return load("camera", print, f -> CameraFile.read(media.result("camera", f)));
    }

    /** The solve in its own frame, or null. */
    public SolvedCamera camera(Shot s) {
        return load("camera", cameraPrint(s), f -> CameraFile.read(media.result("camera", f)));
    }

    /**
     * The set's frame, or null without a solve; a ground that cannot be found is thrown as the sentence that says why.
     */
    public GroundFit.Result set(Shot s) {
        SolvedCamera c = camera(s);
        if (c == null) return null;
        return cached(
                "set " + cameraPrint(s)
                        + ShotJson.fingerprint(s.set().framing(), s.plate().cameraHeightMetres()),
                () -> GroundFit.fit(c, s.set(), s.plate().cameraHeightMetres()));
    }

    /** The solve in the set's frame, or null. */
    public SolvedCamera cameraInSet(Shot s) {
        GroundFit.Result g = set(s);
        return g == null
                ? null
                : cached(
                        "in set " + cameraPrint(s)
                                + ShotJson.fingerprint(
                                        s.set().framing(), s.plate().cameraHeightMetres()),
                        () -> camera(s).in(g.toSet()));
    }

    /**
     * Places in the set of what was picked by hand, as far as it meets anything. @param model by the name a set piece
     * uses
     */
    public Map<Integer, Vec3> places(Shot s, Function<String, Model> model) {
        GroundFit.Result g = set(s);
        if (g == null) return Map.of();
        Map<Integer, Vec3> out = new TreeMap<>(g.places());
        for (PickedPoint q : s.set().points()) {
            if (q.on() == 0 || out.containsKey(q.id())) continue;
            Piece on = s.set().pieces().stream()
                    .filter(p -> p.id() == q.on())
                    .findFirst()
                    .orElse(null);
            Vec3 at = on == null ? null : q.place(cameraInSet(s), shape(s, on, () -> model.apply(on.model())));
            if (at != null) out.put(q.id(), at);
        }
        return out;
    }

    /**
     * A set piece's triangles where it was built, in the set; null without a solve. @param model of a piece that is one
     */
    public Shape shape(Shot s, Piece p, Supplier<Model> model) {
        SolvedCamera c = cameraInSet(s);
        if (c == null) return null;
        if (p.kind() != Piece.Kind.TERRAIN && p.kind() != Piece.Kind.MODEL) return SetPieces.shape(p, c, null);
        return cached(
                "shape " + cameraPrint(s)
                        + ShotJson.fingerprint(s.set().framing(), s.plate().cameraHeightMetres(), p),
                () -> SetPieces.shape(p, c, p.kind() == Piece.Kind.MODEL ? model.get() : null));
    }

    private <T> T load(String kind, String print, Function<String, T> read) {
        ShotMapper.Result r = find(kind, print);
        return r == null ? null : cached(kind + print, () -> read.apply(r.file()));
    }

    /** Small results stay in memory; the oldest leaves. */
    @SuppressWarnings("unchecked")
    private <T> T cached(String key, java.util.function.Supplier<T> make) {
        synchronized (loaded) {
            Object known = loaded.get(key);
            if (known != null) return (T) known;
        }
        T made = make.get();
        synchronized (loaded) {
            loaded.put(key, made);
        }
        return made;
    }
}

package dasein.app.store;

import dasein.core.BadInput;
import dasein.core.ground.GroundFit;
import dasein.core.ground.PickedPoint;
import dasein.core.ground.Piece;
import dasein.core.ground.Shape;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.SetPieces;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.ObjectSolver;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import dasein.core.solve.file.ObjectFile;
import dasein.core.track.DrawnMask;
import dasein.core.track.HandMark;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.Supplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
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
    private static final Logger LOG = LoggerFactory.getLogger(Results.class);
    /** About what a pose of the set, or a camera in it, takes. */
    private static final long SMALL = 1 << 20;

    private final ShotMapper mapper;
    private final MediaStore media;
    private final Held<Sized> loaded = new Held<>(0.06, Sized::bytes);
    /** By the file's place: what was looked through in whole. */
    private final Held<Read> sound = new Held<>(0.005, r -> 500);

    Results(ShotMapper mapper, MediaStore media) {
        this.mapper = mapper;
        this.media = media;
    }

    /** A result that is there: its row, and its file as it was written. Null otherwise, so that it is computed anew. */
    public ShotMapper.Result find(String kind, String print) {
        ShotMapper.Result r = mapper.result(kind, print);
        if (r == null || whole(r)) return r;
        forget(r, "is lost or cut short");
        return null;
    }

    private boolean whole(ShotMapper.Result r) {
        if (r.file().isEmpty()) return true;
        try {
            long now = Files.size(media.result(r.kind(), r.file()));
            return now > 0 && (r.bytes() < 0 || now == r.bytes());
        } catch (IOException e) {
            return false;
        }
    }

    /** Lets a result be computed anew. */
    public void forget(String kind, String print) {
        ShotMapper.Result r = mapper.result(kind, print);
        if (r != null) forget(r, "is not whole");
    }

    private void forget(ShotMapper.Result r, String why) {
        LOG.warn("the file {} of a result of {} {}; it will be computed anew", r.file(), r.kind(), why);
        mapper.forgetResult(r.kind(), r.fingerprint());
        loaded.drop(r.kind() + r.fingerprint());
    }

    /** Those of the prints that are there. */
    public List<String> known(String kind, List<String> prints) {
        if (prints.isEmpty()) return List.of();
        return mapper.known(kind, prints).stream()
                .filter(this::whole)
                .map(ShotMapper.Result::fingerprint)
                .toList();
    }

    public JsonNode facts(String kind, String print) {
        ShotMapper.Result r = find(kind, print);
        return r == null ? null : JSON.readTree(r.facts());
    }

    /** The facts of many prints at once. */
    public Map<String, JsonNode> facts(String kind, List<String> prints) {
        Map<String, JsonNode> out = new TreeMap<>();
        if (!prints.isEmpty())
            for (ShotMapper.Result r : mapper.known(kind, prints))
                if (whole(r)) out.put(r.fingerprint(), JSON.readTree(r.facts()));
        return out;
    }

    PlateFacts plate(String print) {
        JsonNode f = facts("plate", print);
        return f == null ? null : JSON.treeToValue(f, PlateFacts.class);
    }

    /**
     * Keeps what was computed. Its file lies on the disk for certain before its row does.
     *
     * @param file its name in the kind's folder, empty for none
     */
    public void save(String kind, String print, Object facts, String file) {
        long bytes = -1;
        String hash = "";
        if (!file.isEmpty()) {
            Path p = media.result(kind, file);
            try {
                Durable.force(p);
                bytes = Files.size(p);
                hash = Durable.sha256(p);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
        mapper.insertResult(new ShotMapper.Result(kind, print, JSON.writeValueAsString(facts), file, bytes, hash));
        loaded.drop(kind + print);
    }

    /** A file as it was when it was looked through: what is written anew since is looked through again. */
    private record Read(String sha256, long bytes, FileTime modified) {}

    /** A result's file, looked through: null, and forgotten, when it is not what was written. */
    public Path file(String kind, String print) {
        ShotMapper.Result r = find(kind, print);
        if (r == null || r.file().isEmpty()) return null;
        Path p = media.result(kind, r.file());
        try {
            Read now = new Read(r.sha256(), Files.size(p), Files.getLastModifiedTime(p));
            if (r.sha256().isEmpty() || now.equals(sound.find(p.toString()))) return p;
            if (Durable.sha256(p).equals(r.sha256())) {
                sound.put(p.toString(), now);
                return p;
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        forget(r, "is damaged");
        return null;
    }

    /** Tracks of the shot as tracked (deleted ones included), or null. */
    public List<Track> tracks(Shot s) {
        return load("tracks", Prints.tracks(s), TrackFile::read);
    }

    /** Whether a mark put by hand, or a surface that carries a mask, is still to be followed. */
    public boolean toFollow(Shot s) {
        return !unfollowed(s).isEmpty() || !uncarried(s).isEmpty();
    }

    /** Masks whose surface has not been followed yet. */
    public List<DrawnMask> uncarried(Shot s) {
        return s.tracks().masks().stream()
                .filter(m -> m.carry() == DrawnMask.Carry.PLANE && find("planes", Prints.plane(s, m)) == null)
                .toList();
    }

    /** The ways of all that carries masks, as far as it has been followed, by the number of the mask. */
    public Map<Integer, TreeMap<Integer, double[]>> planes(Shot s) {
        Map<Integer, TreeMap<Integer, double[]>> out =
                new TreeMap<>(ShotSteps.byMarks(s.tracks().masks(), byHand(s)));
        for (DrawnMask m : s.tracks().masks()) {
            JsonNode f = m.carry() == DrawnMask.Carry.PLANE ? facts("planes", Prints.plane(s, m)) : null;
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
                .filter(m -> find("marks", Prints.mark(s, m)) == null)
                .toList();
    }

    /** Tracks of the marks put by hand that have been followed. */
    public List<Track> byHand(Shot s) {
        List<Track> out = new java.util.ArrayList<>();
        for (HandMark m : s.tracks().marks()) {
            List<Track> t = load("marks", Prints.mark(s, m), TrackFile::read);
            // The number is not part of what was computed.
            if (t != null) for (Track k : t) out.add(new Track(m.id(), k.frames(), k.x(), k.y(), k.match()));
        }
        return out;
    }

    /** What the camera is solved from; null while there are no tracks. */
    public List<Track> still(Shot s) {
        List<Track> t = s.camera().byHand() ? ShotSteps.kept(s.tracks(), byHand(s)) : kept(s);
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
        return load("object", Prints.object(s, o), ObjectFile::read);
    }

    /** A solve that was kept, in its own frame, or null. */
    public SolvedCamera keptSolve(String print) {
        return load("camera", print, CameraFile::read);
    }

    /** The solve in its own frame, or null. */
    public SolvedCamera camera(Shot s) {
        return load("camera", Prints.camera(s), CameraFile::read);
    }

    /**
     * The set's frame, or null without a solve; a ground that cannot be found is thrown as the sentence that says why.
     */
    public GroundFit.Result set(Shot s) {
        SolvedCamera c = camera(s);
        if (c == null) return null;
        return cached(
                "set " + Prints.set(s),
                SMALL,
                () -> GroundFit.fit(c, s.set(), s.plate().cameraHeightMetres()));
    }

    /** The solve in the set's frame, or null. */
    public SolvedCamera cameraInSet(Shot s) {
        GroundFit.Result g = set(s);
        return g == null
                ? null
                : cached("in set " + Prints.set(s), 4 * SMALL, () -> camera(s).in(g.toSet()));
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
                "shape " + Prints.shape(s, p),
                4 * SMALL,
                () -> SetPieces.shape(p, c, p.kind() == Piece.Kind.MODEL ? model.get() : null));
    }

    /** What a result's file holds; null when there is none that can be read. */
    private <T> T load(String kind, String print, Function<Path, T> read) {
        Object known = loaded.find(kind + print);
        if (known != null && find(kind, print) != null) return Results.<T>as(((Sized) known).value);
        Path p = file(kind, print);
        if (p == null) return null;
        try {
            // Text becomes a few times as large when it is read.
            return cached(kind + print, 4 * Files.size(p), () -> read.apply(p));
        } catch (BadInput e) {
            forget(mapper.result(kind, print), "cannot be read (" + e.getMessage() + ")");
            return null;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private record Sized(Object value, long bytes) {}

    private <T> T cached(String key, long bytes, Supplier<T> make) {
        return Results.<T>as(loaded.get(key, () -> {
            T made = make.get();
            return made == null ? null : new Sized(made, bytes);
        }));
    }

    @SuppressWarnings("unchecked")
    private static <T> T as(Object o) {
        return (T) (o instanceof Sized s ? s.value : o);
    }
}

package dasein.core.shot;

import dasein.core.cast.Blocking;
import dasein.core.cast.Footage;
import dasein.core.ground.Heights;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.ground.Shape;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;

/** The set as performers meet it: ground, pieces that stand, things that move, and tracks on the ground. */
public final class OnSet implements Blocking.Around {
    /** Metres before a place: what is met there is the place itself. */
    private static final double BEFORE = 0.02;

    private final SolvedCamera camera;
    private final Map<Integer, ? extends NavigableMap<Integer, Pose>> moved;
    private final Map<Integer, Track> tracks = new HashMap<>();
    private final List<Shape> stand = new ArrayList<>();
    private final Heights pieces;
    private final Heights holes;
    private final boolean flat;
    private final Map<String, Footage> footage;

    /** @param camera in the set's frame; @param tracks in pixels of the plate, those performers may go along with */
    public OnSet(
            SetRecipe set,
            SolvedCamera camera,
            Map<String, Model> models,
            Map<Integer, ? extends NavigableMap<Integer, Pose>> moved,
            List<Track> tracks,
            Map<String, Footage> footage) {
        this.footage = footage;
        this.camera = camera;
        this.moved = moved;
        for (Track t : tracks) this.tracks.put(t.id(), t);
        List<Shape> open = new ArrayList<>();
        for (Piece p : set.pieces()) {
            if (p.kind() == Piece.Kind.HOLE) open.add(Shape.of(p, null));
            else if (p.follows() == 0 && !p.moves()) stand.add(SetPieces.shape(p, camera, models.get(p.model())));
        }
        pieces = new Heights(stand);
        holes = new Heights(open);
        flat = set.pieces().stream().noneMatch(p -> p.kind() == Piece.Kind.TERRAIN && p.does(Piece.Role.SHADOW));
    }

    @Override
    public double ground(double x, double z, double under) {
        double y = pieces.under(x, z, under);
        boolean open = holes.under(x, z, Double.MAX_VALUE) > Double.NEGATIVE_INFINITY;
        // Beyond a ground laid through the points it goes on flat.
        if (!open && (flat || y == Double.NEGATIVE_INFINITY)) y = Math.max(y, 0);
        return y == Double.NEGATIVE_INFINITY ? 0 : y;
    }

    @Override
    public boolean hides(Vec3 eye, Vec3 at) {
        Vec3 way = at.minus(eye);
        double far = way.length() - BEFORE;
        Vec3 d = way.unit();
        return stand.stream().anyMatch(s -> s.meets(eye, d) < far);
    }

    @Override
    public Vec3 eye(double frame) {
        return camera == null ? Vec3.ZERO : camera.pose(frame).position();
    }

    @Override
    public Footage footage(String name) {
        return footage.get(name);
    }

    @Override
    public Pose moved(int object, double frame) {
        NavigableMap<Integer, Pose> way = moved.get(object);
        return way == null ? null : SetPieces.at(way, frame);
    }

    @Override
    public Vec3 onGround(int track, double frame) {
        Track t = tracks.get(track);
        // Half a shutter beyond its ends it stands.
        if (t == null || frame < t.frames()[0] - 1 || frame > t.frames()[t.length() - 1] + 1) return null;
        int i = Arrays.binarySearch(t.frames(), (int) Math.floor(frame));
        if (i < 0) i = Math.max(0, -i - 2);
        int j = Math.min(i + 1, t.length() - 1);
        double span = t.frames()[j] - t.frames()[i],
                u = span == 0 ? 0 : Math.max(0, Math.min(1, (frame - t.frames()[i]) / span));
        double x = t.x()[i] + u * (t.x()[j] - t.x()[i]), y = t.y()[i] + u * (t.y()[j] - t.y()[i]);
        Pose eye = camera.pose(frame);
        Vec3 d = eye.rotation()
                .rotate(camera.lens((int) Math.round(frame)).ray(x, y))
                .unit();
        return d.y() > -1e-6
                ? null
                : eye.position().plus(d.times(-eye.position().y() / d.y()));
    }
}

package dasein.core.shot;

import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.comp.Variant;
import dasein.core.ground.Cut;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.ground.Shape;
import dasein.core.ground.Terrain;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.render.Beyond;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;

/**
 * Stand-ins for what was really there, as meshes at any time: the flat ground, unless it is laid through the points,
 * and the set pieces.
 */
public final class SetPieces {
    /** Metres below the ground from which on something is a thing of its own down there. */
    private static final float DEEP = 0.02f;

    private final SetRecipe set;
    private final double rate;
    private final Map<Integer, NavigableMap<Integer, Pose>> moved;
    /** Where they were built, those that do something. */
    private final Map<Integer, Shape> shapes = new HashMap<>();
    /** The flat one; null where it is laid through the points. */
    private final Mesh ground;

    private final Beyond beyond;

    /**
     * @param camera in the set's frame; @param models by the names pieces use; @param moved poses in the set of things
     *     that move, by their number and frame; @param rate frames a second
     */
    SetPieces(
            SetRecipe set,
            SolvedCamera camera,
            Map<String, Model> models,
            Map<Integer, NavigableMap<Integer, Pose>> moved,
            double rate) {
        this.set = set;
        this.rate = rate;
        this.moved = moved;
        for (Piece p : set.pieces()) {
            if (p.follows() != 0 && !moved.containsKey(p.follows()))
                throw new BadInput(p.name() + " follows a thing that is not solved");
            if (p.roles().isEmpty() || p.kind() == Piece.Kind.HOLE) continue;
            Shape s = shape(p, camera, models.get(p.model()));
            shapes.put(p.id(), p.kind() == Piece.Kind.TERRAIN ? open(s) : s);
        }
        ground = set.pieces().stream().anyMatch(p -> p.kind() == Piece.Kind.TERRAIN && p.does(Piece.Role.SHADOW))
                ? null
                : ground();
        beyond = goingOn();
    }

    /**
     * A piece's triangles where it was built. @param camera in the set's frame, whose points a terrain runs
     * through; @param model of a piece that is one, else null
     */
    public static Shape shape(Piece p, SolvedCamera camera, Model model) {
        if (p.kind() == Piece.Kind.TERRAIN)
            return Shape.of(
                    p,
                    Terrain.through(
                            camera.points().stream()
                                    .map(SolvedCamera.Point::position)
                                    .toList(),
                            p));
        if (p.kind() != Piece.Kind.MODEL) return Shape.of(p, null);
        if (model == null) throw new BadInput(p.name() + " has no model");
        Mesh m = Blocking.alone(
                        new Performer(
                                0,
                                p.name(),
                                "",
                                p.x(),
                                p.y(),
                                p.z(),
                                p.headingDeg(),
                                Math.max(p.height(), 1e-3),
                                "",
                                0,
                                1,
                                true),
                        model,
                        1)
                .meshes(1, 1)
                .get(0);
        return new Shape(m.position0(), m.index());
    }

    /**
     * From where a piece was built to where the thing it follows has carried it by a (fractional) frame; null while
     * that is not solved.
     */
    private static Pose carried(NavigableMap<Integer, Pose> way, int built, double frame) {
        Pose from = way.get(way.containsKey(built) ? built : way.firstKey()), now = at(way, frame);
        return now == null ? null : now.times(from.inverse());
    }

    /**
     * From where a piece was built to where it is at a (fractional) frame, by its keys and by what carries it; null
     * while that is not solved.
     */
    public static Pose motion(
            Piece p, Map<Integer, ? extends NavigableMap<Integer, Pose>> moved, double frame, double rate) {
        Pose keyed =
                p.moves() ? pose(p.stand(frame, rate)).times(pose(p.stand()).inverse()) : Pose.IDENTITY;
        if (p.follows() == 0) return keyed;
        NavigableMap<Integer, Pose> way = moved.get(p.follows());
        Pose by = way == null ? null : carried(way, p.builtIn(), frame);
        return by == null ? null : by.times(keyed);
    }

    private static Pose pose(Piece.Stand s) {
        return new Pose(Quat.axisAngle(Vec3.Y, Math.toRadians(s.headingDeg())), new Vec3(s.x(), s.y(), s.z()));
    }

    /** Pose at a (fractional) frame; null where it is not solved. */
    static Pose at(NavigableMap<Integer, Pose> way, double frame) {
        var a = way.floorEntry((int) Math.floor(frame));
        var b = way.ceilingEntry((int) Math.ceil(frame));
        // Half a shutter beyond the ends the motion goes on.
        if (a == null || b == null) {
            var end = a == null ? way.firstEntry() : way.lastEntry();
            if (Math.abs(frame - end.getKey()) > 1) return null;
            var next = a == null ? way.higherEntry(end.getKey()) : way.lowerEntry(end.getKey());
            if (next == null) return end.getValue();
            return end.getValue().interpolate(next.getValue(), (frame - end.getKey()) / (next.getKey() - end.getKey()));
        }
        return a.getKey().equals(b.getKey())
                ? a.getValue()
                : a.getValue().interpolate(b.getValue(), (frame - a.getKey()) / (b.getKey() - a.getKey()));
    }

    /** Triangles of a piece where it was built; null where it does nothing. */
    Shape built(Piece p) {
        return shapes.get(p.id());
    }

    /** From there to where it is in a frame; null while what carries it is not solved. */
    Pose motion(Piece p, double frame) {
        return motion(p, moved, frame, rate);
    }

    /** Those that are there in a frame, by their number; the flat ground as {@link Variant#GROUND}. */
    Map<Integer, Mesh> there(double frame) {
        Map<Integer, Mesh> out = new LinkedHashMap<>();
        if (ground != null) out.put(Variant.GROUND, ground);
        for (Piece p : set.pieces()) {
            Mesh m = at(p, frame, frame);
            if (m != null) out.put(p.id(), m);
        }
        return out;
    }

    List<Mesh> at(double open, double close) {
        List<Mesh> out = new ArrayList<>();
        if (ground != null) out.add(ground);
        for (Piece p : set.pieces()) {
            Mesh m = at(p, open, close);
            if (m != null) out.add(m);
        }
        return out;
    }

    /** One piece; null where it does nothing or what carries it is not solved. */
    private Mesh at(Piece p, double open, double close) {
        Shape s = shapes.get(p.id());
        if (s == null || s.index().length == 0) return null;
        float[] first = s.xyz(), last = s.xyz();
        if (p.follows() != 0 || p.moves()) {
            Pose a = motion(p, moved, open, rate), b = motion(p, moved, close, rate);
            if (a == null || b == null) return null;
            first = through(a, first);
            last = through(b, last);
        }
        int n = s.index().length / 3;
        float[] flat = new float[first.length];
        return new Mesh(
                first,
                last,
                flat,
                flat,
                new float[2 * first.length / 3],
                s.index(),
                new int[n],
                new Material[] {Material.matt(0.5f, 0.5f, 0.5f)},
                0,
                Mesh.Role.CATCHER,
                new Mesh.Catch(
                        p.does(Piece.Role.SHADOW),
                        p.does(Piece.Role.BOUNCE),
                        p.does(Piece.Role.HIDE),
                        p.does(Piece.Role.REFLECTION) ? p.strength() : 0,
                        Math.max(0.02, p.roughness())));
    }

    /** A piece by its number where it is in that frame. @throws BadInput when it is not there */
    Mesh piece(int id, double frame) {
        return set.pieces().stream()
                .filter(p -> p.id() == id)
                .map(p -> at(p, frame, frame))
                .filter(m -> m != null)
                .findFirst()
                .orElseThrow(() -> new BadInput("that piece of the set is not there, or does nothing"));
    }

    private static float[] through(Pose pose, float[] xyz) {
        float[] out = new float[xyz.length];
        for (int i = 0; i < xyz.length; i += 3) {
            Vec3 v = pose.toWorld(new Vec3(xyz[i], xyz[i + 1], xyz[i + 2]));
            out[i] = (float) v.x();
            out[i + 1] = (float) v.y();
            out[i + 2] = (float) v.z();
        }
        return out;
    }

    /** Triangles of the holes, as outlines seen from above. */
    private List<double[][]> holes() {
        List<double[][]> out = new ArrayList<>();
        for (Piece p : set.pieces()) {
            if (p.kind() != Piece.Kind.HOLE) continue;
            Shape s = Shape.of(p, null);
            for (int t = 0; t < s.index().length; t += 3) {
                double[][] o = new double[3][];
                for (int k = 0; k < 3; k++)
                    o[k] = new double[] {s.xyz()[3 * s.index()[t + k]], s.xyz()[3 * s.index()[t + k] + 2]};
                if (Math.abs(Cut.area(o)) > 1e-9) out.add(o);
            }
        }
        return out;
    }

    /** A ground through points without the triangles whose middle lies in a hole. */
    private Shape open(Shape s) {
        List<double[][]> holes = holes();
        if (holes.isEmpty()) return s;
        int[] left = new int[s.index().length];
        int n = 0;
        for (int t = 0; t < s.index().length; t += 3) {
            double x = 0, z = 0;
            for (int k = 0; k < 3; k++) {
                x += s.xyz()[3 * s.index()[t + k]] / 3;
                z += s.xyz()[3 * s.index()[t + k] + 2] / 3;
            }
            if (inside(holes, x, z)) continue;
            for (int k = 0; k < 3; k++) left[n++] = s.index()[t + k];
        }
        return new Shape(s.xyz(), java.util.Arrays.copyOf(left, n));
    }

    private static boolean inside(List<double[][]> triangles, double x, double z) {
        return triangles.stream().anyMatch(o -> Cut.inside(o, x, z));
    }

    /** The ground where it only hides; null where it does not. */
    Beyond beyond() {
        return beyond;
    }

    private Beyond goingOn() {
        if (!set.catcher().goesOn() || ground == null) return null;
        List<double[][]> open = new ArrayList<>(holes());
        open.add(catcher());
        for (Shape s : shapes.values()) if (deep(s)) open.add(s.footprint());
        return new Beyond(open);
    }

    private static boolean deep(Shape s) {
        for (int i = 1; i < s.xyz().length; i += 3) if (s.xyz()[i] < -DEEP) return true;
        return false;
    }

    private double[][] catcher() {
        SetRecipe.Catcher c = set.catcher();
        double x0 = c.x() - c.width() / 2,
                x1 = c.x() + c.width() / 2,
                z0 = c.z() - c.depth() / 2,
                z1 = c.z() + c.depth() / 2;
        return new double[][] {{x0, z0}, {x1, z0}, {x1, z1}, {x0, z1}};
    }

    private Mesh ground() {
        // From x to z and round: from above that is counter-clockwise the other way, which is turned back below.
        List<double[][]> parts = new ArrayList<>();
        parts.add(catcher());
        for (double[][] hole : holes()) parts = Cut.minus(parts, hole);
        int n = parts.stream().mapToInt(o -> o.length).sum(),
                t = parts.stream().mapToInt(o -> o.length - 2).sum(),
                v = 0,
                k = 0;
        float[] p = new float[3 * n], up = new float[3 * n];
        int[] index = new int[3 * t];
        for (double[][] o : parts) {
            for (int i = 0; i < o.length; i++) {
                p[3 * (v + i)] = (float) o[i][0];
                p[3 * (v + i) + 2] = (float) o[i][1];
                up[3 * (v + i) + 1] = 1;
            }
            for (int i = 2; i < o.length; i++) {
                index[k++] = v;
                index[k++] = v + i;
                index[k++] = v + i - 1;
            }
            v += o.length;
        }
        return new Mesh(
                p,
                p,
                up,
                up,
                new float[2 * n],
                index,
                new int[t],
                new Material[] {Material.matt(0.5f, 0.5f, 0.5f)},
                0,
                Mesh.Role.CATCHER);
    }
}

package dasein.core.shot;

import dasein.core.BadInput;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.ground.Shape;
import dasein.core.ground.Terrain;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.scene.Material;
import dasein.core.scene.Mesh;
import dasein.core.scene.Model;
import dasein.core.scene.Performer;
import dasein.core.scene.Placement;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;

/** Stand-ins for what was really there, as meshes at any time: the flat ground, unless it is laid through the points, and the set pieces. */
public final class SetPieces {
    private final SetRecipe set;
    private final Map<Integer, NavigableMap<Integer, Pose>> moved;
    private final Map<Integer, Shape> shapes = new HashMap<>();

    /** @param camera in the set's frame; @param models by the names pieces use; @param moved poses in the set of things that move, by their number and frame */
    SetPieces(SetRecipe set, SolvedCamera camera, Map<String, Model> models, Map<Integer, NavigableMap<Integer, Pose>> moved) {
        this.set = set;
        this.moved = moved;
        for (Piece p : set.pieces()) {
            if (p.follows() != 0 && !moved.containsKey(p.follows())) throw new BadInput(p.name() + " follows a thing that is not solved");
            if (!p.roles().isEmpty()) shapes.put(p.id(), shape(p, camera, models.get(p.model())));
        }
    }

    /** A piece's triangles where it was built. @param camera in the set's frame, whose points a terrain runs through; @param model of a piece that is one, else null */
    public static Shape shape(Piece p, SolvedCamera camera, Model model) {
        if (p.kind() == Piece.Kind.TERRAIN) return Shape.of(p, Terrain.through(camera.points().stream().map(SolvedCamera.Point::position).toList(), p));
        if (p.kind() != Piece.Kind.MODEL) return Shape.of(p, null);
        if (model == null) throw new BadInput(p.name() + " has no model");
        Mesh m = Placement.mesh(new Performer(0, p.name(), p.model(), p.x(), p.y(), p.z(), p.headingDeg(), Math.max(p.height(), 1e-3), "", 0, 1, true), model, 0, 0);
        return new Shape(m.position0(), m.index());
    }

    /** From where a piece was built to where the thing it follows has carried it by a (fractional) frame; null while that is not solved. */
    public static Pose carried(NavigableMap<Integer, Pose> way, int built, double frame) {
        Pose from = way.get(way.containsKey(built) ? built : way.firstKey()), now = at(way, frame);
        return now == null ? null : now.times(from.inverse());
    }

    private static Pose at(NavigableMap<Integer, Pose> way, double frame) {
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
        return a.getKey().equals(b.getKey()) ? a.getValue() : a.getValue().interpolate(b.getValue(), (frame - a.getKey()) / (b.getKey() - a.getKey()));
    }

    List<Mesh> at(double open, double close) {
        List<Mesh> out = new ArrayList<>();
        if (set.pieces().stream().noneMatch(p -> p.kind() == Piece.Kind.TERRAIN && p.does(Piece.Role.SHADOW))) out.add(ground());
        for (Piece p : set.pieces()) {
            Shape s = shapes.get(p.id());
            if (s == null || s.index().length == 0) continue;
            float[] first = s.xyz(), last = s.xyz();
            if (p.follows() != 0) {
                Pose a = carried(moved.get(p.follows()), p.builtIn(), open), b = carried(moved.get(p.follows()), p.builtIn(), close);
                if (a == null || b == null) continue;
                first = through(a, first);
                last = through(b, last);
            }
            int n = s.index().length / 3;
            float[] flat = new float[first.length];
            out.add(new Mesh(first, last, flat, flat, new float[2 * first.length / 3], s.index(), new int[n], new Material[] {Material.matt(0.5f, 0.5f, 0.5f)}, 0, Mesh.Role.CATCHER,
                new Mesh.Catch(p.does(Piece.Role.SHADOW), p.does(Piece.Role.BOUNCE), p.does(Piece.Role.HIDE), p.does(Piece.Role.REFLECTION) ? p.strength() : 0, Math.max(0.02, p.roughness()))));
        }
        return out;
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

    private Mesh ground() {
        SetRecipe.Catcher c = set.catcher();
        float x0 = (float) (c.x() - c.width() / 2), x1 = (float) (c.x() + c.width() / 2), z0 = (float) (c.z() - c.depth() / 2), z1 = (float) (c.z() + c.depth() / 2);
        float[] p = {x0, 0, z0, x0, 0, z1, x1, 0, z1, x1, 0, z0}, n = {0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0};
        return new Mesh(p, p, n, n, new float[8], new int[] {0, 1, 2, 0, 2, 3}, new int[2], new Material[] {Material.matt(0.5f, 0.5f, 0.5f)}, 0, Mesh.Role.CATCHER);
    }
}

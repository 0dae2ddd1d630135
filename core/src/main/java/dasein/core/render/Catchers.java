package dasein.core.render;

import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import java.util.List;

/**
 * What of a scene takes shadow. On one flat ground alone the light that arrives is the same everywhere, so that it need
 * not be sampled; of uneven ground, or of several pieces, it is found with what they take away.
 *
 * @param ground what the first of them does; null when there is none
 * @param flat there is none, or one whose triangles all lie in one plane
 */
record Catchers(Mesh mesh, Mesh.Catch ground, boolean flat) {
    /** Metres by which corners may leave the plane of the first triangle: the rounding of single precision. */
    private static final double FLAT = 1e-4;

    static Catchers among(List<Mesh> meshes) {
        List<Mesh> all =
                meshes.stream().filter(m -> m.role() == Mesh.Role.CATCHER).toList();
        if (all.isEmpty()) return new Catchers(null, null, true);
        Mesh first = all.get(0);
        return new Catchers(first, first.catches(), all.size() == 1 && planar(first));
    }

    private static boolean planar(Mesh m) {
        Vec3 n = face(m), at = corner(m, m.index()[0]);
        for (int i : m.index()) if (!(Math.abs(corner(m, i).minus(at).dot(n)) < FLAT)) return false;
        return true;
    }

    /** The ground's normal on the side of the eye; upwards where there is none. */
    Vec3 normal(Vec3 eye) {
        if (mesh == null) return Vec3.Y;
        Vec3 n = face(mesh);
        return n.dot(eye.minus(corner(mesh, mesh.index()[0]))) < 0 ? n.times(-1) : n;
    }

    private static Vec3 face(Mesh m) {
        int[] i = m.index();
        Vec3 a = corner(m, i[0]);
        return corner(m, i[1]).minus(a).cross(corner(m, i[2]).minus(a)).unit();
    }

    private static Vec3 corner(Mesh m, int i) {
        float[] p = m.position0();
        return new Vec3(p[3 * i], p[3 * i + 1], p[3 * i + 2]);
    }
}

package dasein.core.render;

import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;
import java.util.List;

/** What the camera sees at one place of a picture: asked for with a click. */
public final class Probe {
    private Probe() {}

    /** @param at metres, in the set; @param normal unit, on the side that is seen; @param mesh which of them */
    public record Hit(Vec3 at, Vec3 normal, int mesh) {}

    /**
     * In the middle of the shutter's time.
     *
     * @param x, y pixels of the view
     * @return null where nothing is seen
     */
    public static Hit of(List<Mesh> meshes, View view, double x, double y) {
        if (meshes.isEmpty()) return null;
        Tracer t = Tracer.of(meshes);
        Pose pose = view.at(0.5);
        Vec3 o = pose.position(),
                d = pose.rotation().rotate(view.lens().ray(x, y)).unit();
        float ox = (float) o.x(), oy = (float) o.y(), oz = (float) o.z();
        float dx = (float) d.x(), dy = (float) d.y(), dz = (float) d.z();
        if (!t.nearest(ox, oy, oz, dx, dy, dz, 1e30f, 0.5f, Tracer.NEVER, Tracer.SEEN, false)) return null;
        int mesh = t.mesh;
        Surface s = new Surface();
        s.at(t, meshes.get(mesh), ox, oy, oz, dx, dy, dz, 0.5f);
        Vec3 n = new Vec3(s.nx, s.ny, s.nz).unit();
        return new Hit(new Vec3(s.px, s.py, s.pz), n.dot(d) > 0 ? n.times(-1) : n, mesh);
    }
}

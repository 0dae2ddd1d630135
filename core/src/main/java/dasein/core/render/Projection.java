package dasein.core.render;

import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;
import java.util.List;

/**
 * A frame of the plate projected onto the stand-ins: its colour at a place, where the camera saw that place then. What
 * another stand-in hid is told by a small picture of distances.
 */
public final class Projection {
    private static final int DEPTH_WIDTH = 320;
    /** A place this part further off than what the camera met is hidden. */
    private static final double BEHIND = 0.03;
    /** A view this flat onto a surface smears its colour. */
    private static final double GRAZING = 0.08;

    private final Image plate;
    private final View view;
    private final Pose middle;
    private final float[] depth;
    private final int depthWide, depthHigh;

    /**
     * @param plate of any size, scene-linear; @param view the camera's at any size; @param catchers what may hide one
     *     from another, null for a flat ground alone
     */
    public Projection(Image plate, View view, List<Mesh> catchers) {
        this.plate = plate;
        // The same moment and lens, in pixels of the plate.
        this.view = new View(
                view.open(),
                view.close(),
                view.lens().scaled((double) plate.width / view.width()),
                plate.width,
                plate.height,
                view.rows());
        middle = view.at(0.5);
        depthWide = DEPTH_WIDTH;
        depthHigh = Math.max(1, DEPTH_WIDTH * plate.height / plate.width);
        depth = catchers == null ? null : depths(catchers);
    }

    private float[] depths(List<Mesh> catchers) {
        float[] out = new float[depthWide * depthHigh];
        Lens lens = view.lens().scaled((double) depthWide / plate.width);
        Vec3 eye = middle.position();
        Tracer all = Tracer.of(catchers);
        Image.rows(depthHigh, y -> {
            Tracer t = all.twin();
            for (int x = 0; x < depthWide; x++) {
                Vec3 d = middle.rotation().rotate(lens.ray(x + 0.5, y + 0.5)).unit();
                out[y * depthWide + x] = t.nearest(
                                (float) eye.x(),
                                (float) eye.y(),
                                (float) eye.z(),
                                (float) d.x(),
                                (float) d.y(),
                                (float) d.z(),
                                1e30f,
                                0.5f,
                                0.5f)
                        ? t.t
                        : Float.POSITIVE_INFINITY;
            }
        });
        return out;
    }

    Image plate() {
        return plate;
    }

    /** Colour of the plate at a place with a normal, into out; false where the camera did not see it. */
    public boolean colour(float x, float y, float z, float nx, float ny, float nz, float[] out) {
        Vec3 at = new Vec3(x, y, z), eye = middle.position();
        double[] p = view.rows() == 0 ? view.lens().project(middle.toLocal(at)) : view.project(at);
        if (p == null || p[0] < 0 || p[1] < 0 || p[0] >= plate.width || p[1] >= plate.height) return false;
        if (depth != null) {
            Vec3 to = eye.minus(at);
            double far = to.length();
            if ((to.x() * nx + to.y() * ny + to.z() * nz) < GRAZING * far) return false;
            int u = Math.min(depthWide - 1, (int) (p[0] * depthWide / plate.width)),
                    v = Math.min(depthHigh - 1, (int) (p[1] * depthHigh / plate.height));
            if (far > (1 + BEHIND) * depth[v * depthWide + u]) return false;
        }
        for (int c = 0; c < 3; c++) out[c] = plate.sample(p[0], p[1], c);
        return true;
    }
}

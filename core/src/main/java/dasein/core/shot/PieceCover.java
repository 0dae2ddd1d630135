package dasein.core.shot;

import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** Of which pixels a piece of the set is what the camera sees: its share of each, [0, 1]. */
final class PieceCover {
    /** Standard deviation of the transition, pixels: that of a pixel's own box, about. */
    private static final double EDGE = 0.5;

    private PieceCover() {}

    /** @param there the pieces in that frame, by number; @param view of it, of this size; null where it is not seen */
    static float[] of(Map<Integer, Mesh> there, int piece, View view, int w, int h) {
        List<Integer> ids = new ArrayList<>(there.keySet());
        int which = ids.indexOf(piece);
        if (which < 0) return null;
        Tracer all = Tracer.of(ids.stream().map(there::get).toList());
        float[] out = new float[w * h];
        boolean[] any = new boolean[h];
        Image.rows(h, y -> {
            Tracer t = all.twin();
            Pose eye = view.at(view.time(y + 0.5, 0.5));
            Vec3 o = eye.position();
            for (int x = 0; x < w; x++) {
                Vec3 d =
                        eye.rotation().rotate(view.lens().ray(x + 0.5, y + 0.5)).unit();
                boolean met = t.nearest(
                        (float) o.x(),
                        (float) o.y(),
                        (float) o.z(),
                        (float) d.x(),
                        (float) d.y(),
                        (float) d.z(),
                        1e30f,
                        0.5f,
                        0.5f);
                if (!met || t.mesh != which) continue;
                out[y * w + x] = 1;
                any[y] = true;
            }
        });
        for (boolean seen : any) if (seen) return Filters.gaussian(out, w, h, EDGE);
        return null;
    }
}

package dasein.core.render.temporal;

import dasein.core.image.Image;
import dasein.core.lens.RayGrid;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.Passes;
import java.util.Arrays;

/** Where every pixel of a frame lies in another one. NaN where that does not show the same. */
final class Warp {
    /** Least part of a pixel that a performer covers for its motion to be told. */
    private static final float SOME = 0.02f;
    /** Cosine below which normals turned so far that it is another side. */
    private static final float ALIKE = 0.8f;

    private final int width, height;
    final float[] x, y;

    private Warp(int width, int height) {
        this.width = width;
        this.height = height;
        x = new float[width * height];
        y = new float[width * height];
    }

    /** Performers of a frame, where they are. */
    static Warp still(Passes p) {
        Warp out = new Warp(p.width, p.height);
        for (int i = 0; i < out.x.length; i++) {
            boolean there = p.alpha[i] > SOME;
            out.x[i] = there ? i % p.width : Float.NaN;
            out.y[i] = there ? i / p.width : Float.NaN;
        }
        return out;
    }

    /**
     * Goes on from one frame to its neighbour, along the performers' own motion.
     *
     * @param at the frame in which this ends; @param next the one after it, or before it
     */
    Warp on(Passes at, Passes next, boolean forward) {
        float[][] moves = at.of(forward ? PassList.FORWARD : PassList.BACK);
        Warp out = new Warp(width, height);
        Image.rows(height, row -> {
            for (int p = row * width, end = p + width; p < end; p++) {
                out.x[p] = Float.NaN;
                if (Float.isNaN(x[p])) continue;
                int q = pixel(x[p], y[p]);
                float toX = x[p] + moves[0][q], toY = y[p] + moves[1][q];
                int there = pixel(toX, toY);
                if (there < 0 || next.id[there] != at.id[q] || !alike(at, q, next, there)) continue;
                out.x[p] = toX;
                out.y[p] = toY;
            }
        });
        return out;
    }

    private static boolean alike(Passes a, int p, Passes b, int q) {
        float dot = 0, l = 0, m = 0;
        for (int c = 0; c < 3; c++) {
            dot += a.normal[c][p] * b.normal[c][q];
            l += a.normal[c][p] * a.normal[c][p];
            m += b.normal[c][q] * b.normal[c][q];
        }
        return dot > ALIKE * Math.sqrt((double) l * m);
    }

    /** What stands still in the set: the camera alone moves. */
    static Warp ofGround(Seen from, Seen to) {
        Passes of = from.passes();
        float[] depth = of.of(PassList.GROUND)[0];
        Warp out = new Warp(of.width, of.height);
        Arrays.fill(out.x, Float.NaN);
        View v = from.view();
        RayGrid rays = new RayGrid(v.lens(), of.width, of.height);
        Image.rows(of.height, row -> {
            Pose eye = v.at(v.time(row + 0.5, 0.5));
            float[] looks = new float[6];
            for (int p = row * of.width, end = p + of.width; p < end; p++) {
                if (!(depth[p] > 0)) continue;
                rays.at(p % of.width + 0.5f, row + 0.5f, looks);
                Vec3 there = new Vec3(looks[0] * depth[p], looks[1] * depth[p], -(double) depth[p]);
                double[] q = to.view().project(eye.toWorld(there));
                if (q == null || out.pixel((float) q[0] - 0.5f, (float) q[1] - 0.5f) < 0) continue;
                out.x[p] = (float) q[0] - 0.5f;
                out.y[p] = (float) q[1] - 0.5f;
            }
        });
        return out;
    }

    /** The nearest pixel; -1 outside. */
    int pixel(float px, float py) {
        int ix = Math.round(px), iy = Math.round(py);
        return ix < 0 || iy < 0 || ix >= width || iy >= height ? -1 : iy * width + ix;
    }
}

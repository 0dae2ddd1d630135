package dasein.core.shot;

import dasein.core.math.Affine;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.model.Model;
import java.util.Arrays;

/** What a node's properties are, frame by frame; what nobody put has none. */
final class NodeWay {
    private static final float STILL = 1e-6f;

    private final int frames;
    private final float[][] of = new float[Model.Property.values().length][];

    NodeWay(int frames) {
        this.frames = frames;
    }

    /** @param to affine 3x4: a turn with one size; @param f from 0 */
    void put(int f, double[] to) {
        float size = (float) Math.sqrt(to[1] * to[1] + to[5] * to[5] + to[9] * to[9]);
        put(f, Model.Property.TRANSLATION, floats(to[3], to[7], to[11]));
        turn(f, Affine.rotation(to));
        put(f, Model.Property.SCALE, new float[] {size, size, size});
    }

    void put(int f, Pose p) {
        put(f, Model.Property.TRANSLATION, floats(p.position().array()));
        turn(f, p.rotation());
    }

    private void turn(int f, Quat q) {
        put(f, Model.Property.ROTATION, floats(q.x(), q.y(), q.z(), q.w()));
    }

    /** Turns on the side of the sphere where the one before lay, so that what lies between goes the short way. */
    void put(int f, Model.Property k, float[] v) {
        if (v.length == 0) return;
        float[] w = of[k.ordinal()];
        if (w == null) of[k.ordinal()] = w = new float[v.length * frames];
        float same = 1;
        if (k == Model.Property.ROTATION && f > 0) {
            same = 0;
            for (int i = 0; i < 4; i++) same += v[i] * w[4 * (f - 1) + i];
        }
        int width = w.length / frames;
        for (int i = 0; i < Math.min(width, v.length); i++) w[width * f + i] = same < 0 ? -v[i] : v[i];
    }

    boolean moves(Model.Property k) {
        float[] w = of(k);
        if (w == null) return false;
        int width = width(k);
        for (int i = width; i < w.length; i++) if (Math.abs(w[i] - w[i % width]) > STILL) return true;
        return false;
    }

    /** Values of one frame after the other; null for none. */
    float[] of(Model.Property k) {
        return of[k.ordinal()];
    }

    int width(Model.Property k) {
        return of(k).length / frames;
    }

    /** In the first frame. @param none where nobody put any */
    float[] first(Model.Property k, float... none) {
        return of(k) == null ? none : Arrays.copyOf(of(k), width(k));
    }

    private static float[] floats(double... v) {
        float[] out = new float[v.length];
        for (int i = 0; i < v.length; i++) out[i] = (float) v[i];
        return out;
    }
}

package dasein.core.cast;

import dasein.core.model.Model;
import dasein.core.model.Moment;
import dasein.core.model.Posing;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * How a model stands in a clip: how low it reaches, which vertices touch the ground, and how fast its steps would carry
 * it. A vertex that touches the ground should not move over it; in a clip that walks on the spot it moves backwards, as
 * fast as the clip means to go forwards.
 */
public final class Footing {
    private static final int SAMPLES = 48, MOST_FEET = 3000;
    /** A vertex within this part of the height over the lowest is on the ground. */
    private static final double TOUCH = 0.012;

    private final float lowest;
    private final double stepSpeed;
    private final Model feet;
    private final double height;

    private Footing(float lowest, double stepSpeed, Model feet, double height) {
        this.lowest = lowest;
        this.stepSpeed = stepSpeed;
        this.feet = feet;
        this.height = height;
    }

    /** Lowest y in model space over the clip. */
    public double lowest() {
        return lowest;
    }

    /** How fast the clip's steps carry it along +Z, model units a second; 0 when it takes none. */
    public double stepSpeed() {
        return stepSpeed;
    }

    /** Only the vertices that touch the ground at some time, without triangles. */
    public Model feet() {
        return feet;
    }

    /** Height of the model at rest. */
    public double height() {
        return height;
    }

    /**
     * @param clip null for the rest position; @param rolling nodes all of whose vertices may come to touch the ground
     */
    public static Footing of(Model m, Model.Clip clip, java.util.Set<Integer> rolling) {
        float[] b = m.bounds();
        double height = Math.max(b[4] - b[1], 1e-6), touch = TOUCH * height;
        int n = clip == null || clip.seconds() <= 0 ? 1 : SAMPLES,
                vertices = m.parts().stream().mapToInt(Model.Part::vertices).sum();
        double dt = n == 1 ? 0 : clip.seconds() / (n - 1);
        float[][] at = new float[n][];
        float low = Float.MAX_VALUE;
        Posing posing = new Posing(m);
        for (int k = 0; k < n; k++) {
            posing.at(clip, k * dt);
            at[k] = new float[3 * vertices];
            int v = 0;
            for (Model.Part p : m.parts()) {
                posing.place(p, dasein.core.math.Affine.identity(), at[k], null, v);
                v += p.vertices();
            }
            for (int i = 1; i < at[k].length; i += 3) low = Math.min(low, at[k][i]);
        }
        boolean[] touches = new boolean[vertices];
        for (int p = 0, v = 0; p < m.parts().size(); v += m.parts().get(p).vertices(), p++) {
            for (int node = m.parts().get(p).node();
                    node >= 0;
                    node = m.nodes().get(node).parent())
                if (rolling.contains(node))
                    Arrays.fill(touches, v, v + m.parts().get(p).vertices(), true);
        }
        List<Double> speeds = new ArrayList<>();
        for (int k = 0; k < n; k++) {
            for (int v = 0; v < vertices; v++) {
                if (at[k][3 * v + 1] > low + touch) continue;
                touches[v] = true;
                if (k > 0 && at[k - 1][3 * v + 1] <= low + touch)
                    speeds.add((at[k - 1][3 * v + 2] - at[k][3 * v + 2]) / dt);
            }
        }
        double[] s = speeds.stream().mapToDouble(d -> d).sorted().toArray();
        double median = s.length < 8 ? 0 : s[s.length / 2];
        // Slower than a tenth of its height a second is shifting its weight, not walking.
        return new Footing(low, Math.abs(median) < 0.1 * height ? 0 : median, only(m, touches), height);
    }

    /** The model with only some of its vertices, thinned to what measuring needs. */
    private static Model only(Model m, boolean[] wanted) {
        int count = 0, seen = 0, v = 0;
        for (boolean b : wanted) if (b) count++;
        int every = Math.max(1, count / MOST_FEET);
        List<Model.Part> parts = new ArrayList<>();
        for (Model.Part p : m.parts()) {
            int[] keep = new int[p.vertices()];
            int k = 0;
            for (int i = 0; i < p.vertices(); i++) if (wanted[v + i] && seen++ % every == 0) keep[k++] = i;
            v += p.vertices();
            if (k == 0) continue;
            int[] of = Arrays.copyOf(keep, k);
            float[][] morph = new float[p.morphPosition().length][];
            for (int t = 0; t < morph.length; t++)
                morph[t] = p.morphPosition()[t] == null ? null : picked(p.morphPosition()[t], of, 3);
            int[] joints = new int[p.skin() < 0 ? 0 : 4 * k];
            for (int i = 0; i < joints.length; i++) joints[i] = p.joints()[4 * of[i / 4] + i % 4];
            parts.add(new Model.Part(
                    p.node(),
                    p.skin(),
                    picked(p.position(), of, 3),
                    new float[0],
                    new float[2 * k],
                    new int[0],
                    p.material(),
                    joints,
                    p.skin() < 0 ? new float[0] : picked(p.weights(), of, 4),
                    morph,
                    new float[morph.length][]));
        }
        return new Model(m.name(), m.nodes(), parts, m.skins(), m.clips(), m.materials());
    }

    private static float[] picked(float[] of, int[] which, int wide) {
        float[] out = new float[wide * which.length];
        for (int i = 0; i < out.length; i++) out[i] = of[wide * which[i / wide] + i % wide];
        return out;
    }

    /** Places of the vertices that may touch the ground, in the set, xyz in turn. */
    public float[] places(Moment at) {
        int n = feet.parts().stream().mapToInt(Model.Part::vertices).sum(), v = 0;
        float[] out = new float[3 * n];
        Posing posing = new Posing(feet);
        posing.at(at);
        for (Model.Part p : feet.parts()) {
            posing.place(p, at.toSet(), out, null, v);
            v += p.vertices();
        }
        return out;
    }
}

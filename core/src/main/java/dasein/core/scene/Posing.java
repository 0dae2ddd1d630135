package dasein.core.scene;

import dasein.core.math.Affine;

/** A model at one moment: where its nodes are and how its vertices follow. Starts at rest. Not thread-safe. */
public final class Posing {
    private final Model model;
    private final double[][] world;
    private final float[][] translation;
    private final float[][] rotation;
    private final float[][] scale;
    private final float[][] morph;

    public Posing(Model model) {
        this.model = model;
        int n = model.nodes().size();
        world = new double[n][];
        translation = new float[n][];
        rotation = new float[n][];
        scale = new float[n][];
        morph = new float[n][];
        rest();
        update();
    }

    private void rest() {
        for (int i = 0; i < world.length; i++) {
            Model.Node d = model.nodes().get(i);
            translation[i] = d.translation();
            rotation[i] = d.rotation();
            scale[i] = d.scale();
            morph[i] = d.morphWeights();
        }
    }

    /** Poses by a clip (null: at rest) at a time in seconds, which is held at the clip's ends. */
    public void at(Model.Clip clip, double seconds) {
        rest();
        if (clip != null) {
            for (Model.Channel c : clip.channels()) {
                float[] v = Keys.at(c, (float) seconds);
                switch (c.property()) {
                    case TRANSLATION -> translation[c.node()] = v;
                    case ROTATION -> rotation[c.node()] = v;
                    case SCALE -> scale[c.node()] = v;
                    case WEIGHTS -> morph[c.node()] = v;
                }
            }
        }
        update();
    }

    private void update() {
        for (int i = 0; i < world.length; i++) {
            double[] local = Affine.of(translation[i], rotation[i], scale[i]);
            int p = model.nodes().get(i).parent();
            world[i] = p < 0 ? local : Affine.times(world[p], local);
        }
    }

    /** Writes a part's positions, and unit normals unless {@code normal} is null, in model space. */
    public void place(Model.Part part, float[] position, float[] normal) {
        float[] p = morphed(part.position(), part.morphPosition(), morph[part.node()]), n = normal == null ? null : morphed(part.normal(), part.morphNormal(), morph[part.node()]);
        double[][] joints = null;
        if (part.skin() >= 0) {
            Model.Skin s = model.skins().get(part.skin());
            joints = new double[s.joints().length][];
            for (int j = 0; j < joints.length; j++) joints[j] = Affine.times(world[s.joints()[j]], s.inverseBind()[j]);
        }
        double[] m = joints == null ? world[part.node()] : new double[12];
        for (int v = 0; v < part.vertices(); v++) {
            if (joints != null) blend(part, v, joints, m);
            float x = p[3 * v], y = p[3 * v + 1], z = p[3 * v + 2];
            for (int k = 0; k < 3; k++) position[3 * v + k] = (float) (m[4 * k] * x + m[4 * k + 1] * y + m[4 * k + 2] * z + m[4 * k + 3]);
            if (n != null) turn(m, n, normal, 3 * v);
        }
    }

    private static float[] morphed(float[] base, float[][] targets, float[] weights) {
        if (targets.length == 0 || base.length == 0) return base;
        float[] out = base.clone();
        for (int t = 0; t < targets.length && t < weights.length; t++) {
            if (weights[t] == 0 || targets[t] == null) continue;
            for (int i = 0; i < out.length; i++) out[i] += weights[t] * targets[t][i];
        }
        return out;
    }

    private static void blend(Model.Part part, int v, double[][] joints, double[] m) {
        java.util.Arrays.fill(m, 0);
        for (int k = 0; k < 4; k++) {
            float w = part.weights()[4 * v + k];
            if (w == 0) continue;
            double[] j = joints[part.joints()[4 * v + k]];
            for (int i = 0; i < 12; i++) m[i] += w * j[i];
        }
    }

    /** Normals go by the transposed inverse; the cofactors serve, their length is divided out. */
    private static void turn(double[] m, float[] n, float[] out, int at) {
        if (n.length == 0) return;
        double x = n[at], y = n[at + 1], z = n[at + 2];
        double a = (m[5] * m[10] - m[6] * m[9]) * x + (m[6] * m[8] - m[4] * m[10]) * y + (m[4] * m[9] - m[5] * m[8]) * z;
        double b = (m[2] * m[9] - m[1] * m[10]) * x + (m[0] * m[10] - m[2] * m[8]) * y + (m[1] * m[8] - m[0] * m[9]) * z;
        double c = (m[1] * m[6] - m[2] * m[5]) * x + (m[2] * m[4] - m[0] * m[6]) * y + (m[0] * m[5] - m[1] * m[4]) * z;
        double l = Math.sqrt(a * a + b * b + c * c);
        if (l == 0) return;
        out[at] = (float) (a / l);
        out[at + 1] = (float) (b / l);
        out[at + 2] = (float) (c / l);
    }
}

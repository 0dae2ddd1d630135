package dasein.core.model;

import dasein.core.math.Affine;
import dasein.core.math.Quat;
import java.util.Map;

/** A model at one moment: where its nodes are and how its vertices follow. Starts at rest. Not thread-safe. */
public final class Posing {
    /** How far joint matrices may differ from a turn with one size before normals need more than them. */
    private static final double UNEVEN = 1e-3;

    private final Model model;
    private final double[][] world;
    private final float[][] translation, rotation, scale, morph;

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

    private void play(Model.Clip clip, double seconds) {
        if (clip == null) return;
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

    /** Poses by a clip (null: at rest) at a time in seconds, which is held at the clip's ends. */
    public void at(Model.Clip clip, double seconds) {
        rest();
        play(clip, seconds);
        update();
    }

    /**
     * Poses as a performer is at a moment; of two clips places and sizes are mixed evenly, turns along the great arc.
     */
    public void at(Moment m) {
        rest();
        if (m.before() != null && m.share() < 1) {
            play(m.before(), m.beforeSeconds());
            float[][] t = translation.clone(), r = rotation.clone(), s = scale.clone(), w = morph.clone();
            rest();
            play(m.clip(), m.seconds());
            float k = (float) m.share();
            for (int i = 0; i < world.length; i++) {
                translation[i] = mixed(t[i], translation[i], k);
                scale[i] = mixed(s[i], scale[i], k);
                morph[i] = mixed(w[i], morph[i], k);
                if (r[i] != rotation[i]) rotation[i] = floats(quat(r[i]).slerp(quat(rotation[i]), k));
            }
        } else {
            play(m.clip(), m.seconds());
        }
        for (Map.Entry<Integer, Quat> e : m.turns().entrySet())
            rotation[e.getKey()] = floats(quat(rotation[e.getKey()]).times(e.getValue()));
        update();
    }

    private static Quat quat(float[] r) {
        return new Quat(r[0], r[1], r[2], r[3]).unit();
    }

    private static float[] floats(Quat q) {
        return new float[] {(float) q.x(), (float) q.y(), (float) q.z(), (float) q.w()};
    }

    private static float[] mixed(float[] a, float[] b, float k) {
        if (a == b) return a;
        float[] out = new float[b.length];
        for (int i = 0; i < out.length; i++) out[i] = i < a.length ? a[i] + k * (b[i] - a[i]) : b[i];
        return out;
    }

    private void update() {
        for (int i = 0; i < world.length; i++) {
            double[] local = Affine.of(translation[i], rotation[i], scale[i]);
            int p = model.nodes().get(i).parent();
            world[i] = p < 0 ? local : Affine.times(world[p], local);
        }
    }

    /** Affine 3x4 from a node's own space to the model's. */
    public double[] node(int i) {
        return world[i];
    }

    /** Of a node against the one above it, as a clip's channels have it. */
    public float[] local(int node, Model.Property property) {
        return switch (property) {
            case TRANSLATION -> translation[node];
            case ROTATION -> rotation[node];
            case SCALE -> scale[node];
            case WEIGHTS -> morph[node];
        };
    }

    /** Writes a part's positions, and unit normals unless {@code normal} is null, in model space. */
    public void place(Model.Part part, float[] position, float[] normal) {
        place(part, Affine.identity(), position, normal, 0);
    }

    /**
     * Writes a part's positions, and unit normals unless {@code normal} is null, through a further map.
     *
     * @param to from model space; @param at vertex number in the arrays where the part begins
     */
    public void place(Model.Part part, double[] to, float[] position, float[] normal, int at) {
        float[] p = morphed(part.position(), part.morphPosition(), morph[part.node()]),
                n =
                        normal == null || part.normal().length == 0
                                ? null
                                : morphed(part.normal(), part.morphNormal(), morph[part.node()]);
        int count = part.vertices();
        if (part.skin() < 0) {
            float[] m = floats(Affine.times(to, world[part.node()]));
            float[] c = n == null ? null : even(m, 0) ? m : cofactors(m);
            for (int v = 0, i = 0, o = 3 * at; v < count; v++, i += 3, o += 3) {
                float x = p[i], y = p[i + 1], z = p[i + 2];
                position[o] = m[0] * x + m[1] * y + m[2] * z + m[3];
                position[o + 1] = m[4] * x + m[5] * y + m[6] * z + m[7];
                position[o + 2] = m[8] * x + m[9] * y + m[10] * z + m[11];
                if (c != null) turn(c, n, i, normal, o);
            }
            return;
        }
        Model.Skin s = model.skins().get(part.skin());
        float[] joints = new float[12 * s.joints().length];
        boolean even = true;
        for (int j = 0; j < s.joints().length; j++) {
            double[] m = Affine.times(to, Affine.times(world[s.joints()[j]], s.inverseBind()[j]));
            for (int i = 0; i < 12; i++) joints[12 * j + i] = (float) m[i];
            even &= even(joints, 12 * j);
        }
        skin(part, joints, p, n, position, normal, at, even);
    }

    /**
     * Linear blend skinning (glTF 2.0, section 3.7.3.3). Row by row, so that all stays in registers: this is the hot
     * loop.
     */
    private static void skin(
            Model.Part part, float[] j, float[] p, float[] n, float[] position, float[] normal, int at, boolean even) {
        int[] joint = part.joints();
        float[] weight = part.weights(), blended = new float[12];
        int count = part.vertices();
        for (int v = 0, i = 0, w = 0, o = 3 * at; v < count; v++, i += 3, w += 4, o += 3) {
            int a = 12 * joint[w], b = 12 * joint[w + 1], c = 12 * joint[w + 2], d = 12 * joint[w + 3];
            float ka = weight[w], kb = weight[w + 1], kc = weight[w + 2], kd = weight[w + 3];
            float x = p[i], y = p[i + 1], z = p[i + 2];
            if (n == null || !even) {
                for (int r = 0; r < 12; r += 4) {
                    float m0 = ka * j[a + r] + kb * j[b + r] + kc * j[c + r] + kd * j[d + r],
                            m1 = ka * j[a + r + 1] + kb * j[b + r + 1] + kc * j[c + r + 1] + kd * j[d + r + 1];
                    float m2 = ka * j[a + r + 2] + kb * j[b + r + 2] + kc * j[c + r + 2] + kd * j[d + r + 2],
                            m3 = ka * j[a + r + 3] + kb * j[b + r + 3] + kc * j[c + r + 3] + kd * j[d + r + 3];
                    position[o + r / 4] = m0 * x + m1 * y + m2 * z + m3;
                    blended[r] = m0;
                    blended[r + 1] = m1;
                    blended[r + 2] = m2;
                }
                if (n != null) turn(cofactors(blended), n, i, normal, o);
                continue;
            }
            float nx = n[i], ny = n[i + 1], nz = n[i + 2];
            float m0 = ka * j[a] + kb * j[b] + kc * j[c] + kd * j[d],
                    m1 = ka * j[a + 1] + kb * j[b + 1] + kc * j[c + 1] + kd * j[d + 1];
            float m2 = ka * j[a + 2] + kb * j[b + 2] + kc * j[c + 2] + kd * j[d + 2],
                    m3 = ka * j[a + 3] + kb * j[b + 3] + kc * j[c + 3] + kd * j[d + 3];
            position[o] = m0 * x + m1 * y + m2 * z + m3;
            float u = m0 * nx + m1 * ny + m2 * nz;
            m0 = ka * j[a + 4] + kb * j[b + 4] + kc * j[c + 4] + kd * j[d + 4];
            m1 = ka * j[a + 5] + kb * j[b + 5] + kc * j[c + 5] + kd * j[d + 5];
            m2 = ka * j[a + 6] + kb * j[b + 6] + kc * j[c + 6] + kd * j[d + 6];
            m3 = ka * j[a + 7] + kb * j[b + 7] + kc * j[c + 7] + kd * j[d + 7];
            position[o + 1] = m0 * x + m1 * y + m2 * z + m3;
            float q = m0 * nx + m1 * ny + m2 * nz;
            m0 = ka * j[a + 8] + kb * j[b + 8] + kc * j[c + 8] + kd * j[d + 8];
            m1 = ka * j[a + 9] + kb * j[b + 9] + kc * j[c + 9] + kd * j[d + 9];
            m2 = ka * j[a + 10] + kb * j[b + 10] + kc * j[c + 10] + kd * j[d + 10];
            m3 = ka * j[a + 11] + kb * j[b + 11] + kc * j[c + 11] + kd * j[d + 11];
            position[o + 2] = m0 * x + m1 * y + m2 * z + m3;
            float t = m0 * nx + m1 * ny + m2 * nz, l = u * u + q * q + t * t, k = l == 0 ? 0 : 1 / (float) Math.sqrt(l);
            normal[o] = u * k;
            normal[o + 1] = q * k;
            normal[o + 2] = t * k;
        }
    }

    private static float[] floats(double[] m) {
        float[] out = new float[12];
        for (int i = 0; i < 12; i++) out[i] = (float) m[i];
        return out;
    }

    /** Whether the left part is a turn with one size, so that normals go by it as it is. */
    private static boolean even(float[] m, int at) {
        double a = 0, b = 0, c = 0, ab = 0, ac = 0, bc = 0;
        for (int r = 0; r < 3; r++) {
            double x = m[at + 4 * r], y = m[at + 4 * r + 1], z = m[at + 4 * r + 2];
            a += x * x;
            b += y * y;
            c += z * z;
            ab += x * y;
            ac += x * z;
            bc += y * z;
        }
        double least = UNEVEN * a;
        return a > 0
                && Math.abs(a - b) < least
                && Math.abs(a - c) < least
                && Math.abs(ab) < least
                && Math.abs(ac) < least
                && Math.abs(bc) < least;
    }

    private static float[] morphed(float[] base, float[][] targets, float[] weights) {
        if (targets.length == 0 || base.length == 0) return base;
        float[] out = base.clone();
        for (int t = 0; t < targets.length && t < weights.length; t++) {
            if (weights[t] == 0 || targets[t] == null) continue;
            float w = weights[t];
            float[] d = targets[t];
            for (int i = 0; i < out.length; i++) out[i] += w * d[i];
        }
        return out;
    }

    /** Normals go by the transposed inverse; the cofactors serve, their length is divided out. */
    private static float[] cofactors(float[] m) {
        return new float[] {
            m[5] * m[10] - m[6] * m[9],
            m[6] * m[8] - m[4] * m[10],
            m[4] * m[9] - m[5] * m[8],
            0,
            m[2] * m[9] - m[1] * m[10],
            m[0] * m[10] - m[2] * m[8],
            m[1] * m[8] - m[0] * m[9],
            0,
            m[1] * m[6] - m[2] * m[5],
            m[2] * m[4] - m[0] * m[6],
            m[0] * m[5] - m[1] * m[4],
            0
        };
    }

    private static void turn(float[] m, float[] n, int i, float[] out, int o) {
        float x = n[i],
                y = n[i + 1],
                z = n[i + 2],
                a = m[0] * x + m[1] * y + m[2] * z,
                b = m[4] * x + m[5] * y + m[6] * z,
                c = m[8] * x + m[9] * y + m[10] * z,
                l = a * a + b * b + c * c;
        if (l == 0) return;
        float s = 1 / (float) Math.sqrt(l);
        out[o] = a * s;
        out[o + 1] = b * s;
        out[o + 2] = c * s;
    }
}

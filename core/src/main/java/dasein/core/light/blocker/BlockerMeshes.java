package dasein.core.light.blocker;

import dasein.core.key.Curve;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Texture;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Blockers as meshes that keep light away and are met by no other ray. Leaves are two layers, each with half of them,
 * that sway apart.
 */
public final class BlockerMeshes {
    /** Between the layers, in leaves' lengths. */
    private static final double APART = 3;

    private static final Map<String, Texture> MASKS = new ConcurrentHashMap<>();
    private static final int MOST_MASKS = 64;
    /** What stood on set is a stand-in that takes, gives and hides nothing: its own shadow falls on all alike. */
    private static final Mesh.Catch NOTHING = new Mesh.Catch(false, false, false, 0, 1);

    private BlockerMeshes() {}

    /**
     * @param cut what flags are cut out by, by its name, opaque where it keeps light away: {@link Texture#cutout}
     * @param open, close of the shutter, frames; @param rate frames a second
     */
    public static List<Mesh> of(
            List<Blocker> blockers, Map<String, Texture> cut, double open, double close, double rate) {
        List<Mesh> out = new ArrayList<>();
        for (Blocker b : blockers) {
            if (!b.on()) continue;
            int layers = b.kind() == Blocker.Kind.LEAVES ? 2 : 1;
            for (int layer = 0; layer < layers; layer++) out.add(layer(b, cut, layer, open / rate, close / rate));
        }
        return out;
    }

    private static Mesh layer(Blocker b, Map<String, Texture> cut, int layer, double from, double to) {
        boolean leaves = b.kind() == Blocker.Kind.LEAVES;
        float[] p0 = corners(b, layer, from), p1 = b.drift() > 0 ? corners(b, layer, to) : p0;
        float u = leaves ? (float) (b.width() / (LeafMask.LEAVES * b.leaf())) : 1,
                v = leaves ? (float) (b.height() / (LeafMask.LEAVES * b.leaf())) : 1;
        float[] none = new float[12];
        Mesh.Role role = b.real() ? Mesh.Role.CATCHER : Mesh.Role.PERFORMER;
        return new Mesh(
                        p0,
                        p1,
                        none,
                        none,
                        new float[] {0, v, u, v, u, 0, 0, 0},
                        new int[] {0, 1, 2, 0, 2, 3},
                        new int[2],
                        new Material[] {leaves ? leaves(mask(b, layer)) : flag(cut.get(b.picture()))},
                        0,
                        role,
                        b.real() ? NOTHING : null)
                .with(new Mesh.Shows(false, true, false, false));
    }

    private static float[] corners(Blocker b, int layer, double seconds) {
        Quat turn = Quat.axisAngle(Vec3.Y, Math.toRadians(b.headingDeg()))
                .times(Quat.axisAngle(Vec3.X, -Math.toRadians(b.tiltDeg())));
        Vec3 right = turn.rotate(Vec3.X), up = turn.rotate(Vec3.Y), ahead = turn.rotate(Vec3.Z);
        Vec3 at = new Vec3(b.x(), b.y(), b.z()).plus(ahead.times(layer * APART * b.leaf()));
        if (b.drift() > 0)
            at = at.plus(right.times(b.drift() * sway(b, 2 * layer, seconds)))
                    .plus(up.times(0.6 * b.drift() * sway(b, 2 * layer + 1, seconds)));
        float[] out = new float[12];
        for (int k = 0; k < 4; k++) {
            double x = (k == 1 || k == 2 ? 0.5 : -0.5) * b.width(), y = (k > 1 ? 0.5 : -0.5) * b.height();
            Vec3 c = at.plus(right.times(x)).plus(up.times(y));
            out[3 * k] = (float) c.x();
            out[3 * k + 1] = (float) c.y();
            out[3 * k + 2] = (float) c.z();
        }
        return out;
    }

    /** -1 to 1, a slow sway with quicker trembling in it. */
    private static double sway(Blocker b, int axis, double seconds) {
        int seed = 31 * b.id() + axis;
        return 0.8 * wave(b.seconds(), seed, seconds) + 0.2 * wave(b.seconds() / 3.7, seed + 101, seconds);
    }

    private static double wave(double period, int seed, double seconds) {
        return new Curve(List.of(), List.of(new Curve.Wave(Curve.Shape.NOISE, 1, period, 0.37, seed)))
                .at(seconds, 0, 1);
    }

    /** Two layers that each keep this part away let as much through together as one of the blocker's cover. */
    static double eachCovers(double cover) {
        return 1 - Math.sqrt(1 - cover);
    }

    private static Texture mask(Blocker b, int layer) {
        if (MASKS.size() > MOST_MASKS) MASKS.clear();
        return MASKS.computeIfAbsent(
                b.cover() + " " + b.id() + " " + layer, k -> LeafMask.of(eachCovers(b.cover()), 7919 * b.id() + layer));
    }

    private static Material leaves(Texture mask) {
        return material(mask, 0.5f, false);
    }

    /** @param cut null for a whole one */
    private static Material flag(Texture cut) {
        return material(cut, 0, cut != null);
    }

    private static Material material(Texture mask, float cutoff, boolean blend) {
        return new Material(
                "blocker",
                new float[] {1, 1, 1, 1},
                mask,
                0,
                1,
                null,
                null,
                1,
                new float[3],
                null,
                cutoff,
                blend,
                true);
    }
}

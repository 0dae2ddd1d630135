package dasein.core.render;

import dasein.core.render.pass.Layers;
import dasein.core.render.pass.Passes;

/**
 * Gathers each pixel's samples of performers into few layers by depth. A sample joins what is about as far; where there
 * is no room for another layer, the two that lie closest become one.
 */
final class DepthLayers {
    /** Of the distance: what lies within it of a layer belongs to it. */
    private static final float SAME = 0.005f;

    private static final int COUNT = Layers.COUNT, R = 0, SHADED = 3, NEAR = 4, FAR = 5, PLANES = 6;

    private final float[][] sum;

    DepthLayers(int pixels) {
        sum = new float[COUNT * PLANES][pixels];
    }

    /**
     * @param z metres along the view axis; @param light by slot, three colours each; @param covers 1, or 0 where light
     *     is only added
     */
    void add(int p, float z, float[] light, float covers) {
        float x = 0, y = 0, w = 0;
        for (int k = 0; k < light.length; k += 3) {
            x += light[k];
            y += light[k + 1];
            w += light[k + 2];
        }
        int at = 0;
        while (at < COUNT && used(at, p) && z > sum[at * PLANES + FAR][p] * (1 + SAME)) at++;
        // Layers stand in order: this one begins behind it, or is about as far.
        if (at == COUNT || !used(at, p) || z < sum[at * PLANES + NEAR][p] * (1 - SAME)) at = room(p, at, z);
        int o = at * PLANES;
        boolean fresh = !used(at, p);
        sum[o + R][p] += x;
        sum[o + R + 1][p] += y;
        sum[o + R + 2][p] += w;
        sum[o + SHADED][p] += covers;
        sum[o + NEAR][p] = fresh ? z : Math.min(sum[o + NEAR][p], z);
        sum[o + FAR][p] = fresh ? z : Math.max(sum[o + FAR][p], z);
        // It has grown as far as the next begins.
        if (at + 1 < COUNT && used(at + 1, p) && sum[o + FAR][p] >= sum[o + PLANES + NEAR][p]) join(p, at);
    }

    private boolean used(int layer, int p) {
        return sum[layer * PLANES + FAR][p] > 0;
    }

    /** Makes room for a layer before number {@code at}; which it is. */
    private int room(int p, int at, float z) {
        int last = COUNT - 1;
        if (used(last, p)) {
            // The smallest gap, also that to the new one before and behind it.
            int least = -1;
            float gap = Float.POSITIVE_INFINITY;
            for (int k = 0; k < last; k++) {
                // Between these two the new one will lie.
                if (k + 1 == at) continue;
                float d = sum[(k + 1) * PLANES + NEAR][p] - sum[k * PLANES + FAR][p];
                if (d < gap) {
                    gap = d;
                    least = k;
                }
            }
            float before = at > 0 ? z - sum[(at - 1) * PLANES + FAR][p] : Float.POSITIVE_INFINITY,
                    behind = at < COUNT ? sum[at * PLANES + NEAR][p] - z : Float.POSITIVE_INFINITY;
            if (before <= gap && before <= behind) return at - 1;
            if (behind <= gap) return at;
            join(p, least);
            if (at > least) at--;
        }
        for (int k = last; k > at; k--)
            for (int i = 0; i < PLANES; i++) sum[k * PLANES + i][p] = sum[(k - 1) * PLANES + i][p];
        for (int i = 0; i < PLANES; i++) sum[at * PLANES + i][p] = 0;
        return at;
    }

    /** Makes a layer and the next one; those behind move up. */
    private void join(int p, int k) {
        int o = k * PLANES;
        for (int i = 0; i < NEAR; i++) sum[o + i][p] += sum[o + PLANES + i][p];
        sum[o + FAR][p] = sum[o + PLANES + FAR][p];
        for (int j = k + 1; j < COUNT; j++)
            for (int i = 0; i < PLANES; i++) sum[j * PLANES + i][p] = j + 1 < COUNT ? sum[(j + 1) * PLANES + i][p] : 0;
    }

    /** @param part of the pixel that a sample is */
    void resolve(int p, float part, Passes out) {
        float[][][] to = Layers.of(out);
        for (int k = 0; k < COUNT && used(k, p); k++) {
            for (int i = 0; i < NEAR; i++) to[k][i][p] = part * sum[k * PLANES + i][p];
            to[k][Layers.Z][p] = sum[k * PLANES + NEAR][p];
            to[k][Layers.BACK][p] = sum[k * PLANES + FAR][p];
        }
    }
}

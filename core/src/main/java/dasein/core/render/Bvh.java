package dasein.core.render;

import dasein.core.model.Mesh;

/**
 * Bounding volume hierarchy over the triangles of one mesh: binned surface-area heuristic (Wald 2007), flattened so
 * that the two children of a node lie side by side in one float array and are tested together, near child first. Boxes
 * bound the triangle over the whole shutter. Triangles are copied in leaf order as vertex and edges, so that a leaf is
 * read in one run.
 */
final class Bvh {
    private static final int BINS = 16;
    private static final int LEAF = 4;
    /** Floats for each node: both children's boxes (6 + 6). */
    private static final int STRIDE = 12;

    /** Child boxes: minX maxX minY maxY minZ maxZ of child 0, then child 1. */
    final float[] box;
    /** Two entries for each node: at or above 0 an inner node; below, ~(first << 4 | count) of a leaf. */
    final int[] child;
    /**
     * Nine floats for each triangle in leaf order: v0, e1, e2 at shutter open; the same at close follow if the mesh
     * moves.
     */
    final float[] tri;

    final int triStride;
    final int[] original;
    final float[] bounds;
    private final int leaf;
    private int nodes;

    Bvh(Mesh m) {
        this(boxes(m), m.moves() ? 18 : 9, LEAF);
        for (int i = 0; i < original.length; i++) {
            edges(m, m.position0(), original[i], triStride * i);
            if (m.moves()) edges(m, m.position1(), original[i], triStride * i + 9);
        }
    }

    /** Over boxes alone, smallest corners, then largest: one in a leaf. */
    Bvh(float[][] boxes) {
        this(boxes, 0, 1);
    }

    private Bvh(float[][] boxes, int triStride, int leaf) {
        this.triStride = triStride;
        this.leaf = leaf;
        float[] lo = boxes[0], hi = boxes[1], mid = new float[lo.length];
        int n = lo.length / 3;
        for (int i = 0; i < mid.length; i++) mid[i] = 0.5f * (lo[i] + hi[i]);
        tri = new float[triStride * n];
        original = new int[n];
        for (int t = 0; t < n; t++) original[t] = t;
        box = new float[STRIDE * Math.max(1, n)];
        child = new int[2 * Math.max(1, n)];
        bounds = range(lo, hi, original, 0, n);
        nodes = 1;
        if (n <= leaf) {
            put(0, 0, bounds);
            child[0] = ~(0 << 4 | n);
            put(0, 1, new float[] {1e30f, -1e30f, 1e30f, -1e30f, 1e30f, -1e30f});
            child[1] = ~0;
        } else {
            split(0, original, 0, n, lo, hi, mid);
        }
    }

    private static float[][] boxes(Mesh m) {
        int n = m.triangles();
        float[] lo = new float[3 * n], hi = new float[3 * n];
        for (int t = 0; t < n; t++) {
            for (int a = 0; a < 3; a++) {
                float l = Float.POSITIVE_INFINITY, h = Float.NEGATIVE_INFINITY;
                for (int k = 0; k < 3; k++) {
                    float p = m.position0()[3 * m.index()[3 * t + k] + a],
                            q = m.position1()[3 * m.index()[3 * t + k] + a];
                    l = Math.min(l, Math.min(p, q));
                    h = Math.max(h, Math.max(p, q));
                }
                lo[3 * t + a] = l;
                hi[3 * t + a] = h;
            }
        }
        return new float[][] {lo, hi};
    }

    private void edges(Mesh m, float[] p, int t, int at) {
        int a = 3 * m.index()[3 * t], b = 3 * m.index()[3 * t + 1], c = 3 * m.index()[3 * t + 2];
        for (int k = 0; k < 3; k++) {
            tri[at + k] = p[a + k];
            tri[at + 3 + k] = p[b + k] - p[a + k];
            tri[at + 6 + k] = p[c + k] - p[a + k];
        }
    }

    private void put(int node, int side, float[] b) {
        System.arraycopy(b, 0, box, STRIDE * node + 6 * side, 6);
    }

    private static float[] range(float[] lo, float[] hi, int[] order, int from, int to) {
        float[] b = {1e30f, -1e30f, 1e30f, -1e30f, 1e30f, -1e30f};
        for (int i = from; i < to; i++) {
            for (int a = 0; a < 3; a++) {
                b[2 * a] = Math.min(b[2 * a], lo[3 * order[i] + a]);
                b[2 * a + 1] = Math.max(b[2 * a + 1], hi[3 * order[i] + a]);
            }
        }
        return b;
    }

    private static float area(float[] b) {
        float x = b[1] - b[0], y = b[3] - b[2], z = b[5] - b[4];
        return x < 0 ? 0 : x * y + y * z + z * x;
    }

    private void split(int node, int[] order, int from, int to, float[] lo, float[] hi, float[] mid) {
        int at = partition(order, from, to, lo, hi, mid);
        for (int side = 0; side < 2; side++) {
            int f = side == 0 ? from : at, t = side == 0 ? at : to;
            put(node, side, range(lo, hi, order, f, t));
            if (t - f <= leaf) {
                child[2 * node + side] = ~(f << 4 | t - f);
            } else {
                int next = nodes++;
                child[2 * node + side] = next;
                split(next, order, f, t, lo, hi, mid);
            }
        }
    }

    private int partition(int[] order, int from, int to, float[] lo, float[] hi, float[] mid) {
        float[] c = {1e30f, -1e30f, 1e30f, -1e30f, 1e30f, -1e30f};
        for (int i = from; i < to; i++) {
            for (int a = 0; a < 3; a++) {
                float v = mid[3 * order[i] + a];
                c[2 * a] = Math.min(c[2 * a], v);
                c[2 * a + 1] = Math.max(c[2 * a + 1], v);
            }
        }
        float best = Float.POSITIVE_INFINITY;
        int bestAxis = -1, bestBin = 0;
        for (int a = 0; a < 3; a++) {
            float extent = c[2 * a + 1] - c[2 * a];
            if (extent <= 0) continue;
            float scale = BINS * 0.9999f / extent;
            float[][] b = new float[BINS][];
            int[] count = new int[BINS];
            for (int i = from; i < to; i++) {
                int t = order[i], k = (int) ((mid[3 * t + a] - c[2 * a]) * scale);
                if (b[k] == null) b[k] = new float[] {1e30f, -1e30f, 1e30f, -1e30f, 1e30f, -1e30f};
                count[k]++;
                grow(b[k], lo, hi, t);
            }
            float[] right = new float[BINS];
            float[] acc = {1e30f, -1e30f, 1e30f, -1e30f, 1e30f, -1e30f};
            int n = 0;
            for (int k = BINS - 1; k > 0; k--) {
                if (b[k] != null) join(acc, b[k]);
                n += count[k];
                right[k] = n == 0 ? Float.POSITIVE_INFINITY : area(acc) * n;
            }
            acc = new float[] {1e30f, -1e30f, 1e30f, -1e30f, 1e30f, -1e30f};
            n = 0;
            for (int k = 0; k < BINS - 1; k++) {
                if (b[k] != null) join(acc, b[k]);
                n += count[k];
                float cost = n == 0 ? Float.POSITIVE_INFINITY : area(acc) * n + right[k + 1];
                if (cost < best) {
                    best = cost;
                    bestAxis = a;
                    bestBin = k;
                }
            }
        }
        if (bestAxis < 0) return (from + to) >>> 1;
        float scale = BINS * 0.9999f / (c[2 * bestAxis + 1] - c[2 * bestAxis]);
        int i = from, j = to - 1;
        while (i <= j) {
            if ((int) ((mid[3 * order[i] + bestAxis] - c[2 * bestAxis]) * scale) <= bestBin) {
                i++;
            } else {
                int t = order[i];
                order[i] = order[j];
                order[j--] = t;
            }
        }
        return i == from || i == to ? (from + to) >>> 1 : i;
    }

    private static void grow(float[] b, float[] lo, float[] hi, int t) {
        for (int a = 0; a < 3; a++) {
            if (lo[3 * t + a] < b[2 * a]) b[2 * a] = lo[3 * t + a];
            if (hi[3 * t + a] > b[2 * a + 1]) b[2 * a + 1] = hi[3 * t + a];
        }
    }

    private static void join(float[] b, float[] o) {
        for (int a = 0; a < 6; a += 2) {
            if (o[a] < b[a]) b[a] = o[a];
            if (o[a + 1] > b[a + 1]) b[a + 1] = o[a + 1];
        }
    }
}

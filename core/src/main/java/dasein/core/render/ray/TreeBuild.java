package dasein.core.render.ray;

import java.util.Arrays;
import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.ForkJoinTask;
import java.util.concurrent.RecursiveAction;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * A tree of two children a node over boxes, by the binned surface-area heuristic (Wald 2007): boxes change places in
 * memory, so that each node's lie in one run, and all axes are binned in one sweep. Large subtrees are built side by
 * side.
 */
final class TreeBuild {
    private static final int BINS = Sweep.BINS, GRAIN = 4096;
    /** From this depth on boxes are halved by count: what lies in ever smaller steps would make a tree like a rope. */
    private static final int DEEP = 40;

    /** Records of the boxes ({@link Sweep}), and which box each was. */
    private final float[] r;

    final int[] id;
    private final int block;
    private final Sweep sweep;
    private final AtomicInteger nodes = new AtomicInteger(1);

    /** Six floats a node: least corner, greatest corner. */
    final float[] box;
    /** Its first child (the second follows), or its first record. */
    final int[] first;
    /** Records of a leaf; 0 for what has children. */
    final int[] count;

    /** @param records changed; @param block most boxes in a leaf, and what a leaf costs is counted in these */
    TreeBuild(float[] records, int block, Sweep sweep) {
        r = records;
        this.block = block;
        this.sweep = sweep;
        int n = r.length / Sweep.RECORD;
        id = new int[n];
        for (int i = 0; i < n; i++) id[i] = i;
        box = new float[12 * Math.max(1, n)];
        first = new int[2 * Math.max(1, n)];
        count = new int[2 * Math.max(1, n)];
        float[] c = new float[12];
        sweep.bounds(r, 0, n, c);
        System.arraycopy(c, 0, box, 0, 6);
        if (n > GRAIN) ForkJoinPool.commonPool().invoke(new Part(0, 0, n, c, 0));
        else if (n > 0) split(new Bins(), 0, 0, n, c, 0);
    }

    int size() {
        return nodes.get();
    }

    static float area(float[] b, int at) {
        float x = b[at + 3] - b[at], y = b[at + 4] - b[at + 1], z = b[at + 5] - b[at + 2];
        return x * y + y * z + z * x;
    }

    private final class Part extends RecursiveAction {
        private static final long serialVersionUID = 1;
        private final int node, from, to, depth;
        private final transient float[] c;

        Part(int node, int from, int to, float[] c, int depth) {
            this.depth = depth;
            this.node = node;
            this.from = from;
            this.to = to;
            this.c = c;
        }

        @Override
        protected void compute() {
            split(new Bins(), node, from, to, c, depth);
        }
    }

    /** What a thread works with. */
    private static final class Bins {
        final float[] bin = new float[3 * BINS * Sweep.RECORD], right = new float[BINS], run = new float[Sweep.RECORD];
        final int[] count = new int[3 * BINS], rightCount = new int[BINS];
        float cost;
        int axis, at;
    }

    /** @param c corners of the node's boxes and of twice their middles: {@link Sweep#bounds} */
    private void split(Bins w, int node, int from, int to, float[] c, int depth) {
        int n = to - from, at = -1;
        // Tested all at once, so many cost no more than one.
        if (n <= block) {
            first[node] = from;
            count[node] = n;
            return;
        }
        float e0 = c[9] - c[6], e1 = c[10] - c[7], e2 = c[11] - c[8];
        if (depth < DEEP && (e0 > 0 || e1 > 0 || e2 > 0)) {
            int bins = Math.min(BINS, 4 + n / 20);
            float k = bins * 0.99999f, s0 = e0 > 0 ? k / e0 : 0, s1 = e1 > 0 ? k / e1 : 0, s2 = e2 > 0 ? k / e2 : 0;
            Arrays.fill(w.bin, 1e30f);
            Arrays.fill(w.count, 0);
            sweep.bin(r, from, to, c, s0, s1, s2, w.bin, w.count);
            w.cost = Float.MAX_VALUE;
            w.axis = -1;
            if (e0 > 0) best(w, 0, bins);
            if (e1 > 0) best(w, 1, bins);
            if (e2 > 0) best(w, 2, bins);
            if (w.axis >= 0)
                at = partition(from, to, w.axis, c[6 + w.axis], w.axis == 0 ? s0 : w.axis == 1 ? s1 : s2, w.at);
        }
        if (at <= from || at >= to) at = (from + to) >>> 1;
        float[] a = new float[12], b = new float[12];
        sweep.bounds(r, from, at, a);
        sweep.bounds(r, at, to, b);
        int child = nodes.getAndAdd(2);
        System.arraycopy(a, 0, box, 6 * child, 6);
        System.arraycopy(b, 0, box, 6 * child + 6, 6);
        first[node] = child;
        if (n > GRAIN) {
            ForkJoinTask.invokeAll(new Part(child, from, at, a, depth + 1), new Part(child + 1, at, to, b, depth + 1));
        } else {
            split(w, child, from, at, a, depth + 1);
            split(w, child + 1, at, to, b, depth + 1);
        }
    }

    /** The cheapest place between two bins of an axis, if it is cheaper than what is known. */
    private void best(Bins w, int axis, int bins) {
        float[] run = w.run;
        Arrays.fill(run, 1e30f);
        int n = 0;
        for (int i = bins - 1; i > 0; i--) {
            n += w.count[axis * BINS + i];
            grow(run, w.bin, (axis * BINS + i) * Sweep.RECORD);
            w.right[i] = cost(run, n);
            w.rightCount[i] = n;
        }
        Arrays.fill(run, 1e30f);
        n = 0;
        for (int i = 0; i < bins - 1; i++) {
            n += w.count[axis * BINS + i];
            grow(run, w.bin, (axis * BINS + i) * Sweep.RECORD);
            if (n == 0 || w.rightCount[i + 1] == 0) continue;
            float cost = cost(run, n) + w.right[i + 1];
            if (cost < w.cost) {
                w.cost = cost;
                w.axis = axis;
                w.at = i;
            }
        }
    }

    private static void grow(float[] run, float[] bin, int at) {
        for (int a = 0; a < Sweep.RECORD; a++) if (bin[at + a] < run[a]) run[a] = bin[at + a];
    }

    private float cost(float[] run, int n) {
        if (n == 0) return 1e30f;
        float x = -run[4] - run[0], y = -run[5] - run[1], z = -run[6] - run[2];
        return (x * y + y * z + z * x) * ((n + block - 1) / block);
    }

    private int partition(int from, int to, int axis, float low, float scale, int split) {
        int i = from, j = to - 1;
        while (true) {
            while (i <= j && bin(i, axis, low, scale) <= split) i++;
            while (i <= j && bin(j, axis, low, scale) > split) j--;
            if (i >= j) return i;
            int t = id[i];
            id[i] = id[j];
            id[j] = t;
            sweep.swap(r, i++, j--);
        }
    }

    private int bin(int i, int axis, float low, float scale) {
        int k = Sweep.RECORD * i + axis;
        return (int) ((r[k] - r[k + 4] - low) * scale);
    }
}

package dasein.core.render.ray;

import dasein.core.model.Mesh;
import java.util.Arrays;
import java.util.stream.IntStream;

/**
 * Boxes over the triangles of a mesh, eight children a node, each over the whole shutter; a leaf is one block of a few
 * triangles, corner and edges by lane, at shutter open and, if the mesh moves, at close. Made of a {@link TreeBuild} by
 * opening the largest child again and again until there are eight.
 */
final class Tree {
    static final int WIDE = 8;
    /** Triangles of a block: four are tested fastest, but Java 17 wants one shape of vector throughout. */
    static final int BLOCK = Runtime.version().feature() >= 21 ? 4 : 8;
    /** Floats of a block that does not move. */
    static final int STILL = 9 * BLOCK;

    private static final int NODE = 6 * WIDE;
    /** Children of a node that is not there. */
    private static final int NONE = Integer.MIN_VALUE;

    private static final int MANY = 20_000, PARTS = 16;
    /** Once moved vertices have made the boxes this much larger, the tree is built anew. */
    private static final double STALE = 1.6;

    /** Of a node, eight each: least x, greatest x, and so on for y and z. */
    final float[] box;
    /** Eight a node: at or above 0 another node, below it ~block. */
    final int[] child;
    /** Nine or eighteen floats for each triangle of a block: corner, edge, edge. */
    final float[] tri;
    /** Of each lane of a block which triangle it is, -1 for none; of a tree over boxes alone, which box, by block. */
    final int[] original;
    /** Floats of a block. */
    final int stride;
    /** Least corner, greatest corner. */
    final float[] bounds;

    private final double cost;
    private int nodes = 1, blocks;

    static Tree of(Mesh m, boolean vectors) {
        TreeBuild b = new TreeBuild(records(m), BLOCK, Vectors.sweep(vectors));
        return new Tree(b, m);
    }

    /** Over boxes alone, smallest corners, then largest: one in a leaf. */
    static Tree of(float[] lo, float[] hi, boolean vectors) {
        float[] r = new float[lo.length / 3 * Sweep.RECORD];
        for (int i = 0; i < lo.length / 3; i++)
            for (int a = 0; a < 3; a++) {
                r[Sweep.RECORD * i + a] = lo[3 * i + a];
                r[Sweep.RECORD * i + 4 + a] = -hi[3 * i + a];
            }
        return new Tree(new TreeBuild(r, 1, Vectors.sweep(vectors)), null);
    }

    private static float[] records(Mesh m) {
        int n = m.triangles();
        float[] r = new float[Sweep.RECORD * n], p = m.position0(), q = m.position1();
        int[] index = m.index();
        parts(n, (from, to) -> {
            for (int t = from; t < to; t++) record(t, p, q, index, r);
        });
        return r;
    }

    private static void record(int t, float[] p, float[] q, int[] index, float[] r) {
        int a = 3 * index[3 * t], b = 3 * index[3 * t + 1], c = 3 * index[3 * t + 2], o = Sweep.RECORD * t;
        for (int k = 0; k < 3; k++) {
            float low = least(p[a + k], p[b + k], p[c + k]), high = greatest(p[a + k], p[b + k], p[c + k]);
            if (p != q) {
                low = Math.min(low, least(q[a + k], q[b + k], q[c + k]));
                high = Math.max(high, greatest(q[a + k], q[b + k], q[c + k]));
            }
            r[o + k] = low;
            r[o + 4 + k] = -high;
        }
    }

    private interface Part {
        void run(int from, int to);
    }

    /** Side by side, where there are many. */
    private static void parts(int n, Part p) {
        if (n < MANY) p.run(0, n);
        else
            IntStream.range(0, PARTS)
                    .parallel()
                    .forEach(k -> p.run((int) ((long) n * k / PARTS), (int) ((long) n * (k + 1) / PARTS)));
    }

    private static float least(float a, float b, float c) {
        float d = a < b ? a : b;
        return d < c ? d : c;
    }

    private static float greatest(float a, float b, float c) {
        float d = a > b ? a : b;
        return d > c ? d : c;
    }

    /** @param m null for a tree over boxes alone */
    private Tree(TreeBuild b, Mesh m) {
        int inner = 0, leaves = 0;
        for (int i = 0; i < b.size(); i++) {
            if (b.count[i] > 0) leaves++;
            else inner++;
        }
        box = new float[NODE * (inner + 1)];
        child = new int[WIDE * (inner + 1)];
        stride = m == null ? 0 : m.moves() ? 2 * STILL : STILL;
        tri = new float[stride * leaves];
        original = new int[m == null ? leaves : BLOCK * leaves];
        bounds = b.box.length < 6 ? new float[6] : Arrays.copyOf(b.box, 6);
        open(b, m != null, 0, 0);
        if (m != null) put(m);
        cost = cost();
    }

    /** With another's structure, its boxes and triangles those of a mesh that has moved since. */
    private Tree(Tree other, Mesh m) {
        child = other.child;
        original = other.original;
        nodes = other.nodes;
        blocks = other.blocks;
        stride = m.moves() ? 2 * STILL : STILL;
        box = new float[other.box.length];
        tri = new float[stride * blocks];
        bounds = new float[6];
        put(m);
        // Children come after what they hang on.
        for (int n = nodes - 1; n >= 0; n--)
            for (int i = 0; i < WIDE; i++) {
                int c = child[WIDE * n + i], at = NODE * n + i;
                if (c == NONE) nothing(at);
                else if (c < 0) around(m, ~c, at);
                else around(c, at);
            }
        for (int a = 0; a < 3; a++) {
            bounds[a] = Float.POSITIVE_INFINITY;
            bounds[3 + a] = Float.NEGATIVE_INFINITY;
            for (int i = 0; i < WIDE; i++) {
                bounds[a] = Math.min(bounds[a], box[2 * a * WIDE + i]);
                bounds[3 + a] = Math.max(bounds[3 + a], box[(2 * a + 1) * WIDE + i]);
            }
        }
        cost = other.cost;
    }

    /**
     * For the same triangles at other places: cheaper than building anew, as long as neighbours stay neighbours.
     *
     * @return null when they have not
     */
    Tree moved(Mesh m) {
        if (blocks == 0) return null;
        Tree t = new Tree(this, m);
        return t.cost() > STALE * cost ? null : t;
    }

    /** What a ray that meets the whole is likely to meet of it. */
    private double cost() {
        double sum = 0, all = TreeBuild.area(bounds, 0);
        for (int n = 0; n < nodes; n++)
            for (int i = 0; i < WIDE; i++) {
                if (child[WIDE * n + i] == NONE) continue;
                int at = NODE * n + i;
                float x = box[at + WIDE] - box[at],
                        y = box[at + 3 * WIDE] - box[at + 2 * WIDE],
                        z = box[at + 5 * WIDE] - box[at + 4 * WIDE];
                sum += x * y + y * z + z * x;
            }
        return sum / Math.max(all, 1e-30);
    }

    private void open(TreeBuild b, boolean blocked, int from, int node) {
        int[] kids = new int[WIDE];
        int k = 0;
        if (b.id.length == 0) {
            // Nothing at all.
        } else if (b.count[from] > 0) {
            kids[k++] = from;
        } else {
            kids[k++] = b.first[from];
            kids[k++] = b.first[from] + 1;
            while (k < WIDE) {
                int largest = -1;
                float most = -1;
                for (int i = 0; i < k; i++) {
                    if (b.count[kids[i]] > 0) continue;
                    float a = TreeBuild.area(b.box, 6 * kids[i]);
                    if (a > most) {
                        most = a;
                        largest = i;
                    }
                }
                if (largest < 0) break;
                int c = b.first[kids[largest]];
                kids[largest] = c;
                kids[k++] = c + 1;
            }
        }
        int next = nodes, begins = nodes;
        for (int i = 0; i < k; i++) if (b.count[kids[i]] == 0) nodes++;
        for (int i = 0; i < WIDE; i++) {
            int at = NODE * node + i;
            if (i >= k) {
                nothing(at);
                child[WIDE * node + i] = NONE;
                continue;
            }
            int c = kids[i];
            for (int a = 0; a < 3; a++) {
                box[at + 2 * a * WIDE] = b.box[6 * c + a];
                box[at + (2 * a + 1) * WIDE] = b.box[6 * c + 3 + a];
            }
            child[WIDE * node + i] = b.count[c] > 0 ? leaf(b, blocked, c) : next++;
        }
        next = begins;
        for (int i = 0; i < k; i++) if (b.count[kids[i]] == 0) open(b, blocked, kids[i], next++);
    }

    private int leaf(TreeBuild b, boolean blocked, int leaf) {
        int at = blocks++;
        if (!blocked) {
            original[at] = b.id[b.first[leaf]];
            return ~at;
        }
        for (int i = 0; i < BLOCK; i++) {
            int k = BLOCK * at + i;
            original[k] = i < b.count[leaf] ? b.id[b.first[leaf] + i] : -1;
        }
        return ~at;
    }

    /** All triangles into their blocks. */
    private void put(Mesh m) {
        parts(original.length, (from, to) -> {
            for (int k = from; k < to; k++) if (original[k] >= 0) put(m, k, original[k]);
        });
    }

    /** Triangle t as lane k of all. */
    private void put(Mesh m, int k, int t) {
        int at = k / BLOCK * stride + k % BLOCK;
        put(m.index(), m.position0(), t, at);
        if (stride > STILL) put(m.index(), m.position1(), t, at + STILL);
    }

    private void put(int[] index, float[] p, int t, int at) {
        int a = 3 * index[3 * t], b = 3 * index[3 * t + 1], c = 3 * index[3 * t + 2];
        for (int k = 0; k < 3; k++) {
            tri[at + k * BLOCK] = p[a + k];
            tri[at + (3 + k) * BLOCK] = p[b + k] - p[a + k];
            tri[at + (6 + k) * BLOCK] = p[c + k] - p[a + k];
        }
    }

    /** A box that no ray meets. */
    private void nothing(int at) {
        for (int a = 0; a < 3; a++) {
            box[at + 2 * a * WIDE] = 1e30f;
            box[at + (2 * a + 1) * WIDE] = -1e30f;
        }
    }

    /** The box around a block's triangles. */
    private void around(Mesh m, int block, int at) {
        float[] p = m.position0(), q = m.position1();
        int[] index = m.index();
        for (int a = 0; a < 3; a++) {
            float low = Float.POSITIVE_INFINITY, high = Float.NEGATIVE_INFINITY;
            for (int i = BLOCK * block; i < BLOCK * (block + 1); i++) {
                int t = original[i];
                if (t < 0) break;
                for (int k = 0; k < 3; k++) {
                    float x = p[3 * index[3 * t + k] + a];
                    if (x < low) low = x;
                    if (x > high) high = x;
                    if (p == q) continue;
                    x = q[3 * index[3 * t + k] + a];
                    if (x < low) low = x;
                    if (x > high) high = x;
                }
            }
            box[at + 2 * a * WIDE] = low;
            box[at + (2 * a + 1) * WIDE] = high;
        }
    }

    /** The box around a node's children. */
    private void around(int node, int at) {
        for (int a = 0; a < 3; a++) {
            float low = Float.POSITIVE_INFINITY, high = Float.NEGATIVE_INFINITY;
            for (int i = NODE * node + 2 * a * WIDE, e = i + WIDE; i < e; i++) {
                if (box[i] < low) low = box[i];
                if (box[i + WIDE] > high) high = box[i + WIDE];
            }
            box[at + 2 * a * WIDE] = low;
            box[at + (2 * a + 1) * WIDE] = high;
        }
    }
}

package dasein.core.render.ray;

import dasein.core.math.Sobol;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.TexturePlace;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.WeakHashMap;
import java.util.stream.IntStream;

/**
 * Nearest-hit and any-hit queries against a list of meshes. The hit is left in fields, so nothing is allocated. One for
 * each worker thread; the trees are shared. Triangle test after Möller and Trumbore 1997, both faces.
 */
public final class Tracer {
    /** Seven children of a node can wait, and no tree is deeper: {@link TreeBuild}. */
    private static final int STACK = 7 * 72;
    /** The chance by which nothing that is seen at all lets a ray through. */
    public static final float NEVER = -1;

    private final Mesh[] meshes;
    private final Tree[] trees;
    private final CopyTree copies;
    private final boolean[][] counts;
    /** Whether anything of a mesh may let rays through. */
    private final boolean[] clear;

    private final boolean vectors;
    /** The ray as it is, and within a copy. */
    private final Lanes ray, inner;
    /** Whether the ray under way stops at bodies of glass. */
    private boolean bends;

    private boolean adds;
    private final int[] stack = new int[STACK];
    /** As {@link Lanes#near}. */
    private final int[] stackNear = new int[STACK];
    /** Of the tree of copies, whose leaves are walked with the other. */
    private final int[] upper = new int[STACK];

    private final int[] upperNear = new int[STACK];
    private final float[] back = new float[12];
    private final float[] texel = new float[4];
    private final TexturePlace place = new TexturePlace();

    /**
     * Distance, mesh, which of its copies, triangle and barycentrics (of second and third corner) of the last nearest
     * hit; mesh -1 for none.
     */
    public float t;

    public int mesh;
    public int copy;
    public int triangle;
    public float b1;
    public float b2;

    private Tracer(Mesh[] meshes, Tree[] trees, CopyTree copies, boolean vectors) {
        this.meshes = meshes;
        this.trees = trees;
        this.copies = copies;
        this.vectors = vectors;
        ray = Vectors.lanes(vectors);
        inner = Vectors.lanes(vectors);
        clear = new boolean[meshes.length];
        counts = new boolean[7][meshes.length];
        for (int m = 0; m < meshes.length; m++) {
            Mesh.Catch c = meshes[m].catches();
            Mesh.Shows w = meshes[m].shows();
            counts[ALL][m] = w.mirrored() && !w.added();
            counts[SEEN][m] = c == null ? w.camera() && !w.added() : c.shown();
            counts[HIDING][m] = c == null ? w.camera() && !w.added() : c.hide();
            counts[LIT][m] = c == null ? w.mirrored() && !w.added() : c.bounce();
            counts[SHADING][m] = w.shadow();
            counts[ADDED][m] = w.camera() && w.added();
            counts[CATCHING][m] = c != null && c.shown();
            adds |= counts[ADDED][m];
            for (Material k : meshes[m].materials()) clear[m] |= k.seeThrough();
        }
    }

    /** Trees by their triangles, for as long as somebody has these. */
    private static final Map<float[], Built> TREES = Collections.synchronizedMap(new WeakHashMap<>());
    /** The last that was built of a set of triangles, wherever they were then. */
    private static final Map<int[], Tree> STRUCTURES = Collections.synchronizedMap(new WeakHashMap<>());

    /** @param close corners at the shutter's closing, null for what does not move: the tree depends on them too */
    private record Built(Tree tree, float[] close, int[] index) {}

    public static Tracer of(List<Mesh> meshes) {
        return of(meshes, Vectors.THERE);
    }

    /** @param vectors by Java's vectors, which must be there */
    static Tracer of(List<Mesh> meshes, boolean vectors) {
        Mesh[] m = meshes.toArray(Mesh[]::new);
        Tree[] t = new Tree[m.length];
        IntStream.range(0, m.length).parallel().forEach(i -> t[i] = tree(m[i], vectors));
        return new Tracer(m, t, new CopyTree(m, t, vectors), vectors);
    }

    /** An array is equal to itself alone, so that places moved in it would not be seen: nobody does that. */
    private static Tree tree(Mesh m, boolean vectors) {
        Built b = TREES.get(m.position0());
        if (b != null && b.index == m.index() && b.close == (m.moves() ? m.position1() : null)) return b.tree;
        Tree was = STRUCTURES.get(m.index()), made = was == null ? null : was.moved(m);
        if (made == null) {
            made = Tree.of(m, vectors);
            STRUCTURES.put(m.index(), made);
        }
        TREES.put(m.position0(), new Built(made, m.moves() ? m.position1() : null, m.index()));
        return made;
    }

    /** Another tracer over the same trees, for another thread. */
    public Tracer twin() {
        return new Tracer(meshes, trees, copies, vectors);
    }

    /**
     * What a ray may meet: all that mirrors show; what the camera sees; of that, what hides others; what gives light to
     * others; what keeps light away; what is added to the picture; what stands in for the plate's own things.
     */
    public static final int ALL = 0, SEEN = 1, HIDING = 2, LIT = 3, SHADING = 4, ADDED = 5, CATCHING = 6;

    /** Whether anything is added to the picture. */
    public boolean adds() {
        return adds;
    }

    /**
     * Finds the nearest hit in (0, far) at shutter time s in [0, 1]; true when there is one.
     *
     * @param chance in [0, 1), by which what is partly clear lets the ray through or not; {@link #NEVER} for not
     */
    public boolean nearest(
            float ox, float oy, float oz, float dx, float dy, float dz, float far, float s, float chance) {
        return nearest(ox, oy, oz, dx, dy, dz, far, s, chance, ALL, false);
    }

    /**
     * @param among which meshes, {@link #ALL} to {@link #LIT}; @param bends it stops at bodies of glass, to be bent
     *     there; else it goes straight through them, as light that is looked for does
     */
    public boolean nearest(
            float ox,
            float oy,
            float oz,
            float dx,
            float dy,
            float dz,
            float far,
            float s,
            float chance,
            int among,
            boolean bends) {
        t = far;
        mesh = -1;
        this.bends = bends;
        ray.ray(ox, oy, oz, dx, dy, dz);
        for (int m = 0; m < trees.length; m++)
            if (counts[among][m] && meshes[m].copies() == null) nearest(ray, trees[m], m, 0, s, chance);
        if (!copies.none()) walkCopies(among, null, s, chance, false);
        return mesh >= 0;
    }

    /** Is anything of the given role (null: anything) in (0, far)? */
    public boolean blocked(
            float ox,
            float oy,
            float oz,
            float dx,
            float dy,
            float dz,
            float far,
            float s,
            float chance,
            Mesh.Role role) {
        t = far;
        mesh = -1;
        bends = false;
        ray.ray(ox, oy, oz, dx, dy, dz);
        for (int m = 0; m < trees.length; m++) {
            if (counts[SHADING][m]
                    && meshes[m].copies() == null
                    && (role == null || meshes[m].role() == role)
                    && any(ray, trees[m], m, 0, s, chance)) return true;
        }
        return !copies.none() && walkCopies(SHADING, role, s, chance, true);
    }

    /** Nearer children first; what lies behind what was met meanwhile is left out. */
    private boolean nearest(Lanes l, Tree tree, int m, int c, float s, float chance) {
        int[] child = tree.child, stack = this.stack, waits = stackNear, near = l.near;
        float[] box = tree.box;
        int top = 0, node = 0, far = Float.floatToRawIntBits(t);
        boolean hit = false;
        while (true) {
            if (node >= 0) {
                int bits = l.node(box, 6 * Tree.WIDE * node, t);
                if (bits != 0) {
                    int first = Tree.WIDE * node, i = Integer.numberOfTrailingZeros(bits);
                    bits &= bits - 1;
                    if (bits == 0) {
                        node = child[first + i];
                        continue;
                    }
                    int j = Integer.numberOfTrailingZeros(bits);
                    bits &= bits - 1;
                    // The nearer of two goes on at once.
                    int closer = near[j] < near[i] ? j : i, other = i + j - closer, begins = top;
                    stack[top] = child[first + other];
                    waits[top++] = near[other];
                    if (bits == 0) {
                        node = child[first + closer];
                        continue;
                    }
                    stack[top] = child[first + closer];
                    waits[top++] = near[closer];
                    do {
                        int k = top++, next = Integer.numberOfTrailingZeros(bits), at = near[next];
                        bits &= bits - 1;
                        // The farthest of this node's lie lowest.
                        while (k > begins && waits[k - 1] < at) {
                            waits[k] = waits[k - 1];
                            stack[k] = stack[k - 1];
                            k--;
                        }
                        waits[k] = at;
                        stack[k] = child[first + next];
                    } while (bits != 0);
                    node = stack[--top];
                    continue;
                }
            } else if (leaf(l, tree, ~node, m, c, s, chance)) {
                hit = true;
                far = Float.floatToRawIntBits(t);
            }
            do {
                if (top == 0) return hit;
                node = stack[--top];
            } while (waits[top] >= far);
        }
    }

    private boolean any(Lanes l, Tree tree, int m, int c, float s, float chance) {
        int[] child = tree.child, stack = this.stack;
        float[] box = tree.box;
        int top = 0, node = 0;
        while (true) {
            if (node < 0) {
                if (leaf(l, tree, ~node, m, c, s, chance)) return true;
            } else {
                int bits = l.node(box, 6 * Tree.WIDE * node, t), first = Tree.WIDE * node;
                while (bits != 0) {
                    stack[top++] = child[first + Integer.numberOfTrailingZeros(bits)];
                    bits &= bits - 1;
                }
            }
            if (top == 0) return false;
            node = stack[--top];
        }
    }

    /** Their tree is small beside what hangs in it. */
    private boolean walkCopies(int among, Mesh.Role role, float s, float chance, boolean any) {
        Tree tree = copies.tree;
        Lanes l = ray;
        boolean hit = false;
        int top = 0;
        upper[top] = 0;
        upperNear[top++] = 0;
        while (top > 0) {
            int node = upper[--top];
            if (upperNear[top] >= Float.floatToRawIntBits(t)) continue;
            if (node < 0) {
                int c = tree.original[~node], m = copies.mesh[c];
                if (!counts[among][m] || role != null && meshes[m].role() != role) continue;
                float[] b = copies.back(c, s, back);
                inner.ray(
                        b[0] * l.ox + b[1] * l.oy + b[2] * l.oz + b[3],
                        b[4] * l.ox + b[5] * l.oy + b[6] * l.oz + b[7],
                        b[8] * l.ox + b[9] * l.oy + b[10] * l.oz + b[11],
                        b[0] * l.dx + b[1] * l.dy + b[2] * l.dz,
                        b[4] * l.dx + b[5] * l.dy + b[6] * l.dz,
                        b[8] * l.dx + b[9] * l.dy + b[10] * l.dz);
                if (!any) hit |= nearest(inner, trees[m], m, copies.copy[c], s, chance);
                else if (any(inner, trees[m], m, copies.copy[c], s, chance)) return true;
                continue;
            }
            int bits = l.node(tree.box, 6 * Tree.WIDE * node, t), begins = top;
            while (bits != 0) {
                int i = Integer.numberOfTrailingZeros(bits), at = l.near[i], k = top++;
                bits &= bits - 1;
                while (k > begins && upperNear[k - 1] < at) {
                    upperNear[k] = upperNear[k - 1];
                    upper[k] = upper[k - 1];
                    k--;
                }
                upperNear[k] = at;
                upper[k] = tree.child[Tree.WIDE * node + i];
            }
        }
        return hit;
    }

    private boolean leaf(Lanes l, Tree tree, int block, int m, int c, float s, float chance) {
        int at = block * tree.stride;
        int bits = tree.stride == Tree.STILL ? l.leaf(tree.tri, at, t) : l.leafMoving(tree.tri, at, s, t);
        return bits != 0 && met(l, bits, tree, block, m, c, chance);
    }

    /** Those of a block that are met before anything else, and do not let the ray through. */
    private boolean met(Lanes l, int bits, Tree tree, int block, int m, int c, float chance) {
        boolean hit = false;
        for (; bits != 0; bits &= bits - 1) {
            int i = Integer.numberOfTrailingZeros(bits);
            if (l.t[i] >= t) continue;
            int tri = tree.original[Tree.BLOCK * block + i];
            if (clear[m]) {
                Material mat = meshes[m].material(tri, c);
                if (mat.seeThrough() && passes(meshes[m], mat, tri, l.u[i], l.v[i], layer(chance, m, c, tri))) continue;
            }
            t = l.t[i];
            mesh = m;
            copy = c;
            triangle = tri;
            b1 = l.u[i];
            b2 = l.v[i];
            hit = true;
        }
        return hit;
    }

    /**
     * A number of its own for each layer that a ray comes to, out of the ray's: layers let through one after the other,
     * and whatever else the ray's number decides, must not know of each other. {@link #NEVER} stays as it is.
     */
    private static float layer(float chance, int mesh, int copy, int triangle) {
        if (chance <= NEVER) return NEVER;
        int h = Sobol.hash(
                Float.floatToRawIntBits(chance) ^ Sobol.hash(triangle ^ Sobol.hash(mesh ^ copy * 0x9e3779b1)));
        return (h >>> 8) * 0x1p-24f;
    }

    private boolean passes(Mesh me, Material mat, int tri, float u, float w, float chance) {
        float clear = mat.layers().clear();
        Material.Pictures pictures = mat.layers().pictures();
        if (clear > 0 && pictures != null && pictures.clear() != null && me.uv() != null) {
            place.at(me, tri, u, w);
            place.read(pictures.clear(), texel);
            clear *= texel[0];
        }
        if (bends && mat.layers().glass() != null) return false;
        // An opaque material ignores its alpha (glTF 2.0); only what is clear lets rays through.
        if (!mat.blend() && mat.alphaCutoff() <= 0) return chance >= 0 && chance < clear;
        float alpha = mat.baseColor()[3];
        if (me.colour() != null)
            alpha *= (1 - u - w) * me.colour()[4 * me.index()[3 * tri] + 3]
                    + u * me.colour()[4 * me.index()[3 * tri + 1] + 3]
                    + w * me.colour()[4 * me.index()[3 * tri + 2] + 3];
        if (mat.baseTexture() != null) {
            place.at(me, tri, u, w);
            place.read(mat.baseTexture(), texel);
            alpha *= texel[3];
        }
        if (chance < 0) return mat.blend() ? alpha <= 0 : alpha < mat.alphaCutoff();
        return mat.blend() ? chance >= alpha * (1 - clear) : alpha < mat.alphaCutoff() || chance < clear;
    }
}

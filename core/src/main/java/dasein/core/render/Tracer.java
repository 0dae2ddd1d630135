package dasein.core.render;

import dasein.core.math.Sobol;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
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
    private static final int STACK = 96;
    /** The chance by which nothing that is seen at all lets a ray through. */
    static final float NEVER = -1;

    private final Mesh[] meshes;
    private final Bvh[] trees;
    private final CopyTree copies;
    private final boolean[][] counts;
    /** Whether the ray under way stops at bodies of glass. */
    private boolean bends;

    private boolean adds;
    private final int[] stack = new int[STACK];
    private final float[] stackNear = new float[STACK];
    /** Of the tree of copies, whose leaves are walked with the other. */
    private final int[] upper = new int[STACK];

    private final float[] upperNear = new float[STACK];
    private final float[] back = new float[12];
    private final float[] texel = new float[4];

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

    private Tracer(Mesh[] meshes, Bvh[] trees, CopyTree copies) {
        this.meshes = meshes;
        this.trees = trees;
        this.copies = copies;
        counts = new boolean[6][meshes.length];
        for (int m = 0; m < meshes.length; m++) {
            Mesh.Catch c = meshes[m].catches();
            Mesh.Shows w = meshes[m].shows();
            counts[ALL][m] = w.mirrored() && !w.added();
            counts[SEEN][m] = c == null ? w.camera() && !w.added() : c.shown();
            counts[HIDING][m] = c == null ? w.camera() && !w.added() : c.hide();
            counts[LIT][m] = c == null ? w.mirrored() && !w.added() : c.bounce();
            counts[SHADING][m] = w.shadow();
            counts[ADDED][m] = w.camera() && w.added();
            adds |= counts[ADDED][m];
        }
    }

    /** Trees by their triangles, for as long as somebody has these. */
    private static final Map<float[], Built> TREES = Collections.synchronizedMap(new WeakHashMap<>());

    /** @param close corners at the shutter's closing, null for what does not move: the tree depends on them too */
    private record Built(Bvh tree, float[] close, int[] index) {}

    public static Tracer of(List<Mesh> meshes) {
        Mesh[] m = meshes.toArray(Mesh[]::new);
        Bvh[] t = new Bvh[m.length];
        IntStream.range(0, m.length).parallel().forEach(i -> t[i] = tree(m[i]));
        return new Tracer(m, t, new CopyTree(m, t));
    }

    /** An array is equal to itself alone, so that places moved in it would not be seen: nobody does that. */
    private static Bvh tree(Mesh m) {
        Built b = TREES.get(m.position0());
        if (b != null && b.index == m.index() && b.close == (m.moves() ? m.position1() : null)) return b.tree;
        Bvh made = new Bvh(m);
        TREES.put(m.position0(), new Built(made, m.moves() ? m.position1() : null, m.index()));
        return made;
    }

    /** Another tracer over the same trees, for another thread. */
    public Tracer twin() {
        return new Tracer(meshes, trees, copies);
    }

    /**
     * What a ray may meet: all that mirrors show; what the camera sees; of that, what hides others; what gives light to
     * others; what keeps light away; what is added to the picture.
     */
    static final int ALL = 0, SEEN = 1, HIDING = 2, LIT = 3, SHADING = 4, ADDED = 5;

    /** Whether anything is added to the picture. */
    boolean adds() {
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
    boolean nearest(
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
        for (int m = 0; m < trees.length; m++)
            if (counts[among][m] && meshes[m].copies() == null) walk(m, 0, ox, oy, oz, dx, dy, dz, s, chance, false);
        if (!copies.none()) walkCopies(among, null, ox, oy, oz, dx, dy, dz, s, chance, false);
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
        for (int m = 0; m < trees.length; m++) {
            if (counts[SHADING][m]
                    && meshes[m].copies() == null
                    && (role == null || meshes[m].role() == role)
                    && walk(m, 0, ox, oy, oz, dx, dy, dz, s, chance, true)) return true;
        }
        return !copies.none() && walkCopies(SHADING, role, ox, oy, oz, dx, dy, dz, s, chance, true);
    }

    private boolean walk(
            int m,
            int c,
            float ox,
            float oy,
            float oz,
            float dx,
            float dy,
            float dz,
            float s,
            float chance,
            boolean any) {
        Bvh bvh = trees[m];
        float[] box = bvh.box;
        int[] child = bvh.child;
        float ix = 1 / dx, iy = 1 / dy, iz = 1 / dz;
        if (near(bvh.bounds, 0, ox, oy, oz, ix, iy, iz, t) >= t) return false;
        // Which of each min/max pair is met first: fixed by the sign of the direction.
        int nx = ix >= 0 ? 0 : 1, ny = iy >= 0 ? 2 : 3, nz = iz >= 0 ? 4 : 5, fx = nx ^ 1, fy = ny ^ 1, fz = nz ^ 1;
        int top = 0, node = 0;
        boolean hit = false;
        while (true) {
            int at = node * 12;
            float n0 = (box[at + nx] - ox) * ix, f0 = (box[at + fx] - ox) * ix, a, b;
            a = (box[at + ny] - oy) * iy;
            b = (box[at + fy] - oy) * iy;
            if (a > n0) n0 = a;
            if (b < f0) f0 = b;
            a = (box[at + nz] - oz) * iz;
            b = (box[at + fz] - oz) * iz;
            if (a > n0) n0 = a;
            if (b < f0) f0 = b;
            at += 6;
            float n1 = (box[at + nx] - ox) * ix, f1 = (box[at + fx] - ox) * ix;
            a = (box[at + ny] - oy) * iy;
            b = (box[at + fy] - oy) * iy;
            if (a > n1) n1 = a;
            if (b < f1) f1 = b;
            a = (box[at + nz] - oz) * iz;
            b = (box[at + fz] - oz) * iz;
            if (a > n1) n1 = a;
            if (b < f1) f1 = b;
            boolean h0 = n0 <= f0 && f0 >= 0 && n0 < t, h1 = n1 <= f1 && f1 >= 0 && n1 < t;
            int c0 = child[2 * node], c1 = child[2 * node + 1];
            if (h0 && c0 < 0) {
                if (leaf(m, c, bvh, ~c0, ox, oy, oz, dx, dy, dz, s, chance)) {
                    if (any) return true;
                    hit = true;
                }
                h0 = false;
            }
            if (h1 && c1 < 0) {
                if (n1 < t && leaf(m, c, bvh, ~c1, ox, oy, oz, dx, dy, dz, s, chance)) {
                    if (any) return true;
                    hit = true;
                }
                h1 = false;
            }
            if (h0 && h1) {
                if (n1 < n0) {
                    stack[top] = c0;
                    stackNear[top++] = n0;
                    node = c1;
                } else {
                    stack[top] = c1;
                    stackNear[top++] = n1;
                    node = c0;
                }
            } else if (h0) {
                node = c0;
            } else if (h1) {
                node = c1;
            } else {
                do {
                    if (top == 0) return hit;
                    node = stack[--top];
                } while (stackNear[top] >= t);
            }
        }
    }

    /** Their tree is small beside what hangs in it: it is walked plainly, the nearer child first. */
    private boolean walkCopies(
            int among,
            Mesh.Role role,
            float ox,
            float oy,
            float oz,
            float dx,
            float dy,
            float dz,
            float s,
            float chance,
            boolean any) {
        Bvh bvh = copies.tree;
        float ix = 1 / dx, iy = 1 / dy, iz = 1 / dz;
        boolean hit = false;
        int top = 0;
        upper[top] = 0;
        upperNear[top++] = 0;
        while (top > 0) {
            int node = upper[--top];
            if (upperNear[top] >= t) continue;
            if (node < 0) {
                int c = bvh.original[~node >>> 4], m = copies.mesh[c];
                if ((~node & 15) == 0 || !counts[among][m] || role != null && meshes[m].role() != role) continue;
                float[] b = copies.back(c, s, back);
                if (!walk(
                        m,
                        copies.copy[c],
                        b[0] * ox + b[1] * oy + b[2] * oz + b[3],
                        b[4] * ox + b[5] * oy + b[6] * oz + b[7],
                        b[8] * ox + b[9] * oy + b[10] * oz + b[11],
                        b[0] * dx + b[1] * dy + b[2] * dz,
                        b[4] * dx + b[5] * dy + b[6] * dz,
                        b[8] * dx + b[9] * dy + b[10] * dz,
                        s,
                        chance,
                        any)) continue;
                if (any) return true;
                hit = true;
                continue;
            }
            float near0 = near(bvh.box, 12 * node, ox, oy, oz, ix, iy, iz, t),
                    near1 = near(bvh.box, 12 * node + 6, ox, oy, oz, ix, iy, iz, t);
            // Pushed last is taken first.
            int far = near0 <= near1 ? 1 : 0;
            if ((far == 0 ? near0 : near1) < t) {
                upper[top] = bvh.child[2 * node + far];
                upperNear[top++] = far == 0 ? near0 : near1;
            }
            if ((far == 0 ? near1 : near0) < t) {
                upper[top] = bvh.child[2 * node + 1 - far];
                upperNear[top++] = far == 0 ? near1 : near0;
            }
        }
        return hit;
    }

    /** Where a box begins along a ray; infinite when it is missed or lies beyond {@code far}. */
    private static float near(
            float[] q, int at, float ox, float oy, float oz, float ix, float iy, float iz, float far) {
        float x0 = (q[at] - ox) * ix,
                x1 = (q[at + 1] - ox) * ix,
                y0 = (q[at + 2] - oy) * iy,
                y1 = (q[at + 3] - oy) * iy,
                z0 = (q[at + 4] - oz) * iz,
                z1 = (q[at + 5] - oz) * iz;
        float n = x0 < x1 ? x0 : x1, f = x0 < x1 ? x1 : x0, a = y0 < y1 ? y0 : y1, b = y0 < y1 ? y1 : y0;
        if (a > n) n = a;
        if (b < f) f = b;
        a = z0 < z1 ? z0 : z1;
        b = z0 < z1 ? z1 : z0;
        if (a > n) n = a;
        if (b < f) f = b;
        return f < 0 || n > f || n >= far ? Float.POSITIVE_INFINITY : n;
    }

    private boolean leaf(
            int m,
            int c,
            Bvh bvh,
            int code,
            float ox,
            float oy,
            float oz,
            float dx,
            float dy,
            float dz,
            float s,
            float chance) {
        int first = code >>> 4, end = first + (code & 15);
        float[] v = bvh.tri;
        boolean moving = bvh.triStride == 18, hit = false;
        for (int i = first; i < end; i++) {
            int p = i * bvh.triStride;
            float ax = v[p],
                    ay = v[p + 1],
                    az = v[p + 2],
                    ux = v[p + 3],
                    uy = v[p + 4],
                    uz = v[p + 5],
                    wx = v[p + 6],
                    wy = v[p + 7],
                    wz = v[p + 8];
            if (moving) {
                ax += s * (v[p + 9] - ax);
                ay += s * (v[p + 10] - ay);
                az += s * (v[p + 11] - az);
                ux += s * (v[p + 12] - ux);
                uy += s * (v[p + 13] - uy);
                uz += s * (v[p + 14] - uz);
                wx += s * (v[p + 15] - wx);
                wy += s * (v[p + 16] - wy);
                wz += s * (v[p + 17] - wz);
            }
            float px = dy * wz - dz * wy, py = dz * wx - dx * wz, pz = dx * wy - dy * wx;
            float det = ux * px + uy * py + uz * pz;
            if (det == 0) continue;
            float inv = 1 / det, tx = ox - ax, ty = oy - ay, tz = oz - az;
            float u = (tx * px + ty * py + tz * pz) * inv;
            if (u < 0 || u > 1) continue;
            float qx = ty * uz - tz * uy, qy = tz * ux - tx * uz, qz = tx * uy - ty * ux;
            float w = (dx * qx + dy * qy + dz * qz) * inv;
            if (w < 0 || u + w > 1) continue;
            float d = (wx * qx + wy * qy + wz * qz) * inv;
            if (d <= 0 || d >= t) continue;
            int tri = bvh.original[i];
            Material mat = meshes[m].material(tri, c);
            if (mat.seeThrough() && passes(meshes[m], mat, tri, u, w, layer(chance, m, c, tri))) continue;
            t = d;
            mesh = m;
            copy = c;
            triangle = tri;
            b1 = u;
            b2 = w;
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
        if (bends && mat.layers().glass() != null) return false;
        // An opaque material ignores its alpha (glTF 2.0); only what is clear lets rays through.
        if (!mat.blend() && mat.alphaCutoff() <= 0) return chance >= 0 && chance < clear;
        float alpha = mat.baseColor()[3];
        if (me.colour() != null)
            alpha *= (1 - u - w) * me.colour()[4 * me.index()[3 * tri] + 3]
                    + u * me.colour()[4 * me.index()[3 * tri + 1] + 3]
                    + w * me.colour()[4 * me.index()[3 * tri + 2] + 3];
        if (mat.baseTexture() != null) {
            int a = 2 * me.index()[3 * tri], b = 2 * me.index()[3 * tri + 1], c = 2 * me.index()[3 * tri + 2];
            float k = 1 - u - w;
            mat.baseTexture()
                    .sample(
                            k * me.uv()[a] + u * me.uv()[b] + w * me.uv()[c],
                            k * me.uv()[a + 1] + u * me.uv()[b + 1] + w * me.uv()[c + 1],
                            texel);
            alpha *= texel[3];
        }
        if (chance < 0) return mat.blend() ? alpha <= 0 : alpha < mat.alphaCutoff();
        return mat.blend() ? chance >= alpha * (1 - clear) : alpha < mat.alphaCutoff() || chance < clear;
    }
}

package dasein.core.render.ray;

import dasein.core.model.Mesh;

/**
 * All copies of all meshes under one tree: its leaves are copies, each with the map of its mesh. A ray is taken into
 * the mesh's own space, where lengths along it stay what they are since its direction is not made unit length.
 */
final class CopyTree {
    final Tree tree;
    /** Of each copy: which mesh, and which of its copies. */
    final int[] mesh, copy;
    /** Twelve numbers back into the mesh's space for each copy that does not move. */
    private final float[][] back;

    private final Mesh[] meshes;

    CopyTree(Mesh[] meshes, Tree[] trees, boolean vectors) {
        this.meshes = meshes;
        int n = 0;
        for (Mesh m : meshes) if (m.copies() != null) n += m.copies().count();
        mesh = new int[n];
        copy = new int[n];
        back = new float[n][];
        float[] lo = new float[3 * n], hi = new float[3 * n];
        int at = 0;
        for (int k = 0; k < meshes.length; k++) {
            Mesh.Copies c = meshes[k].copies();
            if (c == null) continue;
            for (int i = 0; i < c.count(); i++, at++) {
                mesh[at] = k;
                copy[at] = i;
                // Map and vertex both go evenly, so a point's way is a parabola; it stays within what both ends of the
                // map make of the whole box.
                for (int a = 0; a < 3; a++) {
                    lo[3 * at + a] = Math.min(
                            end(trees[k].bounds, c.open(), 12 * i + 4 * a, -1),
                            end(trees[k].bounds, c.close(), 12 * i + 4 * a, -1));
                    hi[3 * at + a] = Math.max(
                            end(trees[k].bounds, c.open(), 12 * i + 4 * a, 1),
                            end(trees[k].bounds, c.close(), 12 * i + 4 * a, 1));
                }
                if (c.open() == c.close()) inverse(c, i, 0, back[at] = new float[12]);
            }
        }
        tree = Tree.of(lo, hi, vectors);
    }

    boolean none() {
        return mesh.length == 0;
    }

    /** Lowest (side -1) or highest (1) that one row of a map makes of a box. */
    private static float end(float[] box, float[] m, int row, int side) {
        float v = m[row + 3];
        for (int a = 0; a < 3; a++)
            v += (m[row + a] >= 0) == (side > 0) ? m[row + a] * box[3 + a] : m[row + a] * box[a];
        return v;
    }

    /** The map back into the mesh's space at shutter time s; in {@code into} if it had to be worked out. */
    float[] back(int i, float s, float[] into) {
        if (back[i] != null) return back[i];
        inverse(meshes[mesh[i]].copies(), copy[i], s, into);
        return into;
    }

    private static void inverse(Mesh.Copies c, int i, float s, float[] out) {
        float[] p = c.open(), q = c.close();
        int o = 12 * i;
        float a = p[o] + s * (q[o] - p[o]),
                b = p[o + 1] + s * (q[o + 1] - p[o + 1]),
                d = p[o + 2] + s * (q[o + 2] - p[o + 2]),
                x = p[o + 3] + s * (q[o + 3] - p[o + 3]);
        float e = p[o + 4] + s * (q[o + 4] - p[o + 4]),
                f = p[o + 5] + s * (q[o + 5] - p[o + 5]),
                g = p[o + 6] + s * (q[o + 6] - p[o + 6]),
                y = p[o + 7] + s * (q[o + 7] - p[o + 7]);
        float h = p[o + 8] + s * (q[o + 8] - p[o + 8]),
                k = p[o + 9] + s * (q[o + 9] - p[o + 9]),
                l = p[o + 10] + s * (q[o + 10] - p[o + 10]),
                z = p[o + 11] + s * (q[o + 11] - p[o + 11]);
        float c0 = f * l - g * k, c1 = g * h - e * l, c2 = e * k - f * h, inv = 1 / (a * c0 + b * c1 + d * c2);
        out[0] = c0 * inv;
        out[1] = (d * k - b * l) * inv;
        out[2] = (b * g - d * f) * inv;
        out[4] = c1 * inv;
        out[5] = (a * l - d * h) * inv;
        out[6] = (d * e - a * g) * inv;
        out[8] = c2 * inv;
        out[9] = (b * h - a * k) * inv;
        out[10] = (a * f - b * e) * inv;
        for (int r = 0; r < 12; r += 4) out[r + 3] = -(out[r] * x + out[r + 1] * y + out[r + 2] * z);
    }
}

package dasein.core.model.file;

import dasein.core.model.Model;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** Gathers triangles of one material whose corners are given by separate numbers of place, texture place and normal. */
final class MeshBuilder {
    /** Place, texture place and normal of a corner, -1 for none. */
    private record Corner(int v, int t, int n) {}

    private final Map<Corner, Integer> known = new HashMap<>();
    private final List<Corner> corners = new ArrayList<>();
    private int[] index = new int[256];
    private int count;

    void add(int v, int t, int n) {
        Corner c = new Corner(v, t, n);
        Integer at = known.get(c);
        if (at == null) {
            at = corners.size();
            corners.add(c);
            known.put(c, at);
        }
        if (count == index.length) index = Arrays.copyOf(index, 2 * count);
        index[count++] = at;
    }

    boolean empty() {
        return count == 0;
    }

    /** Numbers of the places its vertices have. */
    int[] places() {
        return corners.stream().mapToInt(Corner::v).toArray();
    }

    /** @param smooth places without a normal get the mean of their faces' */
    Model.Part part(int node, int material, float[] xyz, float[] uv, float[] normal, boolean smooth) {
        int n = corners.size();
        float[] p = new float[3 * n], t = new float[2 * n], q = new float[3 * n];
        for (int i = 0; i < n; i++) {
            Corner c = corners.get(i);
            System.arraycopy(xyz, 3 * c.v, p, 3 * i, 3);
            if (c.t >= 0) System.arraycopy(uv, 2 * c.t, t, 2 * i, 2);
            if (c.n >= 0) System.arraycopy(normal, 3 * c.n, q, 3 * i, 3);
        }
        int[] tri = Arrays.copyOf(index, count);
        if (smooth && corners.stream().allMatch(c -> c.n < 0)) q = smooth(p, tri);
        else unit(q);
        return new Model.Part(
                node, -1, p, q, t, tri, material, new int[0], new float[0], new float[0][], new float[0][]);
    }

    private static void unit(float[] q) {
        for (int i = 0; i < q.length; i += 3) {
            float l = (float) Math.sqrt(q[i] * q[i] + q[i + 1] * q[i + 1] + q[i + 2] * q[i + 2]);
            if (l > 0) for (int k = 0; k < 3; k++) q[i + k] /= l;
        }
    }

    /** Normals of vertices: those of the faces about them, by their area. */
    static float[] smooth(float[] p, int[] tri) {
        float[] q = new float[p.length];
        for (int t = 0; t < tri.length; t += 3) {
            int a = 3 * tri[t], b = 3 * tri[t + 1], c = 3 * tri[t + 2];
            float ux = p[b] - p[a],
                    uy = p[b + 1] - p[a + 1],
                    uz = p[b + 2] - p[a + 2],
                    vx = p[c] - p[a],
                    vy = p[c + 1] - p[a + 1],
                    vz = p[c + 2] - p[a + 2];
            float x = uy * vz - uz * vy, y = uz * vx - ux * vz, z = ux * vy - uy * vx;
            for (int k : new int[] {a, b, c}) {
                q[k] += x;
                q[k + 1] += y;
                q[k + 2] += z;
            }
        }
        unit(q);
        return q;
    }
}

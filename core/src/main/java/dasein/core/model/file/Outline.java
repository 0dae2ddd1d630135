package dasein.core.model.file;

import java.util.ArrayList;
import java.util.List;

/** Cuts flat outlines into triangles. */
final class Outline {
    private Outline() {}

    /**
     * By cutting off ears (Meisters 1975), so that hollow outlines come out right, too.
     *
     * @param xyz places, three numbers each; @param corners of the outline, in order
     * @return three of the corners' places in {@code corners} for each triangle
     */
    static int[] triangles(float[] xyz, int[] corners) {
        int n = corners.length;
        if (n == 3) return new int[] {0, 1, 2};
        // The outline's normal by Newell's method; it is looked at along the axis that it faces most.
        double nx = 0, ny = 0, nz = 0;
        for (int i = 0; i < n; i++) {
            int a = 3 * corners[i], b = 3 * corners[(i + 1) % n];
            nx += (double) (xyz[a + 1] - xyz[b + 1]) * (xyz[a + 2] + xyz[b + 2]);
            ny += (double) (xyz[a + 2] - xyz[b + 2]) * (xyz[a] + xyz[b]);
            nz += (double) (xyz[a] - xyz[b]) * (xyz[a + 1] + xyz[b + 1]);
        }
        int u = 0, v = 1;
        double sign = nz;
        if (Math.abs(nx) >= Math.abs(ny) && Math.abs(nx) >= Math.abs(nz)) {
            u = 1;
            v = 2;
            sign = nx;
        } else if (Math.abs(ny) >= Math.abs(nz)) {
            u = 2;
            v = 0;
            sign = ny;
        }
        List<Integer> left = new ArrayList<>();
        for (int i = 0; i < n; i++) left.add(i);
        int[] out = new int[3 * (n - 2)];
        int k = 0;
        while (left.size() > 3) {
            int m = left.size(), ear = -1;
            for (int i = 0; i < m && ear < 0; i++) if (ear(xyz, corners, left, i, u, v, sign)) ear = i;
            // An outline that crosses itself has no ears; it is fanned out from where it stands.
            if (ear < 0) ear = 0;
            out[k++] = left.get((ear + m - 1) % m);
            out[k++] = left.get(ear);
            out[k++] = left.get((ear + 1) % m);
            left.remove(ear);
        }
        for (int i : left) out[k++] = i;
        return out;
    }

    private static boolean ear(float[] xyz, int[] corners, List<Integer> left, int i, int u, int v, double sign) {
        int m = left.size(),
                a = 3 * corners[left.get((i + m - 1) % m)],
                b = 3 * corners[left.get(i)],
                c = 3 * corners[left.get((i + 1) % m)];
        if (area(xyz, a, b, c, u, v) * sign <= 0) return false;
        for (int j = 0; j < m; j++) {
            int p = 3 * corners[left.get(j)];
            if (p == a || p == b || p == c) continue;
            if (area(xyz, a, b, p, u, v) * sign >= 0
                    && area(xyz, b, c, p, u, v) * sign >= 0
                    && area(xyz, c, a, p, u, v) * sign >= 0) return false;
        }
        return true;
    }

    private static double area(float[] xyz, int a, int b, int c, int u, int v) {
        return (double) (xyz[b + u] - xyz[a + u]) * (xyz[c + v] - xyz[a + v])
                - (double) (xyz[b + v] - xyz[a + v]) * (xyz[c + u] - xyz[a + u]);
    }
}

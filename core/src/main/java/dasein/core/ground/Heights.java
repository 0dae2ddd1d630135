package dasein.core.ground;

import java.util.ArrayList;
import java.util.List;

/** What lies under a place: triangles sorted into squares seen from above. */
public final class Heights {
    private static final int MOST_SQUARES = 256;

    private final List<int[]> squares = new ArrayList<>();
    private final float[] xyz;
    private double x0 = Double.MAX_VALUE, z0 = Double.MAX_VALUE, size = 1;
    private int wide, deep;

    public Heights(List<Shape> shapes) {
        int n = shapes.stream().mapToInt(s -> s.index().length).sum(), k = 0;
        xyz = new float[3 * n];
        for (Shape s : shapes) for (int i : s.index()) for (int a = 0; a < 3; a++) xyz[k++] = s.xyz()[3 * i + a];
        if (n == 0) return;
        double x1 = -Double.MAX_VALUE, z1 = -Double.MAX_VALUE;
        for (int i = 0; i < xyz.length; i += 3) {
            x0 = Math.min(x0, xyz[i]);
            x1 = Math.max(x1, xyz[i]);
            z0 = Math.min(z0, xyz[i + 2]);
            z1 = Math.max(z1, xyz[i + 2]);
        }
        int side = (int) Math.max(1, Math.min(MOST_SQUARES, Math.sqrt(n / 3.0)));
        size = Math.max(1e-6, Math.max(x1 - x0, z1 - z0) / side);
        wide = (int) ((x1 - x0) / size) + 1;
        deep = (int) ((z1 - z0) / size) + 1;
        List<List<Integer>> fill = new ArrayList<>();
        for (int i = 0; i < wide * deep; i++) fill.add(new ArrayList<>());
        for (int t = 0; t < xyz.length; t += 9) {
            int a = column(Math.min(xyz[t], Math.min(xyz[t + 3], xyz[t + 6]))),
                    b = column(Math.max(xyz[t], Math.max(xyz[t + 3], xyz[t + 6])));
            int c = row(Math.min(xyz[t + 2], Math.min(xyz[t + 5], xyz[t + 8]))),
                    d = row(Math.max(xyz[t + 2], Math.max(xyz[t + 5], xyz[t + 8])));
            for (int j = c; j <= d; j++)
                for (int i = a; i <= b; i++) fill.get(j * wide + i).add(t);
        }
        for (List<Integer> f : fill) squares.add(f.stream().mapToInt(i -> i).toArray());
    }

    private int column(double x) {
        return Math.max(0, Math.min(wide - 1, (int) ((x - x0) / size)));
    }

    private int row(double z) {
        return Math.max(0, Math.min(deep - 1, (int) ((z - z0) / size)));
    }

    /** The highest under a place that does not lie above {@code under}; negative infinity for none. */
    public double under(double x, double z, double under) {
        if (squares.isEmpty() || x < x0 || z < z0 || x > x0 + wide * size || z > z0 + deep * size)
            return Double.NEGATIVE_INFINITY;
        double best = Double.NEGATIVE_INFINITY;
        for (int t : squares.get(row(z) * wide + column(x))) {
            double ax = xyz[t],
                    az = xyz[t + 2],
                    bx = xyz[t + 3] - ax,
                    bz = xyz[t + 5] - az,
                    cx = xyz[t + 6] - ax,
                    cz = xyz[t + 8] - az,
                    det = bx * cz - bz * cx;
            if (Math.abs(det) < 1e-14) continue;
            double px = x - ax, pz = z - az, u = (px * cz - pz * cx) / det, v = (bx * pz - bz * px) / det;
            if (u < -1e-9 || v < -1e-9 || u + v > 1 + 1e-9) continue;
            double y = xyz[t + 1] + u * (xyz[t + 4] - xyz[t + 1]) + v * (xyz[t + 7] - xyz[t + 1]);
            if (y <= under) best = Math.max(best, y);
        }
        return best;
    }
}

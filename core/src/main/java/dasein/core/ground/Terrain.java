package dasein.core.ground;

import dasein.core.math.Vec3;
import java.util.Arrays;
import java.util.List;

/**
 * The ground through solved points: a surface over a grid that lies near the points below and bends as little as may be
 * (a thin plate, Terzopoulos 1986), without holes. Points that do not belong, as those on walls, lose their weight step
 * by step (graduated non-convexity, Geman-McClure), beginning from the flat ground.
 */
public final class Terrain {
    private static final int MOST_CELLS = 64, ROUNDS = 8, STEPS = 300;
    /** How stiff: weight of a cell's bending against one point. */
    private static final double STIFF = 0.15;

    private Terrain() {}

    /**
     * @param points in the set's frame; @param piece says where it lies and how wide and deep it is; its heading is not
     *     used
     */
    public static Shape through(List<Vec3> points, Piece piece) {
        double w = Math.max(piece.width(), 1e-3),
                d = Math.max(piece.depth(), 1e-3),
                x0 = piece.x() - w / 2,
                z0 = piece.z() - d / 2;
        List<Vec3> in = points.stream()
                .filter(p -> p.x() >= x0 && p.z() >= z0 && p.x() <= x0 + w && p.z() <= z0 + d)
                .toList();
        // About four points a cell, so that it follows them without their noise.
        double cell = Math.max(Math.sqrt(w * d / Math.max(4, in.size() / 4.0)), Math.max(w, d) / MOST_CELLS);
        int nx = Math.max(2, (int) Math.round(w / cell)) + 1,
                nz = Math.max(2, (int) Math.round(d / cell)) + 1,
                n = nx * nz;
        int[] at = new int[in.size()];
        double[] fx = new double[in.size()],
                fz = new double[in.size()],
                y = new double[in.size()],
                weight = new double[in.size()];
        for (int i = 0; i < at.length; i++) {
            double u = (in.get(i).x() - x0) / w * (nx - 1), v = (in.get(i).z() - z0) / d * (nz - 1);
            int cu = Math.min((int) u, nx - 2), cv = Math.min((int) v, nz - 2);
            at[i] = cv * nx + cu;
            fx[i] = u - cu;
            fz[i] = v - cv;
            y[i] = in.get(i).y();
        }
        double[] h = new double[n];
        Arrays.fill(h, piece.y());
        double wide = 0.05 * Math.max(w, d);
        for (int round = 0; round < ROUNDS; round++) {
            double[] off = new double[at.length];
            for (int i = 0; i < off.length; i++) off[i] = Math.abs(height(h, nx, at[i], fx[i], fz[i]) - y[i]);
            double[] sorted = Arrays.stream(off).sorted().toArray();
            double noise =
                    sorted.length == 0 ? 1 : Math.max(3 * 1.4826 * sorted[sorted.length / 3], 1e-4 * Math.max(w, d));
            double scale = Math.max(noise, wide * Math.pow(0.5, round));
            for (int i = 0; i < off.length; i++) weight[i] = 1 / Math.pow(1 + off[i] * off[i] / (scale * scale), 2);
            solve(h, nx, nz, at, fx, fz, y, weight, piece.y());
        }
        return shape(h, nx, nz, x0, z0, w, d);
    }

    private static double height(double[] h, int nx, int at, double u, double v) {
        return (1 - v) * ((1 - u) * h[at] + u * h[at + 1]) + v * ((1 - u) * h[at + nx] + u * h[at + nx + 1]);
    }

    /**
     * Conjugate gradients on the normal equations; the level holds far parts weakly, so that no points mean flat
     * ground.
     */
    private static void solve(
            double[] h, int nx, int nz, int[] at, double[] fx, double[] fz, double[] y, double[] weight, double level) {
        int n = h.length;
        double[] b = new double[n], r = new double[n], p = new double[n], q = new double[n];
        for (int i = 0; i < at.length; i++) spread(b, nx, at[i], fx[i], fz[i], weight[i] * y[i]);
        double hold = 1e-6;
        for (int i = 0; i < n; i++) b[i] += hold * level;
        apply(h, q, nx, nz, at, fx, fz, weight, hold);
        double rr = 0, first = 0;
        for (int i = 0; i < n; i++) {
            p[i] = r[i] = b[i] - q[i];
            rr += r[i] * r[i];
            first += b[i] * b[i];
        }
        for (int step = 0; step < STEPS && rr > 1e-16 * (first + 1e-12); step++) {
            apply(p, q, nx, nz, at, fx, fz, weight, hold);
            double pq = 0;
            for (int i = 0; i < n; i++) pq += p[i] * q[i];
            double a = rr / pq, next = 0;
            for (int i = 0; i < n; i++) {
                h[i] += a * p[i];
                r[i] -= a * q[i];
                next += r[i] * r[i];
            }
            for (int i = 0; i < n; i++) p[i] = r[i] + next / rr * p[i];
            rr = next;
        }
    }

    private static void spread(double[] to, int nx, int at, double u, double v, double value) {
        to[at] += (1 - u) * (1 - v) * value;
        to[at + 1] += u * (1 - v) * value;
        to[at + nx] += (1 - u) * v * value;
        to[at + nx + 1] += u * v * value;
    }

    private static void apply(
            double[] h,
            double[] out,
            int nx,
            int nz,
            int[] at,
            double[] fx,
            double[] fz,
            double[] weight,
            double hold) {
        for (int i = 0; i < h.length; i++) out[i] = hold * h[i];
        for (int i = 0; i < at.length; i++)
            spread(out, nx, at[i], fx[i], fz[i], weight[i] * height(h, nx, at[i], fx[i], fz[i]));
        for (int z = 0; z < nz; z++) for (int x = 1; x + 1 < nx; x++) bend(h, out, z * nx + x, 1);
        for (int z = 1; z + 1 < nz; z++) for (int x = 0; x < nx; x++) bend(h, out, z * nx + x, nx);
        for (int z = 0; z + 1 < nz; z++) {
            for (int x = 0; x + 1 < nx; x++) {
                int k = z * nx + x;
                double twist = 2 * STIFF * (h[k] - h[k + 1] - h[k + nx] + h[k + nx + 1]);
                out[k] += twist;
                out[k + 1] -= twist;
                out[k + nx] -= twist;
                out[k + nx + 1] += twist;
            }
        }
    }

    private static void bend(double[] h, double[] out, int k, int step) {
        double v = STIFF * (h[k - step] - 2 * h[k] + h[k + step]);
        out[k - step] += v;
        out[k] -= 2 * v;
        out[k + step] += v;
    }

    private static Shape shape(double[] h, int nx, int nz, double x0, double z0, double w, double d) {
        float[] xyz = new float[3 * nx * nz];
        int[] index = new int[6 * (nx - 1) * (nz - 1)];
        for (int z = 0, k = 0; z < nz; z++) {
            for (int x = 0; x < nx; x++, k += 3) {
                xyz[k] = (float) (x0 + w * x / (nx - 1));
                xyz[k + 1] = (float) h[z * nx + x];
                xyz[k + 2] = (float) (z0 + d * z / (nz - 1));
            }
        }
        for (int z = 0, t = 0; z + 1 < nz; z++) {
            for (int x = 0; x + 1 < nx; x++) {
                int a = z * nx + x;
                for (int v : new int[] {a, a + nx, a + 1, a + 1, a + nx, a + nx + 1}) index[t++] = v;
            }
        }
        return new Shape(xyz, index);
    }
}

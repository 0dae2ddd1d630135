package dasein.core.solve;

import java.util.List;
import org.ejml.simple.SimpleMatrix;
import org.ejml.simple.SimpleSVD;

/**
 * What a camera that only turned leaves between two frames: the map K R K^-1 with one focal length for the whole shot,
 * fitted to the rays (Kabsch 1976), re-weighted towards the smaller residuals. A plane that a moving camera sees is
 * mapped by any plane-to-plane map, by this one it is not: that tells the two apart.
 */
final class Turning {
    private static final int REWEIGHTINGS = 5, FINER = 5;
    /** Focal lengths tried, in picture widths. */
    private static final double[] FAN = {0.4, 0.55, 0.75, 1, 1.4, 2, 2.8, 4, 6, 9};

    private static final int MOST_PAIRS = 8;

    private Turning() {}

    /** Median over pairs of what the best of all focal lengths leaves at the median mark, and that focal length. */
    record Best(double leftPx, double focalPx) {}

    /** @param pairs of places in two frames, pixels; @param focal known, or 0 */
    static Best best(List<double[][][]> pairs, double focal, int width, int height) {
        int step = Math.max(1, pairs.size() / MOST_PAIRS);
        List<double[][][]> some = java.util.stream.IntStream.range(0, pairs.size())
                .filter(i -> i % step == 0)
                .mapToObj(pairs::get)
                .toList();
        if (focal > 0) return new Best(left(some, focal, width, height), focal);
        double least = Double.MAX_VALUE, at = width;
        for (double k : FAN) {
            double left = left(some, k * width, width, height);
            if (left >= least) continue;
            least = left;
            at = k * width;
        }
        double by = 1.18;
        for (int round = 0; round < FINER; round++, by = Math.sqrt(by))
            for (double f : new double[] {at / by, at * by}) {
                double left = left(some, f, width, height);
                if (left >= least) continue;
                least = left;
                at = f;
            }
        return new Best(least, at);
    }

    private static double left(List<double[][][]> pairs, double focal, int width, int height) {
        return Homography.median(pairs.parallelStream()
                .mapToDouble(p -> Homography.median(left(p[0], p[1], focal, width, height)))
                .toArray());
    }

    /** At every mark of two frames, pixels. */
    static double[] left(double[][] a, double[][] b, double focal, int width, int height) {
        int n = a.length;
        double[][] u = rays(a, focal, width, height), v = rays(b, focal, width, height);
        double[] w = new double[n], left = new double[n];
        java.util.Arrays.fill(w, 1);
        for (int round = 0; round < REWEIGHTINGS; round++) {
            SimpleMatrix h = new SimpleMatrix(3, 3);
            for (int i = 0; i < n; i++)
                for (int r = 0; r < 3; r++)
                    for (int c = 0; c < 3; c++) h.set(r, c, h.get(r, c) + w[i] * v[i][r] * u[i][c]);
            SimpleSVD<SimpleMatrix> svd = h.svd();
            double det = svd.getU().determinant() * svd.getV().determinant();
            SimpleMatrix turn = svd.getU()
                    .mult(SimpleMatrix.diag(1, 1, det < 0 ? -1 : 1))
                    .mult(svd.getV().transpose());
            for (int i = 0; i < n; i++) {
                double x = turn.get(0, 0) * u[i][0] + turn.get(0, 1) * u[i][1] + turn.get(0, 2) * u[i][2],
                        y = turn.get(1, 0) * u[i][0] + turn.get(1, 1) * u[i][1] + turn.get(1, 2) * u[i][2],
                        z = turn.get(2, 0) * u[i][0] + turn.get(2, 1) * u[i][1] + turn.get(2, 2) * u[i][2];
                left[i] = z > 1e-6
                        ? Math.hypot(width / 2.0 + focal * x / z - b[i][0], height / 2.0 + focal * y / z - b[i][1])
                        : width;
            }
            double m = Homography.median(left);
            for (int i = 0; i < n; i++) w[i] = 1 / (1 + left[i] * left[i] / (m * m + 1e-6));
        }
        return left;
    }

    private static double[][] rays(double[][] p, double focal, int width, int height) {
        double[][] out = new double[p.length][];
        for (int i = 0; i < out.length; i++) {
            double x = (p[i][0] - width / 2.0) / focal,
                    y = (p[i][1] - height / 2.0) / focal,
                    l = Math.sqrt(x * x + y * y + 1);
            out[i] = new double[] {x / l, y / l, 1 / l};
        }
        return out;
    }
}

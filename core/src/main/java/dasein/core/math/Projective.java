package dasein.core.math;

import org.ejml.simple.SimpleMatrix;
import org.ejml.simple.SimpleSVD;

/**
 * A map of one plane onto another that keeps lines straight: {@code (u, v, 1) ~ H (x, y, 1)}.
 *
 * @param h row-major 3x3, of any scale
 */
public record Projective(double[] h) {
    /**
     * Fitted to four or more pairs, in the least-squares sense of the direct linear transform with normalised
     * coordinates (Hartley and Zisserman, algorithm 4.2).
     *
     * @param from, to pairs of x, y
     * @return null where the points do not hold it (three of four on a line)
     */
    public static Projective of(double[][] from, double[][] to) {
        if (from.length < 4) return null;
        SimpleMatrix nf = normaliser(from), nt = normaliser(to), a = new SimpleMatrix(Math.max(9, 2 * from.length), 9);
        for (int i = 0; i < from.length; i++) {
            double x = from[i][0] * nf.get(0, 0) + nf.get(0, 2), y = from[i][1] * nf.get(1, 1) + nf.get(1, 2);
            double u = to[i][0] * nt.get(0, 0) + nt.get(0, 2), v = to[i][1] * nt.get(1, 1) + nt.get(1, 2);
            a.setRow(2 * i, 0, -x, -y, -1, 0, 0, 0, u * x, u * y, u);
            a.setRow(2 * i + 1, 0, 0, 0, 0, -x, -y, -1, v * x, v * y, v);
        }
        SimpleSVD<SimpleMatrix> svd = a.svd();
        double[] s = svd.getSingularValues();
        // Two vanishing values: more than one map fits.
        if (!(s[7] > 1e-9 * s[0])) return null;
        SimpleMatrix h = svd.getV().extractVector(false, 8);
        h.reshape(3, 3);
        h = nt.invert().mult(h).mult(nf);
        double[] out = new double[9];
        for (int i = 0; i < 9; i++) out[i] = h.get(i / 3, i % 3);
        for (double v : out) if (!Double.isFinite(v)) return null;
        return new Projective(out);
    }

    private static SimpleMatrix normaliser(double[][] p) {
        double x = 0, y = 0, d = 0;
        for (double[] q : p) {
            x += q[0] / p.length;
            y += q[1] / p.length;
        }
        for (double[] q : p) d += Math.hypot(q[0] - x, q[1] - y) / p.length;
        double k = Math.sqrt(2) / Math.max(d, 1e-12);
        return new SimpleMatrix(new double[][] {{k, 0, -k * x}, {0, k, -k * y}, {0, 0, 1}});
    }

    public double[] at(double x, double y) {
        double w = h[6] * x + h[7] * y + h[8];
        return new double[] {(h[0] * x + h[1] * y + h[2]) / w, (h[3] * x + h[4] * y + h[5]) / w};
    }

    public Projective inverse() {
        SimpleMatrix i = new SimpleMatrix(3, 3, true, h).invert();
        double[] out = new double[9];
        for (int k = 0; k < 9; k++) out[k] = i.get(k / 3, k % 3);
        return new Projective(out);
    }
}

package dasein.core.solve;

import java.util.ArrayList;
import java.util.List;
import org.ejml.data.Complex_F64;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.CommonOps_DDRM;
import org.ejml.dense.row.factory.DecompositionFactory_DDRM;
import org.ejml.interfaces.decomposition.EigenDecomposition_F64;
import org.ejml.interfaces.decomposition.SingularValueDecomposition_F64;

/**
 * Essential matrices through five pairs of normalised points (Nistér 2004, solved by the action matrix of Stewénius et
 * al. 2006).
 */
final class FivePoint {
    /** Exponents of x, y, z of the 20 cubic monomials; the last ten are the quotient ring's basis. */
    private static final int[][] CUBIC = {
        {3, 0, 0}, {2, 1, 0}, {1, 2, 0}, {0, 3, 0}, {2, 0, 1}, {1, 1, 1}, {0, 2, 1}, {1, 0, 2}, {0, 1, 2}, {0, 0, 3},
        {2, 0, 0}, {1, 1, 0}, {0, 2, 0}, {1, 0, 1}, {0, 1, 1}, {0, 0, 2}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}, {0, 0, 0}
    };

    private static final int[][] LINEAR = {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}, {0, 0, 0}};
    private static final int[][] LL = new int[4][4];
    private static final int[][] QL = new int[10][4];

    static {
        for (int i = 0; i < 4; i++) for (int j = 0; j < 4; j++) LL[i][j] = find(LINEAR[i], LINEAR[j]) - 10;
        for (int i = 0; i < 10; i++) for (int j = 0; j < 4; j++) QL[i][j] = find(CUBIC[10 + i], LINEAR[j]);
    }

    private FivePoint() {}

    private static int find(int[] a, int[] b) {
        for (int k = 0; k < 20; k++)
            if (CUBIC[k][0] == a[0] + b[0] && CUBIC[k][1] == a[1] + b[1] && CUBIC[k][2] == a[2] + b[2]) return k;
        throw new IllegalStateException();
    }

    /**
     * @param a five (or more) points {x, y} in the first view, b in the second. @return row-major matrices with b' E a
     *     = 0; empty when degenerate
     */
    static List<double[]> solve(double[][] a, double[][] b) {
        DMatrixRMaj m = new DMatrixRMaj(Math.max(9, a.length), 9);
        for (int i = 0; i < a.length; i++) {
            double x = a[i][0], y = a[i][1], u = b[i][0], v = b[i][1];
            double[] r = {u * x, u * y, u, v * x, v * y, v, x, y, 1};
            for (int k = 0; k < 9; k++) m.set(i, k, r[k]);
        }
        SingularValueDecomposition_F64<DMatrixRMaj> svd =
                DecompositionFactory_DDRM.svd(m.numRows, 9, false, true, false);
        List<double[]> out = new ArrayList<>();
        if (!svd.decompose(m)) return out;
        DMatrixRMaj vt = svd.getV(null, true);
        double[] w = svd.getSingularValues();
        Integer[] order = new Integer[9];
        for (int i = 0; i < 9; i++) order[i] = i;
        java.util.Arrays.sort(order, (p, q) -> Double.compare(w[q], w[p]));
        double[][][] e = new double[3][3][4];
        for (int k = 0; k < 4; k++) for (int i = 0; i < 9; i++) e[i / 3][i % 3][k] = vt.get(order[5 + k], i);
        DMatrixRMaj c = constraints(e);
        DMatrixRMaj left = new DMatrixRMaj(10, 10), right = new DMatrixRMaj(10, 10), g = new DMatrixRMaj(10, 10);
        CommonOps_DDRM.extract(c, 0, 10, 0, 10, left, 0, 0);
        CommonOps_DDRM.extract(c, 0, 10, 10, 20, right, 0, 0);
        if (!CommonOps_DDRM.solve(left, right, g)) return out;
        DMatrixRMaj action = new DMatrixRMaj(10, 10);
        int[] from = {0, 1, 2, 4, 5, 7};
        for (int i = 0; i < 6; i++) for (int j = 0; j < 10; j++) action.set(i, j, -g.get(from[i], j));
        action.set(6, 0, 1);
        action.set(7, 1, 1);
        action.set(8, 3, 1);
        action.set(9, 6, 1);
        EigenDecomposition_F64<DMatrixRMaj> eig = DecompositionFactory_DDRM.eig(10, true);
        if (!eig.decompose(action)) return out;
        for (int i = 0; i < 10; i++) {
            Complex_F64 v = eig.getEigenvalue(i);
            if (Math.abs(v.imaginary) > 1e-9) continue;
            DMatrixRMaj vec = eig.getEigenVector(i);
            if (vec == null || Math.abs(vec.get(9)) < 1e-12) continue;
            double x = vec.get(6) / vec.get(9), y = vec.get(7) / vec.get(9), z = vec.get(8) / vec.get(9);
            double[] em = new double[9];
            double n = 0;
            for (int k = 0; k < 9; k++) {
                double[] f = e[k / 3][k % 3];
                em[k] = x * f[0] + y * f[1] + z * f[2] + f[3];
                n += em[k] * em[k];
            }
            n = Math.sqrt(n);
            for (int k = 0; k < 9; k++) em[k] /= n;
            out.add(em);
        }
        return out;
    }

    /** 2 E E' E - trace(E E') E = 0 and det E = 0, ten cubic equations in x, y, z. */
    private static DMatrixRMaj constraints(double[][][] e) {
        double[][][] eet = new double[3][3][];
        for (int i = 0; i < 3; i++) {
            for (int j = 0; j < 3; j++) {
                double[] q = new double[10];
                for (int k = 0; k < 3; k++) multiply(e[i][k], e[j][k], q, 1);
                eet[i][j] = q;
            }
        }
        double[] trace = new double[10];
        for (int i = 0; i < 3; i++) for (int k = 0; k < 10; k++) trace[k] += eet[i][i][k];
        for (int i = 0; i < 3; i++) for (int k = 0; k < 10; k++) eet[i][i][k] -= 0.5 * trace[k];
        DMatrixRMaj m = new DMatrixRMaj(10, 20);
        for (int i = 0; i < 3; i++) {
            for (int j = 0; j < 3; j++) {
                double[] row = new double[20];
                for (int k = 0; k < 3; k++) raise(eet[i][k], e[k][j], row, 1);
                for (int k = 0; k < 20; k++) m.set(i * 3 + j, k, row[k]);
            }
        }
        double[] det = new double[20];
        int[][] cyc = {{0, 1, 2}, {1, 2, 0}, {2, 0, 1}};
        for (int[] p : cyc) {
            double[] q = new double[10];
            multiply(e[1][p[1]], e[2][p[2]], q, 1);
            multiply(e[1][p[2]], e[2][p[1]], q, -1);
            raise(q, e[0][p[0]], det, 1);
        }
        for (int k = 0; k < 20; k++) m.set(9, k, det[k]);
        return m;
    }

    private static void multiply(double[] a, double[] b, double[] out, double s) {
        for (int i = 0; i < 4; i++) for (int j = 0; j < 4; j++) out[LL[i][j]] += s * a[i] * b[j];
    }

    private static void raise(double[] q, double[] l, double[] out, double s) {
        for (int i = 0; i < 10; i++) for (int j = 0; j < 4; j++) out[QL[i][j]] += s * q[i] * l[j];
    }
}

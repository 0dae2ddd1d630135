package dasein.core.solve;

import org.ejml.data.Complex_F64;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.factory.DecompositionFactory_DDRM;
import org.ejml.interfaces.decomposition.EigenDecomposition_F64;

/** Real roots by the eigenvalues of the companion matrix, polished by Newton steps. */
final class Polynomials {
    private Polynomials() {}

    /**
     * Real roots of c[0] + c[1] x + ... ; leading zeros are dropped. Roots with a small imaginary part count as real
     * (double roots).
     */
    static double[] realRoots(double... c) {
        int n = c.length - 1;
        double big = 0;
        for (double v : c) big = Math.max(big, Math.abs(v));
        while (n > 0 && Math.abs(c[n]) < 1e-14 * big) n--;
        if (n == 0) return new double[0];
        DMatrixRMaj m = new DMatrixRMaj(n, n);
        for (int i = 0; i < n; i++) {
            m.set(i, n - 1, -c[i] / c[n]);
            if (i > 0) m.set(i, i - 1, 1);
        }
        EigenDecomposition_F64<DMatrixRMaj> eig = DecompositionFactory_DDRM.eig(n, false);
        if (!eig.decompose(m)) return new double[0];
        double[] out = new double[n];
        int k = 0;
        for (int i = 0; i < n; i++) {
            Complex_F64 e = eig.getEigenvalue(i);
            if (Math.abs(e.imaginary) > 1e-4 * (1 + Math.abs(e.real))) continue;
            double x = e.real;
            for (int s = 0; s < 3; s++) {
                double f = 0, d = 0;
                for (int j = n; j >= 0; j--) {
                    d = d * x + f;
                    f = f * x + c[j];
                }
                if (Math.abs(d) < 1e-300) break;
                x -= f / d;
            }
            out[k++] = x;
        }
        return java.util.Arrays.copyOf(out, k);
    }
}

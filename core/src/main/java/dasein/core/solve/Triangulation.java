package dasein.core.solve;

import java.util.List;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.factory.DecompositionFactory_DDRM;
import org.ejml.interfaces.decomposition.EigenDecomposition_F64;

/** Points from two or more views. */
final class Triangulation {
    private Triangulation() {}

    /**
     * Linear homogeneous point (unit 4-vector) from cameras and undistorted normalised {x, y}; null when the equations
     * say nothing.
     */
    static double[] linear(List<Rigid> cams, List<double[]> obs) {
        double[] ata = new double[16];
        for (int i = 0; i < cams.size(); i++) {
            double[] r = cams.get(i).r, c = cams.get(i).c;
            for (int k = 0; k < 2; k++) {
                double q = obs.get(i)[k];
                double a = q * r[6] - r[3 * k], b = q * r[7] - r[3 * k + 1], d = q * r[8] - r[3 * k + 2];
                double[] row = {a, b, d, -(a * c[0] + b * c[1] + d * c[2])};
                for (int u = 0; u < 4; u++) for (int v = 0; v < 4; v++) ata[4 * u + v] += row[u] * row[v];
            }
        }
        EigenDecomposition_F64<DMatrixRMaj> eig = DecompositionFactory_DDRM.eig(4, true, true);
        if (!eig.decompose(new DMatrixRMaj(4, 4, true, ata))) return null;
        int best = 0;
        for (int i = 1; i < 4; i++) if (eig.getEigenvalue(i).real < eig.getEigenvalue(best).real) best = i;
        DMatrixRMaj v = eig.getEigenVector(best);
        if (v == null) return null;
        double[] p = {v.get(0), v.get(1), v.get(2), v.get(3)};
        // The sign that puts it in front of the first camera.
        if (cams.get(0).toCamera(p)[2] < 0) for (int i = 0; i < 4; i++) p[i] = -p[i];
        return p;
    }

    /** Largest angle (radians) between the rays of a point. */
    static double angle(List<Rigid> cams, double[] p) {
        double best = 0;
        double[][] d = new double[cams.size()][];
        for (int i = 0; i < d.length; i++) {
            double[] c = cams.get(i).c;
            double x = p[0] - p[3] * c[0],
                    y = p[1] - p[3] * c[1],
                    z = p[2] - p[3] * c[2],
                    n = Math.sqrt(x * x + y * y + z * z);
            d[i] = new double[] {x / n, y / n, z / n};
        }
        // The first, middle and last views stand for all.
        int[] some = {0, d.length / 2, d.length - 1};
        for (int i : some)
            for (int j : some)
                best = Math.max(
                        best, Math.acos(Math.min(1, d[i][0] * d[j][0] + d[i][1] * d[j][1] + d[i][2] * d[j][2])));
        return best;
    }
}

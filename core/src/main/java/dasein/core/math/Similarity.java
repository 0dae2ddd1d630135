package dasein.core.math;

import java.util.List;
import org.ejml.simple.SimpleMatrix;
import org.ejml.simple.SimpleSVD;

/** Scale, rotate, move: world = scale * R p + t. Immutable. */
public record Similarity(double scale, Quat rotation, Vec3 translation) {
    public static final Similarity IDENTITY = new Similarity(1, Quat.IDENTITY, Vec3.ZERO);

    public Vec3 apply(Vec3 p) {
        return rotation.rotate(p).times(scale).plus(translation);
    }

    /** A camera pose seen in the new world; its optical centre moves, its axes turn. */
    public Pose apply(Pose p) {
        return new Pose(rotation.times(p.rotation()).unit(), apply(p.position()));
    }

    public Similarity inverse() {
        Quat q = rotation.conjugate();
        return new Similarity(1 / scale, q, q.rotate(translation).times(-1 / scale));
    }

    /**
     * Least-squares similarity that takes {@code from[i]} to {@code to[i]} (Umeyama 1991). Needs three points that do
     * not lie on a line.
     */
    public static Similarity fit(List<Vec3> from, List<Vec3> to) {
        int n = from.size();
        if (n < 3 || to.size() != n) throw new IllegalArgumentException("needs at least three pairs of points");
        Vec3 ma = Vec3.ZERO, mb = Vec3.ZERO;
        for (int i = 0; i < n; i++) {
            ma = ma.plus(from.get(i).times(1.0 / n));
            mb = mb.plus(to.get(i).times(1.0 / n));
        }
        SimpleMatrix cov = new SimpleMatrix(3, 3);
        double va = 0;
        for (int i = 0; i < n; i++) {
            Vec3 a = from.get(i).minus(ma), b = to.get(i).minus(mb);
            va += a.dot(a);
            cov = cov.plus(new SimpleMatrix(3, 1, true, b.array()).mult(new SimpleMatrix(1, 3, true, a.array())));
        }
        SimpleSVD<SimpleMatrix> svd = cov.svd();
        double d = svd.getU().determinant() * svd.getV().determinant() < 0 ? -1 : 1;
        SimpleMatrix r =
                svd.getU().mult(SimpleMatrix.diag(1, 1, d)).mult(svd.getV().transpose());
        SimpleMatrix w = svd.getW();
        double scale = (w.get(0, 0) + w.get(1, 1) + d * w.get(2, 2)) / va;
        double[] m = new double[9];
        for (int i = 0; i < 9; i++) m[i] = r.get(i / 3, i % 3);
        Quat q = Quat.fromMatrix(m);
        return new Similarity(scale, q, mb.minus(q.rotate(ma).times(scale)));
    }
}

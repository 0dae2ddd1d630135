package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.bytedeco.opencv.global.opencv_core.CV_64F;

import dasein.core.math.Quat;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.bytedeco.javacpp.indexer.DoubleIndexer;
import org.bytedeco.opencv.global.opencv_calib3d;
import org.bytedeco.opencv.opencv_core.Mat;
import org.junit.jupiter.api.Test;

/** Relative pose and resection on exact and noisy points, beside OpenCV's findEssentialMat and solvePnP. */
class TwoViewTest {
    private final Random r = new Random(8);

    private static Rigid camera(double rx, double ry, double rz, double cx, double cy, double cz) {
        return new Rigid(Quat.fromRotationVector(rx, ry, rz).matrix(), new double[] {cx, cy, cz});
    }

    private double[][] points(int n) {
        double[][] p = new double[n][];
        for (int i = 0; i < n; i++)
            p[i] = new double[] {4 * r.nextDouble() - 2, 3 * r.nextDouble() - 1.5, 3 + 6 * r.nextDouble(), 1};
        return p;
    }

    private double[][] seen(Rigid c, double[][] p, double noise) {
        double[][] q = new double[p.length][];
        for (int i = 0; i < q.length; i++) {
            double[] v = c.toCamera(p[i]);
            q[i] = new double[] {v[0] / v[2] + noise * r.nextGaussian(), v[1] / v[2] + noise * r.nextGaussian()};
        }
        return q;
    }

    /** The true matrix [t]x R must be among the ten or fewer that go through five exact pairs (Nistér 2004). */
    @Test
    void fivePointsFindTheTrueEssentialMatrix() {
        for (int round = 0; round < 50; round++) {
            Rigid b = camera(
                    0.2 * r.nextGaussian(),
                    0.2 * r.nextGaussian(),
                    0.2 * r.nextGaussian(),
                    r.nextGaussian(),
                    r.nextGaussian(),
                    0.3 * r.nextGaussian());
            double[][] p = points(12), x = seen(Rigid.identity(), p, 0), y = seen(b, p, 0);
            double best = 1;
            for (double[] e : FivePoint.solve(java.util.Arrays.copyOf(x, 5), java.util.Arrays.copyOf(y, 5))) {
                double worst = 0;
                for (int i = 0; i < 12; i++) worst = Math.max(worst, TwoView.sampson(e, x[i], y[i]));
                best = Math.min(best, worst);
            }
            assertThat(Math.sqrt(best)).as("round " + round).isLessThan(1e-6);
        }
    }

    @Test
    void relativePoseAgreesWithOpenCvAmongOutliers() {
        Rigid truth = camera(0.05, -0.12, 0.03, 1, 0.1, -0.2);
        double[][] p = points(200), x = seen(Rigid.identity(), p, 3e-4), y = seen(truth, p, 3e-4);
        for (int i = 0; i < 60; i++) y[i] = new double[] {r.nextDouble() - 0.5, r.nextDouble() - 0.5};
        TwoView.Result ours = TwoView.relative(x, y, 1.5e-3, 200, new Random(1));
        Mat a = mat(x), b = mat(y), k = Mat.eye(3, 3, CV_64F).asMat(), rot = new Mat(), t = new Mat(), mask = new Mat();
        Mat e = opencv_calib3d.findEssentialMat(a, b, k, opencv_calib3d.RANSAC, 0.999, 1.5e-3, 1000, mask);
        opencv_calib3d.recoverPose(e, a, b, k, rot, t, mask);
        DoubleIndexer ri = rot.createIndexer();
        double[] theirs = new double[9];
        for (int i = 0; i < 9; i++) theirs[i] = ri.get(i / 3, i % 3);
        double mineOff = Math.toDegrees(Quat.fromMatrix(ours.second().r).angleTo(Quat.fromMatrix(truth.r))),
                theirsOff = Math.toDegrees(Quat.fromMatrix(theirs).angleTo(Quat.fromMatrix(truth.r)));
        System.out.printf("rotation error: ours %.4f deg, OpenCV %.4f deg%n", mineOff, theirsOff);
        assertThat(ours.inliers()).isGreaterThan(120);
        assertThat(mineOff).isLessThan(0.25);
    }

    private static Mat mat(double[][] p) {
        Mat m = new Mat(p.length, 2, CV_64F);
        DoubleIndexer i = m.createIndexer();
        for (int k = 0; k < p.length; k++) {
            i.put(k, 0, p[k][0]);
            i.put(k, 1, p[k][1]);
        }
        return m;
    }

    @Test
    void resectionFindsThePoseAsSolvePnpDoes() {
        Rigid truth = camera(0.1, 0.3, -0.05, -0.7, 0.4, 0.5);
        double[][] p = points(80), y = seen(truth, p, 2e-4);
        Mat object = new Mat(80, 3, CV_64F),
                image = mat(y),
                k = Mat.eye(3, 3, CV_64F).asMat(),
                rv = new Mat(),
                tv = new Mat(),
                rm = new Mat();
        DoubleIndexer oi = object.createIndexer();
        for (int i = 0; i < 80; i++) for (int c = 0; c < 3; c++) oi.put(i, c, p[i][c]);
        opencv_calib3d.solvePnP(object, image, k, Mat.zeros(4, 1, CV_64F).asMat(), rv, tv);
        opencv_calib3d.Rodrigues(rv, rm);
        DoubleIndexer ri = rm.createIndexer();
        double[] theirs = new double[9];
        for (int i = 0; i < 9; i++) theirs[i] = ri.get(i / 3, i % 3);
        for (int i = 0; i < 20; i++) y[i] = new double[] {r.nextDouble() - 0.5, r.nextDouble() - 0.5};
        Rigid ours = Resection.ransac(List.of(p), new ArrayList<>(List.of(y)), 1e-3, 100, 20, new Random(2));
        assertThat(Quat.fromMatrix(ours.r).angleTo(Quat.fromMatrix(theirs))).isLessThan(5e-4);
        for (int c = 0; c < 3; c++)
            assertThat(ours.c[c]).isCloseTo(truth.c[c], org.assertj.core.api.Assertions.within(3e-3));
    }
}

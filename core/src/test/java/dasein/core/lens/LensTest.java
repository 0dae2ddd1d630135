package dasein.core.lens;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;
import static org.bytedeco.opencv.global.opencv_core.CV_64F;

import dasein.core.math.Vec3;
import java.util.Random;
import org.bytedeco.javacpp.indexer.DoubleIndexer;
import org.bytedeco.opencv.global.opencv_calib3d;
import org.bytedeco.opencv.opencv_core.Mat;
import org.junit.jupiter.api.Test;

class LensTest {
    /** The outside reference is OpenCV's projectPoints with (k1, k2, p1, p2, k3). */
    @Test
    void projectsAsOpenCvDoes() {
        Lens l = new Lens(1400, 650, 350, -0.11, 0.03, -0.008, 0.0011, -0.0007);
        Random r = new Random(3);
        int n = 200;
        Mat points = new Mat(n, 3, CV_64F),
                zero = Mat.zeros(3, 1, CV_64F).asMat(),
                k = Mat.eye(3, 3, CV_64F).asMat(),
                dist = Mat.zeros(5, 1, CV_64F).asMat(),
                out = new Mat();
        DoubleIndexer pi = points.createIndexer(), ki = k.createIndexer(), di = dist.createIndexer();
        ki.put(0, 0, 1400);
        ki.put(1, 1, 1400);
        ki.put(0, 2, 650);
        ki.put(1, 2, 350);
        di.put(0, 0, -0.11);
        di.put(1, 0, 0.03);
        di.put(2, 0, 0.0011);
        di.put(3, 0, -0.0007);
        di.put(4, 0, -0.008);
        Vec3[] p = new Vec3[n];
        for (int i = 0; i < n; i++) {
            // Ours: looks along -Z, y up; theirs: +Z, y down.
            p[i] = new Vec3(3 * r.nextDouble() - 1.5, 2 * r.nextDouble() - 1, -4 - 5 * r.nextDouble());
            pi.put(i, 0, p[i].x());
            pi.put(i, 1, -p[i].y());
            pi.put(i, 2, -p[i].z());
        }
        opencv_calib3d.projectPoints(points, zero, zero, k, dist, out);
        DoubleIndexer oi = out.createIndexer();
        for (int i = 0; i < n; i++) {
            double[] q = l.project(p[i]);
            assertThat(q[0]).isCloseTo(oi.get(i, 0, 0), within(1e-9));
            assertThat(q[1]).isCloseTo(oi.get(i, 0, 1), within(1e-9));
        }
    }

    @Test
    void undistortingIsTheInverse() {
        for (double k1 : new double[] {-0.2, -0.08, 0, 0.1}) {
            Lens l = new Lens(1100, 640, 360, k1, 0.02, k1 == 0 ? 0 : -0.004, k1 < 0 ? 0.002 : 0, 0.001);
            for (int x = 0; x <= 1280; x += 80) {
                for (int y = 0; y <= 720; y += 80) {
                    double[] u = l.undistort(x, y), d = l.distortToPixel(u[0], u[1]);
                    assertThat(Math.hypot(d[0] - x, d[1] - y)).isLessThan(1e-6);
                }
            }
        }
    }
}

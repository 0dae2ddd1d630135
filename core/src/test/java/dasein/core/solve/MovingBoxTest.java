package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.track.AutoTracker;
import dasein.core.track.Track;
import dasein.core.track.TrackSettings;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.ejml.simple.SimpleMatrix;
import org.ejml.simple.SimpleSVD;
import org.junit.jupiter.api.Test;

/**
 * A printed box that is turned and carried before a camera that stands still, drawn by rays, so that where it is is
 * known: its flat faces are seen at a slant, turn away, and come back.
 */
class MovingBoxTest {
    private static final int W = 960, H = 540, FRAMES = 48, SIDE = 256;
    private static final Lens LENS = new Lens(1000, W / 2.0, H / 2.0, 0, 0);
    private static final Vec3 HALF = new Vec3(0.20, 0.15, 0.13);
    /** Grain of the sensor, in codes. */
    private static final double GRAIN = 1.2;

    private static final Rate RATE = new Rate(24, 1);
    private final float[][] prints = new float[6][];
    private final float[] wall = print(99, 1024);

    MovingBoxTest() {
        for (int k = 0; k < 6; k++) prints[k] = print(k + 1, SIDE);
    }

    /** Patches of even grey of many sizes, as print has them, a little soft. */
    private static float[] print(int seed, int side) {
        Random r = new Random(seed);
        float[] g = new float[side * side];
        java.util.Arrays.fill(g, 90 + 60 * r.nextFloat());
        for (int k = 0; k < side; k++) {
            int w = 3 + r.nextInt(side / 6), h = 3 + r.nextInt(side / 6), x = r.nextInt(side), y = r.nextInt(side);
            float v = 25 + 200 * r.nextFloat();
            for (int j = y; j < Math.min(side, y + h / 2 + 2); j++)
                for (int i = x; i < Math.min(side, x + w / 2 + 2); i++) g[j * side + i] = v;
        }
        return g;
    }

    private static float read(float[] g, int side, double u, double v) {
        double x = u * side - 0.5, y = v * side - 0.5;
        int i = (int) Math.floor(x), j = (int) Math.floor(y);
        double a = x - i, b = y - j;
        int i0 = Math.max(0, Math.min(side - 1, i)), i1 = Math.max(0, Math.min(side - 1, i + 1));
        int j0 = Math.max(0, Math.min(side - 1, j)) * side, j1 = Math.max(0, Math.min(side - 1, j + 1)) * side;
        return (float)
                ((1 - b) * ((1 - a) * g[j0 + i0] + a * g[j0 + i1]) + b * ((1 - a) * g[j1 + i0] + a * g[j1 + i1]));
    }

    /** Turned to and fro by most of a right angle, nodding, carried across. */
    private static Pose at(int frame) {
        double t = (frame - 1.0) / (FRAMES - 1), w = 2 * Math.PI * t;
        Quat turn = Quat.axisAngle(Vec3.Y, 0.35 + 0.75 * Math.sin(w))
                .times(Quat.axisAngle(Vec3.X, 0.35 + 0.25 * Math.sin(2 * w)));
        return new Pose(turn, new Vec3(-0.25 + 0.5 * t, 0.05 * Math.sin(w), -1.5 - 0.25 * Math.sin(w)));
    }

    /** Distance along a ray to the box in its own frame; NaN where it is missed. */
    private static double hit(Vec3 o, Vec3 d) {
        double[] from = {o.x(), o.y(), o.z()}, way = {d.x(), d.y(), d.z()}, half = {HALF.x(), HALF.y(), HALF.z()};
        double near = -1e9, far = 1e9;
        for (int a = 0; a < 3; a++) {
            double p = (-half[a] - from[a]) / way[a], q = (half[a] - from[a]) / way[a];
            near = Math.max(near, Math.min(p, q));
            far = Math.min(far, Math.max(p, q));
        }
        return near < far && near > 0 ? near : Double.NaN;
    }

    private float shade(Vec3 p) {
        double[] x = {p.x() / HALF.x(), p.y() / HALF.y(), p.z() / HALF.z()};
        int a = Math.abs(x[0]) > Math.abs(x[1]) && Math.abs(x[0]) > Math.abs(x[2])
                ? 0
                : Math.abs(x[1]) > Math.abs(x[2]) ? 1 : 2;
        return read(prints[2 * a + (x[a] > 0 ? 1 : 0)], SIDE, 0.5 + 0.5 * x[(a + 1) % 3], 0.5 + 0.5 * x[(a + 2) % 3]);
    }

    private float[] frame(int f) {
        Pose box = at(f), back = box.inverse();
        Vec3 eye = back.toWorld(Vec3.ZERO);
        float[] out = new float[W * H];
        Random grain = new Random(f);
        int n = 3;
        IntStream.range(0, H).parallel().forEach(y -> {
            for (int x = 0; x < W; x++) {
                double sum = 0;
                for (int s = 0; s < n * n; s++) {
                    double px = x + (s % n + 0.5) / n, py = y + (s / n + 0.5) / n;
                    Vec3 d = back.rotation().rotate(ray(px, py));
                    double t = hit(eye, d);
                    sum += Double.isNaN(t) ? read(wall, 1024, px / W, py / W) : shade(eye.plus(d.times(t)));
                }
                out[y * W + x] = (float) (sum / (n * n));
            }
        });
        for (int i = 0; i < out.length; i++) out[i] += (float) (GRAIN * grain.nextGaussian());
        return out;
    }

    private static Vec3 ray(double x, double y) {
        return new Vec3((x - W / 2.0) / 1000, -(y - H / 2.0) / 1000, -1);
    }

    /** Where on the box a pixel of a frame lies, in its own frame; null beside it, or near its edges. */
    private static Vec3 place(double x, double y, int f) {
        Pose back = at(f).inverse();
        Vec3 eye = back.toWorld(Vec3.ZERO), d = back.rotation().rotate(ray(x, y));
        double t = hit(eye, d);
        return Double.isNaN(t) ? null : eye.plus(d.times(t));
    }

    @Test
    void staysWithinThreeTenthsOfAPixel() {
        float[][] all = new float[FRAMES + 1][];
        for (int f = 1; f <= FRAMES; f++) all[f] = frame(f);
        List<Track> tracks =
                AutoTracker.track(f -> all[f], W, H, 1, FRAMES, null, TrackSettings.DEFAULT, Progress.NONE, null);
        List<Track> mine = tracks.stream()
                .filter(t -> t.length() >= 6
                        && place(t.x()[t.length() / 2], t.y()[t.length() / 2], t.frames()[t.length() / 2]) != null)
                .toList();
        double drift = 0;
        int sightings = 0;
        for (Track t : mine) {
            Vec3 p = place(t.x()[0], t.y()[0], t.frames()[0]);
            if (p == null) continue;
            for (int i = 0; i < t.length(); i++) {
                double[] q = LENS.project(at(t.frames()[i]).toWorld(p));
                drift += Math.min(9, Math.pow(q[0] - t.x()[i], 2) + Math.pow(q[1] - t.y()[i], 2));
                sightings++;
            }
        }
        List<SolvedCamera.Frame> still = new ArrayList<>();
        for (int f = 1; f <= FRAMES; f++) still.add(new SolvedCamera.Frame(f, Pose.IDENTITY, 1000, 0, 50));
        SolvedCamera camera = new SolvedCamera(W, H, RATE, "still", 0.1, 0, LENS, still, List.of());
        ObjectSolver.Result r = ObjectSolver.solve(mine, camera, 1.5, Progress.NONE);
        double slide = slide(r, mine);
        System.out.printf(
                "moving box: %d marks, %d points, marks off by %.2f px RMS, solved to %.2f, slides by %.3f px RMS%n",
                mine.size(), r.points().size(), Math.sqrt(drift / sightings), r.rmsPx(), slide);
        assertThat(slide).isLessThan(0.3);
    }

    /** Places on the box seen by the solve, against where they are: RMS over all frames, pixels. */
    private static double slide(ObjectSolver.Result r, List<Track> tracks) {
        List<Vec3> truth = new ArrayList<>(), found = new ArrayList<>();
        for (SolvedCamera.Point p : r.points()) {
            Track t = tracks.stream().filter(k -> k.id() == p.id()).findFirst().orElseThrow();
            Vec3 q = place(t.x()[0], t.y()[0], t.frames()[0]);
            if (q == null) continue;
            truth.add(q);
            found.add(p.position());
        }
        double[] s = similarity(truth, found);
        double sum = 0;
        int n = 0;
        for (ObjectSolver.Frame f : r.frames())
            for (int k = 0; k < 8; k++) {
                Vec3 p = new Vec3(
                        HALF.x() * (k % 2 * 2 - 1), HALF.y() * (k / 2 % 2 * 2 - 1), HALF.z() * (k / 4 * 2 - 1));
                double[] a = LENS.project(at(f.frame()).toWorld(p)),
                        b = LENS.project(f.objectToWorld().toWorld(map(s, p)));
                sum += Math.pow(a[0] - b[0], 2) + Math.pow(a[1] - b[1], 2);
                n++;
            }
        return Math.sqrt(sum / n);
    }

    private static Vec3 map(double[] s, Vec3 p) {
        return new Vec3(
                s[0] * p.x() + s[1] * p.y() + s[2] * p.z() + s[3],
                s[4] * p.x() + s[5] * p.y() + s[6] * p.z() + s[7],
                s[8] * p.x() + s[9] * p.y() + s[10] * p.z() + s[11]);
    }

    /** Turn, size and move that take one set of places to another, those far off left out (Umeyama 1991). */
    private static double[] similarity(List<Vec3> from, List<Vec3> to) {
        boolean[] out = new boolean[from.size()];
        double[] s = null;
        for (int round = 0; round < 6; round++) {
            Vec3 a = Vec3.ZERO, b = Vec3.ZERO;
            int n = 0;
            for (int i = 0; i < from.size(); i++) {
                if (out[i]) continue;
                a = a.plus(from.get(i));
                b = b.plus(to.get(i));
                n++;
            }
            a = a.times(1.0 / n);
            b = b.times(1.0 / n);
            SimpleMatrix c = new SimpleMatrix(3, 3);
            double var = 0;
            for (int i = 0; i < from.size(); i++) {
                if (out[i]) continue;
                Vec3 p = from.get(i).minus(a), q = to.get(i).minus(b);
                double[] x = {p.x(), p.y(), p.z()}, y = {q.x(), q.y(), q.z()};
                for (int j = 0; j < 3; j++) for (int k = 0; k < 3; k++) c.set(j, k, c.get(j, k) + y[j] * x[k]);
                var += p.dot(p);
            }
            SimpleSVD<SimpleMatrix> svd = c.svd();
            SimpleMatrix d = SimpleMatrix.identity(3);
            if (svd.getU().determinant() * svd.getV().determinant() < 0) d.set(2, 2, -1);
            SimpleMatrix r = svd.getU().mult(d).mult(svd.getV().transpose());
            double k = svd.getW().mult(d).trace() / var;
            s = new double[12];
            double[] m = {a.x(), a.y(), a.z()}, w = {b.x(), b.y(), b.z()};
            for (int i = 0; i < 3; i++) {
                s[4 * i + 3] = w[i];
                for (int j = 0; j < 3; j++) {
                    s[4 * i + j] = k * r.get(i, j);
                    s[4 * i + 3] -= k * r.get(i, j) * m[j];
                }
            }
            double[] off = new double[from.size()];
            for (int i = 0; i < off.length; i++) off[i] = map(s, from.get(i)).distance(to.get(i));
            double median = Homography.median(off);
            for (int i = 0; i < off.length; i++) out[i] = off[i] > 4 * median;
        }
        return s;
    }
}

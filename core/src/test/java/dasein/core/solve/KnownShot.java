package dasein.core.solve;

import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;

/** A shot whose truth is known: points in a room, a camera that walks through it, tracks with noise and some that lie. */
final class KnownShot {
    final int width = 1280;
    final int height = 720;
    final int frames;
    final Lens lens;
    final List<Pose> poses = new ArrayList<>();
    final List<Vec3> points = new ArrayList<>();
    final List<Track> tracks = new ArrayList<>();

    KnownShot(int frames, int count, double noise, double liars, double sideways, long seed) {
        this.frames = frames;
        lens = new Lens(1100, 640, 360, -0.09, 0);
        Random r = new Random(seed);
        for (int f = 0; f < frames; f++) {
            double t = f / 24.0;
            Vec3 eye = new Vec3(sideways * (0.9 * t + 0.03 * Math.sin(5 * t)), 1.6 + sideways * 0.02 * Math.sin(9 * t), -0.5 * sideways * t);
            Quat turn = Quat.fromRotationVector(0.02 * Math.sin(3 * t), -0.1 + 0.03 * Math.sin(2 * t), 0.01 * Math.sin(4 * t));
            poses.add(new Pose(turn, eye));
        }
        int id = 1;
        for (int made = 0; made < count; ) {
            // A mark begins somewhere in the picture at some frame, at some depth, and lives as long as it is seen.
            int start = r.nextInt(10) < 4 ? 0 : r.nextInt(frames), life = 20 + r.nextInt(70);
            double depth = 3 + 12 * r.nextDouble();
            Vec3 p = poses.get(start).toWorld(lens.ray(40 + 1200 * r.nextDouble(), 30 + 660 * r.nextDouble()).times(depth));
            boolean lies = r.nextDouble() < liars;
            int[] fs = new int[life];
            double[] x = new double[life], y = new double[life];
            int n = 0;
            double wx = 0, wy = 0;
            for (int f = start; f < Math.min(frames, start + life); f++) {
                double[] q = lens.project(poses.get(f).toLocal(p));
                if (q == null || q[0] < 8 || q[1] < 8 || q[0] > width - 8 || q[1] > height - 8) break;
                if (lies) {
                    wx += 1.2 + 0.5 * r.nextGaussian();
                    wy += 0.8 * Math.sin(0.3 * f);
                }
                fs[n] = f + 1;
                x[n] = q[0] + wx + noise * r.nextGaussian();
                y[n++] = q[1] + wy + noise * r.nextGaussian();
            }
            if (n < 6) continue;
            if (!lies) points.add(p);
            tracks.add(new Track(id++, Arrays.copyOf(fs, n), Arrays.copyOf(x, n), Arrays.copyOf(y, n)));
            made++;
        }
    }

    record Error(double pathPart, double rotationDeg, double focalPart, double heldOutPx) {}

    /**
     * The similarity that lays a solve over true poses (entry 0 is frame 1). A nearly straight path alone would leave the turn
     * about itself open, so the tips of the cameras' axes, a metre out, count as well.
     */
    static Similarity align(SolvedCamera s, List<Pose> truth) {
        List<Vec3> a = new ArrayList<>(), b = new ArrayList<>();
        for (SolvedCamera.Frame f : s.frames()) {
            a.add(f.pose().position());
            b.add(truth.get(f.frame() - 1).position());
        }
        double scale = Similarity.fit(a, b).scale();
        for (SolvedCamera.Frame f : s.frames()) {
            for (Vec3 axis : List.of(Vec3.X, Vec3.Y, Vec3.Z)) {
                a.add(f.pose().toWorld(axis.times(1 / scale)));
                b.add(truth.get(f.frame() - 1).toWorld(axis));
            }
        }
        return Similarity.fit(a, b);
    }

    /** Against the truth, after the best similarity: path error over path length, rotation RMS, focal, reprojection of true points. */
    Error compare(SolvedCamera s) {
        SolvedCamera w = s.in(align(s, poses));
        double path = 0, rot = 0, held = 0;
        int n = 0;
        for (SolvedCamera.Frame f : w.frames()) {
            Pose truth = poses.get(f.frame() - 1);
            path += Math.pow(f.pose().position().distance(truth.position()), 2);
            rot += Math.pow(Math.toDegrees(f.pose().rotation().angleTo(truth.rotation())), 2);
            for (int i = 0; i < points.size(); i += 3) {
                double[] t = lens.project(truth.toLocal(points.get(i))), q = w.lens(f.frame()).project(f.pose().toLocal(points.get(i)));
                if (t == null || q == null || t[0] < 0 || t[1] < 0 || t[0] > width || t[1] > height) continue;
                held += Math.pow(t[0] - q[0], 2) + Math.pow(t[1] - q[1], 2);
                n++;
            }
        }
        int k = w.frames().size();
        double length = 0;
        for (int f = 1; f < frames; f++) length += poses.get(f).position().distance(poses.get(f - 1).position());
        return new Error(Math.sqrt(path / k) / length, Math.sqrt(rot / k), Math.abs(w.frames().get(0).focalPx() / lens.focalPx() - 1), Math.sqrt(held / Math.max(n, 1)));
    }
}

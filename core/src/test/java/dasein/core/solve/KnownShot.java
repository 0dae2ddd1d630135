package dasein.core.solve;

import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;

/**
 * A shot whose truth is known: points in a room, a camera that walks through it, tracks with noise and some that lie.
 */
final class KnownShot {
    final int width = 1280;
    final int height = 720;
    final int frames;
    final Lens lens;
    final List<Pose> poses = new ArrayList<>();
    final List<Vec3> points = new ArrayList<>();
    final List<Track> tracks = new ArrayList<>();

    KnownShot(int frames, int count, double noise, double liars, double sideways, long seed) {
        this(frames, count, noise, liars, seed, new Lens(1100, 640, 360, -0.09, 0), handHeld(sideways), t -> 1, 3, 15);
    }

    /** Where the camera is after so many seconds. */
    interface Move {
        Pose at(double seconds);
    }

    /** Focal length after so many seconds, as a part of the lens's. */
    interface Zoom {
        double at(double seconds);
    }

    static Move handHeld(double sideways) {
        return t -> new Pose(
                Quat.fromRotationVector(0.02 * Math.sin(3 * t), -0.1 + 0.03 * Math.sin(2 * t), 0.01 * Math.sin(4 * t)),
                new Vec3(
                        sideways * (0.9 * t + 0.03 * Math.sin(5 * t)),
                        1.6 + sideways * 0.02 * Math.sin(9 * t),
                        -0.5 * sideways * t));
    }

    Lens lensAt(int f) {
        return lens.withFocal(lens.focalPx() * zoom.at(f / 24.0));
    }

    private final Zoom zoom;
    /** What comes nearer than the marks did says nothing about the solve. */
    private final double nearest;

    /** @param near least depth of a mark when it is first seen, {@code far} most */
    KnownShot(
            int frames,
            int count,
            double noise,
            double liars,
            long seed,
            Lens lens,
            Move move,
            Zoom zoom,
            double near,
            double far) {
        this(frames, count, noise, liars, seed, lens, move, zoom, near, (eye, way, r) -> near + (far - near) * r);
    }

    /** How far along a ray a mark lies. */
    interface Depth {
        /** @param way ray of the picture with unit depth, in the world; @param r random, 0 to 1 */
        double at(Vec3 eye, Vec3 way, double r);
    }

    /** All marks lie on a plane; none where it would lie beyond {@code far}, or behind. */
    static Depth plane(Vec3 point, Vec3 normal, double far) {
        return (eye, way, r) -> {
            double k = point.minus(eye).dot(normal) / way.dot(normal);
            return k > 0 && k < far ? k : Double.NaN;
        };
    }

    KnownShot(
            int frames,
            int count,
            double noise,
            double liars,
            long seed,
            Lens lens,
            Move move,
            Zoom zoom,
            double near,
            Depth depths) {
        this.frames = frames;
        this.lens = lens;
        this.zoom = zoom;
        nearest = 0.7 * near;
        Random r = new Random(seed);
        for (int f = 0; f < frames; f++) poses.add(move.at(f / 24.0));
        int id = 1;
        for (int made = 0; made < count; ) {
            // A mark begins somewhere in the picture at some frame, at some depth, and lives as long as it is seen.
            int start = r.nextInt(10) < 4 ? 0 : r.nextInt(frames), life = 20 + r.nextInt(70);
            double chance = r.nextDouble();
            Vec3 ray = lensAt(start).ray(40 + 1200 * r.nextDouble(), 30 + 660 * r.nextDouble());
            double depth = depths.at(
                    poses.get(start).position(), poses.get(start).rotation().rotate(ray), chance);
            if (Double.isNaN(depth)) continue;
            Vec3 p = poses.get(start).toWorld(ray.times(depth));
            boolean lies = r.nextDouble() < liars;
            int[] fs = new int[life];
            double[] x = new double[life], y = new double[life];
            int n = 0;
            double wx = 0, wy = 0, way = 2 * Math.PI * r.nextDouble();
            for (int f = start; f < Math.min(frames, start + life); f++) {
                double[] q = lensAt(f).project(poses.get(f).toLocal(p));
                if (q == null || q[0] < 8 || q[1] < 8 || q[0] > width - 8 || q[1] > height - 8) break;
                if (lies) {
                    wx += Math.cos(way) * 1.2 + 0.5 * r.nextGaussian();
                    wy += Math.sin(way) * 1.2 + 0.8 * Math.sin(0.3 * f);
                }
                fs[n] = f + 1;
                x[n] = q[0] + wx + noise * r.nextGaussian();
                y[n++] = q[1] + wy + noise * r.nextGaussian();
            }
            if (n < 6) continue;
            if (!lies) points.add(p);
            // Every tenth that tells the truth is kept from the solve.
            if (!lies && points.size() % 10 == 0)
                heldOut.add(
                        new Held(p, new Track(id++, Arrays.copyOf(fs, n), Arrays.copyOf(x, n), Arrays.copyOf(y, n))));
            else {
                if (!lies) place.put(id, p);
                tracks.add(new Track(id++, Arrays.copyOf(fs, n), Arrays.copyOf(x, n), Arrays.copyOf(y, n)));
            }
            made++;
        }
    }

    /**
     * The tracks, those of true marks taken row by row: the picture's last row that part of a frame later than its
     * first, the middle one on time.
     */
    List<Track> rolling(double readout, double noise, Move move) {
        Random r = new Random(5);
        return tracks.stream()
                .map(t -> {
                    Vec3 p = place.get(t.id());
                    if (p == null) return t;
                    double[] x = new double[t.length()], y = new double[t.length()];
                    for (int i = 0; i < x.length; i++) {
                        int f = t.frames()[i] - 1;
                        double[] q = {t.x()[i], t.y()[i]};
                        // The row decides the moment, and the moment the row.
                        for (int k = 0; k < 8; k++)
                            q = lensAt(f)
                                    .project(move.at((f + readout * (q[1] / height - 0.5)) / 24)
                                            .toLocal(p));
                        x[i] = q[0] + noise * r.nextGaussian();
                        y[i] = q[1] + noise * r.nextGaussian();
                    }
                    return new Track(t.id(), t.frames(), x, y);
                })
                .toList();
    }

    /** Where the mark of a track that tells the truth truly is. */
    final Map<Integer, Vec3> place = new HashMap<>();

    /** A mark the solve never saw, and where it truly is. */
    record Held(Vec3 point, Track track) {}

    final List<Held> heldOut = new ArrayList<>();

    /**
     * Marks the solve never saw, triangulated by its cameras from their noisy places, against their true places: RMS in
     * pixels.
     */
    double heldOutPx(SolvedCamera s) {
        double sum = 0;
        int n = 0;
        boolean nodal = s.kind().equals("nodal");
        for (Held h : heldOut) {
            List<Rigid> cams = new ArrayList<>();
            List<double[]> rays = new ArrayList<>();
            Vec3 mean = Vec3.ZERO;
            for (int i = 0; i < h.track.length(); i++) {
                int f = h.track.frames()[i];
                if (s.frame(f).frame() != f) continue;
                Pose p = s.frame(f).pose();
                cams.add(MovingSolver.rigid(p));
                double[] q = s.lens(f).undistort(h.track.x()[i], h.track.y()[i]);
                rays.add(q);
                mean = mean.plus(p.rotation().rotate(new Vec3(q[0], -q[1], -1).unit()));
            }
            if (cams.size() < 10) continue;
            double[] x = nodal ? new double[] {mean.x(), mean.y(), mean.z(), 0} : Triangulation.linear(cams, rays);
            for (int i = 0, k = 0; i < h.track.length(); i++) {
                int f = h.track.frames()[i];
                if (s.frame(f).frame() != f) continue;
                double[] c = cams.get(k++).toCamera(x),
                        got = s.lens(f).distortToPixel(c[0] / c[2], c[1] / c[2]),
                        want = lensAt(f - 1).project(poses.get(f - 1).toLocal(h.point));
                sum += Math.pow(got[0] - want[0], 2) + Math.pow(got[1] - want[1], 2);
                n++;
            }
        }
        return Math.sqrt(sum / Math.max(1, n));
    }

    record Error(double pathPart, double rotationDeg, double focalPart, double heldOutPx) {}

    /**
     * The similarity that lays a solve over true poses (entry 0 is frame 1). A nearly straight path alone would leave
     * the turn about itself open, so the tips of the cameras' axes, a metre out, count as well.
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

    /**
     * A camera that only turned, against the truth: rotation RMS after the best turn, worst focal length, reprojection
     * of true points.
     */
    Error compareTurns(SolvedCamera s) {
        // The turn that lays one over the other is that of the middle frame; a solve's own error there is small.
        SolvedCamera.Frame mid = s.frames().get(s.frames().size() / 2);
        Quat lay = poses.get(mid.frame() - 1)
                .rotation()
                .times(mid.pose().rotation().conjugate());
        double rot = 0, held = 0, focal = 0;
        int n = 0;
        for (SolvedCamera.Frame f : s.frames()) {
            Pose truth = poses.get(f.frame() - 1);
            Quat q = lay.times(f.pose().rotation());
            rot += Math.pow(Math.toDegrees(q.angleTo(truth.rotation())), 2);
            focal = Math.max(focal, Math.abs(f.focalPx() / lensAt(f.frame() - 1).focalPx() - 1));
            for (int i = 0; i < points.size(); i += 3) {
                double[] t = lensAt(f.frame() - 1).project(truth.toLocal(points.get(i))),
                        p = s.lens(f.frame()).project(new Pose(q, truth.position()).toLocal(points.get(i)));
                if (t == null || p == null || t[0] < 0 || t[1] < 0 || t[0] > width || t[1] > height) continue;
                held += Math.pow(t[0] - p[0], 2) + Math.pow(t[1] - p[1], 2);
                n++;
            }
        }
        return new Error(0, Math.sqrt(rot / s.frames().size()), focal, Math.sqrt(held / Math.max(n, 1)));
    }

    /**
     * Against the truth, after the best similarity: path error over path length, rotation RMS, focal, reprojection of
     * true points.
     */
    Error compare(SolvedCamera s) {
        SolvedCamera w = s.in(align(s, poses));
        double path = 0, rot = 0, held = 0;
        int n = 0;
        for (SolvedCamera.Frame f : w.frames()) {
            Pose truth = poses.get(f.frame() - 1);
            path += Math.pow(f.pose().position().distance(truth.position()), 2);
            rot += Math.pow(Math.toDegrees(f.pose().rotation().angleTo(truth.rotation())), 2);
            for (int i = 0; i < points.size(); i += 3) {
                double[] t = lensAt(f.frame() - 1).project(truth.toLocal(points.get(i))),
                        q = w.lens(f.frame()).project(f.pose().toLocal(points.get(i)));
                if (t == null
                        || q == null
                        || truth.position().distance(points.get(i)) < nearest
                        || t[0] < 0
                        || t[1] < 0
                        || t[0] > width
                        || t[1] > height) continue;
                held += Math.pow(t[0] - q[0], 2) + Math.pow(t[1] - q[1], 2);
                n++;
            }
        }
        int k = w.frames().size();
        double length = 0;
        for (int f = 1; f < frames; f++)
            length += poses.get(f).position().distance(poses.get(f - 1).position());
        double focal = 0;
        for (SolvedCamera.Frame f : w.frames())
            focal = Math.max(focal, Math.abs(f.focalPx() / lensAt(f.frame() - 1).focalPx() - 1));
        return new Error(Math.sqrt(path / k) / length, Math.sqrt(rot / k), focal, Math.sqrt(held / Math.max(n, 1)));
    }
}

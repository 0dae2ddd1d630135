package dasein.core.solve;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.ejml.simple.SimpleMatrix;

/**
 * The camera of a frame from lines that run along the set's axes: rotation and, where it is not given, focal length, so that every line
 * points at the vanishing point of its axis. Least squares over the distances of the line's ends from that direction, which are what a
 * person sees (in place of the algebraic vanishing points of Caprile and Torre 1990, which only start it).
 */
public final class LinesSolver {
    /** How exactly a person lays a line's end, pixels. */
    private static final double HAND_PX = 0.7;
    private static final double[] FAN = {0.5, 0.8, 1.2, 1.8, 2.8, 4.5};
    private static final int STEPS = 60;
    /** A focal length this uncertain is not determined by the lines. */
    private static final double UNDETERMINED = 0.25;
    private static final double EYE_HEIGHT = 1.6;

    private LinesSolver() {}

    public enum Axis {
        X(Vec3.X), Y(Vec3.Y), Z(Vec3.Z);

        final Vec3 direction;

        Axis(Vec3 d) { direction = d; }
    }

    /** Ends in pixels of the plate; which end is which does not matter. */
    public record Line(Axis axis, double fromX, double fromY, double toX, double toY) {
        public Line {
            if (!(Math.hypot(toX - fromX, toY - fromY) > 2)) throw new BadInput("a line of the perspective is shorter than two pixels");
        }
    }

    private record State(Quat toWorld, double focal) {}

    /**
     * @param focalPx held when above 0, else solved
     * @param first frames for which the camera stands so, {@code last} inclusive
     * @throws NoSolution when the lines do not determine the perspective
     */
    public static SolvedCamera solve(List<Line> lines, int width, int height, Rate rate, int first, int last, double focalPx) {
        long axes = lines.stream().map(Line::axis).distinct().count();
        if (axes < 2) throw new NoSolution("lines along two axes at least are needed; there are lines along " + (axes == 0 ? "none" : "one only"));
        if (lines.size() < (focalPx > 0 ? 3 : 4)) throw new NoSolution("there are " + lines.size() + " lines; two along each of two axes are the least");
        State best = null;
        double cost = Double.MAX_VALUE;
        for (double f : focalPx > 0 ? new double[] {focalPx} : FAN) {
            double focal = focalPx > 0 ? f : f * width;
            for (Quat start : starts(lines, focal, width, height)) {
                State s = refined(lines, new State(start, focal), focalPx <= 0, width, height);
                double c = cost(lines, s, width, height);
                if (c < cost && s.focal > 0.1 * width && s.focal < 60 * width) {
                    cost = c;
                    best = s;
                }
            }
        }
        if (best == null) throw new NoSolution("no perspective fits these lines; look whether each is given to its own axis");
        double off = focalPx > 0 ? 0 : focalOff(lines, best, width, height);
        if (off > UNDETERMINED) throw new NoSolution(String.format(Locale.ROOT, "the lines hardly run together, so the focal length stays uncertain by %.0f %%: draw longer ones along another axis, or give the focal length", 100 * off));
        double rms = Math.sqrt(cost / lines.size());
        Pose pose = new Pose(best.toWorld, new Vec3(0, EYE_HEIGHT, 0));
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int n = first; n <= last; n++) frames.add(new SolvedCamera.Frame(n, pose, best.focal, rms, lines.size()));
        List<String> remarks = new ArrayList<>(List.of(String.format(Locale.ROOT, "The camera stands still: %d lines meet their axes within %.2f px.", lines.size(), rms)));
        if (rms > 3) remarks.add("Some lines do not agree: one of them may not run along its axis.");
        return new SolvedCamera(width, height, rate, "locked", rms, 0, new Lens(best.focal, width / 2.0, height / 2.0, 0, 0), frames, List.of(), off * best.focal, remarks);
    }

    /** Distance in pixels of each line's ends from the direction to its vanishing point. */
    public static double[] residuals(List<Line> lines, SolvedCamera c) {
        State s = new State(c.frames().get(0).pose().rotation(), c.lens().focalPx());
        double[] out = new double[lines.size()];
        for (int i = 0; i < out.length; i++) out[i] = Math.abs(residual(lines.get(i), s, c.width(), c.height()));
        return out;
    }

    private static double residual(Line l, State s, int width, int height) {
        Vec3 v = s.toWorld.conjugate().rotate(l.axis.direction);
        double cx = width / 2.0, cy = height / 2.0, mx = 0.5 * (l.fromX + l.toX), my = 0.5 * (l.fromY + l.toY);
        // The vanishing point, homogeneous; the line through the middle and it; the distance of an end from that.
        double hx = s.focal * v.x() - cx * v.z(), hy = -s.focal * v.y() - cy * v.z(), hw = -v.z();
        double a = my * hw - hy, b = hx - mx * hw, c = mx * hy - my * hx, n = Math.hypot(a, b);
        return n < 1e-12 ? 0 : (a * l.toX + b * l.toY + c) / n;
    }

    private static double cost(List<Line> lines, State s, int width, int height) {
        double sum = 0;
        for (Line l : lines) {
            double e = residual(l, s, width, height);
            sum += e * e;
        }
        return sum;
    }

    private static State moved(State s, double[] d) { return new State(s.toWorld.times(Quat.fromRotationVector(d[0], d[1], d[2])).unit(), d.length > 3 ? s.focal * Math.exp(Math.max(-0.5, Math.min(0.5, d[3]))) : s.focal); }

    /** Slopes by central differences: four unknowns and a few lines cost nothing. */
    private static SimpleMatrix slopes(List<Line> lines, State s, int n, int width, int height) {
        SimpleMatrix j = new SimpleMatrix(lines.size(), n);
        for (int k = 0; k < n; k++) {
            double[] up = new double[n], down = new double[n];
            up[k] = 1e-5;
            down[k] = -1e-5;
            State a = moved(s, up), b = moved(s, down);
            for (int i = 0; i < lines.size(); i++) j.set(i, k, (residual(lines.get(i), a, width, height) - residual(lines.get(i), b, width, height)) / 2e-5);
        }
        return j;
    }

    private static State refined(List<Line> lines, State start, boolean freeFocal, int width, int height) {
        State s = start;
        double cost = cost(lines, s, width, height), lambda = 1e-3;
        int n = freeFocal ? 4 : 3;
        for (int step = 0; step < STEPS && lambda < 1e8; step++) {
            SimpleMatrix j = slopes(lines, s, n, width, height), e = new SimpleMatrix(lines.size(), 1), h = j.transpose().mult(j);
            for (int i = 0; i < lines.size(); i++) e.set(i, residual(lines.get(i), s, width, height));
            for (int k = 0; k < n; k++) h.set(k, k, h.get(k, k) * (1 + lambda) + 1e-9);
            SimpleMatrix d = h.solve(j.transpose().mult(e));
            double[] move = new double[n];
            for (int k = 0; k < n; k++) move[k] = -d.get(k);
            State next = moved(s, move);
            double c = cost(lines, next, width, height);
            if (c < cost) {
                boolean still = cost - c < 1e-10 * cost + 1e-12;
                s = next;
                cost = c;
                lambda *= 0.3;
                if (still) break;
            } else {
                lambda *= 6;
            }
        }
        return s;
    }

    /** One standard deviation of the focal length as a part of it, for lines laid as exactly as a person does, or as these are. */
    private static double focalOff(List<Line> lines, State s, int width, int height) {
        SimpleMatrix j = slopes(lines, s, 4, width, height), h = j.transpose().mult(j);
        for (int k = 0; k < 4; k++) h.set(k, k, h.get(k, k) + 1e-9);
        double noise = Math.max(HAND_PX * HAND_PX, lines.size() > 4 ? cost(lines, s, width, height) / (lines.size() - 4) : 0);
        return Math.sqrt(Math.max(0, noise * h.invert().get(3, 3)));
    }

    /**
     * Rotations from the vanishing points of two axes at a focal length, all ways round that keep up above and the camera outside of
     * the ground: X to the right, Z towards the camera or to the left of it.
     */
    private static List<Quat> starts(List<Line> lines, double focal, int width, int height) {
        List<Quat> out = new ArrayList<>();
        Vec3[] d = new Vec3[3];
        for (Axis a : Axis.values()) d[a.ordinal()] = vanishing(lines.stream().filter(l -> l.axis == a).toList(), focal, width, height);
        int[][] pairs = {{0, 1}, {1, 2}, {0, 2}};
        for (int[] p : pairs) {
            if (d[p[0]] == null || d[p[1]] == null) continue;
            for (int sign = 0; sign < 4; sign++) {
                Vec3 u = d[p[0]].times((sign & 1) == 0 ? 1 : -1), w = d[p[1]].times((sign & 2) == 0 ? 1 : -1);
                w = w.minus(u.times(u.dot(w)));
                if (w.length() < 0.2) continue;
                w = w.unit();
                Vec3 x, y;
                if (p[0] == 0 && p[1] == 1) {
                    x = u;
                    y = w;
                } else if (p[0] == 1) {
                    y = u;
                    x = u.cross(w);
                } else {
                    x = u;
                    y = w.cross(u);
                }
                Vec3 z = x.cross(y);
                // Rows are the world's axes in the camera: up must look up, and X to the right.
                if (y.y() < 0 || x.x() < 0) continue;
                out.add(Quat.fromMatrix(new double[] {x.x(), x.y(), x.z(), y.x(), y.y(), y.z(), z.x(), z.y(), z.z()}));
            }
        }
        return out;
    }

    /** Unit direction in the camera (x right, y up, z back) to which some lines run, or null for none; one line alone gives its own middle way. */
    private static Vec3 vanishing(List<Line> lines, double focal, int width, int height) {
        if (lines.isEmpty()) return null;
        SimpleMatrix m = new SimpleMatrix(3, 3);
        for (Line l : lines) {
            Vec3 a = ray(l.fromX, l.fromY, focal, width, height), b = ray(l.toX, l.toY, focal, width, height), n = a.cross(b).unit();
            double[] v = n.array();
            for (int i = 0; i < 3; i++) for (int j = 0; j < 3; j++) m.set(i, j, m.get(i, j) + v[i] * v[j]);
        }
        if (lines.size() == 1) {
            Line l = lines.get(0);
            return ray(l.toX, l.toY, focal, width, height).minus(ray(l.fromX, l.fromY, focal, width, height)).unit();
        }
        SimpleMatrix v = m.svd().getV().extractVector(false, 2);
        return new Vec3(v.get(0), v.get(1), v.get(2)).unit();
    }

    private static Vec3 ray(double x, double y, double focal, int width, int height) { return new Vec3((x - width / 2.0) / focal, -(y - height / 2.0) / focal, -1); }
}

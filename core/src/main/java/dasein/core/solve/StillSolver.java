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
 * The camera of a frame that stands still: rotation and, where they are not given, focal length and principal point, so
 * that every line points at the vanishing point of its axis; and its place, where points of the set are known. Least
 * squares over the distances of the lines' ends and of the points, which are what a person sees. Lines alone are
 * started from their vanishing points (Caprile and Torre 1990), points from three of them (Grunert) at a fan of focal
 * lengths.
 */
public final class StillSolver {
    /** How exactly a person lays a line's end or a point, pixels. */
    private static final double HAND_PX = 0.7;

    private static final double[] FAN = {0.5, 0.8, 1.2, 1.8, 2.8, 4.5};
    private static final int STEPS = 60;
    /** A focal length this uncertain is not determined. */
    private static final double UNDETERMINED = 0.25;
    /** A principal point that is solved stays within some of these of the middle, parts of the width. */
    private static final double CENTRE_PART = 0.1;

    private static final double EYE_HEIGHT = 1.6;

    private final List<Line> lines;
    private final List<CameraMatch.Placed> points;
    private final int width;
    private final int height;
    private final boolean freeFocal;
    private final boolean freeCentre;

    private StillSolver(
            List<Line> lines,
            List<CameraMatch.Placed> points,
            int width,
            int height,
            boolean freeFocal,
            boolean freeCentre) {
        this.lines = lines;
        this.points = points;
        this.width = width;
        this.height = height;
        this.freeFocal = freeFocal;
        this.freeCentre = freeCentre;
    }

    public enum Axis {
        X(Vec3.X),
        Y(Vec3.Y),
        Z(Vec3.Z);

        final Vec3 direction;

        Axis(Vec3 d) {
            direction = d;
        }
    }

    /** Ends in pixels of the plate; which end is which does not matter. */
    public record Line(Axis axis, double fromX, double fromY, double toX, double toY) {
        public Line {
            if (!(Math.hypot(toX - fromX, toY - fromY) > 2))
                throw new BadInput("a line of the perspective is shorter than two pixels");
        }
    }

    private record State(Quat toWorld, Vec3 eye, double focal, double cx, double cy) {}

    /**
     * @param centre whether the principal point is solved, or is where it meets so much more that it cannot be the
     *     hand's doing; else it is the picture's middle
     * @param focalPx held when above 0, else solved
     * @param first frames for which the camera stands so, {@code last} inclusive
     * @throws NoSolution when lines and points do not determine the perspective
     */
    public static SolvedCamera solve(
            List<Line> lines,
            CameraMatch match,
            LensTerms.Ask centre,
            int width,
            int height,
            Rate rate,
            int first,
            int last,
            double focalPx) {
        List<CameraMatch.Placed> points = match.placed();
        refuseTooFew(lines, points, focalPx);
        StillSolver s = new StillSolver(lines, points, width, height, focalPx <= 0, centre == LensTerms.Ask.ALWAYS);
        State best = s.best(focalPx);
        String chosen = "";
        if (centre == LensTerms.Ask.FIND) {
            StillSolver free = new StillSolver(lines, points, width, height, focalPx <= 0, true);
            State shifted = free.over() > 0 ? free.best(focalPx) : null;
            if (shifted != null && best != null && free.explains(shifted, s, best)) {
                chosen = String.format(
                        Locale.ROOT,
                        "The centre lies %.0f px beside the middle: so it is met within %.2f px instead of %.2f.",
                        Math.hypot(shifted.cx - width / 2.0, shifted.cy - height / 2.0),
                        Math.sqrt(free.met(shifted) / free.seen()),
                        Math.sqrt(s.met(best) / s.seen()));
                s = free;
                best = shifted;
            }
        }
        if (best == null)
            throw new NoSolution(
                    points.isEmpty()
                            ? "no perspective fits these lines; look whether each is given to its own axis"
                            : "no camera sees these points so; look whether each has its own place");
        double off = focalPx > 0 ? 0 : s.focalOff(best);
        if (off > UNDETERMINED)
            throw new NoSolution(String.format(
                    Locale.ROOT,
                    points.isEmpty()
                            ? "the lines hardly run together, so the focal length stays uncertain by %.0f "
                                    + "%%: draw longer ones along another axis, or give the focal length"
                            : "the points lie nearly in one plane that the camera faces, so the focal "
                                    + "length stays uncertain by %.0f %%: add points at other depths, or "
                                    + "give the focal length",
                    100 * off));
        int seen = lines.size() + points.size();
        double rms = Math.sqrt(s.cost(best) / seen), k = points.isEmpty() ? 1 : match.scale(best.eye.y());
        Pose pose = new Pose(best.toWorld, best.eye.times(k));
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int n = first; n <= last; n++) frames.add(new SolvedCamera.Frame(n, pose, best.focal, rms, seen));
        SolvedCamera c = new SolvedCamera(
                width,
                height,
                rate,
                "locked",
                rms,
                0,
                new Lens(best.focal, best.cx, best.cy, 0, 0),
                frames,
                List.of(),
                off * best.focal,
                remarks(points.isEmpty(), seen, rms, chosen));
        return match.measured() ? c.asMeasured() : c;
    }

    /** The state that costs least over a fan of focal lengths, or null. */
    private State best(double focalPx) {
        State best = null;
        double cost = Double.MAX_VALUE;
        for (double f : focalPx > 0 ? new double[] {focalPx} : FAN) {
            double focal = focalPx > 0 ? f : f * width;
            for (State start : points.isEmpty()
                    ? starts(lines, focal, width, height).stream()
                            .map(q -> new State(q, new Vec3(0, EYE_HEIGHT, 0), focal, width / 2.0, height / 2.0))
                            .toList()
                    : fromPoints(focal)) {
                State t = refined(start);
                double c = cost(t);
                if (c < cost && t.focal > 0.1 * width && t.focal < 60 * width) {
                    cost = c;
                    best = t;
                }
            }
        }
        return best;
    }

    private int seen() {
        return lines.size() + points.size();
    }

    /** Numbers that are met over those that are solved for. */
    private int over() {
        return lines.size() + 2 * points.size() - unknowns();
    }

    /** What is off, without the wish for a centre in the middle. */
    private double met(State s) {
        double sum = 0;
        double[] e = off(s);
        for (int k = 0; k < lines.size() + 2 * points.size(); k++) sum += e[k] * e[k];
        return sum;
    }

    /**
     * Whether a centre that is solved explains more than two numbers more must, by the Bayesian information criterion
     * (Schwarz 1978) with the noise of a hand, or what is left where that is more; and the focal length stays known.
     */
    private boolean explains(State shifted, StillSolver middle, State best) {
        double noise = Math.max(HAND_PX * HAND_PX, met(shifted) / over()), n = lines.size() + 2 * points.size();
        return middle.met(best) - met(shifted) > noise * 2 * Math.log(n)
                && (!freeFocal || focalOff(shifted) < UNDETERMINED)
                && Math.hypot(shifted.cx - width / 2.0, shifted.cy - height / 2.0) < CENTRE_PART * width;
    }

    private static void refuseTooFew(List<Line> lines, List<CameraMatch.Placed> points, double focalPx) {
        long axes = lines.stream().map(Line::axis).distinct().count();
        if (points.isEmpty()) {
            if (axes < 2)
                throw new NoSolution("lines along two axes at least are needed; there are lines along "
                        + (axes == 0 ? "none" : "one only"));
            if (lines.size() < (focalPx > 0 ? 3 : 4))
                throw new NoSolution(
                        "there are " + lines.size() + " lines; two along each of two axes are " + "the least");
        } else if (points.size() < 4) {
            throw new NoSolution("there are " + points.size()
                    + " known points; four are the least, six that do not lie in one plane are good");
        }
    }

    private static List<String> remarks(boolean linesOnly, int seen, double rms, String centre) {
        List<String> remarks = new ArrayList<>(List.of(String.format(
                Locale.ROOT,
                linesOnly
                        ? "The camera stands still: %d lines meet their axes within %.2f px."
                        : "The camera stands still: %d known points and lines are met within %.2f px.",
                seen,
                rms)));
        if (!centre.isEmpty()) remarks.add(centre);
        if (rms > 3)
            remarks.add(
                    linesOnly
                            ? "Some lines do not agree: one of them may not run along its axis."
                            : "Some do not agree: a point may be given to the wrong place, or the rectangle "
                                    + "has other proportions.");
        return remarks;
    }

    /** Distance in pixels of each line's ends from the direction to its vanishing point. */
    public static double[] residuals(List<Line> lines, SolvedCamera c) {
        State s = state(c);
        return lines.stream().mapToDouble(l -> Math.abs(residual(l, s))).toArray();
    }

    /** Distance in pixels of each known point from where the camera sees it. */
    public static double[] pointResiduals(List<CameraMatch.Placed> points, SolvedCamera c) {
        State s = state(c);
        return points.stream()
                .mapToDouble(p -> Math.hypot(offX(p, s), offY(p, s)))
                .toArray();
    }

    private static State state(SolvedCamera c) {
        return new State(
                c.frames().get(0).pose().rotation(),
                c.frames().get(0).pose().position(),
                c.lens().focalPx(),
                c.centreX(),
                c.centreY());
    }

    private static double residual(Line l, State s) {
        Vec3 v = s.toWorld.conjugate().rotate(l.axis.direction);
        double mx = 0.5 * (l.fromX + l.toX), my = 0.5 * (l.fromY + l.toY);
        // The vanishing point, homogeneous; the line through the middle and it; the distance of an end from that.
        double hx = s.focal * v.x() - s.cx * v.z(), hy = -s.focal * v.y() - s.cy * v.z(), hw = -v.z();
        double a = my * hw - hy, b = hx - mx * hw, c = mx * hy - my * hx, n = Math.hypot(a, b);
        return n < 1e-12 ? 0 : (a * l.toX + b * l.toY + c) / n;
    }

    private static double offX(CameraMatch.Placed p, State s) {
        Vec3 q = s.toWorld.conjugate().rotate(p.position().minus(s.eye));
        return q.z() > -1e-9 ? 1e4 : s.cx - s.focal * q.x() / q.z() - p.x();
    }

    private static double offY(CameraMatch.Placed p, State s) {
        Vec3 q = s.toWorld.conjugate().rotate(p.position().minus(s.eye));
        return q.z() > -1e-9 ? 1e4 : s.cy + s.focal * q.y() / q.z() - p.y();
    }

    /** What is off: lines, points, and a principal point that is solved from the middle. */
    private double[] off(State s) {
        double[] e = new double[lines.size() + 2 * points.size() + (freeCentre ? 2 : 0)];
        int n = 0;
        for (Line l : lines) e[n++] = residual(l, s);
        for (CameraMatch.Placed p : points) {
            e[n++] = offX(p, s);
            e[n++] = offY(p, s);
        }
        if (freeCentre) {
            e[n++] = HAND_PX * (s.cx - width / 2.0) / (CENTRE_PART * width);
            e[n] = HAND_PX * (s.cy - height / 2.0) / (CENTRE_PART * width);
        }
        return e;
    }

    private double cost(State s) {
        double sum = 0;
        for (double e : off(s)) sum += e * e;
        return sum;
    }

    private int unknowns() {
        return 3 + (freeFocal ? 1 : 0) + (freeCentre ? 2 : 0) + (points.isEmpty() ? 0 : 3);
    }

    /** Unknowns in this order: turn, focal length, principal point, place. */
    private State moved(State s, double[] d) {
        int n = 3;
        double focal = freeFocal ? s.focal * Math.exp(Math.max(-0.5, Math.min(0.5, d[n++]))) : s.focal,
                cx = s.cx,
                cy = s.cy;
        if (freeCentre) {
            cx += width * d[n++];
            cy += width * d[n++];
        }
        // The place in parts of its distance from the points, so that its slopes are of the others' size.
        double far = points.isEmpty()
                ? 0
                : Math.max(1e-9, s.eye.distance(points.get(0).position()));
        Vec3 eye = points.isEmpty() ? s.eye : s.eye.plus(new Vec3(d[n], d[n + 1], d[n + 2]).times(far));
        return new State(
                s.toWorld.times(Quat.fromRotationVector(d[0], d[1], d[2])).unit(), eye, focal, cx, cy);
    }

    /** Slopes by central differences: a few unknowns, lines and points cost nothing. */
    private SimpleMatrix slopes(State s) {
        int n = unknowns();
        SimpleMatrix j = new SimpleMatrix(off(s).length, n);
        for (int k = 0; k < n; k++) {
            double[] up = new double[n], down = new double[n];
            up[k] = 1e-5;
            down[k] = -1e-5;
            double[] a = off(moved(s, up)), b = off(moved(s, down));
            for (int i = 0; i < a.length; i++) j.set(i, k, (a[i] - b[i]) / 2e-5);
        }
        return j;
    }

    private State refined(State start) {
        State s = start;
        double cost = cost(s), lambda = 1e-3;
        int n = unknowns();
        for (int step = 0; step < STEPS && lambda < 1e8; step++) {
            SimpleMatrix j = slopes(s),
                    h = j.transpose().mult(j),
                    e = new SimpleMatrix(j.getNumRows(), 1, true, off(s));
            for (int k = 0; k < n; k++) h.set(k, k, h.get(k, k) * (1 + lambda) + 1e-9);
            SimpleMatrix d = h.solve(j.transpose().mult(e));
            double[] move = new double[n];
            for (int k = 0; k < n; k++) move[k] = -d.get(k);
            State next = moved(s, move);
            double c = cost(next);
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

    /**
     * One standard deviation of the focal length as a part of it, for lines and points laid as exactly as a person
     * does, or as these are.
     */
    private double focalOff(State s) {
        SimpleMatrix j = slopes(s), h = j.transpose().mult(j);
        int n = unknowns(), over = j.getNumRows() - n;
        for (int k = 0; k < n; k++) h.set(k, k, h.get(k, k) + 1e-9);
        double noise = Math.max(HAND_PX * HAND_PX, over > 0 ? cost(s) / over : 0);
        return Math.sqrt(Math.max(0, noise * h.invert().get(3, 3)));
    }

    /** Cameras that see three of the points where they are, at a focal length, and the others as near as may be. */
    private List<State> fromPoints(double focal) {
        List<double[]> at = new ArrayList<>(), rays = new ArrayList<>();
        for (CameraMatch.Placed p : points) {
            at.add(new double[] {
                p.position().x(), p.position().y(), p.position().z(), 1
            });
            rays.add(new double[] {(p.x() - width / 2.0) / focal, (p.y() - height / 2.0) / focal});
        }
        List<State> out = new ArrayList<>();
        for (int a = 0; a < Math.min(4, points.size()); a++) {
            int[] pick = {a, (a + 1) % points.size(), (a + 2) % points.size()};
            double[][] p = new double[3][], q = new double[3][];
            for (int k = 0; k < 3; k++) {
                p[k] = java.util.Arrays.copyOf(at.get(pick[k]), 3);
                q[k] = rays.get(pick[k]);
            }
            for (Rigid r : Resection.threePoints(p, q)) {
                Pose pose = MovingSolver.pose(r);
                out.add(new State(pose.rotation(), pose.position(), focal, width / 2.0, height / 2.0));
            }
        }
        return out;
    }

    /**
     * Rotations from the vanishing points of two axes at a focal length, all ways round that keep up above and the
     * camera outside of the ground: X to the right, Z towards the camera or to the left of it.
     */
    private static List<Quat> starts(List<Line> lines, double focal, int width, int height) {
        List<Quat> out = new ArrayList<>();
        Vec3[] d = new Vec3[3];
        for (Axis a : Axis.values())
            d[a.ordinal()] = vanishing(lines.stream().filter(l -> l.axis == a).toList(), focal, width, height);
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

    /**
     * Unit direction in the camera (x right, y up, z back) to which some lines run, or null for none; one line alone
     * gives its own middle way.
     */
    private static Vec3 vanishing(List<Line> lines, double focal, int width, int height) {
        if (lines.isEmpty()) return null;
        SimpleMatrix m = new SimpleMatrix(3, 3);
        for (Line l : lines) {
            Vec3 a = ray(l.fromX, l.fromY, focal, width, height),
                    b = ray(l.toX, l.toY, focal, width, height),
                    n = a.cross(b).unit();
            double[] v = n.array();
            for (int i = 0; i < 3; i++) for (int j = 0; j < 3; j++) m.set(i, j, m.get(i, j) + v[i] * v[j]);
        }
        if (lines.size() == 1) {
            Line l = lines.get(0);
            return ray(l.toX, l.toY, focal, width, height)
                    .minus(ray(l.fromX, l.fromY, focal, width, height))
                    .unit();
        }
        SimpleMatrix v = m.svd().getV().extractVector(false, 2);
        return new Vec3(v.get(0), v.get(1), v.get(2)).unit();
    }

    private static Vec3 ray(double x, double y, double focal, int width, int height) {
        return new Vec3((x - width / 2.0) / focal, -(y - height / 2.0) / focal, -1);
    }
}

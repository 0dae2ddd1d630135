package dasein.core.light.sun;

import dasein.core.BadInput;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import org.ejml.simple.SimpleEVD;
import org.ejml.simple.SimpleMatrix;

/**
 * The sun's direction from shadows in the plate. The shadow's tip lies on the known ground. The sun stands in the plane
 * of the camera, the top that was drawn and that tip; and, where the foot below the top is drawn, in the upright plane
 * of foot and tip. Each plane is one condition {@code n . s = 0}; all are solved together by weighted least squares,
 * each by how far a pixel more or less turns it, and by how far it lies off the others (Cauchy).
 */
public final class ShadowSun {
    /** Pixels by which a hand is off. */
    private static final double HAND = 0.7;

    private static final int ROUNDS = 30;
    /** Degrees, and standard deviations, from which on a line is said to contradict the others. */
    private static final double CONTRADICTS_DEG = 1, CONTRADICTS_SIGMAS = 4;

    private static final double VAGUE_DEG = 12;

    /** @param offDeg by how much the line's conditions miss the sun that was found */
    public record Drawn(String name, double offDeg, boolean contradicts) {}

    /**
     * @param towards unit, to the sun; @param residualDeg root mean square over all conditions
     * @param spreadDeg one standard deviation of the direction along which it is worst known
     */
    public record Result(Vec3 towards, double residualDeg, double spreadDeg, List<Drawn> lines) {
        public double elevationDeg() {
            return Math.toDegrees(Math.asin(towards.y()));
        }

        /** 0 straight along -Z, 90 to +X. */
        public double azimuthDeg() {
            return Math.toDegrees(Math.atan2(towards.x(), -towards.z()));
        }
    }

    /** n . s = 0, with the standard deviation of its angle; what lies ahead of s has a positive product with it. */
    private record Plane(int line, Vec3 n, double sigma, Vec3 ahead) {}

    private ShadowSun() {}

    /**
     * @throws BadInput when a line is impossible, they do not hold a direction, or what they hold lies below the ground
     */
    public static Result of(SolvedCamera camera, List<ShadowLine> lines) {
        if (lines.isEmpty()) throw new BadInput("no shadow was drawn");
        List<Plane> planes = new ArrayList<>();
        for (int i = 0; i < lines.size(); i++) planes.addAll(planes(camera, lines.get(i), i));
        if (planes.size() < 2)
            throw new BadInput("one line without the foot below its top leaves the sun free in a plane: draw the foot, "
                    + "or another shadow");
        double[] weight = new double[planes.size()];
        java.util.Arrays.fill(weight, 1);
        Vec3 s = null;
        double spread = 0, scale = 1;
        for (int round = 0; round < ROUNDS; round++) {
            SimpleMatrix a = new SimpleMatrix(3, 3);
            for (int k = 0; k < planes.size(); k++) {
                double[] n = planes.get(k).n.array();
                double w = weight[k] / (planes.get(k).sigma * planes.get(k).sigma);
                for (int i = 0; i < 3; i++) for (int j = 0; j < 3; j++) a.set(i, j, a.get(i, j) + w * n[i] * n[j]);
            }
            SimpleEVD<SimpleMatrix> e = a.eig();
            int least = 0;
            for (int k = 1; k < 3; k++)
                if (e.getEigenvalue(k).getReal() < e.getEigenvalue(least).getReal()) least = k;
            double second = Double.MAX_VALUE;
            for (int k = 0; k < 3; k++)
                if (k != least) second = Math.min(second, e.getEigenvalue(k).getReal());
            SimpleMatrix v = e.getEigenVector(least);
            s = new Vec3(v.get(0), v.get(1), v.get(2)).unit();
            if (s.y() < 0) s = s.times(-1);
            double[] off = new double[planes.size()];
            for (int k = 0; k < off.length; k++)
                off[k] = Math.abs(Math.asin(clamp(planes.get(k).n.dot(s)))) / planes.get(k).sigma;
            double[] sorted = off.clone();
            java.util.Arrays.sort(sorted);
            // Drawn no better than a hand draws, however well a few happen to agree; and hardly worse.
            scale = Math.max(1, Math.min(1.5, 1.48 * sorted[(sorted.length - 1) / 2]));
            for (int k = 0; k < off.length; k++)
                weight[k] = 1 / (1 + Math.pow(off[k] / (Math.max(scale, 20 * Math.pow(0.7, round))), 2));
            spread = scale / Math.sqrt(Math.max(second, 1e-12));
        }
        if (Math.toDegrees(spread) > VAGUE_DEG)
            throw new BadInput(
                    "the shadows all hold nearly the same plane, so the sun could stand anywhere in it: draw "
                            + "the foot of one, or a shadow elsewhere in the picture");
        return result(lines, planes, s, spread, scale);
    }

    /** @throws BadInput when a shadow is impossible by itself, however many others there are */
    public static void check(SolvedCamera camera, ShadowLine line) {
        planes(camera, line, 0);
    }

    private static Result result(List<ShadowLine> lines, List<Plane> planes, Vec3 s, double spread, double scale) {
        double square = 0;
        List<Drawn> out = new ArrayList<>();
        for (int i = 0; i < lines.size(); i++) {
            double worst = 0, sigmas = 0;
            for (Plane p : planes) {
                if (p.line != i) continue;
                double off = Math.abs(Math.asin(clamp(p.n.dot(s))));
                // A plane that holds goes both ways: the sun must stand on the side of what casts the shadow.
                if (p.ahead.dot(s) < 0) off = Math.PI - off;
                worst = Math.max(worst, off);
                sigmas = Math.max(sigmas, off / p.sigma);
                square += off * off / planes.size();
            }
            out.add(new Drawn(
                    lines.get(i).name(),
                    Math.toDegrees(worst),
                    Math.toDegrees(worst) > CONTRADICTS_DEG && sigmas > CONTRADICTS_SIGMAS * scale));
        }
        long behind = out.stream().filter(d -> d.offDeg > 90).count();
        if (behind > 0 && behind * 2 >= out.size())
            throw new BadInput("by these shadows the sun would stand below the ground: is the tip on the far side of "
                    + "what casts it?");
        return new Result(s, Math.toDegrees(Math.sqrt(square)), Math.toDegrees(spread), out);
    }

    private static double clamp(double v) {
        return Math.max(-1, Math.min(1, v));
    }

    private static List<Plane> planes(SolvedCamera c, ShadowLine l, int at) {
        if (l.tip() == null) throw new BadInput("the shadow " + l.name() + " has no tip");
        if (l.top() == null && l.foot() == null)
            throw new BadInput("of what casts the shadow " + l.name() + " neither top nor foot is drawn");
        if (!c.has(l.frame()) || !c.has(l.tipFrame()))
            throw new BadInput("the camera of the frame in which " + l.name() + " is drawn is not known");
        List<Plane> out = new ArrayList<>();
        if (l.top() != null) {
            Vec3 n = byTop(c, l, 0, 0, 0, 0);
            if (n == null)
                throw new BadInput("the top of what casts the shadow " + l.name() + " and its tip are one place");
            double sigma = sigma(
                    n,
                    byTop(c, l, 1, 0, 0, 0),
                    byTop(c, l, 0, 1, 0, 0),
                    byTop(c, l, 0, 0, 1, 0),
                    byTop(c, l, 0, 0, 0, 1));
            Vec3 tip = ground(c, l.tipFrame(), l.tip(), l.tipHeight(), l.name());
            // Where the top's ray passes above the tip's upright line, or as it is: up is ahead.
            out.add(new Plane(
                    at,
                    n,
                    sigma,
                    l.foot() == null ? Vec3.Y : foot(c, l, 0, 0).minus(tip).plus(Vec3.Y)));
        }
        if (l.foot() != null) {
            Vec3 n = byFoot(c, l, 0, 0, 0, 0);
            if (n == null) throw new BadInput("the foot and the tip of the shadow " + l.name() + " are one place");
            double sigma = sigma(
                    n,
                    byFoot(c, l, 1, 0, 0, 0),
                    byFoot(c, l, 0, 1, 0, 0),
                    byFoot(c, l, 0, 0, 1, 0),
                    byFoot(c, l, 0, 0, 0, 1));
            Vec3 tip = ground(c, l.tipFrame(), l.tip(), l.tipHeight(), l.name()),
                    run = foot(c, l, 0, 0).minus(tip);
            out.add(new Plane(at, n, sigma, new Vec3(run.x(), 0, run.z())));
        }
        return out;
    }

    private static double sigma(Vec3 n, Vec3... moved) {
        double s = 0;
        for (Vec3 m : moved) {
            double turn = m == null ? 0.5 : Math.acos(Math.min(1, Math.abs(n.dot(m))));
            s += turn * turn;
        }
        return Math.max(HAND * Math.sqrt(s), 1e-5);
    }

    private static Vec3 byTop(SolvedCamera c, ShadowLine l, double a, double b, double d, double e) {
        Vec3 tip = ground(c, l.tipFrame(), moved(l.tip(), a, b), l.tipHeight(), l.name());
        double[] top = moved(l.top(), d, e);
        Pose p = pose(c, l.frame(), top[1]);
        Vec3 n = ray(c, p, l.frame(), top).cross(tip.minus(p.position()));
        return n.length() < 1e-6 * tip.distance(p.position()) ? null : n.unit();
    }

    private static Vec3 byFoot(SolvedCamera c, ShadowLine l, double a, double b, double d, double e) {
        Vec3 n = Vec3.Y.cross(ground(c, l.tipFrame(), moved(l.tip(), a, b), l.tipHeight(), l.name())
                .minus(foot(c, l, d, e)));
        return n.length() < 1e-6 ? null : n.unit();
    }

    private static Vec3 foot(SolvedCamera c, ShadowLine l, double dx, double dy) {
        return ground(c, l.frame(), moved(l.foot(), dx, dy), l.footHeight(), l.name());
    }

    private static double[] moved(double[] p, double dx, double dy) {
        return new double[] {p[0] + dx, p[1] + dy};
    }

    /** Metres from the ground to the top of what casts it, which stands upright on its foot. */
    public static double height(SolvedCamera c, ShadowLine l) {
        Vec3 foot = ground(c, l.frame(), l.foot(), 0, l.name());
        Pose p = pose(c, l.frame(), l.top()[1]);
        Vec3 d = ray(c, p, l.frame(), l.top()), to = foot.minus(p.position());
        // Where the upright comes nearest to the top's ray.
        double level = d.x() * d.x() + d.z() * d.z();
        if (level < 1e-9) throw new BadInput("the top of " + l.name() + " is seen from straight above or below");
        return p.position().y() + d.y() * (to.x() * d.x() + to.z() * d.z()) / level;
    }

    /**
     * How high what casts a place of a shadow stands over it, metres: along a drawn shadow the height rises evenly from
     * its foot to its top.
     *
     * @param at place on the ground
     * @return not a number when it lies beside the shadow, further than a tenth of its length
     */
    public static double heightAt(SolvedCamera c, ShadowLine l, Vec3 at) {
        Vec3 foot = ground(c, l.frame(), l.foot(), 0, l.name()), tip = ground(c, l.tipFrame(), l.tip(), 0, l.name());
        Vec3 run = tip.minus(foot), to = at.minus(foot);
        double u = to.dot(run) / run.dot(run);
        if (u < 0 || u > 1.05 || to.minus(run.times(u)).length() > 0.1 * run.length()) return Double.NaN;
        return u * height(c, l);
    }

    /**
     * Where a pixel's ray meets the level plane at that height.
     *
     * @param name whose place it is, for what is said
     */
    public static Vec3 ground(SolvedCamera c, int frame, double[] px, double height, String name) {
        Pose p = pose(c, frame, px[1]);
        Vec3 d = ray(c, p, frame, px);
        double t = (height - p.position().y()) / d.y();
        if (!(t > 0) || t > 1e5)
            throw new BadInput("a place of " + name + " lies at or above the horizon, not on the ground");
        return p.position().plus(d.times(t));
    }

    private static Pose pose(SolvedCamera c, int frame, double y) {
        return c.readout() == 0
                ? c.frame(frame).pose()
                : c.pose(frame + c.readout() * (Math.max(0, Math.min(c.height(), y)) / c.height() - 0.5));
    }

    private static Vec3 ray(SolvedCamera c, Pose p, int frame, double[] px) {
        return p.rotation().rotate(c.lens(frame).ray(px[0], px[1])).unit();
    }
}

package dasein.core.cast;

import dasein.core.math.Affine;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.Posing;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * A model's legs in a clip that walks on the spot: which joints bend them, when their feet stand, and how a foot is
 * brought somewhere else. A leg is a foot joint, whose vertices touch the ground, with the two joints above it.
 */
public final class Legs {
    private static final int SAMPLES = 96;
    /** A foot within this part of the height over the lowest point stands. */
    private static final double TOUCH = 0.02;
    /** Bones shorter than this part of the height are a foot's own. */
    private static final double SHORT = 0.06;
    /** From this part of its whole length a leg gives way. */
    private static final double SOFT = 0.96;

    /**
     * A foot on the ground, seconds into the clip; {@code to} may lie beyond the clip's end, where it goes on at its
     * beginning.
     *
     * @param first, middle, last where the foot joint is at its begin, half way and at its end, model space
     */
    public record Stand(double from, double to, Vec3 first, Vec3 middle, Vec3 last) {
        public double half() {
            return (from + to) / 2;
        }
    }

    /** @param stands in the order of time, at least one */
    public record Leg(int hip, int knee, int foot, List<Stand> stands) {}

    private final List<Leg> legs = new ArrayList<>();

    private Legs() {}

    public List<Leg> all() {
        return legs;
    }

    /** @param footing of the same model and clip */
    public static Legs of(Model m, Model.Clip clip, Footing footing) {
        Legs out = new Legs();
        double touch = TOUCH * footing.height(), dt = clip.seconds() / SAMPLES;
        // Lowest vertex of each joint's own by sample; the vertices are those that touch the ground at some time.
        Map<Integer, double[]> low = new TreeMap<>();
        Posing posing = new Posing(m);
        for (int k = 0; k < SAMPLES; k++) {
            posing.at(clip, k * dt);
            for (Model.Part p : footing.feet().parts()) {
                float[] xyz = new float[3 * p.vertices()];
                posing.place(p, xyz, null);
                for (int v = 0; v < p.vertices(); v++) {
                    double[] of = low.computeIfAbsent(foot(m, p, v, footing.height()), j -> filled());
                    of[k] = Math.min(of[k], xyz[3 * v + 1]);
                }
            }
        }
        low.forEach((foot, heights) -> {
            int knee = foot < 0 ? -1 : m.nodes().get(foot).parent(),
                    hip = knee < 0 ? -1 : m.nodes().get(knee).parent();
            // What has no two joints above it, or lies within another's foot, is no leg of its own.
            if (hip < 0 || low.containsKey(knee) || low.containsKey(hip)) return;
            List<Stand> stands = stands(m, clip, foot, heights, footing.lowest() + touch, dt);
            if (!stands.isEmpty()) out.legs.add(new Leg(hip, knee, foot, stands));
        });
        return out;
    }

    private static double[] filled() {
        double[] d = new double[SAMPLES];
        java.util.Arrays.fill(d, 1e9);
        return d;
    }

    /** The joint that a vertex follows most, or the one above it while its bone is short. */
    private static int foot(Model m, Model.Part p, int v, double height) {
        int node = p.node();
        if (p.skin() >= 0) {
            int most = 4 * v;
            for (int k = 4 * v; k < 4 * v + 4; k++) if (p.weights()[k] > p.weights()[most]) most = k;
            node = m.skins().get(p.skin()).joints()[p.joints()[most]];
        }
        for (int k = 0; k < 2 && node >= 0; k++) {
            float[] t = m.nodes().get(node).translation();
            if (Math.sqrt(t[0] * t[0] + t[1] * t[1] + t[2] * t[2]) > SHORT * height) break;
            node = m.nodes().get(node).parent();
        }
        return node;
    }

    private static List<Stand> stands(Model m, Model.Clip clip, int foot, double[] heights, double ground, double dt) {
        List<Stand> out = new ArrayList<>();
        for (int k = 0; k < SAMPLES; k++) {
            boolean begins = heights[k] <= ground && heights[(k + SAMPLES - 1) % SAMPLES] > ground;
            if (!begins) continue;
            int n = 1;
            while (n < SAMPLES && heights[(k + n) % SAMPLES] <= ground) n++;
            double from = k * dt, to = (k + n - 1) * dt;
            out.add(new Stand(
                    from, to, at(m, clip, foot, from), at(m, clip, foot, (from + to) / 2), at(m, clip, foot, to)));
        }
        return out;
    }

    private static Vec3 at(Model m, Model.Clip clip, int node, double seconds) {
        Posing p = new Posing(m);
        p.at(clip, seconds % clip.seconds());
        return place(p.node(node));
    }

    private static Vec3 place(double[] m) {
        return new Vec3(m[3], m[7], m[11]);
    }

    /**
     * Turns of hip, knee and foot that bring the foot elsewhere, in the plane in which the knee bends already; added to
     * those in {@code turns}. Near its full length the leg gives way, and the foot comes a little less far.
     *
     * @param posed as it is without them; @param by which the foot joint is to be moved, model space; @param twist of
     *     the foot about the upright, radians, against the turn it has
     */
    public static void reach(Leg leg, Posing posed, Vec3 by, double twist, Map<Integer, Quat> turns) {
        reach(leg, posed, by, Quat.axisAngle(Vec3.Y, twist), turns);
    }

    /** @param twist of the foot against the turn it has, model space */
    static void reach(Leg leg, Posing posed, Vec3 by, Quat twist, Map<Integer, Quat> turns) {
        double[] g = posed.node(leg.hip), p = posed.node(leg.knee), j = posed.node(leg.foot);
        Vec3 hip = place(g), knee = place(p), foot = place(j), to = foot.plus(by);
        double upper = knee.minus(hip).length(),
                lower = foot.minus(knee).length(),
                far = foot.minus(hip).length();
        if (upper < 1e-9 || lower < 1e-9 || far < 1e-9) return;
        double least = Math.abs(upper - lower) * 1.001 + 1e-9,
                most = (upper + lower) * 0.9999,
                now = angle(upper, lower, Math.max(least, Math.min(most, far))),
                wanted =
                        angle(
                                upper,
                                lower,
                                Math.max(
                                        least,
                                        stretched(
                                                to.minus(hip).length(),
                                                Math.max(Math.min(far, most), SOFT * most),
                                                most)));
        Vec3 axis = hip.minus(knee).cross(foot.minus(knee));
        if (axis.length() < 1e-6 * upper * lower) axis = Vec3.X;
        Quat bend = Quat.axisAngle(axis, wanted - now);
        Vec3 bent = knee.plus(bend.rotate(foot.minus(knee)));
        Quat swing = Quat.between(bent.minus(hip).unit(), to.minus(hip).unit()), own = Affine.rotation(j);
        add(turns, leg.hip, local(Affine.rotation(g), swing));
        add(turns, leg.knee, local(Affine.rotation(p), bend));
        add(
                turns,
                leg.foot,
                local(own, bend.conjugate().times(swing.conjugate()).times(twist)));
    }

    /** A leg that is nearly straight gives way softly: the last of its length would make the knee jump. */
    private static double stretched(double far, double from, double most) {
        return far <= from
                ? far
                : most <= from ? most : from + (most - from) * (1 - Math.exp((from - far) / (most - from)));
    }

    /** Between two bones whose ends are so far apart. */
    private static double angle(double a, double b, double far) {
        return Math.acos(Math.max(-1, Math.min(1, (a * a + b * b - far * far) / (2 * a * b))));
    }

    /** A turn in model space as one within a node that is turned so. */
    private static Quat local(Quat node, Quat turn) {
        return node.conjugate().times(turn).times(node).unit();
    }

    private static void add(Map<Integer, Quat> turns, int node, Quat q) {
        turns.merge(node, q, Quat::times);
    }
}

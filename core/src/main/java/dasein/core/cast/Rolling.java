package dasein.core.cast;

import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.Posing;
import java.util.HashMap;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/** Parts that turn about their own pivots: by numbers, and wheels by the way that is gone. */
final class Rolling {
    private final Blocking blocking;
    private final int first;
    private final Map<Integer, double[]> gone = new ConcurrentHashMap<>();

    /** @param first frame from which the way is counted */
    Rolling(Blocking blocking, int first) {
        this.blocking = blocking;
        this.first = first;
    }

    Map<Integer, Quat> turns(Performer p, double frame, double scale) {
        if (p.parts().isEmpty()) return Map.of();
        Model m = blocking.model(p);
        Map<Integer, Quat> out = new HashMap<>();
        for (PartTurn t : p.parts()) {
            int node = Blocking.node(m, t.node());
            if (node < 0) continue;
            Vec3 axis = t.axis().equals("x") ? Vec3.X : t.axis().equals("y") ? Vec3.Y : Vec3.Z;
            double angle = Math.toRadians(blocking.value(p, t.channel(), t.deg(), frame));
            if (t.rolls()) {
                double[] wheel = wheel(m, node, axis);
                if (wheel[0] > 1e-9) angle += wheel[1] * gone(p, frame) / (wheel[0] * scale);
            }
            out.merge(node, Quat.axisAngle(axis, angle), Quat::times);
        }
        return out;
    }

    /**
     * Radius about an axis of a node, in model units, and whether it rolls forward (along +Z) with or against that
     * axis.
     */
    private static double[] wheel(Model m, int node, Vec3 axis) {
        Posing rest = new Posing(m);
        double[] w = rest.node(node);
        Vec3 pivot = new Vec3(w[3], w[7], w[11]),
                a =
                        new Vec3(
                                        w[0] * axis.x() + w[1] * axis.y() + w[2] * axis.z(),
                                        w[4] * axis.x() + w[5] * axis.y() + w[6] * axis.z(),
                                        w[8] * axis.x() + w[9] * axis.y() + w[10] * axis.z())
                                .unit();
        double radius = 0;
        for (Model.Part p : m.parts()) {
            if (!within(m, p.node(), node)) continue;
            float[] xyz = new float[3 * p.vertices()];
            rest.place(p, xyz, null);
            for (int i = 0; i < xyz.length; i += 3) {
                Vec3 d = new Vec3(xyz[i], xyz[i + 1], xyz[i + 2]).minus(pivot);
                radius = Math.max(radius, d.minus(a.times(d.dot(a))).length());
            }
        }
        return new double[] {radius, a.x() < 0 ? -1 : 1};
    }

    private static boolean within(Model m, int node, int above) {
        for (int n = node; n >= 0; n = m.nodes().get(n).parent()) if (n == above) return true;
        return false;
    }

    /** Metres gone forwards over the ground since the first frame; backwards counts against it. */
    private double gone(Performer p, double frame) {
        if (p.route() != null) return blocking.way(p, frame);
        int whole = (int) Math.floor(frame);
        double[] sums = gone.get(p.id());
        if (sums == null || sums.length <= whole - first + 1) {
            // Outside of the map: what it goes along with may roll, too, and asks for its own sums on the way.
            sums = sums(p, Math.max(whole - first + 2, sums == null ? 64 : 2 * sums.length));
            gone.put(p.id(), sums);
        }
        if (whole < first) return step(p, first, frame);
        return sums[whole - first] + step(p, whole, frame);
    }

    private double[] sums(Performer p, int n) {
        double[] out = new double[n];
        for (int i = 1; i < n; i++) out[i] = out[i - 1] + step(p, first + i - 1, first + i);
        return out;
    }

    private double step(Performer p, double from, double to) {
        if (from == to
                || p.tie() == null && p.curve("x").empty() && p.curve("z").empty()) return 0;
        Blocking.Place a = blocking.place(p, from, 0), b = blocking.place(p, to, 0);
        return b.at().minus(a.at()).dot(a.turn().rotate(Vec3.Z));
    }
}

package dasein.core.cast;

import dasein.core.math.Affine;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.Posing;
import java.util.ArrayList;
import java.util.List;

/**
 * A part that rolls or steers, as it stands at rest, in model space.
 *
 * @param hub its pivot; @param ahead where it rolls to when it turns counter-clockwise about its axle, level
 * @param radius about the axle, model units
 * @param local its turn against the node above it; @param above that node's against the model
 */
record Wheel(int node, PartTurn turn, Vec3 hub, Vec3 ahead, double radius, Quat local, Quat above) {
    /** Of a unit axle, how much must lie level for it to roll over the ground. */
    private static final double LEVEL = 0.3;

    static List<Wheel> of(Model m, List<PartTurn> parts) {
        List<Wheel> out = new ArrayList<>();
        Posing rest = null;
        for (PartTurn t : parts) {
            int node = t.wheel() ? Blocking.node(m, t.node()) : -1;
            if (node < 0) continue;
            if (rest == null) rest = new Posing(m);
            Wheel w = of(m, rest, node, t);
            if (w != null) out.add(w);
        }
        return out;
    }

    private static Wheel of(Model m, Posing rest, int node, PartTurn t) {
        double[] w = rest.node(node);
        Vec3 hub = new Vec3(w[3], w[7], w[11]);
        Quat turn = Affine.rotation(w);
        Vec3 axle = turn.rotate(t.axis().equals("x") ? Vec3.X : t.axis().equals("y") ? Vec3.Y : Vec3.Z);
        // Of a part that only steers, as a fork does, the axis is the one its wheel would have.
        Vec3 ahead = new Vec3(-axle.z(), 0, axle.x());
        if (ahead.length() < LEVEL) {
            if (t.rolls()) return null;
            ahead = Vec3.Z;
        }
        double radius = 0;
        for (Model.Part p : m.parts()) {
            if (!within(m, p.node(), node)) continue;
            float[] xyz = new float[3 * p.vertices()];
            rest.place(p, xyz, null);
            for (int i = 0; i < xyz.length; i += 3) {
                Vec3 d = new Vec3(xyz[i], xyz[i + 1], xyz[i + 2]).minus(hub);
                radius = Math.max(radius, d.minus(axle.times(d.dot(axle))).length());
            }
        }
        int parent = m.nodes().get(node).parent();
        Quat above = parent < 0 ? Quat.IDENTITY : Affine.rotation(rest.node(parent));
        return new Wheel(
                node,
                t,
                hub,
                ahead.unit(),
                radius,
                above.conjugate().times(turn).unit(),
                above);
    }

    static boolean within(Model m, int node, int above) {
        for (int n = node; n >= 0; n = m.nodes().get(n).parent()) if (n == above) return true;
        return false;
    }

    /**
     * Where a body with such wheels turns about, over the ground: the middle of those that roll and do not steer, which
     * can only go straight on (Ackermann's condition); null where there are none.
     */
    static Vec3 fixed(List<Wheel> all) {
        List<Wheel> fixed =
                all.stream().filter(w -> w.turn.rolls() && !w.turn.steers()).toList();
        Vec3 sum = fixed.stream().map(Wheel::hub).reduce(Vec3.ZERO, Vec3::plus);
        return fixed.isEmpty() ? null : sum.times(1.0 / fixed.size());
    }
}

package dasein.shoot;

import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;

/** What of the mule is painted: hull, cab, fenders, lockers and hatches, all laid out on one sheet. */
final class MuleHull {
    /** Sheet widths a metre, and where its rows begin: seen from the side, from above, from front and back. */
    static final double SCALE = 0.27, LEFT = 0.02, SIDE = 0.005, ABOVE = 0.285, ENDS = 0.725, BACK = 0.52;
    /** Middle of what is seen: along, across, up. */
    static final double STERN = -1.62, EDGE = -0.80, TOP = 1.38;

    private MuleHull() {}

    static Shape shape() {
        Shape s = new Shape();
        hull(s);
        cab(s);
        for (int k = 0; k < 6; k++) fender(s, k % 2 == 0 ? -1 : 1, Mule.AXLES[k / 2]);
        plates(s);
        s.fromTheSides((axis, n, p) -> switch (axis) {
            case 0 -> new double[] {LEFT + SCALE * (p.z() - STERN), SIDE + SCALE * (TOP - p.y())};
            case 1 -> new double[] {LEFT + SCALE * (p.z() - STERN), ABOVE + SCALE * (p.x() - EDGE)};
            default -> new double[] {(n > 0 ? LEFT : BACK) + SCALE * (p.x() - EDGE), ENDS + SCALE * (TOP - p.y())};
        });
        return s;
    }

    private static void hull(Shape s) {
        List<Shape.Ring> rings = new ArrayList<>();
        int n = 48;
        for (int i = 0; i <= n; i++) {
            double t = (double) i / n,
                    z = -1.5 + 3.05 * t,
                    bow = Math.max(0, (t - 0.72) / 0.28),
                    stern = Math.max(0, (0.10 - t) / 0.10);
            double half = 0.30 - 0.12 * bow * bow - 0.03 * stern, w = 0.52 * (1 - 0.38 * bow * bow - 0.05 * stern);
            Vec3 c = new Vec3(0, 0.72 + 0.16 * bow * bow, z);
            for (int k = 3; k >= 1 && i == 0; k--) rings.add(rounded(c, -1, k, w, half));
            rings.add(new Shape.Ring(c, Vec3.X, Vec3.Y, w, half, 5, 0, 0, 0));
            for (int k = 1; k <= 3 && i == n; k++) rings.add(rounded(c, 1, k, w, half));
        }
        s.loft(rings, 56);
        s.lid(rings.get(0), 56, true);
        s.lid(rings.get(rings.size() - 1), 56, false);
    }

    /** The edges of bow and stern are rounded over three rings. */
    private static Shape.Ring rounded(Vec3 c, int way, int k, double w, double half) {
        double a = k * Math.PI / 6, in = 0.035 * (1 - Math.cos(a));
        return new Shape.Ring(
                c.plus(new Vec3(0, 0, way * 0.025 * Math.sin(a))), Vec3.X, Vec3.Y, w - in, half - in, 5, 0, 0, 0);
    }

    /** Stands on the hull; its front leans back under the windscreen. */
    private static void cab(Shape s) {
        List<Shape.Ring> rings = new ArrayList<>();
        for (int i = 0; i <= 14; i++) {
            double t = Math.min(1, i / 9.0), r = Math.max(0, i - 9) / 5.0, a = r * Math.PI / 2;
            double in = 0.07 * (1 - Math.cos(a));
            rings.add(new Shape.Ring(
                    new Vec3(0, 0.96 + 0.33 * t + 0.055 * Math.sin(a), cabMiddle(t)),
                    Vec3.X,
                    Vec3.Z.times(-1),
                    0.425 - 0.055 * t - in,
                    cabHalf(t) - in,
                    7,
                    0,
                    0,
                    0));
        }
        s.loft(rings, 72);
        s.lid(rings.get(14), 72, false);
    }

    /** @param t 0 at its foot, 1 where the roof begins */
    static double cabMiddle(double t) {
        return 0.52 - 0.10 * t;
    }

    static double cabHalf(double t) {
        return 0.49 - 0.14 * t;
    }

    private static void fender(Shape s, int side, double axle) {
        List<Shape.Ring> arch = new ArrayList<>(), lip = new ArrayList<>();
        int n = 40;
        for (int i = 0; i <= n; i++) {
            double t = (double) i / n, a = Math.PI * (0.05 + 0.90 * t), r = 0.435;
            // Towards both ends it draws in to a round edge.
            double near = Math.min(t, 1 - t) * 0.90 * Math.PI * r / 0.06,
                    end = near >= 1 ? 1 : Math.sqrt(Math.max(0, 1 - (1 - near) * (1 - near)));
            Vec3 out = new Vec3(0, Math.sin(a), Math.cos(a)), c = new Vec3(0.62 * side, Mule.WHEEL, axle);
            double w = 0.12 + 0.05 * end;
            arch.add(new Shape.Ring(
                    c.plus(out.times(r)),
                    Vec3.X,
                    out,
                    w * Math.max(0.02, end),
                    0.016 * Math.max(0.02, end),
                    3.2,
                    0,
                    0,
                    0));
            double round = 0.014 * Math.max(0.03, end);
            lip.add(new Shape.Ring(
                    c.plus(out.times(r - 0.008)).plus(new Vec3((w * end - 0.006) * side, 0, 0)),
                    Vec3.X,
                    out,
                    round,
                    round,
                    2,
                    0,
                    0,
                    0));
        }
        Collections.reverse(arch);
        Collections.reverse(lip);
        s.loft(arch, 24);
        s.loft(lip, 12);
    }

    /** Hatches that stand a little proud, lockers, the bonnet's scoop. */
    private static void plates(Shape s) {
        s.put(0, 1.028, 1.18, 0).box(0.50, 0.02, 0.26, 0.006, 1);
        s.put(0, 1.045, 1.20, 0).box(0.26, 0.02, 0.12, 0.008, 1);
        for (int side = -1; side <= 1; side += 2) {
            s.put(0.516 * side, 0.80, -0.46, 0).box(0.02, 0.20, 0.40, 0.006, 1);
            s.put(0.516 * side, 0.80, -1.20, 0).box(0.02, 0.20, 0.30, 0.006, 1);
        }
        s.put(0, 1.352, 0.40, 0).box(0.36, 0.02, 0.34, 0.008, 1);
        s.put(0, 0.74, -1.53, 0).box(0.56, 0.30, 0.02, 0.008, 1);
    }
}

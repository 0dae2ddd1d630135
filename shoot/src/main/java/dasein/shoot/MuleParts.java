package dasein.shoot;

import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;

/** What is fitted to the mule's hull. */
final class MuleParts {
    private static final Vec3[] HEADLAMPS = {new Vec3(-0.235, 0.875, 1.54), new Vec3(0.235, 0.875, 1.54)};
    private static final Quat AHEAD = Quat.axisAngle(Vec3.X, Math.PI / 2), ACROSS = Quat.axisAngle(Vec3.Z, Math.PI / 2);
    /** How far the cab's front leans back. */
    private static final double RAKE = Math.atan2(0.24, 0.33);

    /** Round all along, both ends too. */
    private static void bar(Shape s, Vec3 a, Vec3 b, double r) {
        Vec3 along = b.minus(a).unit(), side = Math.abs(along.x()) > 0.9 ? Vec3.Y : Vec3.X;
        Vec3 right = side.minus(along.times(side.dot(along))).unit(), up = along.cross(right);
        List<Shape.Ring> rings = new ArrayList<>();
        for (int k = 0; k <= 9; k++) {
            double angle = (k < 5 ? k : 9 - k) * Math.PI / 8, wide = Math.max(1e-4, r * Math.sin(angle));
            Vec3 in = along.times(r * (1 - Math.cos(angle)));
            rings.add(new Shape.Ring(k < 5 ? a.plus(in) : b.minus(in), right, up, wide, wide, 2, 0, 0, 0));
        }
        s.at = Pose.IDENTITY;
        s.loft(rings, 14);
    }

    private static void turned(Shape s, Vec3 at, Quat q, double[] ys, double[] rs, int sides) {
        s.at = new Pose(q, at);
        s.lathe(ys, rs, sides, 1, 1);
    }

    Shape fittings() {
        Shape s = new Shape();
        rail(s);
        front(s);
        // Axles, their cases, exhaust, steps along the sides.
        for (double z : Mule.AXLES) {
            turned(
                    s,
                    new Vec3(0, Mule.WHEEL, z),
                    ACROSS,
                    new double[] {-0.60, -0.60, 0.60, 0.60},
                    new double[] {0, 0.05, 0.05, 0},
                    16);
            s.put(0, 0.46, z, 0).box(0.5, 0.16, 0.16, 0.02, 1);
        }
        for (int side = -1; side <= 1; side += 2) {
            bar(s, new Vec3(0.50 * side, 0.50, -1.25), new Vec3(0.50 * side, 0.50, 1.25), 0.028);
            bar(s, new Vec3(0.34 * side, 1.09, 0.84), new Vec3(0.56 * side, 1.17, 0.93), 0.009);
            s.at = new Pose(Quat.axisAngle(Vec3.Y, 0.15 * side), new Vec3(0.575 * side, 1.19, 0.93));
            s.box(0.10, 0.14, 0.028, 0.012, 1);
            // Handles and hinges of doors and lockers.
            bar(s, new Vec3(0.412 * side, 1.03, 0.22), new Vec3(0.412 * side, 1.03, 0.32), 0.009);
            for (double z : new double[] {-0.46, -1.20}) {
                bar(s, new Vec3(0.535 * side, 0.84, z - 0.06), new Vec3(0.535 * side, 0.84, z + 0.06), 0.008);
                for (int e = -1; e <= 1; e += 2)
                    s.put(0.527 * side, 0.705, z + 0.10 * e, 0).box(0.016, 0.03, 0.05, 0.004, 1);
            }
        }
        bar(s, new Vec3(-0.36, 1.12, -0.06), new Vec3(-0.36, 1.62, -0.06), 0.032);
        turned(
                s,
                new Vec3(-0.36, 1.62, -0.06),
                Quat.axisAngle(Vec3.X, -0.7),
                new double[] {-0.02, 0.08, 0.08},
                new double[] {0.032, 0.034, 0.024},
                18);
        turned(
                s,
                new Vec3(0.30, 1.40, 0.16),
                Quat.IDENTITY,
                new double[] {-0.08, 0, 0.47, 0.48},
                new double[] {0.014, 0.010, 0.004, 0},
                10);
        // A lamp bar's carrier on the roof, wipers.
        bar(s, new Vec3(-0.30, 1.365, 0.70), new Vec3(0.30, 1.365, 0.70), 0.012);
        for (int side = -1; side <= 1; side += 2)
            bar(s, screen(0.04 * side, -0.10, 0.022), screen(0.17 * side, 0.045, 0.022), 0.006);
        return s;
    }

    private static void rail(Shape s) {
        for (int side = -1; side <= 1; side += 2) {
            for (int k = 0; k < 4; k++)
                bar(
                        s,
                        new Vec3(0.42 * side, 1.0, -1.32 + 0.42 * k),
                        new Vec3(0.42 * side, 1.25, -1.32 + 0.42 * k),
                        0.014);
            for (double y : new double[] {1.13, 1.25})
                bar(s, new Vec3(0.42 * side, y, -1.38), new Vec3(0.42 * side, y, -0.04), 0.016);
        }
        for (double y : new double[] {1.13, 1.25}) bar(s, new Vec3(-0.43, y, -1.36), new Vec3(0.43, y, -1.36), 0.016);
    }

    /** Housings of the lamps, bumper with its stays, tow eye, winch rollers. */
    private static void front(Shape s) {
        for (Vec3 p : HEADLAMPS) {
            turned(
                    s,
                    p,
                    AHEAD,
                    new double[] {-0.06, 0, 0.10, 0.115, 0.118},
                    new double[] {0.066, 0.078, 0.080, 0.076, 0.066},
                    32);
            s.at = new Pose(AHEAD, p.plus(new Vec3(0, 0, 0.112)));
            s.torus(0.070, 0.010, 36, 10);
            bar(s, p.plus(new Vec3(0, -0.075, 0.135)), p.plus(new Vec3(0, 0.075, 0.135)), 0.005);
            bar(s, p.plus(new Vec3(-0.075, 0, 0.135)), p.plus(new Vec3(0.075, 0, 0.135)), 0.005);
        }
        bar(s, new Vec3(-0.46, 0.60, 1.68), new Vec3(0.46, 0.60, 1.68), 0.042);
        for (int side = -1; side <= 1; side += 2) {
            bar(s, new Vec3(0.20 * side, 0.66, 1.46), new Vec3(0.20 * side, 0.60, 1.68), 0.026);
            bar(s, new Vec3(0.12 * side, 0.60, 1.69), new Vec3(0.12 * side, 0.98, 1.66), 0.016);
            bar(s, new Vec3(0.12 * side, 0.98, 1.66), new Vec3(0.12 * side, 1.0, 1.52), 0.016);
        }
        bar(s, new Vec3(-0.12, 0.80, 1.675), new Vec3(0.12, 0.80, 1.675), 0.012);
        s.at = new Pose(AHEAD, new Vec3(0, 0.55, 1.735));
        s.torus(0.035, 0.011, 24, 10);
        s.put(0, 0.58, 1.715, 0).box(0.16, 0.09, 0.03, 0.008, 1);
        // Grille of upright slats before a dark opening.
        for (int k = -3; k <= 3; k++) s.put(0.034 * k, 0.88, 1.588, 0).box(0.012, 0.17, 0.022, 0.004, 1);
        for (int e = -1; e <= 1; e += 2) s.put(0, 0.88 + 0.095 * e, 1.588, 0).box(0.28, 0.022, 0.03, 0.006, 1);
        for (int side = -1; side <= 1; side += 2)
            s.put(0.135 * side, 0.88, 1.588, 0).box(0.02, 0.2, 0.03, 0.006, 1);
    }

    /** Bowls behind the glass, seen from the front. */
    Shape reflectors() {
        Shape s = new Shape();
        for (Vec3 p : HEADLAMPS)
            turned(
                    s,
                    p,
                    AHEAD,
                    new double[] {0.110, 0.088, 0.070, 0.056, 0.050},
                    new double[] {0.066, 0.060, 0.047, 0.027, 0},
                    32);
        return s;
    }

    Shape bulbs() {
        Shape s = new Shape();
        for (Vec3 p : HEADLAMPS)
            turned(s, p, AHEAD, new double[] {0.05, 0.066, 0.078, 0.084}, new double[] {0.011, 0.012, 0.009, 0}, 16);
        return s;
    }

    Shape lenses() {
        Shape s = new Shape();
        for (Vec3 p : HEADLAMPS)
            turned(s, p, AHEAD, new double[] {0.112, 0.120, 0.126, 0.128}, new double[] {0.066, 0.05, 0.026, 0}, 32);
        return s;
    }

    Shape tailLamps() {
        Shape s = new Shape();
        for (int side = -1; side <= 1; side += 2)
            s.put(0.38 * side, 0.86, -1.535, 0).box(0.13, 0.07, 0.03, 0.012, 1);
        return s;
    }

    Shape sideLamps() {
        Shape s = new Shape();
        for (int side = -1; side <= 1; side += 2) {
            turned(
                    s,
                    new Vec3(0.62 * side, Mule.WHEEL + 0.44, 1.06),
                    AHEAD,
                    new double[] {-0.05, 0.03, 0.045, 0.05},
                    new double[] {0.026, 0.026, 0.017, 0},
                    20);
            s.put(0.20 * side, 1.385, 0.70, 0).box(0.07, 0.035, 0.045, 0.01, 1);
        }
        return s;
    }

    /** A place on the cab's front: across, up along it, and out of it. */
    private static Vec3 screen(double across, double up, double out) {
        double t = 0.56, y = 0.96 + 0.33 * t, z = MuleHull.cabMiddle(t) + MuleHull.cabHalf(t);
        return new Vec3(
                across, y + up * Math.cos(RAKE) + out * Math.sin(RAKE), z - up * Math.sin(RAKE) + out * Math.cos(RAKE));
    }

    private static Pose onScreen(double across, double up, double out) {
        return new Pose(Quat.axisAngle(Vec3.X, -RAKE), screen(across, up, out));
    }

    /** How far the cab's sides lean in. */
    private static final double LEAN = Math.atan2(0.055, 0.33);

    private static Pose onSide(int side, double z, double y) {
        double t = (y - 0.96) / 0.33;
        return new Pose(Quat.axisAngle(Vec3.Z, LEAN * side), new Vec3((0.425 - 0.055 * t) * side, y, z));
    }

    Shape windows() {
        Shape s = new Shape();
        for (int side = -1; side <= 1; side += 2) {
            s.at = onScreen(0.165 * side, 0.0, 0.004);
            s.box(0.30, 0.20, 0.012, 0.004, 1);
            s.at = onSide(side, 0.56, 1.15);
            s.box(0.012, 0.17, 0.28, 0.004, 1);
            s.at = onSide(side, 0.27, 1.15);
            s.box(0.012, 0.17, 0.16, 0.004, 1);
        }
        s.put(0, 1.16, MuleHull.cabMiddle(0.6) - MuleHull.cabHalf(0.6), 0).box(0.40, 0.16, 0.014, 0.004, 1);
        return s;
    }

    /** Round the windows, a strip under the doors, mud flaps behind the last wheels. */
    Shape seals() {
        Shape s = new Shape();
        for (int side = -1; side <= 1; side += 2) {
            for (int e = -1; e <= 1; e += 2) {
                s.at = onScreen(0.165 * side, 0.105 * e, 0.006);
                s.box(0.33, 0.016, 0.02, 0.005, 1);
                s.at = onScreen(0.165 * side + 0.155 * e, 0, 0.006);
                s.box(0.016, 0.21, 0.02, 0.005, 1);
                for (double[] w : new double[][] {{0.56, 0.14}, {0.27, 0.08}}) {
                    s.at = onSide(side, w[0], 1.15 + 0.089 * e);
                    s.box(0.02, 0.014, 2 * w[1] + 0.014, 0.005, 1);
                    s.at = onSide(side, w[0] + (w[1] + 0.004) * e, 1.15);
                    s.box(0.02, 0.19, 0.014, 0.005, 1);
                }
            }
            s.put(0.62 * side, 0.36, -1.385, 0).box(0.26, 0.26, 0.014, 0.004, 1);
        }
        return s;
    }

    Shape bed() {
        Shape s = new Shape();
        s.put(0, 1.03, -0.72, 0).box(0.86, 0.03, 1.30, 0.005, 1);
        for (int k = -3; k <= 3; k++) s.put(0.115 * k, 1.05, -0.72, 0).box(0.02, 0.014, 1.28, 0.004, 1);
        s.put(0, 0.88, 1.577, 0).box(0.26, 0.18, 0.012, 0.003, 1);
        return s;
    }

    /** A case, a drum, a rolled sheet and two cans. */
    Shape load() {
        Shape s = new Shape();
        s.put(0.16, 1.20, -0.98, 8).box(0.42, 0.28, 0.46, 0.02, 1);
        s.put(0.16, 1.335, -0.98, 8).box(0.44, 0.05, 0.48, 0.014, 1);
        turned(
                s,
                new Vec3(-0.05, 1.20, -0.45),
                ACROSS,
                new double[] {-0.30, -0.30, -0.29, -0.11, -0.10, -0.09, 0.09, 0.10, 0.11, 0.29, 0.30, 0.30},
                new double[] {0, 0.13, 0.14, 0.14, 0.148, 0.14, 0.14, 0.148, 0.14, 0.14, 0.13, 0},
                28);
        bar(s, new Vec3(-0.22, 1.12, -1.28), new Vec3(-0.22, 1.12, -0.72), 0.06);
        for (int k = 0; k < 2; k++) s.put(-0.31, 1.19, -0.20 - 0.16 * k, 0).box(0.18, 0.26, 0.12, 0.03, 1);
        return s;
    }
}

package dasein.shoot;

import static dasein.shoot.Noise.smooth;

import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.DoubleUnaryOperator;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The strider: a wading machine-creature on four long legs, 2.4 m high, one skin over nineteen joints. Clips: "walk" in
 * place and "look around". Faces +Z.
 */
final class Strider {
    private static final double WALK_SECONDS = 1.5;
    private static final double STRIDE = 0.78;
    /** Part of the cycle in which a foot stands. */
    private static final double STANCE = 0.62;

    private static final double LIFT = 0.26;
    /** Rings of a sleeve. */
    private static final int ROWS = 10;

    private static final double LOOK_SECONDS = 5;
    static final int BODY = 1, NECK = 2, NECK2 = 3, HEAD = 4, TAIL = 5, LEGS = 6;

    record Joint(String name, int parent, Vec3 at) {}

    final List<Joint> joints = new ArrayList<>();
    private final ModelFile file = new ModelFile();

    static void write(Path path) throws IOException {
        new Strider().build(path);
    }

    Strider() {
        joints.add(new Joint("root", -1, Vec3.ZERO));
        joints.add(new Joint("body", 0, new Vec3(0, 1.56, 0)));
        joints.add(new Joint("neck", BODY, new Vec3(0, 1.74, 0.56)));
        joints.add(new Joint("upper neck", NECK, new Vec3(0, 2.02, 0.74)));
        joints.add(new Joint("head", NECK2, new Vec3(0, 2.24, 0.86)));
        joints.add(new Joint("tail", BODY, new Vec3(0, 1.60, -0.62)));
        for (int leg = 0; leg < 4; leg++) {
            double side = leg % 2 == 0 ? -1 : 1, front = leg < 2 ? 1 : -1;
            String n = (leg < 2 ? "front " : "hind ") + (side < 0 ? "right" : "left");
            int hip = LEGS + 3 * leg;
            joints.add(new Joint(n + " hip", BODY, new Vec3(0.26 * side, 1.52, 0.40 * front)));
            joints.add(new Joint(n + " knee", hip, new Vec3(0.40 * side, 0.93, 0.40 * front + 0.17 * front)));
            joints.add(new Joint(n + " foot", hip + 1, new Vec3(0.42 * side, 0.07, 0.40 * front - 0.02 * front)));
        }
    }

    private void build(Path path) throws IOException {
        StriderEye eye = new StriderEye(joints.get(HEAD).at);
        List<Shape> shapes =
                List.of(shell(), limbs(), rubber(), eye.socket(), eye.bowl(), eye.core(), eye.lens(), tailLamps());
        List<Integer> materials = List.of(
                file.material("shell", StriderPaint.shell(), null),
                file.material("limbs", StriderPaint.limbs(), null),
                file.plain("rubber", new float[] {0.018f, 0.018f, 0.019f}, 0, 0.7f, null),
                file.plain("socket", new float[] {0.05f, 0.05f, 0.052f}, 0.9f, 0.38f, null),
                file.plain("reflector", new float[] {0.86f, 0.62f, 0.30f}, 1, 0.16f, null),
                file.lit("eye", new float[] {0.9f, 0.75f, 0.4f}, new float[] {1f, 0.58f, 0.18f}, 9),
                file.glass("lens", 0.02f),
                file.plain("tail lamp", new float[] {0.75f, 0.26f, 0.02f}, 0, 0.12f, null));
        int mesh = file.mesh("strider", shapes, materials, true);
        for (Joint j : joints) {
            Vec3 t = j.parent < 0 ? j.at : j.at.minus(joints.get(j.parent).at);
            file.glb.add("nodes", file.node(j.name, t));
        }
        for (int k = 0; k < joints.size(); k++) {
            ArrayNode children = null;
            for (int c = 0; c < joints.size(); c++) {
                if (joints.get(c).parent != k) continue;
                ObjectNode me = (ObjectNode) file.glb.list("nodes").get(k);
                if (children == null) children = me.putArray("children");
                children.add(c);
            }
        }
        float[] inverse = new float[16 * joints.size()];
        for (int k = 0; k < joints.size(); k++) {
            Vec3 p = joints.get(k).at;
            float[] m = {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, (float) -p.x(), (float) -p.y(), (float) -p.z(), 1};
            System.arraycopy(m, 0, inverse, 16 * k, 16);
        }
        ObjectNode skin = file.glb
                .object()
                .put("inverseBindMatrices", file.glb.floats(inverse, "MAT4", 0))
                .put("skeleton", 0);
        ArrayNode list = skin.putArray("joints");
        for (int k = 0; k < joints.size(); k++) list.add(k);
        file.glb.add("skins", skin);
        int body = file.glb.add(
                "nodes",
                file.glb.object().put("name", "strider").put("mesh", mesh).put("skin", 0));
        walk();
        lookAround();
        file.write(path, List.of(0, body));
    }

    private static Shape.Ring ring(Vec3 c, double w, double h, double square, int a, int b, double blend) {
        return new Shape.Ring(c, Vec3.X, Vec3.Y, w, h, square, a, b, blend);
    }

    /** The painted hull: a long drop with a keel, and the head's cowl. */
    private Shape shell() {
        Shape s = new Shape();
        s.patch = new double[] {0, 0, 1, 1};
        List<Shape.Ring> hull = new ArrayList<>();
        int n = 40;
        for (int i = 0; i <= n; i++) {
            double t = (double) i / n, z = -0.86 + 1.56 * t;
            double body = Math.pow(Math.sin(Math.PI * Math.pow(t, 0.82)), 0.72);
            double w = 0.30 * body + 0.001, h = 0.235 * body * (1 + 0.18 * t) + 0.001;
            hull.add(ring(new Vec3(0, 1.62 + 0.07 * t + 0.05 * Math.sin(3 * t), z), w, h, 2.5, BODY, BODY, 0));
        }
        s.loft(hull, 48);
        // Shoulder housings over the hips.
        for (int leg = 0; leg < 4; leg++) {
            Vec3 hip = joints.get(LEGS + 3 * leg).at;
            double side = Math.signum(hip.x());
            List<Shape.Ring> pod = new ArrayList<>();
            for (int i = 0; i <= 14; i++) {
                double t = i / 14.0, r = 0.13 * Math.pow(Math.sin(Math.PI * Math.min(0.985, 0.02 + 0.96 * t)), 0.55);
                pod.add(new Shape.Ring(
                        new Vec3(side * (0.13 + 0.25 * t), 1.55, hip.z()),
                        Vec3.Z.times(side),
                        Vec3.Y,
                        r * 1.1,
                        r,
                        2.2,
                        BODY,
                        BODY,
                        0));
            }
            s.loft(pod, 28);
        }
        List<Shape.Ring> cowl = new ArrayList<>();
        Vec3 head = joints.get(HEAD).at;
        for (int i = 0; i <= 20; i++) {
            double t = i / 20.0, r = Math.pow(Math.sin(Math.PI * Math.min(0.97, 0.03 + 0.80 * t)), 0.8);
            cowl.add(new Shape.Ring(
                    head.plus(new Vec3(0, 0.05 - 0.05 * t, -0.16 + 0.46 * t)),
                    Vec3.X,
                    new Vec3(0, 1, 0.12).unit(),
                    0.125 * r + 0.001,
                    0.11 * r + 0.001,
                    2.6,
                    HEAD,
                    HEAD,
                    0));
        }
        s.loft(cowl, 32);
        return s;
    }

    private static DoubleUnaryOperator muscle(double at0, double belly, double at1) {
        return t -> {
            double end = Math.pow(Math.max(0, 1 - Math.pow(Math.abs(2 * t - 1), 14)), 0.5);
            return end * (at0 * (1 - t) + at1 * t + belly * Math.sin(Math.PI * Math.pow(t, 0.7)));
        };
    }

    /** Eight sleeves one behind the other, each rounded towards a gap. */
    private static DoubleUnaryOperator sleeves(DoubleUnaryOperator r) {
        return t -> {
            double gap = Math.abs(8 * t - Math.rint(8 * t));
            return r.applyAsDouble(t) * (1 - 0.09 * Math.exp(-gap * gap / 0.006));
        };
    }

    /** Legs, neck and tail in dark anodised metal. */
    private Shape limbs() {
        Shape s = new Shape();
        for (int leg = 0; leg < 4; leg++) leg(s, leg);
        neck(s);
        tail(s);
        return s;
    }

    /** A bolted cover at a housing's outer end. */
    private static void cap(Shape s, Vec3 hip) {
        double side = Math.signum(hip.x());
        Quat out = Quat.axisAngle(Vec3.Z, -Math.PI / 2 * side);
        s.joint = BODY;
        s.at = new Pose(out, new Vec3(0.366 * side, 1.55, hip.z()));
        s.lathe(
                new double[] {-0.05, -0.004, 0.004, 0.008, 0.008, 0.016, 0.020},
                new double[] {0.070, 0.070, 0.066, 0.058, 0.030, 0.026, 0},
                32,
                1,
                0);
        for (int k = 0; k < 6; k++) {
            double th = Math.PI * k / 3;
            s.at = new Pose(out, new Vec3(0.372 * side, 1.55 + 0.046 * Math.cos(th), hip.z() + 0.046 * Math.sin(th)));
            s.lathe(new double[] {-0.01, 0.004, 0.007}, new double[] {0.008, 0.008, 0}, 8, 1, 0);
        }
        s.joint = 0;
        s.at = Pose.IDENTITY;
    }

    private void leg(Shape s, int leg) {
        int hip = LEGS + 3 * leg;
        cap(s, joints.get(hip).at);
        Vec3 a = joints.get(hip).at, b = joints.get(hip + 1).at, c = joints.get(hip + 2).at;
        Vec3 down = b.minus(a).unit(), low = c.minus(b).unit();
        s.loft(
                Shape.limb(
                        a.minus(down.times(0.05)),
                        b.plus(down.times(0.02)),
                        Vec3.X,
                        sleeves(muscle(0.066, 0.034, 0.044)),
                        1.25,
                        2.4,
                        8 * ROWS,
                        hip,
                        hip + 1,
                        1),
                24);
        s.loft(
                Shape.limb(
                        b.minus(low.times(0.04)),
                        c.plus(low.times(0.01)),
                        Vec3.X,
                        sleeves(muscle(0.044, 0.010, 0.026)),
                        1.1,
                        2.2,
                        8 * ROWS,
                        hip + 1,
                        hip + 2,
                        1),
                20);
        // A thin strut along the shank, as a tendon.
        Vec3 back = new Vec3(0, 0, -0.055 * Math.signum(a.z()));
        s.loft(
                Shape.limb(
                        b.plus(back).plus(low.times(0.04)),
                        c.plus(back.times(0.55)).minus(low.times(0.12)),
                        Vec3.X,
                        t -> 0.011 * Math.sqrt(Math.max(0, 1 - Math.pow(2 * t - 1, 16))),
                        1,
                        2,
                        10,
                        hip + 1,
                        hip + 1,
                        1),
                10);
        // Foot: a low dome with three toes.
        s.joint = hip + 2;
        s.at = new Pose(Quat.IDENTITY, c.minus(new Vec3(0, 0.035, 0)));
        s.lathe(
                new double[] {-0.01, 0.0, 0.025, 0.05, 0.07, 0.075},
                new double[] {0.06, 0.07, 0.062, 0.045, 0.03, 0},
                24,
                2,
                0);
        for (int k = 0; k < 3; k++) {
            double th = -0.7 + 0.7 * k + (c.z() < 0 ? 0 : 0);
            Vec3 dir = new Vec3(Math.sin(th), 0, Math.cos(th));
            s.at = Pose.IDENTITY;
            s.loft(
                    Shape.limb(
                            c.plus(dir.times(0.03)).minus(new Vec3(0, 0.03, 0)),
                            c.plus(dir.times(0.165)).minus(new Vec3(0, 0.056, 0)),
                            new Vec3(Math.cos(th), 0, -Math.sin(th)),
                            t -> 0.027 * Math.pow(Math.max(0, 1 - Math.pow(t, 5)), 0.5) * Math.min(1, 0.3 + 8 * t),
                            0.55,
                            2.2,
                            10,
                            hip + 2,
                            hip + 2,
                            1),
                    14);
        }
        s.joint = 0;
    }

    private void neck(Shape s) {
        // Neck: ringed tube, thinner upwards, bending over its joints.
        List<Shape.Ring> neck = new ArrayList<>();
        Vec3 a = joints.get(NECK).at.minus(new Vec3(0, 0.06, 0.12)), b = joints.get(NECK2).at, c = joints.get(HEAD).at;
        int n = 110;
        for (int i = 0; i <= n; i++) {
            double t = (double) i / n;
            Vec3 p = a.times((1 - t) * (1 - t))
                    .plus(b.plus(new Vec3(0, 0, 0.02)).times(2 * t * (1 - t)))
                    .plus(c.times(t * t));
            Vec3 d = b.minus(a).times(2 * (1 - t)).plus(c.minus(b).times(2 * t)).unit(),
                    up = d.cross(Vec3.X).unit();
            double r = (0.094 - 0.045 * t) * (0.90 + 0.12 * Math.pow(Math.abs(Math.sin(t * Math.PI * 11)), 0.6));
            int low = t < 0.25 ? BODY : t < 0.62 ? NECK : NECK2, high = t < 0.25 ? NECK : t < 0.62 ? NECK2 : HEAD;
            double from = t < 0.25 ? 0 : t < 0.62 ? 0.25 : 0.62,
                    to = t < 0.25 ? 0.25 : t < 0.62 ? 0.62 : 1,
                    k = smooth(0, 1, (float) ((t - from) / (to - from)));
            neck.add(new Shape.Ring(p, Vec3.X, up.times(-1), r, r, 2, low, high, k));
        }
        s.loft(neck, 24);
    }

    private static void tail(Shape s) {
        List<Shape.Ring> tail = new ArrayList<>();
        for (int i = 0; i <= 24; i++) {
            double t = i / 24.0, r = 0.055 * Math.pow(1 - t, 0.7) + 0.004;
            tail.add(new Shape.Ring(
                    new Vec3(0, 1.60 + 0.10 * t - 0.20 * t * t, -0.62 - 0.62 * t),
                    Vec3.X,
                    Vec3.Y,
                    i == 24 ? 1e-4 : r,
                    i == 24 ? 1e-4 : r,
                    2,
                    BODY,
                    TAIL,
                    smooth(0, 0.25f, (float) t)));
        }
        java.util.Collections.reverse(tail);
        s.loft(tail, 18);
    }

    /** Joint boots and soles. */
    private Shape rubber() {
        Shape s = new Shape();
        for (int leg = 0; leg < 4; leg++) {
            int hip = LEGS + 3 * leg;
            for (int k = 0; k < 3; k++) {
                Vec3 p = joints.get(hip + k).at;
                double[] r = {0.060, 0.063, 0.034};
                s.joint = hip + k;
                s.at = new Pose(Quat.axisAngle(Vec3.Z, Math.PI / 2), p);
                double q = r[k], w = q * 0.9;
                s.lathe(
                        new double[] {-w, -w, -w * 0.8, -w * 0.3, 0, w * 0.3, w * 0.8, w, w},
                        new double[] {0, q * 0.7, q * 0.96, q * 1.04, q, q * 1.04, q * 0.96, q * 0.7, 0},
                        28,
                        1,
                        0);
            }
            s.at = new Pose(Quat.IDENTITY, joints.get(hip + 2).at.minus(new Vec3(0, 0.062, 0)));
            s.lathe(new double[] {-0.008, -0.006, 0.004, 0.02}, new double[] {0, 0.066, 0.072, 0.066}, 24, 1, 0);
        }
        // Collar where the neck leaves the hull.
        s.joint = BODY;
        s.at = new Pose(Quat.axisAngle(Vec3.X, 0.72), new Vec3(0, 1.806, 0.555));
        s.torus(0.088, 0.018, 40, 14);
        return s;
    }

    private static Shape tailLamps() {
        Shape s = new Shape();
        s.joint = BODY;
        for (int side = -1; side <= 1; side += 2) {
            s.at = new Pose(Quat.axisAngle(Vec3.X, -Math.PI / 2), new Vec3(0.09 * side, 1.71, -0.70));
            s.lathe(new double[] {-0.05, 0, 0.012, 0.016}, new double[] {0.024, 0.024, 0.016, 0}, 18, 1, 0);
        }
        return s;
    }

    /** Where a foot is in its cycle: {z offset, lift}. */
    private static double[] foot(double phase) {
        double p = phase - Math.floor(phase);
        if (p < STANCE) return new double[] {STRIDE * (0.5 - p / STANCE), 0};
        double t = (p - STANCE) / (1 - STANCE), e = t * t * (3 - 2 * t);
        return new double[] {STRIDE * (-0.5 + e), LIFT * Math.pow(Math.sin(Math.PI * t), 1.4)};
    }

    private void walk() {
        int n = 36, times = file.glb.floats(floats(ModelFile.times(n, WALK_SECONDS)), "SCALAR", 0);
        ObjectNode clip = file.glb.object().put("name", "walk");
        double[] phase = {0.5, 0.0, 0.25, 0.75};
        List<Vec3> bodyAt = new ArrayList<>();
        List<List<Quat>> turns = new ArrayList<>();
        for (int k = 0; k < joints.size(); k++) turns.add(new ArrayList<>());
        for (int i = 0; i <= n; i++) {
            double t = (double) i / n, w = 2 * Math.PI * t;
            Vec3 sway = new Vec3(0.022 * Math.sin(w), -0.035 + 0.018 * Math.sin(2 * w + 0.6), 0.012 * Math.sin(2 * w));
            bodyAt.add(joints.get(BODY).at.plus(sway));
            for (int leg = 0; leg < 4; leg++) {
                double[] f = foot(t + phase[leg]);
                solveLeg(leg, sway, f[0], f[1], turns);
            }
            turns.get(NECK).add(Quat.fromRotationVector(0.05 * Math.sin(2 * w + 1.2), 0.03 * Math.sin(w), 0));
            turns.get(NECK2).add(Quat.fromRotationVector(-0.04 * Math.sin(2 * w + 0.6), 0.03 * Math.sin(w + 0.5), 0));
            turns.get(HEAD)
                    .add(Quat.fromRotationVector(0.05 * Math.sin(2 * w), -0.05 * Math.sin(w), 0.03 * Math.sin(w)));
            turns.get(TAIL).add(Quat.fromRotationVector(0.06 * Math.sin(2 * w), 0.14 * Math.sin(w), 0));
        }
        put(clip, times, bodyAt, turns);
    }

    private void lookAround() {
        int n = 60, times = file.glb.floats(floats(ModelFile.times(n, LOOK_SECONDS)), "SCALAR", 0);
        ObjectNode clip = file.glb.object().put("name", "look around");
        List<Vec3> bodyAt = new ArrayList<>();
        List<List<Quat>> turns = new ArrayList<>();
        for (int k = 0; k < joints.size(); k++) turns.add(new ArrayList<>());
        for (int i = 0; i <= n; i++) {
            double t = (double) i / n, w = 2 * Math.PI * t;
            Vec3 sway = new Vec3(0.03 * Math.sin(w), -0.03 - 0.02 * Math.sin(w) * Math.sin(w), 0.02 * Math.sin(2 * w));
            bodyAt.add(joints.get(BODY).at.plus(sway));
            for (int leg = 0; leg < 4; leg++) solveLeg(leg, sway, 0, 0, turns);
            double yaw = 0.55 * Math.sin(w) + 0.18 * Math.sin(3 * w), pitch = 0.14 * Math.sin(2 * w);
            turns.get(NECK).add(Quat.fromRotationVector(0.4 * pitch, 0.35 * yaw, 0));
            turns.get(NECK2).add(Quat.fromRotationVector(0.4 * pitch, 0.4 * yaw, 0));
            turns.get(HEAD).add(Quat.fromRotationVector(-0.5 * pitch, 0.5 * yaw, 0.12 * Math.sin(w)));
            turns.get(TAIL).add(Quat.fromRotationVector(0.05 * Math.sin(w), -0.2 * yaw, 0));
        }
        put(clip, times, bodyAt, turns);
    }

    private void put(ObjectNode clip, int times, List<Vec3> bodyAt, List<List<Quat>> turns) {
        file.channel(clip, BODY, "translation", times, ModelFile.vectors(bodyAt), "VEC3");
        for (int k = 0; k < joints.size(); k++)
            if (!turns.get(k).isEmpty())
                file.channel(clip, k, "rotation", times, ModelFile.quats(turns.get(k)), "VEC4");
        file.glb.add("animations", clip);
    }

    /** Two-bone solve in the leg's own plane (turns about X), the foot kept level. */
    void solveLeg(int leg, Vec3 sway, double dz, double lift, List<List<Quat>> turns) {
        int hip = LEGS + 3 * leg;
        Vec3 a = joints.get(hip).at, b = joints.get(hip + 1).at, c = joints.get(hip + 2).at;
        double l1 = Math.hypot(b.y() - a.y(), b.z() - a.z()), l2 = Math.hypot(c.y() - b.y(), c.z() - b.z());
        double ty = c.y() + lift - (a.y() + sway.y()),
                tz = c.z() + dz - (a.z() + sway.z()),
                reach = Math.min(Math.hypot(ty, tz), 0.999 * (l1 + l2));
        double bend = Math.acos((l1 * l1 + reach * reach - l2 * l2) / (2 * l1 * reach)),
                forward = Math.signum(b.z() - a.z());
        // Angles in the YZ plane measured from -Y towards +Z; a turn by theta about X lowers them by theta.
        double to = Math.atan2(tz, -ty),
                thigh = to + forward * bend,
                kz = l1 * Math.sin(thigh),
                ky = -l1 * Math.cos(thigh);
        double shank = Math.atan2(tz - kz, -(ty - ky));
        double restThigh = Math.atan2(b.z() - a.z(), a.y() - b.y()),
                restShank = Math.atan2(c.z() - b.z(), b.y() - c.y());
        double hipTurn = -(thigh - restThigh), kneeTurn = -(shank - restShank) - hipTurn;
        turns.get(hip).add(Quat.axisAngle(Vec3.X, hipTurn));
        turns.get(hip + 1).add(Quat.axisAngle(Vec3.X, kneeTurn));
        turns.get(hip + 2).add(Quat.axisAngle(Vec3.X, -(hipTurn + kneeTurn) + 0.35 * lift / LIFT));
    }

    static float[] floats(List<Float> l) {
        float[] f = new float[l.size()];
        for (int i = 0; i < f.length; i++) f[i] = l.get(i);
        return f;
    }
}

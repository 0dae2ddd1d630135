package dasein.shoot;

import static dasein.shoot.Noise.*;

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
        List<Shape> shapes = List.of(shell(), limbs(), rubber(), lamps());
        List<Integer> materials = List.of(
                file.material("shell", shellPaint(), null),
                file.material("limbs", limbPaint(), null),
                file.plain("rubber", new float[] {0.018f, 0.018f, 0.019f}, 0, 0.7f, null),
                file.plain("lamp", new float[] {0.9f, 0.75f, 0.4f}, 0, 0.2f, new float[] {1f, 0.62f, 0.22f}));
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

    /** Legs, neck and tail in dark anodised metal. */
    private Shape limbs() {
        Shape s = new Shape();
        for (int leg = 0; leg < 4; leg++) leg(s, leg);
        neck(s);
        tail(s);
        return s;
    }

    private void leg(Shape s, int leg) {
        int hip = LEGS + 3 * leg;
        Vec3 a = joints.get(hip).at, b = joints.get(hip + 1).at, c = joints.get(hip + 2).at;
        Vec3 down = b.minus(a).unit(), low = c.minus(b).unit();
        s.loft(
                Shape.limb(
                        a.minus(down.times(0.05)),
                        b.plus(down.times(0.02)),
                        Vec3.X,
                        muscle(0.066, 0.034, 0.044),
                        1.25,
                        2.4,
                        22,
                        hip,
                        hip + 1,
                        1),
                24);
        s.loft(
                Shape.limb(
                        b.minus(low.times(0.04)),
                        c.plus(low.times(0.01)),
                        Vec3.X,
                        muscle(0.044, 0.010, 0.026),
                        1.1,
                        2.2,
                        22,
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
        int n = 44;
        for (int i = 0; i <= n; i++) {
            double t = (double) i / n;
            Vec3 p = a.times((1 - t) * (1 - t))
                    .plus(b.plus(new Vec3(0, 0, 0.02)).times(2 * t * (1 - t)))
                    .plus(c.times(t * t));
            Vec3 d = b.minus(a).times(2 * (1 - t)).plus(c.minus(b).times(2 * t)).unit(),
                    up = d.cross(Vec3.X).unit();
            double r = (0.094 - 0.045 * t) * (1 + 0.045 * Math.sin(t * 2 * Math.PI * 11));
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
                double[] r = {0.088, 0.063, 0.034};
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
        s.at = new Pose(Quat.axisAngle(Vec3.X, 0.75), joints.get(NECK).at.minus(new Vec3(0, 0.045, 0.055)));
        s.torus(0.105, 0.022, 40, 14);
        s.joint = HEAD;
        Vec3 h = joints.get(HEAD).at;
        s.at = new Pose(Quat.axisAngle(Vec3.X, Math.PI / 2), h.plus(new Vec3(0, 0.0, 0.245)));
        s.torus(0.062, 0.014, 32, 12);
        return s;
    }

    private Shape lamps() {
        Shape s = new Shape();
        s.joint = HEAD;
        Vec3 h = joints.get(HEAD).at;
        s.at = new Pose(Quat.axisAngle(Vec3.X, Math.PI / 2), h.plus(new Vec3(0, 0.0, 0.25)));
        s.lathe(new double[] {-0.02, 0, 0.014, 0.024, 0.028}, new double[] {0.058, 0.057, 0.046, 0.026, 0}, 28, 1, 0);
        s.joint = BODY;
        for (int side = -1; side <= 1; side += 2) {
            s.at = new Pose(Quat.axisAngle(Vec3.X, -Math.PI / 2), new Vec3(0.09 * side, 1.71, -0.70));
            s.lathe(new double[] {-0.05, 0, 0.012, 0.016}, new double[] {0.024, 0.024, 0.016, 0}, 18, 1, 0);
        }
        return s;
    }

    private static Paint shellPaint() {
        return new Paint(512, (u, v, d) -> {
            float mid = octaves(u, v, 6, 5, 301), fine = octaves(u, v, 60, 4, 302);
            float l = 0.9f + 0.22f * (mid - 0.5f) + 0.10f * (fine - 0.5f);
            // Sea-green grey with a pale belly and a signal band, worn to primer and metal along edges.
            d.colour(0.115f * l, 0.20f * l, 0.195f * l);
            float belly = smooth(0.60f, 0.66f, (float) u) * (1 - smooth(0.86f, 0.92f, (float) u));
            d.mix(0.46f * l, 0.45f * l, 0.40f * l, belly);
            float band = smooth(0.655f, 0.66f, (float) v) * (1 - smooth(0.715f, 0.72f, (float) v));
            d.mix(0.62f * l, 0.30f * l, 0.035f * l, band);
            d.roughness = 0.36f + 0.22f * mid;
            double pv = Math.abs(v * 9 - Math.rint(v * 9)) / 9, pu = Math.abs(u * 6 - Math.rint(u * 6)) / 6;
            float seam = 1 - smooth(0.0016f, 0.0042f, (float) Math.min(pv, pu));
            float worn = smooth(
                    0.60f, 0.70f, octaves(u, v, 18, 6, 303) + 0.10f * (1 - smooth(0, 0.02f, (float) Math.min(pv, pu))));
            d.mix(0.30f, 0.29f, 0.27f, worn);
            d.metal = 0.75f * worn;
            d.roughness += (0.42f - d.roughness) * worn;
            float streak = smooth(0.55f, 0.75f, octaves(u * 1.0, v * 0.25, 40, 4, 304)) * 0.4f;
            d.mix(0.055f, 0.048f, 0.038f, streak);
            d.roughness += 0.2f * streak;
            cells(u, v, 54, 305, d.scratch);
            float rivet = pv < 0.012 && d.scratch[2] > 0.3f ? 1 - smooth(0.10f, 0.16f, d.scratch[0]) : 0;
            d.mix(0.02f, 0.02f, 0.02f, seam);
            d.height = -0.0020f * seam + 0.0010f * rivet + 0.00035f * fine - 0.0006f * worn;
        });
    }

    private static Paint limbPaint() {
        return new Paint(512, (u, v, d) -> {
            float mid = octaves(u, v, 8, 5, 311), brushed = octaves(u * 1.0, v * 0.08, 120, 3, 312);
            float l = 0.85f + 0.3f * (mid - 0.5f) + 0.2f * (brushed - 0.5f);
            d.colour(0.19f * l, 0.185f * l, 0.18f * l);
            d.metal = 0.9f;
            d.roughness = 0.38f + 0.2f * (mid - 0.5f) + 0.1f * brushed;
            float mud = smooth(0.50f, 0.68f, octaves(u, v, 10, 6, 313));
            d.mix(0.13f, 0.11f, 0.085f, 0.8f * mud);
            d.metal -= 0.85f * mud;
            d.roughness += (0.9f - d.roughness) * mud;
            double ring = Math.abs(v * 8 - Math.rint(v * 8)) / 8;
            float groove = 1 - smooth(0.003f, 0.008f, (float) ring);
            d.mix(0.03f, 0.03f, 0.03f, groove);
            d.height = -0.003f * groove + 0.0008f * mud * mid + 0.0002f * brushed;
        });
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

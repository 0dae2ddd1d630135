package dasein.shoot;

import static dasein.shoot.Noise.*;

import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The skimmer: a small flying machine-creature of 0.9 m span, made for flocks: few triangles, one skin. Clips "flap"
 * and "glide". Faces +Z.
 */
final class Skimmer {
    private static final double FLAP_SECONDS = 0.8;
    private static final int BODY = 0, HEAD = 1, TAIL = 2, WINGS = 3;

    private final ModelFile file = new ModelFile();
    private final List<Vec3> joints = new ArrayList<>();
    private final List<Integer> parents = List.of(-1, BODY, BODY, BODY, WINGS, BODY, WINGS + 2);
    private final List<String> names =
            List.of("body", "head", "tail", "right wing", "right wing tip", "left wing", "left wing tip");

    static void write(Path path) throws IOException {
        new Skimmer().build(path);
    }

    private Skimmer() {
        joints.add(new Vec3(0, 0.12, 0));
        joints.add(new Vec3(0, 0.135, 0.13));
        joints.add(new Vec3(0, 0.125, -0.14));
        for (int side = -1; side <= 1; side += 2) {
            joints.add(new Vec3(0.035 * side, 0.14, 0.03));
            joints.add(new Vec3(0.22 * side, 0.15, 0.03));
        }
    }

    private void build(Path path) throws IOException {
        int paint = file.material("feather", paint(), null),
                dark = file.plain("joint", new float[] {0.03f, 0.03f, 0.032f}, 0.3f, 0.5f, null),
                eye = file.plain("eye", new float[] {0.9f, 0.7f, 0.3f}, 0, 0.2f, new float[] {0.7f, 0.45f, 0.15f});
        int mesh = file.mesh("skimmer", List.of(skin(), dark(), eyes()), List.of(paint, dark, eye), true);
        for (int k = 0; k < joints.size(); k++)
            file.glb.add(
                    "nodes",
                    file.node(
                            names.get(k),
                            parents.get(k) < 0 ? joints.get(k) : joints.get(k).minus(joints.get(parents.get(k)))));
        for (int k = 1; k < joints.size(); k++)
            ((ObjectNode) file.glb.list("nodes").get(parents.get(k)))
                    .withArray("children")
                    .add(k);
        float[] inverse = new float[16 * joints.size()];
        for (int k = 0; k < joints.size(); k++) {
            Vec3 p = joints.get(k);
            System.arraycopy(
                    new float[] {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, (float) -p.x(), (float) -p.y(), (float) -p.z(), 1},
                    0,
                    inverse,
                    16 * k,
                    16);
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
                file.glb.object().put("name", "skimmer").put("mesh", mesh).put("skin", 0));
        clip("flap", FLAP_SECONDS, 24, 0.62, 0.5, 0.035);
        clip("glide", 3, 24, 0.10, 0.06, 0.01);
        file.write(path, List.of(0, body));
    }

    private Shape skin() {
        Shape s = new Shape();
        List<Shape.Ring> hull = new ArrayList<>();
        for (int i = 0; i <= 14; i++) {
            double t = i / 14.0,
                    z = -0.17 + 0.32 * t,
                    r = Math.pow(Math.sin(Math.PI * Math.min(0.99, 0.01 + 0.98 * Math.pow(t, 0.8))), 0.75);
            hull.add(new Shape.Ring(
                    new Vec3(0, 0.12 + 0.012 * t, z),
                    Vec3.X,
                    Vec3.Y,
                    0.045 * r + 0.0005,
                    0.042 * r + 0.0005,
                    2.4,
                    BODY,
                    BODY,
                    0));
        }
        s.loft(hull, 16);
        List<Shape.Ring> head = new ArrayList<>();
        for (int i = 0; i <= 8; i++) {
            double t = i / 8.0, r = Math.pow(Math.sin(Math.PI * Math.min(0.98, 0.02 + 0.9 * t)), 0.7);
            head.add(new Shape.Ring(
                    joints.get(HEAD).plus(new Vec3(0, 0.01 - 0.015 * t, -0.02 + 0.13 * t)),
                    Vec3.X,
                    Vec3.Y,
                    0.026 * r * (1 - 0.45 * t) + 0.0005,
                    0.026 * r * (1 - 0.5 * t) + 0.0005,
                    2.2,
                    HEAD,
                    HEAD,
                    0));
        }
        s.loft(head, 12);
        for (int side = -1; side <= 1; side += 2) wing(s, side);
        // A fan for a tail: flat, wider towards its end.
        List<Shape.Ring> fan = new ArrayList<>();
        for (int i = 0; i <= 6; i++) {
            double t = i / 6.0, end = i == 0 || i == 6 ? 0.02 : 1;
            fan.add(new Shape.Ring(
                    new Vec3(0, 0.122, -0.15 - 0.15 * t),
                    Vec3.X.times(-1),
                    Vec3.Y,
                    (0.02 + 0.065 * t) * end,
                    0.004 * end + 0.0004,
                    3,
                    TAIL,
                    TAIL,
                    0));
        }
        s.loft(fan, 12);
        return s;
    }

    /** Rings along the wing: thin, swept back towards its tip. */
    private void wing(Shape s, int side) {
        int root = side < 0 ? WINGS : WINGS + 2;
        List<Shape.Ring> rings = new ArrayList<>();
        int n = 16;
        for (int i = 0; i <= n; i++) {
            double t = (double) i / n,
                    x = 0.02 + 0.43 * t,
                    chord = 0.075 * Math.pow(1 - Math.pow(t, 2.4), 0.6) + 0.004,
                    sweep = 0.045 * Math.sin(2.2 * t) - 0.11 * t * t;
            double end = i == 0 || i == n ? 0.05 : 1, blend = Math.max(0, Math.min(1, (x - 0.17) / 0.10));
            rings.add(new Shape.Ring(
                    new Vec3(side * x, 0.142 + 0.015 * Math.sin(Math.PI * t), 0.03 + sweep - 0.25 * chord),
                    Vec3.Z.times(side),
                    Vec3.Y,
                    chord * end,
                    (0.009 * (1 - t) + 0.0025) * end,
                    2.2,
                    root,
                    root + 1,
                    blend));
        }
        s.loft(rings, 14);
    }

    private Shape dark() {
        Shape s = new Shape();
        s.joint = HEAD;
        s.at = new dasein.core.math.Pose(
                Quat.axisAngle(Vec3.X, Math.PI / 2), joints.get(HEAD).plus(new Vec3(0, -0.004, 0.10)));
        s.lathe(new double[] {-0.01, 0, 0.035, 0.05}, new double[] {0, 0.011, 0.006, 0}, 10, 1, 0);
        s.joint = BODY;
        for (int side = -1; side <= 1; side += 2) {
            s.at = new dasein.core.math.Pose(Quat.axisAngle(Vec3.X, 0.5), new Vec3(0.02 * side, 0.06, -0.02));
            s.lathe(new double[] {-0.045, -0.044, 0.03}, new double[] {0, 0.004, 0.006}, 8, 1, 0);
        }
        return s;
    }

    private Shape eyes() {
        Shape s = new Shape();
        s.joint = HEAD;
        for (int side = -1; side <= 1; side += 2) {
            s.at = new dasein.core.math.Pose(
                    Quat.axisAngle(Vec3.Z, -Math.PI / 2 * side),
                    joints.get(HEAD).plus(new Vec3(0.021 * side, 0.010, 0.045)));
            s.lathe(new double[] {-0.004, 0, 0.004}, new double[] {0.007, 0.007, 0}, 10, 1, 0);
        }
        return s;
    }

    /** Wings beat with their tips behind them; the body answers. */
    private void clip(String name, double seconds, int n, double beat, double tip, double heave) {
        int times = file.glb.floats(Strider.floats(ModelFile.times(n, seconds)), "SCALAR", 0);
        ObjectNode clip = file.glb.object().put("name", name);
        List<Vec3> at = new ArrayList<>();
        List<List<Quat>> turns = new ArrayList<>();
        for (int k = 0; k < joints.size(); k++) turns.add(new ArrayList<>());
        for (int i = 0; i <= n; i++) {
            double w = 2 * Math.PI * i / n,
                    up = 0.12 + beat * Math.sin(w),
                    bend = tip * Math.sin(w - 1.1),
                    twist = -0.35 * beat * Math.cos(w);
            at.add(joints.get(BODY).plus(new Vec3(0, -heave * Math.sin(w + 0.4), 0)));
            turns.get(BODY).add(Quat.fromRotationVector(0.05 * beat * Math.cos(w), 0, 0));
            turns.get(HEAD).add(Quat.fromRotationVector(-0.05 * beat * Math.cos(w) + 0.03 * Math.sin(w), 0, 0));
            turns.get(TAIL).add(Quat.fromRotationVector(0.12 * beat * Math.cos(w + 0.6), 0, 0));
            for (int side = -1; side <= 1; side += 2) {
                int root = side < 0 ? WINGS : WINGS + 2;
                turns.get(root).add(Quat.axisAngle(Vec3.Z, side * up).times(Quat.axisAngle(Vec3.X, twist)));
                turns.get(root + 1)
                        .add(Quat.axisAngle(Vec3.Z, side * (bend - 0.08)).times(Quat.axisAngle(Vec3.X, 0.6 * twist)));
            }
        }
        file.channel(clip, BODY, "translation", times, ModelFile.vectors(at), "VEC3");
        for (int k = 0; k < joints.size(); k++)
            file.channel(clip, k, "rotation", times, ModelFile.quats(turns.get(k)), "VEC4");
        file.glb.add("animations", clip);
    }

    private static Paint paint() {
        return new Paint(256, (u, v, d) -> {
            float mid = octaves(u, v, 7, 5, 601), l = 0.9f + 0.25f * (mid - 0.5f);
            d.colour(0.52f * l, 0.52f * l, 0.50f * l);
            float back = smooth(0.1f, 0.28f, (float) u) * (1 - smooth(0.30f, 0.48f, (float) u));
            d.mix(0.16f * l, 0.19f * l, 0.21f * l, 0.9f * back);
            double rib = Math.abs(u * 22 - Math.rint(u * 22)) / 22;
            float groove = 1 - smooth(0.002f, 0.007f, (float) rib);
            d.mix(0.05f, 0.05f, 0.05f, 0.55f * groove);
            d.roughness = 0.5f + 0.2f * mid;
            d.height = -0.002f * groove;
        });
    }
}

package dasein.shoot;

import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The mule: a six-wheeled amphibious carrier, 3.1 m long; wheels are separate nodes with the clip "rolling". Faces +Z.
 */
final class Mule {
    static final double WHEEL = 0.36;
    static final double[] AXLES = {0.98, 0.02, -0.94};
    private final ModelFile file = new ModelFile();

    static void write(Path path) throws IOException {
        new Mule().build(path);
    }

    private void build(Path path) throws IOException {
        int paint = file.material("hull paint", MulePaint.hull(), null),
                tyre = file.material("tyre", MulePaint.tyre(), null);
        int metal = file.plain("fittings", new float[] {0.10f, 0.10f, 0.105f}, 0.8f, 0.45f, null),
                mirror = file.plain("reflector", new float[] {0.86f, 0.86f, 0.87f}, 1, 0.12f, null),
                bulb = file.lit("lamp", new float[] {0.9f, 0.87f, 0.8f}, new float[] {1, 0.86f, 0.62f}, 6),
                lens = file.glass("lens", 0.03f),
                red = file.plain("tail lamp", new float[] {0.32f, 0.008f, 0.006f}, 0, 0.12f, null),
                amber = file.plain("side lamp", new float[] {0.7f, 0.24f, 0.01f}, 0, 0.12f, null),
                rubber = file.plain("rubber", new float[] {0.02f, 0.02f, 0.021f}, 0, 0.75f, null);
        int screen = file.plain("windscreen", new float[] {0.012f, 0.014f, 0.016f}, 0, 0.05f, null);
        int dark = file.plain("bed", new float[] {0.03f, 0.031f, 0.03f}, 0, 0.85f, null);
        int load = file.plain("load", new float[] {0.062f, 0.075f, 0.048f}, 0, 0.6f, null);
        MuleParts parts = new MuleParts();
        int body = file.mesh(
                "body",
                List.of(
                        MuleHull.shape(),
                        parts.fittings(),
                        parts.reflectors(),
                        parts.bulbs(),
                        parts.lenses(),
                        parts.tailLamps(),
                        parts.sideLamps(),
                        parts.seals(),
                        parts.windows(),
                        parts.bed(),
                        parts.load()),
                List.of(paint, metal, mirror, bulb, lens, red, amber, rubber, screen, dark, load),
                false);
        int wheel = file.mesh("wheel", List.of(tyreShape(), hub()), List.of(tyre, metal), false);
        ObjectNode root = file.node("mule", Vec3.ZERO).put("mesh", body);
        ArrayNode children = root.putArray("children");
        file.glb.add("nodes", root);
        List<Integer> wheels = new ArrayList<>();
        for (int k = 0; k < 6; k++) {
            double side = k % 2 == 0 ? -1 : 1;
            String name = new String[] {"front", "middle", "rear"}[k / 2] + (side < 0 ? " right" : " left") + " wheel";
            int n = file.glb.add(
                    "nodes",
                    file.node(name, new Vec3(0.66 * side, WHEEL, AXLES[k / 2])).put("mesh", wheel));
            wheels.add(n);
            children.add(n);
        }
        ObjectNode clip = file.glb.object().put("name", "rolling");
        int n = 16, times = file.glb.floats(Strider.floats(ModelFile.times(n, 2)), "SCALAR", 0);
        List<Quat> turn = new ArrayList<>();
        for (int i = 0; i <= n; i++) turn.add(Quat.axisAngle(Vec3.X, 2 * Math.PI * i / n));
        for (int w : wheels) file.channel(clip, w, "rotation", times, ModelFile.quats(turn), "VEC4");
        file.glb.add("animations", clip);
        file.write(path, List.of(0));
    }

    private static Shape tyreShape() {
        Shape s = new Shape();
        s.at = new Pose(Quat.axisAngle(Vec3.Z, Math.PI / 2), Vec3.ZERO);
        double r = WHEEL;
        s.lathe(
                new double[] {-0.13, -0.145, -0.14, -0.12, -0.09, -0.03, 0, 0.03, 0.09, 0.12, 0.14, 0.145, 0.13},
                new double[] {
                    r * 0.55, r * 0.66, r * 0.86, r * 0.94, r * 0.965, r * 0.972, r * 0.972, r * 0.972, r * 0.965,
                    r * 0.94, r * 0.86, r * 0.66, r * 0.55
                },
                64,
                4,
                0);
        // Lugs in two rows.
        for (int k = 0; k < 22; k++) {
            for (int side = -1; side <= 1; side += 2) {
                double a = 2 * Math.PI * (k + (side < 0 ? 0.5 : 0)) / 22;
                Quat q = Quat.axisAngle(Vec3.X, a).times(Quat.axisAngle(Vec3.Y, 0.5 * side));
                s.at = new Pose(q, new Vec3(0.062 * side, r * 0.975 * Math.cos(a), r * 0.975 * Math.sin(a)));
                s.box(0.125, 0.026, 0.042, 0.006, 1);
            }
        }
        return s;
    }

    private static Shape hub() {
        Shape s = new Shape();
        s.at = new Pose(Quat.axisAngle(Vec3.Z, Math.PI / 2), Vec3.ZERO);
        double r = WHEEL;
        s.lathe(
                new double[] {-0.12, -0.10, -0.06, -0.05, 0.05, 0.06, 0.10, 0.12},
                new double[] {r * 0.56, r * 0.52, r * 0.45, r * 0.15, r * 0.15, r * 0.45, r * 0.52, r * 0.56},
                36,
                1,
                0);
        for (int side = -1; side <= 1; side += 2) {
            s.at = new Pose(Quat.axisAngle(Vec3.Z, -Math.PI / 2 * side), new Vec3(0.05 * side, 0, 0));
            s.lathe(new double[] {-0.02, 0.0, 0.05, 0.06}, new double[] {r * 0.46, r * 0.45, r * 0.2, 0}, 30, 1, 0);
            for (int k = 0; k < 6; k++) {
                double a = Math.PI * k / 3;
                s.at = new Pose(
                        Quat.axisAngle(Vec3.Z, -Math.PI / 2 * side),
                        new Vec3(0.075 * side, r * 0.30 * Math.cos(a), r * 0.30 * Math.sin(a)));
                s.lathe(new double[] {-0.02, 0.0, 0.006}, new double[] {0.018, 0.018, 0}, 10, 1, 0);
            }
        }
        return s;
    }
}

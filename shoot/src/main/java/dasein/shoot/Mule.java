package dasein.shoot;

import static dasein.shoot.Noise.*;

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
    private static final double WHEEL = 0.36;
    private static final double[] AXLES = {0.98, 0.02, -0.94};
    private final ModelFile file = new ModelFile();

    static void write(Path path) throws IOException {
        new Mule().build(path);
    }

    private void build(Path path) throws IOException {
        int paint = file.material("hull paint", hullPaint(), null), tyre = file.material("tyre", tyrePaint(), null);
        int metal = file.plain("fittings", new float[] {0.10f, 0.10f, 0.105f}, 0.8f, 0.45f, null),
                glass =
                        file.plain(
                                "lamp", new float[] {0.85f, 0.83f, 0.75f}, 0, 0.15f, new float[] {0.6f, 0.56f, 0.45f});
        int screen = file.plain("windscreen", new float[] {0.012f, 0.014f, 0.016f}, 0, 0.05f, null);
        int dark = file.plain("bed", new float[] {0.03f, 0.031f, 0.03f}, 0, 0.85f, null);
        int body = file.mesh(
                "body",
                List.of(hull(), fittings(), lamps(), bed(), windows()),
                List.of(paint, metal, glass, dark, screen),
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

    private static Shape hull() {
        Shape s = new Shape();
        List<Shape.Ring> rings = new ArrayList<>();
        int n = 48;
        for (int i = 0; i <= n; i++) {
            double t = (double) i / n,
                    z = -1.5 + 3.05 * t,
                    bow = Math.max(0, (t - 0.72) / 0.28),
                    stern = Math.max(0, (0.10 - t) / 0.10);
            double half = 0.30 - 0.12 * bow * bow - 0.03 * stern, w = 0.52 * (1 - 0.38 * bow * bow - 0.05 * stern);
            Vec3 c = new Vec3(0, 0.72 + 0.16 * bow * bow, z);
            if (i == 0)
                rings.add(new Shape.Ring(c.plus(new Vec3(0, 0, -0.02)), Vec3.X, Vec3.Y, 0.46, 0.24, 5, 0, 0, 0));
            rings.add(new Shape.Ring(c, Vec3.X, Vec3.Y, w, half, 5, 0, 0, 0));
            // The edges of bow and stern are rounded over three rings.
            for (int k = 1; k <= 3 && i == n; k++)
                rings.add(new Shape.Ring(
                        c.plus(new Vec3(0, 0, 0.02 * Math.sin(k * Math.PI / 6))),
                        Vec3.X,
                        Vec3.Y,
                        w - 0.035 * (1 - Math.cos(k * Math.PI / 6)),
                        half - 0.035 * (1 - Math.cos(k * Math.PI / 6)),
                        5,
                        0,
                        0,
                        0));
        }
        s.loft(rings, 56);
        s.lid(rings.get(0), 56, true);
        s.lid(rings.get(rings.size() - 1), 56, false);
        // Cab hump with a sloped front.
        List<Shape.Ring> cab = new ArrayList<>();
        for (int i = 0; i <= 26; i++) {
            double t = i / 26.0, e = Math.pow(Math.sin(Math.PI * Math.min(0.998, 0.002 + 0.996 * t)), 0.42);
            cab.add(new Shape.Ring(
                    new Vec3(0, 0.98 + 0.08 * e, 0.10 + 0.92 * t),
                    Vec3.X,
                    Vec3.Y,
                    0.40 * e + 0.0005,
                    (0.28 - 0.10 * t) * e + 0.0005,
                    3.6,
                    0,
                    0,
                    0));
        }
        s.loft(cab, 40);
        // Wheel arches.
        for (int k = 0; k < 6; k++) {
            double side = k % 2 == 0 ? -1 : 1;
            List<Shape.Ring> arch = new ArrayList<>();
            for (int i = 0; i <= 18; i++) {
                double a = Math.PI * (0.06 + 0.88 * i / 18.0),
                        cy = WHEEL + 0.43 * Math.sin(a),
                        cz = AXLES[k / 2] + 0.43 * Math.cos(a);
                Vec3 out = new Vec3(0, Math.sin(a), Math.cos(a));
                double end = i == 0 || i == 18 ? 0.001 : 1;
                arch.add(new Shape.Ring(
                        new Vec3(0.62 * side, cy, cz), Vec3.X, out, 0.17 * end, 0.018 * end, 4, 0, 0, 0));
            }
            java.util.Collections.reverse(arch);
            s.loft(arch, 20);
        }
        s.fromTheSides(0.44);
        return s;
    }

    private static Shape bed() {
        Shape s = new Shape();
        s.put(0, 1.035, -0.72, 0).box(0.86, 0.03, 1.36, 0.005, 1);
        // Grille slats between the lamps, a sill under them.
        for (int k = 0; k < 5; k++) {
            s.at = new Pose(Quat.axisAngle(Vec3.X, 0.35), new Vec3(0, 0.81 + 0.034 * k, 1.575));
            s.box(0.27, 0.017, 0.03, 0.004, 1);
        }
        s.put(0, 0.76, 1.575, 0).box(0.52, 0.03, 0.05, 0.008, 1);
        return s;
    }

    private static Shape windows() {
        Shape s = new Shape();
        s.at = new Pose(Quat.axisAngle(Vec3.X, -1.0), new Vec3(0, 1.182, 0.885));
        s.box(0.46, 0.17, 0.03, 0.012, 1);
        for (int side = -1; side <= 1; side += 2) {
            s.at = new Pose(Quat.axisAngle(Vec3.Z, 0.10 * side), new Vec3(0.389 * side, 1.13, 0.55));
            s.box(0.024, 0.11, 0.26, 0.01, 1);
        }
        return s;
    }

    private static Shape fittings() {
        Shape s = new Shape();
        // Cargo rail.
        for (int side = -1; side <= 1; side += 2) {
            for (int k = 0; k < 4; k++)
                s.put(0.42 * side, 1.14, -1.32 + 0.42 * k, 0)
                        .lathe(new double[] {-0.12, 0.10}, new double[] {0.014, 0.014}, 12, 1, 1);
            s.at = new Pose(Quat.axisAngle(Vec3.X, Math.PI / 2), new Vec3(0.42 * side, 1.24, -0.70));
            s.lathe(new double[] {-0.66, -0.65, 0.65, 0.66}, new double[] {0, 0.018, 0.018, 0}, 14, 1, 1);
            s.at = new Pose(Quat.axisAngle(Vec3.X, Math.PI / 2), new Vec3(0.49 * side, 0.62, 0.0));
            s.lathe(new double[] {-1.2, -1.19, 1.19, 1.2}, new double[] {0, 0.035, 0.035, 0}, 16, 1, 1);
        }
        s.at = new Pose(Quat.axisAngle(Vec3.Z, Math.PI / 2), new Vec3(0, 1.24, -1.36));
        s.lathe(new double[] {-0.43, -0.42, 0.42, 0.43}, new double[] {0, 0.018, 0.018, 0}, 14, 1, 1);
        // Axle stubs, tow hook, mast.
        for (double z : AXLES) {
            s.at = new Pose(Quat.axisAngle(Vec3.Z, Math.PI / 2), new Vec3(0, WHEEL, z));
            s.lathe(new double[] {-0.60, -0.60, 0.60, 0.60}, new double[] {0, 0.05, 0.05, 0}, 16, 1, 1);
            s.put(0, 0.46, z, 0).box(0.5, 0.16, 0.16, 0.02, 1);
        }
        s.at = new Pose(Quat.axisAngle(Vec3.X, Math.PI / 2), new Vec3(0, 0.58, 1.53));
        s.torus(0.05, 0.014, 24, 10);
        s.put(-0.28, 1.55, 0.25, 0)
                .lathe(new double[] {-0.35, 0.0, 0.32, 0.33}, new double[] {0.012, 0.009, 0.005, 0}, 10, 1, 1);
        // Rims of the lamps, the tow eye's plate.
        for (int side = -1; side <= 1; side += 2) {
            s.at = new Pose(Quat.axisAngle(Vec3.X, Math.PI / 2), new Vec3(0.215 * side, 0.88, 1.575));
            s.torus(0.05, 0.011, 28, 10);
        }
        s.put(0, 0.58, 1.52, 0).box(0.16, 0.13, 0.03, 0.008, 1);
        // A crate and a drum on the bed.
        s.put(0.18, 1.20, -0.95, 12).box(0.40, 0.28, 0.46, 0.012, 1);
        s.at = new Pose(Quat.axisAngle(Vec3.Z, Math.PI / 2), new Vec3(-0.05, 1.19, -0.42));
        s.lathe(
                new double[] {-0.30, -0.30, -0.29, -0.11, -0.10, -0.09, 0.09, 0.10, 0.11, 0.29, 0.30, 0.30},
                new double[] {0, 0.13, 0.14, 0.14, 0.148, 0.14, 0.14, 0.148, 0.14, 0.14, 0.13, 0},
                28,
                1,
                1);
        return s;
    }

    private static Shape lamps() {
        Shape s = new Shape();
        for (int side = -1; side <= 1; side += 2) {
            s.at = new Pose(Quat.axisAngle(Vec3.X, Math.PI / 2), new Vec3(0.215 * side, 0.88, 1.56));
            s.lathe(new double[] {-0.02, 0.012, 0.022, 0.026}, new double[] {0.046, 0.046, 0.03, 0}, 24, 1, 0);
        }
        return s;
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

    private static Paint hullPaint() {
        return new Paint(1024, (u, v, d) -> {
            float mid = octaves(u, v, 6, 5, 401),
                    fine = octaves(u, v, 60, 4, 402),
                    l = 0.9f + 0.25f * (mid - 0.5f) + 0.12f * (fine - 0.5f);
            d.colour(0.40f * l, 0.17f * l, 0.032f * l);
            d.roughness = 0.42f + 0.2f * mid;
            double pv = Math.abs(v * 4 - Math.rint(v * 4)) / 4, pu = Math.abs(u * 4 - Math.rint(u * 4)) / 4;
            float edge = (float) Math.min(pv, pu), seam = 1 - smooth(0.0008f, 0.0022f, edge);
            float worn = smooth(0.58f, 0.68f, octaves(u, v, 16, 6, 403) + 0.09f * (1 - smooth(0, 0.02f, edge)));
            d.mix(0.20f, 0.075f, 0.035f, worn);
            d.roughness += (0.85f - d.roughness) * worn;
            float mud = 0.7f * smooth(0.52f, 0.72f, octaves(u, v, 9, 6, 404));
            float streak = 0.5f * smooth(0.50f, 0.72f, octaves(u, 0.25 * v, 48, 4, 405));
            d.mix(0.16f, 0.07f, 0.03f, streak);
            d.mix(0.15f, 0.125f, 0.095f, 0.85f * mud);
            d.roughness += (0.92f - d.roughness) * mud;
            d.mix(0.02f, 0.018f, 0.015f, seam);
            d.height = -0.002f * seam + 0.0004f * fine - 0.0006f * worn + 0.001f * mud * fine;
        });
    }

    private static Paint tyrePaint() {
        return new Paint(256, (u, v, d) -> {
            float mid = octaves(u, v, 10, 5, 411),
                    dust = smooth(0.42f, 0.7f, octaves(u, v, 7, 5, 412)),
                    l = 0.8f + 0.5f * (mid - 0.5f);
            d.colour(0.022f * l, 0.022f * l, 0.023f * l);
            d.mix(0.15f, 0.13f, 0.105f, 0.6f * dust);
            d.roughness = 0.85f;
            d.height = 0.003f * mid;
        });
    }
}

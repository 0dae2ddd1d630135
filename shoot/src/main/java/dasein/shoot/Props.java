package dasein.shoot;

import static dasein.shoot.Noise.*;

import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** Things that lie about and fall: a crate, a keg, and debris of wood and concrete. */
final class Props {
    private Props() {}

    static void write(Path folder) throws IOException {
        one(folder.resolve("crate.glb"), "crate", List.of(crate()), wood());
        one(folder.resolve("keg.glb"), "keg", List.of(keg()), steel());
        one(folder.resolve("plank.glb"), "plank", List.of(plank()), wood());
        one(folder.resolve("rubble.glb"), "rubble", List.of(rubble()), stone());
    }

    private static void one(Path path, String name, List<Shape> shapes, Paint paint) throws IOException {
        ModelFile file = new ModelFile();
        int material = file.material(name, paint, null);
        int mesh = file.mesh(name, shapes, shapes.stream().map(s -> material).toList(), false);
        file.glb.add("nodes", file.node(name, Vec3.ZERO).put("mesh", mesh));
        file.write(path, List.of(0));
    }

    /** Boards on a frame, 0.6 m. */
    private static Shape crate() {
        Shape s = new Shape();
        double half = 0.3, board = 0.116, thick = 0.018;
        for (int face = 0; face < 6; face++) {
            Quat turn = face < 4
                    ? Quat.axisAngle(Vec3.Y, face * Math.PI / 2)
                    : Quat.axisAngle(Vec3.X, face == 4 ? -Math.PI / 2 : Math.PI / 2);
            for (int k = 0; k < 5; k++) {
                s.patch = new double[] {0.07 * k + 0.11 * face % 0.6, 0.19 * k % 0.7, 0.18, 0.28};
                s.at = new Pose(
                        turn,
                        turn.rotate(new Vec3(0, -0.24 + 0.12 * k, half - thick / 2 - 0.006))
                                .plus(new Vec3(0, half, 0)));
                s.box(2 * half - 0.03, board, thick, 0.003, 0);
            }
            for (int k = -1; k <= 1; k += 2) {
                s.patch = new double[] {0.55, 0.3 + 0.1 * k, 0.12, 0.3};
                s.at = new Pose(
                        turn, turn.rotate(new Vec3(0.255 * k, 0, half - 0.002)).plus(new Vec3(0, half, 0)));
                s.box(0.06, 2 * half - 0.01, 0.022, 0.003, 0);
            }
        }
        return s;
    }

    private static Shape keg() {
        Shape s = new Shape();
        List<Double> y = new ArrayList<>(), r = new ArrayList<>();
        double[][] profile = {
            {0, 0},
            {0, 0.15},
            {0.01, 0.165},
            {0.05, 0.165},
            {0.055, 0.158},
            {0.12, 0.172},
            {0.2, 0.176},
            {0.205, 0.182},
            {0.225, 0.182},
            {0.23, 0.176},
            {0.31, 0.172},
            {0.375, 0.158},
            {0.38, 0.165},
            {0.42, 0.165},
            {0.43, 0.15},
            {0.425, 0.14},
            {0.4, 0.135},
            {0.4, 0}
        };
        for (double[] p : profile) {
            y.add(p[0]);
            r.add(p[1]);
        }
        s.lathe(
                y.stream().mapToDouble(v -> v).toArray(),
                r.stream().mapToDouble(v -> v).toArray(),
                32,
                2,
                2.2);
        return s;
    }

    private static Shape plank() {
        Shape s = new Shape();
        s.patch = new double[] {0.1, 0.1, 0.2, 0.8};
        s.put(0, 0.016, 0, 0).box(0.12, 0.032, 0.9, 0.004, 0);
        // A broken end: shorter splinters beside each other.
        for (int k = 0; k < 4; k++) {
            s.patch = new double[] {0.15 + 0.12 * k, 0.2, 0.06, 0.3};
            s.put(-0.045 + 0.03 * k, 0.016, 0.47 + 0.05 * hash(k, 3, 71), 0)
                    .box(0.026, 0.026 - 0.004 * k, 0.12 + 0.1 * hash(k, 5, 72), 0.004, 0);
        }
        return s;
    }

    /** A lump whose corners are knocked off: a ball cut by planes. */
    private static Shape rubble() {
        Shape s = new Shape();
        int rows = 14, around = 22;
        Vec3[][] p = new Vec3[rows + 1][around + 1];
        Vec3[] cut = new Vec3[13];
        for (int k = 0; k < cut.length; k++)
            cut[k] = new Vec3(2 * hash(k, 1, 81) - 1, 2 * hash(k, 2, 81) - 1, 2 * hash(k, 3, 81) - 1).unit();
        double low = 1e9;
        for (int j = 0; j <= rows; j++) {
            for (int i = 0; i <= around; i++) {
                double a = Math.PI * j / rows, b = 2 * Math.PI * (i % around) / around;
                Vec3 d = new Vec3(Math.sin(a) * Math.cos(b), Math.cos(a), Math.sin(a) * Math.sin(b));
                double r = 0.2;
                for (int k = 0; k < cut.length; k++) {
                    double c = d.dot(cut[k]);
                    if (c > 0.05) r = Math.min(r, (0.105 + 0.05 * hash(k, 4, 81)) / c);
                }
                p[j][i] = new Vec3(1.25 * r * d.x(), 0.8 * r * d.y(), r * d.z());
                low = Math.min(low, p[j][i].y());
            }
        }
        Vec3 up = new Vec3(0, -low, 0);
        for (int j = 0; j < rows; j++) {
            for (int i = 0; i < around; i++) {
                Vec3[] q = {p[j][i].plus(up), p[j + 1][i].plus(up), p[j + 1][i + 1].plus(up), p[j][i + 1].plus(up)};
                Vec3 n = q[2].minus(q[0]).cross(q[3].minus(q[1]));
                if (n.length() < 1e-9) continue;
                n = n.unit();
                if (n.dot(q[0].plus(q[2]).times(0.5).minus(new Vec3(0, -low, 0))) < 0) n = n.times(-1);
                int[] v = new int[4];
                for (int k = 0; k < 4; k++)
                    v[k] = s.vertex(
                            q[k],
                            n,
                            (i + (k > 1 ? 1 : 0)) / (double) around,
                            (j + (k == 1 || k == 2 ? 1 : 0)) / (double) rows);
                Vec3 w = q[1].minus(q[0]).cross(q[2].minus(q[0]));
                boolean same = w.dot(n) >= 0;
                s.triangle(v[0], same ? v[1] : v[2], same ? v[2] : v[1]);
                s.triangle(v[0], same ? v[2] : v[3], same ? v[3] : v[2]);
            }
        }
        return s;
    }

    private static Paint wood() {
        return new Paint(512, (u, v, d) -> {
            float grain = octaves(u, v * 0.06, 90, 4, 501),
                    mid = octaves(u, v, 6, 5, 502),
                    l = 0.75f + 0.35f * (grain - 0.5f) + 0.3f * (mid - 0.5f);
            d.colour(0.27f * l, 0.205f * l, 0.14f * l);
            float wet = smooth(0.52f, 0.7f, octaves(u, v, 5, 5, 503));
            d.mix(0.10f, 0.085f, 0.065f, 0.5f * wet);
            d.roughness = 0.78f + 0.12f * mid;
            d.height = 0.0012f * grain;
        });
    }

    private static Paint steel() {
        return new Paint(256, (u, v, d) -> {
            float mid = octaves(u, v, 7, 5, 511),
                    rust = smooth(0.52f, 0.66f, octaves(u, v, 9, 6, 512)),
                    l = 0.9f + 0.25f * (mid - 0.5f);
            d.colour(0.05f * l, 0.12f * l, 0.16f * l);
            d.mix(0.17f, 0.07f, 0.03f, rust);
            d.roughness = 0.4f + 0.25f * mid + 0.3f * rust;
            d.height = 0.001f * rust * mid;
        });
    }

    private static Paint stone() {
        return new Paint(256, (u, v, d) -> {
            float mid = octaves(u, v, 8, 6, 521), l = 0.8f + 0.5f * (mid - 0.5f);
            d.colour(0.33f * l, 0.325f * l, 0.31f * l);
            d.roughness = 0.9f;
            d.height = 0.004f * mid;
        });
    }
}

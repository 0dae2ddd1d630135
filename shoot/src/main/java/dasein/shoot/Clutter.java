package dasein.shoot;

import static dasein.shoot.Noise.*;

import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Material;

/** What lies about on the slipway: bollards and rings, crates, the surveyor's pole, rope, stones and planks. */
final class Clutter {
    private final Slipway to;

    private Clutter(Slipway to) {
        this.to = to;
    }

    static void onto(Slipway s) {
        Clutter c = new Clutter(s);
        Material iron = iron();
        c.bollardsAndRings(iron);
        c.crates();
        c.surveyPole(iron);
        c.rope();
        c.stones();
        c.planks();
    }

    private void add(Shape s, Material m) {
        to.add(s, m);
    }

    private static Material iron() {
        Paint iron = new Paint(512, (u, v, d) -> {
            float mid = octaves(u, v, 8, 6, 71), fine = octaves(u, v, 90, 3, 72), rust = smooth(0.42f, 0.62f, mid);
            d.colour(0.035f, 0.036f, 0.038f);
            d.mix(0.17f + 0.1f * (fine - 0.5f), 0.07f, 0.03f, rust);
            d.scale(0.7f + 0.6f * fine);
            d.roughness = 0.45f + 0.4f * rust;
            d.height = 0.004f * fine + 0.006f * mid;
        });
        return iron.material("iron");
    }

    private void bollardsAndRings(Material iron) {
        Shape b = new Shape();
        double[] ys = {0, 0.02, 0.06, 0.12, 0.34, 0.42, 0.47, 0.53, 0.58, 0.61, 0.62},
                rs = {0.27, 0.27, 0.24, 0.17, 0.15, 0.17, 0.24, 0.25, 0.21, 0.10, 0};
        b.put(3.3, 0, -5.0, 0).lathe(ys, rs, 28, 2, 1.5);
        b.put(3.3, 0, -10.5, 40).lathe(ys, rs, 28, 2, 1.5);
        b.put(-3.1, 0, -9.3, 80).lathe(ys, rs, 28, 2, 1.5);
        for (double z : new double[] {-7.5, -3.6, -12.4}) {
            b.at = new Pose(Quat.axisAngle(Vec3.Z, Math.PI / 2), new Vec3(4.36, 0.95, z));
            b.torus(0.15, 0.02, 32, 10);
            b.at = new Pose(Quat.axisAngle(Vec3.Z, Math.PI / 2), new Vec3(4.38, 1.1, z));
            b.lathe(new double[] {-0.02, -0.02, 0.05, 0.05}, new double[] {0, 0.05, 0.04, 0}, 14, 1, 1);
        }
        add(b, iron);
    }

    private void crates() {
        Material wood = Slipway.planks(81, 0.30f, 0.22f, 0.13f, 6).material("crate");
        Shape c = new Shape();
        crate(c, 2.0, 0.36, -8.55, 12, 0.72);
        crate(c, 2.75, 0.30, -8.25, -20, 0.6);
        crate(c, 2.2, 0.97, -8.5, 31, 0.5);
        crate(c, -3.9, 0.33, -8.6, 25, 0.66);
        crate(c, -2.55, 0.21, -10.9, -8, 0.42);
        add(c, wood);
        // The crate whose corner is taped: put so that its near left foot is exactly there.
        Shape taped = new Shape();
        taped.put(1.55 + 0.275, 0.2, -8.15 - 0.275, 0).box(0.55, 0.4, 0.55, 0.006, 0);
        add(taped, Slipway.planks(82, 0.36f, 0.30f, 0.22f, 5).material("taped crate"));
    }

    private void surveyPole(Material iron) {
        Paint bands = new Paint(1024, (u, v, d) -> {
            int band = (int) Math.floor(v * 6);
            float wear = smooth(0.58f, 0.66f, octaves(u, v, 24, 5, 91)),
                    l = 0.85f + 0.2f * (octaves(u, v, 60, 3, 92) - 0.5f);
            if ((band & 1) == 0) d.colour(0.62f * l, 0.60f * l, 0.55f * l);
            else d.colour(0.42f * l, 0.035f * l, 0.03f * l);
            d.mix(0.12f, 0.09f, 0.06f, 0.8f * wear);
            d.roughness = 0.5f;
        });
        Shape pole = new Shape();
        pole.put(-1.9, 0, -6.2, 0)
                .lathe(
                        new double[] {0, 0.001, 2.39, 2.4, 2.4},
                        new double[] {0.055, 0.055, 0.055, 0.045, 0},
                        24,
                        1,
                        1 / 2.46);
        add(pole, bands.material("survey pole"));
        Shape foot = new Shape();
        for (int k = 0; k < 3; k++) {
            Quat q = Quat.axisAngle(Vec3.Y, 2.1 * k).times(Quat.axisAngle(Vec3.Z, Math.toRadians(-52)));
            foot.at = new Pose(q, new Vec3(-1.9, 0.36, -6.2));
            foot.lathe(new double[] {-0.58, 0}, new double[] {0.014, 0.014}, 10, 1, 1);
        }
        add(foot, iron);
    }

    private void rope() {
        Shape rope = new Shape();
        for (int k = 0; k < 6; k++)
            rope.put(3.15 + 0.02 * k, 0.03 + 0.045 * k, -6.4, 20 * k).torus(0.34 - 0.02 * (k % 3), 0.026, 48, 8);
        Paint hemp = new Paint(512, (u, v, d) -> {
            float twist = (float) (0.5 + 0.5 * Math.sin((u * 60 + v * 6) * Math.PI)),
                    l = 0.22f + 0.12f * twist + 0.1f * octaves(u, v, 40, 3, 95);
            d.colour(l, l * 0.83f, l * 0.55f);
            d.height = 0.01f * twist;
        });
        add(rope, hemp.material("rope"));
    }

    private void stones() {
        Paint rock = new Paint(512, (u, v, d) -> {
            float mid = octaves(u, v, 6, 6, 96), l = 0.14f + 0.3f * (mid - 0.4f);
            l = Math.max(0.03f, l);
            d.colour(l, l * 0.97f, l * 0.9f);
            d.height = 0.02f * mid;
        });
        Shape stones = new Shape();
        for (int k = 0; k < 170; k++) {
            double x = -8 + 12.2 * hash(k, 1, 97),
                    z = 2 - 16 * hash(k, 2, 97),
                    r = 0.015 + 0.055 * Math.pow(hash(k, 3, 97), 3);
            if (k < 60) x = 3.4 + hash(k, 1, 97) * 0.95;
            stones.put(x, r * 0.3, z, 360 * hash(k, 4, 97)).stone(r, 1000 + k);
        }
        add(stones, rock.material("stones"));
    }

    private void planks() {
        Shape plank = new Shape();
        plank.put(0.4, 0.02, -10.4, 64).box(2.2, 0.04, 0.16, 0.004, 0.6);
        plank.put(-0.2, 0.055, -10.7, 12).box(1.4, 0.035, 0.14, 0.004, 0.6);
        add(plank, Slipway.planks(83, 0.24f, 0.19f, 0.14f, 3).material("planks"));
    }

    private static void crate(Shape c, double x, double y, double z, double turn, double size) {
        double k = size / 0.72;
        c.put(x, y * 1.0, z, turn).box(size * 0.94, size * 0.94, size * 0.94, 0.004, 0);
        Pose base = c.at;
        for (int s = -1; s <= 1; s += 2) {
            for (int f = -1; f <= 1; f += 2) {
                double h = size / 2, e = 0.035 * k;
                part(c, base, s * (h - e), 0, f * (h - e * 0.4), 2 * e, size, e);
                part(c, base, s * (h - e * 0.4), 0, f * (h - e), e, size, 2 * e);
                part(c, base, 0, s * (h - e), f * (h - e * 0.3), size - 4 * e, 2 * e, e * 0.9);
                part(c, base, f * (h - e * 0.3), s * (h - e), 0, e * 0.9, 2 * e, size - 4 * e);
            }
        }
    }

    private static void part(Shape c, Pose base, double x, double y, double z, double sx, double sy, double sz) {
        c.at = base.times(new Pose(Quat.IDENTITY, new Vec3(x, y, z)));
        c.box(sx, sy, sz, 0.003, 0.7);
    }
}

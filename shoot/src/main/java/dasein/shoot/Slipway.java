package dasein.shoot;

import static dasein.shoot.Noise.*;

import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The set of Low Water: a disused concrete slipway at low tide. Ground at y = 0, water further down -Z, quay wall at
 * the right.
 */
final class Slipway {
    /** Metres that one ground texture covers. */
    private static final double GROUND_TILE = 14;

    private static final int GROUND_TEXELS = Integer.getInteger("texels", 4096);

    /** Points a tape can be laid between, on the ground or on things. */
    static final Map<String, Vec3> POINTS = new LinkedHashMap<>();

    static {
        POINTS.put("survey pole foot", new Vec3(-1.9, 0, -6.2));
        POINTS.put("survey pole top", new Vec3(-1.9, 2.4, -6.2));
        POINTS.put("near bollard foot", new Vec3(3.3, 0, -5.0));
        POINTS.put("far bollard foot", new Vec3(3.3, 0, -10.5));
        POINTS.put("crate corner, near left", new Vec3(1.55, 0, -8.15));
        POINTS.put("boathouse door sill, right", new Vec3(-3.4, 0, -12.0));
        POINTS.put("quay wall foot at ring", new Vec3(4.4, 0, -7.5));
        POINTS.put("mooring ring", new Vec3(4.38, 1.1, -7.5));
    }

    /** Pairs that were taped. */
    static final String[][] TAPED = {
        {"survey pole foot", "survey pole top"},
        {"near bollard foot", "far bollard foot"},
        {"survey pole foot", "near bollard foot"},
        {"survey pole foot", "crate corner, near left"},
        {"boathouse door sill, right", "survey pole foot"},
        {"quay wall foot at ring", "mooring ring"}
    };

    private final List<Shape> shapes = new ArrayList<>();
    private final List<Material> materials = new ArrayList<>();

    /** The whole set as one mesh, so that a ray walks one tree. */
    static Mesh build() {
        Slipway s = new Slipway();
        s.ground();
        s.quay();
        s.boathouse();
        Clutter.onto(s);
        s.distance();
        return s.merged();
    }

    void add(Shape s, Material m) {
        shapes.add(s);
        materials.add(m);
    }

    private Mesh merged() {
        int vertices = shapes.stream().mapToInt(s -> s.vertices).sum(),
                corners = shapes.stream().mapToInt(s -> s.corners).sum();
        float[] p = new float[3 * vertices], n = new float[3 * vertices], uv = new float[2 * vertices];
        int[] index = new int[corners], material = new int[corners / 3];
        int v = 0, c = 0;
        for (int k = 0; k < shapes.size(); k++) {
            Shape s = shapes.get(k);
            System.arraycopy(s.position, 0, p, 3 * v, 3 * s.vertices);
            System.arraycopy(s.normal, 0, n, 3 * v, 3 * s.vertices);
            System.arraycopy(s.uv, 0, uv, 2 * v, 2 * s.vertices);
            for (int i = 0; i < s.corners; i++) index[c + i] = s.index[i] + v;
            java.util.Arrays.fill(material, c / 3, (c + s.corners) / 3, k);
            v += s.vertices;
            c += s.corners;
        }
        return new Mesh(p, p, n, n, uv, index, material, materials.toArray(Material[]::new), 0, Mesh.Role.PERFORMER);
    }

    private void ground() {
        Paint concrete = new Paint(GROUND_TEXELS, (u, v, d) -> {
            float big = octaves(u, v, 3, 5, 11),
                    mid = octaves(u, v, 24, 5, 12),
                    fine = octaves(u, v, 220, 4, 13),
                    grit = hash((int) (u * GROUND_TEXELS), (int) (v * GROUND_TEXELS), 14);
            float l =
                    0.25f + 0.16f * (big - 0.5f) + 0.20f * (mid - 0.5f) + 0.16f * (fine - 0.5f) + 0.05f * (grit - 0.5f);
            d.colour(l * 1.03f, l, l * 0.93f);
            d.roughness = 0.82f + 0.12f * (mid - 0.5f);
            d.height = 0.0007f * mid + 0.00022f * fine;
            cells(u, v, 420, 15, d.scratch);
            // Exposed pebbles, light and dark.
            if (d.scratch[2] > 0.72f) {
                float in = 1 - smooth(0.22f, 0.34f, d.scratch[0]);
                float tone = d.scratch[2] > 0.87f ? 0.42f : 0.12f;
                d.mix(tone, tone * 0.97f, tone * 0.9f, 0.7f * in);
                d.height += 0.00018f * in;
            }
            // Cracks along warped cell borders, and pour joints every 3.5 m.
            double wu = u + 0.018 * (octaves(u, v, 9, 4, 16) - 0.5), wv = v + 0.018 * (octaves(u, v, 9, 4, 17) - 0.5);
            cells(wu, wv, 9, 18, d.scratch);
            float crack = 1
                    - smooth(
                            0.004f,
                            0.016f,
                            (d.scratch[1] - d.scratch[0]) * smooth(0.3f, 0.6f, 1.2f - octaves(u, v, 5, 3, 19)));
            double ju = Math.abs(wu * 4 - Math.rint(wu * 4)), jv = Math.abs(wv * 4 - Math.rint(wv * 4));
            float joint = 1 - smooth(0.002f, 0.0055f, (float) Math.min(ju, jv));
            float dark = Math.max(crack * 0.75f, joint * 0.85f);
            d.mix(0.045f, 0.042f, 0.036f, dark);
            d.height -= 0.0006f * dark;
            // Weed and rust stains.
            float stain = smooth(0.56f, 0.72f, octaves(u + 0.37, v + 0.11, 7, 6, 20));
            d.mix(0.075f, 0.085f, 0.045f, 0.65f * stain);
            float rust = smooth(0.66f, 0.8f, octaves(u + 0.7, v + 0.4, 14, 5, 21));
            d.mix(0.20f, 0.10f, 0.05f, 0.55f * rust);
            // Wet patches: darker, smooth, and level.
            float wet = smooth(0.535f, 0.60f, octaves(u + 0.13, v + 0.57, 5, 5, 22) + 0.10f * (mid - 0.5f));
            d.scale(1 - 0.55f * wet);
            d.roughness += (0.09f - d.roughness) * wet;
            d.height *= 1 - 0.9f * wet;
        });
        Material m = concrete.material("concrete");
        Shape s = new Shape();
        double k = 1 / GROUND_TILE;
        grid(s, -30, 30, -14, 12, 0, 0, k);
        grid(s, -30, 30, -30, -14, -2.0, 0, k);
        add(s, m);
        Paint water = new Paint(1024, (u, v, d) -> {
            d.colour(0.02f, 0.03f, 0.03f);
            d.roughness = 0.06f;
            d.height = 0.004f * octaves(u, v, 10, 4, 31) + 0.002f * octaves(u * 1, v, 40, 3, 32);
        });
        Shape w = new Shape();
        w.quad(
                new Vec3(-300, -0.55, -17),
                new Vec3(300, -0.55, -17),
                new Vec3(300, -0.55, -400),
                new Vec3(-300, -0.55, -400),
                90,
                60);
        add(w, water.material("water"));
    }

    /** A rectangle from z1 (height y1) to z0 (height y0), normal up. */
    private static void grid(
            Shape s, double x0, double x1, double z0, double z1, double y0, double y1, double density) {
        Vec3 a = new Vec3(x0, y1, z1), b = new Vec3(x1, y1, z1), c = new Vec3(x1, y0, z0), d = new Vec3(x0, y0, z0);
        Vec3 n = b.minus(a).cross(d.minus(a)).unit();
        int i = s.vertex(a, n, x0 * density, z1 * density);
        s.vertex(b, n, x1 * density, z1 * density);
        s.vertex(c, n, x1 * density, z0 * density);
        s.vertex(d, n, x0 * density, z0 * density);
        s.triangle(i, i + 1, i + 2);
        s.triangle(i, i + 2, i + 3);
    }

    /**
     * Places on the landing that tests know: the stairs' four lowest and two highest corners, and the inner corner of
     * the walls at foot and top.
     */
    static final Map<String, Vec3> LANDING = new LinkedHashMap<>();

    private static final double STEP_X = -0.3, STEP_Z = -6.4, STEP_WIDTH = 1.8, STEP_RISE = 0.18, STEP_RUN = 0.3;
    private static final int STEPS = 4;

    static {
        double l = STEP_X - STEP_WIDTH / 2,
                r = STEP_X + STEP_WIDTH / 2,
                near = STEP_Z + STEPS * STEP_RUN / 2,
                far = STEP_Z - STEPS * STEP_RUN / 2;
        LANDING.put("stairs, near left foot", new Vec3(l, 0, near));
        LANDING.put("stairs, near right foot", new Vec3(r, 0, near));
        LANDING.put("stairs, first edge left", new Vec3(l, STEP_RISE, near));
        LANDING.put("stairs, first edge right", new Vec3(r, STEP_RISE, near));
        LANDING.put("stairs, last edge left", new Vec3(l, STEPS * STEP_RISE, far + STEP_RUN));
        LANDING.put("stairs, last edge right", new Vec3(r, STEPS * STEP_RISE, far + STEP_RUN));
        LANDING.put("wall corner, foot", new Vec3(-1.6, 0, -7.1));
        LANDING.put("wall corner, top", new Vec3(-1.6, 2.2, -7.1));
        LANDING.put("left wall, near end foot", new Vec3(-1.6, 0, -4.8));
        LANDING.put("left wall, near end top", new Vec3(-1.6, 2.2, -4.8));
        LANDING.put("long wall, far end top", new Vec3(2.4, 2.2, -7.1));
    }

    /** Stairs of four steps before a corner of two walls, to be put on the slipway for a take. */
    static Mesh landing() {
        Slipway s = new Slipway();
        Shape stairs = new Shape(), walls = new Shape();
        for (int i = 0; i < STEPS; i++) {
            double depth = (STEPS - i) * STEP_RUN;
            stairs.put(STEP_X, (i + 0.5) * STEP_RISE, STEP_Z - STEPS * STEP_RUN / 2 + depth / 2, 0)
                    .box(STEP_WIDTH, STEP_RISE, depth, 0.004, 0.6);
        }
        walls.put(0.4, 1.1, -7.25, 0).box(4.0, 2.2, 0.3, 0.006, 0.37);
        walls.put(-1.75, 1.1, -6.1, 0).box(0.3, 2.2, 2.6, 0.006, 0.37);
        s.add(stairs, planks(85, 0.34f, 0.30f, 0.24f, 4).material("steps"));
        s.add(walls, stone().material("wall"));
        return s.merged();
    }

    private static Paint stone() {
        return new Paint(2048, (u, v, d) -> {
            // Courses of uneven blocks.
            double row = v * 7 + 0.12 * (octaves(u, v, 8, 3, 41) - 0.5);
            int r = (int) Math.floor(row);
            double shift = hash(Math.floorMod(r, 7), 3, 42),
                    col = u * (5 + Math.floorMod(r, 3)) + shift + 0.12 * (octaves(u, v, 8, 3, 43) - 0.5);
            int c = Math.floorMod((int) Math.floor(col), 5 + Math.floorMod(r, 3));
            double fu = col - Math.floor(col), fv = row - r;
            float edge = (float) Math.min(Math.min(fu, 1 - fu) * 1.2, Math.min(fv, 1 - fv));
            float tone = 0.14f + 0.16f * hash(c, Math.floorMod(r, 7), 44),
                    mid = octaves(u, v, 40, 5, 45),
                    fine = octaves(u, v, 256, 3, 46);
            float l = tone + 0.13f * (mid - 0.5f) + 0.10f * (fine - 0.5f);
            d.colour(l, l * 0.96f, l * 0.88f);
            float mortar = 1 - smooth(0.03f, 0.075f, edge + 0.04f * (mid - 0.5f));
            d.mix(0.08f, 0.078f, 0.07f, mortar);
            d.height = 0.006f * smooth(0.02f, 0.14f, edge) + 0.004f * mid + 0.0012f * fine;
            // Tide line: dark weed below, pale barnacles along it.
            float tide = smooth(0.62f, 0.74f, (float) v + 0.10f * (octaves(u, v, 6, 4, 47) - 0.5f));
            d.mix(0.05f, 0.062f, 0.03f, 0.75f * tide);
            cells(u, v, 150, 48, d.scratch);
            float shell = (1 - smooth(0.14f, 0.24f, d.scratch[0]))
                    * (d.scratch[2] > 0.6f ? 1 : 0)
                    * smooth(0.5f, 0.62f, (float) v)
                    * (1 - smooth(0.72f, 0.85f, (float) v));
            d.mix(0.5f, 0.48f, 0.42f, 0.8f * shell);
            d.roughness = 0.85f - 0.35f * tide;
        });
    }

    private void quay() {
        Material m = stone().material("quay stone");
        Shape s = new Shape();
        double x = 4.4, top = 2.3;
        // Faces -X, towards the slipway.
        s.quad(new Vec3(x, -0.4, -40), new Vec3(x, -0.4, 4), new Vec3(x, top, 4), new Vec3(x, top, -40), 44 / 2.7, 1);
        add(s, m);
        Paint cap = new Paint(1024, (u, v, d) -> {
            float mid = octaves(u, v, 12, 6, 51),
                    fine = octaves(u, v, 128, 3, 52),
                    l = 0.27f + 0.22f * (mid - 0.5f) + 0.12f * (fine - 0.5f);
            d.colour(l, l * 0.97f, l * 0.9f);
            d.height = 0.003f * mid + 0.001f * fine;
            float lichen = smooth(0.6f, 0.68f, octaves(u, v, 20, 4, 53));
            d.mix(0.33f, 0.28f, 0.10f, 0.6f * lichen);
        });
        Material capStone = cap.material("cap stone");
        Shape c = new Shape();
        for (int i = 0; i < 30; i++) {
            c.put(x + 0.42, top + 0.11 + 0.012 * hash(i, 1, 54), 3.2 - 1.45 * i, 2 * (hash(i, 2, 54) - 0.5));
            c.patch = new double[] {hash(i, 3, 54), hash(i, 4, 54), 1, 1};
            c.box(0.95, 0.24, 1.42, 0.02, 0.6);
        }
        add(c, capStone);
    }

    static Paint planks(int seed, float r, float g, float b, int boards) {
        return new Paint(1024, (u, v, d) -> {
            int board = (int) Math.floor(u * boards);
            double fu = u * boards - board;
            float grain = octaves(u * 1.0, v * 0.12 + hash(board, 5, seed), 160, 4, seed + 1),
                    mid = octaves(u, v, 10, 5, seed + 2),
                    tone = 0.75f + 0.5f * hash(board, 7, seed);
            float worn = smooth(0.52f, 0.66f, octaves(u, v, 14, 6, seed + 3));
            float l = tone * (0.8f + 0.5f * (grain - 0.5f) + 0.4f * (mid - 0.5f));
            d.colour(r * l, g * l, b * l);
            d.mix(0.19f * l, 0.165f * l, 0.135f * l, worn);
            float gap = 1 - smooth(0.02f, 0.05f, (float) Math.min(fu, 1 - fu));
            d.mix(0.015f, 0.013f, 0.01f, gap);
            cells(u, v, boards, seed + 4, d.scratch);
            float nail = 1 - smooth(0.03f, 0.05f, d.scratch[0]);
            d.mix(0.07f, 0.03f, 0.015f, nail);
            d.height = -0.004f * gap + 0.0007f * grain;
            d.roughness = 0.75f;
        });
    }

    private void boathouse() {
        Material wall = planks(61, 0.20f, 0.065f, 0.045f, 14).material("boathouse boards"),
                trim = planks(62, 0.42f, 0.41f, 0.37f, 5).material("boathouse trim");
        Material door = planks(63, 0.10f, 0.16f, 0.15f, 9).material("boathouse doors");
        Shape w = new Shape();
        // Front stands at z = -12 from x = -9.4 to -2.6; the right side wall runs back from it.
        w.quad(
                new Vec3(-9.4, 0, -12),
                new Vec3(-2.6, 0, -12),
                new Vec3(-2.6, 3.1, -12),
                new Vec3(-9.4, 3.1, -12),
                2.2,
                1);
        w.quad(
                new Vec3(-2.6, 0, -12),
                new Vec3(-2.6, 0, -20),
                new Vec3(-2.6, 3.1, -20),
                new Vec3(-2.6, 3.1, -12),
                2.6,
                1);
        Vec3 n = Vec3.Z;
        int i = w.vertex(new Vec3(-9.4, 3.1, -12), n, 0, 1);
        w.vertex(new Vec3(-2.6, 3.1, -12), n, 2.2, 1);
        w.vertex(new Vec3(-6, 5.2, -12), n, 1.1, 0.2);
        w.triangle(i, i + 1, i + 2);
        add(w, wall);
        Shape t = new Shape();
        for (double x : new double[] {-9.3, -2.7, -8.55, -6.0, -3.45})
            t.put(x, 1.5, -11.95, 0).box(0.16, 3.1, 0.1, 0.01, 0.5);
        t.put(-6, 2.72, -11.93, 0).box(5.3, 0.2, 0.1, 0.01, 0.4);
        t.put(-6, 0.05, -11.9, 0).box(5.2, 0.1, 0.2, 0.01, 0.4);
        add(t, trim);
        Shape d = new Shape();
        for (int k = 0; k < 2; k++) d.put(-7.28 + 2.55 * k, 1.36, -11.96, 0).box(2.36, 2.5, 0.05, 0.01, 0);
        add(d, door);
        Paint slate = new Paint(1024, (u, v, e) -> {
            double row = v * 16;
            int r = (int) Math.floor(row);
            double col = u * 12 + 0.5 * (r & 1);
            float tone = 0.05f + 0.06f * hash(Math.floorMod((int) Math.floor(col), 12), r, 66),
                    fu = (float) (col - Math.floor(col)),
                    fv = (float) (row - r);
            float l = tone * (0.8f + 0.6f * octaves(u, v, 60, 4, 67));
            e.colour(l, l * 1.02f, l * 1.06f);
            float gap = 1 - smooth(0.02f, 0.07f, Math.min(Math.min(fu, 1 - fu), fv));
            e.mix(0.01f, 0.01f, 0.01f, gap);
            e.height = 0.004f * fv;
            e.roughness = 0.55f;
        });
        Shape roof = new Shape();
        roof.quad(
                new Vec3(-2.2, 2.85, -11.6),
                new Vec3(-2.2, 2.85, -20.5),
                new Vec3(-6, 5.25, -20.5),
                new Vec3(-6, 5.25, -11.6),
                3,
                1.5);
        roof.quad(
                new Vec3(-9.8, 2.85, -20.5),
                new Vec3(-9.8, 2.85, -11.6),
                new Vec3(-6, 5.25, -11.6),
                new Vec3(-6, 5.25, -20.5),
                3,
                1.5);
        add(roof, slate.material("slates"));
    }

    /** The other shore, low and hazy. */
    private void distance() {
        Paint shore = new Paint(1024, (u, v, d) -> {
            float mid = octaves(u, v, 24, 6, 101), fine = octaves(u, v, 120, 4, 102);
            float l = 0.13f + 0.16f * (mid - 0.5f) + 0.12f * (fine - 0.5f);
            d.colour(l * 0.9f, l, l * 0.86f);
            d.mix(0.30f, 0.33f, 0.36f, 0.45f);
        });
        Shape s = new Shape();
        int n = 220, first = s.vertices;
        for (int i = 0; i <= n; i++) {
            double a = Math.PI * (i / (double) n - 0.5) * 1.1, r = 150, x = r * Math.sin(a), z = -r * Math.cos(a);
            double h = 5
                    + 9 * octaves(i / (double) n, 0.3, 7, 5, 103)
                    + 2.5 * hash(i, 1, 104) * smooth(0.4f, 0.7f, octaves(i / (double) n, 0.7, 12, 3, 105));
            Vec3 nrm = new Vec3(-Math.sin(a), 0.5, Math.cos(a)).unit();
            s.vertex(new Vec3(x, -0.6, z), nrm, 14.0 * i / n, 1);
            s.vertex(new Vec3(x * 1.1, h, z * 1.1), nrm, 14.0 * i / n, 0);
        }
        for (int i = 0; i < n; i++) {
            int p = first + 2 * i;
            s.triangle(p, p + 2, p + 1);
            s.triangle(p + 1, p + 2, p + 3);
        }
        add(s, shore.material("other shore"));
        Paint buoy = new Paint(256, (u, v, d) -> {
            float l = 0.7f + 0.5f * octaves(u, v, 10, 4, 106);
            if (v > 0.4 && v < 0.7) d.colour(0.5f * l, 0.5f * l, 0.46f * l);
            else d.colour(0.45f * l, 0.11f * l, 0.02f * l);
        });
        Shape b = new Shape();
        b.put(-1.5, -0.55, -33, 0)
                .lathe(
                        new double[] {0, 0.3, 0.8, 1.5, 1.9, 2.0},
                        new double[] {0.5, 0.55, 0.4, 0.2, 0.12, 0},
                        20,
                        2,
                        0);
        b.put(12, -0.55, -60, 0)
                .lathe(
                        new double[] {0, 0.3, 0.8, 1.5, 1.9, 2.0},
                        new double[] {0.5, 0.55, 0.4, 0.2, 0.12, 0},
                        20,
                        2,
                        0);
        add(b, buoy.material("buoy"));
        Shape piles = new Shape();
        for (int k = 0; k < 9; k++)
            piles.put(1.8 + 0.9 * (k % 3) + 0.2 * hash(k, 1, 108), -0.8, -19 - 3.2 * (k / 3), 30 * k)
                    .lathe(
                            new double[] {0, 2.2 + 0.5 * hash(k, 2, 108), 2.25 + 0.5 * hash(k, 2, 108)},
                            new double[] {0.14, 0.12, 0},
                            14,
                            1,
                            0.4);
        add(piles, planks(84, 0.11f, 0.09f, 0.07f, 3).material("piles"));
    }
}

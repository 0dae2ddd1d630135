package dasein.core.render;

import static dasein.core.render.Shapes.even;
import static dasein.core.render.Shapes.middle;
import static dasein.core.render.Shapes.render;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Texture;
import dasein.core.render.pass.Passes;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Brushed metal, thin films, leaves and strands: closed forms and what must be conserved. */
class FineStructureTest {
    private static final Pose FRONT = Pose.lookAt(new Vec3(0, 0, 4), new Vec3(0, 0, 0), Vec3.Y);

    /** A wall on z = 0 whose u grows to the right, v downwards. */
    private static Mesh wall(Material m) {
        float[] p = {-9, -9, 0, 9, -9, 0, 9, 9, 0, -9, 9, 0}, n = {0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1};
        float[] uv = {0, 1, 1, 1, 1, 0, 0, 0, 0, 1, 0, 0, 1, 0, 1, 1};
        return new Mesh(
                p, p, n, n, uv, new int[] {0, 1, 2, 0, 2, 3}, new int[2], new Material[] {m}, 1, Mesh.Role.PERFORMER);
    }

    private static Material of(float base, float metal, float rough, float[] f0, Material.Fine fine) {
        return Shapes.material(base, metal, rough, null, new Material.Layers(f0, 0, 0, 0, false).with(fine));
    }

    private static Material brushed(float rough, float strength, double degrees) {
        return of(
                1,
                1,
                rough,
                new float[3],
                new Material.Fine(new Material.Brushed(strength, (float) Math.toRadians(degrees)), null, null, false));
    }

    /** White furnace (Pharr et al.) of brushed metal at ten roughnesses. */
    @Test
    void brushedMetalKeepsItsLight() {
        for (int k = 1; k <= 10; k++) {
            Passes p = render(
                    List.of(wall(brushed(k / 10f, 0.8f, 30))),
                    new Lighting(even(0.5f), List.of()),
                    FRONT,
                    64,
                    2,
                    false,
                    null);
            assertThat(middle(p, 1)).as("roughness %.1f", k / 10.0).isBetween(0.44f, 0.53f);
        }
    }

    /**
     * A highlight is drawn out along the way it is brushed, which turns counter-clockwise (KHR_materials_anisotropy).
     */
    @Test
    void highlightsAreDrawnOutAlongTheBrush() {
        Sun sun = new Sun(new Vec3(0, 0, 1), Math.toRadians(1), new float[] {3, 3, 3});
        double[] level = new double[4];
        for (int k = 0; k < 4; k++) {
            Passes p = render(
                    List.of(wall(brushed(0.25f, 0.7f, 45 * k))),
                    new Lighting(null, List.of(sun)),
                    FRONT,
                    64,
                    0,
                    false,
                    null);
            // The mean place of the light, second moments along x, y and between.
            double w = 0, xx = 0, yy = 0, xy = 0;
            for (int y = 0; y < 60; y++)
                for (int x = 0; x < 80; x++) {
                    double v = p.beauty[1][80 * y + x], dx = x - 39.5, dy = 29.5 - y;
                    if (Math.hypot(dx, dy) > 28) continue;
                    w += v;
                    xx += v * dx * dx;
                    yy += v * dy * dy;
                    xy += v * dx * dy;
                }
            double angle = Math.toDegrees(0.5 * Math.atan2(2 * xy, xx - yy));
            level[k] = w;
            assertThat(Math.abs(Math.sin(Math.toRadians(angle - 45 * k))))
                    .as("brushed at %d, drawn out at %.1f", 45 * k, angle)
                    .isLessThan(Math.sin(Math.toRadians(3)));
        }
        assertThat(level[1]).isCloseTo(level[0], within(0.05 * level[0]));
    }

    /** Sun from behind: what comes through a leaf is part times colour times E cos over pi; in front the rest is. */
    @Test
    void leavesAreLitFromBehind() {
        Material leaf = of(
                0.6f,
                0,
                1,
                new float[3],
                new Material.Fine(null, null, new Material.Leaf(0.4f, new float[] {0.5f, 0.8f, 0.2f}), false));
        for (int side = -1; side <= 1; side += 2) {
            Sun sun = new Sun(new Vec3(0, 0.6, 0.8 * side), Math.toRadians(0.5), new float[] {2, 2, 2});
            Passes p = render(List.of(wall(leaf)), new Lighting(null, List.of(sun)), FRONT, 64, 3, false, null);
            double e = 2 * 0.8 / Math.PI;
            float[] part = side < 0
                    ? new float[] {0.4f * 0.5f, 0.4f * 0.8f, 0.4f * 0.2f}
                    : new float[] {0.6f * 0.6f, 0.6f * 0.6f, 0.6f * 0.6f};
            for (int c = 0; c < 3; c++)
                assertThat((double) middle(p, c))
                        .as("side %d colour %d", side, c)
                        .isCloseTo(part[c] * e, within(0.004));
        }
        // What absorbs nothing vanishes in even light, also where light goes through.
        Material white = of(
                1,
                0,
                1,
                new float[3],
                new Material.Fine(null, null, new Material.Leaf(0.5f, new float[] {1, 1, 1}), false));
        Passes p = render(List.of(wall(white)), new Lighting(even(0.5f), List.of()), FRONT, 64, 2, false, null);
        assertThat(middle(p, 1)).isCloseTo(0.5f, within(0.005f));
    }

    /**
     * A film's colours against the sum of its two beams over the spectrum (Airy; Fresnel's formulas for both
     * polarisations), seen with the eye's curves as Wyman, Sloan and Shirley 2013 fit them (from memory).
     */
    @Test
    void filmsHaveTheColoursOfTheirThickness() {
        double worst = 0, sum = 0;
        int n = 0;
        for (double nm : new double[] {150, 250, 350, 450, 550})
            for (double cos : new double[] {1, 0.8, 0.5}) {
                float[] f0 = {0.04f, 0.04f, 0.04f};
                ThinFilm.on(f0, (float) cos, 1, 1.33f, (float) nm);
                double[] airy = airy(cos, 1.33, 1.5, nm);
                for (int c = 0; c < 3; c++) {
                    double k = Math.pow(1 - cos, 5), seen = f0[c] + (1 - f0[c]) * k, d = Math.abs(seen - airy[c]);
                    worst = Math.max(worst, d);
                    sum += d;
                    n++;
                }
            }
        assertThat(worst).as("of all colours").isLessThan(0.02);
        assertThat(sum / n).isLessThan(0.006);
        // Without thickness there is no film.
        float[] bare = {0.04f, 0.5f, 0.9f};
        ThinFilm.on(bare, 0.9f, 1, 1.33f, 0);
        assertThat(bare).usingComparatorWithPrecision(0.02f).containsExactly(0.04f, 0.5f, 0.9f);
    }

    private static double[] airy(double cos, double film, double under, double nm) {
        double sin = Math.sqrt(1 - cos * cos),
                c2 = Math.sqrt(1 - sin * sin / film / film),
                c3 = Math.sqrt(1 - sin * sin / under / under);
        double[] xyz = new double[3], white = new double[3];
        for (double l = 380; l <= 780; l += 1) {
            double phase = 4 * Math.PI * film * nm * c2 / l, r = 0;
            for (int pol = 0; pol < 2; pol++) {
                double a = pol == 0 ? (cos - film * c2) / (cos + film * c2) : (film * cos - c2) / (film * cos + c2);
                double b = pol == 0
                        ? (film * c2 - under * c3) / (film * c2 + under * c3)
                        : (under * c2 - film * c3) / (under * c2 + film * c3);
                double k = 2 * a * b * Math.cos(phase);
                r += 0.5 * (a * a + b * b + k) / (1 + a * a * b * b + k);
            }
            double[] eye = {
                1.056 * bell(l, 599.8, 37.9, 31.0)
                        + 0.362 * bell(l, 442.0, 16.0, 26.7)
                        - 0.065 * bell(l, 501.1, 20.4, 26.2),
                0.821 * bell(l, 568.8, 46.9, 40.5) + 0.286 * bell(l, 530.9, 16.3, 31.1),
                1.217 * bell(l, 437.0, 11.8, 36.0) + 0.681 * bell(l, 459.0, 26.0, 13.8)
            };
            for (int c = 0; c < 3; c++) {
                xyz[c] += eye[c] * r;
                white[c] += eye[c];
            }
        }
        double[] out = new double[3];
        double[] m = {
            3.2404542, -1.5371385, -0.4985314, -0.9692660, 1.8760108, 0.0415560, 0.0556434, -0.2040259, 1.0572252
        };
        // Light of the same power everywhere is white, as the renderer takes it.
        double[] w = {0.9505, 1, 1.089};
        for (int c = 0; c < 3; c++) for (int k = 0; k < 3; k++) out[c] += m[3 * c + k] * w[k] * xyz[k] / white[k];
        return out;
    }

    private static double bell(double l, double at, double below, double above) {
        double t = (l - at) / (l < at ? below : above);
        return Math.exp(-0.5 * t * t);
    }

    /** Two pictures on one wall, one by each set of places; a picture moved by a map is the picture elsewhere. */
    @Test
    void everyPictureHasItsOwnPlaces() {
        int[] argb = new int[16];
        for (int i = 0; i < 16; i++) argb[i] = i % 4 < 2 ? 0xffffffff : 0xff000000;
        Texture t = new Texture(4, 4, argb, false, true);
        // By the first set white is on the left, by the second (x and y change places) below.
        for (int k = 0; k < 3; k++) {
            Texture laid = k == 0 ? t : k == 1 ? t.placed(1, null) : t.placed(0, new float[] {-1, 0, 1, 0, 1, 0});
            Material m = Shapes.material(1, 0, 1, laid, new Material.Layers(new float[3], 0, 0, 0, true));
            Pose far = Pose.lookAt(new Vec3(0, 0, 26), new Vec3(0, 0, 0), Vec3.Y);
            Passes p = render(List.of(wall(m)), new Lighting(even(1), List.of()), far, 4, 0, false, null);
            float left = p.beauty[0][80 * 12 + 2], right = p.beauty[0][80 * 12 + 77], low = p.beauty[0][80 * 57 + 77];
            assertThat(new float[] {left, right, low})
                    .usingComparatorWithPrecision(0.01f)
                    .containsExactly(k == 0 ? 1 : 0, k == 2 ? 1 : 0, k == 0 ? 0 : k == 1 ? 1 : 1);
        }
    }
}

package dasein.core.comp.step;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.Aperture;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.math.Pose;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.CatcherLook;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Out of focus in the comp as through a traced lens. */
class DefocusTest {
    private static final int W = 160, H = 120;
    private static final Lens LENS = new Lens(160, 80, 60, 0, 0);

    private static Mesh card(double x, double z, double half, float grey) {
        float a = (float) (x - half), b = (float) (x + half), h = (float) half, d = (float) -z;
        float[] p = {a, -h, d, b, -h, d, b, h, d, a, h, d};
        Material m = Material.matt(grey, grey, grey).with(new Material.Layers(new float[3], 0, 0, 0, true));
        return new Mesh(
                p,
                p,
                new float[12],
                new float[12],
                new float[8],
                new int[] {0, 1, 2, 0, 2, 3},
                new int[2],
                new Material[] {m},
                1,
                Mesh.Role.PERFORMER);
    }

    private static Passes seen(List<Mesh> scene, Aperture a, int samples) {
        Image sky = new Image(8, 4, 3);
        return FrameRenderer.render(
                new FrameRenderer.Job(
                                scene,
                                new Lighting(new Environment(sky, 0, 1), List.of()),
                                new View(Pose.IDENTITY, Pose.IDENTITY, LENS, W, H),
                                null,
                                CatcherLook.DRY,
                                new Quality(samples, samples, 0, 0, false),
                                false,
                                0.5,
                                5)
                        .focused(a),
                Progress.NONE,
                null);
    }

    private static double off(List<Mesh> scene, double wide, double focus) {
        Aperture a = new Aperture(wide, focus, 0, 0);
        Passes traced = seen(scene, a, 400), pinhole = seen(scene, null, 16);
        // Of what is far off: its disc is as the focus and the width of the opening say.
        double far = a.confusionPx(1e9, LENS.focalPx());
        CompRecipe r = CompRecipe.BLANK
                .with(Softness.SOFTNESS, 0)
                .with(Grain.GRAIN, 0)
                .with(Defocus.FAR, far)
                .with(Defocus.FOCUS, focus);
        Image plate = new Image(W, H, 3);
        for (float[] p : plate.planes) Arrays.fill(p, 0.1f);
        Image made = Comp.frame(plate, pinhole, r, Encoding.REC709, 1, 1);
        double sum = 0;
        for (int i = 0; i < W * H; i++) {
            double want = 0.1 * (1 - traced.alpha[i]) + traced.beauty[1][i];
            sum += Math.pow(made.planes[1][i] - want, 2);
        }
        return Math.sqrt(sum / (W * H));
    }

    /** A card before and behind the focus, and one before another: within 2 % of white of what is traced. */
    @Test
    void asThroughATracedLens() {
        double behind = off(List.of(card(0.3, 6, 1, 0.8f)), 0.2, 2),
                before = off(List.of(card(0.1, 1.5, 0.3, 0.8f)), 0.12, 4),
                both = off(List.of(card(0.2, 6, 1.4, 0.8f), card(-0.3, 2, 0.35, 0.3f)), 0.12, 6);
        System.out.printf("defocus against a traced lens: %.4f behind, %.4f before, %.4f both%n", behind, before, both);
        assertThat(behind).isLessThan(0.02);
        assertThat(before).isLessThan(0.02);
        assertThat(both).isLessThan(0.02);
    }

    @Test
    void shapesKeepAllLightAndHaveTheirArea() {
        for (int blades : new int[] {0, 3, 5, 6, 8})
            for (double d : new double[] {1.6, 4, 9.3, 21}) {
                float[] p = new float[81 * 81];
                p[40 * 81 + 40] = 1;
                float[] s = new Iris(d, blades).spread(p, 81, 81);
                double sum = 0, squares = 0, x = 0, y = 0;
                for (int i = 0; i < s.length; i++) {
                    sum += s[i];
                    squares += s[i] * s[i];
                    x += s[i] * (i % 81 - 40);
                    y += s[i] * (i / 81 - 40);
                }
                assertThat(sum).as("%d blades, %.1f px", blades, d).isCloseTo(1, within(1e-4));
                assertThat(x).isCloseTo(0, within(0.02));
                if (blades % 2 == 0) assertThat(y).isCloseTo(0, within(0.05));
                // Even over its area, which is the disc's.
                if (d > 8) assertThat(1 / squares).isCloseTo(Math.PI * d * d / 4, within(0.12 * Math.PI * d * d / 4));
            }
    }

    /**
     * Two discs of radius r whose middles lie d apart share 2 r^2 acos(d / 2r) - d / 2 sqrt(4 r^2 - d^2) (geometry):
     * that is the shape's area, whichever way it lies, and all light stays in it.
     */
    @Test
    void rimsCoverWhatTwoDiscsDoNotShare() {
        double d = 24, r = d / 2;
        for (double apart : new double[] {0.2, 0.5, 0.8})
            for (double turn : new double[] {0, 0.6, Math.PI / 2}) {
                float[] p = new float[81 * 81];
                p[40 * 81 + 40] = 1;
                double x = apart * r * Math.cos(turn), y = apart * r * Math.sin(turn);
                float[] s = new Iris(d, 0, x, y).spread(p, 81, 81);
                double sum = 0, squares = 0, along = 0, beside = 0;
                for (int i = 0; i < s.length; i++) {
                    double a = i % 81 - 40, b = i / 81 - 40;
                    sum += s[i];
                    squares += s[i] * s[i];
                    along += s[i] * Math.pow(a * Math.cos(turn) + b * Math.sin(turn), 2);
                    beside += s[i] * Math.pow(b * Math.cos(turn) - a * Math.sin(turn), 2);
                }
                double between = 2 * apart * r,
                        shared =
                                2 * r * r * Math.acos(between / d) - between / 2 * Math.sqrt(d * d - between * between);
                assertThat(sum).isCloseTo(1, within(1e-4));
                assertThat(1 / squares).isCloseTo(shared, within(0.15 * shared));
                assertThat(along).as("narrow along the way to the middle").isLessThan((1 - 0.5 * apart) * beside);
            }
    }

    /** In the middle of the frame discs are whole, in its corners covered; nothing gets brighter or darker. */
    @Test
    void eyesNarrowTowardsCorners() {
        int w = 320, h = 240;
        Passes p = new Passes(w, h);
        int[][] dots = {{160, 120}, {40, 30}};
        for (int[] d : dots) {
            p.alpha[d[1] * w + d[0]] = 1;
            p.depth[d[1] * w + d[0]] = 1e6f;
            for (int c = 0; c < 3; c++) p.beauty[c][d[1] * w + d[0]] = 100;
        }
        CompRecipe round =
                CompRecipe.BLANK.with(Softness.SOFTNESS, 0).with(Grain.GRAIN, 0).with(Defocus.FAR, 20);
        Image eye = Comp.frame(new Image(w, h, 3), p, round.with(Defocus.EYE, 0.8), Encoding.REC709, 1, 1),
                disc = Comp.frame(new Image(w, h, 3), p, round, Encoding.REC709, 1, 1);
        for (int[] d : dots) {
            double sum = 0, all = 0;
            int covered = 0, whole = 0;
            for (int y = d[1] - 15; y < d[1] + 15; y++)
                for (int x = d[0] - 15; x < d[0] + 15; x++) {
                    sum += eye.planes[1][y * w + x];
                    all += disc.planes[1][y * w + x];
                    if (eye.planes[1][y * w + x] > 0.1) covered++;
                    if (disc.planes[1][y * w + x] > 0.1) whole++;
                }
            assertThat(sum).isCloseTo(all, within(0.01 * all));
            if (d[0] == 160) assertThat((double) covered).isCloseTo(whole, within(0.02 * whole));
            else assertThat(covered).isLessThan((int) (0.75 * whole));
        }
    }

    @Test
    void theDiscIsThatOfAThinLens() {
        Aperture a = new Aperture(0.1, 3, 0, 0);
        double far = a.confusionPx(1e9, 1000);
        for (double z : new double[] {1, 2, 3, 5, 20})
            assertThat(Math.abs(Defocus.disc(far, 3, z))).isCloseTo(a.confusionPx(z, 1000), within(1e-3 * far));
    }
}

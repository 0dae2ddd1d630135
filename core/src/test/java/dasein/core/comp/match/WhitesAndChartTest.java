package dasein.core.comp.match;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Shadow;
import dasein.core.comp.step.Softness;
import dasein.core.comp.step.Whites;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.light.chart.KnownChart;
import dasein.core.light.photo.Photo;
import dasein.core.light.sun.Penumbra;
import dasein.core.math.Projective;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Where whites end, what a chart in the plate tells, and how soft a real shadow's edge is. */
class WhitesAndChartTest {
    private static final int W = 200, H = 160;
    private static final CompRecipe PLAIN =
            CompRecipe.BLANK.with(Grain.GRAIN, 0).with(Softness.SOFTNESS, 0);

    private static Taken taken(Image plate, Passes p, Clues clues) {
        return Given.frame(plate, p, PLAIN, clues);
    }

    /** A performer all over, from dark to {@code most} from left to right. */
    private static Passes ramp(float most) {
        Passes p = new Passes(W, H);
        Arrays.fill(p.alpha, 1);
        for (float[] c : p.beauty) for (int i = 0; i < c.length; i++) c[i] = most * (i % W) / (W - 1);
        return p;
    }

    private static Image plate(float cut) {
        Image im = new Image(W, H, 3);
        for (float[] c : im.planes)
            for (int i = 0; i < c.length; i++) c[i] = Math.min(cut, 0.2f + 1.2f * (i % W) / W * (i / W) / H);
        return im;
    }

    @Test
    void whitesEndWhereThePlatesDo() {
        Match.Outcome o = new WhitesMatch().of(taken(plate(0.9f), ramp(4), Clues.NONE));
        assertThat(o.recipe().get(Whites.WHITES)).isCloseTo(0.9, within(1e-3));
        Image made = Comp.frame(plate(0.9f), ramp(4), o.recipe(), Encoding.REC709, 1, 1);
        float last = -1;
        for (int x = 0; x < W; x++) {
            float v = made.planes[1][x], was = 4f * x / (W - 1);
            assertThat(v).isGreaterThanOrEqualTo(last).isLessThanOrEqualTo(0.9f);
            if (was < 0.72f) assertThat(v).as("below the knee").isEqualTo(was, within(1e-6f));
            // No corner at the knee: it never rises faster than before.
            if (x > 0) assertThat(v - last).isLessThanOrEqualTo(4f / (W - 1) + 1e-6f);
            last = v;
        }
        assertThat(last).isGreaterThan(0.89f);
        // Twice changes nothing.
        Taken again = Given.frame(plate(0.9f), ramp(4), o.recipe(), Clues.NONE);
        assertThat(new WhitesMatch().of(again).recipe()).isEqualTo(o.recipe());
    }

    @Test
    void aPlateThatCutsNothingOffDoesNotTell() {
        Match.Outcome o = new WhitesMatch().of(taken(plate(9), ramp(4), Clues.NONE));
        assertThat(o.recipe().get(Whites.WHITES)).isZero();
        assertThat(o.plate()).contains("cuts nothing off");
        assertThatThrownBy(() -> new WhitesMatch().of(taken(plate(9), new Passes(W, H), Clues.NONE)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("too little");
    }

    /** The camera's own matrix, up to how bright it is, on colours no chart has. */
    @Test
    void performersTakeTheColoursThatTheCameraMakesOfTheChart() {
        KnownChart known = new KnownChart();
        Photo photo = known.photo();
        Image plate = new Image(photo.width, photo.height, 3);
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < plate.planes[c].length; i++)
                plate.planes[c][i] = (float) Encoding.SRGB.decode(photo.at(c, i));
        Match.Outcome o = new PlateChartMatch().of(taken(plate, new Passes(plate.width, plate.height), Clues.NONE));
        double[] back = new Projective(known.matrix).inverse().h();
        Passes p = new Passes(4, 1);
        float[][] own = {{0.5f, 0.5f, 0.1f, 0.3f}, {0.5f, 0.2f, 0.4f, 0.3f}, {0.5f, 0.1f, 0.2f, 0.6f}};
        Arrays.fill(p.alpha, 1);
        for (int c = 0; c < 3; c++) System.arraycopy(own[c], 0, p.beauty[c], 0, 4);
        Image made = Comp.frame(new Image(4, 1, 3), p, o.recipe(), Encoding.REC709, 1, 1);
        double white = 0.2126 * (back[0] + back[1] + back[2])
                + 0.7152 * (back[3] + back[4] + back[5])
                + 0.0722 * (back[6] + back[7] + back[8]);
        for (int i = 0; i < 4; i++)
            for (int c = 0; c < 3; c++) {
                double want = 0;
                for (int k = 0; k < 3; k++) want += back[3 * c + k] * own[k][i] / white;
                assertThat((double) made.planes[c][i]).as(i + " " + c).isCloseTo(want, within(0.02));
            }
        assertThatThrownBy(() -> new PlateChartMatch().of(taken(plate(9), ramp(1), Clues.NONE)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("no colour chart is found in frame 1");
    }

    /** How much light comes past a straight edge from a disc: the part of it that is seen. */
    private static double seen(double t, double radius) {
        double u = Math.max(-1, Math.min(1, t / radius));
        return 0.5 + (u * Math.sqrt(1 - u * u) + Math.asin(u)) / Math.PI;
    }

    /** Ground in light from the left to the middle, in shadow from there on. */
    private static float[] edge(double radius, double lit, double dark) {
        float[] out = new float[W * H];
        for (int i = 0; i < out.length; i++)
            out[i] = (float) (lit + (dark - lit) * seen(i % W + 0.5 - W / 2.0 - 0.1 * (i / W - H / 2.0), radius));
        return out;
    }

    @ParameterizedTest
    @CsvSource({"8, 3", "12, 2", "6, 5"})
    void theShadowsEdgeIsAsSoftAsTheRealOne(double real, double own) {
        float[] ground = edge(real, 0.5, 0.2);
        Image plate = new Image(W, H, ground, ground, ground);
        Passes p = new Passes(W, H);
        for (float[] c : p.shadow) System.arraycopy(edge(own, 1, 0.4), 0, c, 0, W * H);
        Clues clues = Clues.NONE.with(new Clues.Edge(1, 1, 70, 80, 130, 80, 0, 0));
        Match.Outcome o = new ShadowEdgeMatch().of(taken(plate, p, clues));
        Image even = new Image(W, H, 3);
        for (float[] c : even.planes) Arrays.fill(c, 0.5f);
        Image made = Comp.frame(even, p, o.recipe(), Encoding.REC709, 1, 1);
        Penumbra.Edge e = Penumbra.measure(made, new double[] {60, 80}, new double[] {140, 80}, 0.45);
        assertThat(e.radiusPx())
                .as("%s for %s", o.recipe().get(Shadow.SOFT), real)
                .isCloseTo(real, within(0.1 * real));
    }

    @Test
    void aShadowThatIsTooSoftIsSaidToBe() {
        float[] ground = edge(3, 0.5, 0.2);
        Image plate = new Image(W, H, ground, ground, ground);
        Passes p = new Passes(W, H);
        for (float[] c : p.shadow) System.arraycopy(edge(9, 1, 0.4), 0, c, 0, W * H);
        Clues clues = Clues.NONE.with(new Clues.Edge(1, 1, 70, 80, 130, 80, 0, 0));
        Match.Outcome o = new ShadowEdgeMatch().of(taken(plate, p, clues));
        assertThat(o.recipe().get(Shadow.SOFT)).isZero();
        assertThat(o.plate()).contains("sun is too large");
        assertThatThrownBy(() -> new ShadowEdgeMatch().of(taken(plate, new Passes(W, H), clues)))
                .isInstanceOf(NoSolution.class);
        assertThatThrownBy(() -> new ShadowEdgeMatch().of(taken(plate, p, Clues.NONE)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("stroke");
    }

    /** Legs of six pixels beside the soft edge of something high. */
    @Test
    void aThinShadowIsNotWashedOutByTheEdgeOfSomethingHigh() {
        float[] ground = edge(30, 0.5, 0.2), thin = new float[W * H];
        Arrays.fill(thin, 1);
        for (int i = 0; i < thin.length; i++) if (Math.abs(i % W - 100 - 0.1 * (i / W)) < 3) thin[i] = 0.4f;
        Image plate = new Image(W, H, ground, ground, ground);
        Passes p = new Passes(W, H);
        for (float[] c : p.shadow) System.arraycopy(thin, 0, c, 0, W * H);
        Clues clues = Clues.NONE.with(new Clues.Edge(1, 1, 50, 80, 150, 80, 0, 0));
        assertThatThrownBy(() -> new ShadowEdgeMatch().of(taken(plate, p, clues)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("sun as large");
    }
}

package dasein.core.comp;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.comp.step.Defocus;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Glow;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Softness;
import dasein.core.comp.step.Steps;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** A frame that is done again from what was kept is the frame that is done from the beginning. */
class TrialTest {
    private static final int W = 192, H = 128;
    /** Wide filters differ by so much where more of the frame is looked at; an eighth of a code of eight bits. */
    private static final float TOLERANCE = 1e-4f;

    private static final Encoding E = Encoding.REC709;

    private static Image plate() {
        Random r = new Random(5);
        Image im = new Image(W, H, 3);
        for (float[] p : im.planes) for (int i = 0; i < p.length; i++) p[i] = 0.1f + 0.4f * r.nextFloat();
        return im;
    }

    /** A bright performer in a square, shadow, contact, bounce and reflection beside it. */
    private static Passes passes() {
        Passes p = new Passes(W, H);
        for (float[] s : p.shadow) Arrays.fill(s, 1);
        Random r = new Random(6);
        for (int y = 40; y < 80; y++)
            for (int x = 60; x < 130; x++) {
                int i = y * W + x;
                if (x < 100) {
                    p.alpha[i] = y == 40 ? 0.5f : 1;
                    p.depth[i] = 5 + y * 0.05f;
                    for (int c = 0; c < 3; c++) p.beauty[c][i] = p.alpha[i] * (0.2f + 1.5f * r.nextFloat());
                } else {
                    p.ao[i] = 0.7f;
                    for (int c = 0; c < 3; c++) {
                        p.shadow[c][i] = 0.4f + 0.1f * c;
                        p.bounce[c][i] = 0.01f;
                        p.reflection[c][i] = 0.02f;
                    }
                }
            }
        return p;
    }

    private static CompRecipe busy() {
        return CompRecipe.BLANK
                .with(Glow.AMOUNT, 0.2)
                .with(Glow.SPREAD, 3)
                .with(Softness.SOFTNESS, 0.8)
                .with(Grain.GRAIN, 0.01)
                .with(Gain.GAIN, 1.1);
    }

    private static Image whole(CompRecipe r, Beside b) {
        return Comp.frame(plate(), passes(), r, E, 1, 7, b);
    }

    private static float off(Image a, Image b) {
        assertThat(a.width).isEqualTo(b.width);
        assertThat(a.height).isEqualTo(b.height);
        float most = 0;
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < a.planes[c].length; i++)
                most = Math.max(most, Math.abs(a.planes[c][i] - b.planes[c][i]));
        return most;
    }

    /** Each number there is, one after the other, in an order that jumps back and forth between the steps. */
    @Test
    void everyNumberComesOutAsFromTheBeginning() {
        Trial trial = new Trial(plate(), passes(), E, 1, 7, Window.all(W, H));
        CompRecipe r = busy();
        List<Param> all = new ArrayList<>(Steps.params());
        Collections.shuffle(all, new Random(3));
        int seen = 0;
        for (Param p : all) {
            Image was = whole(r, Beside.NONE);
            for (double part : new double[] {0.3, 0.6}) {
                double v = p.sliding().least()
                        + part * (p.sliding().most() - p.sliding().least());
                CompRecipe other = r.with(p, p.held(v / p.shown()));
                Image now = trial.frame(other, Beside.NONE, p.name()), anew = whole(other, Beside.NONE);
                assertThat(off(now, anew)).as(p.label()).isLessThan(TOLERANCE);
                if (off(anew, was) > 1e-4) seen++;
            }
            trial.frame(r, Beside.NONE, p.name());
        }
        // The scene shows most of them: a test in which nothing changes would prove nothing.
        assertThat(seen).isGreaterThan(all.size());
    }

    @Test
    void aWindowIsThatPartOfTheFrame() {
        Window w = Window.of(0.4, 0.25, 0.6, 0.5, W, H);
        CompRecipe r = busy().with(Defocus.FAR, 6).with(dasein.core.comp.step.Codec.STEP, 0.03);
        Trial trial = new Trial(plate(), passes(), E, 1, 7, w);
        for (double gain : new double[] {1, 1.3, 0.8}) {
            CompRecipe other = r.with(Gain.GAIN, gain);
            assertThat(off(trial.frame(other, Beside.NONE, "gain"), w.of(whole(other, Beside.NONE))))
                    .isLessThan(TOLERANCE);
        }
    }

    /** Performers and a part of the picture that have numbers of their own. */
    @Test
    void whatHasNumbersOfItsOwnComesOutAsWell() {
        float[] half = new float[W * H];
        for (int i = 0; i < half.length; i++) half[i] = i % W > 80 ? 1 : 0.25f;
        Trial trial = new Trial(plate(), passes(), E, 1, 7, Window.all(W, H));
        for (double v : new double[] {0.5, 1.5, 2, 1})
            for (Param p : List.of(Softness.SOFTNESS, Gain.GAIN, dasein.core.comp.step.Shadow.DENSITY)) {
                CompRecipe r = busy().with(p, v), mine = r.with(Gain.GAIN, 0.5);
                Beside b = new Beside(
                        Beside.NONE.front(),
                        null,
                        List.of(new Apart(mine, half, true), new Apart(mine.with(Grain.GRAIN, 0.05), half, false)));
                assertThat(off(trial.frame(r, b, p.name()), whole(r, b)))
                        .as(p.label() + " " + v)
                        .isLessThan(TOLERANCE);
            }
    }

    @Test
    void onlyWhatComesAfterTheNumberIsDoneAgain() {
        CompRecipe r = busy();
        assertThat(Course.firstChanged(r, r)).isEqualTo(Steps.ALL.size());
        assertThat(Course.firstChanged(r, r.with(Grain.GRAIN, 0.5)))
                .isEqualTo(Course.stepOf("grain"))
                .isGreaterThan(Course.stepOf("softnessPx"));
        assertThat(Course.firstChanged(r, r.with(Grain.GRAIN, 0.5).with(Gain.GAIN, 2)))
                .isEqualTo(Course.stepOf("gain"));
    }
}

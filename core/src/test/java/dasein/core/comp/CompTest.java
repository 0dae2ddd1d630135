package dasein.core.comp;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.comp.step.Blacks;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Saturation;
import dasein.core.comp.step.Shadow;
import dasein.core.comp.step.Softness;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.presence.Check;
import dasein.core.presence.picture.PlateUntouched;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.Random;
import org.junit.jupiter.api.Test;

class CompTest {
    private static final int W = 64;
    private static final int H = 48;

    private static Image plate() {
        Random r = new Random(2);
        Image im = new Image(W, H, 3);
        for (float[] p : im.planes) for (int i = 0; i < p.length; i++) p[i] = Encoding.REC709.decode8(r.nextInt(256));
        return im;
    }

    /** A performer in a square, shadow in a strip beside it, nothing elsewhere. */
    private static Passes passes() {
        Passes p = new Passes(W, H);
        for (float[] s : p.shadow) Arrays.fill(s, 1);
        for (int y = 10; y < 20; y++) {
            for (int x = 20; x < 30; x++) {
                p.alpha[y * W + x] = 1;
                p.beauty[0][y * W + x] = 0.3f;
                p.beauty[1][y * W + x] = 0.2f;
                p.beauty[2][y * W + x] = 0.1f;
            }
            for (int x = 34; x < 44; x++) for (int c = 0; c < 3; c++) p.shadow[c][y * W + x] = 0.4f;
        }
        return p;
    }

    @Test
    void outsideTheInfluenceOfCgThePlateIsHandedThroughBitForBit() {
        Image plate = plate(),
                out =
                        Comp.frame(
                                plate,
                                passes(),
                                CompRecipe.BLANK
                                        .with(Gain.GAIN, 1.2)
                                        .with(Blacks.BLACKS, 0.02)
                                        .with(Saturation.SATURATION, 0.8)
                                        .with(Softness.SOFTNESS, 1.5)
                                        .with(Grain.GRAIN, 0.02)
                                        .with(Shadow.DENSITY, 1.1)
                                        .with(Shadow.BLUE, 0.9),
                                Encoding.REC709,
                                1,
                                7);
        PlateUntouched check = new PlateUntouched();
        check.look(new Check.Frame(7, plate, passes(), out, null, null, 7, 0, false), null);
        assertThat(check.finding(null).passed()).isTrue();
        int same = 0;
        for (int y = 0; y < H; y++) {
            for (int x = 0; x < W; x++) {
                boolean far = x < 12 || x > 45 || y < 2 || y > 28;
                if (!far) continue;
                for (int c = 0; c < 3; c++)
                    assertThat(Float.floatToRawIntBits(out.get(x, y, c)))
                            .isEqualTo(Float.floatToRawIntBits(plate.get(x, y, c)));
                same++;
            }
        }
        assertThat(same).isGreaterThan(1000);
    }

    /** The check itself must be able to fail. */
    /** What is graded as a whole is not the plate's own any more, and that is said instead of a fault. */
    @Test
    void aGradedFrameIsNotTakenForAFault() {
        PlateUntouched check = new PlateUntouched();
        Image plate = new Image(W, H, 3);
        check.look(new Check.Frame(7, plate, passes(), plate, null, null, 0, 0, true), null);
        assertThat(check.finding(null).passed()).isTrue();
        assertThat(check.finding(null).sentence()).contains("grade");
    }

    @Test
    void aChangedPlatePixelIsFound() {
        Image plate = plate(), out = Comp.frame(plate, passes(), CompRecipe.BLANK, Encoding.REC709, 1, 7);
        out.planes[1][5] += 0.1f;
        PlateUntouched check = new PlateUntouched();
        check.look(new Check.Frame(7, plate, passes(), out, null, null, 4, 0, false), null);
        assertThat(check.finding(null).passed()).isFalse();
        assertThat(check.finding(null).sentence()).contains("frame 7");
    }

    @Test
    void theFixedRecipeIsPlateTimesShadowPlusLightThenOver() {
        Passes p = passes();
        int s = 15 * W + 40, q = 15 * W + 25;
        p.bounce[0][s] = 0.05f;
        p.reflection[0][s] = -0.01f;
        p.alpha[q] = 0.5f;
        Image plate = plate(),
                out =
                        Comp.frame(
                                plate,
                                p,
                                CompRecipe.BLANK
                                        .with(Gain.GAIN, 2)
                                        .with(Softness.SOFTNESS, 0)
                                        .with(Grain.GRAIN, 0),
                                Encoding.REC709,
                                1,
                                1);
        assertThat(out.planes[0][s]).isCloseTo(plate.planes[0][s] * 0.4f + 0.04f, within(1e-6f));
        assertThat(out.planes[0][q]).isCloseTo(plate.planes[0][q] * 0.5f + 0.6f, within(1e-6f));
    }

    @Test
    void grainHasTheAskedStrengthInCodeValues() {
        Image flat = new Image(W, H, 3);
        for (float[] p : flat.planes) Arrays.fill(p, 0.3f);
        Passes p = new Passes(W, H);
        for (float[] s : p.shadow) Arrays.fill(s, 1);
        Arrays.fill(p.alpha, 1);
        for (float[] b : p.beauty) Arrays.fill(b, 0.3f);
        Image out = Comp.frame(
                flat, p, CompRecipe.BLANK.with(Softness.SOFTNESS, 0).with(Grain.GRAIN, 0.02), Encoding.REC709, 1, 3);
        double sum = 0, sq = 0;
        for (float v : out.planes[1]) {
            double code = Encoding.REC709.encode(v);
            sum += code;
            sq += code * code;
        }
        int n = W * H;
        assertThat(Math.sqrt(sq / n - (sum / n) * (sum / n))).isCloseTo(0.02, within(0.002));
    }

    @Test
    void passesOfAnotherSizeAreRefused() {
        assertThatThrownBy(() -> Comp.frame(plate(), new Passes(W / 2, H), CompRecipe.BLANK, Encoding.REC709, 1, 1))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("32 x 48");
    }

    /**
     * Fire covers nothing and yet is light: it comes through to the finished frame, plate and all (common practice).
     */
    @Test
    void addedLightThatCoversNothingReachesThePicture() {
        Passes p = passes();
        int fire = 40 * W + 50;
        p.beauty[0][fire] = 0.5f;
        p.beauty[1][fire] = 0.2f;
        Image plate = plate(),
                out =
                        Comp.frame(
                                plate,
                                p,
                                CompRecipe.BLANK.with(Softness.SOFTNESS, 0).with(Grain.GRAIN, 0),
                                Encoding.REC709,
                                1,
                                1);
        assertThat(out.planes[0][fire]).isCloseTo(plate.planes[0][fire] + 0.5f, within(1e-6f));
        assertThat(out.planes[1][fire]).isCloseTo(plate.planes[1][fire] + 0.2f, within(1e-6f));
        PlateUntouched check = new PlateUntouched();
        check.look(new Check.Frame(1, plate, p, out, null, null, 0, 0, false), null);
        assertThat(check.finding(null).passed()).isTrue();
    }

    /** Softness spreads light and keeps its sum, also of what covers nothing. */
    @Test
    void softnessKeepsTheSumOfAddedLight() {
        Passes p = new Passes(W, H);
        for (float[] s : p.shadow) Arrays.fill(s, 1);
        p.beauty[1][24 * W + 32] = 3;
        Image black = new Image(W, H, 3),
                out =
                        Comp.frame(
                                black,
                                p,
                                CompRecipe.BLANK.with(Softness.SOFTNESS, 1.4).with(Grain.GRAIN, 0),
                                Encoding.REC709,
                                1,
                                1);
        double sum = 0;
        for (float v : out.planes[1]) sum += v;
        assertThat(sum).isCloseTo(3, within(0.01));
        assertThat(out.planes[1][24 * W + 34]).isGreaterThan(0.05f);
    }

    /** A change below one 8-bit code is a change. */
    @Test
    void theLeastBitThatDiffersIsFound() {
        Image plate = plate(), out = Comp.frame(plate, passes(), CompRecipe.BLANK, Encoding.REC709, 1, 7);
        out.planes[2][3] = Math.nextUp(out.planes[2][3]);
        PlateUntouched check = new PlateUntouched();
        check.look(new Check.Frame(7, plate, passes(), out, null, null, 4, 0, false), null);
        assertThat(check.finding(null).passed()).isFalse();
    }
}

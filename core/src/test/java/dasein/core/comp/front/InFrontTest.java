package dasein.core.comp.front;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import dasein.core.comp.Beside;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.InFront;
import dasein.core.comp.step.Shadow;
import dasein.core.comp.step.Softness;
import dasein.core.image.Encoding;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import dasein.core.track.DrawnMask;
import dasein.core.track.MaskShapes;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** What stands in front, against pictures that were put together from known layers. */
class InFrontTest {
    private static final int W = 96, H = 64;
    private static final CompRecipe PLAIN =
            CompRecipe.BLANK.with(Grain.GRAIN, 0).with(Softness.SOFTNESS, 0);

    /** Soft stems of known coverage. */
    private static float[] stems() {
        float[] f = new float[W * H];
        for (int i = 0; i < f.length; i++) f[i] = i % W % 24 >= 9 && i % W % 24 < 15 ? 1 : 0;
        return Filters.gaussian(f, W, H, 1.5);
    }

    private static Image flat(double r, double g, double b) {
        Image im = new Image(W, H, 3);
        Arrays.fill(im.planes[0], (float) r);
        Arrays.fill(im.planes[1], (float) g);
        Arrays.fill(im.planes[2], (float) b);
        return im;
    }

    /** f over what is behind, every pixel its own. */
    private static Image over(float[] f, Image front, Image behind) {
        Image out = new Image(W, H, 3);
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < f.length; i++)
                out.planes[c][i] = f[i] * front.planes[c][i] + (1 - f[i]) * behind.planes[c][i];
        return out;
    }

    /** A performer that fills the right half, and a shadow of a half on the left. */
    private static Passes passes() {
        Passes p = new Passes(W, H);
        for (int i = 0; i < W * H; i++) {
            boolean right = i % W >= W / 2;
            p.alpha[i] = right ? 1 : 0;
            for (int c = 0; c < 3; c++) {
                p.beauty[c][i] = right ? 0.1f + 0.05f * c : 0;
                p.shadow[c][i] = right ? 1 : 0.5f;
            }
        }
        return p;
    }

    private static double worst(Image a, Image b) {
        double worst = 0;
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < W * H; i++) worst = Math.max(worst, Math.abs(a.planes[c][i] - b.planes[c][i]));
        return worst;
    }

    @Test
    void edgesAreFreedOfWhatWasBehindThem() {
        float[] f = stems();
        Image dark = flat(0.05, 0.06, 0.03), sky = flat(0.7, 0.8, 1.0), plate = over(f, dark, sky);
        Image behind = Comp.frame(sky, passes(), PLAIN, Encoding.SRGB, 1, 1);
        Image truth = over(f, dark, behind);
        Image done = Comp.frame(plate, passes(), PLAIN, Encoding.SRGB, 1, 1, Beside.of(new Matte(f, List.of())));
        assertThat(worst(done, truth)).as("freed").isLessThan(0.008);
        Image kept = Comp.frame(
                plate, passes(), PLAIN.with(InFront.SPILL, 0), Encoding.SRGB, 1, 1, Beside.of(new Matte(f, List.of())));
        assertThat(worst(kept, truth))
                .as("as it would be with the sky left in the edges")
                .isGreaterThan(0.1);
    }

    @Test
    void whereAllStandsInFrontThePlateIsLeftBitForBit() {
        Image plate = flat(0, 0, 0);
        Random random = new Random(4);
        for (float[] p : plate.planes) for (int i = 0; i < p.length; i++) p[i] = random.nextFloat();
        float[] f = stems();
        Passes nothing = new Passes(W, H);
        for (float[] s : nothing.shadow) Arrays.fill(s, 1);
        Image same =
                Comp.frame(plate, nothing, CompRecipe.BLANK, Encoding.SRGB, 1, 1, Beside.of(new Matte(f, List.of())));
        for (int c = 0; c < 3; c++) assertThat(same.planes[c]).isEqualTo(plate.planes[c]);
        Image done =
                Comp.frame(plate, passes(), CompRecipe.BLANK, Encoding.SRGB, 1, 1, Beside.of(new Matte(f, List.of())));
        for (int i = 0; i < W * H; i++)
            if (f[i] == 1)
                for (int c = 0; c < 3; c++) assertThat(done.planes[c][i]).isEqualTo(plate.planes[c][i]);
    }

    @Test
    void switchedOffItIsAsIfNothingStoodThere() {
        Image plate = flat(0.4, 0.4, 0.4);
        var front = dasein.core.comp.step.Group.FRONT;
        Image off = Comp.frame(
                plate,
                passes(),
                PLAIN.with(front.on(), 0),
                Encoding.SRGB,
                1,
                1,
                Beside.of(new Matte(stems(), List.of())));
        assertThat(worst(off, Comp.frame(plate, passes(), PLAIN, Encoding.SRGB, 1, 1)))
                .isZero();
        Image none = Comp.frame(plate, passes(), PLAIN.with(Shadow.DENSITY, 0), Encoding.SRGB, 1, 1, Beside.NONE);
        assertThat(none.planes[0][0]).isEqualTo(plate.planes[0][0]);
    }

    private static Matte matte(Front f, Image plate, Image clean, DrawnMask... masks) {
        return Matte.of(
                List.of(f), plate, Encoding.SRGB, () -> clean, new MaskShapes(List.of(masks), Map.of(), 0), 1, 1);
    }

    private static Front key(
            Front.Key k, int within, int hold, int away, double low, double high, List<Double> colour) {
        return new Front(1, "f", true, k, within, hold, away, low, high, colour, false);
    }

    @Test
    void aColourKeyFindsTheCoverageOfWhatIsNotItsColour() {
        // A red stem over a screen: mixed in code values, as a key sees it, coverage is a part of the distance.
        float[] f = stems();
        double[] screen = {0.1, 0.6, 0.2}, stem = {0.7, 0.2, 0.2};
        Image plate = new Image(W, H, 3);
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < f.length; i++)
                plate.planes[c][i] = (float) Encoding.SRGB.decode(f[i] * stem[c] + (1 - f[i]) * screen[c]);
        double whole = Matte.apart(stem, screen);
        Matte m =
                matte(key(Front.Key.COLOUR, 0, 0, 0, 0, whole, List.of(screen[0], screen[1], screen[2])), plate, null);
        for (int i = 0; i < f.length; i++)
            assertThat(Math.abs(m.part()[i] - f[i])).as("pixel " + i).isLessThan(0.01f);
        Front turned = new Front(
                1, "f", true, Front.Key.COLOUR, 0, 0, 0, 0, whole, List.of(screen[0], screen[1], screen[2]), true);
        assertThat(matte(turned, plate, null).part()[0]).as("the screen itself").isGreaterThan(0.99f);
    }

    @Test
    void brightDarkAndDifferentAreFoundBetweenTheirLimits() {
        Image plate = flat(0, 0, 0);
        for (float[] p : plate.planes)
            for (int i = 0; i < p.length; i++) p[i] = (float) Encoding.SRGB.decode((i % W + 0.5) / W);
        float[] bright = matte(key(Front.Key.BRIGHT, 0, 0, 0, 0.4, 0.6, List.of()), plate, null)
                .part();
        float[] dark = matte(key(Front.Key.DARK, 0, 0, 0, 0.4, 0.6, List.of()), plate, null)
                .part();
        assertThat(bright[20]).isZero();
        assertThat(bright[80]).isEqualTo(1);
        for (int x = 0; x < W; x++) assertThat(bright[x] + dark[x]).isBetween(0.999f, 1.001f);
        Image clean = plate.copy();
        for (float[] p : plate.planes) p[30 * W + 50] = 0.9f;
        float[] other = matte(key(Front.Key.DIFFERENCE, 0, 0, 0, 0.02, 0.05, List.of()), plate, clean)
                .part();
        assertThat(other[30 * W + 50]).isEqualTo(1);
        assertThat(other[30 * W + 49]).isZero();
    }

    @Test
    void holdAndGarbageMasksHaveTheLastWord() {
        DrawnMask
                left =
                        new DrawnMask(
                                7,
                                "left",
                                0,
                                DrawnMask.Carry.KEYS,
                                List.of(new DrawnMask.Key(1, List.of(0.0, 0.0, 30.0, 0.0, 30.0, 64.0, 0.0, 64.0))),
                                DrawnMask.Use.SURFACE,
                                List.of()),
                right =
                        new DrawnMask(
                                8,
                                "right",
                                0,
                                DrawnMask.Carry.KEYS,
                                List.of(new DrawnMask.Key(1, List.of(60.0, 0.0, 96.0, 0.0, 96.0, 64.0, 60.0, 64.0))),
                                DrawnMask.Use.SURFACE,
                                List.of());
        Image grey = flat(0.5, 0.5, 0.5);
        float[] m = matte(key(Front.Key.BRIGHT, 0, 7, 8, 0.8, 0.9, List.of()), grey, null, left, right)
                .part();
        assertThat(m[20 * W + 10]).as("held").isEqualTo(1);
        float[] all = matte(key(Front.Key.BRIGHT, 0, 7, 8, 0.1, 0.2, List.of()), grey, null, left, right)
                .part();
        assertThat(all[20 * W + 45]).as("found").isEqualTo(1);
        assertThat(all[20 * W + 80]).as("kept away").isZero();
    }

    @Test
    void whatCannotBeFoundIsSaid() {
        Image grey = flat(0.5, 0.5, 0.5);
        Matte gone = matte(key(Front.Key.SHAPE, 5, 0, 0, 0.1, 0.2, List.of()), grey, null);
        assertThat(gone.lost()).singleElement().asString().contains("mask of f is gone");
        Matte no = matte(key(Front.Key.DIFFERENCE, 0, 0, 0, 0.1, 0.2, List.of()), grey, null);
        assertThat(no.lost()).singleElement().asString().contains("clean plate");
        assertThatThrownBy(() -> key(Front.Key.BRIGHT, 0, 0, 0, 0.5, 0.4, List.of()))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("low must lie below high");
        assertThatThrownBy(() -> key(Front.Key.SHAPE, 0, 0, 0, 0.1, 0.4, List.of()))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("choose the mask");
    }
}

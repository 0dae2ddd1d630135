package dasein.core.comp;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.comp.front.Matte;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Grade;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Softness;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.render.pass.Mattes;
import dasein.core.render.pass.Pass;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.PassSet;
import dasein.core.render.pass.Passes;
import dasein.core.track.DrawnMask;
import dasein.core.track.MaskShapes;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Numbers of their own: of one performer among others, and of a part of the picture. */
class ApartTest {
    private static final int W = 64, H = 48;
    private static final Map<Integer, String> NAMES = Map.of(1, "strider", 2, "mule");
    private static final CompRecipe PLAIN =
            CompRecipe.BLANK.with(Grain.GRAIN, 0).with(Softness.SOFTNESS, 0);

    /** The strider on the left, the mule on the right; in the middle column each covers a half. */
    private static Passes two(boolean mattes) {
        List<Pass> list = new ArrayList<>(PassList.ALL_PASSES);
        if (mattes) list.addAll(PassSet.MATTES.passes());
        Passes p = new Passes(W, H, list);
        for (int i = 0; i < W * H; i++) {
            int x = i % W;
            if (x < 8 || x >= W - 8) continue;
            p.alpha[i] = 1;
            for (int c = 0; c < 3; c++) p.beauty[c][i] = 0.2f;
            if (!mattes) continue;
            float[][] m = p.of("matte_performer");
            float left = x < W / 2 ? 1 : x == W / 2 ? 0.5f : 0;
            boolean first = left >= 0.5f;
            m[0][i] = Float.intBitsToFloat(Mattes.id(first ? "strider" : "mule"));
            m[1][i] = first ? left : 1 - left;
            m[2][i] = Float.intBitsToFloat(Mattes.id(first ? "mule" : "strider"));
            m[3][i] = first ? 1 - left : left;
        }
        return p;
    }

    private static Image plate() {
        Image im = new Image(W, H, 3);
        for (float[] p : im.planes) Arrays.fill(p, 0.5f);
        return im;
    }

    private static Image made(CompRecipe r, Passes p, MaskShapes shapes) {
        Apart.Found f = Apart.of(r, p, shapes, NAMES, 1, 1, piece -> null);
        assertThat(f.lost()).isEmpty();
        return Comp.frame(plate(), p, r, Encoding.SRGB, 1, 1, new Beside(Matte.NONE, null, f.there()));
    }

    @Test
    void onePerformerIsBrighterThanTheOther() {
        Variant v = new Variant(1, "mule", true, List.of(2), 0, 0, Map.of(Gain.GAIN.name(), 3.0));
        Image im = made(PLAIN.withVariants(List.of(v)), two(true), MaskShapes.NONE);
        assertThat(im.planes[1][20 * W + 20]).isCloseTo(0.2f, within(1e-6f));
        assertThat(im.planes[1][20 * W + 50]).isCloseTo(0.6f, within(1e-6f));
        assertThat(im.planes[1][20 * W + W / 2]).as("a half each").isCloseTo(0.4f, within(1e-6f));
        assertThat(im.planes[1][20 * W + 2]).as("the plate").isEqualTo(0.5f);
    }

    @Test
    void takenApartAndPutTogetherNothingIsLost() {
        Variant same = new Variant(1, "mule", true, List.of(2), 0, 0, Map.of(Gain.GAIN.name(), 1.0));
        CompRecipe r = CompRecipe.BLANK.with(Softness.SOFTNESS, 1.5);
        Image split = made(r.withVariants(List.of(same)), two(true), MaskShapes.NONE),
                whole = Comp.frame(plate(), two(true), r, Encoding.SRGB, 1, 1);
        for (int c = 0; c < 3; c++) assertThat(split.planes[c]).containsExactly(whole.planes[c], within(2e-5f));
    }

    @Test
    void aPartOfThePictureIsGradedAndTheRestIsLeftBitForBit() {
        DrawnMask m = new DrawnMask(
                5,
                "wall",
                0,
                DrawnMask.Carry.KEYS,
                List.of(new DrawnMask.Key(1, List.of(0.0, 0.0, 30.0, 0.0, 30.0, 48.0, 0.0, 48.0))),
                DrawnMask.Use.SURFACE,
                List.of());
        Variant v = new Variant(1, "wall", true, List.of(), 5, 0, Map.of(Grade.EXPOSURE.name(), 1.0));
        Image im = made(PLAIN.withVariants(List.of(v)), two(false), new MaskShapes(List.of(m), Map.of(), 0)),
                plain = Comp.frame(plate(), two(false), PLAIN, Encoding.SRGB, 1, 1);
        assertThat(im.planes[0][20 * W + 4]).isCloseTo(1, within(1e-6f));
        for (int i = 0; i < W * H; i++)
            if (i % W > 31)
                for (int c = 0; c < 3; c++) assertThat(im.planes[c][i]).isEqualTo(plain.planes[c][i]);
    }

    @Test
    void withoutMattesPerformersCannotBeToldApart() {
        Variant v = new Variant(1, "mule", true, List.of(2), 0, 0, Map.of(Gain.GAIN.name(), 3.0));
        assertThat(Apart.of(PLAIN.withVariants(List.of(v)), two(false), MaskShapes.NONE, NAMES, 1, 1, piece -> null)
                        .lost())
                .singleElement()
                .asString()
                .contains("mattes");
        assertThat(Apart.of(
                                PLAIN.withVariants(List.of(v)),
                                two(false),
                                MaskShapes.NONE,
                                Map.of(2, "mule"),
                                1,
                                1,
                                piece -> null)
                        .there())
                .as("alone it needs none")
                .hasSize(1);
        assertThatThrownBy(() -> new Variant(1, "x", true, List.of(), 0, 0, Map.of()))
                .isInstanceOf(BadInput.class);
        assertThat(new Variant(1, "x", true, List.of(1), 0, 0, Map.of("grain", 0.1, "gain", 99.0)).numbers())
                .as("what it may not have is left out, and the rest is held")
                .isEqualTo(Map.of("gain", Gain.GAIN.held(99)));
    }
}

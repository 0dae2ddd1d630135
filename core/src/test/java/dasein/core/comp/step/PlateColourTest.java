package dasein.core.comp.step;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.match.TintPick;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.Random;
import org.junit.jupiter.api.Test;

/**
 * A colour of the plate mixed into performers: brightness stays, the colour comes, with distance where that is asked.
 */
class PlateColourTest {
    private static final int W = 40, H = 20;

    private static Passes performer() {
        Passes p = new Passes(W, H);
        Random r = new Random(2);
        for (int i = 0; i < W * H; i++) {
            p.alpha[i] = 1;
            p.depth[i] = 1 + i % W;
            for (int c = 0; c < 3; c++) p.beauty[c][i] = 0.1f + 0.5f * r.nextFloat();
        }
        return p;
    }

    private static Image comp(Passes p, CompRecipe r) {
        CompRecipe bare = r.with(Group.LENS.on(), 0).with(Group.GRAIN.on(), 0);
        return Comp.frame(new Image(W, H, 3), p, bare, Encoding.REC709, 1, 1);
    }

    private static double luma(float[][] of, int i) {
        return 0.2126 * of[0][i] + 0.7152 * of[1][i] + 0.0722 * of[2][i];
    }

    @Test
    void brightnessStaysAndAllOfItIsTheColour() {
        Passes p = performer();
        Image plate = new Image(200, 100, 3);
        float[] seen = {0.05f, 0.1f, 0.4f};
        for (int c = 0; c < 3; c++) java.util.Arrays.fill(plate.planes[c], seen[c]);
        CompRecipe picked = TintPick.of(CompRecipe.BLANK, plate, 50, 50);
        assertThat(picked.get(PlateColour.MIX)).isEqualTo(0.25);
        Image whole = comp(p, picked.with(PlateColour.MIX, 1)),
                part = comp(p, picked),
                none = comp(p, CompRecipe.BLANK);
        for (int i = 0; i < W * H; i++) {
            assertThat(luma(whole.planes, i)).isCloseTo(luma(p.beauty, i), within(1e-5));
            assertThat(whole.planes[2][i] / whole.planes[0][i]).isCloseTo(8f, within(1e-3f));
            for (int c = 0; c < 3; c++)
                assertThat(part.planes[c][i])
                        .isCloseTo(0.75f * none.planes[c][i] + 0.25f * whole.planes[c][i], within(1e-5f));
        }
        // What was set already stays when another colour is picked.
        assertThat(TintPick.of(picked.with(PlateColour.MIX, 0.6), plate, 5, 5).get(PlateColour.MIX))
                .isEqualTo(0.6);
        assertThatThrownBy(() -> TintPick.of(picked, plate, 900, 5)).isInstanceOf(BadInput.class);
    }

    @Test
    void itComesWithDistance() {
        Passes p = performer();
        CompRecipe r = CompRecipe.BLANK
                .with(PlateColour.MIX, 1)
                .with(PlateColour.RED, 0)
                .with(PlateColour.FROM, 10)
                .with(PlateColour.TO, 30);
        Image im = comp(p, r), none = comp(p, CompRecipe.BLANK);
        for (int i = 0; i < W * H; i++) {
            float k = Math.max(0, Math.min(1, (p.depth[i] - 10) / 20));
            assertThat(im.planes[0][i]).isCloseTo((1 - k) * none.planes[0][i], within(1e-5f));
        }
    }
}

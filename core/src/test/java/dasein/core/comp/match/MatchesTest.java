package dasein.core.comp.match;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Blacks;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Shadow;
import dasein.core.comp.step.Softness;
import dasein.core.image.Encoding;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.render.pass.Passes;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** What is set by measurement makes the comp as the plate is, and what is right already stays. */
class MatchesTest {
    private static final int W = 320, H = 240;

    /** A disc of one grey over a plate, and its shadow beside it. */
    private static Passes disc(float grey, float dark) {
        Passes p = new Passes(W, H);
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++) {
                int i = y * W + x;
                double a = Math.max(0, Math.min(1, 50.5 - Math.hypot(x - 160.3, y - 110.7)));
                p.alpha[i] = (float) a;
                for (float[] c : p.beauty) c[i] = grey * (float) a;
                if (y > 180 && x < 160) for (float[] c : p.shadow) c[i] = dark;
            }
        return p;
    }

    private static Taken taken(Image plate, Passes p, CompRecipe now, List<Clues.Patch> patches) {
        return Given.frame(plate, p, now, clues(patches));
    }

    private static Clues clues(List<Clues.Patch> patches) {
        Clues c = Clues.NONE;
        for (Clues.Patch p : patches) c = c.with(p);
        return c;
    }

    private static Image flat(float r, float g, float b) {
        Image im = new Image(W, H, 3);
        float[] v = {r, g, b};
        for (int c = 0; c < 3; c++) Arrays.fill(im.planes[c], v[c]);
        return im;
    }

    @Test
    void theShadowIsAsDarkAndAsColouredAsTheRealOne() {
        Image plate = flat(0.4f, 0.4f, 0.4f);
        float[] left = {0.25f, 0.3f, 0.4f};
        for (int y = 20; y < 40; y++)
            for (int x = 20; x < 40; x++) for (int c = 0; c < 3; c++) plate.planes[c][y * W + x] = 0.4f * left[c];
        List<Clues.Patch> patches = List.of(new Clues.Patch(1, 1, 80, 30, true), new Clues.Patch(2, 1, 30, 30, false));
        Passes p = disc(0.2f, 0.5f);
        Match.Outcome o = new ShadowMatch().of(taken(plate, p, CompRecipe.BLANK, patches));
        Image made = Comp.frame(plate, p, o.recipe().with(Grain.GRAIN, 0), Encoding.REC709, 1, 1);
        for (int c = 0; c < 3; c++) assertThat(made.planes[c][200 * W + 40]).isCloseTo(0.4f * left[c], within(1e-4f));
        // Twice changes nothing.
        assertThat(new ShadowMatch().of(taken(plate, p, o.recipe(), patches)).recipe())
                .isEqualTo(o.recipe());
        assertThatThrownBy(() -> new ShadowMatch().of(taken(plate, p, CompRecipe.BLANK, List.of())))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("mark ground");
        assertThat(o.recipe().get(Shadow.DENSITY)).isCloseTo(1.5, within(1e-3));
        // Right under the performer it is darker still, which no real shadow on open ground tells of.
        for (int i = W * 200; i < W * H; i++)
            if (p.shadow[1][i] < 1 && p.alpha[i] == 0) {
                p.ao[i] = 0.2f;
                for (float[] s : p.shadow) s[i] = 0.05f;
            }
        assertThat(new ShadowMatch()
                        .of(taken(plate, p, CompRecipe.BLANK, patches))
                        .recipe()
                        .get(Shadow.DENSITY))
                .as("but for what evening out takes in")
                .isCloseTo(1.5, within(3e-3));
    }

    /** In real shadow a performer only hides some of the sky, of which a shadow of the sun tells nothing. */
    @Test
    void whereTheSunIsNotHiddenNoShadowIsMatched() {
        Image plate = flat(0.4f, 0.4f, 0.4f);
        for (int y = 20; y < 40; y++) for (int x = 20; x < 40; x++) for (float[] c : plate.planes) c[y * W + x] = 0.1f;
        List<Clues.Patch> patches = List.of(new Clues.Patch(1, 1, 80, 30, true), new Clues.Patch(2, 1, 30, 30, false));
        Passes p = disc(0.2f, 0.82f);
        for (int i = 0; i < W * H; i++) p.ao[i] = p.shadow[1][i];
        assertThatThrownBy(() -> new ShadowMatch().of(taken(plate, p, CompRecipe.BLANK, patches)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("hardly any shadow of the sun");
    }

    /** Lifted plates have a floor that many of their darks share; others only have nothing darker. */
    @Test
    void blacksAreLiftedToAFloorAndToNothingElse() {
        Random r = new Random(3);
        Image lifted = new Image(W, H, 3), deep = new Image(W, H, 3);
        float[] noise = new float[W * H];
        for (int i = 0; i < noise.length; i++) noise[i] = r.nextFloat();
        noise = Filters.gaussian(noise, W, H, 6);
        for (int i = 0; i < W * H; i++) {
            float v = Math.max(0, 6 * (noise[i] - 0.47f));
            for (int c = 0; c < 3; c++) {
                lifted.planes[c][i] = 0.03f + 0.97f * v;
                deep.planes[c][i] = 0.03f + Math.max(0, 6 * (noise[i] - 0.4f));
            }
        }
        Passes p = disc(0.004f, 1);
        CompRecipe up = new BlacksMatch()
                .of(taken(lifted, p, CompRecipe.BLANK, List.of()))
                .recipe();
        assertThat(up.get(Blacks.BLACKS)).isCloseTo(0.026, within(0.004));
        assertThat(new BlacksMatch().of(taken(lifted, p, up, List.of())).recipe())
                .isEqualTo(up);
        assertThat(new BlacksMatch()
                        .of(taken(deep, p, CompRecipe.BLANK, List.of()))
                        .recipe()
                        .get(Blacks.BLACKS))
                .isZero();
    }

    /** Air lifts what is far more: the floor is that of the plate where it is about as far. */
    @Test
    void blacksAreThoseOfThePlateAsFarAway() {
        Random r = new Random(4);
        float[] noise = new float[W * H];
        for (int i = 0; i < noise.length; i++) noise[i] = r.nextFloat();
        noise = Filters.gaussian(noise, W, H, 6);
        Image air = new Image(W, H, 3), even = new Image(W, H, 3);
        List<SeenPoint> points = new ArrayList<>();
        for (int i = 0; i < W * H; i++) {
            boolean far = i % W > W / 2;
            float v = Math.max(0, 15 * (noise[i] - 0.49f));
            for (int c = 0; c < 3; c++) {
                air.planes[c][i] = (far ? 0.08f : 0.03f) + 0.9f * v;
                even.planes[c][i] = far ? 0.4f : air.planes[c][i];
            }
        }
        for (int k = 0; k < 60; k++) {
            boolean far = k % 2 == 0;
            points.add(new SeenPoint((far ? W / 2 + 20 : 12) + r.nextInt(W / 2 - 30), r.nextInt(H), far ? 60 : 6));
        }
        assertThat(blacks(air, 6, points)).isCloseTo(0.026, within(0.004));
        assertThat(blacks(air, 55, points)).isCloseTo(0.076, within(0.006));
        // Where nothing is known that far away, and where what is that far is one even surface: the plate all over.
        assertThat(blacks(air, 300, points)).isCloseTo(0.026, within(0.004));
        assertThat(blacks(even, 55, points)).isCloseTo(0.026, within(0.004));
    }

    private static double blacks(Image plate, float metres, List<SeenPoint> points) {
        Passes p = disc(0.004f, 1);
        Arrays.fill(p.depth, metres);
        Taken t = taken(plate, p, CompRecipe.BLANK, List.of());
        Taken known = new Taken(
                t.plate(),
                1,
                1,
                t.encoding(),
                1,
                p,
                t.now(),
                t.clues(),
                List.of(),
                List.of(),
                List.of(),
                t.quantiser(),
                false,
                0.5,
                f -> points);
        return new BlacksMatch().of(known).recipe().get(Blacks.BLACKS);
    }

    /** Edges of the finished performer are as wide as those of the plate, within a tenth. */
    @Test
    void edgesAreDrawnAsThePlatesAre() {
        Image sharp = flat(0.1f, 0.1f, 0.1f), plate = flat(0, 0, 0);
        for (int k = 0; k < 6; k++)
            for (int y = 0; y < H; y++)
                for (int x = 0; x < W; x++)
                    for (float[] c : sharp.planes)
                        if (Math.hypot(x - 30 - 52 * k, y - 60 - 25 * (k % 3)) < 22) c[y * W + x] = 0.5f;
        // Drawn in code values, as edges are seen.
        for (int c = 0; c < 3; c++) {
            float[] code = new float[W * H];
            for (int i = 0; i < code.length; i++) code[i] = (float) Encoding.REC709.encode(sharp.planes[c][i]);
            code = Filters.gaussian(code, W, H, 1.3);
            for (int i = 0; i < code.length; i++) plate.planes[c][i] = (float) Encoding.REC709.decode(code[i]);
        }
        Passes p = disc(0.45f, 1);
        CompRecipe r = new SoftnessMatch()
                .of(taken(plate, p, CompRecipe.BLANK, List.of()))
                .recipe();
        Image over = Comp.frame(flat(0.1f, 0.1f, 0.1f), p, r.with(Grain.GRAIN, 0), Encoding.REC709, 1, 1);
        EdgeMeasure a = new EdgeMeasure(), b = new EdgeMeasure();
        a.look(plate, Encoding.REC709, null);
        b.look(over, Encoding.REC709, null);
        double want = a.found().sigma();
        assertThat(r.get(Softness.SOFTNESS)).isBetween(1.0, 1.4);
        assertThat(b.found().sigma()).isCloseTo(want, within(0.1 * want));
        assertThat(new SoftnessMatch().of(taken(plate, p, r, List.of())).recipe())
                .isEqualTo(r);
    }
}

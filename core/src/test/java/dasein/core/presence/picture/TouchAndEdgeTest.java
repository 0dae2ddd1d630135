package dasein.core.presence.picture;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.match.Given;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Shadow;
import dasein.core.comp.step.Softness;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.presence.Bare;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Finding.State;
import dasein.core.presence.matched.Outcomes;
import dasein.core.presence.matched.WhitesEnd;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import org.junit.jupiter.api.Test;

/** Ground that gets dark under performers, outlines as sharp as what is beside them, and whites that end together. */
class TouchAndEdgeTest {
    private static final int W = 320, H = 180;
    private static final CompRecipe PLAIN =
            CompRecipe.BLANK.with(Grain.GRAIN, 0).with(Softness.SOFTNESS, 0);

    private static Finding of(Check c, Bare b, Image plate, Passes p, Image comp) {
        SetRecipe.Catcher catcher = new SetRecipe.Catcher(0, 0, 12, 12);
        c.look(
                new Check.Frame(1, plate, p, comp, null, catcher, 0, 0, false, PLAIN, Encoding.REC709, k -> comp),
                b.subject());
        return c.finding(b.subject());
    }

    private static Finding of(Check c, Image plate, Passes p, CompRecipe r) {
        return of(c, new Bare(), plate, p, Comp.frame(plate, p, r, Encoding.REC709, 1, 1));
    }

    private static Image flat(double v) {
        Image im = new Image(W, H, 3);
        for (float[] p : im.planes) Arrays.fill(p, (float) v);
        return im;
    }

    /** A block of grey; about its foot ground that it hides from the sky. */
    private static Passes block() {
        Passes p = new Passes(W, H);
        for (int y = 40; y < 130; y++)
            for (int x = 130; x < 190; x++) {
                int i = y * W + x;
                boolean foot = y >= 120 && (x < 140 || x >= 180) || y >= 125;
                if (foot) {
                    p.ao[i] = 0.3f;
                    for (float[] s : p.shadow) s[i] = 0.4f;
                } else {
                    p.alpha[i] = 1;
                    for (float[] c : p.beauty) c[i] = 0.25f;
                }
            }
        return p;
    }

    @Test
    void groundUnderFeetThatLostItsDarknessIsFound() {
        assertThat(of(new ContactDarkening(), flat(0.4), block(), PLAIN).state())
                .isEqualTo(State.GOOD);
        Finding f = of(new ContactDarkening(), flat(0.4), block(), PLAIN.with(Shadow.DENSITY, 0.4));
        assertThat(f.state()).isEqualTo(State.FOUND);
        assertThat(f.figure()).as("density is the part of it that is left").isCloseTo(60, within(1.0));
        assertThat(f.place().y()).isBetween(115.0, 135.0);
        assertThat(of(new ContactDarkening(), flat(0.4), block(), PLAIN.with(Shadow.DENSITY, 0.8))
                        .state())
                .isEqualTo(State.GOOD);
        assertThat(of(new ContactDarkening(), flat(0.4), new Passes(W, H), PLAIN)
                        .state())
                .isEqualTo(State.UNSEEN);
    }

    /** Squares whose sides rise as the integral of a Gaussian of that width, edges slanted. */
    private static Image squares(double sigma) {
        Image im = flat(0.1);
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++) {
                double u = (x + 0.12 * y) / 24.0,
                        near = (u - Math.rint(u)) * 24,
                        up = Math.floorMod((long) Math.rint(u), 2) * 2 - 1;
                double v = 0.2 + 0.15 * up * erf(near / (sigma * Math.sqrt(2)));
                for (float[] c : im.planes) c[y * W + x] = (float) Encoding.REC709.decode(v + 0.25);
            }
        return im;
    }

    /** Abramowitz and Stegun 7.1.26, error below 1.5e-7. */
    private static double erf(double x) {
        double t = 1 / (1 + 0.3275911 * Math.abs(x));
        double y = 1
                - t
                        * Math.exp(-x * x)
                        * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))));
        return Math.copySign(y, x);
    }

    /** A bright slanted slab, drawn as softly as asked. */
    private static Passes slab(double sigma) {
        Passes p = new Passes(W, H);
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++) {
                double off = 40 - Math.abs(x + 0.1 * y - 170);
                float a = (float) Math.max(0, Math.min(1, 0.5 + 0.5 * erf(off / (sigma * Math.sqrt(2)))));
                p.alpha[y * W + x] = a < 1e-3f ? 0 : a;
                for (float[] c : p.beauty) c[y * W + x] = p.alpha[y * W + x] * 0.9f;
            }
        return p;
    }

    @Test
    void outlinesSharperThanWhatIsBesideThemAreFound() {
        Finding right = of(new SoftnessHere(), squares(1.5), slab(1.5), PLAIN);
        assertThat(right.state()).as(right.sentence()).isEqualTo(State.GOOD);
        Finding sharp = of(new SoftnessHere(), squares(2), slab(0.7), PLAIN);
        assertThat(sharp.state()).as(sharp.sentence()).isEqualTo(State.FOUND);
        assertThat(sharp.sentence()).contains("too sharp");
        assertThat(of(new SoftnessHere(), flat(0.3), slab(1), PLAIN).state()).isEqualTo(State.UNSEEN);
    }

    @Test
    void whitesAboveTheCamerasAreFound() {
        Image plate = flat(0.2);
        for (float[] c : plate.planes) for (int i = 0; i < 4000; i++) c[i] = 0.9f;
        Passes p = block();
        Bare b = new Bare();
        b.taken = Given.frame(plate, p, PLAIN, Clues.NONE);
        Image comp = Comp.frame(plate, p, PLAIN, Encoding.REC709, 1, 1);
        assertThat(of(new WhitesEnd(new Outcomes()), b, plate, p, comp).state()).isEqualTo(State.GOOD);
        for (float[] c : comp.planes) for (int i = 0; i < c.length; i++) if (p.alpha[i] == 1) c[i] *= 0.99 / 0.25;
        Finding f = of(new WhitesEnd(new Outcomes()), b, plate, p, comp);
        assertThat(f.state()).isEqualTo(State.FOUND);
        assertThat(f.figure()).as("0.99 over 0.9").isCloseTo(10, within(0.2));
        assertThat(f.mend().label()).isEqualTo("Match whites");
    }

    /** Three frames of a block, the middle one with a glint on a twentieth of it, or brighter all over. */
    private static Finding flicker(double all, boolean glint) {
        Flicker c = new Flicker();
        Finding f = null;
        for (int k = 1; k <= 3; k++) {
            Passes p = block();
            Image comp = Comp.frame(flat(0.4), p, PLAIN, Encoding.REC709, 1, k);
            for (float[] plane : comp.planes)
                for (int i = 0, n = 0; i < plane.length && k == 2; i++)
                    if (p.alpha[i] == 1) plane[i] *= glint && n++ % 20 == 0 ? 8 : all;
            c.look(
                    new Check.Frame(k, flat(0.4), p, comp, null, new SetRecipe.Catcher(0, 0, 9, 9), 0, 0, false),
                    new Bare().subject());
            f = c.finding(new Bare().subject());
        }
        return f;
    }

    @Test
    void aFrameThatIsBrighterIsFoundAndAGlintIsNot() {
        assertThat(flicker(1, false).figure()).isZero();
        assertThat(flicker(Math.pow(2, 0.08), false).figure()).isCloseTo(0.08, within(1e-3));
        assertThat(flicker(1, true).state()).isEqualTo(State.GOOD);
    }
}

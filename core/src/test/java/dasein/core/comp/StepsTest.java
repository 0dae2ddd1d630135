package dasein.core.comp;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.comp.front.Matte;
import dasein.core.comp.step.Blacks;
import dasein.core.comp.step.Codec;
import dasein.core.comp.step.Defocus;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Glow;
import dasein.core.comp.step.Grade;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Haze;
import dasein.core.comp.step.Lights;
import dasein.core.comp.step.Move;
import dasein.core.comp.step.PlateColour;
import dasein.core.comp.step.Shadow;
import dasein.core.comp.step.Sharpen;
import dasein.core.comp.step.Softness;
import dasein.core.comp.step.Steps;
import dasein.core.comp.step.ToneCurve;
import dasein.core.comp.step.Whites;
import dasein.core.comp.step.Wrap;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.key.Curve;
import dasein.core.render.pass.Pass;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.Passes;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** What a step declares is all that is needed to reach it, and each does what it says. */
class StepsTest {
    private static final int W = 61, H = 47;

    /** Performers in a part of the frame, added light without alpha, shadow and given light elsewhere, and nothing. */
    private static Passes random(Random r) {
        Passes p = new Passes(W, H);
        int x0 = r.nextInt(W / 2), y0 = r.nextInt(H / 2), w = 1 + r.nextInt(W / 2), h = 1 + r.nextInt(H / 2);
        for (int y = 0; y < H; y++) {
            for (int x = 0; x < W; x++) {
                int i = y * W + x;
                boolean inside = x >= x0 && x < x0 + w && y >= y0 && y < y0 + h;
                p.alpha[i] = inside && r.nextInt(4) > 0 ? r.nextFloat() : 0;
                for (int c = 0; c < 3; c++) {
                    if (inside && r.nextInt(5) > 0) p.beauty[c][i] = 2 * r.nextFloat();
                    p.shadow[c][i] = r.nextInt(3) == 0 ? r.nextFloat() : 1;
                    if (r.nextInt(3) == 0) p.bounce[c][i] = 0.1f * r.nextFloat();
                    if (r.nextInt(6) == 0) p.reflection[c][i] = 0.3f * r.nextFloat();
                }
            }
        }
        return p;
    }

    @Test
    void everyNumberDoesSomethingAndNamesAreTheirOwn() {
        Set<String> names = new HashSet<>();
        Image plate = new Image(W, H, 3);
        for (float[] plane : plate.planes) java.util.Arrays.fill(plane, 0.3f);
        Passes p = random(new Random(3));
        for (int i = 0; i < W * H; i++) {
            p.ao[i] = 0.5f;
            p.depth[i] = 20;
        }
        // Numbers of what is not there at all do nothing: all of it is there, a little.
        CompRecipe some = CompRecipe.BLANK
                .with(Haze.HAZE, 0.2)
                .with(Glow.AMOUNT, 0.1)
                .with(PlateColour.MIX, 0.2)
                .with(Sharpen.AMOUNT, 0.2)
                .with(PlateColour.TO, 30)
                .with(Defocus.FAR, 6)
                .with(Wrap.WRAP, 0.1)
                .with(Glow.ABOVE, 0.5)
                .with(Blacks.BLACKS, 0.01)
                .with(Whites.WHITES, 0.1)
                .with(Codec.STEP, 0.02)
                .with(Move.SHAKE, 4)
                .with(Move.ACROSS, 0.1);
        // A soft edge down the middle stands in front.
        float[] part = new float[W * H];
        for (int i = 0; i < part.length; i++) part[i] = Math.max(0, Math.min(1, (i % W - W / 2f) / 6));
        for (int i = 0; i < W * H; i++) plate.planes[1][i] += 0.1f * part[i];
        Beside front = Beside.of(new Matte(part, List.of()));
        Image rest = Comp.frame(plate, p, some, Encoding.REC709, 1, 1, front);
        for (Param n : Steps.params()) {
            assertThat(names.add(n.name())).as(n.name()).isTrue();
            assertThat(n.rest() * n.shown())
                    .as("%s at rest", n.name())
                    .isBetween(n.sliding().least(), n.sliding().most())
                    .isBetween(n.accepted().least(), n.accepted().most());
            // Where a slider stands at its end already, its other end.
            double to = some.get(n) * n.shown() == n.sliding().most()
                    ? n.sliding().least()
                    : n.sliding().most();
            Image other = Comp.frame(plate, p, some.with(n, to / n.shown()), Encoding.REC709, 1, 1, front);
            if (n == Group.GRADE.on() || n == Group.REPAIR.on() || n == Grade.TABLE) continue;
            assertThat(other.planes).as(n.name()).matches(o -> !java.util.Arrays.deepEquals(o, rest.planes));
        }
        assertThat(names).contains(Shadow.DENSITY.name(), Grain.GRAIN.name());
    }

    /** With all of it switched off there is the plate and the performer as it was rendered, laid over it. */
    @Test
    void whatIsSwitchedOffIsNotDone() {
        Random r = new Random(12);
        Passes p = random(r);
        Image plate = new Image(W, H, 3);
        for (float[] plane : plate.planes) for (int i = 0; i < plane.length; i++) plane[i] = r.nextFloat();
        CompRecipe off =
                CompRecipe.BLANK.with(Grade.EXPOSURE, 1).with(Gain.GAIN, 3).with(Softness.SOFTNESS, 2);
        for (Group g : Group.values()) if (g != Group.PERFORMER) off = off.with(g.on(), 0);
        Image made = Comp.frame(plate, p, off.with(Gain.GAIN, 1), Encoding.REC709, 1, 1);
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < W * H; i++)
                assertThat(made.planes[c][i])
                        .isCloseTo(plate.planes[c][i] * (1 - p.alpha[i]) + p.beauty[c][i], within(1e-6f));
        assertThat(Comp.frame(
                                plate,
                                p,
                                off.with(Group.PERFORMER.on(), 0).with(Group.GRAIN.on(), 0),
                                Encoding.REC709,
                                1,
                                1)
                        .planes)
                .as("without performers the plate's own floats")
                .isDeepEqualTo(plate.planes);
    }

    /** ASC CDL 1.2: out = (in x slope + offset) to the power, then saturation about Rec. 709 luma. */
    @Test
    void theGradeIsTheDecisionList() {
        assertThat(Grade.decided(0.5, 1.2, -0.1, 2)).isCloseTo(0.25, within(1e-12));
        assertThat(Grade.decided(0.1, 1, -0.3, 0.5))
                .as("what is negative has no power")
                .isCloseTo(-0.2, within(1e-12));
        double[] v = {1, 0, 0};
        Grade.saturate(v, 0);
        assertThat(v).containsExactly(new double[] {0.2126, 0.2126, 0.2126}, within(1e-12));
        Image plate = new Image(W, H, 3);
        for (float[] plane : plate.planes) java.util.Arrays.fill(plane, 0.2f);
        CompRecipe graded = CompRecipe.BLANK
                .with(Grade.EXPOSURE, 1)
                .with(Grade.SLOPE.get(0), 0.5)
                .with(Grade.POWER.get(2), 1.5);
        Image made = Comp.frame(plate, new Passes(W, H), graded, Encoding.REC709, 1, 1);
        double code = Encoding.REC709.encode(0.4);
        assertThat((double) made.planes[0][7]).isCloseTo(Encoding.REC709.decode(0.5 * code), within(1e-6));
        assertThat((double) made.planes[1][7]).isCloseTo(0.4, within(1e-6));
        assertThat((double) made.planes[2][7]).isCloseTo(Encoding.REC709.decode(Math.pow(code, 1.5)), within(1e-6));
    }

    /** Lift holds white, gain black, gamma both; a warmer lamp gives more red and less blue, and no more light. */
    @Test
    void theGradesOtherNumbers() {
        Image plate = new Image(W, H, 3);
        double[] codes = {0, 0.25, 0.5, 1};
        for (float[] plane : plate.planes)
            for (int i = 0; i < W * H; i++) plane[i] = (float) Encoding.REC709.decode(codes[i % 4]);
        assertThat(graded(plate, CompRecipe.BLANK.with(Grade.LIFT, 0.1)))
                .containsExactly(new double[] {0.1, 0.325, 0.55, 1}, within(2e-4));
        assertThat(graded(plate, CompRecipe.BLANK.with(Grade.GAIN, 0.5)))
                .containsExactly(new double[] {0, 0.125, 0.25, 0.5}, within(2e-4));
        assertThat(graded(plate, CompRecipe.BLANK.with(Grade.GAMMA, 2)))
                .containsExactly(new double[] {0, 0.5, Math.sqrt(0.5), 1}, within(2e-4));
        assertThat(graded(plate, CompRecipe.BLANK.with(Grade.CURVE.get(2), 0.1)))
                .as("the points of the curve")
                .containsExactly(new double[] {0, 0.25, 0.6, 1}, within(2e-4));
        Image warm =
                Comp.frame(plate, new Passes(W, H), CompRecipe.BLANK.with(Grade.WARMER, 40), Encoding.REC709, 1, 1);
        double r = warm.planes[0][3], g = warm.planes[1][3], b = warm.planes[2][3];
        assertThat(r).isGreaterThan(g);
        assertThat(b).isLessThan(g);
        assertThat(0.2126 * r + 0.7152 * g + 0.0722 * b).isCloseTo(1, within(1e-4));
        // What shines at 6504 K shines, 40 mired warmer, as a lamp of 5161 K.
        double[] lamp = dasein.core.light.lamp.Kelvin.colour(1e6 / (1e6 / 6504 + 40)),
                day = dasein.core.light.lamp.Kelvin.colour(6504);
        assertThat(r / b).isCloseTo(lamp[0] / lamp[2] * day[2] / day[0], within(1e-3));
    }

    private static double[] graded(Image plate, CompRecipe r) {
        Image im = Comp.frame(plate, new Passes(W, H), r, Encoding.REC709, 1, 1);
        double[] out = new double[4];
        for (int i = 0; i < 4; i++) out[i] = Encoding.REC709.encode(im.planes[1][i]);
        return out;
    }

    @Test
    void reframingShowsThePlaceThatWasAskedFor() {
        int w = 200, h = 120;
        Image plate = new Image(w, h, 3);
        for (int i = 0; i < w * h; i++) {
            plate.planes[0][i] = 0.2f + 0.002f * (i % w);
            plate.planes[1][i] = 0.2f + 0.003f * (i / w);
            plate.planes[2][i] = 0.3f;
        }
        CompRecipe r = CompRecipe.BLANK
                .with(Move.PUSH, 2)
                .with(Move.ACROSS, 0.1)
                .with(Move.DOWN, -0.05)
                .with(Move.TURN, 30);
        Image made = Comp.frame(plate, new Passes(w, h), r, Encoding.REC709, 1, 1);
        for (int[] q : new int[][] {{100, 60}, {130, 60}, {100, 90}, {70, 30}}) {
            // What stands there was, before the picture was turned clockwise and enlarged about that place, here.
            double u = (q[0] + 0.5 - 100) / 2, v = (q[1] + 0.5 - 60) / 2, a = Math.toRadians(-30);
            double x = 120 + Math.cos(a) * u - Math.sin(a) * v, y = 54 + Math.sin(a) * u + Math.cos(a) * v;
            assertThat((double) made.planes[0][q[1] * w + q[0]]).isCloseTo(0.2 + 0.002 * (x - 0.5), within(1e-4));
            assertThat((double) made.planes[1][q[1] * w + q[0]]).isCloseTo(0.2 + 0.003 * (y - 0.5), within(1e-4));
        }
        Image far = Comp.frame(plate, new Passes(w, h), CompRecipe.BLANK.with(Move.ACROSS, 0.5), Encoding.REC709, 1, 1);
        assertThat((double) far.planes[0][60 * w + 150]).as("mirrored").isCloseTo(0.2 + 0.002 * 148, within(1e-4));
        Image held = Comp.frame(
                plate,
                new Passes(w, h),
                CompRecipe.BLANK.with(Move.ACROSS, 0.5).with(Move.MIRRORED, 0),
                Encoding.REC709,
                1,
                1);
        assertThat((double) held.planes[0][60 * w + 150]).as("its edge").isCloseTo(0.2 + 0.002 * 199, within(1e-4));
    }

    @Test
    void shakeIsAsStrongAsItSaysAndGoesOnEvenly() {
        int w = 64, h = 48;
        Image plate = new Image(w, h, 3);
        for (int i = 0; i < w * h; i++) plate.planes[0][i] = 0.5f + 0.01f * (i % w);
        double sum = 0, squares = 0, steps = 0, last = 0;
        int n = 500;
        CompRecipe r = CompRecipe.BLANK.with(Move.SHAKE, 1.5);
        for (int f = 1; f <= n; f++) {
            Image im = Comp.frame(plate, new Passes(w, h), r, Encoding.REC709, 1, f);
            double x = (im.planes[0][24 * w + 32] - plate.planes[0][24 * w + 32]) / 0.01;
            sum += x;
            squares += x * x;
            if (f > 1) steps = Math.max(steps, Math.abs(x - last));
            last = x;
        }
        assertThat(Math.sqrt(squares / n - sum * sum / n / n)).isCloseTo(1.5, within(0.35));
        assertThat(steps).as("from one frame to the next").isLessThan(2.5);
    }

    @Test
    void aCurveNeverTurnsBack() {
        Random r = new Random(8);
        for (int k = 0; k < 200; k++) {
            double[] y = {r.nextDouble(), r.nextDouble(), r.nextDouble(), r.nextDouble(), r.nextDouble()};
            java.util.Arrays.sort(y);
            double[] by = new double[5];
            for (int i = 0; i < 5; i++) by[i] = y[i] - i / 4.0;
            ToneCurve c = new ToneCurve(by);
            for (int i = 0; i < 5; i++) assertThat(c.at(i / 4.0)).isCloseTo(y[i], within(1e-9));
            for (double x = 0.01; x <= 1; x += 0.01) assertThat(c.at(x)).isGreaterThanOrEqualTo(c.at(x - 0.01) - 1e-9);
        }
    }

    /** A light that was kept apart, given no more light, is as if it had never been there; others are passed over. */
    @Test
    void aLightThatWasKeptApartCanBeTakenAwayAndKeyed() {
        Random r = new Random(5);
        List<Pass> list = new ArrayList<>(PassList.ALL_PASSES);
        list.addAll(PassList.ofLight("map"));
        list.addAll(PassList.ofLight("sun"));
        Passes p = new Passes(W, H, list), map = new Passes(W, H), both = new Passes(W, H);
        for (int i = 0; i < W * H; i++) {
            both.alpha[i] = map.alpha[i] = p.alpha[i] = r.nextFloat();
            for (int c = 0; c < 3; c++) {
                float a = r.nextFloat(), b = r.nextFloat();
                p.of("beauty.map")[c][i] = map.beauty[c][i] = a;
                p.of("beauty.sun")[c][i] = b;
                both.beauty[c][i] = p.beauty[c][i] = a + b;
                // Half of the light is the sun's; performers keep a of the map's and b of the sun's away.
                p.of("light.map")[c][i] = p.of("light.sun")[c][i] = 0.5f;
                p.of("shadow.map")[c][i] = map.shadow[c][i] = 1 - a;
                p.of("shadow.sun")[c][i] = 1 - b;
                both.shadow[c][i] = p.shadow[c][i] = 1 - (a + b) / 2;
            }
        }
        Image plate = new Image(W, H, 3);
        for (float[] plane : plate.planes) java.util.Arrays.fill(plane, 0.3f);
        Param sun = Lights.level("sun", "sun"), lamp = Lights.level("lamp4", "a lamp that is not there");
        CompRecipe off = CompRecipe.BLANK.with(sun, 0).with(lamp, 3);
        Image made = Comp.frame(plate, p, off, Encoding.REC709, 1, 1),
                want = Comp.frame(plate, map, CompRecipe.BLANK, Encoding.REC709, 1, 1);
        for (int c = 0; c < 3; c++) assertThat(made.planes[c]).containsExactly(want.planes[c], within(2e-6f));
        // Without the sun's own shadow there is half of what the map's takes, since half of the light is the map's.
        Image unshaded = Comp.frame(
                plate,
                p,
                CompRecipe.BLANK
                        .with(Lights.shade("sun", "sun"), 0)
                        .with(Group.PERFORMER.on(), 0)
                        .with(Group.GRAIN.on(), 0),
                Encoding.REC709,
                1,
                1);
        for (int i = 0; i < W * H; i++)
            assertThat(unshaded.planes[1][i]).isCloseTo(0.3f * (1 - 0.5f * (1 - map.shadow[1][i])), within(2e-6f));
        // Keyed from all to nothing: in the middle half of it is left.
        CompRecipe keyed = CompRecipe.BLANK.with(
                sun.name(),
                Curve.NONE.with(new Curve.Key(1, 1, Curve.Ease.LINEAR)).with(new Curve.Key(11, 0, Curve.Ease.LINEAR)));
        assertThat(keyed.at(6, 24).get(sun)).isCloseTo(0.5, within(1e-9));
        assertThat(keyed.at(11, 24)).isEqualTo(CompRecipe.BLANK.with(sun, 0));
        assertThat(Comp.frame(plate, p, keyed.at(1, 24), Encoding.REC709, 1, 1).planes)
                .isDeepEqualTo(Comp.frame(plate, both, CompRecipe.BLANK, Encoding.REC709, 1, 1).planes);
    }

    /** The table of docs/formats.md says what the steps declare. */
    @Test
    void theDocumentationListsEveryNumber() throws IOException {
        String doc = Files.readString(Path.of("docs/formats.md"));
        for (Param p : Steps.params())
            assertThat(doc)
                    .contains(String.format(
                            "| `%s` | %s | %s | %s |",
                            p.name(),
                            plain(p.rest()),
                            plain(p.accepted().least() / p.shown()),
                            plain(p.accepted().most() / p.shown())));
    }

    private static String plain(double v) {
        return v == Math.rint(v) ? Long.toString((long) v) : Double.toString(v);
    }
}

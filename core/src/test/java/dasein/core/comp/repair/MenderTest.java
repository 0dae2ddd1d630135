package dasein.core.comp.repair;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.image.Membrane;
import dasein.core.track.DrawnMask;
import dasein.core.track.MaskShapes;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.function.IntFunction;
import org.junit.jupiter.api.Test;

/** Covered places against the ground that is known to be under them. */
class MenderTest {
    private static final int W = 160, H = 120, FRAMES = 12;
    private static final double NOISE = 0.01;

    /** Ground that gets brighter to the right, with a texture, seen by a camera that pans 3 px a frame. */
    private static double ground(double x, double y) {
        return 0.2 + 0.001 * x + 0.03 * Math.sin(0.21 * x) * Math.cos(0.17 * y);
    }

    private static Image clean(int f, boolean noise) {
        Image im = new Image(W, H, 3);
        Random r = new Random(f);
        for (int i = 0; i < W * H; i++) {
            double g = ground(i % W + 3 * f, i / W);
            for (int c = 0; c < 3; c++)
                im.planes[c][i] = (float) (g * (1 + 0.2 * c) + (noise ? NOISE * r.nextGaussian() : 0));
        }
        return im;
    }

    /** Black dots, of radius 4, that lie on the ground. */
    private static final double[][] DOTS = {{60, 30}, {95, 40}, {75, 80}, {110, 75}, {70, 55}};

    private static Image marked(int f) {
        Image im = clean(f, true);
        for (double[] d : DOTS)
            for (int i = 0; i < W * H; i++)
                if (Math.hypot(i % W + 0.5 + 3 * f - d[0], i / W + 0.5 - d[1]) < 4)
                    for (int c = 0; c < 3; c++) im.planes[c][i] = 0.02f;
        return im;
    }

    private static List<Track> tracks() {
        List<Track> out = new ArrayList<>();
        for (int k = 0; k < DOTS.length; k++) {
            int[] frames = new int[FRAMES];
            double[] x = new double[FRAMES], y = new double[FRAMES];
            for (int f = 0; f < FRAMES; f++) {
                frames[f] = f + 1;
                x[f] = DOTS[k][0] - 3 * (f + 1);
                y[f] = DOTS[k][1];
            }
            out.add(new Track(k, frames, x, y));
        }
        return out;
    }

    private static Repair repair(Repair.Source s, int mask, List<Integer> tracks, int moves, int from) {
        return new Repair(1, "r", true, s, mask, tracks, 6, 0, 0, moves, from, 2, false, false);
    }

    private static Mender mender(IntFunction<Image> plate, DrawnMask... masks) {
        Ways pan = (f, x, y, to, out) -> {
            out[0] = x - 3 * (to - f);
            out[1] = y;
            return true;
        };
        return new Mender(
                plate, 1, FRAMES, new MaskShapes(List.of(masks), Map.of(), 0), tracks(), by -> by == 9 ? pan : null);
    }

    /** RMS against the ground within so far of the dots, and the standard deviation of the ground's own noise. */
    private static double off(Image done, int f) {
        Image truth = clean(f, false);
        double sum = 0;
        int n = 0;
        for (double[] d : DOTS)
            for (int i = 0; i < W * H; i++)
                if (Math.hypot(i % W + 0.5 + 3 * f - d[0], i / W + 0.5 - d[1]) < 4)
                    for (int c = 0; c < 3; c++, n++) sum += Math.pow(done.planes[c][i] - truth.planes[c][i], 2);
        return Math.sqrt(sum / n);
    }

    @Test
    void fiveMarkersAreCoveredInOneGo() {
        Repair r = repair(Repair.Source.BESIDE, 0, List.of(0, 1, 2, 3, 4), Repair.STILL, 0);
        Mender m = mender(MenderTest::marked);
        for (int f : new int[] {1, 6, 12}) {
            assertThat(off(marked(f), f)).as("before").isGreaterThan(0.2);
            Mender.Mended done = m.frame(f, List.of(r));
            // The texture beside is another; the light is that of the place.
            assertThat(off(done.image(), f)).as("frame " + f).isLessThan(0.045);
            assertThat(done.lost()).isEmpty();
        }
    }

    @Test
    void grainIsKept() {
        Image flat = new Image(W, H, 3);
        Random random = new Random(2);
        for (float[] p : flat.planes)
            for (int i = 0; i < p.length; i++) p[i] = (float) (0.3 + NOISE * random.nextGaussian());
        Image done = mender(f -> flat)
                .frame(1, List.of(repair(Repair.Source.BESIDE, 0, List.of(0), Repair.STILL, 0)))
                .image();
        double sum = 0, squares = 0;
        int n = 0;
        for (int i = 0; i < W * H; i++)
            if (Math.hypot(i % W + 0.5 - 57, i / W + 0.5 - 30) < 5) {
                sum += done.planes[1][i];
                squares += done.planes[1][i] * done.planes[1][i];
                n++;
            }
        double spread = Math.sqrt(squares / n - sum * sum / ((double) n * n));
        assertThat(spread).isCloseTo(NOISE, within(0.25 * NOISE));
        assertThat(sum / n).isCloseTo(0.3, within(0.004));
    }

    @Test
    void whereItIsFreeInAnotherFrameTheGroundItselfComesBack() {
        // Somebody walks through: 20 px wide, 8 px a frame against the ground.
        IntFunction<Image> walked = f -> {
            Image im = clean(f, true);
            for (int i = 0; i < W * H; i++)
                if (Math.abs(i % W + 0.5 - (20 + 5 * f)) < 10 && i / W > 30)
                    for (int c = 0; c < 3; c++) im.planes[c][i] = 0.7f;
            return im;
        };
        List<DrawnMask.Key> keys = new ArrayList<>();
        for (int f : new int[] {1, FRAMES}) {
            double x = 20 + 5 * f;
            keys.add(new DrawnMask.Key(f, List.of(x - 12, 28.0, x + 12, 28.0, x + 12, 120.0, x - 12, 120.0)));
        }
        DrawnMask mask = new DrawnMask(4, "walker", 0, DrawnMask.Carry.KEYS, keys, DrawnMask.Use.SURFACE, List.of());
        Mender m = mender(walked, mask);
        Mender.Mended done = m.frame(6, List.of(repair(Repair.Source.FREE, 4, List.of(), 9, 0)));
        Image truth = clean(6, false);
        double worst = 0, sum = 0;
        int n = 0;
        for (int i = 0; i < W * H; i++)
            if (Math.abs(i % W + 0.5 - 50) < 10 && i / W > 32) {
                double d = done.image().planes[0][i] - truth.planes[0][i];
                worst = Math.max(worst, Math.abs(d));
                sum += d * d;
                n++;
            }
        assertThat(done.lost()).isEmpty();
        assertThat(Math.sqrt(sum / n)).as("off by grain alone").isCloseTo(NOISE, within(0.4 * NOISE));
        assertThat(worst).isLessThan(6 * NOISE);
        Mender.Mended still = m.frame(6, List.of(repair(Repair.Source.FREE, 4, List.of(), Repair.GROUND, 0)));
        assertThat(still.lost()).singleElement().asString().contains("the camera is not solved");
    }

    @Test
    void onePictureFromAnotherFrameTakesOnTheLightOfThisOne() {
        // The source frame was exposed a third brighter.
        IntFunction<Image> plate = f -> {
            Image im = f == 3 ? clean(f, false) : marked(f);
            if (f == 3) for (float[] p : im.planes) for (int i = 0; i < p.length; i++) p[i] *= 1.3f;
            return im;
        };
        DrawnMask mask = new DrawnMask(
                2,
                "dot",
                0,
                DrawnMask.Carry.KEYS,
                List.of(new DrawnMask.Key(6, List.of(70.0, 33.0, 84.0, 33.0, 84.0, 47.0, 70.0, 47.0))),
                DrawnMask.Use.SURFACE,
                List.of());
        Mender.Mended done = mender(plate, mask).frame(6, List.of(repair(Repair.Source.FRAME, 2, List.of(), 9, 3)));
        Image truth = clean(6, false);
        for (int y = 36; y < 44; y++)
            for (int x = 73; x < 81; x++)
                assertThat((double) done.image().planes[1][y * W + x])
                        .isCloseTo(truth.planes[1][y * W + x], within(3 * NOISE));
        assertThat(mender(plate, mask)
                        .frame(6, List.of(repair(Repair.Source.FRAME, 2, List.of(), 9, 40)))
                        .lost())
                .singleElement()
                .asString()
                .contains("does not have");
    }

    @Test
    void aHiddenMarkGoesWithItsCompanions() {
        // Turned and enlarged a little from frame to frame about (80, 60), and away.
        List<Track> all = new ArrayList<>();
        double[][] at = new double[DOTS.length][];
        for (int k = 0; k < DOTS.length; k++) {
            int n = k == 0 ? 4 : FRAMES;
            int[] fs = new int[n];
            double[] x = new double[n], y = new double[n];
            for (int f = 0; f < FRAMES; f++) {
                double a = 0.02 * f, s = 1 + 0.01 * f, u = DOTS[k][0] - 80, v = DOTS[k][1] - 60;
                double px = 80 + 2 * f + s * (Math.cos(a) * u - Math.sin(a) * v),
                        py = 60 + s * (Math.sin(a) * u + Math.cos(a) * v);
                if (f < n) {
                    fs[f] = f + 1;
                    x[f] = px;
                    y[f] = py;
                }
                at[k] = new double[] {px, py};
            }
            all.add(new Track(k, fs, x, y));
        }
        double[] q = Companions.place(all.get(0), all, FRAMES);
        assertThat(Math.hypot(q[0] - at[0][0], q[1] - at[0][1])).isLessThan(1e-6);
        assertThat(Companions.place(all.get(0), all.subList(0, 2), FRAMES))
                .as("one tells nothing of turning")
                .isNull();
    }

    @Test
    void aMembraneThroughAnEvenRimIsEven() {
        int n = 33;
        float[] v = new float[n * n], known = new float[n * n];
        for (int i = 0; i < v.length; i++) {
            boolean rim = i % n < 3 || i % n >= n - 3 || i / n < 3 || i / n >= n - 3;
            known[i] = rim ? 1 : 0;
            v[i] = rim ? 0.01f * (i % n) : 99;
        }
        Membrane.fill(v, known, n, n);
        for (int i = 0; i < v.length; i++)
            assertThat((double) v[i]).as("a slope goes on through it").isCloseTo(0.01 * (i % n), within(0.03));
    }

    @Test
    void whatIsNotSaidIsAskedFor() {
        assertThatThrownBy(() -> repair(Repair.Source.BESIDE, 0, List.of(), 0, 0))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("what is to be covered");
        assertThatThrownBy(() -> repair(Repair.Source.FREE, 0, List.of(1), 0, 0))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("told by a mask");
    }
}

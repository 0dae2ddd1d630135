package dasein.core.comp.match;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.FallOff;
import dasein.core.comp.step.Fringe;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Glow;
import dasein.core.comp.step.Haze;
import dasein.core.image.Encoding;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.render.pass.Passes;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.function.IntFunction;
import org.junit.jupiter.api.Test;

/** What is measured in plates that were made with known faults. */
class PlateMatchesTest {
    private static final int W = 320, H = 240;

    private static Taken taken(IntFunction<Image> plate, int last, Passes p, List<Track> tracks) {
        return taken(plate, last, p, tracks, List.of(), List.of());
    }

    private static Taken taken(
            IntFunction<Image> plate,
            int last,
            Passes p,
            List<Track> tracks,
            List<ColourPair> pairs,
            List<HazePick> hazes) {
        return new Taken(
                plate,
                1,
                last,
                Encoding.REC709,
                1,
                p,
                CompRecipe.BLANK,
                Clues.NONE,
                tracks,
                pairs,
                hazes,
                f -> 0.02,
                true,
                0.5,
                f -> List.of());
    }

    private static Image flat(double v) {
        Image im = new Image(W, H, 3);
        for (float[] p : im.planes) Arrays.fill(p, (float) v);
        return im;
    }

    @Test
    void coloursOfAPairBecomeTheSame() {
        Image plate = flat(0.3);
        Arrays.fill(plate.planes[2], 0.2f);
        Passes p = new Passes(W, H);
        Arrays.fill(p.alpha, 1);
        for (float[] b : p.beauty) Arrays.fill(b, 0.25f);
        Match.Outcome o = new ColourMatch()
                .of(taken(f -> plate, 1, p, List.of(), List.of(new ColourPair(1, 1, 40, 40, 100, 100)), List.of()));
        double g = o.recipe().get(Gain.GAIN);
        assertThat(0.25 * g * o.recipe().get(Gain.RED)).isCloseTo(0.3, within(1e-4));
        assertThat(0.25 * g * o.recipe().get(Gain.BLUE)).isCloseTo(0.2, within(1e-4));
        assertThatThrownBy(() -> new ColourMatch().of(taken(f -> plate, 1, p, List.of())))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("pick a place");
    }

    /** Koschmieder 1924, with grain: 45 % lost in 100 m. */
    @Test
    void hazeIsThatOfDarkPlacesAtKnownDistances() {
        double rate = -Math.log(1 - 0.45) / 100;
        double[] air = {0.5, 0.55, 0.65}, metres = {4, 30, 80, 160, 260};
        Image plate = new Image(W, H, 3);
        Random random = new Random(3);
        List<HazePick> picks = new ArrayList<>();
        for (int k = 0; k < metres.length; k++) {
            picks.add(new HazePick(k + 1, 1, 20 + 60 * k, 100, metres[k]));
            double t = Math.exp(-rate * metres[k]);
            for (int i = 0; i < W * H; i++)
                if (Math.abs(i % W - (20 + 60 * k)) < 10)
                    for (int c = 0; c < 3; c++)
                        plate.planes[c][i] = (float) (0.03 * t + air[c] * (1 - t) + 0.004 * random.nextGaussian());
        }
        CompRecipe r = new HazeMatch()
                .of(taken(f -> plate, 1, null, List.of(), List.of(), picks))
                .recipe();
        assertThat(r.get(Haze.HAZE)).isCloseTo(0.45, within(0.03));
        assertThat(r.get(Haze.RED)).isCloseTo(0.5, within(0.02));
        assertThat(r.get(Haze.BLUE)).isCloseTo(0.65, within(0.02));
        Image clear = flat(0.1);
        assertThatThrownBy(() -> new HazeMatch().of(taken(f -> clear, 1, null, List.of(), List.of(), picks)))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("no haze");
    }

    /**
     * A pan over a wall, with a lens that is a third darker in corners, and an exposure that drifts by a third stop.
     */
    @Test
    void cornersAndDriftAreToldApart() {
        int frames = 24;
        double corner = 0.33;
        Random random = new Random(9);
        double[] wall = new double[4000];
        for (int i = 0; i < wall.length; i++) wall[i] = 0.15 + 0.2 * random.nextDouble();
        IntFunction<Image> plate = f -> {
            Image im = new Image(W, H, 3);
            double drift = Math.pow(2, 0.33 * Math.sin(0.25 * (f - 1)));
            double all = W * W / 4.0 + H * H / 4.0;
            for (int i = 0; i < W * H; i++) {
                int x = i % W, y = i / W;
                // Cells of 24 pixels that go 8 pixels to the left a frame.
                int cell = Math.floorMod((x + 8 * f) / 24 * 37 + y / 24 * 911, wall.length);
                double r = (Math.pow(x + 0.5 - W / 2.0, 2) + Math.pow(y + 0.5 - H / 2.0, 2)) / all;
                float v = (float) (wall[cell] * drift * (1 - corner * r));
                for (float[] p : im.planes) p[i] = v;
            }
            return im;
        };
        List<Track> tracks = new ArrayList<>();
        for (int cy = 12; cy < H; cy += 24)
            for (int cell = 1; cell < 22; cell++) {
                List<Integer> fs = new ArrayList<>();
                for (int f = 1; f <= frames; f++) {
                    double x = 24 * cell + 12 - 8 * f;
                    if (x > 8 && x < W - 8) fs.add(f);
                }
                double[] x = new double[fs.size()], y = new double[fs.size()];
                for (int k = 0; k < x.length; k++) {
                    x[k] = 24 * cell + 12 - 8 * fs.get(k);
                    y[k] = cy;
                }
                if (x.length > 4)
                    tracks.add(new Track(
                            tracks.size(), fs.stream().mapToInt(i -> i).toArray(), x, y));
            }
        Taken t = taken(plate, frames, null, tracks);
        assertThat(new FallOffMatch().of(t).recipe().get(FallOff.CORNER)).isCloseTo(corner, within(0.02));
        var gain = new DriftMatch().of(t).curves().get(Gain.GAIN.name());
        for (int f = 1; f <= frames; f++)
            assertThat(gain.at(f, 1, 24))
                    .as("frame " + f)
                    .isCloseTo(Math.pow(2, 0.33 * Math.sin(0.25 * (f - 1))), within(0.02));
        Image still = plate.apply(1);
        assertThat(new DriftMatch()
                        .of(taken(f -> still, frames, null, standing(tracks)))
                        .plate())
                .as("a light that stays is left alone")
                .startsWith("steady");
        assertThatThrownBy(() -> new FallOffMatch().of(taken(f -> still, frames, null, standing(tracks))))
                .as("marks that stand still say nothing of corners")
                .isInstanceOf(NoSolution.class);
    }

    private static List<Track> standing(List<Track> of) {
        return of.stream()
                .map(t -> {
                    double[] x = new double[t.length()], y = new double[t.length()];
                    Arrays.fill(x, t.x()[0]);
                    Arrays.fill(y, t.y()[0]);
                    return new Track(t.id(), t.frames(), x, y);
                })
                .toList();
    }

    /** Soft blots, exactly known between pixels, whose red is drawn 0.8 px further out at the corner. */
    @Test
    void coloursThatPartTowardsTheCornersAreFound() {
        Random random = new Random(5);
        double[][] blots = new double[500][];
        for (int k = 0; k < blots.length; k++)
            blots[k] = new double[] {
                W * random.nextDouble(), H * random.nextDouble(), 2 + 2 * random.nextDouble(), random.nextDouble() - 0.5
            };
        double corner = Math.hypot(W / 2.0, H / 2.0);
        double[] out = {0.8, 0, -0.5};
        Image plate = new Image(W, H, 3);
        for (int c = 0; c < 3; c++) {
            double k = 1 - out[c] / corner;
            for (int i = 0; i < W * H; i++) {
                double x = W / 2.0 + k * (i % W + 0.5 - W / 2.0), y = H / 2.0 + k * (i / W + 0.5 - H / 2.0), v = 0.5;
                for (double[] b : blots) {
                    double d = ((x - b[0]) * (x - b[0]) + (y - b[1]) * (y - b[1])) / (b[2] * b[2]);
                    if (d < 16) v += 0.4 * b[3] * Math.exp(-d / 2);
                }
                plate.planes[c][i] = (float) Encoding.REC709.decode(0.9 * v + 0.02 * c + 0.004 * random.nextGaussian());
            }
        }
        CompRecipe r =
                new FringeMatch().of(taken(f -> plate, 4, null, List.of())).recipe();
        assertThat(r.get(Fringe.RED)).isCloseTo(0.8, within(0.08));
        assertThat(r.get(Fringe.BLUE)).isCloseTo(-0.5, within(0.08));
        assertThatThrownBy(() -> new FringeMatch().of(taken(f -> flat(0.3), 4, null, List.of())))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("too few clear edges");
    }

    @Test
    void glowIsThatOfLampsWhichAreCutOff() {
        double part = 0.25, sigma = 7, radius = 5;
        Image plate = flat(0.05);
        double[][] lamps = {{90, 80}, {230, 150}};
        float[] light = new float[W * H];
        for (double[] l : lamps)
            for (int i = 0; i < light.length; i++) if (Math.hypot(i % W - l[0], i / W - l[1]) < radius) light[i] = 1;
        float[] spread = Filters.gaussian(light, W, H, sigma);
        Random random = new Random(2);
        for (float[] p : plate.planes)
            for (int i = 0; i < p.length; i++)
                p[i] = light[i] > 0 ? 1 : (float) (p[i] + part * 0.5 * spread[i] + 0.001 * random.nextGaussian());
        CompRecipe r = new GlowMatch().of(taken(f -> plate, 3, null, List.of())).recipe();
        assertThat(r.get(Glow.AMOUNT)).isCloseTo(part, within(0.12 * part));
        assertThat(r.get(Glow.SPREAD)).isCloseTo(sigma, within(0.7));
        assertThat(r.get(Glow.ABOVE)).isCloseTo(0.5, within(1e-6));
        assertThatThrownBy(() -> new GlowMatch().of(taken(f -> flat(0.4), 3, null, List.of())))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("no small lamp");
    }

    /**
     * Bars that move the faster the lower they are, each drawn over the part of its way that 216 degrees leave open.
     */
    @Test
    void theShutterIsSeenInTheLengthOfStreaks() {
        double open = 0.6, soft = 0.7, shear = 0.06;
        int frames = 7, high = 150;
        Image[] drawn = new Image[frames + 1];
        for (int f = 1; f <= frames; f++) {
            Image im = drawn[f] = new Image(W, high, 3);
            double g = f;
            Image.rows(high, y -> {
                double v = shear * (y + 0.5);
                for (int x = 0; x < W; x++) {
                    double sum = 0;
                    int n = 16;
                    for (int k = 0; k < n; k++) {
                        double at = x + 0.5 - v * (g + open * ((k + 0.5) / n - 0.5)), t = at - 40 * Math.floor(at / 40);
                        sum += step((t - 10) / soft) - step((t - 30) / soft);
                    }
                    float light = (float) Encoding.REC709.decode(0.25 + 0.4 * sum / n);
                    for (float[] p : im.planes) p[y * W + x] = light;
                }
            });
        }
        List<Track> tracks = new ArrayList<>();
        for (int y = 4; y < high; y += 8)
            for (int k = -2; k < 9; k++) {
                int[] fs = new int[frames];
                double[] x = new double[frames], at = new double[frames];
                for (int f = 0; f < frames; f++) {
                    fs[f] = f + 1;
                    x[f] = 40 * k + 10 + shear * (y + 0.5) * (f + 1);
                    at[f] = y + 0.5;
                }
                tracks.add(new Track(tracks.size(), fs, x, at));
            }
        Match.Outcome o = new ShutterMatch().of(taken(f -> drawn[f], frames, null, tracks));
        assertThat(o.shutterDeg()).isCloseTo(216, within(15.0));
        assertThatThrownBy(() -> new ShutterMatch().of(taken(f -> drawn[f], frames, null, standing(tracks))))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("streaks");
    }

    /** The normal distribution's integral (Abramowitz and Stegun 26.2.17, from memory). */
    private static double step(double t) {
        double x = Math.abs(t), k = 1 / (1 + 0.2316419 * x);
        double q = Math.exp(-x * x / 2)
                / Math.sqrt(2 * Math.PI)
                * k
                * (0.319381530 + k * (-0.356563782 + k * (1.781477937 + k * (-1.821255978 + k * 1.330274429))));
        return t >= 0 ? 1 - q : q;
    }
}

package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A camera that stands is known for one whatever moves before it, and one that moves never is. */
class StandstillTest {
    private static final int WIDTH = 1280, HEIGHT = 720, FRAMES = 96;
    private static final Rate RATE = new Rate(24, 1);

    /** A fifth of the marks on what stands; the others on leaves that sway, or on people that walk about. */
    private static List<Track> standing(double fixed, boolean people, long seed) {
        Random r = new Random(seed);
        List<Track> out = new ArrayList<>();
        double[][] walkers = new double[5][];
        for (int w = 0; w < walkers.length; w++)
            walkers[w] = new double[] {
                WIDTH * r.nextDouble(),
                3 * r.nextGaussian(),
                0.4 * r.nextGaussian(),
                2 + 3 * r.nextDouble(),
                r.nextDouble()
            };
        for (int i = 1; i <= 300; i++) {
            int from = 1 + r.nextInt(FRAMES / 3), n = Math.min(FRAMES - from + 1, 40 + r.nextInt(60));
            double x0 = WIDTH * r.nextDouble(), y0 = HEIGHT * r.nextDouble();
            boolean stands = r.nextDouble() < fixed;
            double size = 3 + 6 * r.nextDouble(), rate = 0.15 + 0.2 * r.nextDouble(), phase = 7 * r.nextDouble();
            double angle = 7 * r.nextDouble(), gust = 2 * r.nextGaussian();
            int who = r.nextInt(walkers.length);
            double[] x = new double[n], y = new double[n];
            for (int k = 0; k < n; k++) {
                double t = from + k, dx = 0, dy = 0;
                if (!stands && people) {
                    double[] w = walkers[who];
                    dx = w[1] * t + 2 * Math.sin(0.5 * t + phase);
                    dy = w[2] * t + w[3] * Math.sin(0.5 * t + 7 * w[4]) + size * 0.3 * Math.sin(0.25 * t + phase);
                } else if (!stands) {
                    double s = size * Math.sin(rate * t + phase) + gust * Math.sin(0.07 * t);
                    dx = s * Math.cos(angle) + 0.3 * size * Math.cos(1.7 * rate * t);
                    dy = s * Math.sin(angle);
                }
                x[k] = x0 + dx + 0.15 * r.nextGaussian();
                y[k] = y0 + dy + 0.15 * r.nextGaussian();
            }
            out.add(new Track(i, IntStream.range(from, from + n).toArray(), x, y));
        }
        return out;
    }

    @ParameterizedTest
    @ValueSource(booleans = {false, true})
    void aFifthThatStandsIsEnough(boolean people) {
        for (long seed = 1; seed <= 6; seed++)
            for (double fixed : new double[] {0.2, 0.35, 0.6}) {
                KindChoice k = KindChoice.of(new Observations(standing(fixed, people, seed)), WIDTH, HEIGHT);
                assertThat(k.still())
                        .as("%.2f stand, seed %d: %s", fixed, seed, k.stand())
                        .isTrue();
            }
        assertThatThrownBy(() -> CameraSolver.solve(
                        standing(0.2, people, 7), WIDTH, HEIGHT, RATE, SolveSettings.UNKNOWN, Progress.NONE))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("stands still");
    }

    /** Most of what it sees lies so far off that it keeps its place; what is near goes by. */
    @Test
    void aCameraThatSlidesBeforeFarThingsMoves() {
        for (long seed = 1; seed <= 4; seed++) {
            KnownShot k = new KnownShot(
                    72,
                    300,
                    0.2,
                    0.05,
                    seed,
                    new Lens(1100, 640, 360, -0.05, 0),
                    t -> new Pose(Quat.IDENTITY, new Vec3(0.25 * t, 1.6, -0.1 * t)),
                    t -> 1,
                    3,
                    (eye, way, r) -> r < 0.35 ? 4 + 8 * r : 4000);
            Standstill s = Standstill.of(new Observations(k.tracks));
            assertThat(s.stood()).isFalse();
        }
    }

    /** A lens with k1 = -1.6 folds its picture long before the corners. */
    @Test
    void aLensThatNoCameraHasIsKnown() {
        assertThat(TermChoice.sane(new Lens(590, 640, 360, -1.6, 0), WIDTH, HEIGHT))
                .isFalse();
        assertThat(TermChoice.sane(new Lens(590, 640, 360, -0.2, 0.03), WIDTH, HEIGHT))
                .isTrue();
        assertThat(TermChoice.sane(new Lens(1100, 640, 360, 0.1, 0), WIDTH, HEIGHT))
                .isTrue();
        assertThat(TermChoice.sane(new Lens(1100, 900, 360, 0, 0), WIDTH, HEIGHT))
                .isFalse();
        assertThat(TermChoice.sane(new Lens(Double.NaN, 640, 360, 0, 0), WIDTH, HEIGHT))
                .isFalse();
    }
}

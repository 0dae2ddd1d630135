package dasein.core.track;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Pyramid;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** One region found again in a picture that is the first one, moved by a known map; and where regions are put. */
class AlignerTest {
    private static final int W = 200, H = 160, R = 9;

    private interface Map2 {
        double[] at(double x, double y);
    }

    /** A smooth pattern, as the place it shows is given by the map; brightness times gain plus bias. */
    private static Pyramid picture(Map2 from, double gain, double bias, double noise) {
        float[] g = new float[W * H];
        Random r = new Random(2);
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++) {
                double[] p = from.at(x + 0.5, y + 0.5);
                double v = 110
                        + 30 * Math.sin(0.31 * p[0] + 0.11 * p[1])
                        + 25 * Math.sin(0.27 * p[1] - 0.07 * p[0] + 1)
                        + 20 * Math.sin(0.19 * (p[0] + p[1]) + 2);
                g[y * W + x] = (float) (gain * v + bias + noise * r.nextGaussian());
            }
        return new Pyramid(W, H, 4).fill(g);
    }

    @Test
    void aShiftIsFoundToAHundredthWhateverTheLight() {
        Pyramid a = picture((x, y) -> new double[] {x, y}, 1, 0, 0);
        for (double[] light : new double[][] {{1, 0}, {1.4, -20}, {0.7, 15}}) {
            for (double[] d : new double[][] {{0.25, 0.5}, {-3.37, 2.81}, {7.6, -5.2}}) {
                Pyramid b = picture((x, y) -> new double[] {x - d[0], y - d[1]}, light[0], light[1], 0);
                Aligner k = new Aligner(R);
                assertThat(k.follow(a, 100.5, 80.5, b, 100.5, 80.5, 3, Aligner.FINE_DONE))
                        .isTrue();
                assertThat(k.x - 100.5).isCloseTo(d[0], within(0.01));
                assertThat(k.y - 80.5).isCloseTo(d[1], within(0.01));
                assertThat(k.correlation).isGreaterThan(0.999);
            }
        }
    }

    /** About the best that can be had of white noise: sigma over the root of the gradient energy (Cramer and Rao). */
    @Test
    void noiseCostsAboutWhatItMust() {
        Pyramid a = picture((x, y) -> new double[] {x, y}, 1, 0, 0);
        double energy = 0, sigma = 4, sum = 0;
        float[] g = a.plane(0);
        for (int y = 80 - R; y <= 80 + R; y++)
            for (int x = 100 - R; x <= 100 + R; x++) {
                double gx = (g[y * W + x + 1] - g[y * W + x - 1]) / 2;
                energy += gx * gx;
            }
        double best = sigma / Math.sqrt(energy);
        int n = 40;
        for (int seed = 0; seed < n; seed++) {
            float[] noisy = new float[W * H];
            Random r = new Random(seed);
            for (int i = 0; i < noisy.length; i++) noisy[i] = (float) (g[i] + sigma * r.nextGaussian());
            Aligner k = new Aligner(R);
            assertThat(k.follow(a, 100.5, 80.5, new Pyramid(W, H, 4).fill(noisy), 100.9, 80.2, 1, Aligner.FINE_DONE))
                    .isTrue();
            sum += (k.x - 100.5) * (k.x - 100.5) / n;
        }
        // Two numbers are sought, which share what is known; the sample is of forty.
        assertThat(Math.sqrt(sum)).isBetween(0.5 * best, 2.2 * best);
    }

    @Test
    void anAffineWarpIsFound() {
        double a = 1.06, b = 0.04, c = -0.05, d = 0.97;
        Pyramid p = picture((x, y) -> new double[] {x, y}, 1, 0, 0),
                q =
                        picture(
                                (x, y) -> {
                                    // Where (x, y) came from: the inverse of the warp about the mark.
                                    double u = x - 101.2, v = y - 79.9, det = a * d - b * c;
                                    return new double[] {100.5 + (d * u - b * v) / det, 80.5 + (a * v - c * u) / det};
                                },
                                1.2,
                                -10,
                                0);
        Aligner k = new Aligner(R);
        Look look = k.look(p, 100.5, 80.5);
        double[] warp = {1, 0, 0, 1};
        assertThat(k.refine(look, warp, q, 100.5, 80.5, 4, true)).isTrue();
        assertThat(warp[0]).isCloseTo(a, within(0.01));
        assertThat(warp[1]).isCloseTo(b, within(0.01));
        assertThat(warp[2]).isCloseTo(c, within(0.01));
        assertThat(warp[3]).isCloseTo(d, within(0.01));
        assertThat(k.x).isCloseTo(101.2, within(0.02));
        assertThat(k.y).isCloseTo(79.9, within(0.02));
        // Not further than it may go.
        assertThat(k.refine(look, new double[] {1, 0, 0, 1}, q, 106, 86, 0.5, true))
                .isFalse();
    }

    @Test
    void whatHasNothingToHoldOnToOrReachesOverTheBorderIsLost() {
        Pyramid a = picture((x, y) -> new double[] {x, y}, 1, 0, 0), flat = new Pyramid(W, H, 4).fill(new float[W * H]);
        Aligner k = new Aligner(R);
        assertThat(k.look(flat, 100, 80)).isNull();
        assertThat(k.look(a, 4, 80)).isNull();
        assertThat(k.follow(a, 100, 80, flat, 100, 80, 2, Aligner.FINE_DONE)).isFalse();
        assertThat(k.follow(a, 3, 80, a, 3, 80, 2, Aligner.FINE_DONE)).isFalse();
        Look look = k.look(a, 100.5, 80.5);
        assertThat(k.correlationAt(look, a, 100, 80)).isCloseTo(1, within(1e-4));
        assertThat(k.correlationAt(look, a, 3, 80)).isZero();
        assertThat(k.correlationAt(look, a, 112, 80)).isLessThan(0.9);
    }

    /** White squares on black: corners lie at their corners, one a cell, none where not to look, none too near. */
    @Test
    void cornersArePutAtCorners() {
        float[] g = new float[W * H];
        for (int y = 20; y < 140; y++)
            for (int x = 20; x < 180; x++) if ((x / 40 + y / 40) % 2 == 0) g[y * W + x] = 200;
        Corners c = new Corners(g, W, H);
        float strong = c.strong();
        assertThat(strong).isPositive();
        Set<Integer> barren = new HashSet<>();
        List<int[]> found = c.pick(20, 8, 0.2f * strong, List.of(), null, 8, barren);
        assertThat(found.size()).isGreaterThan(8);
        for (int[] p : found) {
            double nearest = 99;
            for (int y = 0; y <= 160; y += 20)
                for (int x = 0; x <= 200; x += 20)
                    nearest = Math.min(nearest, Math.hypot(p[0] + 0.5 - x, p[1] + 0.5 - y));
            assertThat(nearest).as("from a corner of a square").isLessThan(4);
        }
        for (int[] p : found)
            for (int[] q : found)
                if (p != q)
                    assertThat(Math.max(Math.abs(p[0] - q[0]), Math.abs(p[1] - q[1])))
                            .isGreaterThanOrEqualTo(8);
        // Cells that hold nothing are remembered, and those with a mark are full.
        assertThat(barren).isNotEmpty();
        List<double[]> taken =
                found.stream().map(p -> new double[] {p[0] + 0.5, p[1] + 0.5}).toList();
        assertThat(c.pick(20, 8, 0.2f * strong, taken, null, 8, new HashSet<>()).size())
                .isLessThan(found.size());
        boolean[] mask = new boolean[W * H];
        for (int y = 0; y < H; y++) for (int x = 0; x < W / 2; x++) mask[y * W + x] = true;
        assertThat(c.pick(20, 8, 0.2f * strong, List.of(), mask, 8, new HashSet<>()))
                .isNotEmpty()
                .allMatch(p -> p[0] >= W / 2);
    }

    /** An edge alone is no corner: along it nothing can be held on to. */
    @Test
    void anEdgeIsNoCorner() {
        float[] g = new float[W * H];
        for (int y = 0; y < H; y++) for (int x = W / 2; x < W; x++) g[y * W + x] = 200;
        assertThat(new Corners(g, W, H).pick(20, 8, 1, List.of(), null, 8, new HashSet<>()))
                .isEmpty();
        assertThat(new Corners(new float[W * H], W, H).strong()).isZero();
    }
}

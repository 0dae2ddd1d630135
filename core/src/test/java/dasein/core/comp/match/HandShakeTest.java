package dasein.core.comp.match;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.NoSolution;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** A pan with a known unrest on top, and a few marks that go their own way. */
class HandShakeTest {
    private static final int W = 640, H = 360, N = 60;

    private static double shiftX(int f) {
        return 3 * Math.sin(1.7 * f);
    }

    private static double turn(int f) {
        return 0.01 * Math.sin(2.1 * f + 1);
    }

    @Test
    void theUnrestIsFoundAndThePanIsNot() {
        Random r = new Random(3);
        List<Track> tracks = new ArrayList<>();
        for (int k = 0; k < 60; k++) {
            double x0 = W * r.nextDouble() - W / 2.0, y0 = H * r.nextDouble() - H / 2.0;
            boolean own = k % 10 == 0;
            int[] frames = new int[N];
            double[] x = new double[N], y = new double[N];
            for (int f = 0; f < N; f++) {
                // It turns about the picture's middle, wherever the pan has come to.
                double a = turn(f), u = x0 + 4 * f, v = y0;
                frames[f] = f + 1;
                x[f] = W / 2.0 + Math.cos(a) * u - Math.sin(a) * v + shiftX(f) + (own ? 5 * f : 0);
                y[f] = H / 2.0 + Math.sin(a) * u + Math.cos(a) * v + 2 * Math.cos(1.9 * f);
            }
            tracks.add(new Track(k, frames, x, y));
        }
        HandShake s = HandShake.of(tracks, 1, N, W, H, 24);
        for (int f = 15; f < N - 15; f++) {
            assertThat(-s.across()[f] * W).as("across, " + f).isCloseTo(shiftX(f), within(0.6));
            assertThat(-s.down()[f] * H).as("down, " + f).isCloseTo(2 * Math.cos(1.9 * f), within(0.6));
            assertThat(s.turnDeg()[f]).as("turn, " + f).isCloseTo(Math.toDegrees(turn(f)), within(0.12));
        }
        assertThatThrownBy(() -> HandShake.of(tracks.subList(0, 3), 1, N, W, H, 24))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("too few marks");
    }
}

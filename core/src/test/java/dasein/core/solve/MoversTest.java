package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.track.Track;
import dasein.core.track.TrackCheck;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** A camera walks past a field of points; some belong to a thing that walks its own way. */
class MoversTest {
    private static final int W = 1280, H = 720, FRAMES = 40;

    private static List<Track> shot(int still, int moving) {
        Random r = new Random(8);
        List<Track> out = new ArrayList<>();
        for (int i = 0; i < still + moving; i++) {
            boolean moves = i >= still;
            double px = moves ? -0.5 + 0.8 * r.nextDouble() : -5 + 10 * r.nextDouble(),
                    py = moves ? -0.4 + 1.2 * r.nextDouble() : -2 + 4 * r.nextDouble(),
                    pz = moves ? 6 + 0.6 * r.nextDouble() : 4 + 9 * r.nextDouble();
            int[] f = new int[FRAMES];
            double[] x = new double[FRAMES], y = new double[FRAMES];
            int n = 0;
            for (int k = 0; k < FRAMES; k++) {
                double turn = 0.002 * k,
                        cx = 0.03 * k,
                        wx = px + (moves ? -0.02 * k : 0) - cx,
                        wy = py + (moves ? 0.03 * Math.sin(0.4 * k) : 0) - 0.005 * k,
                        wz = pz;
                double u = Math.cos(turn) * wx + Math.sin(turn) * wz, w = -Math.sin(turn) * wx + Math.cos(turn) * wz;
                double qx = W / 2.0 + 1400 * u / w + 0.15 * r.nextGaussian(),
                        qy = H / 2.0 + 1400 * wy / w + 0.15 * r.nextGaussian();
                if (qx < 0 || qy < 0 || qx > W || qy > H) continue;
                f[n] = k + 1;
                x[n] = qx;
                y[n++] = qy;
            }
            if (n > 10)
                out.add(new Track(
                        i,
                        java.util.Arrays.copyOf(f, n),
                        java.util.Arrays.copyOf(x, n),
                        java.util.Arrays.copyOf(y, n)));
        }
        return out;
    }

    @Test
    void whatMovesByItselfIsItsOwnGroup() {
        List<Movers.Group> g = Movers.find(shot(220, 30), W, H);
        assertThat(g).hasSize(1);
        long mine = g.get(0).tracks().stream().filter(id -> id >= 220).count();
        assertThat(mine).isGreaterThanOrEqualTo(27);
        assertThat(g.get(0).tracks().size() - mine).isLessThanOrEqualTo(1);
        assertThat(g.get(0).breadth()).isBetween(0.1, 0.6);
    }

    @Test
    void aShotInWhichNothingMovesHasNoGroups() {
        assertThat(Movers.find(shot(220, 0), W, H)).isEmpty();
    }

    @Test
    void aJumpIsFoundWithItsFrame() {
        List<Track> t = shot(220, 0);
        Track bad = t.get(50);
        int at = bad.length() / 2;
        for (int i = at; i < bad.length(); i++) bad.x()[i] += 9;
        List<TrackCheck.Doubt> d = TrackCheck.doubts(t);
        assertThat(d).isNotEmpty();
        assertThat(d.get(0).track()).isEqualTo(bad.id());
        assertThat(d.get(0).frame()).isEqualTo(bad.frames()[at]);
        assertThat(d.get(0).reason()).contains("jumps by");
        assertThat(d).hasSizeLessThan(6);
    }
}

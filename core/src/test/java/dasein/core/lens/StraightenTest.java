package dasein.core.lens;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.format.Exr;
import dasein.core.image.Image;
import java.nio.file.Path;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class StraightenTest {
    private static final Lens LENS = new Lens(420, 165, 88, -0.14, 0.02, 0, 0.001, -0.0008);

    @TempDir
    Path folder;

    private final Straighten s = new Straighten(LENS, 320, 180);

    /** The project's own aim: the pair comes back within 0.02 px. Nothing of the plate is lost. */
    @Test
    void thereAndBackIsTheSamePlace() {
        for (int x = 0; x <= 320; x += 10) {
            for (int y = 0; y <= 180; y += 10) {
                double[] q = s.straight(x, y), p = s.bent(q[0], q[1]);
                assertThat(Math.hypot(p[0] - x, p[1] - y)).isLessThan(1e-6);
                assertThat(q[0]).isBetween(s.left + 2.0, s.left + s.wide - 2.0);
                assertThat(q[1]).isBetween(s.top + 2.0, s.top + s.high - 2.0);
            }
        }
        assertThat(s.wide).isGreaterThan(320);
    }

    /** What is straight in the world is bent in the plate, and straight in the straight picture. */
    @Test
    void straightLinesAreStraight() {
        Image plate = new Image(320, 180, 1);
        for (int i = 0; i < plate.planes[0].length; i++) {
            double[] q = s.straight(i % 320 + 0.5, i / 320 + 0.5);
            plate.planes[0][i] = (float) (0.5 + 0.4 * Math.tanh((q[1] - (0.3 * q[0] + 20)) / 2));
        }
        Image straight = s.undistorted(plate);
        for (int x = 40; x < 280; x += 8) {
            // The grey 0.5 of the edge, between two rows.
            int col = x - s.left, row = 0;
            while (straight.planes[0][row * s.wide + col] == 0 || straight.planes[0][row * s.wide + col] < 0.5) row++;
            float a = straight.planes[0][(row - 1) * s.wide + col], b = straight.planes[0][row * s.wide + col];
            double y = row - 0.5 + (0.5 - a) / (b - a) + s.top;
            assertThat(y).isCloseTo(0.3 * (x + 0.5) + 20, within(0.05));
        }
    }

    @Test
    void aPictureComesBackWithLittleLoss() {
        Image plate = new Image(320, 180, 3);
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < 320 * 180; i++)
                plate.planes[c][i] =
                        (float) (0.4 + 0.2 * Math.sin(0.21 * (i % 320) + c) + 0.15 * Math.sin(0.27 * (i / 320)));
        Image back = s.distorted(s.undistorted(plate));
        double worst = 0;
        for (int y = 6; y < 174; y++)
            for (int x = 6; x < 314; x++) worst = Math.max(worst, Math.abs(back.get(x, y, 1) - plate.get(x, y, 1)));
        assertThat(worst).isLessThan(0.01);
    }

    /** Fetching by the map is the straightening, and the overscan stands in the data window. */
    @Test
    void theMapsSayTheSame() {
        float[][] map = s.undistortMap(), back = s.redistortMap();
        for (int y = 20; y < s.high - 20; y += 23) {
            for (int x = 30; x < s.wide - 30; x += 31) {
                int i = y * s.wide + x;
                double px = map[0][i] * 320, py = (1 - map[1][i]) * 180;
                if (px < 0.5 || py < 0.5 || px > 319 || py > 179) continue;
                double[] q = s.straight(px, py);
                assertThat(Math.hypot(q[0] - x - 0.5 - s.left, q[1] - y - 0.5 - s.top))
                        .isLessThan(0.01);
                int k = (int) py * 320 + (int) px;
                assertThat(back[0][k] * s.wide + s.left)
                        .isCloseTo((float) s.straight((int) px + 0.5, (int) py + 0.5)[0], within(0.01f));
            }
        }
        Path p = folder.resolve("map.exr");
        Exr.write(
                p,
                new int[] {s.left, s.top, s.wide, s.high},
                new int[] {0, 0, 320, 180},
                Map.of("R", map[0], "G", map[1]),
                Set.of("R", "G"),
                Map.of());
        Exr.Channels c = Exr.read(p);
        assertThat(c.plane("R")).isEqualTo(map[0]);
        assertThat(new int[] {c.originX(), c.originY(), c.width(), c.height()})
                .containsExactly(s.left, s.top, s.wide, s.high);
        assertThat(c.display()).containsExactly(0, 0, 320, 180);
    }

    @Test
    void aLensThatCannotBeIsRefused() {
        assertThatThrownBy(() -> new Straighten(new Lens(100, 160, 90, 0, 0, 0, 0.9, 0), 320, 180)
                        .undistorted(new Image(10, 10, 1)))
                .isInstanceOf(BadInput.class);
    }
}

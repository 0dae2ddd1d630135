package dasein.core.light.pano;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.math.Vec3;
import org.junit.jupiter.api.Test;

class MapViewTest {
    /** Colour is direction: each axis by a plane. */
    private static Image directions(int width) {
        Image m = new Image(width, width / 2, 3);
        for (int y = 0; y < m.height; y++)
            for (int x = 0; x < width; x++) {
                Vec3 d = Environment.fromUv((x + 0.5) / width, (y + 0.5) / m.height);
                double[] v = d.array();
                for (int c = 0; c < 3; c++) m.planes[c][y * width + x] = (float) v[c];
            }
        return m;
    }

    private static void shows(Image view, int x, int y, Vec3 d) {
        double[] v = d.unit().array();
        for (int c = 0; c < 3; c++) assertThat(view.get(x, y, c)).isCloseTo((float) v[c], within(0.02f));
    }

    @Test
    void aPixelShowsItsDirection() {
        Image map = directions(512);
        // Field of a right angle: the edge lies at one to one.
        Image ahead = new MapView(0, 0, 90).of(map, 201, 101);
        shows(ahead, 100, 50, new Vec3(0, 0, -1));
        shows(ahead, 200, 50, new Vec3(1, 0, -1));
        shows(ahead, 100, 0, new Vec3(0, 0.5, -1));
        shows(new MapView(90, 0, 60).of(map, 101, 101), 50, 50, Vec3.X);
        shows(new MapView(-90, 0, 60).of(map, 101, 101), 50, 50, Vec3.X.times(-1));
        shows(new MapView(0, 90, 60).of(map, 101, 101), 50, 50, Vec3.Y);
        // Across the seam, which lies behind.
        Image behind = new MapView(180, 0, 90).of(map, 201, 101);
        for (int x = 0; x < 201; x += 10) shows(behind, x, 50, new Vec3(-(x - 100) / 100.5, 0, 1));
        assertThatThrownBy(() -> new MapView(0, 0, 170)).hasMessageContaining("field");
    }
}

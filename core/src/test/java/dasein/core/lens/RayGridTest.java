package dasein.core.lens;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.math.Vec3;
import java.util.Random;
import org.junit.jupiter.api.Test;

class RayGridTest {
    /** By what the lens itself says of the ray that the grid gives: it comes from where it was asked for. */
    @Test
    void itsRaysComeFromTheirPixels() {
        Lens[] lenses = {
            new Lens(1100, 640, 360, 0, 0), new Lens(900, 655, 349, -0.22, 0.05), new Lens(420, 640, 360, -0.05, 0.002)
        };
        for (Lens l : lenses) {
            RayGrid g = new RayGrid(l, 1280, 720);
            Random r = new Random(1);
            double worst = 0;
            float[] at = new float[2];
            for (int k = 0; k < 5000; k++) {
                float x = 1280 * r.nextFloat(), y = 720 * r.nextFloat();
                g.at(x, y, at);
                double[] back = l.project(new Vec3(at[0], at[1], -1));
                worst = Math.max(worst, Math.hypot(back[0] - x, back[1] - y));
            }
            assertThat(worst).isLessThan(0.01);
        }
    }

    @Test
    void oddSizesAndTheLastPixelAreWithin() {
        Lens l = new Lens(300, 66, 40, -0.1, 0);
        RayGrid g = new RayGrid(l, 133, 81);
        float[] at = g.at(132.999f, 80.999f, new float[2]);
        Vec3 want = l.ray(132.999, 80.999);
        assertThat(Math.hypot(at[0] - want.x(), at[1] - want.y())).isLessThan(1e-4);
    }
}

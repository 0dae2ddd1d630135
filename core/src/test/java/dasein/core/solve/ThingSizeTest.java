package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.math.Vec3;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** A thing of known size, seen so many times as far off and as large as it is: both ways find how many. */
class ThingSizeTest {
    @Test
    void itsSizeIsFoundByALengthAndByTheGround() {
        Random r = new Random(3);
        for (int n = 0; n < 50; n++) {
            Vec3 eye = new Vec3(r.nextGaussian(), 1 + r.nextDouble(), r.nextGaussian()),
                    wheel = new Vec3(4 * r.nextGaussian(), 0, -6 - 4 * r.nextDouble()),
                    roof = wheel.plus(new Vec3(r.nextGaussian(), 1.4, r.nextGaussian()));
            double times = 0.2 + 3 * r.nextDouble();
            // What is seen of it from the camera, drawn nearer along the rays.
            Vec3 wheelNow = eye.plus(wheel.minus(eye).times(1 / times)),
                    roofNow = eye.plus(roof.minus(eye).times(1 / times));
            assertThat(ThingSize.byLength(wheelNow, roofNow, wheel.distance(roof)))
                    .isCloseTo(times, within(1e-9));
            assertThat(ThingSize.byGround(eye, wheelNow)).isCloseTo(times, within(1e-9));
        }
    }

    @Test
    void whatCannotBeIsRefused() {
        assertThatThrownBy(() -> ThingSize.byLength(Vec3.X, Vec3.X, 1)).isInstanceOf(BadInput.class);
        assertThatThrownBy(() -> ThingSize.byLength(Vec3.X, Vec3.Y, 0)).isInstanceOf(BadInput.class);
        assertThatThrownBy(() -> ThingSize.byGround(new Vec3(0, 1, 0), new Vec3(0, 2, -5)))
                .hasMessageContaining("below the horizon");
        assertThatThrownBy(() -> ThingSize.byGround(new Vec3(0, -1, 0), new Vec3(0, -2, -5)))
                .isInstanceOf(BadInput.class);
    }
}

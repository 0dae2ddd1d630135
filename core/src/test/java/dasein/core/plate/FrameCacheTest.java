package dasein.core.plate;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.image.Image;
import org.junit.jupiter.api.Test;

class FrameCacheTest {
    private static final int SIDE = 100;
    private static final long FRAME = 4L * SIDE * SIDE * 3;

    private static Image image() {
        return new Image(SIDE, SIDE, 3);
    }

    /** Twelve plates hold no more than one does. */
    @Test
    void allPlatesShareOneBoundInBytes() {
        FrameCache c = new FrameCache(10 * FRAME);
        Object[] plates = new Object[12];
        for (int p = 0; p < plates.length; p++) plates[p] = "plate " + p;
        for (int f = 0; f < 5; f++) for (Object p : plates) c.put(p, f, image());
        assertThat(c.bytes()).isLessThanOrEqualTo(10 * FRAME);
        assertThat(c.get(plates[11], 4)).isNotNull();
        assertThat(c.get(plates[0], 0)).isNull();
    }

    @Test
    void whatWasAskedForLatelyStays() {
        FrameCache c = new FrameCache(3 * FRAME);
        Object p = new Object();
        for (int f = 0; f < 3; f++) c.put(p, f, image());
        c.get(p, 0);
        c.put(p, 3, image());
        assertThat(c.get(p, 0)).isNotNull();
        assertThat(c.get(p, 1)).isNull();
    }

    @Test
    void aFrameLargerThanTheBoundIsHeldAloneAndAClosedPlateHoldsNothing() {
        FrameCache c = new FrameCache(FRAME / 2);
        Object p = new Object();
        c.put(p, 1, image());
        assertThat(c.get(p, 1)).isNotNull();
        c.put(p, 1, image());
        assertThat(c.bytes()).isEqualTo(FRAME);
        c.drop(p);
        assertThat(c.bytes()).isZero();
    }
}

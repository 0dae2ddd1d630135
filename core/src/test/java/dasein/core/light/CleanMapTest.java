package dasein.core.light;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.math.Vec3;
import java.util.Arrays;
import org.junit.jupiter.api.Test;

/** Maps with texels that are no light. */
class CleanMapTest {
    private static Image even() {
        Image im = new Image(64, 32, 3);
        for (float[] p : im.planes) Arrays.fill(p, 0.3f);
        return im;
    }

    /** Of an even sky of radiance L a level surface gets pi L, whatever single texels say. */
    @Test
    void singleTexelsDoNotTakeAllLight() {
        Image im = even();
        im.planes[1][700] = Float.NaN;
        im.planes[0][64] = Float.POSITIVE_INFINITY;
        im.planes[2][127] = -4;
        LightRig rig = new LightRig(LightRecipe.BLANK.withEnvironment("map"), im);
        float[] e = rig.at(1, 24).irradiance(Vec3.Y);
        for (float v : e) assertThat(v).isCloseTo((float) Math.PI * 0.3f, within(0.02f));
        assertThat(rig.found() == null || Double.isFinite(rig.found().towards().x()))
                .isTrue();
        Image clean = CleanMap.of(im);
        // At the map's edge its other edge is the neighbour.
        assertThat(clean.planes[0][64]).isEqualTo(0.3f);
        assertThat(clean.planes[2][127]).isZero();
        assertThat(im.planes[1][700]).as("the map itself is not touched").isNaN();
    }

    @Test
    void aMapInOrderIsItselfAndADamagedOneIsRefused() {
        Image im = even();
        assertThat(CleanMap.of(im)).isSameAs(im);
        Arrays.fill(im.planes[0], 0, 40, Float.NaN);
        assertThatThrownBy(() -> CleanMap.of(im))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("40 of its values are no numbers");
    }
}

package dasein.core.light;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.key.Curve;
import dasein.core.key.Curve.Ease;
import dasein.core.key.Curve.Key;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.List;
import org.junit.jupiter.api.Test;

/** A recipe's light in any frame: turned and levelled as a whole, its numbers on curves. */
class LightRigTest {
    /** A dim sky with a sun of four texels and a bright band, so that a turn shows. */
    private static Image map() {
        Image m = new Image(128, 64, 3);
        for (int y = 0; y < 64; y++)
            for (int x = 0; x < 128; x++) for (int c = 0; c < 3; c++) m.planes[c][y * 128 + x] = x < 30 ? 0.6f : 0.2f;
        for (int y = 14; y < 16; y++)
            for (int x = 80; x < 82; x++) for (int c = 0; c < 3; c++) m.planes[c][y * 128 + x] = 900;
        return m;
    }

    private static LightRecipe recipe(String source, double turn, double level) {
        return new LightRecipe(
                "map", turn, level, new LightRecipe.SunRecipe(source, 20, 30, 1, 1, List.of(1.0, 1.0, 1.0)));
    }

    private static Curve line(double from, double to) {
        return new Curve(List.of(new Key(1, from, Ease.LINEAR), new Key(11, to, Ease.LINEAR)), List.of());
    }

    @Test
    void turnedAndLevelledTheSunGoesWithTheMap() {
        Lighting as = new LightRig(recipe("map", 0, 1), map()).at(1, 24),
                other = new LightRig(recipe("map", 40, 2), map()).at(1, 24);
        assertThat(as.suns()).hasSize(1);
        Quat turn = Quat.axisAngle(Vec3.Y, Math.toRadians(-40));
        for (Vec3 n : List.of(Vec3.Y, new Vec3(1, 0, 0), new Vec3(0.3, 0.5, -0.6).unit())) {
            float[] a = as.irradiance(n), b = other.irradiance(turn.rotate(n));
            for (int c = 0; c < 3; c++) assertThat(b[c]).isCloseTo(2 * a[c], within(0.004f * a[c]));
        }
    }

    /** Whether the sun is a lamp or left in the map, the ground gets the same. */
    @Test
    void takingTheSunOutKeepsTheLight() {
        float a = new LightRig(recipe("map", 0, 1), map()).at(1, 24).irradiance(Vec3.Y)[1],
                b = new LightRig(recipe("none", 0, 1), map()).at(1, 24).irradiance(Vec3.Y)[1];
        assertThat(a).isCloseTo(b, within(0.01f * b));
        assertThat(new LightRig(recipe("none", 0, 1), map()).at(1, 24).suns()).isEmpty();
    }

    @Test
    void cloudsAndASinkingSunByKeys() {
        LightRecipe r = recipe("own", 0, 1).with("level", line(1, 3)).with("sunElevation", line(30, -10));
        LightRig rig = new LightRig(r, map());
        assertThat(rig.still()).isFalse();
        float[] first = rig.at(1, 24).environment().irradiance(Vec3.Y),
                middle = rig.at(6, 24).environment().irradiance(Vec3.Y);
        assertThat(middle[0]).isCloseTo(2 * first[0], within(1e-3f * first[0]));
        assertThat(rig.at(6, 24).suns().get(0).towards().y()).isCloseTo(Math.sin(Math.toRadians(10)), within(1e-9));
        // Below the ground there is none: it stays on the horizon.
        assertThat(rig.at(11, 24).suns().get(0).towards().y()).isCloseTo(0, within(1e-9));
        assertThat(rig.at(99, 24).suns().get(0).irradiance()[0]).isEqualTo(1);
    }

    @Test
    void everyNumberIsAChannelAndNothingElse() {
        LightRecipe r = recipe("own", 7, 1.5);
        for (String c : LightRecipe.CHANNELS) {
            LightRecipe k = r.with(c, line(5, 9));
            assertThat(k.at(6, 24).rest(c)).as(c).isCloseTo(7, within(1e-9));
            assertThat(k.at(6, 24).keys()).isEmpty();
            assertThat(r.resting(c, 12).rest(c)).isEqualTo(12);
            assertThat(k.with(c, Curve.NONE)).isEqualTo(r);
        }
        assertThatThrownBy(() -> r.with("hum", line(0, 1)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("hum");
    }
}

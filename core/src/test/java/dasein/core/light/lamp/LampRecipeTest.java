package dasein.core.light.lamp;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.cast.Tie;
import dasein.core.key.Curve;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.List;
import org.junit.jupiter.api.Test;

class LampRecipeTest {
    /** Published chromaticities of the Planckian locus (CIE 15): illuminant A's 2856 K is 0.4476, 0.4074. */
    @Test
    void glowHasItsColour() {
        double[] a = Kelvin.xy(2856);
        assertThat(a[0]).isCloseTo(0.4476, within(0.001));
        assertThat(a[1]).isCloseTo(0.4074, within(0.001));
        double[] day = Kelvin.xy(6504);
        assertThat(day[0]).isCloseTo(0.3135, within(0.001));
        assertThat(day[1]).isCloseTo(0.3237, within(0.001));
        double[] warm = Kelvin.colour(2000), cold = Kelvin.colour(12_000);
        assertThat(warm[0]).isGreaterThan(warm[1]).isGreaterThan(warm[2]);
        assertThat(cold[2]).isGreaterThan(cold[0]);
        assertThat(warm[0] + warm[1] + warm[2]).isCloseTo(3, within(1e-9));
    }

    @Test
    void standsAndFacesAsSetAndKeyed() {
        LampRecipe r = LampRecipe.fresh(1, Lamp.Kind.SPOT, 3, -4);
        Lamp down = r.at(1, 24, Pose.IDENTITY);
        assertThat(down.at()).isEqualTo(new Vec3(3, 2, -4));
        assertThat(down.towards().distance(new Vec3(0, -1, 0))).isLessThan(1e-9);
        Lamp level = r.resting("tilt", 0).resting("heading", 90).at(1, 24, Pose.IDENTITY);
        assertThat(level.towards().distance(Vec3.X)).isLessThan(1e-9);
        Curve rise =
                Curve.NONE.with(new Curve.Key(1, 1, Curve.Ease.LINEAR)).with(new Curve.Key(11, 3, Curve.Ease.LINEAR));
        assertThat(r.with("y", rise).at(6, 24, Pose.IDENTITY).at().y()).isCloseTo(2, within(1e-9));
        assertThat(r.with("level", rise).at(11, 24, Pose.IDENTITY).intensity()[0])
                .isCloseTo(3, within(1e-6f));
        for (String c : LampRecipe.CHANNELS) assertThat(r.resting(c, 7).rest(c)).isEqualTo(7);
        assertThatThrownBy(() -> r.with("hum", rise))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("hum");
    }

    /** Tied, its place is in the frame of what carries it; it turns along only where that is wanted. */
    @Test
    void goesAlong() {
        Pose carrier = new Pose(Quat.axisAngle(Vec3.Y, Math.PI / 2), new Vec3(10, 0, 0));
        LampRecipe r = LampRecipe.fresh(1, Lamp.Kind.SPOT, 0, 1).resting("tilt", 0);
        Lamp turned = r.with(new Tie(Tie.To.PERFORMER, 1, "", true)).at(1, 24, carrier);
        assertThat(turned.at().distance(new Vec3(11, 2, 0))).isLessThan(1e-9);
        assertThat(turned.towards().distance(Vec3.X)).isLessThan(1e-9);
        Lamp still = r.with(new Tie(Tie.To.PERFORMER, 1, "", false)).at(1, 24, carrier);
        assertThat(still.towards().distance(Vec3.Z)).isLessThan(1e-9);
    }

    @Test
    void coneIsFullWithinItsSoftRim() {
        Lamp l = LampRecipe.fresh(1, Lamp.Kind.SPOT, 0, 0)
                .with(new LampRecipe.Shape(0.5, 0.5, 60, 0.5))
                .with(new LampRecipe.Shine(2, 0, List.of(1.0, 0.5, 0.25)))
                .at(1, 24, Pose.IDENTITY);
        assertThat(l.cosCone()).isCloseTo(Math.cos(Math.toRadians(30)), within(1e-9));
        assertThat(l.cosFull()).isCloseTo(Math.cos(Math.toRadians(15)), within(1e-9));
        assertThat(l.intensity()).containsExactly(2, 1, 0.5f);
    }
}

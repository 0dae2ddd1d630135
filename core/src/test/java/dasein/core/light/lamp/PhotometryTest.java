package dasein.core.light.lamp;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import org.junit.jupiter.api.Test;

class PhotometryTest {
    private static LampRecipe lamp(Lamp.Kind kind) {
        return LampRecipe.fresh(1, kind, 0, 0);
    }

    /** Common practice: f/16 at 1/100 s and ISO 100 is exposure value 14.6, whose white is 1.2 x 2^EV. */
    @Test
    void whiteFollowsFromTheExposure() {
        double ev = Math.log(16 * 16 * 100) / Math.log(2);
        assertThat(Photometry.white(16, 0.01, 100)).isCloseTo(1.2 * Math.pow(2, ev), within(30.0));
        // A stop less light on the sensor is a stop brighter a white.
        assertThat(Photometry.white(4, 0.02, 400) / Photometry.white(4, 0.04, 400))
                .isCloseTo(2, within(1e-12));
        assertThatThrownBy(() -> Photometry.white(0, 1, 1)).hasMessageContaining("f-stop");
    }

    /** Lumens are the integral of candela over all directions: summed here as the lamp really shines. */
    @Test
    void lumensAreTheSumOverAllDirections() {
        for (Lamp.Kind kind : Lamp.Kind.values()) {
            LampRecipe r = lamp(kind).with(new LampRecipe.Shape(0.5, 0.5, 70, 0.4));
            double cd = Photometry.candela(1000, kind, 70, 0.4);
            Lamp l = r.at(1, 24, Pose.IDENTITY);
            double sum = 0;
            int n = 400;
            for (int j = 0; j < n; j++)
                for (int i = 0; i < 2 * n; i++) {
                    double th = Math.PI * (j + 0.5) / n, ph = Math.PI * (i + 0.5) / n;
                    Vec3 d = new Vec3(Math.sin(th) * Math.cos(ph), Math.cos(th), Math.sin(th) * Math.sin(ph));
                    double cos = d.dot(l.towards());
                    double part =
                            switch (kind) {
                                case POINT, SPHERE -> 1;
                                case DISC, RECTANGLE -> Math.max(0, cos);
                                case LINE -> Math.sqrt(Math.max(0, 1 - cos * cos));
                                case SPOT -> {
                                    double t = (cos - l.cosCone()) / (l.cosFull() - l.cosCone());
                                    t = Math.max(0, Math.min(1, t));
                                    yield t * t * (3 - 2 * t);
                                }
                            };
                    sum += cd * part * Math.sin(th) * Math.PI / n * Math.PI / n;
                }
            assertThat(sum).as(kind.name()).isCloseTo(1000, within(3.0));
        }
    }

    @Test
    void levelsAreReadAsWritten() {
        LampRecipe k = lamp(Lamp.Kind.POINT);
        assertThat(Photometry.level("3,5", 0, k)).isEqualTo(3.5);
        assertThat(Photometry.level("1200 cd", 400, k)).isEqualTo(3);
        assertThat(Photometry.level("800lm", 100, k)).isCloseTo(800 / (4 * Math.PI) / 100, within(1e-12));
        assertThatThrownBy(() -> Photometry.level("800 lm", 0, k)).hasMessageContaining("plate's white");
        assertThatThrownBy(() -> Photometry.level("bright", 0, k)).hasMessageContaining("bright");
        assertThatThrownBy(() -> Photometry.level("-3", 0, k)).hasMessageContaining("between 0");
    }

    @Test
    void lampsStandWhereTheirHighlightAndShadowSay() {
        // A mirror on the ground: the light stands as high as the eye, on the other side.
        Vec3 way = LampAim.byHighlight(new Vec3(-2, 1, 0), Vec3.ZERO, Vec3.Y);
        assertThat(way.distance(new Vec3(2, 1, 0).unit())).isLessThan(1e-12);
        assertThat(LampAim.byShadow(new Vec3(0, 2, 0), new Vec3(2, 0, 0)).distance(new Vec3(-1, 1, 0).unit()))
                .isLessThan(1e-12);
        assertThatThrownBy(() -> LampAim.byHighlight(new Vec3(1, 0, 0), Vec3.ZERO, Vec3.Y))
                .hasMessageContaining("edge on");
        assertThatThrownBy(() -> LampAim.byShadow(Vec3.ZERO, new Vec3(1, 0, 0))).hasMessageContaining("higher");
    }
}

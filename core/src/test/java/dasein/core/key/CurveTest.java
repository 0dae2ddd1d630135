package dasein.core.key;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.cast.ClipUse;
import dasein.core.cast.Route;
import dasein.core.key.Curve.Ease;
import dasein.core.key.Curve.Key;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Keys and waves in closed form, clips' times, and routes by their length. */
class CurveTest {
    private static Curve two(Ease a, Ease b) {
        return Curve.NONE.with(new Key(30, 7, b, 2, 0)).with(new Key(10, 3, a, 0, 1));
    }

    @Test
    void betweenKeys() {
        assertThat(two(Ease.HOLD, Ease.HOLD).at(29.9, 0, 24)).isEqualTo(3);
        assertThat(two(Ease.LINEAR, Ease.LINEAR).at(15, 0, 24)).isCloseTo(4, within(1e-12));
        // Two keys that come to rest: 3 u^2 - 2 u^3.
        assertThat(two(Ease.EASED, Ease.EASED).at(15, 0, 24))
                .isCloseTo(3 + 4 * (3 * 0.0625 - 2 * 0.015625), within(1e-12));
        // Own slopes: they are met, and half way lies at the mean plus an eighth of the difference of the slopes times
        // the span.
        Curve free = two(Ease.FREE, Ease.FREE);
        assertThat((free.at(10.001, 0, 24) - 3) / 0.001).isCloseTo(1, within(1e-3));
        assertThat((7 - free.at(29.999, 0, 24)) / 0.001).isCloseTo(2, within(1e-3));
        assertThat(free.at(20, 0, 24)).isCloseTo(5 + (1 - 2) * 20 / 8.0, within(1e-12));
        for (Curve c : List.of(free, two(Ease.LINEAR, Ease.EASED))) {
            assertThat(c.at(-100, 0, 24)).isEqualTo(3);
            assertThat(c.at(500, 0, 24)).isEqualTo(7);
        }
        assertThat(Curve.NONE
                        .with(new Key(1, 0, Ease.FREE))
                        .with(new Key(3, 9, Ease.FREE))
                        .with(new Key(9, 4, Ease.FREE))
                        .smooth(3))
                .isCloseTo(0.5, within(1e-12));
        assertThat(Curve.NONE.at(5, 1.25, 24)).isEqualTo(1.25);
        assertThatThrownBy(() -> new Curve(List.of(new Key(5, 0, Ease.HOLD), new Key(5, 1, Ease.HOLD)), null))
                .isInstanceOf(BadInput.class);
    }

    @Test
    void waves() {
        Curve sine = Curve.NONE.withWaves(List.of(new Curve.Wave(Curve.Shape.SINE, 0.5, 2, 0.25, 0)));
        assertThat(sine.at(0, 1, 24)).isCloseTo(1.5, within(1e-12));
        assertThat(sine.at(24, 1, 24)).isCloseTo(0.5, within(1e-12));
        Curve noise = Curve.NONE.withWaves(List.of(new Curve.Wave(Curve.Shape.NOISE, 2, 1, 0, 7)));
        double most = 0, step = 0;
        for (int i = 0; i < 20_000; i++) {
            double v = noise.at(i * 0.05, 0, 24);
            most = Math.max(most, Math.abs(v));
            step = Math.max(step, Math.abs(v - noise.at(i * 0.05 + 1e-4, 0, 24)));
        }
        assertThat(most).isBetween(1.0, 2.0);
        assertThat(step).isLessThan(1e-4);
        assertThat(noise.at(48, 0, 24)).isCloseTo(0, within(1e-12));
        assertThat(noise.withWaves(List.of(new Curve.Wave(Curve.Shape.NOISE, 2, 1, 0, 8)))
                        .at(7, 0, 24))
                .isNotEqualTo(noise.at(7, 0, 24));
    }

    @Test
    void clipsHoldLoopAndGoThereAndBack() {
        assertThat(new ClipUse("walk", 0, 0, 0, 0, 2, ClipUse.Repeat.HOLD, 0).time(3, 4))
                .isEqualTo(4);
        assertThat(new ClipUse("walk", 0, 0, 0, 0, 2, ClipUse.Repeat.LOOP, 0).time(3, 4))
                .isEqualTo(2);
        assertThat(new ClipUse("walk", 0, 0, 0, 0, -1, ClipUse.Repeat.LOOP, 0).time(1, 4))
                .isEqualTo(3);
        assertThat(new ClipUse("walk", 0, 1, 3, 0.5, 1, ClipUse.Repeat.THERE_AND_BACK, 0).time(2.5, 4))
                .isEqualTo(2);
        assertThat(new ClipUse("walk", 0, 1, 3, 0, 1, ClipUse.Repeat.LOOP, 0).time(2.5, 4))
                .isEqualTo(1.5);
        assertThat(new ClipUse("rest", 0, 0, 0, 0, 1, ClipUse.Repeat.LOOP, 0).time(2.5, 0))
                .isZero();
    }

    @Test
    void aRouteIsWalkedByItsLength() {
        // Points of a circle of 3 m about (1, -2): the curve through them is as long, and heads along it.
        List<Double> on = new java.util.ArrayList<>();
        for (int i = 0; i <= 24; i++) {
            on.add(1 + 3 * Math.cos(i * Math.PI / 12));
            on.add(-2 - 3 * Math.sin(i * Math.PI / 12));
        }
        Route.Walked w = new Route(on, 1, 1, false).walked();
        assertThat(w.length()).isCloseTo(6 * Math.PI, within(0.02));
        for (double s = 0.9; s < w.length() - 0.9; s += 0.31) {
            double[] at = w.at(s), next = w.at(s + 0.01);
            assertThat(Math.hypot(at[0] - 1, at[1] + 2)).isCloseTo(3, within(0.005));
            assertThat(Math.hypot(next[0] - at[0], next[1] - at[1])).isCloseTo(0.01, within(2e-4));
            double angle = Math.atan2(-(at[1] + 2), at[0] - 1);
            assertThat(Math.IEEEremainder(at[2] - (angle + Math.PI), 2 * Math.PI))
                    .isCloseTo(0, within(0.02));
        }
        double[] beyond =
                new Route(List.of(0.0, 0.0, 0.0, 4.0), 1, 1, false).walked().at(5);
        assertThat(beyond).usingComparatorWithPrecision(1e-9).containsExactly(0, 5, 0);
    }
}

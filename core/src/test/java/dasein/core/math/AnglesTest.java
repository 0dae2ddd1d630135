package dasein.core.math;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

/** Against {@link Math}. */
class AnglesTest {
    @Test
    void allRoundWithinAMillionth() {
        double off = 0;
        for (int i = 0; i < 200_000; i++) {
            double a = 2 * Math.PI * i / 200_000 - Math.PI, r = 1e-3 + (i % 1000);
            float y = (float) (r * Math.sin(a)), x = (float) (r * Math.cos(a));
            off = Math.max(off, Math.abs(Angles.atan2(y, x) - Math.atan2(y, x)));
        }
        assertThat(off).isLessThan(1e-6);
        assertThat(Angles.atan2(0, 0)).isZero();
        assertThat(Angles.atan2(0, -1)).isEqualTo((float) Math.PI);
    }

    @Test
    void fromUpToDownWithinAMillionth() {
        double off = 0;
        for (int i = 0; i <= 200_000; i++) {
            float x = (float) (i / 100_000.0 - 1);
            off = Math.max(off, Math.abs(Angles.acos(x) - Math.acos(x)));
        }
        assertThat(off).isLessThan(1e-6);
        // Rounding makes unit vectors a little longer than that.
        assertThat(Angles.acos(1.0000001f)).isZero();
        assertThat(Angles.acos(-1.0000001f)).isEqualTo((float) Math.PI);
    }
}

package dasein.core.math;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.junit.jupiter.api.Test;

/** Affine maps as twelve numbers, against points taken through them one step after the other. */
class AffineTest {
    private final Random r = new Random(8);

    private static Vec3 through(double[] m, Vec3 p) {
        return new Vec3(
                m[0] * p.x() + m[1] * p.y() + m[2] * p.z() + m[3],
                m[4] * p.x() + m[5] * p.y() + m[6] * p.z() + m[7],
                m[8] * p.x() + m[9] * p.y() + m[10] * p.z() + m[11]);
    }

    private float[] numbers(int n) {
        float[] f = new float[n];
        for (int i = 0; i < n; i++) f[i] = (float) r.nextGaussian();
        return f;
    }

    private Vec3 some() {
        return new Vec3(r.nextGaussian(), r.nextGaussian(), r.nextGaussian());
    }

    /** glTF's order (specification 2.0, 3.5.3): scale, then rotate, then move. */
    @Test
    void scaledThenTurnedThenMoved() {
        for (int k = 0; k < 40; k++) {
            float[] t = numbers(3), q = numbers(4), s = {1 + k / 20f, 0.5f, 2};
            Vec3 p = some();
            Vec3 want = new Quat(q[0], q[1], q[2], q[3])
                    .unit()
                    .rotate(new Vec3(s[0] * p.x(), s[1] * p.y(), s[2] * p.z()))
                    .plus(new Vec3(t[0], t[1], t[2]));
            assertThat(through(Affine.of(t, q, s), p).distance(want)).isLessThan(1e-6);
        }
    }

    @Test
    void productsAreOneMapAfterTheOther() {
        for (int k = 0; k < 40; k++) {
            double[] a = Affine.of(numbers(3), numbers(4), new float[] {1, 2, 3}),
                    b = Affine.of(numbers(3), numbers(4), new float[] {0.5f, 1, 1});
            Vec3 p = some();
            assertThat(through(Affine.times(a, b), p).distance(through(a, through(b, p))))
                    .isLessThan(1e-6);
            assertThat(through(Affine.times(a, Affine.identity()), p).distance(through(a, p)))
                    .isLessThan(1e-9);
        }
    }

    /** The turn in a map, whatever it scales; and which way what faces +Z there faces. */
    @Test
    void turnsAndHeadingsAreReadOff() {
        for (int k = 0; k < 40; k++) {
            float[] q = numbers(4);
            Quat turn = new Quat(q[0], q[1], q[2], q[3]).unit();
            assertThat(Affine.rotation(Affine.of(numbers(3), q, new float[] {2, 0.3f, 5}))
                            .angleTo(turn))
                    .isLessThan(1e-6);
        }
        for (double deg : new double[] {0, 30, 90, -120, 179}) {
            Quat y = Quat.axisAngle(Vec3.Y, Math.toRadians(deg));
            double[] m = Affine.of(
                    new float[3],
                    new float[] {(float) y.x(), (float) y.y(), (float) y.z(), (float) y.w()},
                    new float[] {3, 3, 3});
            assertThat(Affine.headingDeg(m)).isCloseTo(deg, within(1e-4));
        }
    }

    @Test
    void columnsOfAFileAreRowsHere() {
        float[] file = new float[16];
        for (int i = 0; i < 16; i++) file[i] = i;
        assertThat(Affine.ofColumnMajor(file)).containsExactly(0, 4, 8, 12, 1, 5, 9, 13, 2, 6, 10, 14);
    }
}

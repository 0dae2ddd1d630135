package dasein.core.track;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.track.DrawnMask.Key;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

class DrawnMaskTest {
    private static List<Double> circle(double cx, double cy, double r, int n) {
        List<Double> p = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            p.add(cx + r * Math.cos(2 * Math.PI * i / n));
            p.add(cy + r * Math.sin(2 * Math.PI * i / n));
        }
        return p;
    }

    private static double area(float[] m) {
        double s = 0;
        for (float v : m) s += v;
        return s;
    }

    /** A smooth curve through points of a circle is the circle. */
    @Test
    void aCircleHasACirclesArea() {
        DrawnMask s = new DrawnMask(1, "a", 0, DrawnMask.Carry.KEYS, List.of(new Key(1, circle(60, 50, 30, 24))));
        assertThat(area(s.raster(s.at(1), 128, 100))).isCloseTo(Math.PI * 900, within(12.0));
        boolean[] m = DrawnMask.any(List.of(s), java.util.Map.of(), 1, 128, 100);
        assertThat(m[50 * 128 + 60]).isTrue();
        assertThat(m[50 * 128 + 95]).isFalse();
    }

    @Test
    void betweenKeysItMovesEvenlyAndOutsideItStands() {
        DrawnMask s = new DrawnMask(1, "a", 0, DrawnMask.Carry.KEYS, List.of(new Key(10, circle(40, 50, 20, 8))))
                .keyed(20, circle(80, 50, 20, 8));
        assertThat(s.at(15)[0]).isCloseTo(80, within(1e-9));
        assertThat(s.at(5)[0]).isCloseTo(60, within(1e-9));
        assertThat(s.at(99)[0]).isCloseTo(100, within(1e-9));
        assertThatThrownBy(() -> s.keyed(12, circle(1, 2, 3, 5)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("same number of points");
    }

    /** Between two corners a side is straight: four of them are a square; round ones bulge. */
    @Test
    void cornersAreSharp() {
        List<Double> square = List.of(20.0, 20.0, 80.0, 20.0, 80.0, 80.0, 20.0, 80.0);
        DrawnMask round = new DrawnMask(1, "a", 0, DrawnMask.Carry.KEYS, List.of(new Key(1, square))), sharp = round;
        for (int k = 0; k < 4; k++) sharp = sharp.cornered(k);
        assertThat(area(sharp.raster(sharp.at(1), 100, 100))).isCloseTo(3600, within(1.0));
        assertThat(area(round.raster(round.at(1), 100, 100))).isGreaterThan(3700);
        DrawnMask one = round.cornered(2);
        assertThat(one.corners()).containsExactly(2);
        assertThat(one.cornered(2)).isEqualTo(round);
        assertThat(one.keyed(9, square).corners()).containsExactly(2);
        assertThatThrownBy(() -> round.cornered(4)).isInstanceOf(BadInput.class);
    }

    @Test
    void aKeyIsTakenAwayButNotTheOnlyOne() {
        DrawnMask s = new DrawnMask(1, "a", 0, DrawnMask.Carry.KEYS, List.of(new Key(10, circle(40, 50, 20, 8))));
        DrawnMask two = s.keyed(20, circle(80, 50, 20, 8));
        assertThat(two.unkeyed(20)).isEqualTo(s);
        assertThatThrownBy(() -> two.unkeyed(15)).hasMessageContaining("no key in frame 15");
        assertThatThrownBy(() -> s.unkeyed(10)).hasMessageContaining("only shape");
    }

    @Test
    void featherFadesOutwardOnly() {
        DrawnMask sharp = new DrawnMask(1, "a", 0, DrawnMask.Carry.KEYS, List.of(new Key(1, circle(60, 50, 30, 16)))),
                faded = new DrawnMask(1, "a", 10, DrawnMask.Carry.KEYS, sharp.keys());
        float[] hard = sharp.raster(sharp.at(1), 128, 100), soft = faded.raster(faded.at(1), 128, 100);
        for (int i = 0; i < hard.length; i++) assertThat(soft[i]).isGreaterThanOrEqualTo(hard[i] - 1e-6f);
        assertThat(soft[50 * 128 + 94]).isBetween(0.05f, 0.95f);
        assertThat(soft[50 * 128 + 115]).isLessThan(0.01f);
    }
}

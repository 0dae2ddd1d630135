package dasein.core.track;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

/** Masks as the comp uses them: blurred by their own motion, feathered point by point. */
class MaskShapesTest {
    private static final int W = 120, H = 80;

    private static List<Double> box(double left, double top, double right, double bottom) {
        return List.of(left, top, right, top, right, bottom, left, bottom);
    }

    private static DrawnMask straight(List<DrawnMask.Key> keys) {
        return new DrawnMask(1, "a", 0, DrawnMask.Carry.KEYS, keys, DrawnMask.Use.SURFACE, List.of());
    }

    @Test
    void anEdgeThatMovesAcrossTheOpenShutterIsARamp() {
        // 20 px a frame, half a frame open: the left edge sweeps 10 px about x = 40, evenly.
        DrawnMask m = straight(List.of(
                new DrawnMask.Key(1, box(20, 10, 60, 70)),
                new DrawnMask.Key(2, box(40, 10, 80, 70)),
                new DrawnMask.Key(3, box(60, 10, 100, 70))));
        float[] v = new MaskShapes(List.of(m), Map.of(), 0.5).at(1, 2, W, H, 1);
        for (int x = 30; x < 50; x++) {
            double even = Math.max(0, Math.min(1, (x + 0.5 - 35) / 10));
            assertThat((double) v[40 * W + x]).as("at " + x).isCloseTo(even, within(0.09));
        }
        assertThat(new MaskShapes(List.of(m), Map.of(), 0).at(1, 2, W, H, 1)[40 * W + 39])
                .as("with no time open the edge is sharp")
                .isZero();
    }

    @Test
    void whatItsCarrierLostIsNotThere() {
        DrawnMask m = new DrawnMask(
                3,
                "b",
                0,
                DrawnMask.Carry.PLANE,
                List.of(new DrawnMask.Key(5, box(20, 20, 40, 40))),
                DrawnMask.Use.COMP,
                List.of());
        Map<Integer, double[]> way = new TreeMap<>();
        way.put(5, new double[] {1, 0, 0, 0, 1, 0, 0, 0, 1});
        way.put(6, new double[] {1, 0, 7, 0, 1, 3, 0, 0, 1});
        MaskShapes s = new MaskShapes(List.of(m), Map.of(3, way), 0.5);
        assertThat(s.at(3, 7, W, H, 1)).as("lost").isNull();
        assertThat(s.at(4, 6, W, H, 1)).as("no such mask").isNull();
        // At half size, carried by 7 and 3: its middle lies at (37, 33) / 2.
        float[] half = s.at(3, 6, W / 2, H / 2, 0.5);
        double x = 0, y = 0, n = 0;
        for (int i = 0; i < half.length; i++) {
            x += half[i] * (i % (W / 2) + 0.5);
            y += half[i] * (i / (W / 2) + 0.5);
            n += half[i];
        }
        assertThat(x / n).isCloseTo(18.5, within(0.05));
        assertThat(y / n).isCloseTo(16.5, within(0.05));
    }

    @Test
    void aFeatherFallsEvenlyOverTheWidthOfItsPoint() {
        DrawnMask m = new DrawnMask(
                1,
                "a",
                0,
                DrawnMask.Carry.KEYS,
                List.of(new DrawnMask.Key(1, box(40, 30, 80, 50))),
                DrawnMask.Use.SURFACE,
                List.of(),
                List.of(0.0, 20.0, 20.0, 0.0),
                List.of());
        float[] v = m.raster(m.at(1.0), W, H);
        for (int x = 80; x < 100; x++)
            assertThat((double) v[40 * W + x]).as("right, at " + x).isCloseTo(1 - (x + 0.5 - 80) / 20, within(0.03));
        assertThat(v[40 * W + 38]).as("sharp at the left").isZero();
        assertThat(v[40 * W + 60]).isEqualTo(1);
        // Half way along the upper edge it is 10 px wide.
        assertThat((double) v[24 * W + 60]).isCloseTo(1 - 5.5 / 10, within(0.06));
    }

    @Test
    void feathersAreOneForAPoint() {
        assertThatThrownBy(() -> new DrawnMask(
                        1,
                        "a",
                        0,
                        DrawnMask.Carry.KEYS,
                        List.of(new DrawnMask.Key(1, box(40, 30, 80, 50))),
                        DrawnMask.Use.COMP,
                        List.of(),
                        List.of(1.0, 2.0),
                        List.of()))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("as many feathers as points");
        assertThatThrownBy(() -> new DrawnMask(
                        1,
                        "a",
                        0,
                        DrawnMask.Carry.GROUND,
                        List.of(new DrawnMask.Key(1, box(40, 30, 80, 50))),
                        DrawnMask.Use.AWAY,
                        List.of()))
                .as("tracking would need the solve that needs tracking")
                .isInstanceOf(BadInput.class);
    }

    @Test
    void aStrokeHasTheSurfaceOfItsBrush() {
        // A straight stroke of 60 px with a brush of radius 8: a rectangle and two half discs.
        List<Double> xy = new ArrayList<>(List.of(30.0, 40.0, 60.0, 40.0, 90.0, 40.0));
        List<Double> out = StrokeOutline.of(xy, 8);
        DrawnMask m = new DrawnMask(1, "s", 0, DrawnMask.Carry.KEYS, List.of(new DrawnMask.Key(1, out)));
        double sum = 0;
        for (float v : m.raster(m.at(1.0), W, H)) sum += v;
        assertThat(sum).isCloseTo(60 * 16 + Math.PI * 64, within(0.02 * sum));
        double dot = 0;
        DrawnMask d = new DrawnMask(
                2,
                "d",
                0,
                DrawnMask.Carry.KEYS,
                List.of(new DrawnMask.Key(1, StrokeOutline.of(List.of(50.0, 40.0), 12))));
        for (float v : d.raster(d.at(1.0), W, H)) dot += v;
        assertThat(dot).as("one click is a disc").isCloseTo(Math.PI * 144, within(0.03 * dot));
        assertThat(StrokeOutline.of(new ArrayList<>(Collections.nCopies(8, 20.0)), 5))
                .as("a hand that does not move draws a dot")
                .isNotEmpty();
    }
}

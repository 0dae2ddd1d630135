package dasein.core.track;

import static dasein.core.track.AutoTrackerTest.H;
import static dasein.core.track.AutoTrackerTest.W;
import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.Progress;
import java.util.List;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

/** A drawn piece of a picture that is moved by known homographies, with changing brightness and grain. */
class PlaneTrackerTest {
    private static final int FRAMES = 16;
    private static final List<Double> QUAD = List.of(150.0, 110.0, 330.0, 100.0, 340.0, 220.0, 160.0, 230.0);

    @Test
    void itsCornersStayWhereTheSurfaceTakesThem() {
        PlaneTracker t = new PlaneTracker(f -> {
            float[] l = AutoTrackerTest.frame(f - 1, 1 + 0.015 * f, 0.006).planes[1];
            for (int i = 0; i < l.length; i++) l[i] = 255 * (float) Math.sqrt(Math.max(0, l[i]));
            return l;
        }, W, H);
        DrawnMask piece = new DrawnMask(1, "wall", 0, DrawnMask.Carry.PLANE, List.of(new DrawnMask.Key(6, QUAD)));
        TreeMap<Integer, double[]> ways = t.follow(piece, HandMark.Motion.PERSPECTIVE, 1, FRAMES, null, Progress.NONE);
        assertThat(ways.keySet()).hasSize(FRAMES);
        double worst = 0;
        for (var e : ways.entrySet()) {
            double[] p = piece.at(e.getKey(), ways);
            for (int i = 0; i < QUAD.size(); i += 2) {
                double[] q = AutoTrackerTest.truth(QUAD.get(i), QUAD.get(i + 1), 5, e.getKey() - 1);
                worst = Math.max(worst, Math.hypot(q[0] - p[i], q[1] - p[i + 1]));
            }
        }
        System.out.printf("plane over %d frames: worst corner %.3f px%n", FRAMES, worst);
        assertThat(worst).isLessThan(0.35);
    }

    @Test
    void aSurfaceThatDisappearsEndsAndItsMaskWithIt() {
        PlaneTracker t = new PlaneTracker(f -> {
            float[] l = AutoTrackerTest.frame(f - 1, 1, 0.004).planes[1];
            for (int i = 0; i < l.length; i++) l[i] = f >= 9 ? 90 + i % 7 : 255 * (float) Math.sqrt(Math.max(0, l[i]));
            return l;
        }, W, H);
        DrawnMask piece = new DrawnMask(1, "wall", 0, DrawnMask.Carry.PLANE, List.of(new DrawnMask.Key(1, QUAD)));
        TreeMap<Integer, double[]> ways = t.follow(piece, HandMark.Motion.PERSPECTIVE, 1, FRAMES, null, Progress.NONE);
        assertThat(ways.lastKey()).isEqualTo(8);
        assertThat(piece.at(12, ways)).isNull();
    }
}

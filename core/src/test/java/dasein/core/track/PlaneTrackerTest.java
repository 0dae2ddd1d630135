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
        PlaneTracker t = new PlaneTracker(
                f -> {
                    float[] l = AutoTrackerTest.frame(f - 1, 1 + 0.015 * f, 0.006).planes[1];
                    for (int i = 0; i < l.length; i++) l[i] = 255 * (float) Math.sqrt(Math.max(0, l[i]));
                    return l;
                },
                W,
                H);
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

    /** Something crosses the surface; with its part masked out the rest of the surface decides. */
    @Test
    void whatCrossesIsMaskedOut() {
        PlaneTracker t = new PlaneTracker(
                f -> {
                    float[] l = AutoTrackerTest.frame(f - 1, 1, 0.004).planes[1];
                    for (int i = 0; i < l.length; i++)
                        l[i] = crosses(i % W, i / W, f)
                                ? 128 + 90 * (float) Math.sin(i % W * 0.6 + f)
                                : 255 * (float) Math.sqrt(Math.max(0, l[i]));
                    return l;
                },
                W,
                H);
        DrawnMask piece = new DrawnMask(
                1,
                "wall",
                0,
                DrawnMask.Carry.PLANE,
                List.of(new DrawnMask.Key(1, QUAD)),
                DrawnMask.Use.SURFACE,
                List.of());
        java.util.function.IntFunction<boolean[]> hidden = f -> {
            boolean[] m = new boolean[W * H];
            for (int i = 0; i < m.length; i++) m[i] = crosses(i % W, i / W, f);
            return m;
        };
        double with = worst(piece, t.follow(piece, HandMark.Motion.PERSPECTIVE, 1, FRAMES, hidden, Progress.NONE)),
                without = worst(piece, t.follow(piece, HandMark.Motion.PERSPECTIVE, 1, FRAMES, null, Progress.NONE));
        System.out.printf("crossed plane: worst corner %.3f px masked, %.3f px not%n", with, without);
        assertThat(with).isLessThan(0.5).isLessThan(0.5 * without);
    }

    private static boolean crosses(int x, int y, int frame) {
        return Math.abs(x - 160 - 9 * frame) < 26 && y > 90 && y < 200;
    }

    /** Frames in which it was not held count as far off. */
    private static double worst(DrawnMask piece, TreeMap<Integer, double[]> ways) {
        double worst = ways.size() < FRAMES ? 100 : 0;
        for (var e : ways.entrySet()) {
            double[] p = piece.at(e.getKey(), ways);
            for (int i = 0; i < QUAD.size(); i += 2) {
                double[] q = AutoTrackerTest.truth(QUAD.get(i), QUAD.get(i + 1), 0, e.getKey() - 1);
                worst = Math.max(worst, Math.hypot(q[0] - p[i], q[1] - p[i + 1]));
            }
        }
        return worst;
    }

    /** Two points determine a similarity (Umeyama 1991 with two points): any third point under it goes along. */
    @Test
    void twoMarksGiveShiftTurnAndSize() {
        double[] h = {
            0.9 * Math.cos(0.3), -0.9 * Math.sin(0.3), 14, 0.9 * Math.sin(0.3), 0.9 * Math.cos(0.3), -5, 0, 0, 1
        };
        double[] a = PlaneTracker.mapped(h, new double[] {20, 30}),
                b = PlaneTracker.mapped(h, new double[] {120, 90}),
                c = PlaneTracker.mapped(h, new double[] {70, 200});
        Track t = new Track(1, new int[] {3, 8}, new double[] {20, a[0]}, new double[] {30, a[1]}),
                u = new Track(2, new int[] {3, 8}, new double[] {120, b[0]}, new double[] {90, b[1]});
        DrawnMask mask = new DrawnMask(
                5,
                "m",
                0,
                DrawnMask.Carry.MARKS,
                List.of(new DrawnMask.Key(3, List.of(70.0, 200.0, 0.0, 0.0, 9.0, 1.0))),
                DrawnMask.Use.AWAY,
                List.of(1, 2));
        double[] got = mask.at(8, MarkMotion.two(t, u, 3));
        assertThat(got[0]).isCloseTo(c[0], org.assertj.core.api.Assertions.within(1e-9));
        assertThat(got[1]).isCloseTo(c[1], org.assertj.core.api.Assertions.within(1e-9));
        assertThat(mask.at(8, MarkMotion.one(t, 3))[0])
                .isCloseTo(70 + a[0] - 20, org.assertj.core.api.Assertions.within(1e-9));
        assertThat(MarkMotion.two(t, u, 4)).isEmpty();
    }

    @Test
    void aSurfaceThatDisappearsEndsAndItsMaskWithIt() {
        PlaneTracker t = new PlaneTracker(
                f -> {
                    float[] l = AutoTrackerTest.frame(f - 1, 1, 0.004).planes[1];
                    for (int i = 0; i < l.length; i++)
                        l[i] = f >= 9 ? 90 + i % 7 : 255 * (float) Math.sqrt(Math.max(0, l[i]));
                    return l;
                },
                W,
                H);
        DrawnMask piece = new DrawnMask(1, "wall", 0, DrawnMask.Carry.PLANE, List.of(new DrawnMask.Key(1, QUAD)));
        TreeMap<Integer, double[]> ways = t.follow(piece, HandMark.Motion.PERSPECTIVE, 1, FRAMES, null, Progress.NONE);
        assertThat(ways.lastKey()).isEqualTo(8);
        assertThat(piece.at(12, ways)).isNull();
    }
}

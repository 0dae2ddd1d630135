package dasein.core.track;

import static dasein.core.track.AutoTrackerTest.H;
import static dasein.core.track.AutoTrackerTest.W;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.image.Filters;
import dasein.core.track.HandMark.Fix;
import dasein.core.track.HandMark.Motion;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Marks put by hand on pictures moved by known homographies, with changing brightness and grain. */
class HandTrackerTest {
    private static final int FRAMES = 16;

    private static HandTracker tracker(double gain) {
        return new HandTracker(
                f -> {
                    float[] l = AutoTrackerTest.frame(f - 1, 1 + gain * f, 0.006).planes[1];
                    for (int i = 0; i < l.length; i++) l[i] = 255 * (float) Math.sqrt(Math.max(0, l[i]));
                    return l;
                },
                W,
                H);
    }

    private static double worst(Track t, double x, double y, int frame) {
        double w = 0;
        for (int i = 0; i < t.length(); i++) {
            double[] q = AutoTrackerTest.truth(x, y, frame - 1, t.frames()[i] - 1);
            w = Math.max(w, Math.hypot(q[0] - t.x()[i], q[1] - t.y()[i]));
        }
        return w;
    }

    @Test
    void followsForwardAndBackwardWithWhatTheRegionMayDo() {
        for (Motion m : Motion.values()) {
            HandMark mark = new HandMark(1, "a", 12, 12, m, List.of(new Fix(8, 200.5, 160.5)), 1, FRAMES);
            Track t = tracker(0.01).follow(mark, Progress.NONE);
            assertThat(t.length()).as(m.label).isEqualTo(FRAMES);
            // A region that may only shift is pulled by the turning and growing around it.
            assertThat(worst(t, 200.5, 160.5, 8)).as(m.label).isLessThan(m == Motion.SHIFT ? 0.6 : 0.25);
        }
    }

    /** The second fix is met exactly, and what lies on its far side from the first does not change. */
    @Test
    void aCorrectionChangesOnlyWhatLiesBetween() {
        HandMark once = new HandMark(1, "a", 10, 12, Motion.AFFINE, List.of(new Fix(4, 240.5, 150.5)), 1, FRAMES);
        Track before = tracker(0).follow(once, Progress.NONE),
                after = tracker(0).follow(once.fixed(12, 263, 140), Progress.NONE);
        assertThat(after.x()[after.at(12)]).isEqualTo(263);
        for (int f = 1; f <= 4; f++) assertThat(after.x()[after.at(f)]).isEqualTo(before.x()[before.at(f)]);
        double[] there = {before.x()[before.at(11)], before.y()[before.at(11)]};
        // Blended by nearness, the frame beside the fix is nearer to the fix's way than to the first's.
        assertThat(Math.abs(after.x()[after.at(11)] - there[0]))
                .isGreaterThan(Math.abs(after.x()[after.at(5)] - before.x()[before.at(5)]));
    }

    /** The mark is hidden and then outside the picture; what it rides on takes it along, by the map it takes itself. */
    @Test
    void aMarkIsCarriedByWhatLiesBeside() {
        HandTracker t = new HandTracker(
                f -> {
                    float[] l = AutoTrackerTest.frame(f - 1, 1, 0.004).planes[1];
                    for (int i = 0; i < l.length; i++)
                        l[i] = i % W < 120 ? 60 : 255 * (float) Math.sqrt(Math.max(0, l[i]));
                    return l;
                },
                W,
                H);
        HandMark hidden =
                new HandMark(1, "a", 24, 14, Motion.PERSPECTIVE, List.of(new Fix(1, 90.5, 160.5, 110, 0)), 1, FRAMES);
        Track k = t.follow(hidden, Progress.NONE);
        assertThat(k.length()).isEqualTo(FRAMES);
        // The map of 24 px is stretched over 110: what it is off by grows as much.
        assertThat(worst(k, 90.5, 160.5, 1)).isLessThan(2.5);
        HandMark shiftOnly = new HandMark(1, "a", 24, 14, Motion.SHIFT, hidden.fixes(), 1, FRAMES);
        assertThat(worst(t.follow(shiftOnly, Progress.NONE), 90.5, 160.5, 1))
                .as("a shift knows nothing of the turn")
                .isGreaterThan(worst(k, 90.5, 160.5, 1));
    }

    /** Where the light is known to stay, a mark is told from a copy of itself that is only brighter. */
    @Test
    void sameLightTellsABrighterCopyApart() {
        HandTracker t = new HandTracker(
                f -> {
                    float[] l = new float[W * H];
                    java.util.Arrays.fill(l, 80);
                    // The mark stands; from frame 2 on a brighter copy stands 7 px beside it, and the mark itself
                    // fades.
                    for (int y = -9; y <= 9; y++)
                        for (int x = -9; x <= 9; x++) {
                            double blob = 60 * Math.exp(-(x * x + y * y) / 12.0) * (1 + 0.4 * Math.sin(x));
                            l[(150 + y) * W + 200 + x] += (float) blob;
                        }
                    for (int i = 0; i < l.length; i++) l[i] *= (float) (1 + 0.1 * (f - 1));
                    return l;
                },
                W,
                H);
        List<Fix> at = List.of(new Fix(1, 200.5, 150.5));
        assertThat(t.follow(new HandMark(1, "a", 9, 12, Motion.SHIFT, at, 1, 6), Progress.NONE)
                        .length())
                .as("brightness is taken out")
                .isEqualTo(6);
        Track k = t.follow(new HandMark(1, "a", 9, 12, Motion.SHIFT, at, 1, 6, true, List.of()), Progress.NONE);
        // Nothing is moved by light alone.
        assertThat(worstStill(k)).isLessThan(0.05);
    }

    private static double worstStill(Track t) {
        double w = 0;
        for (int i = 0; i < t.length(); i++) w = Math.max(w, Math.hypot(t.x()[i] - 200.5, t.y()[i] - 150.5));
        return w;
    }

    @Test
    void aMarkThatDisappearsEndsInsteadOfSlidingAway() {
        HandTracker t = new HandTracker(
                f -> {
                    float[] l = AutoTrackerTest.frame(f - 1, 1, 0.004).planes[1];
                    for (int i = 0; i < l.length; i++)
                        l[i] = f >= 6 && i % W > 180 && i % W < 300 ? 60 : 255 * (float) Math.sqrt(Math.max(0, l[i]));
                    return l;
                },
                W,
                H);
        Track k = t.follow(
                new HandMark(1, "a", 9, 12, Motion.AFFINE, List.of(new Fix(1, 240.5, 160.5)), 1, FRAMES),
                Progress.NONE);
        assertThat(k.frames()[k.length() - 1]).isEqualTo(5);
        assertThat(t.lostAfter()).isEqualTo("nothing looks like it there");
    }

    /** A pan that is on its way already, faster than the search area is wide; the picture tells where it goes. */
    @Test
    void aFastPanIsFollowedFromItsFirstFrame() {
        int across = 22, wide = W + across * FRAMES;
        float[] noise = new float[wide * H];
        Random r = new Random(8);
        for (int i = 0; i < noise.length; i++) noise[i] = 40000 * (r.nextFloat() - 0.5f);
        float[] fine = Filters.gaussian(noise, wide, H, 3), broad = Filters.gaussian(noise, wide, H, 25);
        HandTracker t = new HandTracker(
                f -> {
                    float[] l = new float[W * H];
                    for (int i = 0; i < l.length; i++) {
                        int at = i / W * wide + i % W + across * (f - 1);
                        l[i] = 128 + 0.02f * fine[at] + 0.3f * broad[at];
                    }
                    return l;
                },
                W,
                H);
        HandMark m = new HandMark(1, "a", 10, 16, Motion.SHIFT, List.of(new Fix(1, 400.5, 150.5)), 1, FRAMES);
        Track k = t.follow(m, Progress.NONE);
        assertThat(k.length()).isEqualTo(FRAMES);
        for (int i = 0; i < k.length(); i++) assertThat(k.x()[i]).isCloseTo(400.5 - across * i, within(0.1));
        assertThat(t.lostBefore() + t.lostAfter()).isEmpty();
        HandMark leaves = new HandMark(2, "b", 10, 16, Motion.SHIFT, List.of(new Fix(1, 100.5, 150.5)), 1, FRAMES);
        assertThat(t.follow(leaves, Progress.NONE).length()).isBetween(4, 6);
        assertThat(t.lostAfter()).isEqualTo("it leaves the picture");
    }
}

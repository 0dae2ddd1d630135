package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.lens.Lens;
import dasein.core.math.Quat;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** What is asked of a solve beside its marks: slopes against differences, and where nothing is asked. */
class WishesTest {
    private static final Lens LENS = new Lens(1000, 650, 355, -0.1, 0.01, 0.02, 0.001, -0.002);
    private static final int[] FRAMES = {0, 1, 2, 5, 6};

    private static Rigid[] path() {
        Random r = new Random(3);
        Rigid[] c = new Rigid[FRAMES.length];
        for (int i = 0; i < c.length; i++)
            c[i] = new Rigid(
                    Quat.fromRotationVector(
                                    0.01 * FRAMES[i] + 0.002 * r.nextGaussian(),
                                    0.02 * FRAMES[i],
                                    0.003 * r.nextGaussian())
                            .matrix(),
                    new double[] {0.1 * FRAMES[i], 0.01 * r.nextGaussian(), 0.02 * r.nextGaussian()});
        return c;
    }

    private static Bundle bundle(Rigid[] cams, double[] zoom, boolean zooms) {
        boolean[] lens = new boolean[Bundle.LENS];
        Arrays.fill(lens, true);
        if (zooms) lens[Bundle.FOCAL] = false;
        int n = cams.length;
        int[] cam = new int[n], point = new int[n];
        for (int i = 0; i < n; i++) cam[i] = i;
        return new Bundle(
                cams,
                zoom,
                new double[][] {{0, 0, 5, 1}},
                LENS,
                cam,
                point,
                new double[n],
                new double[n],
                new Bundle.Free(true, zooms, lens),
                null,
                null,
                List.of());
    }

    private static SolveSettings settings(SolveSettings.Focal focal, double smooth) {
        return new SolveSettings(
                SolveSettings.Kind.MOVING, focal, 1100, LensTerms.of(true, true, true, true, true), smooth, 1);
    }

    private static Bundle.Penalty at(List<Bundle.Penalty> all, int unknown, int count) {
        return all.stream()
                .filter(p -> p.at().length == count && p.at()[0] == unknown)
                .findFirst()
                .orElseThrow();
    }

    /** A path without haste: what a small turn or step changes is what the slope says. */
    @Test
    void slopesOfThePathAreDifferences() {
        Rigid[] cams = path();
        double[] zoom = new double[cams.length];
        Wishes w = new Wishes(settings(SolveSettings.Focal.UNKNOWN, 0.5), 1280, 720, FRAMES, 60, 4);
        Bundle b = bundle(cams, zoom, false);
        List<Bundle.Penalty> now = w.of(b, cams, zoom, LENS);
        double d = 1e-5;
        int checked = 0;
        for (int k = 0; k < now.size(); k++) {
            Bundle.Penalty p = now.get(k);
            for (int j = 0; j < p.at().length; j++) {
                int u = p.at()[j], cam = u / 6, of = u % 6;
                if (u >= 6 * cams.length) continue;
                double[] v = new double[6];
                v[of] = d;
                Rigid[] next = cams.clone();
                next[cam] = cams[cam].moved(v[0], v[1], v[2], v[3], v[4], v[5]);
                double slope = (w.of(b, next, zoom, LENS).get(k).value() - p.value()) / d;
                // Turns do not commute: over the few degrees between frames that is a part in a hundred.
                assertThat(slope).isCloseTo(p.slope()[j], within(0.03 * Math.abs(p.slope()[j]) + 0.5));
                checked++;
            }
        }
        assertThat(checked).isEqualTo(3 * 6 * 3);
    }

    /** An even path costs nothing, also where frames are missing between. */
    @Test
    void anEvenPathIsNoHaste() {
        Rigid[] cams = new Rigid[FRAMES.length];
        for (int i = 0; i < cams.length; i++)
            cams[i] = new Rigid(
                    Quat.fromRotationVector(0, 0.02 * FRAMES[i], 0).matrix(), new double[] {0.1 * FRAMES[i], 0, 0});
        Wishes w = new Wishes(settings(SolveSettings.Focal.UNKNOWN, 1), 1280, 720, FRAMES, 60, 4);
        for (Bundle.Penalty p : w.of(bundle(cams, new double[5], false), cams, new double[5], LENS))
            if (p.at().length == 3) assertThat(p.value()).isCloseTo(0, within(1e-6));
        // Nor is anything asked of it when nobody wants it smooth.
        Wishes none = new Wishes(settings(SolveSettings.Focal.UNKNOWN, 0), 1280, 720, FRAMES, 60, 4);
        assertThat(none.of(bundle(cams, new double[5], false), cams, new double[5], LENS))
                .noneMatch(p -> p.at().length == 3);
    }

    @Test
    void aZoomIsSmoothByItself() {
        Rigid[] cams = path();
        double[] zoom = {0, 0.01, 0.025, 0.03, 0.02};
        Bundle b = bundle(cams, zoom, true);
        Wishes w = new Wishes(settings(SolveSettings.Focal.ZOOM, 0), 1280, 720, FRAMES, 60, 4);
        List<Bundle.Penalty> now = w.of(b, cams, zoom, LENS);
        Bundle.Penalty p = at(now, b.zoomAt(0), 3);
        zoom[1] += 1e-6;
        assertThat((at(w.of(b, cams, zoom, LENS), b.zoomAt(0), 3).value() - p.value()) / 1e-6)
                .isCloseTo(p.slope()[1], within(1e-3));
        // Rising evenly in its logarithm it costs nothing.
        double[] even = new double[5];
        for (int i = 0; i < 5; i++) even[i] = 0.01 * FRAMES[i];
        for (Bundle.Penalty q : w.of(b, cams, even, LENS))
            if (q.at().length == 3) assertThat(q.value()).isCloseTo(0, within(1e-9));
    }

    /** A lens at its usual values is not drawn anywhere; one deviation away it costs as three pixels do. */
    @Test
    void aUsualLensCostsNothing() {
        Rigid[] cams = path();
        Bundle b = bundle(cams, new double[5], false);
        Wishes w = new Wishes(settings(SolveSettings.Focal.NEAR, 0), 1280, 720, FRAMES, 60, 4);
        for (Bundle.Penalty p : w.of(b, cams, new double[5], new Lens(1100, 640, 360, -0.3, 0.1, 0, 0, 0)))
            assertThat(p.value()).isCloseTo(0, within(1e-12));
        double off = 1100 * Math.exp(0.04);
        assertThat(at(w.of(b, cams, new double[5], new Lens(off, 640, 360, 0, 0)), b.lensAt(Bundle.FOCAL), 1)
                        .value())
                .isCloseTo(3, within(1e-9));
    }
}

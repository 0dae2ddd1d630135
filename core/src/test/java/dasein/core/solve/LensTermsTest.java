package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.track.Track;
import java.util.List;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Terms of the lens that marks determine are found, others are left at rest; against lenses that are known. */
class LensTermsTest {
    private static final Rate RATE = new Rate(24, 1);
    private static final int WIDTH = 1280, HEIGHT = 720;

    /** @param found terms of the truth that must be taken, the others must not be */
    private record Case(String name, Lens lens, boolean turns, String found) {
        @Override
        public String toString() {
            return name;
        }
    }

    static Stream<Case> lenses() {
        return Stream.of(
                new Case("straight", new Lens(1100, 640, 360, 0, 0), false, ""),
                new Case("k1 alone", new Lens(1100, 640, 360, -0.09, 0), false, "k1"),
                new Case("wide, k2 and a shifted centre", new Lens(700, 655, 349, -0.25, 0.05), false, "k1 k2 centre"),
                new Case("wide, all of it", new Lens(640, 650, 366, -0.28, 0.09, -0.012, 0.002, -0.0015), false, null),
                new Case("a pan, k1", new Lens(1100, 640, 360, -0.09, 0), true, "k1"),
                new Case("a wide pan, k2", new Lens(700, 640, 360, -0.25, 0.05), true, "k1 k2"));
    }

    private static KnownShot shot(Case c, long seed) {
        return new KnownShot(
                72,
                300,
                0.3,
                0.1,
                seed,
                c.lens,
                c.turns
                        ? t -> new Pose(
                                Quat.fromRotationVector(0.03 * Math.sin(2 * t), 0.15 * t, 0.02 * Math.sin(t)),
                                new Vec3(0, 1.6, 0))
                        : KnownShot.handHeld(1),
                t -> 1,
                3,
                15);
    }

    private static String taken(Lens l) {
        StringBuilder s = new StringBuilder();
        if (l.k1() != 0) s.append("k1 ");
        if (l.k2() != 0) s.append("k2 ");
        if (l.k3() != 0) s.append("k3 ");
        if (l.p1() != 0) s.append("tangential ");
        if (l.centreX() != WIDTH / 2.0) s.append("centre ");
        return s.toString().trim();
    }

    @ParameterizedTest
    @MethodSource("lenses")
    void whatMarksDetermineIsFound(Case c) {
        for (long seed : new long[] {c.turns ? 3 : 4}) {
            KnownShot shot = shot(c, seed);
            SolvedCamera s = CameraSolver.solve(shot.tracks, WIDTH, HEIGHT, RATE, SolveSettings.UNKNOWN, Progress.NONE);
            KnownShot.Error e = c.turns ? shot.compareTurns(s) : shot.compare(s);
            System.out.printf(
                    "%s: %s; focal off %.2f %%, says %.2f %%, held-out %.2f px; %s%n",
                    c,
                    taken(s.lens()),
                    100 * e.focalPart(),
                    100 * s.focalOff() / s.lens().focalPx(),
                    shot.heldOutPx(s),
                    s.remarks());
            if (c.found != null) assertThat(taken(s.lens())).isEqualTo(c.found);
            assertThat(shot.heldOutPx(s)).isLessThan(0.25);
        }
    }

    /**
     * Marks that drift along their tracks, as real ones do, feign no terms and no certainty: they count for as many as
     * they are worth.
     */
    @Test
    void driftFeignsNoTerms() {
        Case c = new Case("k1 alone", new Lens(1100, 640, 360, -0.09, 0), false, "k1");
        int more = 0, all = 0;
        double off = 0;
        for (long seed = 1; seed <= 4; seed++) {
            SolvedCamera s = CameraSolver.solve(
                    drifting(shot(c, seed).tracks, seed), WIDTH, HEIGHT, RATE, SolveSettings.UNKNOWN, Progress.NONE);
            System.out.println("drifting: " + taken(s.lens()) + "; " + s.remarks());
            all++;
            if (!taken(s.lens()).equals("k1")) more++;
            double z = (s.lens().focalPx() - 1100) / s.focalOff();
            off += z * z / 4;
        }
        assertThat(more).isZero();
        assertThat(all).isEqualTo(4);
        System.out.printf("drifting: focal length off by %.2f of what is stated (RMS)%n", Math.sqrt(off));
        // Of four the RMS of a ratio with deviation 1 lies within this 99 times of a hundred (chi-square, 4 degrees).
        assertThat(Math.sqrt(off)).isBetween(0.23, 1.82);
    }

    /** Noise of first order, 0.95 from frame to frame, 0.3 px in the long run. */
    private static List<Track> drifting(List<Track> tracks, long seed) {
        Random r = new Random(seed);
        return tracks.stream()
                .map(t -> {
                    double[] x = t.x().clone(), y = t.y().clone();
                    double dx = 0.3 * r.nextGaussian(),
                            dy = 0.3 * r.nextGaussian(),
                            fresh = 0.3 * Math.sqrt(1 - 0.9025);
                    for (int i = 0; i < x.length; i++) {
                        x[i] += dx;
                        y[i] += dy;
                        dx = 0.95 * dx + fresh * r.nextGaussian();
                        dy = 0.95 * dy + fresh * r.nextGaussian();
                    }
                    return new Track(t.id(), t.frames(), x, y);
                })
                .toList();
    }
}

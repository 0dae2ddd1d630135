package dasein.core.render;

import static dasein.core.render.Shapes.floor;
import static dasein.core.render.Shapes.sphere;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.lens.View;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.pass.Pass;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.PassSet;
import dasein.core.render.pass.Passes;
import dasein.core.render.temporal.Seen;
import dasein.core.render.temporal.TemporalFilter;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Supplier;
import org.junit.jupiter.api.Test;

/** Noise filtered out by neighbouring frames, against the same frames with very many samples. */
class OverFramesTest {
    private static final int W = 80, H = 60, N = W * H, FEW = 8, MANY = 256;

    /** A ball on the ground: where it is, and how the camera moves, by frame. */
    private record Scene(double ballStep, double cameraStep) {
        List<Mesh> at(int frame) {
            return List.of(
                    sphere(
                            new Vec3(ballStep * frame, 0.5, 0),
                            0.5,
                            Material.matt(0.5f, 0.4f, 0.3f),
                            Mesh.Role.PERFORMER),
                    floor(40, Material.matt(0.3f, 0.3f, 0.3f), Mesh.Role.CATCHER));
        }

        View view(int frame) {
            Pose p = Pose.lookAt(new Vec3(cameraStep * frame, 1.4, 3), new Vec3(cameraStep * frame, 0.4, 0), Vec3.Y);
            return new View(p, p, Shapes.LENS, W, H);
        }
    }

    private static final Scene STILL = new Scene(0, 0), MOVING = new Scene(0.02, 0.03);

    private static Lighting light() {
        Sun sun = new Sun(
                Sun.direction(Math.toRadians(35), Math.toRadians(60)), Math.toRadians(4), new float[] {1, 1, 1});
        return new Lighting(Shapes.even(0.4f), List.of(sun));
    }

    /** Nobody writes into them, and several tests ask for the same. */
    private static final Map<List<Object>, Passes> KNOWN = new ConcurrentHashMap<>();

    private static Passes rendered(Scene s, int frame, int samples, Keep keep) {
        return KNOWN.computeIfAbsent(List.of(s, frame, samples, keep), k -> render(s, frame, samples, keep));
    }

    private static Passes render(Scene s, int frame, int samples, Keep keep) {
        FrameRenderer.Job job = new FrameRenderer.Job(
                        s.at(frame),
                        light(),
                        s.view(frame),
                        (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.3f),
                        CatcherLook.DRY,
                        new Quality(samples, samples, 0, 2, false),
                        false,
                        0.5,
                        frame)
                .keeping(keep)
                .between(new Neighbours(s.at(frame - 1), s.at(frame + 1), s.view(frame - 1), s.view(frame + 1)));
        return FrameRenderer.render(job, Progress.NONE, null);
    }

    private static Seen raw(Scene s, int frame, Keep keep) {
        return new Seen(rendered(s, frame, FEW, keep).raw, s.view(frame));
    }

    private static final Keep KEEP = new Keep(Set.of(PassSet.FILTERS));

    private static Passes over(Scene s, int frame, int reach, Keep keep) {
        List<Supplier<Seen>> before = new java.util.ArrayList<>(), after = new java.util.ArrayList<>();
        for (int k = 1; k <= reach; k++) {
            int of = k;
            before.add(() -> raw(s, frame - of, keep));
            after.add(() -> raw(s, frame + of, keep));
        }
        return TemporalFilter.filter(raw(s, frame, keep), before, after);
    }

    /** Off the truth, of performers or of the ground that nobody covers. */
    private static double rms(Passes a, Passes truth, Pass of) {
        double sum = 0;
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < N; i++)
                if (of == PassList.BEAUTY || truth.alpha[i] == 0)
                    sum += Math.pow(a.of(of)[c][i] - truth.of(of)[c][i], 2);
        return Math.sqrt(sum / N);
    }

    private static double sum(float[][] a) {
        double s = 0;
        for (float[] p : a) for (float v : p) s += v;
        return s;
    }

    @Test
    void fourNeighboursTakeNoiseAwayAndKeepTheMeanStillOrMoving() {
        for (Scene s : List.of(STILL, MOVING)) {
            Passes truth = rendered(s, 5, MANY, KEEP).raw, one = raw(s, 5, KEEP).passes(), over = over(s, 5, 2, KEEP);
            for (Pass p : List.of(PassList.BEAUTY, PassList.SHADOW, PassList.BOUNCE)) {
                double before = rms(one, truth, p), after = rms(over, truth, p);
                // Five frames would leave 0.45 of it where all of them count in full.
                assertThat(after / before).as("%s %s", s, p.name()).isLessThan(0.55);
                assertThat(sum(over.of(p)) / sum(truth.of(p)))
                        .as("%s %s", s, p.name())
                        .isCloseTo(1, within(p == PassList.BOUNCE ? 0.03 : 0.01));
            }
            assertThat(Arrays.equals(over.alpha, one.alpha)).isTrue();
        }
    }

    /** What is said of a pixel's noise is what it is, within half of it, in the mean. */
    @Test
    void theSpreadThatIsLeftIsTold() {
        Passes truth = rendered(STILL, 5, MANY, KEEP).raw, over = over(STILL, 5, 2, KEEP);
        double said = 0, is = 0;
        float[] spread = over.of(PassList.SPREAD)[1];
        for (int i = 0; i < N; i++) {
            // What lies behind an edge has samples of its own, in the many as in the few.
            if (truth.alpha[i] > 0) continue;
            double d = 0;
            for (int c = 0; c < 3; c++)
                d += new double[] {0.2126, 0.7152, 0.0722}[c] * (over.shadow[c][i] - truth.shadow[c][i]);
            is += d * d;
            said += spread[i] * spread[i];
        }
        assertThat(Math.sqrt(said / is)).isBetween(0.67, 1.5);
    }

    /** A sequence that stands still flickers less, and no pixel of it that was without noise is touched. */
    @Test
    void whatStandsStillFlickersLess() {
        int frames = 4;
        float[][][] raw = new float[frames][][], over = new float[frames][][];
        for (int f = 0; f < frames; f++) {
            raw[f] = raw(STILL, f, KEEP).passes().shadow;
            over[f] = over(STILL, f, 2, KEEP).shadow;
        }
        assertThat(deviation(over) / deviation(raw)).isLessThan(0.6);
    }

    private static double deviation(float[][][] f) {
        double sum = 0;
        for (int i = 0; i < N; i++) {
            double m = 0, s = 0;
            for (float[][] v : f) m += v[1][i] / f.length;
            for (float[][] v : f) s += Math.pow(v[1][i] - m, 2) / (f.length - 1);
            sum += s;
        }
        return Math.sqrt(sum / N);
    }

    /** What is elsewhere a frame later, as the shadow of something quick, is not dragged along. */
    @Test
    void aQuickShadowLeavesNoTrace() {
        Scene quick = new Scene(0.5, 0);
        Passes truth = rendered(quick, 1, MANY, KEEP).raw,
                one = raw(quick, 1, KEEP).passes();
        Passes over = over(quick, 1, 1, KEEP);
        for (Pass p : List.of(PassList.BEAUTY, PassList.SHADOW))
            assertThat(rms(over, truth, p)).isLessThan(1.05 * rms(one, truth, p));
    }

    @Test
    void partsStillAddUp() {
        Keep keep =
                new Keep(LightGroups.Apart.LIGHTS, List.of(), Set.of(PassSet.FILTERS, PassSet.MATERIAL), 0.3, Map.of());
        Passes over = Finish.of(over(MOVING, 5, 1, keep), true, keep);
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < N; i++) {
                float lights = 0, surfaces = 0, taken = 0;
                for (String l : over.lights()) {
                    lights += over.of("beauty." + l)[c][i];
                    taken += over.of("light." + l)[c][i] * (1 - over.of("shadow." + l)[c][i]);
                }
                for (Pass p : PassSet.MATERIAL.passes()) surfaces += over.of(p)[c][i];
                float all = over.beauty[c][i];
                assertThat(lights).isCloseTo(all, within(1e-4f * Math.max(0.05f, all)));
                assertThat(surfaces).isCloseTo(all, within(1e-4f * Math.max(0.05f, all)));
                if (over.shadow[c][i] < 1)
                    assertThat(Math.min(1, taken)).isCloseTo(1 - over.shadow[c][i], within(2e-3f));
            }
        assertThat(over.of(PassList.SPREAD)).as("nobody asked for it").isNull();
        assertThat(over.of(PassList.FORWARD)).as("nor for that").isNull();
    }

    /** Along an edge it is known better how much is covered than the samples whose light was found can tell. */
    @Test
    void coverageIsKnownBetterThanLight() {
        Passes few = rendered(STILL, 5, 4, KEEP), many = rendered(STILL, 5, MANY, KEEP);
        double off = 0, chance = 0, covered = 0, all = 0;
        for (int i = 0; i < N; i++) {
            float a = many.alpha[i];
            all += a;
            covered += few.alpha[i];
            if (!(a > 0.02 && a < 0.98)) continue;
            off += Math.pow(few.alpha[i] - a, 2);
            // Of four independent samples (binomial).
            chance += a * (1 - a) / 4;
        }
        assertThat(Math.sqrt(off / chance)).isLessThan(0.4);
        assertThat(covered / all).isCloseTo(1, within(0.002));
    }
}

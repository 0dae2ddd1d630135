package dasein.bench;

import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import dasein.core.shot.ShotScene;
import java.util.function.IntPredicate;

/**
 * Error over time: a frame at several counts of samples, raw and filtered, against one of very many, in regions apart.
 */
final class CurveBench {
    private static final double SIZE = 0.35;
    private static final int REFERENCE = 1024, BOUNCES = 2;
    /** Added to the level before a difference is taken relative to it. */
    private static final double DARK = 0.05;

    private CurveBench() {}

    static void run(ShotScene scene, Image plate, int frame) throws Exception {
        Passes truth = rendered(scene, plate, frame, REFERENCE, false);
        // The compiler has its time before anything is counted.
        rendered(scene, plate, frame, 32, true);
        System.out.printf("error against %d samples, relative, %d x %d%n", REFERENCE, truth.width, truth.height);
        System.out.printf(
                "%8s %8s %8s %10s %8s %8s %8s%n", "samples", "filter", "s", "performer", "edge", "shadow", "given");
        for (boolean filter : new boolean[] {false, true}) {
            for (int samples : new int[] {2, 4, 8, 16, 32, 64, 128}) {
                long t = System.nanoTime();
                Passes p = rendered(scene, plate, frame, samples, filter);
                double s = (System.nanoTime() - t) / 1e9;
                double[] e = errors(p, truth);
                System.out.printf(
                        "%8d %8s %8.2f %10.4f %8.4f %8.4f %8.4f%n",
                        samples, filter ? "yes" : "no", s, e[0], e[1], e[2], e[3]);
            }
        }
    }

    /** Of performers, their edges, shadow and given light. */
    static double[] errors(Passes p, Passes truth) {
        return new double[] {
            error(p.beauty, truth.beauty, i -> truth.alpha[i] > 0.98f, true),
            error(p.beauty, truth.beauty, i -> truth.alpha[i] > 0.02f && truth.alpha[i] <= 0.98f, true),
            error(p.shadow, truth.shadow, i -> truth.alpha[i] < 0.02f && truth.shadow[1][i] < 0.995f, false),
            error(p.bounce, truth.bounce, i -> truth.alpha[i] < 0.02f && truth.bounce[1][i] > 0.0005f, true)
        };
    }

    private static Passes rendered(ShotScene scene, Image plate, int frame, int samples, boolean filter) {
        Quality q = new Quality(samples, samples, 0, BOUNCES, filter);
        return FrameRenderer.render(scene.job(frame, plate, SIZE, q), Progress.NONE, null);
    }

    private static double error(float[][] a, float[][] truth, IntPredicate where, boolean relative) {
        double sum = 0;
        long n = 0;
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < a[c].length; i++) {
                if (!where.test(i)) continue;
                double d = (a[c][i] - truth[c][i]) / (relative ? truth[c][i] + DARK : 1);
                sum += d * d;
                n++;
            }
        return n == 0 ? 0 : Math.sqrt(sum / n);
    }
}

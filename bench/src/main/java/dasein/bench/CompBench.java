package dasein.bench;

import dasein.core.Progress;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Glow;
import dasein.core.comp.step.Grade;
import dasein.core.comp.step.Haze;
import dasein.core.comp.step.Shadow;
import dasein.core.comp.step.Softness;
import dasein.core.comp.step.Wrap;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import dasein.core.shot.ShotScene;

/** The comp of a frame, by default and with every step at work, at the plate's size and at 1080p. */
final class CompBench {
    private static final int TIMES = 12;

    private CompBench() {}

    static void run(ShotScene scene, Plate plate, int frame) throws Exception {
        CompRecipe all = CompRecipe.BLANK
                .with(Shadow.SOFT, 2)
                .with(Shadow.SPARED, 0.1)
                .with(Shadow.CONTACT, 0.3)
                .with(Haze.HAZE, 0.1)
                .with(Glow.AMOUNT, 0.1)
                .with(Wrap.WRAP, 0.1)
                .with(Softness.RED, 0.4)
                .with(Grade.EXPOSURE, 0.2)
                .with(Grade.SLOPE.get(0), 1.1)
                .with(Grade.POWER.get(1), 1.05)
                .with(Grade.SATURATION, 0.9);
        for (double size : new double[] {1, 1.5}) {
            Image source = plate.frame(frame);
            Passes p = FrameRenderer.render(
                    scene.job(frame, source, size, new Quality(4, 4, 0, 1, true)), Progress.NONE, null);
            Image im = size == 1 ? source : source.resize(p.width, p.height);
            System.out.printf(
                    "comp of %d x %d: %.0f ms by default, %.0f ms with everything on%n",
                    p.width,
                    p.height,
                    1000 * best(im, p, CompRecipe.BLANK, plate, size, frame),
                    1000 * best(im, p, all, plate, size, frame));
            if (size > 1) ExportBench.run(im, p, plate);
        }
    }

    private static double best(Image im, Passes p, CompRecipe r, Plate plate, double size, int frame) {
        double best = Double.MAX_VALUE;
        for (int k = 0; k < TIMES; k++) {
            long t = System.nanoTime();
            Comp.frame(im, p, r, plate.encoding(), size, frame + k);
            best = Math.min(best, (System.nanoTime() - t) / 1e9);
        }
        return best;
    }
}

package dasein.shoot;

import dasein.core.Progress;
import dasein.core.format.Exr;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.SunSearch;
import dasein.core.math.Pose;
import dasein.core.model.Mesh;
import dasein.core.render.CatcherLook;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** The slipway under its sky, and a camera to film it with: gives clean frames, before sensor and film. */
final class Stage {
    final Mesh set = Slipway.build();
    /** Light is given back once in plates and kit. */
    private static final int ONCE = 1;

    private final Lighting light;

    Stage() {
        this(Sky.MORNING);
    }

    Stage(Sky hour) {
        SunSearch.Found f = SunSearch.in(hour.map());
        light = new Lighting(new Environment(f.rest(), 0, 1), List.of(f.sun()));
    }

    Image frame(double frame, List<Mesh> extra, int samples, double scale) {
        return shoot(walk(frame, scale), extra, samples, ONCE, (int) frame);
    }

    private static View walk(double frame, double scale) {
        return new View(
                Walk.pose(frame - Walk.SHUTTER / 2),
                Walk.pose(frame + Walk.SHUTTER / 2),
                Walk.lens().scaled(scale),
                (int) (Walk.WIDTH * scale),
                (int) (Walk.HEIGHT * scale));
    }

    /** @param bounces how often light is given back; @param seed of the sampling */
    Image frame(double frame, List<Mesh> extra, int samples, int bounces, int seed) {
        return shoot(walk(frame, 1), extra, samples, bounces, seed);
    }

    Image frame(Take take, int frame, List<Mesh> extra, int samples) {
        return shoot(take.view(frame), extra, samples, ONCE, frame);
    }

    Image still(Pose pose, Lens lens, int width, int height, List<Mesh> extra, int samples) {
        return shoot(new View(pose, pose, lens, width, height), extra, samples, ONCE, 7);
    }

    private Image shoot(View view, List<Mesh> extra, int samples, int bounces, int seed) {
        List<Mesh> all = new ArrayList<>(extra);
        all.add(set);
        Passes p = FrameRenderer.render(
                new FrameRenderer.Job(
                        all,
                        light,
                        view,
                        null,
                        CatcherLook.DRY,
                        new Quality(samples, samples, 0, bounces, true),
                        true,
                        Walk.SHUTTER,
                        seed),
                Progress.NONE,
                null);
        Image im = new Image(p.width, p.height, p.beauty);
        calm(im);
        return im;
    }

    /**
     * Few samples leave a lone bright speck here and there, which no sensor shows: it is brought down to its brightest
     * neighbours.
     */
    private static void calm(Image im) {
        int w = im.width;
        float[] lum = im.luminance();
        for (int y = 1; y + 1 < im.height; y++) {
            for (int x = 1; x + 1 < w; x++) {
                int i = y * w + x;
                float first = 0, second = 0;
                for (int j = -1; j <= 1; j++) {
                    for (int k = -1; k <= 1; k++) {
                        float v = lum[i + j * w + k];
                        if (j == 0 && k == 0) continue;
                        if (v > first) {
                            second = first;
                            first = v;
                        } else if (v > second) {
                            second = v;
                        }
                    }
                }
                if (lum[i] > 1.6f * second + 0.05f) for (float[] p : im.planes) p[i] *= second / lum[i];
            }
        }
    }

    /** Renders what is not in the folder yet. */
    void frames(Path folder, int first, int last, java.util.function.IntFunction<Image> make)
            throws java.io.IOException {
        Files.createDirectories(folder);
        for (int f = first; f <= last; f++) {
            Path file = folder.resolve(String.format("%04d.exr", f));
            if (Files.exists(file)) continue;
            long t = System.nanoTime();
            Exr.writeColour(file, make.apply(f));
            System.err.printf("%s %.1f s%n", file, (System.nanoTime() - t) / 1e9);
        }
    }
}

package dasein.shoot;

import dasein.core.Progress;
import dasein.core.format.Exr;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.SunSearch;
import dasein.core.math.Pose;
import dasein.core.render.CatcherLook;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Mesh;
import dasein.core.render.Passes;
import dasein.core.render.Quality;
import dasein.core.render.View;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** The slipway under its sky, and a camera to film it with: gives clean frames, before sensor and film. */
final class Stage {
    private final Mesh set = Slipway.build();
    private final Lighting light;

    Stage() {
        SunSearch.Found f = SunSearch.in(Sky.map());
        light = new Lighting(new Environment(f.rest(), 0, 1), List.of(f.sun()));
    }

    Image frame(double frame, List<Mesh> extra, int samples, double scale) {
        Lens lens = Walk.lens().scaled(scale);
        View view = new View(Walk.pose(frame - Walk.SHUTTER / 2), Walk.pose(frame + Walk.SHUTTER / 2), lens, (int) (Walk.WIDTH * scale), (int) (Walk.HEIGHT * scale));
        return shoot(view, extra, samples, (int) frame);
    }

    Image still(Pose pose, Lens lens, int width, int height, List<Mesh> extra, int samples) {
        return shoot(new View(pose, pose, lens, width, height), extra, samples, 7);
    }

    private Image shoot(View view, List<Mesh> extra, int samples, int seed) {
        List<Mesh> all = new ArrayList<>(extra);
        all.add(set);
        Passes p = FrameRenderer.render(new FrameRenderer.Job(all, light, view, null, CatcherLook.DRY, new Quality(samples, samples, 0, 1, true), true, Walk.SHUTTER, seed), Progress.NONE, null);
        return new Image(p.width, p.height, p.beauty);
    }

    /** Renders what is not in the folder yet. */
    void frames(Path folder, int first, int last, java.util.function.IntFunction<List<Mesh>> extra, int samples) throws java.io.IOException {
        Files.createDirectories(folder);
        for (int f = first; f <= last; f++) {
            Path file = folder.resolve(String.format("%04d.exr", f));
            if (Files.exists(file)) continue;
            long t = System.nanoTime();
            Exr.writeColour(file, frame(f, extra.apply(f), samples, 1));
            System.err.printf("%s %.1f s%n", file, (System.nanoTime() - t) / 1e9);
        }
    }
}

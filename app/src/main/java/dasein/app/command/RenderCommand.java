package dasein.app.command;

import dasein.core.Aside;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.format.Exr;
import dasein.core.plate.Plate;
import dasein.core.render.PassesRecipe;
import dasein.core.render.Quality;
import dasein.core.render.pass.Layers;
import dasein.core.render.pass.PassSet;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.SortedSet;
import java.util.TreeSet;
import java.util.concurrent.Callable;
import java.util.concurrent.CompletableFuture;
import java.util.function.IntFunction;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

@Command(name = "render", description = "Render the passes of a scene, one multi-layer EXR a frame.")
public final class RenderCommand implements Callable<Integer> {
    @Option(names = "--scene", required = true)
    Path scene;

    @Option(names = "--plate", description = "instead of the scene's own")
    Path plate;

    @Option(names = "--frames", required = true, description = "for example 1-96")
    String frames;

    @Option(names = "--size", description = "width x height; the plate's own without")
    String size;

    @Option(names = "--samples", defaultValue = "0", description = "exactly this many samples a pixel")
    int samples;

    /** Bits of what is not exact already. */
    @Option(names = "--bits")
    int bits = 16;

    @Option(names = "--pack")
    String pack = "zip";

    @Option(names = "--deep", description = "also the performers by depth, as deep EXR in a folder of that name")
    boolean deep;

    @Option(names = "--out", required = true)
    Path out;

    @Override
    public Integer call() {
        SceneFile file = SceneFile.read(scene);
        int[] range = Console.range(frames);
        if (samples < 0 || samples > 65536) throw new BadInput("--samples must lie between 1 and 65536");
        if (bits != 16 && bits != 32) throw new BadInput("--bits must be 16 or 32");
        if (!pack.matches("zip|zips|piz")) throw new BadInput("--pack must be zip, zips or piz");
        Exr.Packing packing = Exr.Packing.valueOf(pack.toUpperCase(java.util.Locale.ROOT));
        try (Plate p = file.plate(plate)) {
            ShotScene s = file.scene(p);
            Shot shot = deep ? keeping(file.shot(), PassSet.LAYERS) : file.shot();
            PassesRecipe r = shot.passes();
            double part = r.size();
            if (size != null) {
                double[] wh = Console.size(size, "--size");
                part = wh[0] / p.width();
                if (Math.abs(wh[1] - p.height() * part) > 1)
                    throw new BadInput("--size must keep the plate's proportions, " + p.width() + " x " + p.height());
            }
            Quality q = samples > 0 ? new Quality(samples, samples, 0, r.bounces(), r.denoise()) : r.quality();
            // What the filter over frames needs stays beside what it made.
            Path raw = out.resolve("raw");
            CompletableFuture<Void> writing = CompletableFuture.completedFuture(null);
            IntFunction<List<Integer>> windows = f -> ShotScene.window(shot, s.camera(), f, p);
            for (int f : needed(range, windows)) {
                int frame = f;
                boolean wanted = f >= range[0] && f <= range[1];
                var passes = s.render(shot, f, p.frame(f), part, q, Progress.NONE);
                writing.join();
                // Packing and writing goes on while the next frame is rendered.
                writing = CompletableFuture.runAsync(
                        () -> {
                            if (wanted) write(passes, frame, packing);
                            if (passes.raw != null) passes.raw.write(named(raw, frame));
                        },
                        Aside.THREAD);
                System.err.printf(
                        "frame %d of %d-%d%s: noise %.3f, %.0f samples%n",
                        f, range[0], range[1], wanted ? "" : ", as a neighbour", passes.noise, passes.samples);
            }
            writing.join();
            for (int f = range[0]; f <= range[1] && r.overFrames() > 0; f++) {
                // In the place of each frame comes what it is with its neighbours.
                List<Integer> window = windows.apply(f);
                write(s.filtered(shot, f, window, k -> Passes.read(named(raw, k)), part, Progress.NONE), f, packing);
                System.err.printf("frame %d of %d-%d: filtered over %d%n", f, range[0], range[1], window.size());
            }
        }
        return 0;
    }

    /** The frames of a range and those that they are filtered over. */
    private static SortedSet<Integer> needed(int[] range, IntFunction<List<Integer>> windows) {
        SortedSet<Integer> all = new TreeSet<>();
        for (int f = range[0]; f <= range[1]; f++) {
            all.add(f);
            all.addAll(windows.apply(f));
        }
        return all;
    }

    private void write(Passes p, int frame, Exr.Packing packing) {
        p.write(named(out, frame), packing, bits == 32);
        if (deep) Layers.writeDeep(p, named(out.resolve("deep"), frame));
    }

    private static Shot keeping(Shot s, PassSet also) {
        Set<PassSet> sets = new HashSet<>(s.passes().sets());
        sets.add(also);
        return s.with(s.passes().keeping(sets));
    }

    private static Path named(Path folder, int frame) {
        return folder.resolve(String.format("%04d.exr", frame));
    }
}

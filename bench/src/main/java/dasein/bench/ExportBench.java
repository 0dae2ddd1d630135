package dasein.bench;

import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.format.MovieWriter;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.render.pass.Passes;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

/** From passes on disk to the written movie: read, plate decoded, comp by default, coded while the next is made. */
final class ExportBench {
    private static final int FRAMES = 24, ROUNDS = 4;

    private ExportBench() {}

    /** @param plate a frame at the passes' size */
    static void run(Image plate, Passes rendered, Plate of) throws Exception {
        Path folder = Files.createTempDirectory("export"), passes = folder.resolve("passes.exr");
        Path movie = folder.resolve("plate.mp4"), out = folder.resolve("out.mp4");
        try {
            rendered.write(passes);
            try (MovieWriter w = writer(movie, plate, of)) {
                for (int f = 0; f < FRAMES; f++) w.write(plate);
                w.finish();
            }
            double best = 0;
            for (int k = 0; k < ROUNDS; k++) best = Math.max(best, once(movie, passes, out));
            System.out.printf("written from passes, %d x %d: %.2f frames/s%n", plate.width, plate.height, best);
        } finally {
            for (Path p : new Path[] {passes, movie, out, folder}) Files.deleteIfExists(p);
        }
    }

    private static MovieWriter writer(Path to, Image im, Plate of) {
        return new MovieWriter(
                to,
                im.width,
                im.height,
                of.rate().num(),
                of.rate().den(),
                of.encoding().movie(),
                9L * im.width * im.height);
    }

    private static double once(Path movie, Path passes, Path out) throws Exception {
        ExecutorService behind = Executors.newSingleThreadExecutor();
        try (Plate p = Plate.open(movie, null, null)) {
            long t = System.nanoTime();
            MovieWriter w = null;
            Future<?> last = null;
            for (int f = 1; f <= FRAMES; f++) {
                Image im = Comp.frame(p.frame(f), Passes.read(passes), CompRecipe.BLANK, p.encoding(), 1, f);
                if (w == null) w = writer(out, im, p);
                if (last != null) last.get();
                MovieWriter to = w;
                last = behind.submit(() -> to.write(im));
            }
            last.get();
            w.finish();
            w.close();
            return FRAMES / ((System.nanoTime() - t) / 1e9);
        } finally {
            behind.shutdown();
        }
    }
}

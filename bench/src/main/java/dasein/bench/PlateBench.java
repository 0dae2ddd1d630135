package dasein.bench;

import dasein.core.Progress;
import dasein.core.format.MovieWriter;
import dasein.core.format.Stills;
import dasein.core.plate.Plate;
import dasein.core.plate.PlateHealth;
import dasein.core.track.AutoTracker;
import dasein.core.track.Track;
import dasein.core.track.TrackSettings;
import dasein.core.track.TrackSettings.Quality;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;

/**
 * A 150-frame 1080p plate (the demo plate enlarged, there and back): opening, looking it over, single frames, tracking
 * with decoding in it.
 */
final class PlateBench {
    private static final int FRAMES = 150;

    private PlateBench() {}

    static void run() throws Exception {
        Path movie = Files.createTempFile("bench", ".mp4");
        try (Plate p = Plate.open(Path.of("demo/LW_010.mp4"), null, null);
                MovieWriter w = new MovieWriter(movie, 1920, 1080, 24, 1, p.encoding(), 20_000_000)) {
            for (int f = 0; f < FRAMES; f++)
                w.write(p.frame(f < 96 ? f + 1 : 191 - f).resize(1920, 1080));
            w.finish();
        }
        System.out.printf("1080p H.264, %d frames, %.1f MB%n", FRAMES, Files.size(movie) / 1048576.0);
        double first = seconds(() -> {
            try (Plate p = Plate.open(movie, null, null)) {
                picture(p, 1);
            }
        });
        System.out.printf("  opened and first picture made: %.2f s%n", first);
        try (Plate p = Plate.open(movie, null, null)) {
            double small = seconds(() -> {
                for (int f = 1; f <= FRAMES; f += 8) {
                    BufferedImage[] some = IntStream.range(f, Math.min(FRAMES + 1, f + 8))
                            .mapToObj(k -> p.preview(k, true))
                            .toArray(BufferedImage[]::new);
                    Arrays.stream(some).parallel().forEach(PlateBench::encoded);
                }
            });
            System.out.printf("  small pictures for scrubbing: %.1f s, %.1f frames a second%n", small, FRAMES / small);
            double looked = seconds(() -> PlateHealth.of(p, 1, FRAMES, Progress.NONE));
            System.out.printf("  looked over: %.1f s, %.1f frames a second%n", looked, FRAMES / looked);
            Random r = new Random(2);
            double any = seconds(() -> {
                for (int k = 0; k < 20; k++) picture(p, 1 + r.nextInt(FRAMES));
            });
            System.out.printf("  any frame without them: %.0f ms%n", 1000 * any / 20);
        }
        for (Quality q : new Quality[] {Quality.DRAFT, Quality.STANDARD}) {
            for (String how : new String[] {"cold", "warm"}) {
                try (Plate p = Plate.open(movie, null, null)) {
                    long[] n = {0};
                    double s = seconds(() -> {
                        List<Track> t = AutoTracker.track(
                                p, 1, FRAMES, null, new TrackSettings(400, 0.02, 7, 0, 6, q), Progress.NONE);
                        n[0] = t.stream().mapToLong(Track::length).sum();
                    });
                    System.out.printf(
                            "  tracked, %s, %s: %.1f s, %d marks a frame%n",
                            q.name().toLowerCase(java.util.Locale.ROOT), how, s, n[0] / FRAMES);
                }
            }
        }
        Files.delete(movie);
    }

    private static void picture(Plate p, int frame) {
        encoded(p.preview(frame, true));
    }

    private static byte[] encoded(BufferedImage bi) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            Stills.writeJpeg(out, bi, 0.88f);
        } catch (java.io.IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
        return out.toByteArray();
    }

    private interface Work {
        void run() throws Exception;
    }

    private static double seconds(Work w) throws Exception {
        long t = System.nanoTime();
        w.run();
        return (System.nanoTime() - t) / 1e9;
    }
}

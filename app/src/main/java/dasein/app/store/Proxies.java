package dasein.app.store;

import dasein.core.Progress;
import dasein.core.format.Stills;
import dasein.core.plate.Plate;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.awt.image.BufferedImage;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.IntStream;
import org.springframework.stereotype.Component;

/** Small JPEG pictures of a plate's frames, for looking only: no work is done from them. */
@Component
public class Proxies {
    public static final float QUALITY = 0.88f;
    /** Plates wider than this are looked at in half size. */
    private static final int FULL_WIDTH = 1280;

    private static final int BATCH = 8;

    private final MediaStore media;

    Proxies(MediaStore media) {
        this.media = media;
    }

    public static boolean half(int width) {
        return width > FULL_WIDTH;
    }

    private Path path(Shot s, int frame) {
        return media.result("proxy", Prints.plate(s) + "-look-" + frame + ".jpg");
    }

    /** Makes those of a range that are not there yet. Decoding goes in order; the pictures are packed side by side. */
    public void write(Shot s, Plate p, int first, int last, Progress progress) {
        List<Integer> missing = IntStream.rangeClosed(first, last)
                .filter(f -> !Files.exists(path(s, f)))
                .boxed()
                .toList();
        for (int from = 0; from < missing.size(); from += BATCH) {
            List<Integer> some = missing.subList(from, Math.min(missing.size(), from + BATCH));
            progress.at((double) from / missing.size(), "small pictures, frame " + some.get(0));
            BufferedImage[] bi =
                    some.stream().map(f -> p.preview(f, half(p.width()))).toArray(BufferedImage[]::new);
            IntStream.range(0, bi.length)
                    .parallel()
                    .forEach(k -> Stills.writeJpeg(path(s, some.get(k)), bi[k], QUALITY));
        }
    }

    /** The picture as stored, or null. */
    public byte[] read(Shot s, int frame) {
        Path p = path(s, frame);
        try {
            return Files.exists(p) ? Files.readAllBytes(p) : null;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}

package dasein.app.store;

import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.shot.Shot;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.springframework.stereotype.Component;

/** Small JPEG pictures of a plate's frames, for looking only: no work is done from them. */
@Component
public class Proxies {
    public static final float QUALITY = 0.88f;
    /** Plates wider than this are looked at in half size. */
    public static final int FULL_WIDTH = 960;

    private final MediaStore media;

    Proxies(MediaStore media) {
        this.media = media;
    }

    public static int reduction(int width) { return width > FULL_WIDTH ? 2 : 1; }

    private Path path(Shot s, int frame) { return media.result("proxy", Results.platePrint(s) + "-" + frame + ".jpg"); }

    public void write(Shot s, int frame, Image im, Encoding e) { Stills.writeJpeg(path(s, frame), Stills.toBuffered(Plates.reduced(im, reduction(im.width)), e.shown()), QUALITY); }

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

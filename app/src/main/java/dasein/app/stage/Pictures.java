package dasein.app.stage;

import dasein.app.store.Proxies;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.time.Duration;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;

/** Pictures as answers: JPEG, for looking at. */
public final class Pictures {
    /** For addresses that name what they show. */
    public static final CacheControl FOR_GOOD =
            CacheControl.maxAge(Duration.ofDays(30)).cachePrivate().immutable();

    private Pictures() {}

    public static ResponseEntity<byte[]> packed(byte[] jpeg, CacheControl cache) {
        return ResponseEntity.ok()
                .contentType(MediaType.IMAGE_JPEG)
                .cacheControl(cache)
                .body(jpeg);
    }

    public static ResponseEntity<byte[]> of(BufferedImage bi, CacheControl cache) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream(200_000);
        Stills.writeJpeg(out, bi, Proxies.QUALITY);
        return packed(out.toByteArray(), cache);
    }

    public static ResponseEntity<byte[]> of(Image im, Encoding e, CacheControl cache) throws IOException {
        return of(Stills.toBuffered(im, e), cache);
    }
}

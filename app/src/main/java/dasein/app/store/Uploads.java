package dasein.app.store;

import dasein.core.BadInput;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;

/**
 * Large files that come piece by piece, so that a broken connection, a closed page or a restart costs one piece and not
 * all. An upload is known by what its sender says of the file; how far it is, is the length of what lies on disk.
 */
@Component
public class Uploads {
    public static final int LARGEST_PIECE = 16 << 20;
    private static final long LARGEST = 1L << 40;
    /** Space that an upload must leave free. */
    private static final long SPARE = 1L << 30;

    private final MediaStore media;
    private final Object[] adding = Stream.generate(Object::new).limit(64).toArray();

    Uploads(MediaStore media) {
        this.media = media;
    }

    /** @param key anything that tells this file from another of the same name and size, for example its date */
    public record File(String name, long size, String key) {
        String id() {
            try {
                return HexFormat.of()
                        .formatHex(MessageDigest.getInstance("SHA-256")
                                .digest((name + "\0" + size + "\0" + key).getBytes(StandardCharsets.UTF_8)));
            } catch (NoSuchAlgorithmException e) {
                throw new IllegalStateException(e);
            }
        }
    }

    /** How much of a file is here; room for the rest is checked. */
    public long begin(File f) {
        if (f.size <= 0 || f.size > LARGEST) throw new BadInput(f.name + " is empty or too large to bring in");
        try {
            Path p = media.growing(f.id());
            long at = Files.exists(p) ? Files.size(p) : 0,
                    free = Files.getFileStore(p.getParent()).getUsableSpace();
            if (f.size - at + SPARE > free)
                throw new BadInput("there is no room for " + f.name + ": it needs " + (f.size - at >> 20) + " MB, and "
                        + (free >> 20) + " MB are free");
            return at;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /**
     * Adds a piece that begins where the file ends now. A sender may be slow: nobody waits for him but who sends the
     * same file.
     *
     * @return how much is here; a piece from elsewhere changes nothing
     */
    public long add(File f, long at, InputStream in) {
        try {
            byte[] piece = in.readNBytes(LARGEST_PIECE + 1);
            if (piece.length > LARGEST_PIECE) throw new BadInput("a piece of the upload is too large");
            synchronized (adding[Math.floorMod(f.id().hashCode(), adding.length)]) {
                Path p = media.growing(f.id());
                long have = Files.exists(p) ? Files.size(p) : 0;
                if (at != have) return have;
                if (have + piece.length > f.size) throw new BadInput(f.name + " is longer than it said");
                try (OutputStream out =
                        Files.newOutputStream(p, StandardOpenOption.CREATE, StandardOpenOption.APPEND)) {
                    out.write(piece);
                }
                return have + piece.length;
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    public Media finishPlate(File f) {
        Path p = media.growing(f.id());
        try {
            if (!Files.exists(p) || Files.size(p) != f.size) throw new BadInput(f.name + " is not here as a whole yet");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return media.plate(p, f.name);
    }
}

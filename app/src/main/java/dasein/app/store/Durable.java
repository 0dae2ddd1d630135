package dasein.app.store;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/** Files that must be there after the power failed, and be what they were. */
public final class Durable {
    private Durable() {}

    /** Forces a file, and the folder that names it, onto the disk; of a folder all that lies in it. */
    static void force(Path p) throws IOException {
        if (Files.isDirectory(p)) {
            try (var list = Files.list(p)) {
                for (Path f : list.toList()) one(f, StandardOpenOption.WRITE);
            }
            one(p, StandardOpenOption.READ);
        } else {
            one(p, StandardOpenOption.WRITE);
        }
        one(p.toAbsolutePath().getParent(), StandardOpenOption.READ);
    }

    private static void one(Path p, StandardOpenOption how) throws IOException {
        try (FileChannel c = FileChannel.open(p, how)) {
            c.force(true);
        }
    }

    static String sha256(Path file) throws IOException {
        try (DigestInputStream d =
                new DigestInputStream(Files.newInputStream(file), MessageDigest.getInstance("SHA-256"))) {
            d.transferTo(OutputStream.nullOutputStream());
            return HexFormat.of().formatHex(d.getMessageDigest().digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}

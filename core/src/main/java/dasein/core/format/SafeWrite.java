package dasein.core.format;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;

/** Writes under a temporary name and renames, so that nobody ever sees half a file. */
public final class SafeWrite {
    private SafeWrite() {}

    public interface Body {
        void write(Path temporary) throws IOException;
    }

    public static void to(Path target, Body body) {
        try {
            Path dir = target.toAbsolutePath().getParent();
            Files.createDirectories(dir);
            String name = target.getFileName().toString();
            int dot = name.lastIndexOf('.');
            Path tmp = Files.createTempFile(dir, ".part-", dot < 0 ? "" : name.substring(dot));
            try {
                body.write(tmp);
                Files.setPosixFilePermissions(
                        tmp, java.nio.file.attribute.PosixFilePermissions.fromString("rw-r--r--"));
                Files.move(tmp, target, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
            } finally {
                Files.deleteIfExists(tmp);
            }
        } catch (IOException e) {
            throw new UncheckedIOException("could not write " + target + ": " + e.getMessage(), e);
        }
    }
}

package dasein.core.model.file;

import java.nio.file.Path;
import java.util.List;

/**
 * Files that were brought in together; they name each other by paths of the machine they come from, of which only the
 * last part counts.
 */
final class Siblings {
    private final List<Path> files;

    Siblings(List<Path> files) {
        this.files = List.copyOf(files);
    }

    /** The file of that name, without regard to case; null when it is not there. */
    Path find(String named) {
        String plain = named.replace('\\', '/');
        String last = plain.substring(plain.lastIndexOf('/') + 1).strip();
        Path near = null;
        for (Path p : files) {
            String n = p.getFileName().toString();
            if (n.equals(last)) return p;
            if (n.equalsIgnoreCase(last)) near = p;
        }
        return near;
    }
}

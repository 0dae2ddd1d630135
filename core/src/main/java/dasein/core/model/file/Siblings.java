package dasein.core.model.file;

import dasein.core.model.Texture;
import java.nio.file.Path;
import java.util.List;

/**
 * Files that were brought in together; they name each other by paths of the machine they come from, of which only the
 * last part counts.
 */
final class Siblings {
    private final List<Path> files;
    private final WorkingSize size;
    private int largest;

    Siblings(List<Path> files) {
        this(files, WorkingSize.WHOLE);
    }

    Siblings(List<Path> files, WorkingSize size) {
        this.files = List.copyOf(files);
        this.size = size;
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

    /** A picture of theirs as large as is worked with; done at once, so that only one of them is held whole. */
    Texture fit(Texture t) {
        Texture out = size.within(t);
        if (out != t) largest = Math.max(largest, Math.max(t.width(), t.height()));
        return out;
    }

    /** The longer side of the largest picture that was made smaller, 0 for none. */
    int largest() {
        return largest;
    }
}

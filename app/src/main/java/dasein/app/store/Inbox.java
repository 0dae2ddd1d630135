package dasein.app.store;

import dasein.core.BadInput;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.stereotype.Component;

/**
 * A folder on the server into which footage is put by other means: its movies and folders of frames can be brought in
 * by name. Only what lies directly in it can be named, and nothing that leads out of it.
 */
@Component
public class Inbox {
    private static final int MOST = 200;

    private final Path root;

    Inbox(@Value("${dasein.inbox}") String root) {
        this.root = Path.of(root).toAbsolutePath().normalize();
    }

    public Path root() {
        return root;
    }

    /** Names of what is there, sorted; empty when there is no such folder. */
    public List<String> names() {
        if (!Files.isDirectory(root)) return List.of();
        try (Stream<Path> list = Files.list(root)) {
            return list.filter(p -> Files.isDirectory(p, LinkOption.NOFOLLOW_LINKS)
                            || Files.isRegularFile(p, LinkOption.NOFOLLOW_LINKS))
                    .map(p -> p.getFileName().toString())
                    .filter(n -> !n.startsWith("."))
                    .sorted()
                    .limit(MOST)
                    .toList();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** @throws BadInput when the name is none of {@link #names} */
    public Path of(String name) {
        if (!names().contains(name)) throw new BadInput("there is no " + name + " in the watched folder");
        return root.resolve(name);
    }
}

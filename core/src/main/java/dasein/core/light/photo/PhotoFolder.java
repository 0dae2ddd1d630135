package dasein.core.light.photo;

import dasein.core.BadInput;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Stream;

/** The photographs in a folder. */
public final class PhotoFolder {
    private static final Set<String> KINDS = Set.of("jpg", "jpeg", "png", "tif", "tiff", "exr", "hdr");

    private PhotoFolder() {}

    /** By name. @throws BadInput when there is none */
    public static List<Path> of(Path folder) {
        try (Stream<Path> all = Files.list(folder)) {
            List<Path> found = all.filter(Files::isRegularFile)
                    .filter(p -> {
                        String n = p.getFileName().toString().toLowerCase(Locale.ROOT);
                        return !n.startsWith(".") && KINDS.contains(n.substring(n.lastIndexOf('.') + 1));
                    })
                    .sorted()
                    .toList();
            if (found.isEmpty()) throw new BadInput("the folder " + folder + " holds no photographs");
            return found;
        } catch (IOException e) {
            throw new BadInput("the folder " + folder + " cannot be read", e);
        }
    }
}

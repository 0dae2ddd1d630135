package dasein.core.format;

import dasein.core.BadInput;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Small JSON files that people write. */
public final class JsonFile {
    private JsonFile() {}

    /** @param what the file is, to name it: "file of lines"; larger ones than {@code maxBytes} are not read */
    public static JsonNode read(Path path, long maxBytes, String what) {
        try {
            if (Files.size(path) > maxBytes) throw new BadInput(path.getFileName() + " is too large for a " + what);
            return new JsonMapper().readTree(path);
        } catch (JacksonException e) {
            throw new BadInput(path.getFileName() + " is not a " + what + " that can be read", e);
        } catch (IOException e) {
            throw new BadInput("the " + what + " " + path + " cannot be read", e);
        }
    }
}

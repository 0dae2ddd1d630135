package dasein.core.solve;

import dasein.core.BadInput;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Lines along the set's axes as JSON: {@code {"lines": [{"axis": "x", "from": [px, py], "to": [px, py]}], "frame": 1}}. */
public final class LinesFile {
    private static final int MOST = 1000;
    private static final long MAX_BYTES = 1 << 20;

    private LinesFile() {}

    public static List<LinesSolver.Line> read(Path path) {
        try {
            if (Files.size(path) > MAX_BYTES) throw new BadInput(path.getFileName() + " is too large for a file of lines");
            List<LinesSolver.Line> out = new ArrayList<>();
            for (JsonNode l : new JsonMapper().readTree(path).path("lines")) {
                if (out.size() >= MOST) throw new BadInput(path.getFileName() + " holds more than " + MOST + " lines");
                String axis = l.path("axis").asString("").toUpperCase(Locale.ROOT);
                if (!List.of("X", "Y", "Z").contains(axis)) throw new BadInput("line " + (out.size() + 1) + " of " + path.getFileName() + " must have the axis x, y or z");
                out.add(new LinesSolver.Line(LinesSolver.Axis.valueOf(axis), number(l, "from", 0), number(l, "from", 1), number(l, "to", 0), number(l, "to", 1)));
            }
            if (out.isEmpty()) throw new BadInput(path.getFileName() + " holds no lines");
            return out;
        } catch (JacksonException e) {
            throw new BadInput(path.getFileName() + " is not a file of lines that can be read", e);
        } catch (IOException e) {
            throw new BadInput("the file of lines " + path + " cannot be read", e);
        }
    }

    private static double number(JsonNode l, String end, int k) {
        JsonNode v = l.path(end).path(k);
        if (!v.isNumber() || !(Math.abs(v.asDouble()) < 1e6)) throw new BadInput("a line needs two numbers in " + end);
        return v.asDouble();
    }
}

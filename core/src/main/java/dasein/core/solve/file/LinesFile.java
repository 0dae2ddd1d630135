package dasein.core.solve.file;

import dasein.core.BadInput;
import dasein.core.format.JsonFile;
import dasein.core.math.Vec3;
import dasein.core.solve.CameraMatch;
import dasein.core.solve.StillSolver;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import tools.jackson.databind.JsonNode;

/**
 * What a camera that stands still is matched by, as JSON: {@code {"lines": [{"axis": "x", "from": [px, py], "to": [px,
 * py]}], "rectangle": {"corners": [[px, py], ...], "width": 2, "length": 3, "standing": false, "metres": true},
 * "points": [{"at": [px, py], "position": [x, y, z]}]}}, each part optional.
 */
public final class LinesFile {
    private static final int MOST = 1000;
    private static final long MAX_BYTES = 1 << 20;

    private LinesFile() {}

    public record Still(List<StillSolver.Line> lines, CameraMatch match) {}

    public static Still read(Path path) {
        JsonNode all = JsonFile.read(path, MAX_BYTES, "file of lines");
        if (all.path("lines").size() + all.path("points").size() > MOST)
            throw new BadInput(path.getFileName() + " holds more than " + MOST + " lines and points");
        List<StillSolver.Line> out = new ArrayList<>();
        for (JsonNode l : all.path("lines")) {
            String axis = l.path("axis").asString("").toUpperCase(Locale.ROOT);
            if (!List.of("X", "Y", "Z").contains(axis))
                throw new BadInput(
                        "line " + (out.size() + 1) + " of " + path.getFileName() + " must have the axis x, y or z");
            out.add(new StillSolver.Line(
                    StillSolver.Axis.valueOf(axis),
                    number(l, "from", 0),
                    number(l, "from", 1),
                    number(l, "to", 0),
                    number(l, "to", 1)));
        }
        List<CameraMatch.Placed> points = new ArrayList<>();
        for (JsonNode p : all.path("points"))
            points.add(new CameraMatch.Placed(
                    number(p, "at", 0),
                    number(p, "at", 1),
                    new Vec3(number(p, "position", 0), number(p, "position", 1), number(p, "position", 2))));
        CameraMatch match = new CameraMatch(rectangle(all.path("rectangle")), points);
        if (out.isEmpty() && match.placed().isEmpty())
            throw new BadInput(path.getFileName() + " holds no lines, rectangle or points");
        return new Still(out, match);
    }

    private static CameraMatch.Rectangle rectangle(JsonNode r) {
        if (!r.isObject()) return null;
        List<Double> corners = new ArrayList<>();
        for (int i = 0; i < 4; i++)
            for (int k = 0; k < 2; k++)
                corners.add(r.path("corners").path(i).path(k).asDouble(Double.NaN));
        return new CameraMatch.Rectangle(
                corners,
                r.path("width").asDouble(0),
                r.path("length").asDouble(0),
                r.path("standing").asBoolean(false),
                r.path("metres").asBoolean(false));
    }

    private static double number(JsonNode l, String end, int k) {
        JsonNode v = l.path(end).path(k);
        if (!v.isNumber() || !(Math.abs(v.asDouble()) < 1e6)) throw new BadInput("there must be numbers in " + end);
        return v.asDouble();
    }
}

package dasein.core.light.sun;

import dasein.core.BadInput;
import dasein.core.format.JsonFile;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.JsonNode;

/**
 * Shadows drawn in a plate, as JSON: {@code {"lines": [{"name": "pole", "frame": 12, "foot": [x, y], "top": [x, y],
 * "tip": [x, y], "tipFrame": 12, "footHeight": 0, "tipHeight": 0}], "edge": {"frame": 12, "from": [x, y], "to": [x, y],
 * "height": 2.4, "blur": 0.6}}}. Foot or top may be left out; the edge is a stroke across the soft edge of a shadow
 * that something at that height throws.
 *
 * @param edge null when none is given
 */
public record ShadowsFile(List<ShadowLine> lines, Edge edge) {
    private static final long MAX_BYTES = 4 << 20;
    private static final int MOST = 1000;

    /** @param height of what casts it over where it falls, metres; @param blur of a sharp edge there, pixels */
    public record Edge(int frame, double[] from, double[] to, double height, double blur) {}

    public static ShadowsFile read(Path path) {
        JsonNode all = JsonFile.read(path, MAX_BYTES, "file of shadows");
        if (!all.path("lines").isArray()) throw new BadInput(path.getFileName() + " has no \"lines\" of shadows");
        if (all.path("lines").size() > MOST) throw new BadInput("there are more than " + MOST + " shadows");
        List<ShadowLine> lines = new ArrayList<>();
        for (JsonNode l : all.path("lines")) {
            String name = l.path("name").asString("shadow " + (lines.size() + 1));
            int frame = l.path("frame").asInt(1);
            lines.add(new ShadowLine(
                    name,
                    frame,
                    point(l, "top", name, false),
                    point(l, "foot", name, false),
                    l.path("tipFrame").asInt(frame),
                    point(l, "tip", name, true),
                    l.path("footHeight").asDouble(0),
                    l.path("tipHeight").asDouble(0)));
        }
        JsonNode e = all.path("edge");
        return new ShadowsFile(
                lines,
                !e.isObject()
                        ? null
                        : new Edge(
                                e.path("frame").asInt(1),
                                point(e, "from", "edge", true),
                                point(e, "to", "edge", true),
                                e.path("height").asDouble(0),
                                e.path("blur").asDouble(Penumbra.PIXEL_BLUR)));
    }

    private static double[] point(JsonNode n, String key, String name, boolean needed) {
        JsonNode p = n.path(key);
        if (p.isMissingNode() || p.isNull()) {
            if (needed) throw new BadInput(name + " needs its \"" + key + "\" as [x, y]");
            return null;
        }
        if (p.size() != 2 || !p.get(0).isNumber() || !p.get(1).isNumber())
            throw new BadInput("\"" + key + "\" of " + name + " must be [x, y]");
        return new double[] {p.get(0).asDouble(), p.get(1).asDouble()};
    }
}

package dasein.core.track;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * How carried shapes move, as text: {@code {"schema": "dasein-motions/1", "motions": [{"name": "wall", "kind": "plane",
 * "drawnAt": 1, "shape": [x, y, ..], "frames": [{"frame": 1, "map": [9 numbers]}]}]}}. A map is 3x3, row-major, from
 * the drawn frame's continuous pixels to that frame's.
 */
public final class MotionFile {
    public static final String SCHEMA = "dasein-motions/1";

    private MotionFile() {}

    /** @param ways by the number of the mask */
    public static String toJson(List<DrawnMask> masks, Map<Integer, ? extends Map<Integer, double[]>> ways) {
        JsonMapper json = new JsonMapper();
        ObjectNode all = json.createObjectNode().put("schema", SCHEMA);
        ArrayNode list = all.putArray("motions");
        for (DrawnMask m : masks) {
            Map<Integer, double[]> way = ways.get(m.id());
            if (way == null) continue;
            ObjectNode o = list.addObject()
                    .put("name", m.name())
                    .put(
                            "kind",
                            m.carry() == DrawnMask.Carry.PLANE
                                    ? "plane"
                                    : m.marks().size() == 1 ? "one mark" : "two marks")
                    .put("drawnAt", m.keys().get(0).frame());
            o.set("shape", json.valueToTree(m.keys().get(0).xy()));
            ArrayNode frames = o.putArray("frames");
            way.forEach((f, h) -> {
                ArrayNode map = frames.addObject().put("frame", f).putArray("map");
                for (double v : h) map.add(Double.parseDouble(String.format(Locale.ROOT, "%.9g", v)));
            });
        }
        return json.writeValueAsString(all);
    }
}

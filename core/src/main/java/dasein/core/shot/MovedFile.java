package dasein.core.shot;

import dasein.core.BadInput;
import dasein.core.format.JsonFile;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.nio.file.Path;
import java.util.Map;
import java.util.NavigableMap;
import java.util.TreeMap;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * Poses in the set of things that move by themselves: {@code {"schema": "dasein-moved/1", "things": {"1": {"40": [x, y,
 * z, qx, qy, qz, qw]}}}}, by the thing's number and the frame; metres, and a unit quaternion.
 */
public final class MovedFile {
    private static final String SCHEMA = "dasein-moved/1";
    private static final long MAX_BYTES = 64 << 20;
    private static final JsonMapper JSON = new JsonMapper();

    private MovedFile() {}

    public static String toJson(Map<Integer, NavigableMap<Integer, Pose>> moved) {
        ObjectNode all = JSON.createObjectNode().put("schema", SCHEMA), things = all.putObject("things");
        moved.forEach((id, way) -> {
            ObjectNode frames = things.putObject(Integer.toString(id));
            way.forEach((frame, p) -> {
                Vec3 at = p.position();
                Quat q = p.rotation();
                var v = frames.putArray(Integer.toString(frame));
                for (double d : new double[] {at.x(), at.y(), at.z(), q.x(), q.y(), q.z(), q.w()}) v.add(d);
            });
        });
        return JSON.writeValueAsString(all);
    }

    /** @throws BadInput when it cannot be read, with the reason */
    public static Map<Integer, NavigableMap<Integer, Pose>> read(Path path) {
        try {
            JsonNode all = JsonFile.read(path, MAX_BYTES, "list of things that move");
            if (!all.path("schema").asString("").equals(SCHEMA))
                throw new BadInput(path.getFileName() + " is no list of things that move (" + SCHEMA + ")");
            Map<Integer, NavigableMap<Integer, Pose>> out = new TreeMap<>();
            all.path("things").properties().forEach(t -> {
                NavigableMap<Integer, Pose> way = new TreeMap<>();
                t.getValue().properties().forEach(f -> way.put(Integer.parseInt(f.getKey()), pose(f.getValue())));
                out.put(Integer.parseInt(t.getKey()), way);
            });
            return out;
        } catch (NumberFormatException e) {
            throw new BadInput(path.getFileName() + " cannot be read", e);
        }
    }

    private static Pose pose(JsonNode v) {
        if (v.size() != 7) throw new BadInput("a pose of a thing that moves has seven numbers, not " + v.size());
        double[] d = new double[7];
        for (int i = 0; i < 7; i++) d[i] = v.get(i).asDouble();
        double n = d[3] * d[3] + d[4] * d[4] + d[5] * d[5] + d[6] * d[6];
        if (!(Math.abs(n - 1) < 1e-6)) throw new BadInput("the turn of a thing that moves is no unit quaternion");
        return new Pose(new Quat(d[3], d[4], d[5], d[6]), new Vec3(d[0], d[1], d[2]));
    }
}

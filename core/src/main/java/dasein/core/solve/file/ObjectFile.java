package dasein.core.solve.file;

import dasein.core.BadInput;
import dasein.core.format.SafeWrite;
import dasein.core.math.Pose;
import dasein.core.solve.ObjectSolver;
import dasein.core.solve.SolvedCamera;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A solved thing as a camera file of kind {@code object}: the camera's frames, each with {@code objectToWorld}; points
 * in the thing's own frame.
 */
public final class ObjectFile {
    private ObjectFile() {}

    public static ObjectSolver.Result read(Path path) {
        SolvedCamera c = CameraFile.read(path);
        JsonMapper json = new JsonMapper();
        try {
            List<ObjectSolver.Frame> frames = new ArrayList<>();
            JsonNode all = json.readTree(path);
            for (JsonNode n : all.path("frames")) {
                double[] m = new double[12];
                for (int i = 0; i < 12; i++)
                    m[i] = n.path("objectToWorld").path(i).asDouble(Double.NaN);
                if (!java.util.Arrays.stream(m).allMatch(Double::isFinite))
                    throw new BadInput("the file of a moving thing lacks objectToWorld in a frame");
                frames.add(new ObjectSolver.Frame(
                        n.path("frame").asInt(),
                        Pose.fromMatrix(m),
                        n.path("rmsPx").asDouble(0),
                        n.path("tracks").asInt(0)));
            }
            return new ObjectSolver.Result(
                    frames, c.points(), c.rmsPx(), all.path("distance").asDouble(0));
        } catch (JacksonException e) {
            throw new BadInput("the file of a moving thing is damaged", e);
        }
    }

    public static void write(Path path, SolvedCamera camera, ObjectSolver.Result r) {
        JsonMapper json = new JsonMapper();
        ObjectNode o = (ObjectNode) json.readTree(CameraFile.toJson(camera));
        o.put("kind", "object").put("rmsPx", r.rmsPx());
        ArrayNode kept = json.createArrayNode();
        for (ObjectSolver.Frame f : r.frames()) {
            for (var n : o.path("frames")) {
                if (n.path("frame").asInt() != f.frame()) continue;
                ObjectNode frame = (ObjectNode) n;
                ArrayNode m = frame.putArray("objectToWorld");
                for (double v : f.objectToWorld().matrix()) m.add(v);
                frame.put("rmsPx", f.rmsPx()).put("tracks", f.tracks());
                kept.add(frame);
            }
        }
        o.set("frames", kept);
        ArrayNode points = o.putArray("points");
        for (SolvedCamera.Point p : r.points()) {
            ObjectNode n = points.addObject().put("id", p.id());
            n.putArray("position")
                    .add(p.position().x())
                    .add(p.position().y())
                    .add(p.position().z());
            n.put("rmsPx", p.rmsPx());
        }
        o.put("distance", r.distance());
        SafeWrite.to(path, tmp -> Files.writeString(tmp, json.writeValueAsString(o)));
    }
}

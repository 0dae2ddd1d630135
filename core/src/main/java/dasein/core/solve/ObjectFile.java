package dasein.core.solve;

import dasein.core.format.SafeWrite;
import java.nio.file.Files;
import java.nio.file.Path;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** A solved thing as a camera file of kind {@code object}: the camera's frames, each with {@code objectToWorld}; points in the thing's own frame. */
public final class ObjectFile {
    private ObjectFile() {}

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
            n.putArray("position").add(p.position().x()).add(p.position().y()).add(p.position().z());
            n.put("rmsPx", p.rmsPx());
        }
        SafeWrite.to(path, tmp -> Files.writeString(tmp, json.writeValueAsString(o)));
    }
}

package dasein.core.solve.file;

import dasein.core.BadInput;
import dasein.core.format.Glb;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The solved camera as an animated glTF camera, and the points as a point cloud; time 0 is the first frame. Lens
 * distortion has no place in glTF and stands in {@code extras}.
 */
public final class CameraGltf {
    private static final double NEAR = 0.05;

    private CameraGltf() {}

    public static byte[] of(SolvedCamera s) {
        Glb g = new Glb();
        ObjectNode scene = g.object();
        scene.putArray("nodes");
        g.add("scenes", scene);
        add(g, s, s.frames().size() > 1 ? g.clip("camera move") : null);
        return g.bytes();
    }

    /** Adds camera and points to a file's first scene. @param clip that moves it; null where it stands */
    public static void add(Glb g, SolvedCamera s, ObjectNode clip) {
        SolvedCamera.Frame first = s.frames().get(0);
        ObjectNode camera = g.object().put("type", "perspective").put("name", "solved camera");
        camera.putObject("perspective")
                .put("yfov", 2 * Math.atan(s.height() / 2.0 / first.focalPx()))
                .put("aspectRatio", (double) s.width() / s.height())
                .put("znear", NEAR);
        ObjectNode node = g.object().put("name", "camera").put("camera", g.add("cameras", camera));
        ObjectNode extras = node.putObject("extras");
        extras.put("width", s.width())
                .put("height", s.height())
                .put("focalPx", first.focalPx())
                .put("k1", s.k1())
                .put("k2", s.k2())
                .put("k3", s.lens().k3())
                .put("p1", s.lens().p1())
                .put("p2", s.lens().p2())
                .put("firstFrame", s.first())
                .put("rate", s.rate().toString());
        int n = s.frames().size();
        float[] t = new float[n], p = new float[3 * n], q = new float[4 * n];
        Quat before = Quat.IDENTITY;
        for (int i = 0; i < n; i++) {
            SolvedCamera.Frame f = s.frames().get(i);
            t[i] = (float) ((f.frame() - s.first()) / s.rate().perSecond());
            p[3 * i] = (float) f.pose().position().x();
            p[3 * i + 1] = (float) f.pose().position().y();
            p[3 * i + 2] = (float) f.pose().position().z();
            Quat r = f.pose().rotation();
            double sign =
                    r.x() * before.x() + r.y() * before.y() + r.z() * before.z() + r.w() * before.w() < 0 ? -1 : 1;
            before = new Quat(sign * r.x(), sign * r.y(), sign * r.z(), sign * r.w());
            q[4 * i] = (float) before.x();
            q[4 * i + 1] = (float) before.y();
            q[4 * i + 2] = (float) before.z();
            q[4 * i + 3] = (float) before.w();
        }
        node.putArray("translation").add(p[0]).add(p[1]).add(p[2]);
        node.putArray("rotation").add(q[0]).add(q[1]).add(q[2]).add(q[3]);
        int at = g.add("nodes", node);
        ArrayNode roots =
                ((ObjectNode) g.list("scenes").get(0)).withArray("nodes").add(at);
        if (clip != null && n > 1) {
            int time = g.floats(t, "SCALAR", 0);
            g.channel(clip, at, "translation", time, g.floats(p, "VEC3", 0), "LINEAR");
            g.channel(clip, at, "rotation", time, g.floats(q, "VEC4", 0), "LINEAR");
        }
        if (!s.points().isEmpty()) roots.add(points(g, s));
    }

    /** @return number of the node that holds the solved points */
    private static int points(Glb g, SolvedCamera s) {
        float[] cloud = new float[3 * s.points().size()];
        for (int i = 0; i < s.points().size(); i++)
            for (int k = 0; k < 3; k++)
                cloud[3 * i + k] = (float) s.points().get(i).position().array()[k];
        ObjectNode mesh = g.object().put("name", "solved points");
        ArrayNode ids = mesh.putObject("extras").putArray("ids");
        s.points().forEach(k -> ids.add(k.id()));
        ObjectNode prim = mesh.putArray("primitives").addObject().put("mode", 0);
        prim.putObject("attributes").put("POSITION", g.floats(cloud, "VEC3", 34962));
        return g.add("nodes", g.object().put("name", "points").put("mesh", g.add("meshes", mesh)));
    }

    /**
     * The first camera of a binary glTF file, with its animation and the transforms above it at rest, and points of the
     * first point cloud. Frames are those of the rate; what glTF does not say (picture size, rate, distortion) comes
     * from {@code extras} where we wrote it.
     */
    static SolvedCamera read(byte[] file, String name) {
        GltfReader g = new GltfReader(file, name);
        int node = g.nodeWith("camera");
        if (node < 0) throw new BadInput(name + " holds no camera");
        JsonNode n = g.root.path("nodes").get(node),
                extras = n.path("extras"),
                camera = g.root.path("cameras").path(n.path("camera").asInt()).path("perspective");
        Rate rate = Rate.parse(extras.path("rate").asString("24/1"));
        int w = extras.path("width").asInt(1920),
                first = extras.path("firstFrame").asInt(1),
                h =
                        extras.path("height").asInt((int)
                                Math.round(w / camera.path("aspectRatio").asDouble(16.0 / 9)));
        double focal = h / 2.0 / Math.tan(camera.path("yfov").asDouble(0.6) / 2);
        float[][] move = g.channel(node, "translation"), turn = g.channel(node, "rotation");
        double seconds = Math.max(
                move == null ? 0 : move[0][move[0].length - 1], turn == null ? 0 : turn[0][turn[0].length - 1]);
        long count = Math.round(seconds * rate.perSecond()) + 1;
        if (count > 200_000)
            throw new BadInput(
                    name + " has an animation of " + Math.round(seconds) + " seconds, which is too long for a shot");
        Pose above = g.above(node);
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int k = 0; k < count; k++) {
            double t = k / rate.perSecond();
            frames.add(new SolvedCamera.Frame(
                    first + k,
                    above.times(new Pose(
                            turn == null ? g.rotation(node) : GltfReader.turned(turn, t),
                            move == null ? g.translation(node) : GltfReader.moved(move, t))),
                    focal,
                    0,
                    0));
        }
        Lens l = new Lens(
                focal,
                w / 2.0,
                h / 2.0,
                extras.path("k1").asDouble(0),
                extras.path("k2").asDouble(0),
                extras.path("k3").asDouble(0),
                extras.path("p1").asDouble(0),
                extras.path("p2").asDouble(0));
        return new SolvedCamera(w, h, rate, "moving", 0, 0, l, frames, g.cloud());
    }
}

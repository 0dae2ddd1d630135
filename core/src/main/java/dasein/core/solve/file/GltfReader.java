package dasein.core.solve.file;

import dasein.core.BadInput;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The few things of a binary glTF 2.0 file that a camera needs: nodes, their transforms and linear animations, a point
 * cloud.
 */
final class GltfReader {
    private static final int MAGIC = 0x46546C67, JSON = 0x4E4F534A, DEEPEST = 200;

    final JsonNode root;
    private final ByteBuffer bin;
    private final String name;

    GltfReader(byte[] file, String name) {
        this.name = name;
        ByteBuffer b = ByteBuffer.wrap(file).order(ByteOrder.LITTLE_ENDIAN);
        try {
            if (file.length < 20 || b.getInt(0) != MAGIC || b.getInt(16) != JSON)
                throw new BadInput(name + " is not a binary glTF file");
            int length = b.getInt(12);
            root = new JsonMapper().readTree(new String(file, 20, length, java.nio.charset.StandardCharsets.UTF_8));
            int from = 20 + length + 8;
            bin = from < file.length
                    ? b.slice(from, file.length - from).order(ByteOrder.LITTLE_ENDIAN)
                    : ByteBuffer.allocate(0);
        } catch (JacksonException | IndexOutOfBoundsException e) {
            throw new BadInput(name + " is a damaged glTF file", e);
        }
    }

    int nodeWith(String what) {
        for (int i = 0; i < root.path("nodes").size(); i++)
            if (root.path("nodes").get(i).has(what)) return i;
        return -1;
    }

    /** Floats of an accessor. */
    float[] floats(int accessor) {
        JsonNode a = root.path("accessors").path(accessor),
                v = root.path("bufferViews").path(a.path("bufferView").asInt(-1));
        int width =
                switch (a.path("type").asString("")) {
                    case "SCALAR" -> 1;
                    case "VEC3" -> 3;
                    case "VEC4" -> 4;
                    default -> 0;
                };
        int count = a.path("count").asInt(0),
                at = v.path("byteOffset").asInt(0) + a.path("byteOffset").asInt(0),
                stride = v.path("byteStride").asInt(4 * width);
        if (a.path("componentType").asInt() != 5126
                || width == 0
                || count < 1
                || at < 0
                || stride < 4 * width
                || at + (count - 1L) * stride + 4L * width > bin.capacity())
            throw new BadInput(name + " has numbers in a form that cannot be read");
        float[] out = new float[count * width];
        for (int i = 0; i < count; i++)
            for (int k = 0; k < width; k++) out[i * width + k] = bin.getFloat(at + i * stride + 4 * k);
        return out;
    }

    /** Times and values of a node's animation, or null. */
    float[][] channel(int node, String path) {
        for (JsonNode clip : root.path("animations")) {
            for (JsonNode c : clip.path("channels")) {
                if (c.path("target").path("node").asInt(-1) != node
                        || !c.path("target").path("path").asString("").equals(path)) continue;
                JsonNode s = clip.path("samplers").path(c.path("sampler").asInt());
                float[] t = floats(s.path("input").asInt()),
                        v = floats(s.path("output").asInt());
                if (v.length != t.length * (path.equals("rotation") ? 4 : 3))
                    throw new BadInput(name + " has a curved animation; write it with linear keys");
                return new float[][] {t, v};
            }
        }
        return null;
    }

    private static double[] between(float[] times, double t) {
        int k = 0;
        while (k + 1 < times.length && times[k + 1] <= t) k++;
        double span = k + 1 < times.length ? times[k + 1] - times[k] : 0;
        return new double[] {k, span > 0 ? Math.max(0, Math.min(1, (t - times[k]) / span)) : 0};
    }

    static Vec3 moved(float[][] c, double t) {
        double[] b = between(c[0], t);
        int k = 3 * (int) b[0];
        Vec3 a = new Vec3(c[1][k], c[1][k + 1], c[1][k + 2]);
        return b[1] == 0 ? a : a.lerp(new Vec3(c[1][k + 3], c[1][k + 4], c[1][k + 5]), b[1]);
    }

    static Quat turned(float[][] c, double t) {
        double[] b = between(c[0], t);
        int k = 4 * (int) b[0];
        Quat a = new Quat(c[1][k], c[1][k + 1], c[1][k + 2], c[1][k + 3]).unit();
        return b[1] == 0 ? a : a.slerp(new Quat(c[1][k + 4], c[1][k + 5], c[1][k + 6], c[1][k + 7]).unit(), b[1]);
    }

    Vec3 translation(int node) {
        JsonNode n = root.path("nodes").get(node), v = n.path("translation"), m = n.path("matrix");
        if (m.size() == 16)
            return new Vec3(
                    m.get(12).asDouble(), m.get(13).asDouble(), m.get(14).asDouble());
        return v.size() == 3
                ? new Vec3(v.get(0).asDouble(), v.get(1).asDouble(), v.get(2).asDouble())
                : Vec3.ZERO;
    }

    Quat rotation(int node) {
        JsonNode n = root.path("nodes").get(node), v = n.path("rotation"), m = n.path("matrix");
        if (m.size() == 16)
            return Quat.fromMatrix(new double[] {
                m.get(0).asDouble(),
                m.get(4).asDouble(),
                m.get(8).asDouble(),
                m.get(1).asDouble(),
                m.get(5).asDouble(),
                m.get(9).asDouble(),
                m.get(2).asDouble(),
                m.get(6).asDouble(),
                m.get(10).asDouble()
            });
        return v.size() == 4
                ? new Quat(
                                v.get(0).asDouble(),
                                v.get(1).asDouble(),
                                v.get(2).asDouble(),
                                v.get(3).asDouble())
                        .unit()
                : Quat.IDENTITY;
    }

    /** The transform of what a node hangs on. */
    Pose above(int node) {
        Pose p = Pose.IDENTITY;
        int child = node;
        for (int depth = 0; depth < DEEPEST; depth++) {
            int parent = parent(child);
            if (parent < 0) return p;
            p = new Pose(rotation(parent), translation(parent)).times(p);
            child = parent;
        }
        throw new BadInput(name + " has nodes that hang on themselves");
    }

    private int parent(int child) {
        for (int i = 0; i < root.path("nodes").size(); i++)
            for (JsonNode c : root.path("nodes").get(i).path("children")) if (c.asInt() == child) return i;
        return -1;
    }

    List<SolvedCamera.Point> cloud() {
        List<SolvedCamera.Point> out = new ArrayList<>();
        for (JsonNode mesh : root.path("meshes")) {
            for (JsonNode p : mesh.path("primitives")) {
                if (p.path("mode").asInt(4) != 0) continue;
                float[] v = floats(p.path("attributes").path("POSITION").asInt(-1));
                JsonNode ids = mesh.path("extras").path("ids");
                for (int i = 0; i + 2 < v.length; i += 3)
                    out.add(new SolvedCamera.Point(
                            ids.size() * 3 == v.length ? ids.get(i / 3).asInt() : i / 3 + 1,
                            new Vec3(v[i], v[i + 1], v[i + 2]),
                            0));
                return out;
            }
        }
        return out;
    }
}

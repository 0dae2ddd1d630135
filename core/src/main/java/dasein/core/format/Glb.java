package dasein.core.format;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Builds a binary glTF 2.0 file: data goes into the one buffer, the description is an open JSON tree for the caller to
 * fill.
 */
public final class Glb {
    private static final JsonMapper JSON = new JsonMapper();

    public final ObjectNode root = JSON.createObjectNode();
    private final ByteArrayOutputStream bin = new ByteArrayOutputStream();

    public Glb() {
        root.putObject("asset").put("version", "2.0").put("generator", "Dasein");
        root.put("scene", 0);
    }

    public ArrayNode list(String name) {
        return root.path(name).isArray() ? (ArrayNode) root.get(name) : root.putArray(name);
    }

    /** Appends to a top-level list and tells the new entry's number. */
    public int add(String list, ObjectNode entry) {
        ArrayNode l = list(list);
        l.add(entry);
        return l.size() - 1;
    }

    /** Names an extension as used, once. */
    public void uses(String extension) {
        ArrayNode all = list("extensionsUsed");
        for (JsonNode e : all) if (e.asString("").equals(extension)) return;
        all.add(extension);
    }

    public ObjectNode object() {
        return JSON.createObjectNode();
    }

    private int view(byte[] data, int target) {
        while (bin.size() % 4 != 0) bin.write(0);
        ObjectNode v = object().put("buffer", 0).put("byteOffset", bin.size()).put("byteLength", data.length);
        if (target != 0) v.put("target", target);
        bin.writeBytes(data);
        return add("bufferViews", v);
    }

    /** @param type SCALAR, VEC2, VEC3, VEC4 or MAT4; @param target 34962 for vertex data, 0 for anything else */
    public int floats(float[] data, String type, int target) {
        int width =
                switch (type) {
                    case "SCALAR" -> 1;
                    case "VEC2" -> 2;
                    case "VEC3" -> 3;
                    case "VEC4" -> 4;
                    default -> 16;
                };
        ByteBuffer b = ByteBuffer.allocate(4 * data.length).order(ByteOrder.LITTLE_ENDIAN);
        b.asFloatBuffer().put(data);
        ObjectNode a = object().put("bufferView", view(b.array(), target))
                .put("componentType", 5126)
                .put("count", data.length / width)
                .put("type", type);
        if (width <= 4) {
            float[] lo = new float[width], hi = new float[width];
            java.util.Arrays.fill(lo, Float.POSITIVE_INFINITY);
            java.util.Arrays.fill(hi, Float.NEGATIVE_INFINITY);
            for (int i = 0; i < data.length; i++) {
                lo[i % width] = Math.min(lo[i % width], data[i]);
                hi[i % width] = Math.max(hi[i % width], data[i]);
            }
            ArrayNode min = a.putArray("min"), max = a.putArray("max");
            for (int k = 0; k < width; k++) {
                min.add(lo[k]);
                max.add(hi[k]);
            }
        }
        return add("accessors", a);
    }

    /** Triangle corners as 32-bit numbers. */
    public int indices(int[] data) {
        ByteBuffer b = ByteBuffer.allocate(4 * data.length).order(ByteOrder.LITTLE_ENDIAN);
        b.asIntBuffer().put(data);
        return add(
                "accessors",
                object().put("bufferView", view(b.array(), 34963))
                        .put("componentType", 5125)
                        .put("count", data.length)
                        .put("type", "SCALAR"));
    }

    /** Joint numbers, four for each vertex. */
    public int joints(int[] data) {
        boolean many = false;
        for (int j : data) many |= j > 255;
        ByteBuffer b = ByteBuffer.allocate((many ? 2 : 1) * data.length).order(ByteOrder.LITTLE_ENDIAN);
        for (int j : data) {
            if (many) b.putShort((short) j);
            else b.put((byte) j);
        }
        return add(
                "accessors",
                object().put("bufferView", view(b.array(), 34962))
                        .put("componentType", many ? 5123 : 5121)
                        .put("count", data.length / 4)
                        .put("type", "VEC4"));
    }

    /** A picture and a texture that shows it. */
    public int texture(byte[] picture, String mimeType) {
        int image = add("images", object().put("bufferView", view(picture, 0)).put("mimeType", mimeType));
        return add("textures", object().put("source", image).put("sampler", sampler(false)));
    }

    /** A new clip without channels, last in the list. */
    public ObjectNode clip(String name) {
        ObjectNode o = object().put("name", name);
        o.putArray("samplers");
        o.putArray("channels");
        add("animations", o);
        return o;
    }

    /**
     * Moves a node in a clip.
     *
     * @param path translation, rotation, scale or weights; @param time, values numbers of accessors
     */
    public void channel(ObjectNode clip, int node, String path, int time, int values, String interpolation) {
        ArrayNode samplers = clip.withArray("samplers");
        samplers.addObject()
                .put("input", time)
                .put("interpolation", interpolation)
                .put("output", values);
        clip.withArray("channels")
                .addObject()
                .put("sampler", samplers.size() - 1)
                .putObject("target")
                .put("node", node)
                .put("path", path);
    }

    /** Number of the sampler that clamps or repeats, made when it is first asked for. */
    public int sampler(boolean clamp) {
        int wrap = clamp ? 33071 : 10497;
        ArrayNode all = list("samplers");
        for (int i = 0; i < all.size(); i++) if (all.get(i).path("wrapS").asInt() == wrap) return i;
        return add(
                "samplers",
                object().put("magFilter", 9729)
                        .put("minFilter", 9987)
                        .put("wrapS", wrap)
                        .put("wrapT", wrap));
    }

    public byte[] bytes() {
        while (bin.size() % 4 != 0) bin.write(0);
        if (bin.size() > 0) {
            root.remove("buffers");
            root.putArray("buffers").addObject().put("byteLength", bin.size());
        }
        byte[] json = JSON.writeValueAsString(root).getBytes(StandardCharsets.UTF_8);
        int padded = (json.length + 3) / 4 * 4, body = bin.size() > 0 ? 8 + bin.size() : 0;
        ByteBuffer b = ByteBuffer.allocate(12 + 8 + padded + body).order(ByteOrder.LITTLE_ENDIAN);
        b.putInt(0x46546C67).putInt(2).putInt(b.capacity());
        b.putInt(padded).putInt(0x4E4F534A).put(json);
        while (b.position() < 20 + padded) b.put((byte) ' ');
        if (body > 0) b.putInt(bin.size()).putInt(0x004E4942).put(bin.toByteArray());
        return b.array();
    }

    public void write(Path path) {
        SafeWrite.to(path, tmp -> Files.write(tmp, bytes()));
    }
}

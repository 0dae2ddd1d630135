package dasein.core.model.file;

import dasein.core.BadInput;
import dasein.core.model.Texture;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import javax.imageio.ImageIO;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Makes a packed glTF a plain one: meshes by KHR_draco_mesh_compression and EXT_meshopt_compression, pictures by
 * KHR_texture_basisu and EXT_texture_webp. All later readers, the page's among them, then need no decoder.
 */
final class GltfUnpack {
    private static final String DRACO = "KHR_draco_mesh_compression",
            BASIS = "KHR_texture_basisu",
            WEBP = "EXT_texture_webp";
    private static final List<String> MESHOPT = List.of("EXT_meshopt_compression", "KHR_meshopt_compression");
    private static final Set<String> ALL = Set.of(DRACO, BASIS, WEBP, MESHOPT.get(0), MESHOPT.get(1));
    /** Bytes that all may have together once they are unpacked. */
    private static final long MOST = 1L << 29;

    private final String name;
    private final ObjectNode json;
    /** What each view holds now. */
    private final List<byte[]> views = new ArrayList<>();

    private long size;

    private GltfUnpack(String name, ObjectNode json, byte[] data) {
        this.name = name;
        this.json = json;
        for (JsonNode v : json.path("bufferViews")) views.add(slice(v, data));
    }

    static boolean packed(JsonNode json) {
        for (JsonNode e : json.path("extensionsUsed")) if (ALL.contains(e.asString(""))) return true;
        return false;
    }

    /** A buffer that only stands for what is packed elsewhere. */
    static boolean fallback(JsonNode buffer) {
        for (String m : MESHOPT)
            if (!buffer.has("uri")
                    && buffer.path("extensions").path(m).path("fallback").asBoolean(false)) return true;
        return false;
    }

    /** Where the packed bytes of a view lie; null when it is not packed. */
    static ObjectNode meshopt(JsonNode view) {
        for (String m : MESHOPT) if (view.path("extensions").path(m) instanceof ObjectNode o) return o;
        return null;
    }

    /**
     * The data in which every view holds what is unpacked; the description is changed to it. @throws BadInput when it
     * cannot be unpacked or is too large
     */
    static byte[] data(String name, ObjectNode json, byte[] data) {
        try {
            GltfUnpack u = new GltfUnpack(name, json, data);
            u.meshes();
            u.textures();
            return u.joined();
        } catch (IOException | RuntimeException e) {
            throw e instanceof BadInput b
                    ? b
                    : new BadInput(name + " is damaged: what is packed in it cannot be unpacked", e);
        }
    }

    private BadInput damaged(String why) {
        return new BadInput(name + " is damaged: " + why);
    }

    private byte[] counted(byte[] b) {
        size += b.length;
        if (size > MOST) throw new BadInput(name + " would hold more than " + (MOST >> 20) + " MB once it is unpacked");
        return b;
    }

    private byte[] slice(JsonNode v, byte[] data) {
        JsonNode x = meshopt(v), from = x == null ? v : x;
        long at = from.path("byteOffset").asLong(0),
                length = from.path("byteLength").asLong(-1);
        if (at < 0 || length < 0 || at + length > data.length)
            throw damaged("a part of its data lies outside the file");
        byte[] raw = Arrays.copyOfRange(data, (int) at, (int) (at + length));
        if (x == null) return counted(raw);
        long count = x.path("count").asLong(-1), stride = x.path("byteStride").asLong(-1);
        if (count < 0 || stride < 1 || stride > 256 || size + count * stride > MOST)
            throw damaged("a packed part of it has no size that can be");
        String mode = x.path("mode").asString(""), filter = x.path("filter").asString("NONE");
        byte[] plain = Meshopt.decode(raw, (int) count, (int) stride, mode, filter);
        if (plain == null) throw damaged("a packed part of it cannot be unpacked");
        ((ObjectNode) v).remove("extensions");
        return counted(plain);
    }

    private void meshes() {
        Map<Integer, Draco.Mesh> known = new HashMap<>();
        for (JsonNode m : json.path("meshes")) {
            for (JsonNode p : m.path("primitives")) {
                if (!(p.path("extensions").path(DRACO) instanceof ObjectNode x)) continue;
                int view = view(x);
                Draco.Mesh got = known.get(view);
                if (got == null) known.put(view, got = Draco.decode(name, json, p, views.get(view)));
                write(p, got);
                ((ObjectNode) p.get("extensions")).remove(DRACO);
            }
        }
        // No view may be empty (glTF 2.0).
        for (int v : known.keySet()) views.set(v, new byte[4]);
    }

    private int view(JsonNode of) {
        int v = of.path("bufferView").asInt(-1);
        if (v < 0 || v >= views.size()) throw damaged("a packed part of it lies nowhere");
        return v;
    }

    private void write(JsonNode primitive, Draco.Mesh m) {
        m.attributes().forEach((semantic, v) -> {
            boolean joints = semantic.startsWith("JOINTS");
            ByteBuffer b = ByteBuffer.allocate((joints ? 2 : 4) * v.length).order(ByteOrder.LITTLE_ENDIAN);
            for (float f : v) {
                if (joints) b.putShort((short) Math.round(f));
                else b.putFloat(f);
            }
            ObjectNode a =
                    accessor(primitive.path("attributes").path(semantic), b.array(), joints ? 5123 : 5126, m.count());
            a.put("type", Draco.wide(semantic) == 2 ? "VEC2" : Draco.wide(semantic) == 3 ? "VEC3" : "VEC4");
        });
        ByteBuffer b = ByteBuffer.allocate(4 * m.index().length).order(ByteOrder.LITTLE_ENDIAN);
        b.asIntBuffer().put(m.index());
        accessor(primitive.path("indices"), b.array(), 5125, m.index().length).put("type", "SCALAR");
    }

    private ObjectNode accessor(JsonNode number, byte[] bytes, int component, int count) {
        if (!(json.path("accessors").path(number.asInt(-1)) instanceof ObjectNode a))
            throw damaged("a mesh names numbers that do not exist");
        a.remove(List.of("normalized", "byteOffset", "sparse", "min", "max"));
        a.put("bufferView", add(bytes)).put("componentType", component).put("count", count);
        return a;
    }

    private int add(byte[] bytes) {
        views.add(counted(bytes));
        ArrayNode list =
                json.path("bufferViews").isArray() ? (ArrayNode) json.get("bufferViews") : json.putArray("bufferViews");
        list.addObject().put("buffer", 0);
        return views.size() - 1;
    }

    private void textures() throws IOException {
        for (JsonNode t : json.path("textures")) {
            for (String x : List.of(BASIS, WEBP)) {
                JsonNode source = t.path("extensions").path(x).path("source");
                if (source.isMissingNode()) continue;
                int image = source.asInt(-1);
                // Where a plain picture lies beside it too, that one counts less: the packed one may be the better.
                ((ObjectNode) t).put("source", image);
                ((ObjectNode) t.get("extensions")).remove(x);
                if (json.path("images").path(image) instanceof ObjectNode o
                        && o.path("mimeType")
                                .asString("")
                                .toLowerCase(Locale.ROOT)
                                .matches("image/(ktx2|webp)")) plain(o);
            }
        }
    }

    private void plain(ObjectNode image) throws IOException {
        int v = view(image);
        byte[] packed = views.get(v);
        Texture t;
        if (image.path("mimeType").asString("").endsWith("ktx2")) {
            t = Ktx2.read(name, packed);
        } else {
            try (var in = ImageIO.createImageInputStream(new ByteArrayInputStream(packed))) {
                t = Texture.read(in, name, true, false);
            }
        }
        ByteArrayOutputStream png = new ByteArrayOutputStream();
        ImageIO.write(t.image(), "png", png);
        views.set(v, counted(png.toByteArray()));
        image.put("mimeType", "image/png");
    }

    private byte[] joined() {
        long all = 0;
        for (byte[] v : views) all += (v.length + 3) / 4 * 4L;
        ByteBuffer out = ByteBuffer.allocate((int) all);
        int k = 0;
        for (JsonNode v : json.path("bufferViews")) {
            byte[] b = views.get(k);
            ((ObjectNode) v).put("buffer", 0).put("byteOffset", out.position()).put("byteLength", b.length);
            out.put(b);
            while (out.position() % 4 != 0) out.put((byte) 0);
            views.set(k++, null);
        }
        json.putArray("buffers").addObject().put("byteLength", out.capacity());
        for (String list : List.of("extensionsUsed", "extensionsRequired")) {
            if (!(json.path(list) instanceof ArrayNode a)) continue;
            for (Iterator<JsonNode> i = a.iterator(); i.hasNext(); )
                if (ALL.contains(i.next().asString(""))) i.remove();
            if (a.isEmpty()) json.remove(list);
        }
        return out.array();
    }
}

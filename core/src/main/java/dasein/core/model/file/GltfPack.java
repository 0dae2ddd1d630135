package dasein.core.model.file;

import dasein.core.BadInput;
import dasein.core.model.Model;
import dasein.core.model.Texture;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.URLDecoder;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import javax.imageio.ImageIO;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A glTF 2.0 file taken apart into its description and its data, everything that lies in other files drawn in and what
 * is packed unpacked.
 */
final class GltfPack {
    private static final JsonMapper JSON = new JsonMapper();
    private static final long MAX_BYTES = 1L << 30;

    final String name;
    final ObjectNode json;
    private byte[] data;
    /** Whether anything had to be drawn in or unpacked: the file itself will not do. */
    final boolean changed;

    final List<String> missing = new ArrayList<>();

    GltfPack(String name, ObjectNode json, byte[] data, boolean changed) {
        this.name = name;
        this.json = json;
        this.data = data;
        this.changed = changed;
    }

    long size() {
        return data.length;
    }

    /**
     * @throws BadInput when it is no glTF 2.0, is damaged, or lacks data; a picture that is not there is replaced and
     *     named in {@link #missing}
     */
    static GltfPack of(Path path, Siblings files) {
        String name = path.getFileName().toString();
        try {
            GltfPack p = whole(path, name);
            if (p.changed) p.draw(files);
            return GltfUnpack.packed(p.json) ? p.plain() : p;
        } catch (JacksonException e) {
            throw new BadInput(name + " is damaged: its description cannot be read", e);
        } catch (java.nio.file.NoSuchFileException e) {
            throw new BadInput("there is no model " + name, e);
        } catch (IOException e) {
            throw new BadInput(name + " cannot be read", e);
        }
    }

    /**
     * Of COLLADA, read apart. @param raw with its numbers and axes as they are; @param said gets a sentence for all
     * that is left out
     */
    static GltfPack collada(Path path, Siblings files, boolean raw, List<String> said) {
        String name = path.getFileName().toString();
        try {
            if (Files.size(path) > MAX_BYTES) throw new BadInput(name + " is larger than 1 GB");
            Apart.Made made =
                    Apart.run(raw ? Apart.Work.COLLADA_RAW : Apart.Work.COLLADA, Files.readAllBytes(path), name);
            said.addAll(made.said());
            GltfPack p = new GltfPack(name, made.plain().json, made.plain().data, true);
            p.draw(files);
            return p;
        } catch (IOException e) {
            throw new BadInput(name + " cannot be read", e);
        }
    }

    /** As it lies in the file, nothing drawn in or unpacked. */
    static GltfPack whole(Path path, String name) throws IOException {
        if (Files.size(path) > MAX_BYTES)
            throw new BadInput(name + " is " + (Files.size(path) >> 20) + " MB; at most 1024 MB can be brought in");
        byte[] all = Files.readAllBytes(path);
        ByteBuffer b = ByteBuffer.wrap(all).order(ByteOrder.LITTLE_ENDIAN);
        boolean binary = all.length >= 4 && b.getInt(0) == 0x46546C67;
        byte[] text = all, data = new byte[0];
        if (binary) {
            if (all.length < 20 || Integer.toUnsignedLong(b.getInt(8)) > all.length)
                throw new BadInput(name + " is cut short");
            if (b.getInt(4) != 2)
                throw new BadInput(name + " is glTF version " + b.getInt(4) + "; version 2 is needed");
            int length = b.getInt(12);
            if (length < 2 || length > all.length - 20)
                throw new BadInput(name + " is damaged: its description does not fit in the file");
            text = Arrays.copyOfRange(all, 20, 20 + length);
            int at = 20 + (length + 3) / 4 * 4;
            if (at + 8 <= all.length && b.getInt(at + 4) == 0x004E4942) {
                long n = Integer.toUnsignedLong(b.getInt(at));
                if (at + 8 + n > all.length) throw new BadInput(name + " is cut short");
                data = Arrays.copyOfRange(all, at + 8, (int) (at + 8 + n));
            }
        } else if (all.length == 0
                || new String(all, 0, Math.min(all.length, 64), StandardCharsets.UTF_8)
                                .stripLeading()
                                .indexOf('{')
                        != 0) throw new BadInput(name + " is not a GLB model");
        all = null;
        JsonNode root = JSON.readTree(text);
        if (!(root instanceof ObjectNode o)
                || !o.path("asset").path("version").asString("").startsWith("2"))
            throw new BadInput(name + " is not a glTF 2.0 model");
        return new GltfPack(name, o, data, !binary || outside(o) || GltfUnpack.packed(o));
    }

    private GltfPack plain() throws IOException {
        GltfPack p = Apart.run(Apart.Work.UNPACK, glb(), name).plain(), out = new GltfPack(name, p.json, p.data, true);
        out.missing.addAll(missing);
        return out;
    }

    /** The plain GLB of one that holds all its data but packed. */
    static byte[] unpacked(Path path, String name) throws IOException {
        GltfPack p = whole(path, name);
        p.data = GltfUnpack.data(name, p.json, p.data);
        return p.glb();
    }

    private static boolean outside(ObjectNode o) {
        for (JsonNode b : o.path("buffers")) if (b.has("uri")) return true;
        for (JsonNode i : o.path("images")) if (i.has("uri")) return true;
        return false;
    }

    private void draw(Siblings files) throws IOException {
        ByteArrayOutputStream all = new ByteArrayOutputStream();
        List<Integer> begins = new ArrayList<>();
        int k = 0;
        for (JsonNode b : json.path("buffers")) {
            while (all.size() % 4 != 0) all.write(0);
            begins.add(all.size());
            if (GltfUnpack.fallback(b)) {
                k++;
                continue;
            }
            byte[] bytes = b.has("uri") ? bytes(b.path("uri").asString(""), files) : k == 0 ? data : null;
            if (bytes == null)
                throw new BadInput(name + " keeps its data in another file, "
                        + b.path("uri").asString("") + ": bring that in with it");
            if (bytes.length < b.path("byteLength").asLong(0))
                throw new BadInput(
                        name + " is cut short: its data " + b.path("uri").asString("") + " is too small");
            all.writeBytes(bytes);
            k++;
        }
        for (JsonNode v : json.path("bufferViews")) {
            int of = v.path("buffer").asInt(-1);
            if (of < 0 || of >= begins.size() || !(v instanceof ObjectNode o))
                throw new BadInput(name + " is damaged: a part of its data lies nowhere");
            o.put("buffer", 0)
                    .put("byteOffset", begins.get(of) + v.path("byteOffset").asLong(0));
            ObjectNode x = GltfUnpack.meshopt(v);
            if (x == null) continue;
            of = x.path("buffer").asInt(-1);
            if (of < 0 || of >= begins.size())
                throw new BadInput(name + " is damaged: a part of its data lies nowhere");
            x.put("buffer", 0)
                    .put("byteOffset", begins.get(of) + x.path("byteOffset").asLong(0));
        }
        for (JsonNode i : json.path("images")) {
            if (!i.has("uri") || !(i instanceof ObjectNode o)) continue;
            String uri = i.path("uri").asString("");
            byte[] picture = bytes(uri, files);
            if (picture == null) {
                missing.add(uri.substring(uri.replace('\\', '/').lastIndexOf('/') + 1));
                ByteArrayOutputStream png = new ByteArrayOutputStream();
                ImageIO.write(Texture.chequered().image(), "png", png);
                picture = png.toByteArray();
            }
            while (all.size() % 4 != 0) all.write(0);
            ArrayNode views = json.path("bufferViews").isArray()
                    ? (ArrayNode) json.get("bufferViews")
                    : json.putArray("bufferViews");
            views.addObject().put("buffer", 0).put("byteOffset", all.size()).put("byteLength", picture.length);
            all.writeBytes(picture);
            o.remove("uri");
            o.put("bufferView", views.size() - 1).put("mimeType", kind(picture));
        }
        while (all.size() % 4 != 0) all.write(0);
        data = all.toByteArray();
        json.putArray("buffers").addObject().put("byteLength", data.length);
    }

    /** By its first bytes. */
    private static String kind(byte[] picture) {
        String head = new String(picture, 0, Math.min(picture.length, 12), StandardCharsets.ISO_8859_1);
        return head.startsWith("\u00ff\u00d8")
                ? "image/jpeg"
                : head.startsWith("\u00abKTX 20")
                        ? "image/ktx2"
                        : head.startsWith("RIFF") && head.endsWith("WEBP") ? "image/webp" : "image/png";
    }

    /** Of a data address or of a file that came with it; null when that is not there. */
    private static byte[] bytes(String uri, Siblings files) throws IOException {
        if (uri.startsWith("data:")) {
            int comma = uri.indexOf(',');
            if (comma < 0 || !uri.substring(0, comma).endsWith(";base64")) return null;
            try {
                return Base64.getDecoder().decode(uri.substring(comma + 1));
            } catch (IllegalArgumentException e) {
                return null;
            }
        }
        Path p;
        try {
            p = files.find(URLDecoder.decode(uri.replace("+", "%2B"), StandardCharsets.UTF_8));
        } catch (IllegalArgumentException e) {
            p = files.find(uri);
        }
        if (p == null) return null;
        if (Files.size(p) > MAX_BYTES) throw new BadInput(p.getFileName() + " is larger than 1 GB");
        return Files.readAllBytes(p);
    }

    /**
     * With a further clip for nodes of the same names; all else stays as it is. A clip of the same name is replaced.
     */
    void add(Model model, Model.Clip clip) {
        ByteArrayOutputStream all = new ByteArrayOutputStream();
        all.writeBytes(data);
        ObjectNode animation = JSON.createObjectNode().put("name", clip.name());
        ArrayNode samplers = animation.putArray("samplers"), channels = animation.putArray("channels");
        java.util.Map<float[], Integer> known = new java.util.IdentityHashMap<>();
        for (Model.Channel c : clip.channels()) {
            int node = -1;
            JsonNode nodes = json.path("nodes");
            for (int i = 0; i < nodes.size() && node < 0; i++)
                if (nodes.get(i)
                        .path("name")
                        .asString("")
                        .equals(model.nodes().get(c.node()).name())) node = i;
            if (node < 0) continue;
            int times = known.computeIfAbsent(c.times(), t -> numbers(all, t, "SCALAR", true));
            samplers.addObject()
                    .put("input", times)
                    .put("output", numbers(all, c.values(), c.width() == 4 ? "VEC4" : "VEC3", false))
                    .put("interpolation", "LINEAR");
            channels.addObject()
                    .put("sampler", samplers.size() - 1)
                    .putObject("target")
                    .put("node", node)
                    .put("path", c.property().name().toLowerCase(java.util.Locale.ROOT));
        }
        if (channels.isEmpty()) throw new BadInput(name + " has no nodes by the names the motion moves");
        ArrayNode list =
                json.path("animations").isArray() ? (ArrayNode) json.get("animations") : json.putArray("animations");
        for (int i = list.size() - 1; i >= 0; i--)
            if (list.get(i).path("name").asString("").equals(clip.name())) list.remove(i);
        list.add(animation);
        data = all.toByteArray();
        json.putArray("buffers").addObject().put("byteLength", data.length);
    }

    private int numbers(ByteArrayOutputStream all, float[] v, String type, boolean bounds) {
        while (all.size() % 4 != 0) all.write(0);
        ArrayNode views =
                json.path("bufferViews").isArray() ? (ArrayNode) json.get("bufferViews") : json.putArray("bufferViews");
        views.addObject().put("buffer", 0).put("byteOffset", all.size()).put("byteLength", 4 * v.length);
        ByteBuffer b = ByteBuffer.allocate(4 * v.length).order(ByteOrder.LITTLE_ENDIAN);
        b.asFloatBuffer().put(v);
        all.writeBytes(b.array());
        ArrayNode accessors =
                json.path("accessors").isArray() ? (ArrayNode) json.get("accessors") : json.putArray("accessors");
        int wide = type.equals("SCALAR") ? 1 : type.equals("VEC3") ? 3 : 4;
        ObjectNode a = accessors
                .addObject()
                .put("bufferView", views.size() - 1)
                .put("componentType", 5126)
                .put("count", v.length / wide)
                .put("type", type);
        if (bounds) {
            a.putArray("min").add(v[0]);
            a.putArray("max").add(v[v.length - 1]);
        }
        return accessors.size() - 1;
    }

    /** As one GLB. */
    byte[] glb() {
        byte[] text = JSON.writeValueAsBytes(json);
        int padded = (text.length + 3) / 4 * 4,
                body = (data.length + 3) / 4 * 4,
                all = 20 + padded + (data.length > 0 ? 8 + body : 0);
        ByteBuffer b = ByteBuffer.allocate(all).order(ByteOrder.LITTLE_ENDIAN);
        b.putInt(0x46546C67)
                .putInt(2)
                .putInt(all)
                .putInt(padded)
                .putInt(0x4E4F534A)
                .put(text);
        while (b.position() < 20 + padded) b.put((byte) ' ');
        if (data.length > 0) b.putInt(body).putInt(0x004E4942).put(data);
        return b.array();
    }
}

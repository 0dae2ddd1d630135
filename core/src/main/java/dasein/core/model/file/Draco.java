package dasein.core.model.file;

import dasein.core.BadInput;
import dasein.core.model.Mesh;
import java.nio.ByteBuffer;
import java.util.LinkedHashMap;
import java.util.Map;
import org.lwjgl.assimp.AIColor4D;
import org.lwjgl.assimp.AIFace;
import org.lwjgl.assimp.AIMesh;
import org.lwjgl.assimp.AIScene;
import org.lwjgl.assimp.AIVector3D;
import org.lwjgl.assimp.Assimp;
import org.lwjgl.system.MemoryUtil;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Meshes packed as KHR_draco_mesh_compression says. The library that holds the decoder reads whole files, so each mesh
 * is given to it as a file of its own. It knows joints only with their skeleton; they go through it as colours, which
 * it hands on as they are.
 */
final class Draco {
    private static final JsonMapper JSON = new JsonMapper();
    private static final int MOST = 50_000_000;

    private Draco() {}

    /** @param attributes by their glTF names; {@link #wide} numbers for each of {@code count} vertices */
    record Mesh(int count, Map<String, float[]> attributes, int[] index) {}

    /** Numbers for each vertex. */
    static int wide(String semantic) {
        return semantic.startsWith("TEXCOORD") ? 2 : semantic.equals("POSITION") || semantic.equals("NORMAL") ? 3 : 4;
    }

    /** @param json the description; @param primitive of it, with the extension; @param packed its bytes */
    static Mesh decode(String name, JsonNode json, JsonNode primitive, byte[] packed) {
        Map<String, String> carried = new LinkedHashMap<>();
        JsonNode x = primitive.path("extensions").path("KHR_draco_mesh_compression");
        int colours = 0;
        ObjectNode root = JSON.createObjectNode(), attributes = JSON.createObjectNode(), ids = JSON.createObjectNode();
        ArrayNode accessors = root.putArray("accessors");
        for (Map.Entry<String, JsonNode> e : primitive.path("attributes").properties()) {
            JsonNode a = json.path("accessors").path(e.getValue().asInt(-1));
            String s = e.getKey();
            if (!x.path("attributes").has(s) || s.equals("TANGENT")) continue;
            String as = s.startsWith("JOINTS") || s.startsWith("WEIGHTS") || s.startsWith("COLOR")
                    ? "COLOR_" + colours++
                    : s;
            if (!as.startsWith("COLOR") && !as.matches("POSITION|NORMAL|TEXCOORD_[0-3]")) continue;
            if (!as.startsWith("COLOR") && a.path("componentType").asInt(0) != 5126)
                throw new BadInput(name + " has packed places that are not given as floats; save it without packing");
            if (a.path("count").asLong(-1) < 0 || a.path("count").asLong() > MOST) throw damaged(name);
            attributes.put(as, accessors.size());
            ids.set(as, x.path("attributes").path(s));
            accessors
                    .addObject()
                    .put("componentType", a.path("componentType").asInt(0))
                    .put("count", a.path("count").asInt(0))
                    .put("type", a.path("type").asString(""))
                    .put("normalized", a.path("normalized").asBoolean(false));
            carried.put(s, as);
        }
        JsonNode index = json.path("accessors").path(primitive.path("indices").asInt(-1));
        if (!carried.containsKey("POSITION")
                || index.isMissingNode()
                || index.path("count").asLong(-1) < 0
                || index.path("count").asLong() > MOST
                || colours > 8) throw damaged(name);
        accessors
                .addObject()
                .put("componentType", index.path("componentType").asInt(0))
                .put("count", index.path("count").asInt(0))
                .put("type", "SCALAR");
        ObjectNode p = JSON.createObjectNode()
                .put("mode", primitive.path("mode").asInt(4))
                .put("indices", accessors.size() - 1);
        p.set("attributes", attributes);
        p.putObject("extensions")
                .putObject("KHR_draco_mesh_compression")
                .put("bufferView", 0)
                .set("attributes", ids);
        root.putObject("asset").put("version", "2.0");
        root.put("scene", 0).putArray("scenes").addObject().putArray("nodes").add(0);
        root.putArray("nodes").addObject().put("mesh", 0);
        root.putArray("meshes").addObject().putArray("primitives").add(p);
        root.putArray("buffers").addObject().put("byteLength", packed.length);
        root.putArray("bufferViews").addObject().put("buffer", 0).put("byteLength", packed.length);
        root.putArray("extensionsUsed").add("KHR_draco_mesh_compression");
        root.putArray("extensionsRequired").add("KHR_draco_mesh_compression");
        byte[] whole = new GltfPack(name, root, packed, true).glb();
        return read(name, MemoryUtil.memAlloc(whole.length).put(whole).flip(), carried, json, primitive);
    }

    private static Mesh read(
            String name, ByteBuffer file, Map<String, String> carried, JsonNode json, JsonNode primitive) {
        AIScene scene = null;
        try {
            scene = Assimp.aiImportFileFromMemory(file, 0, "glb");
            if (scene == null || scene.mNumMeshes() != 1) throw damaged(name);
            AIMesh m = AIMesh.create(scene.mMeshes().get(0));
            int n = m.mNumVertices();
            Map<String, float[]> out = new LinkedHashMap<>();
            carried.forEach((semantic, as) -> {
                int set = as.indexOf('_') < 0 ? 0 : Integer.parseInt(as.substring(as.indexOf('_') + 1));
                if (as.startsWith("COLOR"))
                    out.put(
                            semantic,
                            colours(
                                    name,
                                    m.mColors(set),
                                    n,
                                    whole(
                                            semantic,
                                            json.path("accessors")
                                                    .path(primitive
                                                            .path("attributes")
                                                            .path(semantic)
                                                            .asInt(-1))
                                                    .path("componentType")
                                                    .asInt(0))));
                else
                    out.put(
                            semantic,
                            vectors(
                                    name,
                                    as.equals("POSITION")
                                            ? m.mVertices()
                                            : as.equals("NORMAL") ? m.mNormals() : m.mTextureCoords(set),
                                    n,
                                    wide(semantic)));
            });
            int[] index = new int[3 * m.mNumFaces()];
            AIFace.Buffer faces = m.mFaces();
            for (int f = 0; f < m.mNumFaces(); f++) {
                AIFace face = faces.get(f);
                if (face.mNumIndices() != 3) throw damaged(name);
                for (int k = 0; k < 3; k++) index[3 * f + k] = face.mIndices().get(k);
            }
            return new Mesh(n, out, index);
        } finally {
            if (scene != null) Assimp.aiReleaseImport(scene);
            MemoryUtil.memFree(file);
        }
    }

    /** What a colour of 1 stands for. */
    private static float whole(String semantic, int component) {
        if (!semantic.startsWith("JOINTS")) return 1;
        return component == 5121 ? 255 : 65535;
    }

    private static float[] colours(String name, AIColor4D.Buffer c, int n, float one) {
        if (c == null) throw damaged(name);
        float[] out = new float[4 * n];
        MemoryUtil.memFloatBuffer(c.address(), 4 * n).get(out);
        if (one != 1) for (int i = 0; i < out.length; i++) out[i] = Math.round(one * out[i]);
        return out;
    }

    private static float[] vectors(String name, AIVector3D.Buffer v, int n, int wide) {
        if (v == null) throw damaged(name);
        if (wide == 3) return Vectors.xyz(v, n);
        float[] out = new float[2 * n];
        Vectors.uv(v, n, out, 0);
        return out;
    }

    private static BadInput damaged(String name) {
        return new BadInput(name + " is damaged: a packed mesh cannot be unpacked");
    }
}

package dasein.core.model.file;

import com.twelvemonkeys.imageio.stream.ByteArrayImageInputStream;
import dasein.core.BadInput;
import dasein.core.math.Affine;
import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.Texture;
import de.javagl.jgltf.model.AccessorDatas;
import de.javagl.jgltf.model.AccessorModel;
import de.javagl.jgltf.model.AnimationModel;
import de.javagl.jgltf.model.GltfModel;
import de.javagl.jgltf.model.ImageModel;
import de.javagl.jgltf.model.MaterialModel;
import de.javagl.jgltf.model.MeshModel;
import de.javagl.jgltf.model.MeshPrimitiveModel;
import de.javagl.jgltf.model.NodeModel;
import de.javagl.jgltf.model.SkinModel;
import de.javagl.jgltf.model.TextureModel;
import de.javagl.jgltf.model.io.GltfModelReader;
import de.javagl.jgltf.model.v2.MaterialModelV2;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import tools.jackson.databind.JsonNode;

/** Reads GLB (glTF 2.0 in one file). What is missing or not understood is said, never silently left grey. */
public final class ModelReader {
    /** Required extensions that are understood. */
    private static final Set<String> HARMLESS = Set.of(
            "KHR_mesh_quantization",
            "KHR_texture_transform",
            "KHR_materials_unlit",
            "KHR_materials_ior",
            "KHR_materials_specular",
            "KHR_materials_clearcoat",
            "KHR_materials_emissive_strength",
            "KHR_materials_transmission",
            "KHR_materials_volume",
            "KHR_materials_sheen",
            "KHR_materials_anisotropy",
            "KHR_materials_iridescence",
            "KHR_materials_diffuse_transmission");

    /** The library logs what it passes over; it is checked and said here. */
    private static final java.util.logging.Logger QUIET = java.util.logging.Logger.getLogger("de.javagl.jgltf");

    static {
        QUIET.setLevel(java.util.logging.Level.OFF);
    }

    private final String name;
    private final GltfModel gltf;
    private final Map<NodeModel, Integer> nodeNumber = new HashMap<>();
    private final Map<MaterialModel, Integer> materialNumber = new HashMap<>();
    private final List<Material> materials = new ArrayList<>();
    private final Map<String, Texture> textures = new HashMap<>();

    private final JsonNode json;
    private final Set<String> remarks = new java.util.LinkedHashSet<>();

    private final Siblings files;

    private ModelReader(String name, GltfModel gltf, JsonNode json, Siblings files) {
        this.files = files;
        this.json = json;
        this.name = name;
        this.gltf = gltf;
    }

    /** @throws BadInput with a sentence when the file is not a GLB, is damaged, or lacks a texture */
    public static Model read(Path path) {
        Imported i = imported(path, new Siblings(List.of()));
        if (!i.missing().isEmpty())
            throw new BadInput(path.getFileName() + " lacks its texture "
                    + i.missing().get(0) + ": save the model with its textures inside");
        return i.model();
    }

    /**
     * @param files that may be named by it; a picture that is not among them is replaced by a chequered one and named
     */
    static Imported imported(Path path, Siblings files) {
        return imported(path, GltfPack.of(path, files), files);
    }

    /** @param path the file itself, for what needed no drawing in */
    static Imported imported(Path path, GltfPack pack, Siblings files) {
        String name = pack.name;
        for (JsonNode e : pack.json.path("extensionsRequired")) {
            if (!HARMLESS.contains(e.asString("")))
                throw new BadInput(name + " needs the extension " + e.asString("")
                        + ", which cannot be read here; save it without");
        }
        int images = pack.json.path("images").size();
        for (JsonNode t : pack.json.path("textures")) {
            if (!t.has("source")
                    || t.path("source").asInt(-1) < 0
                    || t.path("source").asInt(-1) >= images)
                throw new BadInput(
                        name + " has a texture without a picture, or in a format that cannot be " + "read here");
        }
        GltfCheck.check(name, pack.json, pack.size());
        try {
            GltfModel gltf;
            if (pack.changed) gltf = new GltfModelReader().readWithoutReferences(new ByteArrayInputStream(pack.glb()));
            else gltf = new GltfModelReader().read(path.toAbsolutePath());
            ModelReader r = new ModelReader(name, gltf, pack.json, files);
            Model m = r.model();
            Set<String> remarks = new java.util.LinkedHashSet<>(GltfLayers.remarks(pack.json));
            remarks.addAll(r.remarks);
            return new Imported(m, List.copyOf(remarks), List.copyOf(pack.missing));
        } catch (BadInput e) {
            throw e;
        } catch (IOException | RuntimeException e) {
            throw new BadInput(name + " is damaged: " + firstLine(e), e);
        }
    }

    private static String firstLine(Throwable e) {
        return e.getMessage() == null
                ? "its parts do not fit together"
                : e.getMessage().lines().findFirst().orElse("");
    }

    private Model model() throws IOException {
        List<Model.Node> nodes = new ArrayList<>();
        List<NodeModel> order = new ArrayList<>();
        for (NodeModel n : gltf.getNodeModels()) if (n.getParent() == null) walk(n, -1, nodes, order);
        List<Model.Skin> skins = new ArrayList<>();
        Map<SkinModel, Integer> skinNumber = new HashMap<>();
        for (SkinModel s : gltf.getSkinModels()) {
            skinNumber.put(s, skins.size());
            skins.add(skin(s));
        }
        List<Model.Part> parts = new ArrayList<>();
        for (NodeModel n : order) {
            for (MeshModel m : n.getMeshModels()) {
                for (MeshPrimitiveModel p : m.getMeshPrimitiveModels()) {
                    if (p.getMode() == 0) {
                        remarks.add("Points are left out.");
                        continue;
                    }
                    int skin = n.getSkinModel() == null ? -1 : skinNumber.get(n.getSkinModel());
                    parts.add(part(nodeNumber.get(n), skin, p));
                }
            }
        }
        if (parts.isEmpty()) throw new BadInput(name + " holds no triangles");
        return new Model(name, nodes, parts, skins, clips(), materials.toArray(Material[]::new));
    }

    private void walk(NodeModel n, int parent, List<Model.Node> nodes, List<NodeModel> order) {
        int me = nodes.size();
        nodeNumber.put(n, me);
        order.add(n);
        float[] t = n.getTranslation(), r = n.getRotation(), s = n.getScale(), m = n.getMatrix(), w = n.getWeights();
        if (m != null) {
            Trs u = Trs.of(Affine.ofColumnMajor(m));
            t = u.move();
            r = u.turn();
            s = u.size();
        }
        if (w == null && !n.getMeshModels().isEmpty())
            w = n.getMeshModels().get(0).getWeights();
        nodes.add(new Model.Node(
                n.getName() == null ? "node " + me : n.getName(),
                parent,
                t == null ? new float[3] : t,
                r == null ? new float[] {0, 0, 0, 1} : r,
                s == null ? new float[] {1, 1, 1} : s,
                w == null ? new float[0] : w));
        for (NodeModel c : n.getChildren()) walk(c, me, nodes, order);
    }

    private Model.Skin skin(SkinModel s) {
        int n = s.getJoints().size();
        int[] joints = new int[n];
        double[][] inverse = new double[n][];
        for (int j = 0; j < n; j++) {
            joints[j] = nodeNumber.get(s.getJoints().get(j));
            inverse[j] = s.getInverseBindMatrices() == null
                    ? Affine.identity()
                    : Affine.ofColumnMajor(s.getInverseBindMatrix(j, null));
        }
        return new Model.Skin(joints, inverse);
    }

    private Model.Part part(int node, int skin, MeshPrimitiveModel p) throws IOException {
        Map<String, AccessorModel> at = p.getAttributes();
        float[] pos = floats(at.get("POSITION"));
        int n = pos.length / 3;
        int[] index;
        if (p.getIndices() == null) {
            index = new int[n];
            for (int i = 0; i < index.length; i++) index[i] = i;
        } else {
            index = ints(p.getIndices());
            for (int i : index)
                if (i < 0 || i >= n)
                    throw new BadInput(name + " is damaged: a triangle names a corner that does not exist");
        }
        boolean strands = p.getMode() < Primitives.TRIANGLES;
        if (!strands) index = Primitives.triangles(index, p.getMode());
        for (float v : pos) if (!Float.isFinite(v)) throw new BadInput(name + " is damaged: a place lies nowhere");
        float[] normal = at.containsKey("NORMAL") ? floats(at.get("NORMAL")) : new float[3 * n];
        float[] uv = places(at, n);
        if (normal.length != 3 * n || uv.length != 2 * n && uv.length != 4 * n)
            throw new BadInput(name + " is damaged: its vertices have different numbers of places and normals");
        // Without a normal the facet's own is taken, and a place of the texture that is none is its corner.
        numbers(normal, 3);
        numbers(uv, 1);
        if (at.containsKey("JOINTS_1")) remarks.add("Vertices that follow more than four joints follow four.");
        int[] joints = skin >= 0 && at.containsKey("JOINTS_0") ? ints(at.get("JOINTS_0")) : new int[0];
        float[] weights = joints.length > 0 ? floats(at.get("WEIGHTS_0")) : new float[0];
        if (joints.length > 0) {
            if (joints.length != 4 * n || weights.length != 4 * n)
                throw new BadInput(name + " is damaged: some of its vertices have no joints");
            int most = gltf.getSkinModels().get(skin).getJoints().size();
            for (int j : joints)
                if (j < 0 || j >= most)
                    throw new BadInput(name + " is damaged: a vertex follows a joint that does not exist");
        }
        int targets = p.getTargets().size();
        float[][] mp = new float[targets][], mn = new float[targets][];
        for (int t = 0; t < targets; t++) {
            AccessorModel a = p.getTargets().get(t).get("POSITION"),
                    b = p.getTargets().get(t).get("NORMAL");
            mp[t] = a == null ? null : floats(a);
            mn[t] = b == null ? null : floats(b);
            if (mp[t] != null && mp[t].length != 3 * n || mn[t] != null && mn[t].length != 3 * n)
                throw new BadInput(name + " is damaged: a morph target has other vertices than its mesh");
        }
        Model.Part made = new Model.Part(
                node,
                joints.length == 0 ? -1 : skin,
                pos,
                normal,
                uv,
                index,
                strands ? strand(p.getMaterialModel()) : material(p.getMaterialModel()),
                joints,
                weights,
                mp,
                mn,
                colours(at.get("COLOR_0"), n));
        if (!strands) return made;
        remarks.add(
                at.containsKey("_RADIUS")
                        ? "Lines are strands of hair, as thick as their _RADIUS says."
                        : "Lines are strands of hair, 0.2 mm thick; an attribute _RADIUS would say otherwise.");
        return Strands.of(made, p.getMode(), at.containsKey("_RADIUS") ? floats(at.get("_RADIUS")) : null, name);
    }

    /** In pictures; the second set behind the first. */
    private static float[] places(Map<String, AccessorModel> at, int n) {
        float[] first = at.containsKey("TEXCOORD_0") ? floats(at.get("TEXCOORD_0")) : new float[2 * n];
        if (!at.containsKey("TEXCOORD_1")) return first;
        float[] second = floats(at.get("TEXCOORD_1")), all = Arrays.copyOf(first, first.length + second.length);
        System.arraycopy(second, 0, all, first.length, second.length);
        return all;
    }

    /** Linear, three or four numbers for each vertex (glTF 2.0, 3.7.2.1). */
    private float[] colours(AccessorModel a, int n) {
        if (a == null) return new float[0];
        float[] v = floats(a), out = new float[4 * n];
        int wide = a.getElementType().getNumComponents();
        if (wide < 3 || v.length != wide * n)
            throw new BadInput(name + " is damaged: its vertices have different numbers of places and colours");
        for (int i = 0; i < n; i++)
            for (int k = 0; k < 4; k++) out[4 * i + k] = k < wide ? Math.max(0, Math.min(1, v[wide * i + k])) : 1;
        return out;
    }

    /** The same material, of hair. */
    private int strand(MaterialModel m) throws IOException {
        Material of = materials.get(material(m));
        for (int i = 0; i < materials.size(); i++)
            if (materials.get(i).layers().fine().strand() && materials.get(i).baseColor() == of.baseColor()) return i;
        materials.add(of.with(of.layers().with(new Material.Fine(null, null, null, true))));
        return materials.size() - 1;
    }

    private int material(MaterialModel m) throws IOException {
        Integer known = materialNumber.get(m);
        if (known != null) return known;
        JsonNode said = json.path("materials").path(gltf.getMaterialModels().indexOf(m));
        Material made = m instanceof MaterialModelV2 v
                ? GltfLayers.on(material(v, said), said, this::picture)
                : Material.matt(0.8f, 0.8f, 0.8f);
        materials.add(made);
        materialNumber.put(m, materials.size() - 1);
        return materials.size() - 1;
    }

    private Material material(MaterialModelV2 v, JsonNode said) throws IOException {
        JsonNode pbr = said.path("pbrMetallicRoughness");
        boolean mask = v.getAlphaMode() == MaterialModelV2.AlphaMode.MASK,
                blend = v.getAlphaMode() == MaterialModelV2.AlphaMode.BLEND;
        return new Material(
                v.getName(),
                v.getBaseColorFactor().clone(),
                picture(pbr.path("baseColorTexture"), true),
                v.getMetallicFactor(),
                v.getRoughnessFactor(),
                picture(pbr.path("metallicRoughnessTexture"), false),
                picture(said.path("normalTexture"), false),
                v.getNormalScale(),
                v.getEmissiveFactor().clone(),
                picture(said.path("emissiveTexture"), true),
                mask ? v.getAlphaCutoff() : 0,
                blend,
                v.isDoubleSided());
    }

    /** As a material names it, laid on by the set of places it says, moved as it says (KHR_texture_transform). */
    private Texture picture(JsonNode texture, boolean colour) throws IOException {
        int number = texture.path("index").asInt(-1);
        if (texture.isMissingNode() || number < 0) return null;
        if (number >= gltf.getTextureModels().size())
            throw new BadInput(name + " is damaged: a material names a texture that does not exist");
        JsonNode x = texture.path("extensions").path("KHR_texture_transform");
        int set = x.path("texCoord").asInt(texture.path("texCoord").asInt(0));
        if (set > 1) remarks.add("Of the sets of texture places beyond the second the second is taken.");
        return texture(gltf.getTextureModels().get(number), colour)
                .placed(Math.max(0, Math.min(1, set)), x.isMissingNode() ? null : moved(x));
    }

    private static float[] moved(JsonNode x) {
        double sx = x.path("scale").path(0).asDouble(1),
                sy = x.path("scale").path(1).asDouble(1);
        double r = x.path("rotation").asDouble(0), c = Math.cos(r), s = Math.sin(r);
        return new float[] {
            (float) (c * sx),
            (float) (s * sy),
            (float) x.path("offset").path(0).asDouble(0),
            (float) (-s * sx),
            (float) (c * sy),
            (float) x.path("offset").path(1).asDouble(0)
        };
    }

    private Texture texture(TextureModel t, boolean colour) throws IOException {
        if (t == null) return null;
        ImageModel im = t.getImageModel();
        if (im == null || im.getImageData() == null) throw new BadInput(name + " lacks the picture of a texture");
        boolean clamp = t.getWrapS() != null && t.getWrapS() == 33071;
        String key = System.identityHashCode(im) + " " + colour + clamp;
        Texture known = textures.get(key);
        if (known != null) return known;
        ByteBuffer data = im.getImageData().duplicate();
        byte[] bytes = new byte[data.remaining()];
        data.get(bytes);
        // Some readers look at a picture's end first.
        try (var in = new ByteArrayImageInputStream(bytes)) {
            Texture made = files.fit(Texture.read(in, name, colour, clamp));
            textures.put(key, made);
            return made;
        }
    }

    private List<Model.Clip> clips() {
        List<Model.Clip> out = new ArrayList<>();
        for (AnimationModel a : gltf.getAnimationModels()) {
            List<Model.Channel> channels = new ArrayList<>();
            float end = 0;
            for (AnimationModel.Channel c : a.getChannels()) {
                Model.Property property =
                        switch (c.getPath()) {
                            case "translation" -> Model.Property.TRANSLATION;
                            case "rotation" -> Model.Property.ROTATION;
                            case "scale" -> Model.Property.SCALE;
                            case "weights" -> Model.Property.WEIGHTS;
                            default -> null;
                        };
                if (c.getNodeModel() == null || property == null) continue;
                float[] times = floats(c.getSampler().getInput()),
                        values = floats(c.getSampler().getOutput());
                if (times.length == 0) continue;
                Model.Interpolation i =
                        switch (c.getSampler().getInterpolation()) {
                            case STEP -> Model.Interpolation.STEP;
                            case CUBICSPLINE -> Model.Interpolation.CUBIC;
                            default -> Model.Interpolation.LINEAR;
                        };
                int width = values.length / times.length / (i == Model.Interpolation.CUBIC ? 3 : 1);
                int node = nodeNumber.get(c.getNodeModel()),
                        wanted =
                                switch (property) {
                                    case TRANSLATION, SCALE -> 3;
                                    case ROTATION -> 4;
                                    case WEIGHTS -> width;
                                };
                if (width != wanted
                        || width < 1
                        || values.length < width * times.length * (i == Model.Interpolation.CUBIC ? 3 : 1))
                    throw new BadInput(name + " is damaged: a clip has too few numbers");
                for (int k = 0; k < times.length; k++)
                    if (!(times[k] >= 0 && times[k] < 1e5) || k > 0 && times[k] < times[k - 1])
                        throw new BadInput(name + " is damaged: the times of a clip do not rise");
                for (float v : values)
                    if (!Float.isFinite(v)) throw new BadInput(name + " is damaged: a clip leads nowhere");
                channels.add(new Model.Channel(node, property, times, values, width, i));
                end = Math.max(end, times[times.length - 1]);
            }
            out.add(new Model.Clip(a.getName() == null ? "clip " + (out.size() + 1) : a.getName(), end, channels));
        }
        return out;
    }

    /** Where any of a group is no number, all of it becomes 0. */
    private static void numbers(float[] v, int group) {
        for (int i = 0; i < v.length; i++)
            if (!Float.isFinite(v[i])) Arrays.fill(v, i - i % group, i - i % group + group, 0);
    }

    /** All numbers of an accessor as float; normalised integers are brought to [0, 1] or [-1, 1]. */
    private static float[] floats(AccessorModel a) {
        int n = a.getCount() * a.getElementType().getNumComponents();
        float[] out = new float[n];
        if (AccessorDatas.isFloatType(a.getComponentType())) {
            ByteBuffer b = a.getAccessorData().createByteBuffer().order(ByteOrder.nativeOrder());
            b.asFloatBuffer().get(out);
            return out;
        }
        int[] v = ints(a);
        float k = a.isNormalized()
                ? switch (a.getComponentType()) {
                    case 5120 -> 127f;
                    case 5121 -> 255f;
                    case 5122 -> 32767f;
                    default -> 65535f;
                }
                : 1;
        for (int i = 0; i < n; i++) out[i] = Math.max(-1, v[i] / k);
        if (!a.isNormalized()) for (int i = 0; i < n; i++) out[i] = v[i];
        return out;
    }

    private static int[] ints(AccessorModel a) {
        int n = a.getCount() * a.getElementType().getNumComponents();
        int[] out = new int[n];
        ByteBuffer b = a.getAccessorData().createByteBuffer().order(ByteOrder.nativeOrder());
        for (int i = 0; i < n; i++) {
            out[i] = switch (a.getComponentType()) {
                case 5120 -> b.get(i);
                case 5121 -> b.get(i) & 0xff;
                case 5122 -> b.getShort(2 * i);
                case 5123 -> b.getShort(2 * i) & 0xffff;
                default -> b.getInt(4 * i);
            };
        }
        return out;
    }
}

package dasein.core.scene;

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
import dasein.core.BadInput;
import dasein.core.math.Affine;
import dasein.core.math.Quat;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import javax.imageio.ImageIO;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Reads GLB (glTF 2.0 in one file). What is missing or not understood is said, never silently left grey. */
public final class ModelReader {
    private static final long MAX_BYTES = 1L << 30;
    private static final int MAX_TEXTURE_SIDE = 16384;
    /** Required extensions that are understood: plain integer attributes instead of floats. */
    private static final Set<String> HARMLESS = Set.of("KHR_mesh_quantization");

    private final String name;
    private final GltfModel gltf;
    private final Map<NodeModel, Integer> nodeNumber = new HashMap<>();
    private final Map<MaterialModel, Integer> materialNumber = new HashMap<>();
    private final List<Material> materials = new ArrayList<>();
    private final Map<String, Texture> textures = new HashMap<>();

    private ModelReader(String name, GltfModel gltf) {
        this.name = name;
        this.gltf = gltf;
    }

    /** @throws BadInput with a sentence when the file is not a GLB, is damaged, or lacks a texture */
    public static Model read(Path path) {
        String name = path.getFileName().toString();
        check(path, name);
        try {
            return new ModelReader(name, new GltfModelReader().read(path)).model();
        } catch (BadInput e) {
            throw e;
        } catch (IOException | RuntimeException e) {
            throw new BadInput(name + " is damaged: " + firstLine(e), e);
        }
    }

    private static String firstLine(Throwable e) { return e.getMessage() == null ? "its parts do not fit together" : e.getMessage().lines().findFirst().orElse(""); }

    /** Looks at the JSON chunk before the library does, for what it would pass over in silence. */
    private static void check(Path path, String name) {
        JsonNode json;
        try (InputStream in = Files.newInputStream(path)) {
            long size = Files.size(path);
            byte[] head = in.readNBytes(20);
            ByteBuffer b = ByteBuffer.wrap(head).order(ByteOrder.LITTLE_ENDIAN);
            if (head.length < 20 || b.getInt(0) != 0x46546C67) throw new BadInput(name + " is not a GLB model");
            if (b.getInt(4) != 2) throw new BadInput(name + " is glTF version " + b.getInt(4) + "; version 2 is needed");
            if (size > MAX_BYTES) throw new BadInput(name + " is larger than 1 GB");
            if (Integer.toUnsignedLong(b.getInt(8)) > size) throw new BadInput(name + " is cut short");
            int length = b.getInt(12);
            if (length < 2 || length > size - 20) throw new BadInput(name + " is damaged: its description does not fit in the file");
            json = new JsonMapper().readTree(in.readNBytes(length));
        } catch (IOException | tools.jackson.core.JacksonException e) {
            throw new BadInput(e instanceof java.nio.file.NoSuchFileException ? "there is no model " + name : name + " is damaged: its description cannot be read", e);
        }
        for (JsonNode e : json.path("extensionsRequired")) {
            if (!HARMLESS.contains(e.asString())) throw new BadInput(name + " needs the extension " + e.asString() + ", which cannot be read here; save it without");
        }
        for (JsonNode i : json.path("images")) {
            String uri = i.path("uri").asString("");
            if (!uri.isEmpty() && !uri.startsWith("data:")) throw new BadInput(name + " lacks its texture " + uri + ": save the model with its textures inside");
        }
        for (JsonNode i : json.path("buffers")) {
            if (!i.path("uri").asString("data:").startsWith("data:")) throw new BadInput(name + " keeps its data in another file, " + i.path("uri").asString("") + ": save it as one GLB");
        }
        int images = json.path("images").size();
        for (JsonNode t : json.path("textures")) {
            if (!t.has("source") || t.path("source").asInt(-1) >= images) throw new BadInput(name + " has a texture without a picture, or in a format that cannot be read here");
        }
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
                    if (p.getMode() != 4) continue;
                    parts.add(part(nodeNumber.get(n), n.getSkinModel() == null ? -1 : skinNumber.get(n.getSkinModel()), p));
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
            double[] a = Affine.ofColumnMajor(m);
            t = new float[] {m[12], m[13], m[14]};
            s = new float[3];
            double det = a[0] * (a[5] * a[10] - a[6] * a[9]) - a[1] * (a[4] * a[10] - a[6] * a[8]) + a[2] * (a[4] * a[9] - a[5] * a[8]);
            for (int k = 0; k < 3; k++) s[k] = (float) Math.sqrt(a[k] * a[k] + a[4 + k] * a[4 + k] + a[8 + k] * a[8 + k]) * (k == 0 && det < 0 ? -1 : 1);
            double[] q = new double[9];
            for (int i = 0; i < 3; i++) for (int k = 0; k < 3; k++) q[3 * i + k] = a[4 * i + k] / s[k];
            Quat u = Quat.fromMatrix(q);
            r = new float[] {(float) u.x(), (float) u.y(), (float) u.z(), (float) u.w()};
        }
        if (w == null && !n.getMeshModels().isEmpty()) w = n.getMeshModels().get(0).getWeights();
        nodes.add(new Model.Node(n.getName() == null ? "node " + me : n.getName(), parent, t == null ? new float[3] : t, r == null ? new float[] {0, 0, 0, 1} : r,
            s == null ? new float[] {1, 1, 1} : s, w == null ? new float[0] : w));
        for (NodeModel c : n.getChildren()) walk(c, me, nodes, order);
    }

    private Model.Skin skin(SkinModel s) {
        int n = s.getJoints().size();
        int[] joints = new int[n];
        double[][] inverse = new double[n][];
        for (int j = 0; j < n; j++) {
            joints[j] = nodeNumber.get(s.getJoints().get(j));
            inverse[j] = s.getInverseBindMatrices() == null ? Affine.identity() : Affine.ofColumnMajor(s.getInverseBindMatrix(j, null));
        }
        return new Model.Skin(joints, inverse);
    }

    private Model.Part part(int node, int skin, MeshPrimitiveModel p) throws IOException {
        Map<String, AccessorModel> at = p.getAttributes();
        float[] pos = floats(at.get("POSITION"));
        int n = pos.length / 3;
        int[] index;
        if (p.getIndices() == null) {
            index = new int[n / 3 * 3];
            for (int i = 0; i < index.length; i++) index[i] = i;
        } else {
            index = ints(p.getIndices());
            for (int i : index) if (i < 0 || i >= n) throw new BadInput(name + " is damaged: a triangle names a corner that does not exist");
        }
        float[] normal = at.containsKey("NORMAL") ? floats(at.get("NORMAL")) : new float[3 * n];
        float[] uv = at.containsKey("TEXCOORD_0") ? floats(at.get("TEXCOORD_0")) : new float[2 * n];
        int[] joints = skin >= 0 && at.containsKey("JOINTS_0") ? ints(at.get("JOINTS_0")) : new int[0];
        float[] weights = joints.length > 0 ? floats(at.get("WEIGHTS_0")) : new float[0];
        int targets = p.getTargets().size();
        float[][] mp = new float[targets][], mn = new float[targets][];
        for (int t = 0; t < targets; t++) {
            AccessorModel a = p.getTargets().get(t).get("POSITION"), b = p.getTargets().get(t).get("NORMAL");
            mp[t] = a == null ? null : floats(a);
            mn[t] = b == null ? null : floats(b);
        }
        return new Model.Part(node, joints.length == 0 ? -1 : skin, pos, normal, uv, index, material(p.getMaterialModel()), joints, weights, mp, mn);
    }

    private int material(MaterialModel m) throws IOException {
        Integer known = materialNumber.get(m);
        if (known != null) return known;
        Material made = m instanceof MaterialModelV2 v ? material(v) : Material.matt(0.8f, 0.8f, 0.8f);
        materials.add(made);
        materialNumber.put(m, materials.size() - 1);
        return materials.size() - 1;
    }

    private Material material(MaterialModelV2 v) throws IOException {
        boolean mask = v.getAlphaMode() == MaterialModelV2.AlphaMode.MASK, blend = v.getAlphaMode() == MaterialModelV2.AlphaMode.BLEND;
        return new Material(v.getName(), v.getBaseColorFactor().clone(), texture(v.getBaseColorTexture(), true), v.getMetallicFactor(), v.getRoughnessFactor(),
            texture(v.getMetallicRoughnessTexture(), false), texture(v.getNormalTexture(), false), v.getNormalScale(), v.getEmissiveFactor().clone(),
            texture(v.getEmissiveTexture(), true), mask ? v.getAlphaCutoff() : 0, blend, v.isDoubleSided());
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
        try (var in = ImageIO.createImageInputStream(new ByteArrayInputStream(bytes))) {
            var readers = ImageIO.getImageReaders(in);
            if (!readers.hasNext()) throw new BadInput(name + " has a texture in a format that cannot be read here; PNG and JPEG can");
            var reader = readers.next();
            reader.setInput(in);
            if (reader.getWidth(0) > MAX_TEXTURE_SIDE || reader.getHeight(0) > MAX_TEXTURE_SIDE) throw new BadInput(name + " has a texture larger than " + MAX_TEXTURE_SIDE + " pixels");
            BufferedImage bi = reader.read(0);
            Texture made = Texture.of(bi, colour, clamp);
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
                Model.Property property = switch (c.getPath()) {
                    case "translation" -> Model.Property.TRANSLATION;
                    case "rotation" -> Model.Property.ROTATION;
                    case "scale" -> Model.Property.SCALE;
                    case "weights" -> Model.Property.WEIGHTS;
                    default -> null;
                };
                if (c.getNodeModel() == null || property == null) continue;
                float[] times = floats(c.getSampler().getInput()), values = floats(c.getSampler().getOutput());
                if (times.length == 0) continue;
                Model.Interpolation i = switch (c.getSampler().getInterpolation()) {
                    case STEP -> Model.Interpolation.STEP;
                    case CUBICSPLINE -> Model.Interpolation.CUBIC;
                    default -> Model.Interpolation.LINEAR;
                };
                int width = values.length / times.length / (i == Model.Interpolation.CUBIC ? 3 : 1);
                channels.add(new Model.Channel(nodeNumber.get(c.getNodeModel()), property, times, values, width, i));
                end = Math.max(end, times[times.length - 1]);
            }
            out.add(new Model.Clip(a.getName() == null ? "clip " + (out.size() + 1) : a.getName(), end, channels));
        }
        return out;
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
        float k = a.isNormalized() ? switch (a.getComponentType()) {
            case 5120 -> 127f;
            case 5121 -> 255f;
            case 5122 -> 32767f;
            default -> 65535f;
        } : 1;
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

package dasein.core.model.file;

import dasein.core.format.Glb;
import dasein.core.format.SafeWrite;
import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.Texture;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import javax.imageio.ImageIO;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Writes a model as GLB: what was read from other formats is kept so, and what was made here can be taken away. */
public final class ModelGlb {
    private final Model model;
    private final Glb glb = new Glb();
    /** By a picture's codes: one that is laid on in several ways is written once. */
    private final Map<Object, Integer> textures = new IdentityHashMap<>();

    private final GltfLayersOut layers = new GltfLayersOut(glb, this::texture);

    private ModelGlb(Model model) {
        this.model = model;
    }

    public static void write(Path path, Model model) {
        SafeWrite.to(path, tmp -> Files.write(tmp, bytes(model)));
    }

    public static byte[] bytes(Model model) {
        return glb(model).bytes();
    }

    /** To be added to: its one scene, and its clips, stand first in their lists. */
    public static Glb glb(Model model) {
        return new ModelGlb(model).all();
    }

    private Glb all() {
        for (Material m : model.materials()) material(m);
        List<ObjectNode> nodes = new ArrayList<>();
        ObjectNode scene = glb.object();
        ArrayNode top = scene.putArray("nodes");
        for (int i = 0; i < model.nodes().size(); i++) {
            Model.Node n = model.nodes().get(i);
            ObjectNode o = glb.object().put("name", n.name());
            put(o, "translation", n.translation(), new float[3]);
            put(o, "rotation", n.rotation(), new float[] {0, 0, 0, 1});
            put(o, "scale", n.scale(), new float[] {1, 1, 1});
            nodes.add(o);
            if (n.parent() < 0) top.add(i);
            else nodes.get(n.parent()).withArray("children").add(i);
            int at = i;
            List<Model.Part> mine =
                    model.parts().stream().filter(p -> p.node() == at).toList();
            if (mine.isEmpty()) continue;
            o.put("mesh", mesh(mine, n));
            int skin = mine.stream().mapToInt(Model.Part::skin).max().orElse(-1);
            if (skin >= 0) o.put("skin", skin);
        }
        for (ObjectNode n : nodes) glb.add("nodes", n);
        for (Model.Skin s : model.skins()) skin(s);
        for (Model.Clip c : model.clips()) clip(c);
        glb.add("scenes", scene);
        return glb;
    }

    private static void put(ObjectNode o, String name, float[] v, float[] usual) {
        if (java.util.Arrays.equals(v, usual)) return;
        ArrayNode a = o.putArray(name);
        for (float x : v) a.add(x);
    }

    private int mesh(List<Model.Part> parts, Model.Node node) {
        ObjectNode mesh = glb.object();
        ArrayNode primitives = mesh.putArray("primitives");
        for (Model.Part p : parts) {
            ObjectNode prim = primitives.addObject(), at = prim.putObject("attributes");
            at.put("POSITION", glb.floats(p.position(), "VEC3", 34962));
            if (whole(p.normal())) at.put("NORMAL", glb.floats(p.normal(), "VEC3", 34962));
            int pairs = 2 * p.vertices();
            at.put("TEXCOORD_0", glb.floats(java.util.Arrays.copyOf(p.uv(), pairs), "VEC2", 34962));
            if (p.uv().length > pairs)
                at.put(
                        "TEXCOORD_1",
                        glb.floats(java.util.Arrays.copyOfRange(p.uv(), pairs, p.uv().length), "VEC2", 34962));
            if (p.colour().length > 0) at.put("COLOR_0", glb.floats(p.colour(), "VEC4", 34962));
            if (p.skin() >= 0) {
                at.put("JOINTS_0", glb.joints(used(p)));
                at.put("WEIGHTS_0", glb.floats(p.weights(), "VEC4", 34962));
            }
            for (int t = 0; t < p.morphPosition().length; t++) {
                ObjectNode target = prim.withArray("targets").addObject();
                target.put(
                        "POSITION",
                        glb.floats(
                                p.morphPosition()[t] == null ? new float[p.position().length] : p.morphPosition()[t],
                                "VEC3",
                                34962));
                if (p.morphNormal()[t] != null) target.put("NORMAL", glb.floats(p.morphNormal()[t], "VEC3", 34962));
            }
            prim.put("indices", glb.indices(p.index())).put("material", p.material());
        }
        if (node.morphWeights().length > 0) {
            ArrayNode w = mesh.putArray("weights");
            for (float x : node.morphWeights()) w.add(x);
        }
        return glb.add("meshes", mesh);
    }

    /** Its joints; where a joint has no weight it is the first, as the format wants it. */
    private static int[] used(Model.Part p) {
        int[] out = p.joints().clone();
        for (int i = 0; i < out.length; i++) if (p.weights()[i] == 0) out[i] = 0;
        return out;
    }

    /** All normals of a part have a length; where some have none they are left out and the faces' own serve. */
    private static boolean whole(float[] normal) {
        if (normal.length == 0) return false;
        for (int i = 0; i < normal.length; i += 3)
            if (Math.abs(normal[i] * normal[i] + normal[i + 1] * normal[i + 1] + normal[i + 2] * normal[i + 2] - 1)
                    > 0.01) return false;
        return true;
    }

    private void skin(Model.Skin s) {
        ObjectNode o = glb.object();
        float[] inverse = new float[16 * s.joints().length];
        ArrayNode joints = o.putArray("joints");
        for (int j = 0; j < s.joints().length; j++) {
            joints.add(s.joints()[j]);
            for (int r = 0; r < 3; r++)
                for (int c = 0; c < 4; c++) inverse[16 * j + 4 * c + r] = (float) s.inverseBind()[j][4 * r + c];
            inverse[16 * j + 15] = 1;
        }
        o.put("inverseBindMatrices", glb.floats(inverse, "MAT4", 0));
        glb.add("skins", o);
    }

    private void clip(Model.Clip c) {
        if (c.channels().isEmpty()) return;
        ObjectNode o = glb.clip(c.name());
        // Channels that share their times share the numbers.
        Map<float[], Integer> times = new java.util.IdentityHashMap<>();
        for (Model.Channel k : c.channels()) {
            int time = times.computeIfAbsent(k.times(), t -> glb.floats(t, "SCALAR", 0));
            String type = k.property() == Model.Property.WEIGHTS
                    ? "SCALAR"
                    : k.property() == Model.Property.ROTATION ? "VEC4" : "VEC3";
            String interpolation =
                    switch (k.interpolation()) {
                        case STEP -> "STEP";
                        case LINEAR -> "LINEAR";
                        case CUBIC -> "CUBICSPLINE";
                    };
            glb.channel(
                    o,
                    k.node(),
                    k.property().name().toLowerCase(java.util.Locale.ROOT),
                    time,
                    glb.floats(k.values(), type, 0),
                    interpolation);
        }
    }

    private void material(Material m) {
        ObjectNode o = glb.object().put("name", m.name() == null ? "material" : m.name());
        ObjectNode pbr = o.putObject("pbrMetallicRoughness");
        put(pbr, "baseColorFactor", m.baseColor(), new float[] {1, 1, 1, 1});
        pbr.put("metallicFactor", m.metallic()).put("roughnessFactor", m.roughness());
        texture(pbr, "baseColorTexture", m.baseTexture());
        texture(pbr, "metallicRoughnessTexture", m.metalRoughTexture());
        texture(o, "normalTexture", m.normalTexture());
        if (m.normalTexture() != null) ((ObjectNode) o.get("normalTexture")).put("scale", m.normalScale());
        put(o, "emissiveFactor", m.emissive(), new float[3]);
        texture(o, "emissiveTexture", m.emissiveTexture());
        if (m.blend()) o.put("alphaMode", "BLEND");
        else if (m.alphaCutoff() > 0) o.put("alphaMode", "MASK").put("alphaCutoff", m.alphaCutoff());
        if (m.doubleSided()) o.put("doubleSided", true);
        layers.write(m, o);
        glb.add("materials", o);
    }

    private void texture(ObjectNode in, String name, Texture t) {
        if (t == null) return;
        Integer known = textures.get(t.codes());
        if (known == null) {
            known = glb.texture(png(t.image()), "image/png");
            ((ObjectNode) glb.list("textures").get(known)).put("sampler", glb.sampler(t.clamp()));
            textures.put(t.codes(), known);
        }
        ObjectNode o = in.putObject(name).put("index", known);
        if (t.set() > 0) o.put("texCoord", t.set());
        float[] m = t.map();
        if (m == null) return;
        // KHR_texture_transform: first its size, then its turn, then its move.
        glb.uses("KHR_texture_transform");
        ObjectNode x = o.putObject("extensions").putObject("KHR_texture_transform");
        double wide = Math.hypot(m[0], m[3]), high = Math.hypot(m[1], m[4]);
        boolean mirrored = m[0] * m[4] - m[1] * m[3] < 0;
        x.putArray("offset").add(m[2]).add(m[5]);
        x.put("rotation", Math.atan2(-m[3], m[0]));
        x.putArray("scale").add(wide).add(mirrored ? -high : high);
    }

    private static byte[] png(BufferedImage bi) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            ImageIO.write(bi, "png", out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }
}

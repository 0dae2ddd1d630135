package dasein.shoot;

import dasein.core.format.Glb;
import dasein.core.format.Stills;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Lays shapes, paints, nodes, a skin and clips into a GLB. */
final class ModelFile {
    final Glb glb = new Glb();

    /** @param emission linear colour, null for none */
    int material(String name, Paint p, float[] emission) throws IOException {
        ObjectNode m = glb.object().put("name", name);
        ObjectNode pbr = m.putObject("pbrMetallicRoughness");
        pbr.putObject("baseColorTexture").put("index", glb.texture(jpeg(p.colour, 0.86f), "image/jpeg"));
        pbr.putObject("metallicRoughnessTexture").put("index", glb.texture(jpeg(p.metalRough, 0.8f), "image/jpeg"));
        m.putObject("normalTexture").put("index", glb.texture(jpeg(p.normal, 0.86f), "image/jpeg"));
        if (emission != null) {
            ArrayNode e = m.putArray("emissiveFactor");
            for (float v : emission) e.add(v);
        }
        return glb.add("materials", m);
    }

    int plain(String name, float[] rgb, float metal, float rough, float[] emission) {
        ObjectNode m = glb.object().put("name", name);
        ObjectNode pbr =
                m.putObject("pbrMetallicRoughness").put("metallicFactor", metal).put("roughnessFactor", rough);
        pbr.putArray("baseColorFactor").add(rgb[0]).add(rgb[1]).add(rgb[2]).add(1f);
        if (emission != null)
            m.putArray("emissiveFactor").add(emission[0]).add(emission[1]).add(emission[2]);
        return glb.add("materials", m);
    }

    /** What glows, brighter than white by a factor. */
    int lit(String name, float[] rgb, float[] emission, double strength) {
        int m = plain(name, rgb, 0, 0.3f, emission);
        glb.uses("KHR_materials_emissive_strength");
        ((ObjectNode) glb.list("materials").get(m))
                .putObject("extensions")
                .putObject("KHR_materials_emissive_strength")
                .put("emissiveStrength", strength);
        return m;
    }

    /** Thin clear glass. */
    int glass(String name, float rough) {
        int m = plain(name, new float[] {1, 1, 1}, 0, rough, null);
        glb.uses("KHR_materials_transmission");
        ((ObjectNode) glb.list("materials").get(m))
                .putObject("extensions")
                .putObject("KHR_materials_transmission")
                .put("transmissionFactor", 0.95);
        return m;
    }

    private static byte[] jpeg(BufferedImage b, float quality) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        Stills.writeJpeg(out, b, quality);
        return out.toByteArray();
    }

    /** A mesh of shapes, one primitive each. */
    int mesh(String name, List<Shape> shapes, List<Integer> materials, boolean skinned) {
        ObjectNode m = glb.object().put("name", name);
        ArrayNode prims = m.putArray("primitives");
        for (int k = 0; k < shapes.size(); k++) {
            Shape s = shapes.get(k);
            ObjectNode p = prims.addObject();
            ObjectNode a = p.putObject("attributes");
            a.put("POSITION", glb.floats(s.positions(), "VEC3", 34962));
            a.put("NORMAL", glb.floats(s.normals(), "VEC3", 34962));
            a.put("TEXCOORD_0", glb.floats(s.uvs(), "VEC2", 34962));
            if (skinned) {
                a.put("JOINTS_0", glb.joints(java.util.Arrays.copyOf(s.joints, 4 * s.vertices)));
                a.put("WEIGHTS_0", glb.floats(java.util.Arrays.copyOf(s.weights, 4 * s.vertices), "VEC4", 34962));
            }
            p.put("indices", glb.indices(s.indices())).put("material", materials.get(k));
        }
        return glb.add("meshes", m);
    }

    ObjectNode node(String name, Vec3 t) {
        ObjectNode n = glb.object().put("name", name);
        n.putArray("translation").add(t.x()).add(t.y()).add(t.z());
        return n;
    }

    /** Keys of one node property; the times' accessor is shared by the caller. */
    void channel(ObjectNode clip, int node, String path, int times, float[] values, String type) {
        ArrayNode samplers =
                clip.path("samplers").isArray() ? (ArrayNode) clip.get("samplers") : clip.putArray("samplers");
        ArrayNode channels =
                clip.path("channels").isArray() ? (ArrayNode) clip.get("channels") : clip.putArray("channels");
        samplers.addObject()
                .put("input", times)
                .put("interpolation", "LINEAR")
                .put("output", glb.floats(values, type, 0));
        channels.addObject()
                .put("sampler", samplers.size() - 1)
                .putObject("target")
                .put("node", node)
                .put("path", path);
    }

    static float[] quats(List<Quat> q) {
        float[] v = new float[4 * q.size()];
        Quat before = Quat.IDENTITY;
        for (int i = 0; i < q.size(); i++) {
            Quat u = q.get(i);
            if (u.x() * before.x() + u.y() * before.y() + u.z() * before.z() + u.w() * before.w() < 0)
                u = new Quat(-u.x(), -u.y(), -u.z(), -u.w());
            before = u;
            v[4 * i] = (float) u.x();
            v[4 * i + 1] = (float) u.y();
            v[4 * i + 2] = (float) u.z();
            v[4 * i + 3] = (float) u.w();
        }
        return v;
    }

    static float[] vectors(List<Vec3> p) {
        float[] v = new float[3 * p.size()];
        for (int i = 0; i < p.size(); i++) {
            v[3 * i] = (float) p.get(i).x();
            v[3 * i + 1] = (float) p.get(i).y();
            v[3 * i + 2] = (float) p.get(i).z();
        }
        return v;
    }

    void write(Path path, List<Integer> roots) {
        ArrayNode nodes = glb.object().putArray("nodes");
        for (int r : roots) nodes.add(r);
        ObjectNode scene = glb.object();
        scene.set("nodes", nodes);
        glb.add("scenes", scene);
        glb.write(path);
    }

    static List<Float> times(int n, double seconds) {
        List<Float> t = new ArrayList<>();
        for (int i = 0; i <= n; i++) t.add((float) (seconds * i / n));
        return t;
    }
}

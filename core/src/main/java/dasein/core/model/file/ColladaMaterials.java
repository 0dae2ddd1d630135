package dasein.core.model.file;

import dasein.core.format.Glb;
import dasein.core.model.Material;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.lwjgl.assimp.AIColor4D;
import org.lwjgl.assimp.AIMaterial;
import org.lwjgl.assimp.AIScene;
import org.lwjgl.assimp.AIString;
import org.lwjgl.assimp.Assimp;
import tools.jackson.databind.node.ObjectNode;

/** COLLADA's materials (lambert, phong, blinn, constant), read as metal and rough. */
final class ColladaMaterials {
    /** A picture of a material, by the name that the file gives it. */
    private record Shown(String file, int set, boolean clamp) {}

    private record Pictures(Shown base, Shown glow, Shown bumps) {}

    private final List<Material> materials = new ArrayList<>();
    private final List<Pictures> pictures = new ArrayList<>();

    ColladaMaterials(AIScene scene, Set<String> remarks) {
        for (int i = 0; i < scene.mNumMaterials(); i++)
            add(AIMaterial.create(scene.mMaterials().get(i)), remarks);
        if (materials.isEmpty()) {
            materials.add(Material.matt(0.8f, 0.8f, 0.8f));
            pictures.add(new Pictures(null, null, null));
        }
    }

    List<Material> materials() {
        return materials;
    }

    private void add(AIMaterial m, Set<String> remarks) {
        Shown base = shown(m, Assimp.aiTextureType_DIFFUSE),
                glow = shown(m, Assimp.aiTextureType_EMISSIVE),
                bumps = shown(m, Assimp.aiTextureType_NORMALS),
                cut = shown(m, Assimp.aiTextureType_OPACITY);
        if (shown(m, Assimp.aiTextureType_HEIGHT) != null)
            remarks.add("Bump maps are not shown; save a normal map instead.");
        boolean same = cut != null && base != null && cut.file.equals(base.file);
        if (cut != null && !same) remarks.add("Opacity maps apart from the colour's picture are not shown.");
        float[] colour = colour(m, Assimp.AI_MATKEY_COLOR_DIFFUSE, base != null ? 1 : 0.8f);
        // With a picture there is no colour beside it in the format; what is said all the same is a default.
        if (base != null) colour = new float[] {1, 1, 1, 1};
        float opacity = number(m, Assimp.AI_MATKEY_OPACITY, 1);
        // Writers that mean the opposite of what the format says leave all clear (common practice).
        if (!(opacity > 0) || same) opacity = 1;
        colour[3] = Math.min(1, opacity);
        float[] mirrors = colour(m, Assimp.AI_MATKEY_COLOR_SPECULAR, 0);
        float shine = number(m, Assimp.AI_MATKEY_SHININESS, 0);
        materials.add(new Material(
                text(m),
                colour,
                null,
                0,
                mirrors[0] + mirrors[1] + mirrors[2] > 0 && shine > 0 ? Mtl.roughness(shine) : 0.8f,
                null,
                null,
                1,
                java.util.Arrays.copyOf(colour(m, Assimp.AI_MATKEY_COLOR_EMISSIVE, 0), 3),
                null,
                same ? 0.5f : 0,
                opacity < 1,
                true));
        pictures.add(new Pictures(base, glow, bumps));
    }

    private static String text(AIMaterial m) {
        try (AIString s = AIString.calloc()) {
            return Assimp.aiGetMaterialString(m, Assimp.AI_MATKEY_NAME, 0, 0, s) == 0
                            && !s.dataString().isBlank()
                    ? s.dataString()
                    : "material";
        }
    }

    private static float[] colour(AIMaterial m, String key, float otherwise) {
        try (AIColor4D c = AIColor4D.calloc()) {
            if (Assimp.aiGetMaterialColor(m, key, 0, 0, c) != 0)
                return new float[] {otherwise, otherwise, otherwise, 1};
            return new float[] {part(c.r()), part(c.g()), part(c.b()), 1};
        }
    }

    private static float part(float v) {
        return v >= 0 ? Math.min(1, v) : 0;
    }

    private static float number(AIMaterial m, String key, float otherwise) {
        float[] out = new float[1];
        int[] most = {1};
        return Assimp.aiGetMaterialFloatArray(m, key, 0, 0, out, most) == 0 && Float.isFinite(out[0])
                ? out[0]
                : otherwise;
    }

    private static Shown shown(AIMaterial m, int kind) {
        try (AIString s = AIString.calloc()) {
            int[] set = {0}, wrap = {0, 0};
            if (Assimp.aiGetMaterialTexture(m, kind, 0, s, null, set, null, null, wrap, null) != 0) return null;
            String file = s.dataString();
            // A star and a number stand for one within the file, which the format has not.
            if (file.isBlank() || file.startsWith("*")) return null;
            return new Shown(file, Math.max(0, Math.min(1, set[0])), wrap[0] == Assimp.aiTextureMapMode_Clamp);
        }
    }

    /** Names the pictures in a GLB that was written of the materials, in their order. */
    void pictures(Glb to) {
        Map<String, Integer> images = new HashMap<>();
        for (int i = 0; i < pictures.size(); i++) {
            ObjectNode m = (ObjectNode) to.list("materials").get(i);
            Pictures p = pictures.get(i);
            if (p.base != null)
                texture(to, images, m.withObject("/pbrMetallicRoughness").putObject("baseColorTexture"), p.base);
            if (p.bumps != null) texture(to, images, m.putObject("normalTexture"), p.bumps);
            if (p.glow != null) {
                texture(to, images, m.putObject("emissiveTexture"), p.glow);
                m.putArray("emissiveFactor").add(1).add(1).add(1);
            }
        }
    }

    private static void texture(Glb to, Map<String, Integer> images, ObjectNode in, Shown s) {
        int image =
                images.computeIfAbsent(s.file, f -> to.add("images", to.object().put("uri", f.replace('\\', '/'))));
        in.put("index", to.add("textures", to.object().put("source", image).put("sampler", to.sampler(s.clamp))));
        if (s.set > 0) in.put("texCoord", s.set);
    }
}

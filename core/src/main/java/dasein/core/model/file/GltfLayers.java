package dasein.core.model.file;

import dasein.core.model.Material;
import dasein.core.model.Texture;
import java.io.IOException;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import tools.jackson.databind.JsonNode;

/** What glTF's material extensions say of a material, by the formulas of their specifications (Khronos). */
final class GltfLayers {
    /** What is understood beside these is nothing a picture shows, or is read elsewhere. */
    private static final Set<String> READ = Set.of(
            "KHR_materials_emissive_strength",
            "KHR_materials_unlit",
            "KHR_materials_ior",
            "KHR_materials_specular",
            "KHR_materials_clearcoat",
            "KHR_materials_transmission",
            "KHR_materials_sheen",
            "KHR_materials_volume",
            "KHR_materials_anisotropy",
            "KHR_materials_iridescence",
            "KHR_materials_diffuse_transmission",
            "KHR_texture_transform",
            "KHR_mesh_quantization",
            "KHR_xmp_json_ld",
            "KHR_materials_variants");

    private static final Map<String, String> SAID = Map.of("KHR_lights_punctual", "Its lights are left out.");

    private static final String BRUSHED = "KHR_materials_anisotropy",
            FILM = "KHR_materials_iridescence",
            LEAF = "KHR_materials_diffuse_transmission";

    private GltfLayers() {}

    /** Sentences on what a file uses and is not understood. */
    static Set<String> remarks(JsonNode json) {
        Set<String> out = new TreeSet<>();
        for (JsonNode e : json.path("extensionsUsed")) {
            String n = e.asString("");
            if (!READ.contains(n)) out.add(SAID.getOrDefault(n, "Its extension " + n + " is left out."));
        }
        if (json.path("cameras").size() > 0) out.add("Its cameras are left out.");
        for (JsonNode m : json.path("materials")) {
            JsonNode x = m.path("extensions");
            if (x.path("KHR_materials_transmission").path("transmissionFactor").asDouble(0) > 0
                    && !body(x)
                    && tinted(m.path("pbrMetallicRoughness"))) out.add("Thin glass is clear, its tint is left out.");
            for (JsonNode e : x) {
                if (e.has("thicknessTexture"))
                    out.add("A picture of the thickness of glass is left out: its shape counts.");
                if (e.has("clearcoatNormalTexture")) out.add("A coat's own bumps are left out.");
            }
            if (m.has("occlusionTexture"))
                out.add("Its occlusion picture is left out: the renderer finds what is hidden.");
        }
        return out;
    }

    private static boolean tinted(JsonNode pbr) {
        boolean out = pbr.has("baseColorTexture");
        for (int c = 0; c < 3; c++) out |= pbr.path("baseColorFactor").path(c).asDouble(1) < 1;
        return out;
    }

    /** Finds the picture that a texture of the description names; null where it names none. */
    interface Finds {
        Texture picture(JsonNode texture, boolean colour) throws IOException;
    }

    private static Material.Pictures pictures(JsonNode x, Finds finds) throws IOException {
        JsonNode coat = x.path("KHR_materials_clearcoat"),
                sheen = x.path("KHR_materials_sheen"),
                spec = x.path("KHR_materials_specular");
        JsonNode film = x.path(FILM), leaf = x.path(LEAF);
        Material.Pictures p = new Material.Pictures(
                finds.picture(coat.path("clearcoatTexture"), false),
                finds.picture(coat.path("clearcoatRoughnessTexture"), false),
                finds.picture(sheen.path("sheenColorTexture"), true),
                finds.picture(sheen.path("sheenRoughnessTexture"), false),
                finds.picture(spec.path("specularTexture"), false),
                finds.picture(spec.path("specularColorTexture"), true),
                finds.picture(x.path("KHR_materials_transmission").path("transmissionTexture"), false),
                finds.picture(x.path(BRUSHED).path("anisotropyTexture"), false),
                finds.picture(film.path("iridescenceTexture"), false),
                finds.picture(film.path("iridescenceThicknessTexture"), false),
                finds.picture(leaf.path("diffuseTransmissionTexture"), false),
                finds.picture(leaf.path("diffuseTransmissionColorTexture"), true));
        return p.equals(Material.Pictures.NONE) ? null : p;
    }

    private static Material.Fine fine(JsonNode x) {
        JsonNode brushed = x.path(BRUSHED), film = x.path(FILM), leaf = x.path(LEAF);
        float strength = part(brushed.path("anisotropyStrength").asDouble(0)),
                colours = part(film.path("iridescenceFactor").asDouble(0)),
                other = part(leaf.path("diffuseTransmissionFactor").asDouble(0));
        if (strength == 0 && colours == 0 && other == 0) return Material.Fine.NONE;
        JsonNode c = leaf.path("diffuseTransmissionColorFactor");
        float[] tint = {
            part(c.path(0).asDouble(1)),
            part(c.path(1).asDouble(1)),
            part(c.path(2).asDouble(1))
        };
        return new Material.Fine(
                strength == 0
                        ? null
                        : new Material.Brushed(strength, (float)
                                brushed.path("anisotropyRotation").asDouble(0)),
                colours == 0
                        ? null
                        : new Material.Iridescent(
                                colours,
                                (float) Math.max(
                                        1,
                                        Math.min(4, film.path("iridescenceIor").asDouble(1.3))),
                                nanometres(
                                        film.path("iridescenceThicknessMinimum").asDouble(100)),
                                nanometres(
                                        film.path("iridescenceThicknessMaximum").asDouble(400))),
                other == 0 ? null : new Material.Leaf(other, tint),
                false);
    }

    private static float nanometres(double v) {
        return (float) Math.max(0, Math.min(1e5, v));
    }

    /** @param m of the description */
    static Material on(Material made, JsonNode m, Finds finds) throws IOException {
        JsonNode x = m.path("extensions");
        if (x.isEmpty()) return made;
        double ior = x.path("KHR_materials_ior").path("ior").asDouble(1.5),
                strength =
                        x.path("KHR_materials_emissive_strength")
                                .path("emissiveStrength")
                                .asDouble(1);
        JsonNode spec = x.path("KHR_materials_specular"), coat = x.path("KHR_materials_clearcoat");
        // An index of 0 stands for one that mirrors all (KHR_materials_ior).
        double f = ior == 0 ? 1 : Math.pow((ior - 1) / (ior + 1), 2),
                k = spec.path("specularFactor").asDouble(1);
        float[] f0 = new float[3], glow = made.emissive().clone();
        for (int c = 0; c < 3; c++) {
            f0[c] = (float) Math.max(
                    0,
                    Math.min(
                            1,
                            Math.min(
                                            1,
                                            f
                                                    * spec.path("specularColorFactor")
                                                            .path(c)
                                                            .asDouble(1))
                                    * k));
            glow[c] *= (float) Math.max(0, Math.min(1e4, strength));
        }
        Material.Layers l = new Material.Layers(
                f0,
                part(coat.path("clearcoatFactor").asDouble(0)),
                Math.max(0.02f, part(coat.path("clearcoatRoughnessFactor").asDouble(0))),
                part(x.path("KHR_materials_transmission")
                        .path("transmissionFactor")
                        .asDouble(0)),
                x.has("KHR_materials_unlit"),
                0,
                sheen(x.path("KHR_materials_sheen")),
                body(x) ? glass(x.path("KHR_materials_volume"), ior) : null,
                fine(x),
                pictures(x, finds));
        return new Material(
                made.name(),
                made.baseColor(),
                made.baseTexture(),
                made.metallic(),
                made.roughness(),
                made.metalRoughTexture(),
                made.normalTexture(),
                made.normalScale(),
                glow,
                made.emissiveTexture(),
                made.alphaCutoff(),
                made.blend(),
                made.doubleSided(),
                l);
    }

    /** Whether it fills what it encloses. */
    private static boolean body(JsonNode x) {
        return x.path("KHR_materials_volume").path("thicknessFactor").asDouble(0) > 0;
    }

    private static Material.Sheen sheen(JsonNode x) {
        float[] c = new float[3];
        for (int k = 0; k < 3; k++)
            c[k] = part(x.path("sheenColorFactor").path(k).asDouble(0));
        return c[0] + c[1] + c[2] > 0
                ? new Material.Sheen(c, part(x.path("sheenRoughnessFactor").asDouble(0)))
                : null;
    }

    private static Material.Glass glass(JsonNode x, double ior) {
        float[] a = new float[3];
        double far = x.path("attenuationDistance").asDouble(Double.POSITIVE_INFINITY);
        // Beer's law: after that distance the attenuation colour is left.
        for (int k = 0; k < 3; k++)
            a[k] = far > 0 && far < 1e9
                    ? (float) (-Math.log(Math.max(
                                    1e-4,
                                    Math.min(
                                            1,
                                            x.path("attenuationColor").path(k).asDouble(1))))
                            / far)
                    : 0;
        return new Material.Glass((float) Math.max(1, Math.min(4, ior)), a);
    }

    private static float part(double v) {
        return (float) Math.max(0, Math.min(1, v));
    }
}

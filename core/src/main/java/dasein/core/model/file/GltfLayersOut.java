package dasein.core.model.file;

import dasein.core.format.Glb;
import dasein.core.model.Material;
import dasein.core.model.Texture;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Writes a material's layers as glTF's extensions: what {@link GltfLayers} reads comes back as it was. */
final class GltfLayersOut {
    /** Hangs a picture on a description by a name. */
    interface Hangs {
        void picture(ObjectNode in, String name, Texture t);
    }

    private final Glb glb;
    private final Hangs hangs;
    private ObjectNode extensions;

    GltfLayersOut(Glb glb, Hangs hangs) {
        this.glb = glb;
        this.hangs = hangs;
    }

    /** @param to the material's description, its emission written already */
    void write(Material m, ObjectNode to) {
        extensions = to.objectNode();
        Material.Layers l = m.layers();
        Material.Pictures p = l.pictures() == null ? Material.Pictures.NONE : l.pictures();
        mirrors(l, p);
        if (l.coat() > 0) {
            ObjectNode x = extension("KHR_materials_clearcoat")
                    .put("clearcoatFactor", l.coat())
                    .put("clearcoatRoughnessFactor", l.coatRoughness());
            hangs.picture(x, "clearcoatTexture", p.coat());
            hangs.picture(x, "clearcoatRoughnessTexture", p.coatRoughness());
        }
        if (l.clear() > 0)
            hangs.picture(
                    extension("KHR_materials_transmission").put("transmissionFactor", l.clear()),
                    "transmissionTexture",
                    p.clear());
        if (l.unlit()) extension("KHR_materials_unlit");
        if (l.sheen() != null) {
            ObjectNode x = extension("KHR_materials_sheen")
                    .put("sheenRoughnessFactor", l.sheen().roughness());
            numbers(x.putArray("sheenColorFactor"), l.sheen().colour());
            hangs.picture(x, "sheenColorTexture", p.sheen());
            hangs.picture(x, "sheenRoughnessTexture", p.sheenRoughness());
        }
        if (l.glass() != null) glass(l.glass());
        fine(l.fine(), p);
        glow(m.emissive(), to);
        if (!extensions.isEmpty()) to.set("extensions", extensions);
    }

    private ObjectNode extension(String name) {
        glb.uses(name);
        return extensions.putObject(name);
    }

    private static void numbers(ArrayNode to, float... v) {
        for (float x : v) to.add(x);
    }

    /** The index that gives the strongest colour's reflectance, and the others as its colour (Fresnel, head on). */
    private void mirrors(Material.Layers l, Material.Pictures p) {
        float[] f0 = l.f0();
        double most = Math.max(f0[0], Math.max(f0[1], f0[2]));
        double f = l.glass() == null
                ? most
                : Math.pow((l.glass().ior() - 1) / (l.glass().ior() + 1), 2);
        double root = Math.sqrt(most);
        double ior = l.glass() != null ? l.glass().ior() : most >= 1 ? 0 : (1 + root) / (1 - root);
        if (Math.abs(ior - 1.5) > 1e-4) extension("KHR_materials_ior").put("ior", ior);
        boolean coloured = f > 0 && (f0[0] < f || f0[1] < f || f0[2] < f);
        if (!coloured && p.specular() == null && p.specularColour() == null) return;
        ObjectNode x = extension("KHR_materials_specular");
        if (coloured)
            numbers(x.putArray("specularColorFactor"), (float) (f0[0] / f), (float) (f0[1] / f), (float) (f0[2] / f));
        hangs.picture(x, "specularTexture", p.specular());
        hangs.picture(x, "specularColorTexture", p.specularColour());
    }

    /** Beer's law at the distance after which the strongest absorption leaves 1/e. */
    private void glass(Material.Glass g) {
        float most = Math.max(g.absorbs()[0], Math.max(g.absorbs()[1], g.absorbs()[2]));
        ObjectNode x = extension("KHR_materials_volume").put("thicknessFactor", 1);
        if (!(most > 0)) return;
        x.put("attenuationDistance", 1 / most);
        ArrayNode c = x.putArray("attenuationColor");
        for (float a : g.absorbs()) c.add((float) Math.exp(-a / most));
    }

    private void fine(Material.Fine f, Material.Pictures p) {
        if (f.brushed() != null)
            hangs.picture(
                    extension("KHR_materials_anisotropy")
                            .put("anisotropyStrength", f.brushed().strength())
                            .put("anisotropyRotation", f.brushed().angle()),
                    "anisotropyTexture",
                    p.brushed());
        if (f.film() != null) {
            ObjectNode x = extension("KHR_materials_iridescence")
                    .put("iridescenceFactor", f.film().strength())
                    .put("iridescenceIor", f.film().ior())
                    .put("iridescenceThicknessMinimum", f.film().thinnest())
                    .put("iridescenceThicknessMaximum", f.film().thickest());
            hangs.picture(x, "iridescenceTexture", p.film());
            hangs.picture(x, "iridescenceThicknessTexture", p.filmThickness());
        }
        if (f.leaf() != null) {
            ObjectNode x = extension("KHR_materials_diffuse_transmission")
                    .put("diffuseTransmissionFactor", f.leaf().part());
            numbers(x.putArray("diffuseTransmissionColorFactor"), f.leaf().colour());
            hangs.picture(x, "diffuseTransmissionTexture", p.leaf());
            hangs.picture(x, "diffuseTransmissionColorTexture", p.leafColour());
        }
    }

    /** Factors go up to one; what is brighter has a strength. */
    private void glow(float[] e, ObjectNode to) {
        float most = Math.max(e[0], Math.max(e[1], e[2]));
        if (most <= 1) return;
        numbers(to.putArray("emissiveFactor"), e[0] / most, e[1] / most, e[2] / most);
        extension("KHR_materials_emissive_strength").put("emissiveStrength", most);
    }
}

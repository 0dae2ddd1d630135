package dasein.core.render;

import dasein.core.model.Material;
import dasein.core.model.Texture;

/** A material's layers at one place: their factors, by what their pictures say there. Mutable and reused. */
final class LayerLook {
    float coat, coatRoughness, clear, sheenRoughness;
    /** Reflectance of what is not metal, head on. */
    final float[] f0 = new float[3];
    /** 0 for none. */
    final float[] sheen = new float[3];

    private final float[] texel = new float[4];

    /** @param u, v place in the texture; @param across part of it that is seen; @param textured whether it has one */
    void at(Material.Layers l, float u, float v, float across, boolean textured) {
        coat = l.coat();
        coatRoughness = l.coatRoughness();
        clear = l.clear();
        sheenRoughness = l.sheen() == null ? 0 : l.sheen().roughness();
        for (int c = 0; c < 3; c++) {
            f0[c] = l.f0()[c];
            sheen[c] = l.sheen() == null ? 0 : l.sheen().colour()[c];
        }
        Material.Pictures p = l.pictures();
        if (p == null || !textured) return;
        coat *= of(p.coat(), 0, u, v, across);
        coatRoughness *= of(p.coatRoughness(), 1, u, v, across);
        clear *= of(p.clear(), 0, u, v, across);
        sheenRoughness *= of(p.sheenRoughness(), 3, u, v, across);
        colour(p.sheen(), sheen, u, v, across);
        float strength = of(p.specular(), 3, u, v, across);
        for (int c = 0; c < 3; c++) f0[c] *= strength;
        colour(p.specularColour(), f0, u, v, across);
    }

    private float of(Texture t, int channel, float u, float v, float across) {
        if (t == null) return 1;
        t.sample(u, v, across, texel);
        return texel[channel];
    }

    private void colour(Texture t, float[] to, float u, float v, float across) {
        if (t == null) return;
        t.sample(u, v, across, texel);
        for (int c = 0; c < 3; c++) to[c] *= texel[c];
    }
}

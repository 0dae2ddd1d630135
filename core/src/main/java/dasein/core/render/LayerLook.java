package dasein.core.render;

import dasein.core.model.Material;
import dasein.core.model.Texture;
import dasein.core.model.TexturePlace;

/** A material's layers at one place: their factors, by what their pictures say there. Mutable and reused. */
final class LayerLook {
    float coat, coatRoughness, clear, sheenRoughness;
    /** Reflectance of what is not metal, head on. */
    final float[] f0 = new float[3];
    /** 0 for none. */
    final float[] sheen = new float[3];
    /** How strongly it is brushed, and along which way between where u and where v grows. */
    float brushed, alongU, alongV;
    /** Strength of a thin film, its index and thickness in nanometres. */
    float film, filmIor, filmThickness;
    /** Part of what is scattered that comes out on the other side, and its colour. */
    float leaf;

    final float[] leafColour = new float[3];

    private final float[] texel = new float[4];
    private TexturePlace place;

    /** @param place where in the pictures; null where the mesh has no places for them */
    void at(Material.Layers l, TexturePlace place) {
        Material.Pictures p = place == null || l.pictures() == null ? Material.Pictures.NONE : l.pictures();
        this.place = place;
        coat = l.coat() * of(p.coat(), 0);
        coatRoughness = l.coatRoughness() * of(p.coatRoughness(), 1);
        clear = l.clear() * of(p.clear(), 0);
        sheenRoughness = l.sheen() == null ? 0 : l.sheen().roughness() * of(p.sheenRoughness(), 3);
        float strength = of(p.specular(), 3);
        for (int c = 0; c < 3; c++) {
            f0[c] = strength * l.f0()[c];
            sheen[c] = l.sheen() == null ? 0 : l.sheen().colour()[c];
        }
        colour(p.sheen(), sheen);
        colour(p.specularColour(), f0);
        brushed = film = leaf = 0;
        if (l.fine() != Material.Fine.NONE) fine(l.fine(), p);
    }

    private void fine(Material.Fine f, Material.Pictures p) {
        if (f.brushed() != null) {
            brushed = f.brushed().strength();
            alongU = (float) Math.cos(f.brushed().angle());
            alongV = (float) Math.sin(f.brushed().angle());
            if (p.brushed() != null) {
                place.read(p.brushed(), texel);
                brushed *= texel[2];
                float x = 2 * texel[0] - 1, y = 2 * texel[1] - 1, l = (float) Math.sqrt(x * x + y * y), u = alongU;
                if (l > 1e-3f) {
                    alongU = (u * x - alongV * y) / l;
                    alongV = (alongV * x + u * y) / l;
                }
            }
        }
        if (f.film() != null) {
            film = f.film().strength() * of(p.film(), 0);
            filmIor = f.film().ior();
            float k = of(p.filmThickness(), 1);
            filmThickness =
                    f.film().thinnest() + k * (f.film().thickest() - f.film().thinnest());
        }
        if (f.leaf() != null) {
            leaf = f.leaf().part() * of(p.leaf(), 3);
            System.arraycopy(f.leaf().colour(), 0, leafColour, 0, 3);
            colour(p.leafColour(), leafColour);
        }
    }

    private float of(Texture t, int channel) {
        if (t == null) return 1;
        place.read(t, texel);
        return texel[channel];
    }

    private void colour(Texture t, float[] to) {
        if (t == null) return;
        place.read(t, texel);
        for (int c = 0; c < 3; c++) to[c] *= texel[c];
    }
}

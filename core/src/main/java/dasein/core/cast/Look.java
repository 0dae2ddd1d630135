package dasein.core.cast;

import dasein.core.model.Material;
import dasein.core.model.Texture;
import java.util.List;
import java.util.function.Function;

/**
 * What is changed about one of a performer's materials; kept apart from the model, so that another model with materials
 * of the same names keeps it. Null leaves a thing as the model has it.
 *
 * @param material its name; empty for all that have no look of their own
 * @param colour linear, in place of the base colour's; @param roughness, metallic in place of the factors
 * @param emission linear, as bright as it is; {@code mask} where it glows: null by the model's emissive texture,
 *     {@link #BRIGHT} or {@link #DARK} by its base texture, else by a picture of that name, white for all
 * @param normals factor of the normal map's strength
 * @param brightness factor of the texture; @param contrast about middle grey; @param tint linear factor of the texture
 * @param opacity 0 to 1; @param twoSided seen from behind as well
 * @param scatterMm how far light goes within it, millimetres: skin, wax, leaves; 0 not at all
 */
public record Look(
        String material,
        List<Double> colour,
        Double roughness,
        Double metallic,
        List<Double> emission,
        Double normals,
        Double brightness,
        Double contrast,
        List<Double> tint,
        Double opacity,
        Boolean twoSided,
        Double scatterMm,
        String mask) {
    public static final String BRIGHT = "BRIGHT", DARK = "DARK";

    public static Look none(String material) {
        return new Look(material, null, null, null, null, null, null, null, null, null, null, null, null);
    }

    /** How many times as bright as a colour up to 1 something glows. */
    public static double level(List<Double> emission) {
        return Math.max(1, emission.stream().mapToDouble(v -> v).max().orElse(0));
    }

    /** Whether anything is changed. */
    public boolean empty() {
        return equals(none(material));
    }

    /** Name of the picture that masks what glows; null when none is needed. */
    public String picture() {
        return mask == null || mask.equals(BRIGHT) || mask.equals(DARK) ? null : mask;
    }

    /** The same with another picture as its mask. */
    public Look maskedBy(String picture) {
        return new Look(
                material,
                colour,
                roughness,
                metallic,
                emission,
                normals,
                brightness,
                contrast,
                tint,
                opacity,
                twoSided,
                scatterMm,
                picture);
    }

    /** The material with it. @param pictures by their names */
    public Material on(Material m, Function<String, Texture> pictures) {
        float[] base = m.baseColor().clone();
        if (colour != null) for (int k = 0; k < 3; k++) base[k] = colour.get(k).floatValue();
        Texture texture = m.baseTexture();
        if (texture != null && (brightness != null || contrast != null || tint != null)) {
            texture = texture.graded(
                    brightness == null ? 1 : brightness,
                    contrast == null ? 1 : contrast,
                    tint == null
                            ? new double[] {1, 1, 1}
                            : tint.stream().mapToDouble(v -> v).toArray());
        } else if (texture == null && tint != null) {
            for (int k = 0; k < 3; k++) base[k] *= tint.get(k).floatValue();
        }
        if (opacity != null) base[3] *= opacity.floatValue();
        float[] glow = m.emissive();
        if (emission != null)
            glow = new float[] {
                emission.get(0).floatValue(),
                emission.get(1).floatValue(),
                emission.get(2).floatValue()
            };
        return new Material(
                m.name(),
                base,
                texture,
                metallic == null ? m.metallic() : metallic.floatValue(),
                roughness == null ? m.roughness() : roughness.floatValue(),
                m.metalRoughTexture(),
                m.normalTexture(),
                m.normalScale() * (normals == null ? 1 : normals.floatValue()),
                glow,
                glows(m, pictures),
                m.alphaCutoff(),
                m.blend() || opacity != null && opacity < 1,
                twoSided == null ? m.doubleSided() : twoSided,
                scatterMm == null ? m.layers() : m.layers().scattering(scatterMm.floatValue() / 1000));
    }

    private Texture glows(Material m, Function<String, Texture> pictures) {
        if (mask == null) return m.emissiveTexture();
        if (picture() != null) return pictures.apply(mask);
        return m.baseTexture() == null ? null : m.baseTexture().parts(mask.equals(BRIGHT));
    }
}

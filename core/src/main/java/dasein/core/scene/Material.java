package dasein.core.scene;

/**
 * Metal-rough material of glTF 2.0. Factors are linear; textures may be null. Alpha below {@code alphaCutoff} lets the ray
 * pass (MASK); with {@code blend} it passes by chance 1 - alpha.
 */
public record Material(
    String name, float[] baseColor, Texture baseTexture, float metallic, float roughness, Texture metalRoughTexture,
    Texture normalTexture, float normalScale, float[] emissive, Texture emissiveTexture, float alphaCutoff, boolean blend, boolean doubleSided) {

    public static Material matt(float r, float g, float b) {
        return new Material("matt", new float[] {r, g, b, 1}, null, 0, 1, null, null, 1, new float[3], null, 0, false, true);
    }

    public boolean seeThrough() { return alphaCutoff > 0 || blend; }
}

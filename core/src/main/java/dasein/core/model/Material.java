package dasein.core.model;

/**
 * Metal-rough material of glTF 2.0. Factors are linear; textures may be null. Alpha below {@code alphaCutoff} lets the
 * ray pass (MASK); with {@code blend} it passes by chance 1 - alpha.
 */
public record Material(
        String name,
        float[] baseColor,
        Texture baseTexture,
        float metallic,
        float roughness,
        Texture metalRoughTexture,
        Texture normalTexture,
        float normalScale,
        float[] emissive,
        Texture emissiveTexture,
        float alphaCutoff,
        boolean blend,
        boolean doubleSided,
        Layers layers) {

    /**
     * What the ratified extensions add.
     *
     * @param f0 reflectance of what is not metal, head on, three colours (KHR_materials_ior, KHR_materials_specular)
     * @param coat strength of a clear coat of index 1.5, 0 to 1; @param coatRoughness of it (KHR_materials_clearcoat)
     * @param clear part of the light that goes straight through, as through thin glass (KHR_materials_transmission)
     * @param unlit shows its base colour whatever the light is (KHR_materials_unlit)
     * @param sheen of cloth, null for none (KHR_materials_sheen); @param glass a body that light goes through, null
     *     where what is clear is thin (KHR_materials_volume)
     * @param scatter how far light goes within it between two scatterings, metres; 0: what enters comes out where it
     *     entered; @param fine what comes of fine structure; @param pictures by which they differ from place to place,
     *     null for none
     */
    public record Layers(
            float[] f0,
            float coat,
            float coatRoughness,
            float clear,
            boolean unlit,
            float scatter,
            Sheen sheen,
            Glass glass,
            Fine fine,
            Pictures pictures) {
        public static final Layers PLAIN = new Layers(new float[] {0.04f, 0.04f, 0.04f}, 0, 0, 0, false, 0, null, null);

        public Layers(
                float[] f0,
                float coat,
                float coatRoughness,
                float clear,
                boolean unlit,
                float scatter,
                Sheen sheen,
                Glass glass) {
            this(f0, coat, coatRoughness, clear, unlit, scatter, sheen, glass, Fine.NONE, null);
        }

        public Layers(float[] f0, float coat, float coatRoughness, float clear, boolean unlit) {
            this(f0, coat, coatRoughness, clear, unlit, 0, null, null);
        }

        public Layers scattering(float metres) {
            return new Layers(f0, coat, coatRoughness, clear, unlit, metres, sheen, glass, fine, pictures);
        }

        public Layers with(Fine other) {
            return new Layers(f0, coat, coatRoughness, clear, unlit, scatter, sheen, glass, other, pictures);
        }
    }

    /**
     * What a surface owes to structure too fine to be seen; each null where there is none.
     *
     * @param strand it is a strand of hair, fur or feather, and shaded as one
     */
    public record Fine(Brushed brushed, Iridescent film, Leaf leaf, boolean strand) {
        public static final Fine NONE = new Fine(null, null, null, false);
    }

    /**
     * Highlights drawn out along one direction (KHR_materials_anisotropy). @param strength 0 to 1; @param angle from
     * the way along which a texture's u grows, counter-clockwise, radians
     */
    public record Brushed(float strength, float angle) {}

    /**
     * Colours of a thin film (KHR_materials_iridescence). @param strength 0 to 1; @param ior of the film; @param
     * thinnest, thickest nanometres, where its picture is 0 and 1; without a picture it is the thickest everywhere
     */
    public record Iridescent(float strength, float ior, float thinnest, float thickest) {}

    /**
     * Light that comes out evenly on the other side of what is thin: leaves, paper, feathers
     * (KHR_materials_diffuse_transmission). @param part of what would be scattered back; @param colour of it
     */
    public record Leaf(float part, float[] colour) {}

    /**
     * Pictures that the layers' factors are multiplied by, each null where there is none: of the coat its strength
     * (red) and roughness (green), of sheen its colour and roughness (alpha), of what is mirrored its strength (alpha)
     * and colour, and how clear it is (red); of what is brushed its direction (red and green) and strength (blue), of a
     * film its strength (red) and thickness (green), and of leaves the part (alpha) and colour.
     */
    public record Pictures(
            Texture coat,
            Texture coatRoughness,
            Texture sheen,
            Texture sheenRoughness,
            Texture specular,
            Texture specularColour,
            Texture clear,
            Texture brushed,
            Texture film,
            Texture filmThickness,
            Texture leaf,
            Texture leafColour) {
        public static final Pictures NONE =
                new Pictures(null, null, null, null, null, null, null, null, null, null, null, null);

        /** Of how clear it is alone. */
        public static Pictures clear(Texture t) {
            return new Pictures(null, null, null, null, null, null, t, null, null, null, null, null);
        }
    }

    /** @param colour three factors */
    public record Sheen(float[] colour, float roughness) {}

    /** @param ior index of refraction; @param absorbs of each colour, a metre of the set */
    public record Glass(float ior, float[] absorbs) {}

    /** Without layers. */
    public Material(
            String name,
            float[] baseColor,
            Texture baseTexture,
            float metallic,
            float roughness,
            Texture metalRoughTexture,
            Texture normalTexture,
            float normalScale,
            float[] emissive,
            Texture emissiveTexture,
            float alphaCutoff,
            boolean blend,
            boolean doubleSided) {
        this(
                name,
                baseColor,
                baseTexture,
                metallic,
                roughness,
                metalRoughTexture,
                normalTexture,
                normalScale,
                emissive,
                emissiveTexture,
                alphaCutoff,
                blend,
                doubleSided,
                Layers.PLAIN);
    }

    public static Material matt(float r, float g, float b) {
        return new Material(
                "matt", new float[] {r, g, b, 1}, null, 0, 1, null, null, 1, new float[3], null, 0, false, true);
    }

    public Material with(Layers l) {
        return new Material(
                name,
                baseColor,
                baseTexture,
                metallic,
                roughness,
                metalRoughTexture,
                normalTexture,
                normalScale,
                emissive,
                emissiveTexture,
                alphaCutoff,
                blend,
                doubleSided,
                l);
    }

    public boolean seeThrough() {
        return alphaCutoff > 0 || blend || layers.clear > 0;
    }
}

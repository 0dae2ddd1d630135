package dasein.core.model;

/**
 * Triangles at shutter open and close. Positions and normals are xyz triples, uv pairs: one for each vertex, and behind
 * them as many again where there is a second set; {@code index} has three vertex numbers for each triangle.
 * {@code position1 == position0} for what does not move. Normals are unit length or all zero (then the flat normal is
 * used). Arrays are not copied. {@code catches} is null for performers; {@code copies} for what is there once, as its
 * positions say; {@code colour} (four numbers for each vertex, factors of the base colour) when it has none.
 */
public record Mesh(
        float[] position0,
        float[] position1,
        float[] normal0,
        float[] normal1,
        float[] uv,
        int[] index,
        int[] materialOf,
        Material[] materials,
        int performer,
        Role role,
        Catch catches,
        Shows shows,
        Copies copies,
        float[] colour) {

    /**
     * Where an ordinary thing is seen. @param camera by the camera; @param shadow it keeps light away; @param mirrored
     * in reflections, and it gives light back; @param added its light is added to what lies behind, which it does not
     * cover; @param shaded what it shows of itself gets darker where other performers keep light from it
     */
    public record Shows(boolean camera, boolean shadow, boolean mirrored, boolean added, boolean shaded) {
        public static final Shows ALL = new Shows(true, true, true, false);

        public Shows(boolean camera, boolean shadow, boolean mirrored, boolean added) {
            this(camera, shadow, mirrored, added, false);
        }
    }

    /**
     * The same triangles in many places. Maps are turns with one size (3x4, row-major), twelve numbers for each copy,
     * from the mesh to the set; they and the vertices move evenly while the shutter is open.
     *
     * @param open at its opening; @param close at its closing, the same array when no copy moves; @param firstMaterial
     *     of each copy: added to the triangle's material number
     */
    public record Copies(float[] open, float[] close, int[] firstMaterial) {
        public int count() {
            return firstMaterial.length;
        }
    }

    /** What a hit on this mesh means to the passes. */
    public enum Role {
        /** An ordinary thing: performers, and everything in a scene that is rendered whole. */
        PERFORMER,
        /** Stands in for something in the plate: receives shadow, bounce and reflection, never seen itself. */
        CATCHER
    }

    /**
     * What a stand-in does for the thing it stands for.
     *
     * @param shadow takes shadow and given light; @param bounce gives the plate's colour back to performers; @param
     *     hide hides what is behind it
     * @param strength of what it mirrors, 0 to 1; @param roughness of that
     */
    public record Catch(boolean shadow, boolean bounce, boolean hide, double strength, double roughness) {
        /** Seen by the camera's rays, which then know what to take there. */
        public boolean shown() {
            return shadow || hide || strength > 0;
        }
    }

    /** Seen everywhere. */
    public Mesh(
            float[] position0,
            float[] position1,
            float[] normal0,
            float[] normal1,
            float[] uv,
            int[] index,
            int[] materialOf,
            Material[] materials,
            int performer,
            Role role,
            Catch catches) {
        this(
                position0,
                position1,
                normal0,
                normal1,
                uv,
                index,
                materialOf,
                materials,
                performer,
                role,
                catches,
                Shows.ALL,
                null,
                null);
    }

    public Mesh with(Shows s) {
        return new Mesh(
                position0,
                position1,
                normal0,
                normal1,
                uv,
                index,
                materialOf,
                materials,
                performer,
                role,
                catches,
                s,
                copies,
                colour);
    }

    public Mesh with(Copies c) {
        return new Mesh(
                position0,
                position1,
                normal0,
                normal1,
                uv,
                index,
                materialOf,
                materials,
                performer,
                role,
                catches,
                shows,
                c,
                colour);
    }

    public Mesh with(float[] colours) {
        return new Mesh(
                position0,
                position1,
                normal0,
                normal1,
                uv,
                index,
                materialOf,
                materials,
                performer,
                role,
                catches,
                shows,
                copies,
                colours);
    }

    /** @param copy 0 for what is there once */
    public Material material(int triangle, int copy) {
        return materials[copies == null ? materialOf[triangle] : materialOf[triangle] + copies.firstMaterial[copy]];
    }

    /** As the ground does: all but mirror. */
    public Mesh(
            float[] position0,
            float[] position1,
            float[] normal0,
            float[] normal1,
            float[] uv,
            int[] index,
            int[] materialOf,
            Material[] materials,
            int performer,
            Role role) {
        this(
                position0,
                position1,
                normal0,
                normal1,
                uv,
                index,
                materialOf,
                materials,
                performer,
                role,
                role == Role.CATCHER ? new Catch(true, true, true, 0, 0.3) : null);
    }

    public boolean moves() {
        return position0 != position1;
    }

    public int vertices() {
        return position0.length / 3;
    }

    public int triangles() {
        return index.length / 3;
    }

    public Mesh {
        if (index.length != 3 * materialOf.length)
            throw new IllegalArgumentException("one material number for each triangle");
    }
}

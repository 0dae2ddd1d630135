package dasein.core.scene;

/**
 * Triangles at shutter open and close. Positions and normals are xyz triples, uv pairs; {@code index} has three vertex numbers
 * for each triangle. {@code position1 == position0} for what does not move. Normals are unit length or all zero (then the
 * flat normal is used). Arrays are not copied.
 */
public record Mesh(
    float[] position0, float[] position1, float[] normal0, float[] normal1, float[] uv, int[] index,
    int[] materialOf, Material[] materials, int performer, Role role) {

    /** What a hit on this mesh means to the passes. */
    public enum Role {
        /** An ordinary thing: performers, and everything in a scene that is rendered whole. */
        PERFORMER,
        /** Stands in for something in the plate: receives shadow, bounce and reflection, never seen itself. */
        CATCHER
    }

    public boolean moves() { return position0 != position1; }

    public int triangles() { return index.length / 3; }

    public Mesh {
        if (index.length != 3 * materialOf.length) throw new IllegalArgumentException("one material number for each triangle");
    }
}

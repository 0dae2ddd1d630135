package dasein.core.model;

import java.util.List;

/** A model as read: a tree of nodes, meshes hung on them, skins, clips. Arrays are shared and not to be written. */
public record Model(
        String name, List<Node> nodes, List<Part> parts, List<Skin> skins, List<Clip> clips, Material[] materials) {

    /** Rest position in the tree; {@code parent} is -1 at the top and always stands before its children. */
    public record Node(
            String name, int parent, float[] translation, float[] rotation, float[] scale, float[] morphWeights) {}

    /**
     * Triangles on a node. {@code skin} -1: moves with the node. Joints and weights: four for each vertex; morph
     * targets are offsets to positions and normals. {@code colour}: linear red, green, blue and alpha for each vertex,
     * factors of the material's; empty for none. {@code uv}: as {@link Mesh}'s.
     */
    public record Part(
            int node,
            int skin,
            float[] position,
            float[] normal,
            float[] uv,
            int[] index,
            int material,
            int[] joints,
            float[] weights,
            float[][] morphPosition,
            float[][] morphNormal,
            float[] colour) {
        /** Without colours of its own. */
        public Part(
                int node,
                int skin,
                float[] position,
                float[] normal,
                float[] uv,
                int[] index,
                int material,
                int[] joints,
                float[] weights,
                float[][] morphPosition,
                float[][] morphNormal) {
            this(
                    node,
                    skin,
                    position,
                    normal,
                    uv,
                    index,
                    material,
                    joints,
                    weights,
                    morphPosition,
                    morphNormal,
                    new float[0]);
        }

        public Part with(float[] colours) {
            return new Part(
                    node,
                    skin,
                    position,
                    normal,
                    uv,
                    index,
                    material,
                    joints,
                    weights,
                    morphPosition,
                    morphNormal,
                    colours);
        }

        public int vertices() {
            return position.length / 3;
        }
    }

    /** Node numbers of the joints, and for each the map from mesh to joint space at rest (affine 3x4). */
    public record Skin(int[] joints, double[][] inverseBind) {}

    public record Clip(String name, double seconds, List<Channel> channels) {}

    public enum Property {
        TRANSLATION,
        ROTATION,
        SCALE,
        WEIGHTS
    }

    public enum Interpolation {
        STEP,
        LINEAR,
        CUBIC
    }

    /**
     * Keys of one property of a node; {@code width} numbers for each key (three times that for cubic: in-tangent,
     * value, out-tangent).
     */
    public record Channel(
            int node, Property property, float[] times, float[] values, int width, Interpolation interpolation) {}

    public int triangles() {
        return parts.stream().mapToInt(p -> p.index.length / 3).sum();
    }

    /** Clip by name; null for none by that name. */
    public Clip clip(String clipName) {
        return clips.stream().filter(c -> c.name.equals(clipName)).findFirst().orElse(null);
    }

    /** Lowest and highest corner at rest: minX, minY, minZ, maxX, maxY, maxZ. */
    public float[] bounds() {
        float[] b = {1e30f, 1e30f, 1e30f, -1e30f, -1e30f, -1e30f};
        Posing rest = new Posing(this);
        for (Part p : parts) {
            float[] pos = new float[p.position.length];
            rest.place(p, pos, null);
            for (int i = 0; i < pos.length; i++) {
                b[i % 3] = Math.min(b[i % 3], pos[i]);
                b[3 + i % 3] = Math.max(b[3 + i % 3], pos[i]);
            }
        }
        return b;
    }
}

package dasein.core.model.file;

import org.lwjgl.assimp.AIVector3D;
import org.lwjgl.system.MemoryUtil;

/** Numbers as the library that reads meshes holds them. */
final class Vectors {
    private Vectors() {}

    /** Three for each vertex. */
    static float[] xyz(AIVector3D.Buffer v, int n) {
        float[] out = new float[3 * n];
        MemoryUtil.memFloatBuffer(v.address(), 3 * n).get(out);
        return out;
    }

    /** Places in a picture, two for each vertex from {@code at} on; the library counts upwards, glTF downwards. */
    static void uv(AIVector3D.Buffer v, int n, float[] out, int at) {
        float[] xyz = xyz(v, n);
        for (int i = 0; i < n; i++) {
            out[at + 2 * i] = xyz[3 * i];
            out[at + 2 * i + 1] = 1 - xyz[3 * i + 1];
        }
    }
}

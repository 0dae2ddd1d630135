package dasein.core.model.file;

import java.nio.ByteBuffer;
import org.lwjgl.system.MemoryUtil;
import org.lwjgl.util.meshoptimizer.MeshOptimizer;

/** Vertices and corners packed as EXT_meshopt_compression says; the library's decoders check their input. */
final class Meshopt {
    private Meshopt() {}

    /** @return count times stride bytes; null when the packed bytes are not what they should be */
    static byte[] decode(byte[] packed, int count, int stride, String mode, String filter) {
        boolean fits =
                switch (mode) {
                    case "ATTRIBUTES" -> stride % 4 == 0;
                    case "TRIANGLES" -> (stride == 2 || stride == 4) && count % 3 == 0;
                    case "INDICES" -> stride == 2 || stride == 4;
                    default -> false;
                };
        fits &= switch (filter) {
            case "NONE" -> true;
            case "OCTAHEDRAL", "COLOR" -> stride == 4 || stride == 8;
            case "QUATERNION" -> stride == 8;
            case "EXPONENTIAL" -> stride % 4 == 0;
            default -> false;
        };
        if (!fits) return null;
        if (count == 0) return new byte[0];
        ByteBuffer in = MemoryUtil.memAlloc(packed.length + 1), out = MemoryUtil.memAlloc(count * stride);
        try {
            in.put(packed).flip();
            int wrong =
                    switch (mode) {
                        case "ATTRIBUTES" -> MeshOptimizer.meshopt_decodeVertexBuffer(out, count, stride, in);
                        case "TRIANGLES" -> MeshOptimizer.meshopt_decodeIndexBuffer(out, count, stride, in);
                        default -> MeshOptimizer.meshopt_decodeIndexSequence(out, count, stride, in);
                    };
            if (wrong != 0) return null;
            switch (filter) {
                case "OCTAHEDRAL" -> MeshOptimizer.meshopt_decodeFilterOct(out, count, stride);
                case "QUATERNION" -> MeshOptimizer.meshopt_decodeFilterQuat(out, count, stride);
                case "EXPONENTIAL" -> MeshOptimizer.meshopt_decodeFilterExp(out, count, stride);
                case "COLOR" -> MeshOptimizer.meshopt_decodeFilterColor(out, count, stride);
                default -> {}
            }
            byte[] plain = new byte[count * stride];
            out.get(0, plain);
            return plain;
        } finally {
            MemoryUtil.memFree(in);
            MemoryUtil.memFree(out);
        }
    }
}

package dasein.core.model.file;

import dasein.core.BadInput;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.StringTokenizer;

/** Triangles of a solid (STL), as text or binary. */
final class StlReader {
    private StlReader() {}

    static Imported read(Path path) {
        String name = path.getFileName().toString();
        try {
            long size = Files.size(path);
            float[] xyz;
            try (InputStream in = Files.newInputStream(path)) {
                byte[] head = in.readNBytes(84);
                long n = head.length < 84
                        ? -1
                        : Integer.toUnsignedLong(ByteBuffer.wrap(head)
                                .order(ByteOrder.LITTLE_ENDIAN)
                                .getInt(80));
                // Some binary files begin with "solid", too: the size tells.
                if (n >= 0 && size == 84 + 50 * n) {
                    if (n > ObjReader.MOST_PLACES)
                        throw new BadInput(name + " has more than " + ObjReader.MOST_PLACES + " triangles");
                    xyz = binary(in, (int) n);
                } else if (new String(head, StandardCharsets.ISO_8859_1)
                        .stripLeading()
                        .startsWith("solid")) xyz = text(path);
                else
                    throw new BadInput(
                            name + (n > 0 && n < 1L << 28 ? " is cut short or no STL model" : " is not an STL model"));
            }
            if (xyz.length == 0) throw new BadInput(name + " holds no triangles");
            for (float v : xyz)
                if (!Float.isFinite(v)) throw new BadInput(name + " is damaged: a place " + "lies nowhere");
            MeshBuilder b = new MeshBuilder();
            for (int i = 0; i < xyz.length / 3; i++) b.add(i, -1, -1);
            return PlyReader.plain(name, b.part(0, 0, xyz, null, null, false), List.of(), 0.5f);
        } catch (IOException | NumberFormatException e) {
            throw new BadInput(name + " is damaged", e);
        }
    }

    private static float[] binary(InputStream in, int n) throws IOException {
        float[] out = new float[9 * n];
        for (int t = 0; t < n; t++) {
            ByteBuffer b = ByteBuffer.wrap(in.readNBytes(50)).order(ByteOrder.LITTLE_ENDIAN);
            for (int k = 0; k < 9; k++) out[9 * t + k] = b.getFloat(12 + 4 * k);
        }
        return out;
    }

    private static float[] text(Path path) throws IOException {
        float[] out = new float[1024];
        int n = 0;
        try (BufferedReader in = Files.newBufferedReader(path, StandardCharsets.ISO_8859_1)) {
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                StringTokenizer t = new StringTokenizer(line);
                if (!t.hasMoreTokens() || !t.nextToken().equals("vertex")) continue;
                if (n + 3 > out.length) out = Arrays.copyOf(out, 2 * out.length);
                for (int k = 0; k < 3; k++) {
                    if (!t.hasMoreTokens()) throw new NumberFormatException();
                    out[n++] = Float.parseFloat(t.nextToken());
                }
            }
        }
        return Arrays.copyOf(out, n / 9 * 9);
    }
}

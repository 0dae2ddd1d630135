package dasein.core.format;

import dasein.core.image.CodeTable;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;

/** Writes DPX (SMPTE ST 268-1): ten bits of red, green and blue in a word, padded below (method A), big-endian. */
public final class Dpx {
    private static final int HEAD = 2048, UNSET = 0xffffffff, RGB = 50;
    /** Numbers of curves and colours in the standard's tables. */
    private static final int LINEAR = 2, BT709 = 6, USER = 0;

    private Dpx() {}

    /** @param timecode of this frame as four groups of two digits, empty for none; @param rate frames a second */
    public static void write(Path path, Image scene, Encoding e, int frame, double rate, String timecode) {
        Image im = e.primaries.outOfRec709(scene);
        int w = im.width, h = im.height;
        ByteBuffer b = ByteBuffer.allocate(HEAD + 4 * w * h).order(ByteOrder.BIG_ENDIAN);
        for (int i = 0; i < HEAD / 4; i++) b.putInt(4 * i, UNSET);
        b.putInt(0, 0x53445058).putInt(4, HEAD);
        text(b, 8, 8, "V2.0");
        b.putInt(16, HEAD + 4 * w * h)
                .putInt(20, 1)
                .putInt(24, 1664)
                .putInt(28, 384)
                .putInt(32, 0);
        text(b, 36, 100, path.getFileName().toString());
        for (int[] k : new int[][] {{136, 24}, {160, 100}, {260, 200}, {460, 200}}) text(b, k[0], k[1], "");
        text(b, 160, 100, "Dasein");
        b.putInt(660, UNSET);
        b.putShort(768, (short) 0).putShort(770, (short) 1).putInt(772, w).putInt(776, h);
        int curve = e.linear() ? LINEAR : e == Encoding.REC709 ? BT709 : USER;
        b.putInt(780, 0).putInt(784, 0).putInt(792, 1023);
        b.put(800, (byte) RGB).put(801, (byte) curve).put(802, (byte) BT709).put(803, (byte) 10);
        b.putShort(804, (short) 1)
                .putShort(806, (short) 0)
                .putInt(808, HEAD)
                .putInt(812, 0)
                .putInt(816, 0);
        text(b, 820, 32, e.label);
        text(b, 1556, 32, "");
        // Of film and television: which frame this is, how many a second, and its timecode in packed decimals.
        b.putInt(1712, frame).putFloat(1724, (float) rate);
        if (!timecode.isEmpty()) b.putInt(1920, (int) Long.parseLong(timecode.replaceAll("\\D", ""), 16));
        b.putFloat(1940, (float) rate);
        b.position(HEAD);
        CodeTable codes = CodeTable.of(e);
        for (int i = 0; i < w * h; i++)
            b.putInt(code(codes, im.planes[0][i]) << 22
                    | code(codes, im.planes[1][i]) << 12
                    | code(codes, im.planes[2][i]) << 2);
        SafeWrite.to(path, tmp -> Files.write(tmp, b.array()));
    }

    private static int code(CodeTable t, float light) {
        return (int) (1023 * Math.max(0, Math.min(1, t.encode(light))) + 0.5f);
    }

    /** As ASCII, the rest of its room zero. */
    private static void text(ByteBuffer b, int at, int room, String s) {
        byte[] a = s.getBytes(StandardCharsets.US_ASCII);
        for (int i = 0; i < room; i++) b.put(at + i, i < a.length && i < room - 1 ? a[i] : 0);
    }
}

package dasein.core.format;

import dasein.core.image.CodeTable;
import dasein.core.image.Encoding;
import dasein.core.image.Image;

/**
 * Scene-linear pictures as the codes a movie holds: of red, green and blue, or brightness and two colour differences
 * after ITU-R BT.709 in limited range. Eight bits come from the eight-bit codes that a still of the same frame shows.
 */
final class MoviePlanes {
    private static final float KR = 0.2126f, KB = 0.0722f, KG = 1 - KR - KB;
    final int[] wide = new int[3], high = new int[3];
    /** Codes plane by plane, as the kind has them: green, blue, red, or brightness, blue and red difference. */
    final short[][] codes = new short[3][];

    private final MovieKind kind;
    private final Encoding encoding;
    private final int width, height;

    /** @param width, height even where colour is sampled more coarsely */
    MoviePlanes(MovieKind kind, Encoding encoding, int width, int height) {
        this.kind = kind;
        this.encoding = encoding;
        this.width = width;
        this.height = height;
        for (int k = 0; k < 3; k++) {
            wide[k] = k == 0 ? width : width / kind.across();
            high[k] = k == 0 ? height : height / kind.down();
            codes[k] = new short[wide[k] * high[k]];
        }
    }

    void set(Image im) {
        if (kind.colour == MovieKind.Colour.RGB) rgb(im);
        else differences(im);
    }

    private void rgb(Image im) {
        CodeTable table = CodeTable.of(encoding);
        float most = (1 << kind.bits) - 1;
        int[] from = {1, 2, 0};
        Image.rows(height, y -> {
            for (int k = 0; k < 3; k++) {
                float[] p = im.planes[from[k]];
                for (int i = y * width, end = i + width; i < end; i++)
                    codes[k][i] = (short) (most * Math.max(0, Math.min(1, table.encode(p[i]))) + 0.5f);
            }
        });
    }

    private void differences(Image im) {
        int down = kind.down(), finer = 1 << kind.bits - 8;
        float u = 224 * finer / 255f / (2 * (1 - KB)), v = 224 * finer / 255f / (2 * (1 - KR));
        Image.bands(height / down, (first, last) -> {
            float[][] code = new float[3][width], blue = new float[down][width], red = new float[down][width];
            int[] eight = new int[width];
            CodeTable table = CodeTable.of(encoding);
            for (int y = first; y < last; y++) {
                for (int k = 0; k < down; k++) {
                    int at = (down * y + k) * width;
                    for (int c = 0; c < 3; c++) codes(im.planes[c], at, table, eight, code[c]);
                    for (int x = 0; x < width; x++) {
                        float l = KR * code[0][x] + KG * code[1][x] + KB * code[2][x];
                        codes[0][at + x] = (short) (16 * finer + 0.5f + 219 * finer / 255f * l);
                        blue[k][x] = u * (code[2][x] - l);
                        red[k][x] = v * (code[0][x] - l);
                    }
                }
                mean(blue, codes[1], y * width / 2, 128 * finer + 0.5f);
                mean(red, codes[2], y * width / 2, 128 * finer + 0.5f);
            }
        });
    }

    /** Codes of 0 to 255 of a row, whole ones where the movie has eight bits. */
    private void codes(float[] plane, int at, CodeTable table, int[] eight, float[] to) {
        if (kind.bits == 8) {
            encoding.encode8(plane, at, eight);
            for (int x = 0; x < width; x++) to[x] = eight[x];
        } else for (int x = 0; x < width; x++) to[x] = 255 * Math.max(0, Math.min(1, table.encode(plane[at + x])));
    }

    /** Colour sits at the left of two pixels: 1-2-1 across, the mean of the rows. */
    private void mean(float[][] s, short[] out, int at, float middle) {
        for (int x = 0; x < width; x += 2) {
            int l = Math.max(x - 1, 0), n = x + 1;
            float v = 0;
            for (float[] row : s) v += (row[l] + 2 * row[x] + row[n]) / (4 * s.length);
            out[at + x / 2] = (short) (middle + v);
        }
    }
}

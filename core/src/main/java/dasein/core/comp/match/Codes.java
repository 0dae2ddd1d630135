package dasein.core.comp.match;

import dasein.core.image.CodeTable;
import dasein.core.image.Encoding;
import dasein.core.image.Image;

/** A frame in code values of 0 to 1, in which noise and edges are judged as people see them. */
record Codes(int width, int height, float[][] planes, float[] luma) {
    static Codes of(Image im, Encoding e) {
        int n = im.width * im.height;
        float[][] v = new float[3][n];
        float[] y = new float[n];
        CodeTable table = CodeTable.of(e);
        Image.rows(im.height, row -> {
            for (int i = row * im.width, end = i + im.width; i < end; i++) {
                for (int c = 0; c < 3; c++) v[c][i] = table.encode(im.planes[c][i]);
                y[i] = 0.2126f * v[0][i] + 0.7152f * v[1][i] + 0.0722f * v[2][i];
            }
        });
        return new Codes(im.width, im.height, v, y);
    }
}

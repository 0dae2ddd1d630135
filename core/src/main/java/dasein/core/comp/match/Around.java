package dasein.core.comp.match;

import dasein.core.image.Image;

/** The mean of a few pixels about a place, in which grain is averaged out. */
public final class Around {
    /** Half a side, pixels. */
    static final int HALF = 3;

    private Around() {}

    /** @return red, green, blue, scene-linear; null where all of it lies outside */
    public static double[] of(Image im, double x, double y) {
        double[] sum = new double[3];
        int n = 0;
        for (int j = (int) y - HALF; j <= y + HALF; j++)
            for (int i = (int) x - HALF; i <= x + HALF; i++) {
                if (i < 0 || j < 0 || i >= im.width || j >= im.height) continue;
                for (int c = 0; c < 3; c++) sum[c] += im.planes[c][j * im.width + i];
                n++;
            }
        if (n == 0) return null;
        for (int c = 0; c < 3; c++) sum[c] /= n;
        return sum;
    }
}

package dasein.core.light;

import dasein.core.BadInput;
import dasein.core.image.Image;

/**
 * A map as light can be taken from it. Merging and stitching leave single texels that are no number, and resampling
 * makes some darker than nothing; one such texel would make all light no number.
 */
public final class CleanMap {
    /** More than this part of a map without a number is damage that nobody should fill in. */
    private static final double MOST = 0.001;

    private CleanMap() {}

    /**
     * The map itself where nothing is wrong with it; else a copy in which negative light is none, and what is no number
     * is the mean of its neighbours.
     *
     * @throws BadInput when too much of it is no number
     */
    public static Image of(Image map) {
        int lost = 0;
        boolean negative = false;
        for (float[] p : map.planes)
            for (float v : p) {
                if (!Float.isFinite(v)) lost++;
                else if (v < 0) negative = true;
            }
        if (lost == 0 && !negative) return map;
        if (lost > MOST * map.planes.length * map.width * map.height)
            throw new BadInput("the map is damaged: " + lost + " of its values are no numbers");
        Image out = map.copy();
        for (int c = 0; c < out.planes.length; c++)
            for (int i = 0; i < out.planes[c].length; i++) {
                float v = map.planes[c][i];
                if (!Float.isFinite(v)) v = around(map, c, i);
                out.planes[c][i] = Math.max(0, v);
            }
        return out;
    }

    /** Mean of the neighbours that are numbers; round the map along its rows. */
    private static float around(Image map, int c, int at) {
        int w = map.width, x = at % w, y = at / w, n = 0;
        double sum = 0;
        for (int j = Math.max(0, y - 1); j <= Math.min(map.height - 1, y + 1); j++)
            for (int i = x - 1; i <= x + 1; i++) {
                float v = map.planes[c][j * w + Math.floorMod(i, w)];
                if (!Float.isFinite(v)) continue;
                sum += v;
                n++;
            }
        return n == 0 ? 0 : (float) (sum / n);
    }
}

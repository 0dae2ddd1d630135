package dasein.core.track;

import dasein.core.image.Filters;
import dasein.core.image.Image;

/** The picture as tracking sees it: square root of luminance, so that noise is about even over brightness, lightly smoothed. */
final class Grey {
    private static final double SMOOTHING = 0.7;

    private Grey() {}

    static float[] of(Image im) {
        float[] l = im.luminance();
        for (int i = 0; i < l.length; i++) l[i] = 255 * (float) Math.sqrt(Math.max(l[i], 0));
        return Filters.gaussian(l, im.width, im.height, SMOOTHING);
    }
}

package dasein.core.comp.repair;

import dasein.core.image.Filters;
import dasein.core.track.Track;

/**
 * A part of a frame that is covered, in a box that holds it with a rim.
 *
 * @param x0, y0 corner of the box; {@code w}, {@code h} its size
 * @param part how much of each of its pixels is covered, row by row
 * @param track at whose mark it is; null of a drawn mask
 * @param wide, high size of the picture
 */
record Area(int x0, int y0, int w, int h, float[] part, Track track, int wide, int high) {
    /** Pixels around what is covered whose light the patch takes on. */
    static final int RIM = 6;

    /** About a mark; null where it lies outside the picture. */
    static Area disc(Track t, double cx, double cy, double radius, double feather, int w, int h) {
        int reach = (int) Math.ceil(radius + feather) + RIM + 1,
                x0 = Math.max(0, (int) cx - reach),
                y0 = Math.max(0, (int) cy - reach),
                wide = Math.min(w, (int) cx + reach + 1) - x0,
                high = Math.min(h, (int) cy + reach + 1) - y0;
        if (wide < 2 || high < 2) return null;
        float[] m = new float[wide * high];
        double fade = Math.max(1, feather);
        for (int y = 0; y < high; y++)
            for (int x = 0; x < wide; x++) {
                double d = Math.hypot(x0 + x + 0.5 - cx, y0 + y + 0.5 - cy);
                m[y * wide + x] =
                        (float) Math.max(0, Math.min(1, 0.5 + (radius + (feather > 0 ? fade / 2 : 0) - d) / fade));
            }
        return new Area(x0, y0, wide, high, m, t, w, h);
    }

    /** Of a mask of the whole frame; null where it covers nothing. */
    static Area boxed(float[] m, int w, int h, double feather) {
        float[] all = m;
        if (feather > 0) {
            float[] soft = Filters.spread(m, w, h, feather / 2);
            all = new float[m.length];
            for (int i = 0; i < m.length; i++) all[i] = Math.max(m[i], Math.min(1, 2 * soft[i]));
        }
        int left = w, top = h, right = 0, bottom = 0;
        for (int i = 0; i < all.length; i++)
            if (all[i] > 0) {
                left = Math.min(left, i % w);
                right = Math.max(right, i % w + 1);
                top = Math.min(top, i / w);
                bottom = i / w + 1;
            }
        if (right == 0) return null;
        int x0 = Math.max(0, left - RIM),
                y0 = Math.max(0, top - RIM),
                wide = Math.min(w, right + RIM) - x0,
                high = Math.min(h, bottom + RIM) - y0;
        float[] part = new float[wide * high];
        for (int y = 0; y < high; y++) System.arraycopy(all, (y0 + y) * w + x0, part, y * wide, wide);
        return new Area(x0, y0, wide, high, part, null, w, h);
    }
}

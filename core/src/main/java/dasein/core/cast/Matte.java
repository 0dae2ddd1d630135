package dasein.core.cast;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.image.Membrane;
import java.awt.image.BufferedImage;

/**
 * What is done to a card's own matte whose edge still shows the background it was filmed before. In this order: the
 * edge takes its colours from inside, the spill of a coloured screen is held back, the matte is made smaller, then
 * softer.
 *
 * @param erodePx pixels of the footage by which the matte is made smaller, 0 to 20
 * @param softenPx deviation of the Gaussian its edge is softened by, pixels of the footage, 0 to 20
 * @param inside how much of the edge's colours comes from inside, 0 to 1
 * @param spill the screen whose light is held back
 */
public record Matte(double erodePx, double softenPx, double inside, Spill spill) {
    public static final Matte NONE = new Matte(0, 0, 0, Spill.NONE);
    private static final double MOST = 20;
    /** Pixels within the edge that show something of the background, too: the lens's blur and coarse colour. */
    private static final int RIM = 3;
    /** Alpha from which on a pixel shows nothing else. */
    private static final float WHOLE = 0.99f;

    /** Light of a screen that fell on what stood before it. */
    public enum Spill {
        NONE,
        GREEN,
        BLUE
    }

    public Matte {
        if (spill == null) spill = Spill.NONE;
        if (!(erodePx >= 0 && erodePx <= MOST && softenPx >= 0 && softenPx <= MOST && inside >= 0 && inside <= 1))
            throw new BadInput(
                    "a matte is eroded and softened by 20 pixels at most, its edge takes 0 to 1 from inside");
    }

    /** @param from alpha apart from the colours, sRGB; it is not written to */
    BufferedImage of(BufferedImage from) {
        if (equals(NONE)) return from;
        int w = from.getWidth(), h = from.getHeight();
        int[] argb = from.getRGB(0, 0, w, h, null, 0, w);
        float[] alpha = new float[w * h];
        float[][] rgb = new float[3][w * h];
        for (int i = 0; i < w * h; i++) {
            alpha[i] = (argb[i] >>> 24) / 255f;
            for (int k = 0; k < 3; k++) rgb[k][i] = Encoding.SRGB.decode8(argb[i] >> 16 - 8 * k & 255);
        }
        if (inside > 0) fromInside(rgb, alpha, w, h);
        if (spill != Spill.NONE) holdBack(rgb, alpha);
        alpha = Filters.gaussian(eroded(alpha, w, h, erodePx), w, h, softenPx);
        BufferedImage out = new BufferedImage(w, h, BufferedImage.TYPE_INT_ARGB);
        for (int i = 0; i < w * h; i++) {
            argb[i] = Math.round(255 * alpha[i]) << 24;
            for (int k = 0; k < 3; k++)
                argb[i] |=
                        (int) Math.round(255 * Encoding.SRGB.encode(Math.max(0, Math.min(1, rgb[k][i])))) << 16 - 8 * k;
        }
        out.setRGB(0, 0, w, h, argb, 0, w);
        return out;
    }

    /** Colours within the rim, and outside of it, are those of the nearest that shows nothing else, smoothly. */
    private void fromInside(float[][] rgb, float[] alpha, int w, int h) {
        float[] whole = new float[w * h];
        for (int i = 0; i < whole.length; i++) whole[i] = alpha[i] >= WHOLE ? 1 : 0;
        float[] core = eroded(whole, w, h, RIM);
        boolean any = false;
        for (float v : core) any |= v > 0;
        if (!any) return;
        for (int k = 0; k < 3; k++) {
            float[] v = rgb[k].clone();
            Membrane.fill(v, core.clone(), w, h);
            for (int i = 0; i < v.length; i++) rgb[k][i] += (float) (inside * (1 - core[i]) * (v[i] - rgb[k][i]));
        }
    }

    /** The screen's colour is nowhere above the mean of the two others (common practice). */
    private void holdBack(float[][] rgb, float[] alpha) {
        int screen = spill == Spill.GREEN ? 1 : 2, a = (screen + 1) % 3, b = (screen + 2) % 3;
        for (int i = 0; i < alpha.length; i++) rgb[screen][i] = Math.min(rgb[screen][i], (rgb[a][i] + rgb[b][i]) / 2);
    }

    /** Least alpha within a distance, between whole pixels straight; octagons, nearly discs. */
    static float[] eroded(float[] alpha, int w, int h, double px) {
        float[] now = alpha;
        for (int n = 0; n < (int) Math.floor(px); n++) now = least(now, w, h, n % 2 == 1);
        float rest = (float) (px - Math.floor(px));
        if (rest == 0) return now == alpha ? alpha.clone() : now;
        float[] next = least(now, w, h, (int) Math.floor(px) % 2 == 1), out = new float[w * h];
        for (int i = 0; i < out.length; i++) out[i] = (1 - rest) * now[i] + rest * next[i];
        return out;
    }

    /** Least of a pixel and its neighbours, those over the corners among them or not. */
    private static float[] least(float[] v, int w, int h, boolean corners) {
        float[] out = new float[w * h];
        Image.rows(h, y -> {
            for (int x = 0; x < w; x++) {
                float m = v[y * w + x];
                for (int j = Math.max(0, y - 1); j <= Math.min(h - 1, y + 1); j++)
                    for (int i = Math.max(0, x - 1); i <= Math.min(w - 1, x + 1); i++)
                        if (corners || i == x || j == y) m = Math.min(m, v[j * w + i]);
                out[y * w + x] = m;
            }
        });
        return out;
    }
}

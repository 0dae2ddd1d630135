package dasein.core.plate;

import dasein.core.image.Image;
import java.util.Arrays;

/**
 * What can be measured on one frame by itself.
 *
 * @param edge narrowest edge width over the directions, pixels from one side of an edge to the other; NaN without
 *     strong edges
 * @param blurPx how much wider edges are across the blurred direction than across the sharpest, as the length of an
 *     even smear; 0 none
 * @param blurDeg direction of that smear, 0 along x, 90 along y (downward)
 * @param noise standard deviation in codes of 255 in eight bands of brightness from dark to bright; NaN where a band is
 *     empty
 * @param stops mean log2 of luminance: exposure
 * @param clippedWhite part of the picture with a colour at the upper end of its codes, [0, 1]; {@code clippedBlack} at
 *     the lower
 * @param span codes of 255 between the darkest fiftieth of the picture and the brightest
 */
public record FrameHealth(
        int frame,
        double edge,
        double blurPx,
        double blurDeg,
        double[] noise,
        double stops,
        double clippedWhite,
        double clippedBlack,
        double span) {
    public static final int BANDS = 8;
    private static final int DIRECTIONS = 8;
    private static final int REACH = 24;
    private static final int BLOCK = 16;
    /** Places looked at for edges, and the weakest squared step that may be one. */
    private static final int PLACES = 60_000;

    private static final float WEAKEST = 64;
    /** An edge ends where it rises by no more than this from pixel to pixel, codes. */
    private static final double STILL = 0.3;
    /** Edges whose widths differ less than this tell nothing of a blur, pixels. */
    private static final double LEAST_BLUR = 1.5;

    /** @param grey brightness codes 0 to 255 of the same frame */
    public static FrameHealth of(int frame, Image im, float[] grey, dasein.core.image.Encoding encoding) {
        double[] width = widths(smooth(grey, im.width, im.height), im.width, im.height);
        int sharp = -1, soft = -1;
        for (int d = 0; d < DIRECTIONS; d++) {
            if (Double.isNaN(width[d])) continue;
            if (sharp < 0 || width[d] < width[sharp]) sharp = d;
            if (soft < 0 || width[d] > width[soft]) soft = d;
        }
        double edge = sharp < 0 ? Double.NaN : width[sharp],
                smear = sharp < 0 ? 0 : Math.sqrt(Math.max(0, width[soft] * width[soft] - edge * edge));
        return new FrameHealth(
                frame,
                edge,
                smear < LEAST_BLUR ? 0 : smear,
                sharp < 0 ? 0 : soft * 180.0 / DIRECTIONS,
                noise(grey, im.width, im.height),
                stops(im),
                clipped(im, encoding, true),
                clipped(im, encoding, false),
                span(grey));
    }

    private static double span(float[] grey) {
        int[] count = new int[256];
        for (float v : grey) count[Math.max(0, Math.min(255, Math.round(v)))]++;
        int least = grey.length / 50, low = 0, high = 255;
        for (int n = count[0]; n <= least && low < 255; n += count[++low]) {}
        for (int n = count[255]; n <= least && high > 0; n += count[--high]) {}
        return Math.max(0, high - low);
    }

    /** 3x3 mean: noise makes false edges. */
    private static float[] smooth(float[] s, int w, int h) {
        float[] d = s.clone();
        Image.rows(h, y -> {
            if (y == 0 || y == h - 1) return;
            for (int x = 1, i = y * w + 1; x < w - 1; x++, i++)
                d[i] = (s[i - w - 1]
                                + s[i - w]
                                + s[i - w + 1]
                                + s[i - 1]
                                + s[i]
                                + s[i + 1]
                                + s[i + w - 1]
                                + s[i + w]
                                + s[i + w + 1])
                        / 9;
        });
        return d;
    }

    /**
     * Width of the strongest edges by the direction across them: that of the ramp which an even smear makes of a step.
     */
    private static double[] widths(float[] g, int w, int h) {
        // About as many places whatever the size of the picture.
        int stride = Math.max(3, (int) Math.sqrt((double) w * h / PLACES)),
                most = (w / stride + 1) * (h / stride + 1),
                n = 0;
        float[] strength = new float[most];
        int[] at = new int[most];
        byte[] direction = new byte[most];
        for (int y = REACH + 1; y < h - REACH - 1; y += stride) {
            for (int x = REACH + 1; x < w - REACH - 1; x += stride) {
                int i = y * w + x;
                float gx = g[i + 1] - g[i - 1], gy = g[i + w] - g[i - w], q = gx * gx + gy * gy;
                if (q < WEAKEST) continue;
                strength[n] = q;
                direction[n] =
                        (byte) Math.floorMod((int) Math.round(Math.atan2(gy, gx) * DIRECTIONS / Math.PI), DIRECTIONS);
                at[n++] = i;
            }
        }
        double[] out = new double[DIRECTIONS];
        Arrays.fill(out, Double.NaN);
        float[] own = new float[n], found = new float[1024];
        for (int d = 0; d < DIRECTIONS; d++) {
            int m = 0, count = 0;
            for (int k = 0; k < n; k++) if (direction[k] == d) own[m++] = strength[k];
            if (m < 40) continue;
            // Each direction by its own strongest edges: blur makes those across it weak.
            Arrays.sort(own, 0, m);
            float least = own[Math.max(0, m - Math.max(m / 10, 40))];
            double ax = Math.cos(Math.PI * d / DIRECTIONS), ay = Math.sin(Math.PI * d / DIRECTIONS);
            for (int k = 0; k < n && count < found.length; k++) {
                if (direction[k] != d || strength[k] < least) continue;
                double v = ramp(g, w, at[k] % w, at[k] / w, ax, ay);
                if (v > 0) found[count++] = (float) v;
            }
            if (count < 24) continue;
            Arrays.sort(found, 0, count);
            // Many edges are soft in the world: the sharper quarter tells of the lens and the motion.
            out[d] = found[count / 4];
        }
        return out;
    }

    /**
     * From a fifth to four fifths of the rise along a line through an edge, made up to the whole ramp; 0 when it is no
     * edge.
     */
    private static double ramp(float[] g, int w, int x, int y, double ax, double ay) {
        double sign = at(g, w, x + ax, y + ay) > at(g, w, x - ax, y - ay) ? 1 : -1;
        double[] v = new double[2 * REACH - 1];
        int top = REACH - 1, foot = REACH - 1;
        v[REACH - 1] = at(g, w, x, y);
        for (int k = REACH; k < v.length; k++) {
            v[k] = at(g, w, x + sign * ax * (k - REACH + 1), y + sign * ay * (k - REACH + 1));
            if (v[k] <= v[k - 1] + STILL) break;
            top = k;
        }
        for (int k = REACH - 2; k >= 0; k--) {
            v[k] = at(g, w, x + sign * ax * (k - REACH + 1), y + sign * ay * (k - REACH + 1));
            if (v[k] >= v[k + 1] - STILL) break;
            foot = k;
        }
        double lo = v[foot], rise = v[top] - lo;
        if (rise < 12) return 0;
        return (crossing(v, foot, lo + 0.8 * rise) - crossing(v, foot, lo + 0.2 * rise)) / 0.6;
    }

    private static double crossing(double[] v, int foot, double level) {
        int k = foot;
        while (v[k + 1] < level) k++;
        return k + (level - v[k]) / (v[k + 1] - v[k]);
    }

    private static double at(float[] g, int w, double x, double y) {
        int x0 = (int) x, y0 = (int) y;
        double a = x - x0, b = y - y0;
        int i = y0 * w + x0;
        return (g[i] * (1 - a) + g[i + 1] * a) * (1 - b) + (g[i + w] * (1 - a) + g[i + w + 1] * a) * b;
    }

    /**
     * Noise by Immerkaer's operator (1996: what is left of a picture when its even and sloping parts are taken out; its
     * norm is 6), in the calmest fifth of the blocks of each brightness, so that texture does not count.
     */
    private static double[] noise(float[] g, int w, int h) {
        int bx = w / BLOCK, by = h / BLOCK;
        double[][] sigma = new double[BANDS][bx * by];
        int[] n = new int[BANDS];
        for (int j = 0; j < by; j++) {
            for (int i = 0; i < bx; i++) {
                double sum = 0, mean = 0;
                int m = 0;
                for (int y = Math.max(1, j * BLOCK); y < Math.min(h - 1, (j + 1) * BLOCK); y++) {
                    for (int x = Math.max(1, i * BLOCK); x < Math.min(w - 1, (i + 1) * BLOCK); x++) {
                        int k = y * w + x;
                        sum += Math.abs(g[k - w - 1]
                                - 2 * g[k - w]
                                + g[k - w + 1]
                                - 2 * g[k - 1]
                                + 4 * g[k]
                                - 2 * g[k + 1]
                                + g[k + w - 1]
                                - 2 * g[k + w]
                                + g[k + w + 1]);
                        mean += g[k];
                        m++;
                    }
                }
                int band = (int) Math.max(0, Math.min(BANDS - 1, mean / m * BANDS / 256));
                // Mean absolute value of a normal distribution is sqrt(2 / pi) of its deviation.
                sigma[band][n[band]++] = sum / m * Math.sqrt(Math.PI / 2) / 6;
            }
        }
        double[] out = new double[BANDS];
        for (int b = 0; b < BANDS; b++) {
            out[b] = Double.NaN;
            if (n[b] < 40) continue;
            Arrays.sort(sigma[b], 0, n[b]);
            out[b] = sigma[b][n[b] / 10];
        }
        return out;
    }

    private static double stops(Image im) {
        double s = 0;
        int n = 0;
        float[] r = im.planes[0], g = im.planes[1], b = im.planes[2];
        for (int i = 0; i < r.length; i += 5, n++)
            s += Math.log(Math.max(0.2126f * r[i] + 0.7152f * g[i] + 0.0722f * b[i], 1e-4f));
        return s / n / Math.log(2);
    }

    private static double clipped(Image im, dasein.core.image.Encoding e, boolean white) {
        float limit = (float) (white ? e.decode(254.5 / 255) : e.decode(0.5 / 255));
        long n = 0;
        for (int i = 0; i < im.planes[0].length; i++) {
            boolean any = false;
            for (int c = 0; c < 3; c++) any |= white ? im.planes[c][i] >= limit : im.planes[c][i] <= limit;
            if (any) n++;
        }
        return (double) n / im.planes[0].length;
    }
}

package dasein.core.track;

import dasein.core.image.Pyramid;

/**
 * The one shift that best brings a whole picture onto the next, from their coarsest levels: what a shaken camera does
 * between two frames. Whole steps of the coarse level refined by a parabola, so good to a few pixels: a start for
 * tracking, no measurement.
 */
final class GlobalShift {
    /** The search reaches this part of the picture in both directions. */
    private static final double REACH = 0.25;

    private GlobalShift() {}

    /**
     * @return shift in pixels of the full size, and how unlike the pictures stay: {x, y, 0 (the same picture) to 1 (no
     *     better than any other shift)}
     */
    static double[] between(Pyramid a, Pyramid b) {
        int l = a.levels() - 1, w = a.width(l), h = a.height(l);
        float[] p = a.plane(l), q = b.plane(l);
        float gain = mean(p) / Math.max(mean(q), 1e-6f);
        int rx = Math.max(1, (int) (w * REACH)), ry = Math.max(1, (int) (h * REACH));
        double[][] cost = new double[2 * ry + 1][2 * rx + 1];
        java.util.stream.IntStream.rangeClosed(-ry, ry).parallel().forEach(dy -> {
            for (int dx = -rx; dx <= rx; dx++) cost[dy + ry][dx + rx] = difference(p, q, w, h, dx, dy, gain);
        });
        int bx = rx, by = ry;
        double sum = 0;
        for (int j = 0; j < cost.length; j++)
            for (int i = 0; i < cost[0].length; i++) {
                sum += cost[j][i];
                if (cost[j][i] < cost[by][bx]) {
                    bx = i;
                    by = j;
                }
            }
        double mean = sum / (cost.length * cost[0].length);
        double x = bx - rx, y = by - ry;
        if (bx > 0 && bx < 2 * rx) x += parabola(cost[by][bx - 1], cost[by][bx], cost[by][bx + 1]);
        if (by > 0 && by < 2 * ry) y += parabola(cost[by - 1][bx], cost[by][bx], cost[by + 1][bx]);
        return new double[] {x * (1 << l), y * (1 << l), mean > 0 ? cost[by][bx] / mean : 1};
    }

    private static float mean(float[] p) {
        double s = 0;
        for (float v : p) s += v;
        return (float) (s / p.length);
    }

    /** Mean absolute difference where both overlap. */
    private static double difference(float[] p, float[] q, int w, int h, int dx, int dy, float gain) {
        int x0 = Math.max(0, -dx), x1 = Math.min(w, w - dx), y0 = Math.max(0, -dy), y1 = Math.min(h, h - dy);
        double sum = 0;
        int n = 0;
        // Every other pixel of every other row is enough.
        for (int y = y0; y < y1; y += 2) {
            float row = 0;
            for (int x = x0, i = y * w + x0, k = (y + dy) * w + x0 + dx; x < x1; x += 2, i += 2, k += 2, n++)
                row += Math.abs(p[i] - gain * q[k]);
            sum += row;
        }
        return sum / n;
    }

    private static double parabola(double before, double at, double after) {
        double d = before - 2 * at + after;
        return d <= 1e-12 ? 0 : Math.max(-0.5, Math.min(0.5, 0.5 * (before - after) / d));
    }
}

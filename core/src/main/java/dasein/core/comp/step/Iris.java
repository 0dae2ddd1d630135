package dasein.core.comp.step;

import dasein.core.image.Image;

/**
 * Spreads every pixel evenly over a disc, or over a polygon as iris blades leave it, of the same area as the disc. Row
 * by row of the shape by running sums, so that time grows with its height alone.
 */
final class Iris {
    private final int rows;
    /** For each row of the shape from above: where it begins and ends, in pixels from its middle. */
    private final double[] from, to;
    /** What one pixel is divided among. */
    private final double area;

    /** @param diameter pixels; @param blades fewer than three: round */
    Iris(double diameter, int blades) {
        this(diameter, blades, 0, 0);
    }

    /**
     * As it is seen from beside the axis, where front and rear rim of the lens cover a part of it: what lies within two
     * more discs of this size, moved by {@code x, y} pixels to one side and to the other. Its light stays one.
     */
    Iris(double diameter, int blades, double moveX, double moveY) {
        double r = diameter / 2,
                size = blades < 3 ? r : r * Math.sqrt(2 * Math.PI / (blades * Math.sin(2 * Math.PI / blades)));
        rows = (int) Math.ceil(size + 0.5);
        from = new double[(2 * rows + 1) * FINE];
        to = new double[from.length];
        double sum = 0;
        for (int j = 0; j < from.length; j++) {
            double y = (j + 0.5) / FINE - rows - 0.5, half = blades < 3 ? round(r, y) : 0;
            from[j] = blades < 3 ? -half : edge(size, blades, y, false);
            to[j] = blades < 3 ? half : edge(size, blades, y, true);
            for (int side = -1; side <= 1 && (moveX != 0 || moveY != 0); side += 2) {
                double rim = round(r, y - side * moveY);
                from[j] = Math.max(from[j], side * moveX - rim);
                to[j] = Math.min(to[j], side * moveX + rim);
            }
            sum += Math.max(0, to[j] - from[j]) / FINE;
        }
        area = sum;
    }

    /** Rows of the shape for a row of the picture, for smooth upper and lower ends. */
    private static final int FINE = 4;

    private static double round(double r, double y) {
        return Math.abs(y) < r ? Math.sqrt(r * r - y * y) : 0;
    }

    /** Where a polygon with a corner on top is met by a row; 0 outside. */
    private static double edge(double size, int blades, double y, boolean right) {
        double best = 0;
        boolean met = false;
        for (int k = 0; k < blades; k++) {
            double a = 2 * Math.PI * k / blades, b = 2 * Math.PI * (k + 1) / blades;
            double x0 = size * Math.sin(a), y0 = -size * Math.cos(a), x1 = size * Math.sin(b), y1 = -size * Math.cos(b);
            if (y < Math.min(y0, y1) || y > Math.max(y0, y1) || y0 == y1) continue;
            double x = x0 + (x1 - x0) * (y - y0) / (y1 - y0);
            best = !met ? x : right ? Math.max(best, x) : Math.min(best, x);
            met = true;
        }
        return met ? best : 0;
    }

    float[] spread(float[] p, int w, int h) {
        if (!(area > 1)) return p;
        double[][] sums = new double[h][];
        Image.rows(h, y -> {
            double[] s = new double[w + 1];
            boolean any = false;
            for (int x = 0; x < w; x++) {
                any |= p[y * w + x] != 0;
                s[x + 1] = s[x] + p[y * w + x];
            }
            if (any) sums[y] = s;
        });
        float[] out = new float[w * h];
        Image.rows(h, y -> {
            double[] row = new double[w];
            boolean any = false;
            for (int j = 0; j < from.length; j++) {
                int at = y + j / FINE - rows;
                if (at < 0 || at >= h || sums[at] == null || !(to[j] > from[j])) continue;
                any = true;
                add(row, sums[at], w, from[j] + 0.5, to[j] + 0.5);
            }
            if (!any) return;
            for (int x = 0; x < w; x++) out[y * w + x] = (float) (row[x] / (area * FINE));
        });
        return out;
    }

    /** Adds, at every place, the sum from so far before it to so far behind it. */
    private static void add(double[] row, double[] s, int w, double from, double to) {
        int a = (int) Math.floor(from), b = (int) Math.floor(to);
        double ka = from - a, kb = to - b;
        for (int x = 0; x < w; x++) row[x] += at(s, w, x + b, kb) - at(s, w, x + a, ka);
    }

    private static double at(double[] s, int w, int i, double k) {
        if (i < 0) return 0;
        if (i >= w) return s[w];
        return s[i] + k * (s[i + 1] - s[i]);
    }
}

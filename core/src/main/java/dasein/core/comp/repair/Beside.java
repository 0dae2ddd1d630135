package dasein.core.comp.repair;

import dasein.core.image.Image;
import java.util.function.IntFunction;

/** Takes a patch from elsewhere in the same frame. */
final class Beside {
    /** From as far as so many radii away, where nobody says from where; and so many places around. */
    private static final double[] AWAY = {2.4, 3.2, 4.2};

    private static final int ROUND = 16;

    private final IntFunction<Image> plate;
    private final int first, last;

    Beside(IntFunction<Image> plate, int first, int last) {
        this.plate = plate;
        this.first = first;
        this.last = last;
    }

    void copy(Image im, Repair r, Area a, float[][] from, float[] found) {
        double dx = r.dx(), dy = r.dy();
        if (dx == 0 && dy == 0) {
            double[] best = alike(im, a);
            dx = best[0];
            dy = best[1];
        }
        // Whole pixels: what is copied keeps its grain.
        int ox = (int) Math.rint(dx), oy = (int) Math.rint(dy);
        for (int y = 0; y < a.h(); y++)
            for (int x = 0, o = y * a.w(); x < a.w(); x++, o++) {
                int sx = Math.max(0, Math.min(im.width - 1, a.x0() + x + ox)),
                        sy = Math.max(0, Math.min(im.height - 1, a.y0() + y + oy));
                for (int c = 0; c < 3; c++) from[c][o] = im.planes[c][sy * im.width + sx];
                found[o] = 1;
            }
    }

    /**
     * Offset to the place around whose rim is most like this one's. It is looked for in the middle frame of a track, so
     * that it stays from frame to frame.
     */
    private double[] alike(Image im, Area a) {
        Area at = a;
        Image seen = im;
        if (a.track() != null) {
            int f = Math.max(first, Math.min(last, a.track().frames()[a.track().length() / 2]));
            int i = a.track().at(f);
            if (i >= 0) {
                double radius = (a.w() / 2.0) - Area.RIM - 1;
                Area then = Area.disc(
                        a.track(), a.track().x()[i], a.track().y()[i], Math.max(1, radius), 0, im.width, im.height);
                if (then != null) {
                    at = then;
                    seen = plate.apply(f);
                }
            }
        }
        double size = Math.max(at.w(), at.h()) / 2.0 - Area.RIM, best = Double.MAX_VALUE;
        double[] out = {Math.rint(AWAY[0] * size), 0};
        for (double far : AWAY)
            for (int k = 0; k < ROUND; k++) {
                double dx = Math.rint(far * size * Math.cos(2 * Math.PI * k / ROUND)),
                        dy = Math.rint(far * size * Math.sin(2 * Math.PI * k / ROUND));
                double d = unlike(seen, at, (int) dx, (int) dy);
                if (d < best) {
                    best = d;
                    out = new double[] {dx, dy};
                }
            }
        return out;
    }

    /** Of the rims: variance of their difference in brightness, whose mean is brought to be the same anyhow. */
    private static double unlike(Image im, Area a, int dx, int dy) {
        if (a.x0() + dx < 0 || a.y0() + dy < 0 || a.x0() + dx + a.w() > im.width || a.y0() + dy + a.h() > im.height)
            return Double.MAX_VALUE;
        double sum = 0, squares = 0, inner = 0, innerSquares = 0;
        int n = 0, m = 0;
        for (int y = 0; y < a.h(); y++)
            for (int x = 0; x < a.w(); x++) {
                int i = (y + a.y0()) * im.width + x + a.x0(), s = i + dy * im.width + dx;
                double v = Image.luma(im.planes, s);
                if (a.part()[y * a.w() + x] == 0) {
                    double d = Image.luma(im.planes, i) - v;
                    sum += d;
                    squares += d * d;
                    n++;
                } else {
                    inner += v;
                    innerSquares += v * v;
                    m++;
                }
            }
        if (n == 0 || m == 0) return Double.MAX_VALUE;
        // Another marker in what is copied counts as unlike.
        return squares / n - sum * sum / ((double) n * n) + 0.5 * (innerSquares / m - inner * inner / ((double) m * m));
    }
}

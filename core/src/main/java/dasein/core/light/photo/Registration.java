package dasein.core.light.photo;

import dasein.core.image.Image;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.CommonOps_DDRM;

/**
 * How hand-held photographs of different exposure lie on each other: shift and turn. One's codes are brought to the
 * other's by their histograms, which needs neither response nor place (Grossberg and Nayar 2003), then Gauss-Newton on
 * a pyramid.
 */
public final class Registration {
    private static final int COARSE = 48, FINE = 900, REACH = 5, STEPS = 12;
    /** What is cut off or dark in either tells nothing. */
    private static final float LEAST = 0.01f, MOST = 0.97f;

    private static final int MANY = 200_000;
    /** Less than this, pixels, is left alone: interpolation would cost more sharpness than the place is worth. */
    private static final double STILL = 0.12;

    private Registration() {}

    /** Of every photograph against the one of middle exposure; those that stood still are exactly in place. */
    public static List<Placing> of(Bracket b) {
        List<Integer> order = b.byExposure();
        int middle = order.size() / 2;
        Placing[] out = new Placing[order.size()];
        out[order.get(middle)] = Placing.NONE;
        // Neighbours in exposure share most; the way to the middle is put together.
        Placing[] steps = new Placing[order.size()];
        IntStream.range(0, steps.length).parallel().forEach(k -> {
            int near = k < middle ? k + 1 : k - 1;
            if (k != middle)
                steps[k] = between(b.photos().get(order.get(near)), b.photos().get(order.get(k)), Placing.NONE);
        });
        for (int side : new int[] {-1, 1})
            for (int k = middle + side; k >= 0 && k < order.size(); k += side) {
                int near = order.get(k - side), far = order.get(k);
                Placing step = steps[k];
                Placing p = step == null ? out[near] : out[near].then(step);
                out[far] = p.most(b.width(), b.height()) < STILL ? Placing.NONE : p;
            }
        return new ArrayList<>(Arrays.asList(out));
    }

    /** Null when they share too little. */
    private static Placing between(Photo to, Photo from, Placing start) {
        int levels = 0;
        while (Math.max(to.width, to.height) >> levels > FINE) levels++;
        int finest = levels;
        while (Math.max(to.width, to.height) >> levels > COARSE) levels++;
        Placing p = start;
        boolean any = false;
        List<Image> tos = greys(to, 1 << finest, levels - finest), froms = greys(from, 1 << finest, levels - finest);
        for (int level = levels; level >= finest; level--) {
            int by = 1 << level;
            if (level - finest >= tos.size()) continue;
            Image a = tos.get(level - finest), b = matched(a, froms.get(level - finest));
            if (a.width < 8 || a.height < 8) continue;
            Placing here = new Placing(p.dx() / by, p.dy() / by, p.turn());
            if (level == levels) here = coarse(a, b, here);
            Placing fine = refine(a, b, here);
            if (fine == null) continue;
            any = true;
            p = new Placing(fine.dx() * by, fine.dy() * by, fine.turn());
        }
        return any ? p : null;
    }

    private static List<Image> greys(Photo p, int by, int halvings) {
        List<Image> out = new ArrayList<>(List.of(p.grey(by)));
        for (int k = 0; k < halvings; k++) {
            Image last = out.get(k);
            if (last.width < 2 || last.height < 2) break;
            out.add(last.half());
        }
        return out;
    }

    /** b with its codes brought to those that as many pixels of a have; what cannot be told is NaN. */
    private static Image matched(Image a, Image b) {
        int bins = 1024;
        double[] ca = cumulative(a.planes[0], bins), cb = cumulative(b.planes[0], bins);
        float[] map = new float[bins];
        for (int z = 0, y = 0; z < bins; z++) {
            double part = (cb[z] + cb[z + 1]) / 2;
            while (y < bins - 1 && ca[y + 1] < part) y++;
            double width = ca[y + 1] - ca[y];
            map[z] = (float) ((y + (width > 0 ? Math.max(0, Math.min(1, (part - ca[y]) / width)) : 0.5)) / bins);
        }
        Image out = new Image(b.width, b.height, 1);
        for (int i = 0; i < out.planes[0].length; i++) {
            float v = b.planes[0][i];
            out.planes[0][i] = v < LEAST || v > MOST ? Float.NaN : map[Math.min(bins - 1, (int) (v * bins))];
        }
        return out;
    }

    private static double[] cumulative(float[] v, int bins) {
        double[] c = new double[bins + 1];
        for (float x : v) c[1 + Math.max(0, Math.min(bins - 1, (int) (x * bins)))]++;
        for (int z = 1; z <= bins; z++) c[z] = c[z - 1] + c[z] / v.length;
        return c;
    }

    private static float sample(Image m, double x, double y) {
        double fx = x - 0.5, fy = y - 0.5;
        int x0 = (int) Math.floor(fx), y0 = (int) Math.floor(fy);
        if (x0 < 0 || y0 < 0 || x0 + 1 >= m.width || y0 + 1 >= m.height) return Float.NaN;
        float a = (float) (fx - x0), b = (float) (fy - y0);
        float[] p = m.planes[0];
        int i = y0 * m.width + x0;
        return (p[i] * (1 - a) + p[i + 1] * a) * (1 - b) + (p[i + m.width] * (1 - a) + p[i + m.width + 1] * a) * b;
    }

    private static Placing coarse(Image a, Image b, Placing start) {
        Placing best = start;
        double least = Double.MAX_VALUE;
        for (int dy = -REACH; dy <= REACH; dy++)
            for (int dx = -REACH; dx <= REACH; dx++) {
                Placing p = new Placing(start.dx() + dx, start.dy() + dy, start.turn());
                double sum = 0;
                int n = 0;
                for (int y = 0; y < a.height; y++)
                    for (int x = 0; x < a.width; x++) {
                        float u = a.planes[0][y * a.width + x],
                                v =
                                        sample(
                                                b,
                                                p.x(x + 0.5, y + 0.5, a.width, a.height),
                                                p.y(x + 0.5, y + 0.5, a.width, a.height));
                        if (Float.isNaN(v) || u < LEAST || u > MOST) continue;
                        sum += Math.min(Math.abs(u - v), 0.2);
                        n++;
                    }
                if (n > a.width * a.height / 10 && sum / n < least) {
                    least = sum / n;
                    best = p;
                }
            }
        return best;
    }

    /** Null when too few pixels can be told or it does not settle. */
    private static Placing refine(Image a, Image b, Placing p) {
        double middleX = a.width / 2.0, middleY = a.height / 2.0;
        // Of large pictures every second pixel of every second row holds the place as well.
        int stride = a.width * a.height > MANY ? 2 : 1;
        for (int step = 0; step < STEPS; step++) {
            double[] normal = new double[16], right = new double[4];
            int used = 0;
            double cos = Math.cos(p.turn()), sin = Math.sin(p.turn());
            double[] j = new double[4];
            for (int y = 1; y < a.height - 1; y += stride)
                for (int x = 1; x < a.width - 1; x += stride) {
                    float u = a.planes[0][y * a.width + x];
                    if (u < LEAST || u > MOST) continue;
                    double rx = x + 0.5 - middleX, ry = y + 0.5 - middleY;
                    double sx = middleX + cos * rx - sin * ry + p.dx(), sy = middleY + sin * rx + cos * ry + p.dy();
                    float v = sample(b, sx, sy),
                            gx = (sample(b, sx + 1, sy) - sample(b, sx - 1, sy)) / 2,
                            gy = (sample(b, sx, sy + 1) - sample(b, sx, sy - 1)) / 2;
                    if (Float.isNaN(v + gx + gy)) continue;
                    double e = u - v, w = 1 / (1 + e * e / 0.0016);
                    j[0] = gx;
                    j[1] = gy;
                    j[2] = gx * (-sin * rx - cos * ry) + gy * (cos * rx - sin * ry);
                    // The match by histogram may be a little off as a whole.
                    j[3] = 1;
                    for (int r = 0; r < 4; r++) {
                        double wr = w * j[r];
                        right[r] += wr * e;
                        for (int c = r; c < 4; c++) normal[4 * r + c] += wr * j[c];
                    }
                    used++;
                }
            if (used < 60) return null;
            for (int r = 1; r < 4; r++) for (int c = 0; c < r; c++) normal[4 * r + c] = normal[4 * c + r];
            DMatrixRMaj n = DMatrixRMaj.wrap(4, 4, normal),
                    g = DMatrixRMaj.wrap(4, 1, right),
                    d = new DMatrixRMaj(4, 1);
            for (int r = 0; r < 4; r++) n.add(r, r, 1e-9 + 1e-6 * n.get(r, r));
            if (!CommonOps_DDRM.solve(n, g, d)) return null;
            p = new Placing(p.dx() + d.get(0, 0), p.dy() + d.get(1, 0), p.turn() + d.get(2, 0));
            if (p.most(a.width, a.height) > 0.5 * Math.max(a.width, a.height)) return null;
            if (Math.hypot(d.get(0, 0), d.get(1, 0)) + Math.abs(d.get(2, 0)) * a.width < 0.003) break;
        }
        return p;
    }
}

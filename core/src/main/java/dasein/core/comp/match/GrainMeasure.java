package dasein.core.comp.match;

import dasein.core.NoSolution;
import dasein.core.comp.step.GrainField;
import dasein.core.image.Encoding;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.math.Medians;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import org.ejml.simple.SimpleMatrix;

/**
 * A plate's grain, from pairs of neighbouring frames. Small blocks are laid on each other as their surroundings moved;
 * those that come to lie within a fraction of a pixel need no interpolation, which would smooth the grain, and what
 * little they are off is taken out by their slopes. Half of the variance of the difference is that of the grain. Of
 * blocks as bright the smoothest count, by their median: what differs there is no texture.
 */
public final class GrainMeasure {
    private static final int SIDE = 20, REACH = 24, LAGS = 4, BINS = 10;
    /**
     * Part of a pixel by which a block may be off; of the blocks as bright the part that is smooth, and the part by
     * which it is told what texture does.
     */
    private static final double OFF = 0.25, SMOOTH = 0.2, TEXTURED = 0.6;

    private static final int LEAST = 6, LEAST_ALL = 24;
    /** Blocks on each side, and how many of them at least, by which it is judged how a block moved. */
    private static final int AROUND = 4, LEAST_AROUND = 5;
    /** Codes beyond which a sensor shows no grain any more. */
    private static final double DARKEST = 0.02, BRIGHTEST = 0.97;

    /**
     * What was found, in the numbers of the step that lays it on.
     *
     * @param level standard deviation in code values at middle brightness, mean of the colours; @param uncertainty of
     *     it, one sigma
     * @param colour of each colour over that; @param dark, bright where the picture is black and white, over that
     * @param size, colourSize, common as {@link GrainField#planes} takes them
     * @param blocks that were looked at
     */
    public record Found(
            double level,
            double uncertainty,
            double[] colour,
            double dark,
            double bright,
            double size,
            double colourSize,
            double common,
            int blocks) {}

    private record Block(double brightness, double texture, float[][] rest) {}

    private final List<Block> blocks = new ArrayList<>();

    /** @throws NoSolution with a sentence when too little of the frames can be laid on each other */
    public Found found() {
        List<Block> smooth = new ArrayList<>();
        List<double[]> levels = new ArrayList<>();
        for (int b = 0; b < BINS; b++) {
            int bin = b;
            List<Block> as = blocks.stream()
                    .filter(k -> Math.min(BINS - 1, (int) (k.brightness * BINS)) == bin)
                    .sorted(Comparator.comparingDouble(Block::texture))
                    .toList();
            if (as.size() < LEAST) continue;
            List<Block> these = as.subList(0, Math.min(as.size(), Math.max(LEAST, (int) (SMOOTH * as.size()))));
            List<Block> many = as.subList(0, Math.min(as.size(), Math.max(LEAST, (int) (TEXTURED * as.size()))));
            double[] row = new double[6];
            for (Block k : these) row[0] += k.brightness / these.size();
            for (int c = 0; c < 3; c++) row[1 + c] = Math.sqrt(withoutTexture(many, c) / 2);
            row[4] = these.size();
            // Of a median of so many.
            row[5] = 1.25 * spread(these) / Math.sqrt(these.size());
            levels.add(row);
            smooth.addAll(these);
        }
        if (smooth.size() < LEAST_ALL)
            throw new NoSolution("too little of these frames can be laid on each other to see their grain: "
                    + smooth.size() + " places, " + LEAST_ALL + " are needed");
        return fitted(levels, smooth);
    }

    /**
     * Variance where there is no texture: the more texture, the more is left of it where blocks are not laid on each
     * other exactly; a straight line through all (Theil 1950, Sen 1968) tells what is left without. @param of sorted by
     * texture
     */
    private static double withoutTexture(List<Block> of, int c) {
        int n = of.size(), half = n / 2;
        double[] v = of.stream().mapToDouble(k -> variance(k.rest[c])).toArray();
        double[] rise = new double[half], level = new double[n];
        for (int i = 0; i < half; i++) {
            double run = of.get(i + n - half).texture - of.get(i).texture;
            rise[i] = run > 0 ? (v[i + n - half] - v[i]) / run : 0;
        }
        double k = Math.max(0, Medians.of(rise)), least = of.get(0).texture;
        for (int i = 0; i < n; i++) level[i] = v[i] - k * (of.get(i).texture - least);
        return Math.max(0, Medians.of(level));
    }

    private static double spread(List<Block> k) {
        double[] s = k.stream()
                .mapToDouble(b -> Math.sqrt(variance(b.rest[1]) / 2))
                .sorted()
                .toArray();
        return (s[(int) (0.84 * (s.length - 1))] - s[(int) (0.16 * (s.length - 1))]) / 2;
    }

    private static Found fitted(List<double[]> levels, List<Block> smooth) {
        // Level over brightness, straight from black to middle to white; drawn a little to one level for all.
        SimpleMatrix a = new SimpleMatrix(3, 3), b = new SimpleMatrix(3, 1);
        double all = 0, weight = 0, sure = 0;
        for (double[] r : levels) {
            all += r[4] * (r[1] + r[2] + r[3]) / 3;
            weight += r[4];
            sure += 1 / (r[5] * r[5] + 1e-12);
        }
        double even = all / weight, pull = 0.002 * weight;
        for (double[] r : levels) {
            double[] h = hats(r[0]);
            for (int i = 0; i < 3; i++) {
                for (int j = 0; j < 3; j++) a.set(i, j, a.get(i, j) + r[4] * h[i] * h[j]);
                b.set(i, b.get(i) + r[4] * h[i] * (r[1] + r[2] + r[3]) / 3);
            }
        }
        for (int i = 0; i < 3; i++) {
            a.set(i, i, a.get(i, i) + pull);
            b.set(i, b.get(i) + pull * even);
        }
        double[] knots = a.solve(b).getDDRM().data;
        for (int i = 0; i < 3; i++) knots[i] = Math.max(0, knots[i]);
        // Where nothing was seen at middle brightness it is taken to be as elsewhere, or nearly none.
        double level = Math.max(Math.max(knots[1], even / 4), 1e-6);
        double[] colour = new double[3];
        for (int c = 0; c < 3; c++) {
            double up = 0, down = 0;
            for (double[] r : levels) {
                up += r[4] * r[1 + c];
                down += r[4] * (r[1] + r[2] + r[3]) / 3;
            }
            colour[c] = down > 0 ? up / down : 1;
        }
        double[] one = new double[LAGS], apart = new double[LAGS];
        for (Block k : smooth) lags(k, level, colour, knots, one, apart);
        double mean = one[0] / smooth.size(), rest = apart[0] / smooth.size();
        // Of unit colours the mean's part has 1 + 2 common, each difference 1 - common.
        double common = Math.max(0, Math.min(1, (mean - rest) / (mean + 2 * rest)));
        return new Found(
                level,
                Math.sqrt(1 / sure),
                colour,
                ratio(knots[0], level),
                ratio(knots[2], level),
                size(one),
                size(apart),
                common,
                smooth.size());
    }

    private static double ratio(double knot, double level) {
        return Math.max(0, Math.min(10, knot / level));
    }

    private static double[] hats(double v) {
        double t = Math.max(0, Math.min(1, v));
        return new double[] {Math.max(0, 1 - 2 * t), 1 - Math.abs(2 * t - 1), Math.max(0, 2 * t - 1)};
    }

    /** Adds what the colours' mean and their differences have in common with themselves some pixels on. */
    private static void lags(Block k, double level, double[] colour, double[] knots, double[] one, double[] apart) {
        double[] h = hats(k.brightness);
        double here = Math.max(1e-7, h[0] * knots[0] + h[1] * level + h[2] * knots[2]);
        int n = SIDE * SIDE;
        float[][] o = new float[3][n];
        for (int i = 0; i < n; i++) {
            double r = k.rest[0][i] / (here * colour[0]),
                    g = k.rest[1][i] / (here * colour[1]),
                    b = k.rest[2][i] / (here * colour[2]);
            o[0][i] = (float) ((r + g + b) / Math.sqrt(3));
            o[1][i] = (float) ((r - b) / Math.sqrt(2));
            o[2][i] = (float) ((r - 2 * g + b) / Math.sqrt(6));
        }
        for (int l = 0; l < LAGS; l++) {
            one[l] += lag(o[0], l) / 2;
            apart[l] += (lag(o[1], l) + lag(o[2], l)) / 4;
        }
    }

    /** Mean product of places so far apart, along rows and columns. */
    private static double lag(float[] v, int l) {
        double sum = 0;
        int n = 0;
        for (int y = 0; y < SIDE; y++)
            for (int x = 0; x + l < SIDE; x++, n += 2)
                sum += v[y * SIDE + x] * v[y * SIDE + x + l] + v[x * SIDE + y] * v[(x + l) * SIDE + y];
        return sum / n;
    }

    /** The size whose correlations are nearest to those found. */
    private static double size(double[] lags) {
        double best = 0, least = Double.POSITIVE_INFINITY;
        if (!(lags[0] > 0)) return 0;
        for (double s = 0; s <= 4; s += 0.01) {
            double off = 0;
            for (int l = 1; l < LAGS; l++) off += Math.pow(lags[l] / lags[0] - GrainField.correlation(s, l), 2);
            if (off >= least) continue;
            least = off;
            best = s;
        }
        return best;
    }

    /** Looks at two neighbouring frames of one size, scene-linear. */
    public void look(Image a, Image b, Encoding e) {
        look(Codes.of(a, e), Codes.of(b, e));
    }

    void look(Codes a, Codes b) {
        int w = a.width(), h = a.height();
        float[] sa = Filters.gaussian(a.luma(), w, h, 1), sb = Filters.gaussian(b.luma(), w, h, 1);
        int across = (w - 2) / SIDE, down = (h - 2) / SIDE;
        Shift[] own = new Shift[across * down], agreed = new Shift[own.length];
        IntStream.range(0, own.length)
                .parallel()
                .forEach(k -> own[k] = nearest(sa, sb, w, h, x(k, across), y(k, across)));
        double[] textures = Arrays.stream(own)
                .mapToDouble(s -> s == null ? 0 : s.texture)
                .sorted()
                .toArray();
        double told = textures[textures.length / 2];
        IntStream.range(0, own.length).parallel().forEach(k -> agreed[k] = agreed(own, k, across, down, told));
        IntStream.range(0, own.length)
                .mapToObj(k -> block(a, b, sa, w, h, x(k, across), y(k, across), agreed[k]))
                .filter(java.util.Objects::nonNull)
                .forEach(blocks::add);
    }

    private static int x(int k, int across) {
        return 1 + k % across * SIDE;
    }

    private static int y(int k, int across) {
        return 1 + k / across * SIDE;
    }

    /** Pixels by which a block lies elsewhere in the other frame. */
    private record Shift(double x, double y, double texture) {}

    /**
     * What blocks with texture around one say, by their median: a block by itself would be laid where its grain happens
     * to be most alike, and seem to have less.
     */
    private static Shift agreed(Shift[] own, int k, int across, int down, double told) {
        double[] x = new double[(2 * AROUND + 1) * (2 * AROUND + 1)], y = new double[x.length];
        int n = 0;
        for (int j = Math.max(0, k / across - AROUND); j <= Math.min(down - 1, k / across + AROUND); j++)
            for (int i = Math.max(0, k % across - AROUND); i <= Math.min(across - 1, k % across + AROUND); i++) {
                Shift s = own[j * across + i];
                if (s == null || !(s.texture > told)) continue;
                x[n] = s.x;
                y[n++] = s.y;
            }
        if (n < LEAST_AROUND || own[k] == null) return null;
        return new Shift(Medians.of(Arrays.copyOf(x, n)), Medians.of(Arrays.copyOf(y, n)), own[k].texture);
    }

    private static Block block(Codes a, Codes b, float[] sa, int w, int h, int x0, int y0, Shift by) {
        if (by == null) return null;
        int dx = (int) Math.rint(by.x), dy = (int) Math.rint(by.y);
        double fx = by.x - dx, fy = by.y - dy;
        if (Math.abs(fx) > OFF || Math.abs(fy) > OFF) return null;
        if (x0 + dx < 1 || y0 + dy < 1 || x0 + dx + SIDE >= w - 1 || y0 + dy + SIDE >= h - 1) return null;
        float[][] rest = new float[3][SIDE * SIDE];
        double brightness = 0;
        for (int c = 0; c < 3; c++) {
            float[] p = a.planes()[c], q = b.planes()[c];
            double mean = 0;
            for (int y = 0; y < SIDE; y++)
                for (int x = 0; x < SIDE; x++) {
                    int i = (y0 + y) * w + x0 + x, j = i + dy * w + dx;
                    double gx = slope(sa, i, 1), gy = slope(sa, i, w);
                    float v = (float) (q[j] - p[i] + fx * gx + fy * gy);
                    rest[c][y * SIDE + x] = v;
                    mean += v;
                    brightness += a.luma()[i] / (3 * SIDE * SIDE);
                }
            mean /= SIDE * SIDE;
            for (int i = 0; i < SIDE * SIDE; i++) rest[c][i] -= (float) mean;
        }
        return brightness < DARKEST || brightness > BRIGHTEST ? null : new Block(brightness, by.texture, rest);
    }

    /** Where the block lies in the other frame, to a part of a pixel; null where that is not within reach. */
    private static Shift nearest(float[] a, float[] b, int w, int h, int x0, int y0) {
        int cx = 0, cy = 0;
        double least = Double.POSITIVE_INFINITY;
        // Every third place within reach, then every one around the best of these.
        for (int step : new int[] {3, 1}) {
            int bx = cx, by = cy, reach = step == 3 ? REACH : 3;
            for (int dy = -reach; dy <= reach; dy += step)
                for (int dx = -reach; dx <= reach; dx += step) {
                    int x = x0 + cx + dx, y = y0 + cy + dy;
                    if (x < 1 || y < 1 || x + SIDE >= w - 1 || y + SIDE >= h - 1) continue;
                    double d = apart(a, b, w, x0, y0, x, y, least);
                    if (d >= least) continue;
                    least = d;
                    bx = x - x0;
                    by = y - y0;
                }
            cx = bx;
            cy = by;
        }
        if (least == Double.POSITIVE_INFINITY || Math.max(Math.abs(cx), Math.abs(cy)) > REACH) return null;
        double xx = 0, xy = 0, yy = 0, ex = 0, ey = 0;
        for (int y = 0; y < SIDE; y++)
            for (int x = 0; x < SIDE; x++) {
                int i = (y0 + y) * w + x0 + x, j = i + cy * w + cx;
                double gx = slope(a, i, 1), gy = slope(a, i, w), d = b[j] - a[i];
                xx += gx * gx;
                xy += gx * gy;
                yy += gy * gy;
                ex += gx * d;
                ey += gy * d;
            }
        double det = xx * yy - xy * xy;
        if (!(det > 0)) return null;
        // Where b shows a's place p at p + shift, b - a falls by the slope times what the shift is more.
        double fx = -(yy * ex - xy * ey) / det, fy = -(xx * ey - xy * ex) / det;
        if (Math.abs(fx) > 1.5 || Math.abs(fy) > 1.5) return null;
        return new Shift(cx + fx, cy + fy, (xx + yy) / (SIDE * SIDE));
    }

    private static double slope(float[] p, int i, int on) {
        return (p[i + on] - p[i - on]) / 2;
    }

    private static double apart(float[] a, float[] b, int w, int x0, int y0, int x1, int y1, double enough) {
        double sum = 0;
        for (int y = 0; y < SIDE && sum < enough; y += 2)
            for (int x = 0; x < SIDE; x += 2) {
                double d = a[(y0 + y) * w + x0 + x] - b[(y1 + y) * w + x1 + x];
                sum += d * d;
            }
        return sum;
    }

    private static double variance(float[] v) {
        double sum = 0;
        for (float x : v) sum += x * x;
        return sum / v.length;
    }
}

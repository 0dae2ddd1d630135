package dasein.core.light.ball;

import dasein.core.NoSolution;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/**
 * Finds the outline of a ball. Edges vote for the centres and radii that they could belong to (Hough, as Kimme, Ballard
 * and Sklansky 1975 for circles), on a small picture; the best circle is then fitted to the edges near it at full size.
 */
public final class BallFinder {
    private static final int SMALL = 260;
    /** Part of the outline that must show an edge; and how strong another ball must be to count as one. */
    private static final double SEEN = 0.42, ALSO = 0.8;
    /** Along a ray outwards: pixels from look to look; and how strong an edge must be against the strongest. */
    private static final double STEP = 0.25, OUTER = 0.4;

    private BallFinder() {}

    private record Found(double x, double y, double r, double seen) {}

    /**
     * @param light of the whole photograph, any range
     * @throws NoSolution when there is no ball, there are two, or it is cut off
     */
    public static Circle find(Image light) {
        Image small = light;
        while (Math.max(small.width, small.height) >= 2 * SMALL) small = small.half();
        double scale = (double) light.width / small.width;
        List<Found> all = candidates(small);
        Found best = all.isEmpty() ? null : all.get(0);
        if (best == null || best.seen < SEEN)
            throw new NoSolution("no ball was found in the photographs; give its circle");
        for (Found f : all)
            if (f.seen > ALSO * best.seen
                    && f.seen > SEEN
                    && Math.hypot(f.x - best.x, f.y - best.y) > 0.9 * Math.max(f.r, best.r)
                    && f.r > 0.4 * best.r)
                throw new NoSolution(
                        "two balls were found in the photographs; give the circle of the one that is to be used");
        Circle c = refine(light, new Circle(best.x * scale, best.y * scale, best.r * scale), scale);
        if (!c.within(light.width, light.height))
            throw new NoSolution("the ball is cut off by the edge of the photograph");
        return c;
    }

    /** Logarithm of luminance, so that edges in the shade count as those in the light. */
    private static float[] log(Image im) {
        float[] l = im.luminance();
        float[] sorted = l.clone();
        java.util.Arrays.sort(sorted);
        float floor = Math.max(1e-6f, 0.05f * sorted[sorted.length / 2]);
        for (int i = 0; i < l.length; i++) l[i] = (float) Math.log(Math.max(l[i], 0) + floor);
        return l;
    }

    private static List<Found> candidates(Image im) {
        int w = im.width, h = im.height;
        float[] l = Filters.gaussian(log(im), w, h, 1.0);
        float[] gx = new float[w * h], gy = new float[w * h], g = new float[w * h];
        for (int y = 1; y < h - 1; y++)
            for (int x = 1; x < w - 1; x++) {
                int i = y * w + x;
                gx[i] = l[i + 1] - l[i - 1];
                gy[i] = l[i + w] - l[i - w];
                g[i] = (float) Math.hypot(gx[i], gy[i]);
            }
        float[] sorted = g.clone();
        java.util.Arrays.sort(sorted);
        float least = Math.max(sorted[(int) (sorted.length * 0.75)], 0.02f);
        int most = Math.min(w, h) / 2 + 2, from = Math.max(6, Math.min(w, h) / 24);
        float[][] votes = new float[most + 1][];
        for (int r = from; r <= most; r++) votes[r] = new float[w * h];
        for (int y = 1; y < h - 1; y++)
            for (int x = 1; x < w - 1; x++) {
                int i = y * w + x;
                if (g[i] < least || g[i] < peak(g, gx, gy, i, w)) continue;
                double ux = gx[i] / g[i], uy = gy[i] / g[i];
                for (int side = -1; side <= 1; side += 2)
                    for (int r = from; r <= most; r++) {
                        int cx = (int) Math.round(x + side * r * ux), cy = (int) Math.round(y + side * r * uy);
                        if (cx < 0 || cy < 0 || cx >= w || cy >= h) continue;
                        votes[r][cy * w + cx] += 1f / r;
                    }
            }
        List<Found> peaks = new ArrayList<>();
        for (int r = from; r <= most; r++) {
            float[] v = Filters.gaussian(votes[r], w, h, 1.2);
            int top = 0;
            for (int i = 0; i < v.length; i++) if (v[i] > v[top]) top = i;
            // The best places of every radius, apart from each other.
            for (int k = 0; k < 3; k++) {
                int best = -1;
                for (int i = 0; i < v.length; i++) if (v[i] > 0.5 * v[top] && (best < 0 || v[i] > v[best])) best = i;
                if (best < 0) break;
                int bx = best % w, by = best / w;
                peaks.add(new Found(bx + 0.5, by + 0.5, r, v[best]));
                for (int y = Math.max(0, by - r / 2); y <= Math.min(h - 1, by + r / 2); y++)
                    for (int x = Math.max(0, bx - r / 2); x <= Math.min(w - 1, bx + r / 2); x++) v[y * w + x] = 0;
            }
        }
        peaks.sort(Comparator.comparingDouble(f -> -f.seen));
        List<Found> out = new ArrayList<>();
        for (Found p : peaks.subList(0, Math.min(60, peaks.size()))) {
            Found f = new Found(p.x, p.y, p.r, seen(g, gx, gy, w, h, p, least));
            if (out.stream().noneMatch(o -> Math.hypot(o.x - f.x, o.y - f.y) < 3 && Math.abs(o.r - f.r) < 3))
                out.add(f);
        }
        out.sort(Comparator.comparingDouble(f -> -f.seen));
        return out;
    }

    /** The larger of the two neighbours along the gradient. */
    private static float peak(float[] g, float[] gx, float[] gy, int i, int w) {
        int step = Math.abs(gx[i]) > Math.abs(gy[i]) ? 1 : w;
        return Math.max(g[i - step], g[i + step]);
    }

    /** Part of the outline along which an edge runs as it should; a large circle must earn it as a small one. */
    private static double seen(float[] g, float[] gx, float[] gy, int w, int h, Found c, float least) {
        int n = Math.max(48, (int) (2 * Math.PI * c.r)), hits = 0;
        for (int k = 0; k < n; k++) {
            double t = 2 * Math.PI * k / n, ux = Math.cos(t), uy = Math.sin(t);
            boolean hit = false;
            for (double off = -1.5; off <= 1.5 && !hit; off += 0.75) {
                int x = (int) (c.x + (c.r + off) * ux), y = (int) (c.y + (c.r + off) * uy);
                if (x < 1 || y < 1 || x >= w - 1 || y >= h - 1) continue;
                int i = y * w + x;
                hit = g[i] > 0.7f * least && Math.abs(gx[i] * ux + gy[i] * uy) > 0.86 * g[i];
            }
            if (hit) hits++;
        }
        return (double) hits / n;
    }

    /** Fitted to the strongest edges along rays from the middle, in a ring that narrows. */
    private static Circle refine(Image light, Circle c, double reach) {
        int w = light.width, h = light.height;
        int margin = (int) (c.r() + 6 * reach + 8);
        int left = Math.max(0, (int) c.x() - margin), top = Math.max(0, (int) c.y() - margin);
        int right = Math.min(w, (int) c.x() + margin), low = Math.min(h, (int) c.y() + margin);
        Image part = new Image(right - left, low - top, 3);
        for (int k = 0; k < 3; k++)
            for (int y = top; y < low; y++)
                System.arraycopy(light.planes[k], y * w + left, part.planes[k], (y - top) * part.width, part.width);
        Image l = new Image(part.width, part.height, Filters.gaussian(log(part), part.width, part.height, 0.8));
        Circle at = new Circle(c.x() - left, c.y() - top, c.r());
        double ring = 2.5 * reach + 2;
        for (int round = 0; round < 8; round++) {
            Circle next = fit(l, at, ring);
            if (next == null) break;
            at = next;
            ring = Math.max(3, 0.6 * ring);
        }
        return new Circle(at.x() + left, at.y() + top, at.r());
    }

    private static Circle fit(Image l, Circle c, double ring) {
        int n = (int) Math.max(90, Math.min(720, 2 * c.r()));
        double[] px = new double[n], py = new double[n], weight = new double[n];
        int used = 0;
        int m = (int) (2 * ring / STEP) + 1;
        double[] g = new double[m];
        for (int k = 0; k < n; k++) {
            double t = 2 * Math.PI * k / n, ux = Math.cos(t), uy = Math.sin(t);
            double most = 0;
            for (int i = 0; i < m; i++) {
                double r = c.r() - ring + i * STEP, x = c.x() + r * ux, y = c.y() + r * uy;
                boolean there = x >= 2 && y >= 2 && x <= l.width - 2 && y <= l.height - 2;
                g[i] = !there
                        ? 0
                        : Math.abs(l.sample(x + 0.7 * ux, y + 0.7 * uy, 0) - l.sample(x - 0.7 * ux, y - 0.7 * uy, 0));
                most = Math.max(most, g[i]);
            }
            if (most < 0.03) continue;
            // Near the outline the mirrored surroundings are drawn together into edges of their own, all of them
            // within: the outermost edge is the outline.
            for (int i = m - 2; i > 0; i--) {
                if (g[i] < OUTER * most || g[i] < g[i - 1] || g[i] < g[i + 1]) continue;
                double curve = g[i - 1] - 2 * g[i] + g[i + 1],
                        part = curve < 0 ? 0.5 * (g[i - 1] - g[i + 1]) / curve : 0,
                        r = c.r() - ring + (i + Math.max(-0.5, Math.min(0.5, part))) * STEP;
                px[used] = c.x() + r * ux;
                py[used] = c.y() + r * uy;
                weight[used++] = Math.min(g[i], 0.6);
                break;
            }
        }
        if (used < 40) return null;
        Circle q = c;
        // Gauss-Newton on the distance to the circle; what lies off it counts ever less (Geman and McClure).
        for (int step = 0; step < 25; step++) {
            double s = Math.max(0.4, ring / 4 * Math.pow(0.85, step));
            double[][] a = new double[3][3];
            double[] b = new double[3];
            for (int i = 0; i < used; i++) {
                double dx = px[i] - q.x(), dy = py[i] - q.y(), d = Math.hypot(dx, dy), e = d - q.r();
                double v = weight[i] / Math.pow(1 + e * e / (s * s), 2);
                double[] j = {dx / d, dy / d, 1};
                for (int r = 0; r < 3; r++) {
                    b[r] += v * j[r] * e;
                    for (int k = 0; k < 3; k++) a[r][k] += v * j[r] * j[k];
                }
            }
            double[] x = solve(a, b);
            if (x == null) return null;
            q = new Circle(q.x() + x[0], q.y() + x[1], q.r() + x[2]);
        }
        return Math.abs(q.r() - c.r()) < 2 * ring ? q : null;
    }

    private static double[] solve(double[][] a, double[] b) {
        double d = det(a[0], a[1], a[2]);
        if (!(Math.abs(d) > 1e-12)) return null;
        double[][] t = new double[3][3];
        for (int i = 0; i < 3; i++) for (int j = 0; j < 3; j++) t[i][j] = a[j][i];
        return new double[] {det(b, t[1], t[2]) / d, det(t[0], b, t[2]) / d, det(t[0], t[1], b) / d};
    }

    private static double det(double[] p, double[] q, double[] r) {
        return p[0] * (q[1] * r[2] - q[2] * r[1])
                - p[1] * (q[0] * r[2] - q[2] * r[0])
                + p[2] * (q[0] * r[1] - q[1] * r[0]);
    }
}

package dasein.core.light.chart;

import dasein.core.image.Filters;
import dasein.core.image.Image;
import java.util.ArrayList;
import java.util.List;

/** Even four-sided areas of a picture: what the patches of a chart look like from any side. */
final class Squares {
    /** Gradients (codes a pixel) below which a pixel belongs to an even area; one or the other suits. */
    private static final float[] EVEN = {0.012f, 0.025f, 0.05f};

    private static final double SOLID = 0.85, SQUARE = 0.82, LEAST_SIDES = 0.3;
    private static final int LEAST_AREA = 30;

    private Squares() {}

    /** @param corners clockwise as seen, pixels of the picture searched; area of the pixels in it */
    record Square(double x, double y, double[][] corners, double area) {
        /** From the middle of one side to that of the opposite. */
        double[] axis(int k) {
            double[] a = corners[k], b = corners[(k + 1) % 4], c = corners[(k + 2) % 4], d = corners[(k + 3) % 4];
            return new double[] {(b[0] - a[0] + c[0] - d[0]) / 2, (b[1] - a[1] + c[1] - d[1]) / 2};
        }
    }

    /** @param codes 0 to 1 as a display shows them, three planes */
    static List<Square> in(Image codes) {
        int w = codes.width, h = codes.height;
        float[] g = new float[w * h];
        for (int c = 0; c < 3; c++) {
            float[] p = Filters.gaussian(codes.planes[c], w, h, 1.0);
            for (int y = 1; y < h - 1; y++)
                for (int x = 1, i = y * w + 1; x < w - 1; x++, i++) {
                    float dx = (p[i + 1] - p[i - 1]) / 2, dy = (p[i + w] - p[i - w]) / 2;
                    g[i] = Math.max(g[i], dx * dx + dy * dy);
                }
        }
        List<Square> all = new ArrayList<>();
        for (float even : EVEN) components(g, w, h, even * even, all);
        return all;
    }

    private static void components(float[] g, int w, int h, float limit, List<Square> out) {
        boolean[] seen = new boolean[w * h];
        int[] stack = new int[w * h];
        int most = w * h / 16;
        for (int start = 0; start < g.length; start++) {
            if (seen[start] || !inside(start, w, h) || g[start] >= limit) continue;
            int n = 0, top = 0;
            int[] members = stack;
            seen[start] = true;
            members[top++] = start;
            // What has been taken stays at the front: the list is the queue.
            while (n < top) {
                int i = members[n++];
                int[] next = {i - 1, i + 1, i - w, i + w};
                for (int j : next)
                    if (!seen[j] && inside(j, w, h) && g[j] < limit) {
                        seen[j] = true;
                        members[top++] = j;
                    }
            }
            if (n < LEAST_AREA || n > most) continue;
            Square s = square(members, n, w);
            if (s != null && out.stream().noneMatch(o -> same(o, s))) out.add(s);
        }
    }

    private static boolean inside(int i, int w, int h) {
        int x = i % w, y = i / w;
        return x > 0 && y > 0 && x < w - 1 && y < h - 1;
    }

    private static boolean same(Square a, Square b) {
        double d = Math.hypot(a.x - b.x, a.y - b.y), r = a.area / b.area;
        return d < 0.15 * Math.sqrt(a.area) && r > 0.6 && r < 1.6;
    }

    private static Square square(int[] members, int n, int w) {
        double x = 0, y = 0;
        List<double[]> points = new ArrayList<>();
        for (int k = 0; k < n; k++) {
            x += members[k] % w + 0.5;
            y += members[k] / w + 0.5;
            points.add(new double[] {members[k] % w + 0.5, members[k] / w + 0.5});
        }
        List<double[]> hull = hull(points);
        if (hull.size() < 4) return null;
        double area = area(hull), round = 0;
        for (int k = 0; k < hull.size(); k++) {
            double[] a = hull.get(k), b = hull.get((k + 1) % hull.size());
            round += Math.max(Math.abs(a[0] - b[0]), Math.abs(a[1] - b[1]));
        }
        // Pick's theorem: pixels within and on a hull through their middles.
        if (n < SOLID * (area + round / 2 + 1)) return null;
        double[][] c = corners(hull);
        if (c == null || area(List.of(c)) < SQUARE * area) return null;
        double least = Double.MAX_VALUE, longest = 0;
        for (int k = 0; k < 4; k++) {
            double l = Math.hypot(c[k][0] - c[(k + 1) % 4][0], c[k][1] - c[(k + 1) % 4][1]);
            least = Math.min(least, l);
            longest = Math.max(longest, l);
        }
        return least < LEAST_SIDES * longest ? null : new Square(x / n, y / n, c, n);
    }

    /** Monotone chain (Andrew 1979), clockwise as seen with y down. */
    private static List<double[]> hull(List<double[]> p) {
        p.sort((a, b) -> a[0] != b[0] ? Double.compare(a[0], b[0]) : Double.compare(a[1], b[1]));
        List<double[]> out = new ArrayList<>();
        for (int side = 0; side < 2; side++) {
            int from = out.size();
            for (int k = 0; k < p.size(); k++) {
                double[] q = p.get(side == 0 ? k : p.size() - 1 - k);
                while (out.size() >= from + 2 && cross(out.get(out.size() - 2), out.get(out.size() - 1), q) <= 0)
                    out.remove(out.size() - 1);
                out.add(q);
            }
            out.remove(out.size() - 1);
        }
        return out;
    }

    private static double cross(double[] a, double[] b, double[] c) {
        return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
    }

    static double area(List<double[]> p) {
        double s = 0;
        for (int k = 0; k < p.size(); k++) {
            double[] a = p.get(k), b = p.get((k + 1) % p.size());
            s += a[0] * b[1] - a[1] * b[0];
        }
        return Math.abs(s) / 2;
    }

    /** The ends of the longest diagonal, and what lies farthest to either side of it. */
    private static double[][] corners(List<double[]> hull) {
        int a = 0, b = 0, n = hull.size();
        double far = -1;
        for (int i = 0; i < n; i++)
            for (int j = i + 1; j < n; j++) {
                double d = Math.hypot(hull.get(i)[0] - hull.get(j)[0], hull.get(i)[1] - hull.get(j)[1]);
                if (d > far) {
                    far = d;
                    a = i;
                    b = j;
                }
            }
        int c = farthest(hull, a, b, a + 1, b), d = farthest(hull, a, b, b + 1, a + n);
        return c < 0 || d < 0 ? null : new double[][] {hull.get(a), hull.get(c), hull.get(b), hull.get(d)};
    }

    private static int farthest(List<double[]> hull, int a, int b, int from, int to) {
        int best = -1;
        double far = 1e-9;
        for (int k = from; k < to; k++) {
            double d = Math.abs(cross(hull.get(a), hull.get(b), hull.get(k % hull.size())));
            if (d > far) {
                far = d;
                best = k % hull.size();
            }
        }
        return best;
    }
}

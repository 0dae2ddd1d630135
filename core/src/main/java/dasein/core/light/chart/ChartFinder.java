package dasein.core.light.chart;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.math.Projective;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * Finds a 24-patch chart, turned and in perspective: even four-sided areas that stand in rows and columns, then the
 * field of six by four among them, and the way round, whose colours a 3x3 matrix explains best.
 */
public final class ChartFinder {
    /** Longest sides at which it is looked for. */
    private static final int[] SIDES = {1000, 500, 1800};
    /** Median CIEDE2000 after a plain matrix: a chart read the right way round stays well below, others far above. */
    private static final double GOOD = 5, WRONG = 9;

    private static final int LEAST_INSIDE = 9;

    private ChartFinder() {}

    /** @param corners of the 6 x 4 cells, pixels; @param residual median CIEDE2000 after a plain matrix */
    public record Found(double[][] corners, double residual) {}

    /**
     * @param linear the photograph's light
     * @throws BadInput when there is none, or a part of it lies outside the picture
     */
    public static Found find(Image linear) {
        Candidate best = null;
        for (int side : SIDES) {
            // Only the last is worth enlarging for: patches of a few pixels.
            double k = Math.min(side == SIDES[2] ? 2 : 1, (double) side / Math.max(linear.width, linear.height));
            Image small = k == 1
                    ? linear
                    : linear.resize(Math.max(8, (int) (linear.width * k)), Math.max(8, (int) (linear.height * k)));
            Candidate c = in(small);
            if (c != null) {
                double sx = (double) linear.width / small.width, sy = (double) linear.height / small.height;
                for (double[] p : c.corners) {
                    p[0] *= sx;
                    p[1] *= sy;
                }
                if (best == null || c.better(best)) best = c;
            }
            if (best != null && best.whole && best.residual < GOOD) break;
        }
        if (best == null || best.residual > WRONG)
            throw new BadInput("no chart of 24 patches was found; say its four corners");
        if (!best.whole) throw new BadInput("the chart is cut off by the edge of the picture");
        return new Found(best.corners, best.residual);
    }

    /** Of corners in any order of going round: the chart's own, by its colours. @throws BadInput when none fits */
    public static Found at(Image linear, double[][] corners) {
        for (double[] p : corners)
            if (!(p[0] >= 0 && p[1] >= 0 && p[0] <= linear.width && p[1] <= linear.height))
                throw new BadInput("a corner of the chart lies outside the picture");
        if (Squares.area(List.of(corners)) < 24 * 9)
            throw new BadInput("the chart's corners enclose too little to read its patches");
        double turn = 0;
        for (int k = 0; k < 4; k++) {
            double[] a = corners[k], b = corners[(k + 1) % 4], c = corners[(k + 2) % 4];
            double s = Math.signum((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]));
            if (k > 0 && s != turn) throw new BadInput("the chart's corners must go round it, one after the other");
            turn = s;
        }
        Found best = null;
        for (int k = 0; k < 4; k++) {
            double[][] c = new double[4][];
            for (int i = 0; i < 4; i++) c[i] = corners[(turn > 0 ? k + i : k + 4 - i) % 4].clone();
            ChartReading r = ChartReading.of(linear, c);
            double res = residual(r);
            if (best == null || res < best.residual) best = new Found(c, res);
        }
        return best;
    }

    private record Candidate(double[][] corners, double residual, boolean whole) {
        boolean better(Candidate o) {
            return whole != o.whole && Math.max(residual, o.residual) < WRONG ? whole : residual < o.residual;
        }
    }

    private static Candidate in(Image linear) {
        Image codes = shown(linear);
        Candidate best = null;
        int tried = 0;
        List<Squares.Square> squares = Squares.in(codes);
        for (Lattice l : Lattice.of(squares)) {
            if (tried++ > 12
                    || best != null
                            && best.whole
                            && best.residual < GOOD
                            && l.places().size() < 12) break;
            int x0 = 99, x1 = -99, y0 = 99, y1 = -99;
            for (List<Integer> p : l.places().keySet()) {
                x0 = Math.min(x0, p.get(0));
                x1 = Math.max(x1, p.get(0));
                y0 = Math.min(y0, p.get(1));
                y1 = Math.max(y1, p.get(1));
            }
            for (int turned = 0; turned < 2; turned++) {
                int w = turned == 0 ? 6 : 4, h = 10 - w;
                for (int y = y1 - h + 1 - slack(y0, y1, h); y <= y0 + slack(y0, y1, h); y++)
                    for (int x = x1 - w + 1 - slack(x0, x1, w); x <= x0 + slack(x0, x1, w); x++) {
                        Candidate c = window(linear, l.toPicture(), x, y, w, h);
                        if (c != null && (best == null || c.better(best))) best = c;
                    }
            }
        }
        return best == null ? null : refined(linear, best, squares);
    }

    /** By all squares that lie where a patch should: a lattice may have left some out. */
    private static Candidate refined(Image linear, Candidate c, List<Squares.Square> squares) {
        double[][] cells = {{0, 0}, {6, 0}, {6, 4}, {0, 4}};
        for (int round = 0; round < 3; round++) {
            Projective p = Projective.of(cells, c.corners);
            List<double[]> from = new ArrayList<>(), to = new ArrayList<>();
            double cell = Math.sqrt(Squares.area(List.of(c.corners)) / Patches.COUNT);
            for (int i = 0; i < Patches.COUNT; i++) {
                double[] place = {i % 6 + 0.5, i / 6 + 0.5}, q = p.at(place[0], place[1]);
                Squares.Square best = null;
                double least = 0.2 * cell;
                for (Squares.Square s : squares) {
                    double d = Math.hypot(s.x() - q[0], s.y() - q[1]), size = Math.sqrt(s.area()) / cell;
                    if (d >= least || size < 0.5 || size > 1.1) continue;
                    least = d;
                    best = s;
                }
                if (best == null) continue;
                from.add(place);
                to.add(new double[] {best.x(), best.y()});
            }
            if (from.size() < 8) return c;
            Projective next = Projective.of(from.toArray(new double[0][]), to.toArray(new double[0][]));
            if (next == null) return c;
            double[][] corners = new double[4][];
            for (int k = 0; k < 4; k++) corners[k] = next.at(cells[k][0], cells[k][1]);
            double r = residual(ChartReading.of(linear, corners));
            if (r > 1.5 * c.residual + 0.5) return c;
            c = new Candidate(corners, r, c.whole);
        }
        return c;
    }

    /** Where more squares than a chart has stand in a row, it may begin at any of them. */
    private static int slack(int from, int to, int n) {
        return Math.max(0, to - from + 1 - n);
    }

    private static Candidate window(Image linear, Projective p, int x, int y, int w, int h) {
        double[][] round = {
            p.at(x - 0.5, y - 0.5),
            p.at(x + w - 0.5, y - 0.5),
            p.at(x + w - 0.5, y + h - 0.5),
            p.at(x - 0.5, y + h - 0.5)
        };
        Candidate best = null;
        // The chart's first corner is one from which its long side goes on clockwise.
        for (int k = w == 6 ? 0 : 1; k < 4; k += 2) {
            double[][] c = new double[4][];
            for (int i = 0; i < 4; i++) c[i] = round[(k + i) % 4].clone();
            boolean whole = true;
            for (double[] q : c)
                if (q[0] < -1 || q[1] < -1 || q[0] > linear.width + 1 || q[1] > linear.height + 1) whole = false;
            ChartReading r = ChartReading.rough(linear, c);
            if (r.inside() < LEAST_INSIDE) continue;
            double res = residual(r);
            if (best == null || res < best.residual) best = new Candidate(c, res, whole);
        }
        return best;
    }

    private static double residual(ChartReading r) {
        boolean[] out = r.outside();
        double[] m = ChartFit.start(r.light(), out, Patches.BEFORE_2014);
        List<Double> d = new ArrayList<>();
        for (int i = 0; i < Patches.COUNT; i++) {
            if (out[i]) continue;
            double[] p = r.light()[i];
            d.add(Lab.difference(
                    Patches.BEFORE_2014.lab(i),
                    Lab.of709(
                            m[0] * p[0] + m[1] * p[1] + m[2] * p[2],
                            m[3] * p[0] + m[4] * p[1] + m[5] * p[2],
                            m[6] * p[0] + m[7] * p[1] + m[8] * p[2])));
        }
        double[] s = d.stream().mapToDouble(v -> v).sorted().toArray();
        return s.length == 0 || Double.isNaN(s[s.length / 2]) ? Double.MAX_VALUE : s[s.length / 2];
    }

    /** As a display shows it, its brightest parts at white. */
    private static Image shown(Image linear) {
        float[] l = linear.luminance();
        Arrays.sort(l);
        float white = Math.max(l[(int) (0.98 * (l.length - 1))], 1e-6f);
        Image out = new Image(linear.width, linear.height, 3);
        for (int c = 0; c < 3; c++) {
            float[] from = linear.planes[c], to = out.planes[c];
            for (int i = 0; i < to.length; i++)
                to[i] = (float) Encoding.SRGB.encode(Math.max(0, Math.min(1.2, from[i] / white)));
        }
        return out;
    }
}

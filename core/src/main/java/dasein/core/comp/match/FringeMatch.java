package dasein.core.comp.match;

import dasein.core.NoSolution;
import dasein.core.comp.step.Fringe;
import dasein.core.comp.step.Group;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.math.Medians;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/**
 * Sets how much further out the lens draws red and blue than green. In each block that has clear edges the shift of a
 * colour against green is found that leaves least (Lucas and Kanade 1981, with gain and offset between the colours); of
 * a lens it grows with the distance from the middle.
 */
final class FringeMatch implements Match {
    private static final int BLOCK = 32, FRAMES = 4, LEAST = 30;
    /** Mean square of the slope, codes a pixel, that a block must have; and correlation of its colours' slopes. */
    private static final double STEEP = 4e-5, ALIKE = 0.9;

    private static final double CALM = 0.8, MOST = 3;

    @Override
    public String key() {
        return "fringe";
    }

    @Override
    public Group group() {
        return Group.LENS;
    }

    @Override
    public Outcome of(Taken t) {
        List<double[]> red = new ArrayList<>(), blue = new ArrayList<>();
        for (int k = 0; k < FRAMES; k++) {
            Image im = t.plate().apply(t.spread(FRAMES)[k]);
            Codes codes = Codes.of(im, t.encoding());
            look(codes, 0, red);
            look(codes, 2, blue);
        }
        double[] r = found(red), b = found(blue);
        return new Outcome(
                t.now().with(Fringe.RED, Fringe.RED.held(r[0])).with(Fringe.BLUE, Fringe.BLUE.held(b[0])),
                String.format(
                        Locale.ROOT,
                        "red %+.2f px +- %.2f, blue %+.2f px +- %.2f at the corner",
                        r[0],
                        r[1],
                        b[0],
                        b[1]),
                String.format(
                        Locale.ROOT,
                        "red %+.2f px, blue %+.2f px",
                        t.now().get(Fringe.RED),
                        t.now().get(Fringe.BLUE)));
    }

    /** @param out distance from the middle over that of the corner, shift outward in pixels at the corner, weight */
    static void look(Codes im, int colour, List<double[]> out) {
        int w = im.width(), h = im.height();
        float[] g = Filters.gaussian(im.planes()[1], w, h, CALM), o = Filters.gaussian(im.planes()[colour], w, h, CALM);
        double cx = w / 2.0, cy = h / 2.0, corner = Math.hypot(cx, cy);
        for (int by = 1; by + BLOCK < h - 1; by += BLOCK)
            for (int bx = 1; bx + BLOCK < w - 1; bx += BLOCK) {
                double x = bx + BLOCK / 2.0 - cx, y = by + BLOCK / 2.0 - cy, far = Math.hypot(x, y);
                // Near the middle there is no way outward.
                if (far < 0.15 * corner) continue;
                double[] s = shift(g, o, w, bx, by, x / far, y / far);
                if (s != null && Math.abs(s[0]) < MOST)
                    out.add(new double[] {far / corner, s[0] * corner / far, s[1] * far * far});
            }
    }

    /** How far a colour lies along a way against green: least squares in shift, gain and offset. */
    private static double[] shift(float[] g, float[] o, int w, int bx, int by, double ux, double uy) {
        double sgg = 0, soo = 0, sgo = 0;
        double[] a = new double[9], b = new double[3];
        for (int y = by; y < by + BLOCK; y++)
            for (int x = bx; x < bx + BLOCK; x++) {
                int i = y * w + x;
                double gu = (ux * (g[i + 1] - g[i - 1]) + uy * (g[i + w] - g[i - w])) / 2,
                        ou = (ux * (o[i + 1] - o[i - 1]) + uy * (o[i + w] - o[i - w])) / 2;
                sgg += gu * gu;
                soo += ou * ou;
                sgo += gu * ou;
                // o(x) = gain g(x - shift) + offset = gain g - gain shift g' + offset.
                double[] row = {g[i], -gu, 1};
                for (int p = 0; p < 3; p++) {
                    b[p] += row[p] * o[i];
                    for (int q = 0; q < 3; q++) a[3 * p + q] += row[p] * row[q];
                }
            }
        double n = BLOCK * BLOCK;
        if (sgg / n < STEEP || sgo < ALIKE * Math.sqrt(sgg * soo)) return null;
        var v = new org.ejml.simple.SimpleMatrix(3, 3, true, a)
                .pseudoInverse()
                .mult(new org.ejml.simple.SimpleMatrix(3, 1, true, b));
        return v.get(0) > 0 ? new double[] {v.get(1) / v.get(0), sgg} : null;
    }

    /** Weighted median at the corner, and its uncertainty. */
    static double[] found(List<double[]> of) {
        if (of.size() < LEAST)
            throw new NoSolution(
                    "there are too few clear edges away from the middle to see whether colours part there: " + of.size()
                            + " places, " + LEAST + " are needed");
        double[][] s = of.toArray(double[][]::new);
        Arrays.sort(s, (p, q) -> Double.compare(p[1], q[1]));
        double all = Arrays.stream(s).mapToDouble(v -> v[2]).sum(), sum = 0, middle = 0;
        for (double[] v : s) {
            sum += v[2];
            if (sum >= all / 2) {
                middle = v[1];
                break;
            }
        }
        double m = middle;
        double[] off = Arrays.stream(s).mapToDouble(v -> Math.abs(v[1] - m)).toArray();
        return new double[] {middle, 1.4826 * Medians.of(off) * 1.2533 / Math.sqrt(s.length)};
    }
}

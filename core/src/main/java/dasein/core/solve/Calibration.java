package dasein.core.solve;

import dasein.core.NoSolution;
import dasein.core.lens.Lens;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.stream.IntStream;
import org.ejml.simple.SimpleMatrix;

/**
 * A lens from photographs of a flat chessboard: focal length from the homographies of the board (Zhang 2000, with
 * square pixels and the centre in the middle to begin with), then everything by least squares over the corners.
 */
public final class Calibration {
    private static final int FEWEST = 3, STEPS = 60;
    /** Photographs whose corners lie further off than this many times the median do not count. */
    private static final double ODD = 4;

    private Calibration() {}

    /**
     * @param used photographs that counted; @param rmsPx what is left, pixels; @param said the lens's terms, and why
     */
    public record Result(Lens lens, double rmsPx, int used, String said) {}

    /**
     * @param boards corners of each photograph, row by row of the board, in continuous pixels
     * @param terms of the lens; those that are to be found are held against one another by the Bayesian information
     *     criterion (Schwarz 1978) over the corners
     */
    public static Result solve(List<double[][]> boards, int columns, int width, int height, LensTerms terms) {
        if (boards.size() < FEWEST)
            throw new NoSolution("the board was found whole in " + boards.size() + " photographs; " + FEWEST
                    + " are the least, taken from different sides");
        double focal = focal(boards, columns, width, height);
        Lens lens = new Lens(focal, width / 2.0, height / 2.0, 0, 0);
        List<Rigid> cams = new ArrayList<>();
        List<double[][]> used = new ArrayList<>();
        Random rnd = new Random(1);
        for (double[][] b : boards) {
            List<double[]> points = new ArrayList<>(), rays = new ArrayList<>();
            for (int i = 0; i < b.length; i++) {
                points.add(point(i, columns));
                rays.add(lens.undistort(b[i][0], b[i][1]));
            }
            Rigid c = Resection.ransac(points, rays, 12 / focal, 200, Math.max(4, b.length / 2), rnd);
            if (c == null) continue;
            cams.add(Resection.refine(c, points, rays, 4 / focal, 20));
            used.add(b);
        }
        if (used.size() < FEWEST)
            throw new NoSolution(
                    "the photographs do not agree on one lens; were they all taken with the same one, unzoomed?");
        boolean[] first = new boolean[Bundle.LENS];
        first[Bundle.FOCAL] = true;
        first[Bundle.K1] = terms.k1() != LensTerms.Ask.NEVER;
        State s = refined(new State(lens, cams), used, columns, first);
        // A photograph in which corners were taken for others would bend the lens.
        double[] each = new double[used.size()];
        for (int k = 0; k < each.length; k++) each[k] = rms(s, used, columns, k);
        double limit = Math.max(0.5, ODD * Homography.median(each));
        List<double[][]> good = new ArrayList<>();
        List<Rigid> goodCams = new ArrayList<>();
        for (int k = 0; k < each.length; k++) {
            if (each[k] > limit) continue;
            good.add(used.get(k));
            goodCams.add(s.cams.get(k));
        }
        if (good.size() < FEWEST) throw new NoSolution("too few photographs agree on one lens");
        return chosen(new State(s.lens, goodCams), good, columns, width, height, terms);
    }

    private static Result chosen(
            State start, List<double[][]> boards, int columns, int width, int height, LensTerms terms) {
        List<boolean[]> sets = TermChoice.sets(terms, true);
        int corners = boards.stream().mapToInt(b -> b.length).sum(), n = 2 * corners;
        State[] solved = new State[sets.size()];
        double[] left = new double[solved.length];
        IntStream.range(0, solved.length).parallel().forEach(k -> {
            Lens from = LensTerms.rested(start.lens, sets.get(k), width, height);
            solved[k] = refined(new State(from, start.cams), boards, columns, sets.get(k));
            left[k] = cost(solved[k], boards, columns);
        });
        int best = 0;
        for (int k = 1; k < left.length; k++)
            if (score(left[k], n, sets.get(k)) < score(left[best], n, sets.get(best))) best = k;
        double[] px = new double[left.length];
        for (int k = 0; k < px.length; k++) px[k] = Math.sqrt(left[k] / corners);
        boolean[] taken = sets.get(best);
        String said = TermChoice.said(
                terms,
                taken,
                without -> px[TermChoice.indexOf(sets, without)],
                String.format(Locale.ROOT, "%,d corners", corners));
        return new Result(solved[best].lens, px[best], boards.size(), said);
    }

    private static double score(double left, int n, boolean[] free) {
        return n * Math.log(left / n) + TermChoice.count(free) * Math.log(n);
    }

    private record State(Lens lens, List<Rigid> cams) {}

    /** The board lies in its own z = 0, a square is the unit. */
    private static double[] point(int i, int columns) {
        return new double[] {i % columns, i / columns, 0, 1};
    }

    /** Median of the focal lengths that make each board's two sides stand at right angles and be of one length. */
    private static double focal(List<double[][]> boards, int columns, int width, int height) {
        List<Double> out = new ArrayList<>();
        for (double[][] b : boards) {
            SimpleMatrix m = new SimpleMatrix(9, 9);
            for (int i = 0; i < b.length; i++) {
                double x = i % columns - columns / 2.0,
                        y = i / columns - columns / 2.0,
                        u = (b[i][0] - width / 2.0) / width,
                        v = (b[i][1] - height / 2.0) / width;
                double[][] rows = {{-x, -y, -1, 0, 0, 0, u * x, u * y, u}, {0, 0, 0, -x, -y, -1, v * x, v * y, v}};
                for (double[] r : rows)
                    for (int p = 0; p < 9; p++) for (int q = 0; q < 9; q++) m.set(p, q, m.get(p, q) + r[p] * r[q]);
            }
            SimpleMatrix h = m.svd().getV().extractVector(false, 8);
            // h1' w h2 = 0 and h1' w h1 = h2' w h2 with w = diag(1/f^2, 1/f^2, 1).
            double a = h.get(0) * h.get(1) + h.get(3) * h.get(4),
                    c = h.get(6) * h.get(7),
                    d = h.get(0) * h.get(0) + h.get(3) * h.get(3) - h.get(1) * h.get(1) - h.get(4) * h.get(4),
                    e = h.get(6) * h.get(6) - h.get(7) * h.get(7);
            double f2 = -(a * c + d * e) / (c * c + e * e);
            double f1 = (c * c + e * e) < 1e-14 ? -1 : (a * a + d * d) / Math.max(1e-18, -(a * c + d * e));
            double f = f2 > 0 ? f2 : f1;
            if (f > 0.04 && f < 100) out.add(Math.sqrt(f) * width);
        }
        return out.isEmpty()
                ? 1.2 * width
                : Homography.median(out.stream().mapToDouble(v -> v).toArray());
    }

    private static double[] residuals(Lens l, Rigid c, double[][] board, int columns) {
        double[] out = new double[2 * board.length];
        for (int i = 0; i < board.length; i++) {
            double[] q = c.toCamera(point(i, columns));
            if (q[2] <= 1e-9) {
                out[2 * i] = out[2 * i + 1] = 1e4;
                continue;
            }
            double[] p = l.distortToPixel(q[0] / q[2], q[1] / q[2]);
            out[2 * i] = p[0] - board[i][0];
            out[2 * i + 1] = p[1] - board[i][1];
        }
        return out;
    }

    private static double rms(State s, List<double[][]> boards, int columns, int k) {
        double sum = 0;
        for (double v : residuals(s.lens, s.cams.get(k), boards.get(k), columns)) sum += v * v;
        return Math.sqrt(sum / boards.get(k).length);
    }

    private static double cost(State s, List<double[][]> boards, int columns) {
        double sum = 0;
        for (int k = 0; k < boards.size(); k++)
            for (double v : residuals(s.lens, s.cams.get(k), boards.get(k), columns)) sum += v * v;
        return sum;
    }

    private static Lens moved(Lens l, double[] d, boolean[] free) {
        double[] v = new double[Bundle.LENS];
        for (int i = 0, k = 0; i < Bundle.LENS; i++) if (free[i]) v[i] = d[k++];
        return new Lens(
                l.focalPx() * Math.exp(v[Bundle.FOCAL]),
                l.centreX() + v[Bundle.CENTRE_X],
                l.centreY() + v[Bundle.CENTRE_Y],
                l.k1() + v[Bundle.K1],
                l.k2() + v[Bundle.K2],
                l.k3() + v[Bundle.K3],
                l.p1() + v[Bundle.P1],
                l.p2() + v[Bundle.P2]);
    }

    private static Rigid moved(Rigid c, double[] d) {
        return c.moved(d[0], d[1], d[2], d[3], d[4], d[5]);
    }

    /** Levenberg-Marquardt, photographs eliminated one by one (Schur); slopes by central differences. */
    private static State refined(State start, List<double[][]> boards, int columns, boolean[] free) {
        State s = start;
        int n = 0;
        for (boolean f : free) if (f) n++;
        double cost = cost(s, boards, columns), lambda = 1e-3;
        for (int step = 0; step < STEPS && lambda < 1e9; step++) {
            SimpleMatrix reduced = new SimpleMatrix(n, n), g = new SimpleMatrix(n, 1);
            List<SimpleMatrix[]> back = new ArrayList<>();
            for (int k = 0; k < boards.size(); k++) {
                double[][] b = boards.get(k);
                Lens l = s.lens;
                Rigid c = s.cams.get(k);
                SimpleMatrix jl = new SimpleMatrix(2 * b.length, n),
                        jc = new SimpleMatrix(2 * b.length, 6),
                        e = new SimpleMatrix(2 * b.length, 1, true, residuals(l, c, b, columns));
                for (int i = 0; i < n; i++) {
                    double[] up = new double[n], down = new double[n];
                    double eps = isCentre(free, i) ? 1e-3 : 1e-6;
                    up[i] = eps;
                    down[i] = -eps;
                    column(
                            jl,
                            i,
                            residuals(moved(l, up, free), c, b, columns),
                            residuals(moved(l, down, free), c, b, columns),
                            eps);
                }
                for (int i = 0; i < 6; i++) {
                    double[] up = new double[6], down = new double[6];
                    up[i] = 1e-6;
                    down[i] = -1e-6;
                    column(
                            jc,
                            i,
                            residuals(l, moved(c, up), b, columns),
                            residuals(l, moved(c, down), b, columns),
                            1e-6);
                }
                SimpleMatrix v = jc.transpose().mult(jc),
                        u = jl.transpose().mult(jl),
                        w = jl.transpose().mult(jc);
                for (int i = 0; i < 6; i++) v.set(i, i, v.get(i, i) * (1 + lambda) + 1e-12);
                for (int i = 0; i < n; i++) u.set(i, i, u.get(i, i) * (1 + lambda) + 1e-12);
                SimpleMatrix vi = v.invert(),
                        gc = jc.transpose().mult(e),
                        gl = jl.transpose().mult(e);
                reduced = reduced.plus(u.minus(w.mult(vi).mult(w.transpose())));
                g = g.plus(gl.minus(w.mult(vi).mult(gc)));
                back.add(new SimpleMatrix[] {vi, gc, w});
            }
            SimpleMatrix d = reduced.solve(g);
            double[] dl = new double[n];
            for (int i = 0; i < n; i++) dl[i] = -d.get(i);
            List<Rigid> cams = new ArrayList<>();
            for (int k = 0; k < boards.size(); k++) {
                SimpleMatrix[] m = back.get(k);
                SimpleMatrix dc = m[0].mult(m[1].minus(m[2].transpose().mult(d)));
                double[] v = new double[6];
                for (int i = 0; i < 6; i++) v[i] = -dc.get(i);
                cams.add(moved(s.cams.get(k), v));
            }
            State next = new State(moved(s.lens, dl, free), cams);
            double c = cost(next, boards, columns);
            if (c < cost) {
                boolean still = cost - c < 1e-10 * cost;
                s = next;
                cost = c;
                lambda *= 0.2;
                if (still) break;
            } else {
                lambda *= 8;
            }
        }
        return s;
    }

    private static boolean isCentre(boolean[] free, int at) {
        for (int i = 0, k = 0; i < Bundle.LENS; i++)
            if (free[i] && k++ == at) return i == Bundle.CENTRE_X || i == Bundle.CENTRE_Y;
        return false;
    }

    private static void column(SimpleMatrix j, int c, double[] up, double[] down, double eps) {
        for (int i = 0; i < up.length; i++) j.set(i, c, (up[i] - down[i]) / (2 * eps));
    }
}

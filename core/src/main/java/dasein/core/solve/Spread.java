package dasein.core.solve;

import java.util.Arrays;
import java.util.stream.IntStream;

/**
 * How far what was solved may be off, one standard deviation each, from the inverse of the undamped normal equations
 * and the residuals that are left (Triggs et al. 2000, section 9), which of one track err alike. The first camera, and
 * the distance to the one farthest from it, are held.
 *
 * @param focalPart of the focal length, as a part of it; 0 when it was held; of a zoom that of its middle camera
 * @param place of every camera; @param turnDeg of its direction, degrees; @param points of every point, along the line
 *     in which it is worst known; @param reach null for cameras that only turn
 */
record Spread(double focalPart, double[] place, double[] turnDeg, double[] points, Reach reach) {
    /** Cameras between those for which it is worked out take their neighbours' figures. */
    private static final int SPREAD_CAMERAS = 60, SPREAD_POINTS = 800;

    static Spread of(Bundle of) {
        Normals.Part[] parts = new Normals.Part[Bundle.PARTS];
        Normals.Part n = new Normals(of).all(0, parts);
        int nc = of.cams.length, turns = 3;
        double most = 0;
        for (int i = 0; i < of.block * nc; i++) most = Math.max(most, n.diag[i]);
        double held = 1e6 * most;
        // Known points hold everything by themselves.
        if (!of.anchored) for (int i = 0; i < (of.free.moves() ? 6 : turns); i++) n.s.add(i, i, held);
        if (of.free.moves() && !of.anchored) {
            int far = 0;
            double longest = 0;
            double[] to = new double[3];
            for (int c = 1; c < nc; c++) {
                double[] d = {
                    of.cams[c].c[0] - of.cams[0].c[0],
                    of.cams[c].c[1] - of.cams[0].c[1],
                    of.cams[c].c[2] - of.cams[0].c[2]
                };
                double l = Math.sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
                if (l <= longest) continue;
                longest = l;
                far = c;
                to = new double[] {d[0] / l, d[1] / l, d[2] / l};
            }
            for (int i = 0; i < 3; i++)
                for (int j = 0; j <= i; j++) n.s.add(of.moveAt(far) + i, of.moveAt(far) + j, held * to[i] * to[j]);
        }
        for (int i = 0; i < of.size; i++) n.s.add(i, i, 1e-12 * n.diag[i]);
        double[] place = new double[nc], turn = new double[nc], point = new double[of.points.length];
        Arrays.fill(place, Double.NaN);
        Arrays.fill(turn, Double.NaN);
        Arrays.fill(point, Double.NaN);
        if (!n.s.factor()) return new Spread(Double.NaN, place, turn, point, null);
        int focal = of.free.zooms() ? of.zoomAt(nc / 2) : of.lensAt(Bundle.FOCAL),
                judged = focal < 0 ? of.turnAt(nc / 2) : focal;
        double[] column = n.s.inverseColumns(new int[] {judged})[0];
        double apart = variance(of), alone = apart * column[judged];
        // What holds for one unknown is taken for all: of what is left, a track counts once and not in every frame.
        double variance = alone > 0 ? apart * Math.max(1, byTracks(of, parts, column) / alone) : apart;
        double part = focal < 0 ? 0 : Math.sqrt(Math.max(0, variance * column[judged]));
        int step = Math.max(1, (nc + SPREAD_CAMERAS - 1) / SPREAD_CAMERAS);
        int[] some =
                IntStream.range(0, nc).filter(c -> c % step == 0 || c == nc - 1).toArray();
        int width = of.free.moves() ? 6 : turns;
        double[][] columns = n.s.inverseColumns(IntStream.of(some)
                .flatMap(c -> IntStream.range(of.block * c, of.block * c + width))
                .toArray());
        for (int k = 0; k < some.length; k++) {
            double t = 0, p = 0;
            for (int i = 0; i < 3; i++) {
                t += columns[width * k + i][of.block * some[k] + i];
                if (of.free.moves()) p += columns[width * k + 3 + i][of.block * some[k] + 3 + i];
            }
            turn[some[k]] = Math.toDegrees(Math.sqrt(Math.max(0, variance * t)));
            place[some[k]] = Math.sqrt(Math.max(0, variance * p));
        }
        for (int c = 0; c < nc; c++) {
            if (!Double.isNaN(turn[c])) continue;
            int a = c / step * step, b = Math.min(nc - 1, a + step);
            double f = (double) (c - a) / (b - a);
            turn[c] = turn[a] + f * (turn[b] - turn[a]);
            place[c] = place[a] + f * (place[b] - place[a]);
        }
        int every = Math.max(1, (of.points.length + SPREAD_POINTS - 1) / SPREAD_POINTS);
        if (of.free.moves())
            for (Normals.Part q : parts)
                IntStream.range(q.from, q.to)
                        .parallel()
                        .filter(p -> p % every == 0)
                        .forEach(p -> point[p] = Math.sqrt(variance) * point(of, n.s, q, p));
        return new Spread(part, place, turn, point, of.free.moves() ? Reach.of(of, n.s, variance) : null);
    }

    /**
     * Variance of one unknown where what is left of a track errs alike over its frames, whichever way: from how the
     * tracks disagree on it among each other (the covariance of clustered observations, Liang and Zeger 1986).
     *
     * @param column of the inverse of the reduced normal equations, of that unknown
     */
    private static double byTracks(Bundle of, Normals.Part[] parts, double[] column) {
        Jacobian jacobian = new Jacobian(of);
        int B = of.block, L = of.lensSize, l = B * of.cams.length;
        double[] jc = new double[2 * B], jp = new double[6], jl = new double[2 * L], e = new double[2];
        double sum = 0, weights = 0;
        for (Normals.Part n : parts)
            for (int p = n.from; p < n.to; p++) {
                int b = 12 * (p - n.from);
                double own = 0;
                double[] through = new double[3];
                for (int o = of.firstOfPoint[p]; o < of.firstOfPoint[p + 1]; o++) {
                    if (!jacobian.of(o, n.basis, b, e, jc, jp, jl)) continue;
                    double w = of.weight(o, e), u = 0, v = 0;
                    int c = B * of.obsCam[o];
                    for (int i = 0; i < B; i++) {
                        u += jc[i] * column[c + i];
                        v += jc[B + i] * column[c + i];
                    }
                    for (int i = 0; i < L; i++) {
                        u += jl[i] * column[l + i];
                        v += jl[L + i] * column[l + i];
                    }
                    own += w * (u * e[0] + v * e[1]);
                    for (int k = 0; k < 3; k++) through[k] += w * (u * jp[k] + v * jp[3 + k]);
                    weights += w;
                }
                for (int k = 0; k < 3; k++) own -= through[k] * n.back[b + 9 + k];
                sum += own * own;
            }
        return sum * 2 * weights / Math.max(1, 2 * weights - of.size - 3.0 * of.points.length);
    }

    /** Variance of one coordinate of an observation: what is left, over the degrees of freedom. */
    static double variance(Bundle of) {
        double sum = 0, weights = 0;
        double[] e = new double[2];
        Jacobian residuals = new Jacobian(of);
        for (int o = 0; o < of.obsCam.length; o++) {
            if (!residuals.residual(o, e)) continue;
            double w = of.weight(o, e);
            sum += w * (e[0] * e[0] + e[1] * e[1]);
            weights += w;
        }
        return sum / Math.max(1, 2 * weights - of.size - 3.0 * of.points.length);
    }

    /**
     * Square root of the largest eigenvalue of V^-1 + Y' S^-1 Y, Y = W V^-1, turned from the tangent of the 4-vector
     * into space.
     */
    private static double point(Bundle of, Skyline s, Normals.Part n, int p) {
        int k = p - n.from,
                b = 12 * k,
                B = of.block,
                L = of.lensSize,
                l = B * of.cams.length,
                base = of.firstOfPoint[n.from];
        double[][] y = new double[3][of.size];
        for (int o = of.firstOfPoint[p]; o < of.firstOfPoint[p + 1]; o++) {
            for (int i = 0; i < B; i++)
                for (int c = 0; c < 3; c++)
                    for (int j = 0; j < 3; j++)
                        y[c][B * of.obsCam[o] + i] += n.w[3 * B * (o - base) + 3 * i + j] * n.back[b + 3 * j + c];
        }
        for (int i = 0; i < L; i++)
            for (int c = 0; c < 3; c++)
                for (int j = 0; j < 3; j++) y[c][l + i] += n.wl[3 * L * k + 3 * i + j] * n.back[b + 3 * j + c];
        int zeros = of.firstOfPoint[p] < of.firstOfPoint[p + 1] ? B * of.obsCam[of.firstOfPoint[p]] : 0;
        double[][] cov = new double[3][3];
        for (int c = 0; c < 3; c++) {
            double[] x = y[c].clone();
            s.solve(x, zeros);
            for (int d = 0; d < 3; d++) {
                double q = n.back[b + 3 * d + c];
                for (int i = zeros; i < of.size; i++) q += y[d][i] * x[i];
                cov[d][c] = q;
            }
        }
        // d(p / w) = (dp - X dw) / w.
        double[] h = of.points[p];
        if (Math.abs(h[3]) < 1e-9) return Double.POSITIVE_INFINITY;
        double[][] j = new double[3][3];
        for (int i = 0; i < 3; i++)
            for (int c = 0; c < 3; c++) j[i][c] = (n.basis[b + 3 * i + c] - h[i] / h[3] * n.basis[b + 9 + c]) / h[3];
        double[][] m = product(product(j, cov), transposed(j));
        double[] v = {1, 1, 1};
        double value = 0;
        for (int step = 0; step < 30; step++) {
            double[] u = new double[3];
            for (int i = 0; i < 3; i++) for (int c = 0; c < 3; c++) u[i] += m[i][c] * v[c];
            value = Math.sqrt(u[0] * u[0] + u[1] * u[1] + u[2] * u[2]);
            if (!(value > 0)) return 0;
            for (int i = 0; i < 3; i++) v[i] = u[i] / value;
        }
        return Math.sqrt(value);
    }

    private static double[][] product(double[][] a, double[][] b) {
        double[][] c = new double[3][3];
        for (int i = 0; i < 3; i++)
            for (int j = 0; j < 3; j++) for (int k = 0; k < 3; k++) c[i][j] += a[i][k] * b[k][j];
        return c;
    }

    private static double[][] transposed(double[][] a) {
        double[][] t = new double[3][3];
        for (int i = 0; i < 3; i++) for (int j = 0; j < 3; j++) t[i][j] = a[j][i];
        return t;
    }
}

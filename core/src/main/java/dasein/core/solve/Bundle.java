package dasein.core.solve;

import dasein.core.lens.Lens;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;

/**
 * Bundle adjustment: Levenberg-Marquardt over camera poses, points and one shared lens, points eliminated by the Schur
 * complement (Triggs et al. 2000), the reduced system kept and factored within its skyline, Cauchy loss by
 * re-weighting. The gauge is left to the damping. Cameras may be free to turn only, and may zoom. Deterministic: sums
 * are formed in a fixed number of parts whatever the number of threads.
 */
final class Bundle {
    private static final int PARTS = 2;
    /** A step that lowers the cost by less than this part of it is the last. */
    static final double SETTLED = 2e-5;
    /**
     * At the end of a solve valleys are walked to their bottom: a focal length that the footage hardly determines lies
     * in a long flat one.
     */
    static final double QUITE_SETTLED = 1e-7;
    /** It has arrived when a step changes it by less than this part. */
    private static final double FOCAL_STILL = 2e-5;

    /** Places of the lens's unknowns in {@link Free#lens}. */
    static final int FOCAL = 0, K1 = 1, K2 = 2, K3 = 3, P1 = 4, P2 = 5, CENTRE_X = 6, CENTRE_Y = 7, LENS = 8;

    /**
     * What is solved for.
     *
     * @param moves cameras move, else they only turn; @param zooms every camera has its own focal length; @param lens
     *     which of log focal length, k1, k2, k3, p1, p2, centre x and y
     */
    record Free(boolean moves, boolean zooms, boolean[] lens) {
        int block() {
            return (moves ? 6 : 3) + (zooms ? 1 : 0);
        }

        static boolean[] of(int... which) {
            boolean[] f = new boolean[LENS];
            for (int w : which) f[w] = true;
            return f;
        }
    }

    /** A wish beside the marks: a residual in pixels that changes by {@code slope} with the unknowns at {@code at}. */
    record Penalty(int[] at, double[] slope, double value) {}

    /**
     * A point that is also known by itself: a residual in pixels for every {@code step} by which it lies off
     * {@code at}.
     */
    record Anchor(int point, double[] at, double step) {}

    /** All wishes for a state; the unknowns they touch must not change. */
    interface Penalties {
        List<Penalty> of(Bundle b, Rigid[] cams, double[] zoom, Lens lens);
    }

    final Rigid[] cams;
    /** Logarithm of each camera's focal length over the lens's. */
    double[] zoom;

    final double[][] points;
    Lens lens;
    /** Observations sorted by point: camera, point, pixel. */
    final int[] obsCam;

    final int[] obsPoint;
    final double[] obsX;
    final double[] obsY;
    private final int[] firstOfPoint;
    private final Free free;
    private final int block;
    private final int[] lensAt = new int[LENS];
    private final int lensSize;
    private final int size;
    private final Penalties penalties;
    /** By how much each observation's squared error counts. */
    private final double[] weight;
    /** By point, null where there is none. */
    private final Anchor[] anchors;

    private final boolean anchored;
    private final int[] start;
    double scale;

    /** Moving cameras without zoom; obsPoint must be rising, and obsCam within each point. */
    Bundle(
            Rigid[] cams,
            double[][] points,
            Lens lens,
            int[] obsCam,
            int[] obsPoint,
            double[] obsX,
            double[] obsY,
            boolean[] freeLens) {
        this(
                cams,
                new double[cams.length],
                points,
                lens,
                obsCam,
                obsPoint,
                obsX,
                obsY,
                new Free(true, false, freeLens),
                null,
                null,
                List.of());
    }

    /** @param penalties may be null; @param weight of each observation, null when all count the same */
    Bundle(
            Rigid[] cams,
            double[] zoom,
            double[][] points,
            Lens lens,
            int[] obsCam,
            int[] obsPoint,
            double[] obsX,
            double[] obsY,
            Free free,
            Penalties penalties,
            double[] weight,
            List<Anchor> anchors) {
        this.cams = cams;
        this.zoom = zoom;
        this.points = points;
        this.lens = lens;
        this.obsCam = obsCam;
        this.obsPoint = obsPoint;
        this.obsX = obsX;
        this.obsY = obsY;
        this.free = free;
        this.penalties = penalties;
        this.weight = weight;
        this.anchors = new Anchor[points.length];
        for (Anchor a : anchors) this.anchors[a.point] = a;
        anchored = !anchors.isEmpty();
        block = free.block();
        int l = 0;
        for (int i = 0; i < LENS; i++) {
            lensAt[i] = free.lens[i] ? block * cams.length + l++ : -1;
        }
        lensSize = l;
        size = block * cams.length + l;
        firstOfPoint = new int[points.length + 1];
        for (int p : obsPoint) firstOfPoint[p + 1]++;
        for (int p = 0; p < points.length; p++) firstOfPoint[p + 1] += firstOfPoint[p];
        start = starts();
    }

    /**
     * First column of each row of the reduced system: that of the first camera with which one shares a point, or a
     * wish.
     */
    private int[] starts() {
        int[] first = IntStream.range(0, cams.length).toArray();
        for (int p = 0; p < points.length; p++) {
            if (firstOfPoint[p] == firstOfPoint[p + 1]) continue;
            int lowest = obsCam[firstOfPoint[p]];
            for (int o = firstOfPoint[p]; o < firstOfPoint[p + 1]; o++)
                first[obsCam[o]] = Math.min(first[obsCam[o]], lowest);
        }
        int[] out = new int[size];
        for (int c = 0; c < cams.length; c++) for (int i = 0; i < block; i++) out[block * c + i] = block * first[c];
        if (penalties != null) {
            for (Penalty q : penalties.of(this, cams, zoom, lens)) {
                int low = Arrays.stream(q.at).min().orElse(0);
                for (int at : q.at) out[at] = Math.min(out[at], low);
            }
        }
        return out;
    }

    /** Places of a camera's unknowns among all. */
    int turnAt(int cam) {
        return block * cam;
    }

    int moveAt(int cam) {
        return block * cam + 3;
    }

    int zoomAt(int cam) {
        return block * cam + block - 1;
    }

    /** Place of one of the lens's unknowns, or -1 when it is held. */
    int lensAt(int which) {
        return lensAt[which];
    }

    /** Reprojection error of observation o in pixels, into e; false when the point is behind the camera. */
    boolean residual(int o, double[] e) {
        return residual(cams[obsCam[o]], zoom[obsCam[o]], points[obsPoint[o]], lens, o, e);
    }

    private boolean residual(Rigid cam, double z0, double[] p, Lens l, int o, double[] e) {
        double[] r = cam.r, c = cam.c;
        double dx = p[0] - p[3] * c[0], dy = p[1] - p[3] * c[1], dz = p[2] - p[3] * c[2];
        double z = r[6] * dx + r[7] * dy + r[8] * dz;
        if (z <= 1e-12) {
            e[0] = e[1] = 1e3;
            return false;
        }
        double x = (r[0] * dx + r[1] * dy + r[2] * dz) / z, y = (r[3] * dx + r[4] * dy + r[5] * dz) / z;
        double r2 = x * x + y * y,
                d = 1 + r2 * (l.k1() + r2 * (l.k2() + r2 * l.k3())),
                f = z0 == 0 ? l.focalPx() : l.focalPx() * Math.exp(z0);
        e[0] = l.centreX() + f * (x * d + 2 * l.p1() * x * y + l.p2() * (r2 + 2 * x * x)) - obsX[o];
        e[1] = l.centreY() + f * (y * d + l.p1() * (r2 + 2 * y * y) + 2 * l.p2() * x * y) - obsY[o];
        return true;
    }

    double cost(Rigid[] cs, double[] zs, double[][] ps, Lens l) {
        double[] part = new double[PARTS];
        IntStream.range(0, PARTS).parallel().forEach(k -> {
            double[] e = new double[2];
            double s = 0;
            for (int o = from(obsCam.length, k), end = from(obsCam.length, k + 1); o < end; o++) {
                residual(cs[obsCam[o]], zs[obsCam[o]], ps[obsPoint[o]], l, o, e);
                double one = Math.log1p((e[0] * e[0] + e[1] * e[1]) / (scale * scale));
                s += weight == null ? one : weight[o] * one;
            }
            part[k] = s;
        });
        double s = 0, wish = 0;
        for (double v : part) s += v;
        if (penalties != null) for (Penalty q : penalties.of(this, cs, zs, l)) wish += q.value * q.value;
        if (anchored)
            for (Anchor a : anchors)
                if (a != null)
                    for (int k = 0; k < 3; k++) wish += square((ps[a.point][k] / ps[a.point][3] - a.at[k]) / a.step);
        return s * scale * scale + wish;
    }

    private static double square(double v) {
        return v * v;
    }

    private static int from(int n, int part) {
        return (int) ((long) n * part / PARTS);
    }

    /** Runs up to {@code steps} accepted or refused steps; returns the final cost. */
    double solve(int steps, double scalePx) {
        return solve(steps, scalePx, SETTLED);
    }

    double solve(int steps, double scalePx, double settled) {
        scale = scalePx;
        double cost = cost(cams, zoom, points, lens), lambda = 1e-4;
        int nc = cams.length;
        for (int step = 0; step < steps; step++) {
            Normal[] parts = new Normal[PARTS];
            Normal n = normal(lambda, parts);
            for (int i = 0; i < size; i++) n.s.a[n.s.base[i] + i] += lambda * n.diag[i] + 1e-12 * n.diag[i] + 1e-20;
            boolean ok = n.s.factor();
            double[] x = n.g.clone();
            if (ok) n.s.solve(x);
            Rigid[] nextCams = new Rigid[nc];
            double[] nextZoom = zoom.clone();
            double[][] nextPoints = new double[points.length][];
            Lens nextLens = lens;
            double nextCost = Double.POSITIVE_INFINITY;
            if (ok && Double.isFinite(x[0])) {
                for (int c = 0; c < nc; c++) {
                    int b = block * c;
                    nextCams[c] = free.moves
                            ? cams[c].moved(-x[b], -x[b + 1], -x[b + 2], -x[b + 3], -x[b + 4], -x[b + 5])
                            : cams[c].moved(-x[b], -x[b + 1], -x[b + 2], 0, 0, 0);
                    if (free.zooms) nextZoom[c] -= Math.max(-0.3, Math.min(0.3, x[b + block - 1]));
                }
                nextLens = lensStep(x);
                for (Normal part : parts) backSubstitute(part, x, nextPoints);
                nextCost = cost(nextCams, nextZoom, nextPoints, nextLens);
            }
            if (nextCost < cost) {
                boolean still =
                        cost - nextCost < settled * cost && (settled > QUITE_SETTLED || focalStep(x) < FOCAL_STILL);
                System.arraycopy(nextCams, 0, cams, 0, nc);
                System.arraycopy(nextPoints, 0, points, 0, points.length);
                zoom = nextZoom;
                lens = nextLens;
                cost = nextCost;
                lambda = Math.max(lambda * 0.2, 1e-9);
                if (still) break;
            } else {
                lambda *= 8;
                if (lambda > 1e6) break;
            }
        }
        return cost;
    }

    /**
     * The reduced normal equations with wishes, undamped but for the points; {@code parts} are filled and keep what
     * points need.
     */
    private Normal normal(double lambda, Normal[] parts) {
        IntStream.range(0, PARTS)
                .parallel()
                .forEach(k -> parts[k] = accumulate(from(points.length, k), from(points.length, k + 1), lambda));
        Normal n = new Normal();
        n.s = parts[0].s;
        n.g = parts[0].g.clone();
        n.diag = parts[0].diag.clone();
        for (int k = 1; k < PARTS; k++) {
            n.s.add(parts[k].s);
            for (int i = 0; i < size; i++) {
                n.g[i] += parts[k].g[i];
                n.diag[i] += parts[k].diag[i];
            }
        }
        if (penalties == null) return n;
        for (Penalty q : penalties.of(this, cams, zoom, lens)) {
            for (int i = 0; i < q.at.length; i++) {
                n.g[q.at[i]] += q.slope[i] * q.value;
                n.diag[q.at[i]] += q.slope[i] * q.slope[i];
                for (int j = 0; j <= i; j++) n.s.add(q.at[i], q.at[j], q.slope[i] * q.slope[j]);
            }
        }
        return n;
    }

    /**
     * How far what was solved may be off, one standard deviation each, from the inverse of the undamped normal
     * equations and the residuals that are left (Triggs et al. 2000, section 9). The first camera, and the distance to
     * the one farthest from it, are held.
     *
     * @param focalPart of the focal length, as a part of it; 0 when it was held; of a zoom that of its middle camera
     * @param place of every camera; @param turnDeg of its direction, degrees; @param points of every point, along the
     *     line in which it is worst known
     */
    record Spread(double focalPart, double[] place, double[] turnDeg, double[] points) {}

    /** Cameras between those for which it is worked out take their neighbours' figures. */
    private static final int SPREAD_CAMERAS = 60, SPREAD_POINTS = 800;

    Spread spread() {
        Normal[] parts = new Normal[PARTS];
        Normal n = normal(0, parts);
        int nc = cams.length, turns = 3;
        double most = 0;
        for (int i = 0; i < block * nc; i++) most = Math.max(most, n.diag[i]);
        double held = 1e6 * most;
        // Known points hold everything by themselves.
        if (!anchored) for (int i = 0; i < (free.moves ? 6 : turns); i++) n.s.add(i, i, held);
        if (free.moves && !anchored) {
            int far = 0;
            double longest = 0;
            double[] to = new double[3];
            for (int c = 1; c < nc; c++) {
                double[] d = {cams[c].c[0] - cams[0].c[0], cams[c].c[1] - cams[0].c[1], cams[c].c[2] - cams[0].c[2]};
                double l = Math.sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
                if (l <= longest) continue;
                longest = l;
                far = c;
                to = new double[] {d[0] / l, d[1] / l, d[2] / l};
            }
            for (int i = 0; i < 3; i++)
                for (int j = 0; j <= i; j++) n.s.add(moveAt(far) + i, moveAt(far) + j, held * to[i] * to[j]);
        }
        for (int i = 0; i < size; i++) n.s.add(i, i, 1e-12 * n.diag[i]);
        double[] place = new double[nc], turn = new double[nc], point = new double[points.length];
        Arrays.fill(place, Double.NaN);
        Arrays.fill(turn, Double.NaN);
        Arrays.fill(point, Double.NaN);
        if (!n.s.factor()) return new Spread(Double.NaN, place, turn, point);
        double variance = variance();
        int focal = free.zooms ? zoomAt(nc / 2) : lensAt[FOCAL];
        double part =
                focal < 0 ? 0 : Math.sqrt(Math.max(0, variance * n.s.inverseColumns(new int[] {focal})[0][focal]));
        int step = Math.max(1, (nc + SPREAD_CAMERAS - 1) / SPREAD_CAMERAS);
        int[] some =
                IntStream.range(0, nc).filter(c -> c % step == 0 || c == nc - 1).toArray();
        int width = free.moves ? 6 : turns;
        double[][] columns = n.s.inverseColumns(IntStream.of(some)
                .flatMap(c -> IntStream.range(block * c, block * c + width))
                .toArray());
        for (int k = 0; k < some.length; k++) {
            double t = 0, p = 0;
            for (int i = 0; i < 3; i++) {
                t += columns[width * k + i][block * some[k] + i];
                if (free.moves) p += columns[width * k + 3 + i][block * some[k] + 3 + i];
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
        int every = Math.max(1, (points.length + SPREAD_POINTS - 1) / SPREAD_POINTS);
        if (free.moves)
            for (Normal q : parts)
                IntStream.range(q.from, q.to)
                        .parallel()
                        .filter(p -> p % every == 0)
                        .forEach(p -> point[p] = Math.sqrt(variance) * pointSpread(n.s, q, p));
        return new Spread(part, place, turn, point);
    }

    /** Variance of one coordinate of an observation: what is left, over the degrees of freedom. */
    private double variance() {
        double sum = 0, weights = 0;
        double[] e = new double[2];
        for (int o = 0; o < obsCam.length; o++) {
            if (!residual(o, e)) continue;
            double w = (weight == null ? 1 : weight[o]) / (1 + (e[0] * e[0] + e[1] * e[1]) / (scale * scale));
            sum += w * (e[0] * e[0] + e[1] * e[1]);
            weights += w;
        }
        return sum / Math.max(1, 2 * weights - size - 3.0 * points.length);
    }

    /**
     * Square root of the largest eigenvalue of V^-1 + Y' S^-1 Y, Y = W V^-1, turned from the tangent of the 4-vector
     * into space.
     */
    private double pointSpread(Skyline s, Normal n, int p) {
        int k = p - n.from, b = 12 * k, B = block, L = lensSize, l = B * cams.length, base = firstOfPoint[n.from];
        double[][] y = new double[3][size];
        for (int o = firstOfPoint[p]; o < firstOfPoint[p + 1]; o++) {
            for (int i = 0; i < B; i++)
                for (int c = 0; c < 3; c++)
                    for (int j = 0; j < 3; j++)
                        y[c][B * obsCam[o] + i] += n.w[3 * B * (o - base) + 3 * i + j] * n.back[b + 3 * j + c];
        }
        for (int i = 0; i < L; i++)
            for (int c = 0; c < 3; c++)
                for (int j = 0; j < 3; j++) y[c][l + i] += n.wl[3 * L * k + 3 * i + j] * n.back[b + 3 * j + c];
        int zeros = firstOfPoint[p] < firstOfPoint[p + 1] ? B * obsCam[firstOfPoint[p]] : 0;
        double[][] cov = new double[3][3];
        for (int c = 0; c < 3; c++) {
            double[] x = y[c].clone();
            s.solve(x, zeros);
            for (int d = 0; d < 3; d++) {
                double q = n.back[b + 3 * d + c];
                for (int i = zeros; i < size; i++) q += y[d][i] * x[i];
                cov[d][c] = q;
            }
        }
        // d(p / w) = (dp - X dw) / w.
        double[] h = points[p];
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

    private Lens lensStep(double[] x) {
        double f = lens.focalPx();
        if (free.lens[FOCAL]) f *= Math.exp(Math.max(-0.3, Math.min(0.3, -x[lensAt[FOCAL]])));
        return new Lens(
                f,
                lens.centreX() - step(x, CENTRE_X),
                lens.centreY() - step(x, CENTRE_Y),
                lens.k1() - step(x, K1),
                lens.k2() - step(x, K2),
                lens.k3() - step(x, K3),
                lens.p1() - step(x, P1),
                lens.p2() - step(x, P2));
    }

    /** By how much a step changes focal lengths, as a part of them. */
    private double focalStep(double[] x) {
        double most = free.lens[FOCAL] ? Math.abs(x[lensAt[FOCAL]]) : 0;
        if (free.zooms) for (int c = 0; c < cams.length; c++) most = Math.max(most, Math.abs(x[zoomAt(c)]));
        return most;
    }

    private double step(double[] x, int which) {
        return free.lens[which] ? x[lensAt[which]] : 0;
    }

    /** Reduced normal equations of a range of points, and what is needed to find those points afterwards. */
    private static final class Normal {
        int from;
        int to;
        Skyline s;
        double[] g;
        double[] diag;
        /** For each point: inverse of V (9), V^-1 g_p (3). */
        double[] back;
        /** For each observation W (block x 3) of the range, then for each point its lens block (lens x 3). */
        double[] w;

        double[] wl;
        double[] basis;
    }

    private Normal accumulate(int from, int to, double lambda) {
        int B = block, L = lensSize, base = firstOfPoint[from], l = B * cams.length;
        Normal n = new Normal();
        n.from = from;
        n.to = to;
        n.s = new Skyline(start);
        n.g = new double[size];
        n.diag = new double[size];
        n.back = new double[12 * (to - from)];
        n.w = new double[3 * B * (firstOfPoint[to] - base)];
        n.wl = new double[3 * L * (to - from)];
        n.basis = new double[12 * (to - from)];
        double[] s = n.s.a,
                jc = new double[2 * B],
                jp = new double[6],
                jl = new double[2 * L],
                e = new double[2],
                vi = new double[9],
                yl = new double[3];
        int[] at = n.s.base;
        int most = 0;
        for (int p = from; p < to; p++) most = Math.max(most, firstOfPoint[p + 1] - firstOfPoint[p]);
        double[][] rows = new double[3][B * most];
        for (int p = from; p < to; p++) {
            int o0 = firstOfPoint[p], o1 = firstOfPoint[p + 1], b = 12 * (p - from), lw = 3 * L * (p - from);
            tangent(points[p], n.basis, b);
            double[] v = new double[9], gp = new double[3];
            for (int o = o0; o < o1; o++) {
                int w0 = 3 * B * (o - base);
                if (!jacobian(o, n.basis, b, e, jc, jp, jl)) continue;
                double w = (weight == null ? 1 : weight[o]) / (1 + (e[0] * e[0] + e[1] * e[1]) / (scale * scale));
                int c = B * obsCam[o];
                for (int i = 0; i < B; i++) {
                    n.g[c + i] += w * (jc[i] * e[0] + jc[B + i] * e[1]);
                    for (int j = 0; j <= i; j++) s[at[c + i] + c + j] += w * (jc[i] * jc[j] + jc[B + i] * jc[B + j]);
                    for (int j = 0; j < 3; j++) n.w[w0 + 3 * i + j] = w * (jc[i] * jp[j] + jc[B + i] * jp[3 + j]);
                }
                for (int i = 0; i < L; i++) {
                    int row = at[l + i];
                    n.g[l + i] += w * (jl[i] * e[0] + jl[L + i] * e[1]);
                    for (int j = 0; j < B; j++) s[row + c + j] += w * (jl[i] * jc[j] + jl[L + i] * jc[B + j]);
                    for (int j = 0; j <= i; j++) s[row + l + j] += w * (jl[i] * jl[j] + jl[L + i] * jl[L + j]);
                    for (int j = 0; j < 3; j++) n.wl[lw + 3 * i + j] += w * (jl[i] * jp[j] + jl[L + i] * jp[3 + j]);
                }
                for (int i = 0; i < 3; i++) {
                    gp[i] += w * (jp[i] * e[0] + jp[3 + i] * e[1]);
                    for (int j = 0; j < 3; j++) v[3 * i + j] += w * (jp[i] * jp[j] + jp[3 + i] * jp[3 + j]);
                }
            }
            if (anchors[p] != null) anchor(anchors[p], points[p], n.basis, b, v, gp);
            for (int i = 0; i < 3; i++) v[4 * i] += lambda * v[4 * i] + 1e-12 * (v[0] + v[4] + v[8]) + 1e-20;
            invert3(v, vi);
            System.arraycopy(vi, 0, n.back, b, 9);
            for (int i = 0; i < 3; i++)
                n.back[b + 9 + i] = vi[3 * i] * gp[0] + vi[3 * i + 1] * gp[1] + vi[3 * i + 2] * gp[2];
            reduce(n, o0, o1, base, p - from, vi, rows, yl);
        }
        // Diagonal of the unreduced matrix would be the textbook's damping; the reduced one's absolute value serves as
        // well and needs no second array.
        for (int i = 0; i < size; i++) n.diag[i] = Math.abs(s[at[i] + i]);
        return n;
    }

    /**
     * What a known place adds to a point's own equations: d(p / w) = (dp - X dw) / w, turned into the tangent of the
     * 4-vector.
     */
    private static void anchor(Anchor a, double[] p, double[] basis, int b, double[] v, double[] gp) {
        for (int k = 0; k < 3; k++) {
            double x = p[k] / p[3], e = (x - a.at[k]) / a.step;
            double[] j = new double[3];
            for (int i = 0; i < 3; i++) j[i] = (basis[b + 3 * k + i] - x * basis[b + 9 + i]) / p[3] / a.step;
            for (int i = 0; i < 3; i++) {
                gp[i] += j[i] * e;
                for (int m = 0; m < 3; m++) v[3 * i + m] += j[i] * j[m];
            }
        }
    }

    /**
     * Takes W V^-1 W' and W V^-1 g of one point out of the reduced system. A point is mostly seen by neighbouring
     * frames, whose blocks lie side by side in a row of S: the three columns of W are laid out as long rows, so that
     * the inner loop runs over whole runs of frames.
     */
    private void reduce(Normal n, int o0, int o1, int base, int p, double[] vi, double[][] rows, double[] yl) {
        int B = block, L = lensSize, l = B * cams.length, b = 12 * p, lw = 3 * L * p, m = o1 - o0;
        double g0 = n.back[b + 9], g1 = n.back[b + 10], g2 = n.back[b + 11];
        double[] w0 = rows[0], w1 = rows[1], w2 = rows[2], s = n.s.a;
        int[] at = n.s.base;
        for (int q = 0; q < m; q++) {
            int from = 3 * B * (o0 + q - base);
            for (int j = 0; j < B; j++) {
                w0[B * q + j] = n.w[from + 3 * j];
                w1[B * q + j] = n.w[from + 3 * j + 1];
                w2[B * q + j] = n.w[from + 3 * j + 2];
            }
        }
        for (int o = 0; o < m; o++) {
            int c = B * obsCam[o0 + o];
            for (int i = 0; i < B; i++) {
                double a0 = w0[B * o + i], a1 = w1[B * o + i], a2 = w2[B * o + i];
                n.g[c + i] -= a0 * g0 + a1 * g1 + a2 * g2;
                double y0 = a0 * vi[0] + a1 * vi[3] + a2 * vi[6],
                        y1 = a0 * vi[1] + a1 * vi[4] + a2 * vi[7],
                        y2 = a0 * vi[2] + a1 * vi[5] + a2 * vi[8];
                int row = at[c + i];
                // Earlier frames whole, of the own block what lies before the diagonal.
                subtract(s, row, w0, w1, w2, o, y0, y1, y2, o0);
                for (int j = 0; j <= i; j++)
                    s[row + c + j] -= y0 * w0[B * o + j] + y1 * w1[B * o + j] + y2 * w2[B * o + j];
            }
        }
        for (int i = 0; i < L; i++) {
            double a0 = n.wl[lw + 3 * i], a1 = n.wl[lw + 3 * i + 1], a2 = n.wl[lw + 3 * i + 2];
            n.g[l + i] -= a0 * g0 + a1 * g1 + a2 * g2;
            for (int k = 0; k < 3; k++) yl[k] = a0 * vi[k] + a1 * vi[3 + k] + a2 * vi[6 + k];
            int row = at[l + i];
            subtract(s, row, w0, w1, w2, m, yl[0], yl[1], yl[2], o0);
            for (int j = 0; j <= i; j++)
                s[row + l + j] -=
                        yl[0] * n.wl[lw + 3 * j] + yl[1] * n.wl[lw + 3 * j + 1] + yl[2] * n.wl[lw + 3 * j + 2];
        }
    }

    /** Takes the blocks of the first {@code m} observations of a point out of a row, run by run. */
    private void subtract(
            double[] s,
            int row,
            double[] w0,
            double[] w1,
            double[] w2,
            int m,
            double y0,
            double y1,
            double y2,
            int o0) {
        int B = block;
        for (int q = 0; q < m; ) {
            int end = q + 1, first = obsCam[o0 + q];
            while (end < m && obsCam[o0 + end] == first + end - q) end++;
            run(s, row + B * first, w0, w1, w2, B * q, B * (end - q), y0, y1, y2);
            q = end;
        }
    }

    private static void run(
            double[] s,
            int at,
            double[] w0,
            double[] w1,
            double[] w2,
            int from,
            int count,
            double y0,
            double y1,
            double y2) {
        for (int k = 0; k < count; k++) s[at + k] -= y0 * w0[from + k] + y1 * w1[from + k] + y2 * w2[from + k];
    }

    private void backSubstitute(Normal n, double[] x, double[][] next) {
        int base = firstOfPoint[n.from], B = block, L = lensSize, l = B * cams.length;
        for (int p = n.from; p < n.to; p++) {
            int k = p - n.from, b = 12 * k;
            double[] r = new double[3];
            for (int o = firstOfPoint[p]; o < firstOfPoint[p + 1]; o++) {
                int w0 = 3 * B * (o - base), c = B * obsCam[o];
                for (int i = 0; i < B; i++) for (int j = 0; j < 3; j++) r[j] += n.w[w0 + 3 * i + j] * x[c + i];
            }
            for (int i = 0; i < L; i++) for (int j = 0; j < 3; j++) r[j] += n.wl[3 * L * k + 3 * i + j] * x[l + i];
            double[] d = new double[3];
            for (int i = 0; i < 3; i++)
                d[i] = n.back[b + 9 + i]
                        - (n.back[b + 3 * i] * r[0] + n.back[b + 3 * i + 1] * r[1] + n.back[b + 3 * i + 2] * r[2]);
            double[] q = points[p].clone();
            double norm = 0;
            for (int i = 0; i < 4; i++) {
                q[i] -= n.basis[b + 3 * i] * d[0] + n.basis[b + 3 * i + 1] * d[1] + n.basis[b + 3 * i + 2] * d[2];
                norm += q[i] * q[i];
            }
            norm = Math.sqrt(norm);
            for (int i = 0; i < 4; i++) q[i] /= norm;
            next[p] = q;
        }
    }

    /**
     * Three directions at right angles to unit 4-vector p: columns 2 to 4 of the Householder reflection that maps p to
     * an axis.
     */
    private static void tangent(double[] p, double[] basis, int at) {
        int k = 0;
        for (int i = 1; i < 4; i++) if (Math.abs(p[i]) > Math.abs(p[k])) k = i;
        double sign = p[k] < 0 ? -1 : 1, beta = 1 / (1 + Math.abs(p[k]));
        for (int i = 0; i < 4; i++) {
            double vi = p[i] + (i == k ? sign : 0);
            for (int j = 0, col = 0; j < 4; j++) {
                if (j == k) continue;
                basis[at + 3 * i + col++] = (i == j ? 1 : 0) - beta * vi * p[j];
            }
        }
    }

    private boolean jacobian(int o, double[] basis, int b, double[] e, double[] jc, double[] jp, double[] jl) {
        Rigid cam = cams[obsCam[o]];
        double[] p = points[obsPoint[o]], r = cam.r, c = cam.c;
        if (!residual(o, e)) return false;
        double[] q = cam.toCamera(p);
        double iz = 1 / q[2],
                x = q[0] * iz,
                y = q[1] * iz,
                r2 = x * x + y * y,
                f = lens.focalPx() * Math.exp(zoom[obsCam[o]]),
                p1 = lens.p1(),
                p2 = lens.p2();
        double d = 1 + r2 * (lens.k1() + r2 * (lens.k2() + r2 * lens.k3())),
                dd = lens.k1() + r2 * (2 * lens.k2() + 3 * r2 * lens.k3());
        double uxx = f * (d + 2 * x * x * dd + 2 * p1 * y + 6 * p2 * x),
                uxy = f * (2 * x * y * dd + 2 * p1 * x + 2 * p2 * y),
                uyy = f * (d + 2 * y * y * dd + 6 * p1 * y + 2 * p2 * x);
        // d(u, v)/dq = [uxx uxy; uxy uyy] times [1 0 -x; 0 1 -y] / z
        double a0 = uxx * iz,
                a1 = uxy * iz,
                a2 = -(uxx * x + uxy * y) * iz,
                b0 = uxy * iz,
                b1 = uyy * iz,
                b2 = -(uxy * x + uyy * y) * iz;
        int B = block, L = lensSize;
        // dq/dw = -[q]x
        jc[0] = -a1 * q[2] + a2 * q[1];
        jc[1] = a0 * q[2] - a2 * q[0];
        jc[2] = -a0 * q[1] + a1 * q[0];
        jc[B] = -b1 * q[2] + b2 * q[1];
        jc[B + 1] = b0 * q[2] - b2 * q[0];
        jc[B + 2] = -b0 * q[1] + b1 * q[0];
        double t0 = 0, t1 = 0;
        double[] jx = new double[4], jy = new double[4];
        for (int k = 0; k < 3; k++) {
            jx[k] = a0 * r[k] + a1 * r[3 + k] + a2 * r[6 + k];
            jy[k] = b0 * r[k] + b1 * r[3 + k] + b2 * r[6 + k];
            if (free.moves) {
                jc[3 + k] = -p[3] * jx[k];
                jc[B + 3 + k] = -p[3] * jy[k];
            }
            t0 -= jx[k] * c[k];
            t1 -= jy[k] * c[k];
        }
        jx[3] = t0;
        jy[3] = t1;
        for (int k = 0; k < 3; k++) {
            jp[k] = jp[3 + k] = 0;
            for (int i = 0; i < 4; i++) {
                jp[k] += jx[i] * basis[b + 3 * i + k];
                jp[3 + k] += jy[i] * basis[b + 3 * i + k];
            }
        }
        double u = e[0] + obsX[o] - lens.centreX(), v = e[1] + obsY[o] - lens.centreY();
        if (free.zooms) {
            jc[B - 1] = u;
            jc[2 * B - 1] = v;
        }
        int l = 0;
        for (int k = 0; k < LENS; k++) {
            if (!free.lens[k]) continue;
            switch (k) {
                case FOCAL -> slope(jl, l, L, u, v);
                case K1 -> slope(jl, l, L, f * x * r2, f * y * r2);
                case K2 -> slope(jl, l, L, f * x * r2 * r2, f * y * r2 * r2);
                case K3 -> slope(jl, l, L, f * x * r2 * r2 * r2, f * y * r2 * r2 * r2);
                case P1 -> slope(jl, l, L, f * 2 * x * y, f * (r2 + 2 * y * y));
                case P2 -> slope(jl, l, L, f * (r2 + 2 * x * x), f * 2 * x * y);
                case CENTRE_X -> slope(jl, l, L, 1, 0);
                default -> slope(jl, l, L, 0, 1);
            }
            l++;
        }
        return true;
    }

    private static void slope(double[] jl, int l, int size, double x, double y) {
        jl[l] = x;
        jl[size + l] = y;
    }

    private static void invert3(double[] m, double[] o) {
        double a = m[4] * m[8] - m[5] * m[7],
                b = m[5] * m[6] - m[3] * m[8],
                c = m[3] * m[7] - m[4] * m[6],
                det = m[0] * a + m[1] * b + m[2] * c;
        double k = Math.abs(det) < 1e-300 ? 0 : 1 / det;
        o[0] = a * k;
        o[1] = (m[2] * m[7] - m[1] * m[8]) * k;
        o[2] = (m[1] * m[5] - m[2] * m[4]) * k;
        o[3] = b * k;
        o[4] = (m[0] * m[8] - m[2] * m[6]) * k;
        o[5] = (m[2] * m[3] - m[0] * m[5]) * k;
        o[6] = c * k;
        o[7] = (m[1] * m[6] - m[0] * m[7]) * k;
        o[8] = (m[0] * m[4] - m[1] * m[3]) * k;
    }
}

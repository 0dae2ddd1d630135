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
    static final int PARTS = 2;
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
    final int[] firstOfPoint;
    final Free free;
    final int block;
    final int[] lensAt = new int[LENS];
    final int lensSize;
    final int size;
    final Penalties penalties;
    /** By how much each observation's squared error counts. */
    final double[] weight;
    /** By point, null where there is none. */
    final Anchor[] anchors;

    final boolean anchored;
    final int[] start;
    double scale;
    private final Jacobian jacobian;
    private final Normals normals;

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
        jacobian = new Jacobian(this);
        normals = new Normals(this);
    }

    /** The same, where it stands, with other terms of the lens free. */
    Bundle with(boolean[] lens) {
        Bundle b = new Bundle(
                cams,
                zoom,
                points,
                this.lens,
                obsCam,
                obsPoint,
                obsX,
                obsY,
                new Free(free.moves, free.zooms, lens),
                penalties,
                weight,
                Arrays.stream(anchors).filter(a -> a != null).toList());
        b.scale = scale;
        return b;
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

    /** How much an observation with that error counts: its own weight, less the further off it is (Cauchy). */
    double weight(int o, double[] e) {
        return (weight == null ? 1 : weight[o]) / (1 + (e[0] * e[0] + e[1] * e[1]) / (scale * scale));
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

    double cost(Rigid[] cs, double[] zs, double[][] ps, Lens l) {
        double[] part = new double[PARTS];
        IntStream.range(0, PARTS).parallel().forEach(k -> {
            double[] e = new double[2];
            double s = 0;
            for (int o = from(obsCam.length, k), end = from(obsCam.length, k + 1); o < end; o++) {
                jacobian.at(cs[obsCam[o]], zs[obsCam[o]], ps[obsPoint[o]], l, o, e);
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

    static int from(int n, int part) {
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
            Normals.Part[] parts = new Normals.Part[PARTS];
            Normals.Part n = normals.all(lambda, parts);
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
                for (Normals.Part part : parts) normals.backSubstitute(part, x, nextPoints);
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
}

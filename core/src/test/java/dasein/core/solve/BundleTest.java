package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.lens.Lens;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.ejml.simple.SimpleMatrix;
import org.junit.jupiter.api.Test;

/** The parts of the bundle adjustment, each against what it stands for. */
class BundleTest {
    private static final int CAMERAS = 5, POINTS = 30;
    private static final Lens LENS = new Lens(900, 630, 350, -0.09, 0.02, 0.004, 0.001, -0.002);

    private static Rigid camera(Random r, int k) {
        return Rigid.identity()
                .moved(
                        0.05 * r.nextGaussian(),
                        0.05 * r.nextGaussian(),
                        0.05 * r.nextGaussian(),
                        0.2 * k + 0.02 * r.nextGaussian(),
                        0.02 * r.nextGaussian(),
                        0.02 * r.nextGaussian());
    }

    private static double[] unit(double x, double y, double z, double w) {
        double n = Math.sqrt(x * x + y * y + z * z + w * w);
        return new double[] {x / n, y / n, z / n, w / n};
    }

    private static Bundle problem(Bundle.Free free, double noise, long seed) {
        Random r = new Random(seed);
        Rigid[] cams = new Rigid[CAMERAS];
        for (int c = 0; c < CAMERAS; c++) cams[c] = camera(r, c);
        double[] zoom = new double[CAMERAS];
        if (free.zooms()) for (int c = 0; c < CAMERAS; c++) zoom[c] = 0.05 * r.nextGaussian();
        double[][] points = new double[POINTS][];
        List<int[]> who = new ArrayList<>();
        for (int p = 0; p < POINTS; p++) {
            points[p] = unit(4 * r.nextDouble() - 2, 3 * r.nextDouble() - 1.5, 4 + 4 * r.nextDouble(), 1);
            // Neighbouring frames see a mark, as in a film shot.
            int from = r.nextInt(CAMERAS - 2);
            for (int c = from; c < Math.min(CAMERAS, from + 2 + r.nextInt(3)); c++) who.add(new int[] {c, p});
        }
        int n = who.size();
        int[] cam = new int[n], point = new int[n];
        double[] x = new double[n], y = new double[n];
        for (int o = 0; o < n; o++) {
            cam[o] = who.get(o)[0];
            point[o] = who.get(o)[1];
        }
        Bundle b = new Bundle(cams, zoom, points, LENS, cam, point, x, y, free, null, null, List.of());
        Jacobian j = new Jacobian(b);
        double[] e = new double[2];
        for (int o = 0; o < n; o++) {
            j.residual(o, e);
            x[o] = e[0] + noise * r.nextGaussian();
            y[o] = e[1] + noise * r.nextGaussian();
        }
        return b;
    }

    private static Bundle.Free all(boolean moves, boolean zooms) {
        boolean[] lens = new boolean[Bundle.LENS];
        for (int i = 0; i < lens.length; i++) lens[i] = !(zooms && i == Bundle.FOCAL);
        return new Bundle.Free(moves, zooms, lens);
    }

    /** Every derivative against a central difference. */
    @Test
    void theJacobianIsWhatDifferencesSay() {
        for (boolean moves : new boolean[] {true, false}) {
            for (boolean zooms : new boolean[] {true, false}) {
                Bundle b = problem(all(moves, zooms), 1, 3);
                Jacobian j = new Jacobian(b);
                int B = b.block, L = b.lensSize;
                double[] e = new double[2],
                        jc = new double[2 * B],
                        jp = new double[6],
                        jl = new double[2 * L],
                        basis = new double[12];
                for (int o = 0; o < b.obsCam.length; o += 7) {
                    double[] point = b.points[b.obsPoint[o]];
                    Jacobian.tangent(point, basis, 0);
                    assertThat(j.of(o, basis, 0, e, jc, jp, jl)).isTrue();
                    int c = b.obsCam[o];
                    for (int i = 0; i < B; i++) {
                        int at = i;
                        double[] d = new double[6];
                        boolean zoom = zooms && i == B - 1;
                        if (!zoom) d[i] = 1;
                        double[] got = difference(h -> {
                            Rigid was = b.cams[c];
                            double z = b.zoom[c];
                            if (zoom) b.zoom[c] += h;
                            else b.cams[c] = was.moved(h * d[0], h * d[1], h * d[2], h * d[3], h * d[4], h * d[5]);
                            double[] r = new double[2];
                            j.residual(o(b, c, point), r);
                            b.cams[c] = was;
                            b.zoom[c] = z;
                            return r;
                        });
                        close(jc[at], got[0], "camera " + i);
                        close(jc[B + at], got[1], "camera " + i);
                    }
                    for (int i = 0; i < 3; i++) {
                        int at = i;
                        double[] got = difference(h -> {
                            double[] was = point.clone(), r = new double[2];
                            for (int k = 0; k < 4; k++) point[k] += h * basis[3 * k + at];
                            j.residual(o(b, c, point), r);
                            System.arraycopy(was, 0, point, 0, 4);
                            return r;
                        });
                        close(jp[i], got[0], "point " + i);
                        close(jp[3 + i], got[1], "point " + i);
                    }
                    for (int which = 0; which < Bundle.LENS; which++) {
                        int at = b.lensAt(which), k = which;
                        if (at < 0) continue;
                        double[] got = difference(h -> {
                            Lens was = b.lens;
                            b.lens = stepped(was, k, h);
                            double[] r = new double[2];
                            j.residual(o(b, c, point), r);
                            b.lens = was;
                            return r;
                        });
                        int l = at - b.block * b.cams.length;
                        close(jl[l], got[0], "lens " + which);
                        close(jl[L + l], got[1], "lens " + which);
                    }
                }
            }
        }
    }

    private static int o(Bundle b, int cam, double[] point) {
        for (int o = 0; o < b.obsCam.length; o++) if (b.obsCam[o] == cam && b.points[b.obsPoint[o]] == point) return o;
        throw new IllegalStateException();
    }

    private static Lens stepped(Lens l, int which, double h) {
        return new Lens(
                which == Bundle.FOCAL ? l.focalPx() * Math.exp(h) : l.focalPx(),
                l.centreX() + (which == Bundle.CENTRE_X ? h : 0),
                l.centreY() + (which == Bundle.CENTRE_Y ? h : 0),
                l.k1() + (which == Bundle.K1 ? h : 0),
                l.k2() + (which == Bundle.K2 ? h : 0),
                l.k3() + (which == Bundle.K3 ? h : 0),
                l.p1() + (which == Bundle.P1 ? h : 0),
                l.p2() + (which == Bundle.P2 ? h : 0));
    }

    private interface Residual {
        double[] at(double h);
    }

    private static double[] difference(Residual r) {
        double h = 1e-5;
        double[] a = r.at(h), b = r.at(-h);
        return new double[] {(a[0] - b[0]) / (2 * h), (a[1] - b[1]) / (2 * h)};
    }

    private static void close(double got, double wanted, String what) {
        assertThat(got).as(what).isCloseTo(wanted, within(1e-4 * Math.max(1, Math.abs(wanted))));
    }

    /** The reduced step is the step of the whole system, cameras, lens and points together. */
    @Test
    void theReducedSystemGivesTheStepOfTheWholeOne() {
        Bundle b = problem(all(true, false), 1, 5);
        b.scale = 1e9;
        Normals.Part[] parts = new Normals.Part[Bundle.PARTS];
        double damp = 0.01;
        Normals.Part n = new Normals(b).all(damp, parts);
        double[] added = new double[b.size];
        for (int i = 0; i < b.size; i++) {
            added[i] = damp * n.diag[i] + 1;
            n.s.a[n.s.base[i] + i] += added[i];
        }
        double[] x = n.g.clone();
        assertThat(n.s.factor()).isTrue();
        n.s.solve(x);
        int whole = b.size + 3 * POINTS, B = b.block, L = b.lensSize, l = B * CAMERAS;
        SimpleMatrix h = new SimpleMatrix(whole, whole), g = new SimpleMatrix(whole, 1);
        Jacobian j = new Jacobian(b);
        double[] e = new double[2],
                jc = new double[2 * B],
                jp = new double[6],
                jl = new double[2 * L],
                basis = new double[12];
        for (int o = 0; o < b.obsCam.length; o++) {
            Jacobian.tangent(b.points[b.obsPoint[o]], basis, 0);
            j.of(o, basis, 0, e, jc, jp, jl);
            SimpleMatrix row = new SimpleMatrix(2, whole);
            for (int k = 0; k < 2; k++) {
                for (int i = 0; i < B; i++) row.set(k, B * b.obsCam[o] + i, jc[k * B + i]);
                for (int i = 0; i < L; i++) row.set(k, l + i, jl[k * L + i]);
                for (int i = 0; i < 3; i++) row.set(k, b.size + 3 * b.obsPoint[o] + i, jp[3 * k + i]);
            }
            h = h.plus(row.transpose().mult(row));
            g = g.plus(row.transpose().mult(new SimpleMatrix(2, 1, true, e)));
        }
        for (int i = 0; i < b.size; i++) h.set(i, i, h.get(i, i) + added[i]);
        for (int p = 0; p < POINTS; p++) {
            int at = b.size + 3 * p;
            double trace = h.get(at, at) + h.get(at + 1, at + 1) + h.get(at + 2, at + 2);
            for (int i = 0; i < 3; i++)
                h.set(at + i, at + i, h.get(at + i, at + i) * (1 + damp) + 1e-12 * trace + 1e-20);
        }
        SimpleMatrix step = h.solve(g);
        for (int i = 0; i < b.size; i++)
            assertThat(x[i]).isCloseTo(step.get(i), within(1e-7 + 1e-6 * Math.abs(step.get(i))));
    }

    @Test
    void aDisturbedProblemComesBackToItsTruth() {
        Bundle b = problem(new Bundle.Free(true, false, Bundle.Free.of(Bundle.FOCAL, Bundle.K1)), 0, 9);
        Random r = new Random(1);
        for (double[] p : b.points) {
            double[] q = unit(p[0] + 0.01 * r.nextGaussian(), p[1] + 0.01 * r.nextGaussian(), p[2], p[3]);
            System.arraycopy(q, 0, p, 0, 4);
        }
        for (int c = 1; c < CAMERAS; c++)
            b.cams[c] = b.cams[c].moved(
                    0.002 * r.nextGaussian(), 0.002 * r.nextGaussian(), 0, 0.01 * r.nextGaussian(), 0, 0);
        assertThat(b.solve(60, 2, Bundle.QUITE_SETTLED)).isLessThan(1e-4);
    }

    /** The factor within the skyline against a dense solve (EJML). */
    @Test
    void theSkylineSolvesWhatADenseSolveDoes() {
        Random r = new Random(6);
        int n = 60;
        int[] start = new int[n];
        for (int i = 0; i < n; i++) start[i] = Math.max(0, i - r.nextInt(9) - (i % 17 == 0 ? i : 0));
        Skyline s = new Skyline(start);
        SimpleMatrix dense = new SimpleMatrix(n, n);
        for (int i = 0; i < n; i++)
            for (int c = start[i]; c <= i; c++) {
                double v = i == c ? 30 + r.nextDouble() : r.nextGaussian();
                s.add(i, c, v);
                dense.set(i, c, v);
                dense.set(c, i, v);
            }
        double[] b = r.doubles(n).toArray(), x = b.clone();
        SimpleMatrix wanted = dense.solve(new SimpleMatrix(n, 1, true, b)), inverse = dense.invert();
        assertThat(s.get(3, 40)).isEqualTo(dense.get(3, 40));
        assertThat(s.factor()).isTrue();
        s.solve(x);
        for (int i = 0; i < n; i++) assertThat(x[i]).isCloseTo(wanted.get(i), within(1e-11));
        double[][] columns = s.inverseColumns(new int[] {4, 50});
        for (int i = 0; i < n; i++) {
            assertThat(columns[0][i]).isCloseTo(inverse.get(i, 4), within(1e-11));
            assertThat(columns[1][i]).isCloseTo(inverse.get(i, 50), within(1e-11));
        }
        // One that is not positive definite is told.
        Skyline bad = new Skyline(new int[] {0, 0});
        bad.add(0, 0, 1);
        bad.add(1, 0, 2);
        bad.add(1, 1, 1);
        assertThat(bad.factor()).isFalse();
    }
}

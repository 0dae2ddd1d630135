package dasein.core.light.photo;

import dasein.core.NoSolution;
import dasein.core.image.Encoding;
import java.util.ArrayList;
import java.util.List;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.factory.LinearSolverFactory_DDRM;
import org.ejml.interfaces.linsol.LinearSolverDense;

/**
 * A camera's response from photographs of one view at several exposures (Debevec and Malik 1997): the logarithm g of
 * light by code, for which {@code g(z_ij) = ln E_i + ln t_j} holds over all pixels i and photographs j. In place of
 * their smoothness of g itself, g is a power of the sRGB curve (the power is found too) plus a smooth rest, so that a
 * little data at the dark end bends nothing. The radiances E_i are eliminated, so that thousands of pixels cost no more
 * than a few.
 */
public final class ResponseFit {
    private static final int N = Response.CODES, PIXELS = 6000, ROUNDS = 3;
    /** Codes below and above tell nothing: noise and what is cut off. */
    private static final int LEAST = 3, MOST = 249;

    private static final double SMOOTH = 100;

    private final Bracket bracket;
    private final double[] lnT;
    private final List<Integer> pixels = new ArrayList<>();

    private ResponseFit(Bracket b) {
        bracket = b;
        lnT = new double[b.exposures().length];
        for (int j = 0; j < lnT.length; j++) lnT[j] = Math.log(b.exposures()[j]);
        choose();
    }

    /**
     * @param b photographs that lie on each other
     * @throws NoSolution when there is only one, or too little is seen in two of them at once
     */
    public static Response of(Bracket b) {
        if (b.photos().size() < 2)
            throw new NoSolution("a camera's response cannot be found from one photograph; give it, or its curve");
        if (b.photos().stream().allMatch(Photo::isLight)) return Response.LINEAR;
        ResponseFit f = new ResponseFit(b);
        double[][] ln = new double[3][];
        for (int c = 0; c < 3; c++) ln[c] = f.colour(c);
        float[][] t = new float[3][N];
        // Equal codes of middle brightness are grey: that joins the three scales. White is 1.
        double white = ln[1][N - 1] - ln[1][128];
        for (int c = 0; c < 3; c++) {
            double[] light = new double[N];
            for (int z = 0; z < N; z++) light[z] = z == 0 ? 0 : Math.exp(ln[c][z] - ln[c][128] - white);
            Response.rising(light);
            for (int z = 0; z < N; z++) t[c][z] = (float) light[z];
        }
        return new Response(t);
    }

    /** Even places on a grid, those with little detail around them: there a small shift does no harm. */
    private void choose() {
        Photo p = bracket.photos().get(bracket.byExposure().get(bracket.photos().size() / 2));
        int w = p.width, h = p.height, cell = Math.max(3, (int) Math.sqrt((double) w * h / PIXELS));
        for (int y = 1; y + cell < h - 1; y += cell)
            for (int x = 1; x + cell < w - 1; x += cell) {
                int best = -1;
                double least = Double.MAX_VALUE;
                for (int k = 0; k < 9; k++) {
                    int px = x + (k % 3) * cell / 3, py = y + k / 3 * cell / 3, i = py * w + px;
                    double g = 0;
                    for (int c = 0; c < 3; c++)
                        g += Math.abs(p.at(c, i + 1) - p.at(c, i - 1)) + Math.abs(p.at(c, i + w) - p.at(c, i - w));
                    if (g < least) {
                        least = g;
                        best = i;
                    }
                }
                pixels.add(best);
            }
    }

    private static double weight(double z) {
        return z < LEAST || z > MOST ? 0 : Math.min(1, Math.min((z - LEAST + 1) / 24, (MOST - z + 1) / 24));
    }

    private double code(int j, int c, int pixel) {
        return 255 * bracket.photos().get(j).at(c, pixel);
    }

    private double[] colour(int c) {
        double[] prior = new double[N], g = null;
        for (int z = 0; z < N; z++) prior[z] = Math.log(Encoding.SRGB.decode(Math.max(z, 0.5) / 255));
        double limit = Double.MAX_VALUE;
        for (int round = 0; round < ROUNDS; round++) {
            g = solve(c, prior, g, limit);
            limit = 3 * spread(c, g);
        }
        return g;
    }

    /** Unknown: the smooth rest h at each code, then the power p; g = p prior + h. */
    private double[] solve(int c, double[] prior, double[] before, double limit) {
        int n = N + 1, shots = lnT.length;
        DMatrixRMaj a = new DMatrixRMaj(n, n), b = new DMatrixRMaj(n, 1);
        double[] w = new double[shots], z = new double[shots];
        int used = 0;
        // A row of the system is g at a fractional code: three unknowns.
        int[][] at = new int[shots][3];
        double[][] k = new double[shots][3];
        for (int pixel : pixels) {
            double sum = 0, mean = 0;
            int seen = 0;
            for (int j = 0; j < shots; j++) {
                z[j] = code(j, c, pixel);
                w[j] = weight(z[j]);
                if (w[j] > 0) seen++;
            }
            if (seen < 2 || before != null && off(before, z, w) > limit) continue;
            used++;
            for (int j = 0; j < shots; j++) {
                int low = Math.min((int) z[j], N - 2);
                double f = z[j] - low;
                at[j] = new int[] {low, low + 1, N};
                k[j] = new double[] {1 - f, f, (1 - f) * prior[low] + f * prior[low + 1]};
                sum += w[j];
                mean += w[j] * lnT[j];
            }
            mean /= sum;
            for (int j = 0; j < shots; j++) {
                if (w[j] == 0) continue;
                for (int p = 0; p < 3; p++) {
                    b.add(at[j][p], 0, w[j] * k[j][p] * (lnT[j] - mean));
                    for (int i = 0; i < shots; i++) {
                        double m = (i == j ? w[j] : 0) - w[i] * w[j] / sum;
                        if (m != 0) for (int q = 0; q < 3; q++) a.add(at[j][p], at[i][q], m * k[j][p] * k[i][q]);
                    }
                }
            }
        }
        if (used < 20)
            throw new NoSolution("too little is seen in two of the photographs at once to find the camera's response");
        double smooth = SMOOTH * used;
        for (int m = 1; m < N - 1; m++) {
            int[] i = {m - 1, m, m + 1};
            double[] s = {1, -2, 1};
            for (int p = 0; p < 3; p++) for (int q = 0; q < 3; q++) a.add(i[p], i[q], smooth * s[p] * s[q]);
        }
        // What no data holds: the level as a whole, and the line that a power alone could be.
        a.add(128, 128, used);
        for (int m = 0; m < N; m++) a.add(m, m, 1e-6 * used);
        a.add(N, N, 1e-9 * used);
        LinearSolverDense<DMatrixRMaj> solver = LinearSolverFactory_DDRM.symmPosDef(n);
        DMatrixRMaj x = new DMatrixRMaj(n, 1);
        if (!solver.setA(a)) throw new NoSolution("the camera's response is not determined by these photographs");
        solver.solve(b, x);
        double[] g = new double[N];
        for (int m = 0; m < N; m++) g[m] = x.get(m, 0) + x.get(N, 0) * prior[m];
        return g;
    }

    private static double at(double[] g, double z) {
        int low = Math.min((int) z, N - 2);
        return g[low] + (z - low) * (g[low + 1] - g[low]);
    }

    /** Largest distance of a pixel's estimates from their mean. */
    private double off(double[] g, double[] z, double[] w) {
        double sum = 0, mean = 0, most = 0;
        for (int j = 0; j < z.length; j++) {
            sum += w[j];
            mean += w[j] * (at(g, z[j]) - lnT[j]);
        }
        for (int j = 0; j < z.length; j++)
            if (w[j] > 0) most = Math.max(most, Math.abs(at(g, z[j]) - lnT[j] - mean / sum));
        return most;
    }

    /** Deviation of the pixels' distances, robustly. */
    private double spread(int c, double[] g) {
        int shots = lnT.length;
        double[] z = new double[shots], w = new double[shots], all = new double[pixels.size()];
        int n = 0;
        for (int pixel : pixels) {
            int seen = 0;
            for (int j = 0; j < shots; j++) {
                z[j] = code(j, c, pixel);
                w[j] = weight(z[j]);
                if (w[j] > 0) seen++;
            }
            if (seen >= 2) all[n++] = off(g, z, w);
        }
        java.util.Arrays.sort(all, 0, n);
        return Math.max(0.01, n == 0 ? 1 : 1.4826 * all[n / 2]);
    }
}

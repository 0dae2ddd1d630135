package dasein.core.solve;

import java.util.stream.IntStream;

/**
 * A symmetric positive definite matrix of which each row is kept from its first entry to the diagonal: the shape that
 * the reduced camera system of a film shot has, since a mark is seen by neighbouring frames only. Cholesky fills
 * nothing in outside it (George and Liu 1981, chapter 4).
 */
final class Skyline {
    final int n;
    /** First column of each row. */
    final int[] start;
    /** Entry (r, c) with start[r] <= c <= r is a[base[r] + c]. */
    final int[] base;

    final double[] a;

    /** @param start first column of each row, at most the row itself; is kept, not copied */
    Skyline(int[] start) {
        n = start.length;
        this.start = start;
        base = new int[n];
        long at = 0;
        for (int r = 0; r < n; r++) {
            base[r] = (int) (at - start[r]);
            at += r - start[r] + 1;
        }
        if (at > Integer.MAX_VALUE - 8) throw new OutOfMemoryError("the shot is too long to be adjusted at once");
        a = new double[(int) at];
    }

    double get(int r, int c) {
        return c > r ? get(c, r) : c < start[r] ? 0 : a[base[r] + c];
    }

    void add(int r, int c, double v) {
        if (c > r) add(c, r, v);
        else a[base[r] + c] += v;
    }

    void add(Skyline o) {
        for (int i = 0; i < a.length; i++) a[i] += o.a[i];
    }

    Skyline copy() {
        Skyline s = new Skyline(start);
        System.arraycopy(a, 0, s.a, 0, a.length);
        return s;
    }

    /** Replaces the matrix by its lower triangular factor; false when it is not positive definite. */
    boolean factor() {
        for (int r = 0; r < n; r++) {
            int br = base[r], s = start[r];
            for (int c = s; c < r; c++) {
                int from = Math.max(s, start[c]), bc = base[c];
                a[br + c] = (a[br + c] - dot(br + from, bc + from, c - from)) / a[bc + c];
            }
            double d = a[br + r] - dot(br + s, br + s, r - s);
            if (!(d > 0) || Double.isInfinite(d)) return false;
            a[br + r] = Math.sqrt(d);
        }
        return true;
    }

    /** Four sums side by side: the processor need not wait for one addition before the next. */
    private double dot(int i, int j, int count) {
        double s0 = 0, s1 = 0, s2 = 0, s3 = 0;
        int k = 0;
        for (; k + 3 < count; k += 4) {
            s0 += a[i + k] * a[j + k];
            s1 += a[i + k + 1] * a[j + k + 1];
            s2 += a[i + k + 2] * a[j + k + 2];
            s3 += a[i + k + 3] * a[j + k + 3];
        }
        for (; k < count; k++) s0 += a[i + k] * a[j + k];
        return s0 + s1 + (s2 + s3);
    }

    /** Solves for a right side, in place, after {@link #factor}. */
    void solve(double[] b) {
        solve(b, 0);
    }

    /** @param zeros so many leading entries of the right side are known to be zero */
    void solve(double[] b, int zeros) {
        forward(b, zeros);
        for (int r = n - 1; r >= 0; r--) {
            double v = b[r] /= a[base[r] + r];
            for (int c = start[r], k = base[r] + c; c < r; c++, k++) b[c] -= a[k] * v;
        }
    }

    /** The first half of {@link #solve}: by the lower triangular factor alone. */
    void forward(double[] b, int zeros) {
        for (int r = zeros; r < n; r++) {
            double s = b[r];
            for (int c = Math.max(start[r], zeros); c < r; c++) s -= a[base[r] + c] * b[c];
            b[r] = s / a[base[r] + r];
        }
    }

    /** Columns of the inverse, after {@link #factor}. */
    double[][] inverseColumns(int[] columns) {
        double[][] out = new double[columns.length][];
        IntStream.range(0, columns.length).parallel().forEach(k -> {
            out[k] = new double[n];
            out[k][columns[k]] = 1;
            solve(out[k], columns[k]);
        });
        return out;
    }
}

package dasein.core.comp.match;

import dasein.core.NoSolution;
import dasein.core.image.Image;
import dasein.core.math.Medians;
import dasein.core.track.Track;
import java.util.Arrays;
import java.util.List;

/**
 * How the light of the plate changes from frame to frame, and towards its corners, from marks that are seen in many
 * frames and places: what is seen of a mark, in stops, is its own brightness and that of the frame and of the place in
 * the picture. They are told apart by medians in turn (Tukey 1977, median polish), for each darkness of the corners;
 * the one that leaves least is taken.
 *
 * @param first frame of {@code stops}, which are over the first one's; @param spread uncertainty of one of them
 * @param corner part of the light that corners lack; @param cornerOff its uncertainty
 * @param marks how many were of use; @param wander of a mark in the middle of all: by how much the square of its
 *     distance from the picture's middle changes, 1 at the corner
 */
record OverFrame(int first, double[] stops, double spread, double corner, double cornerOff, int marks, double wander) {
    private static final int ROUNDS = 4, MOST_MARKS = 200, MOST_FRAMES = 30, LEAST_MARKS = 12, SHORTEST = 5;
    private static final double MOST_CORNER = 0.8, FINE = 0.005;
    /** What is nearer to black or to white than this tells nothing, scene-linear. */
    private static final float DARK = 0.004f, WHITE = 0.92f;

    static OverFrame of(Taken t) {
        List<Track> tracks = t.tracks().stream()
                .filter(k -> k.length() >= SHORTEST)
                .sorted((a, b) -> b.length() - a.length())
                .limit(MOST_MARKS)
                .toList();
        if (tracks.size() < LEAST_MARKS)
            throw new NoSolution("there are too few marks to see how the plate's light changes: " + tracks.size() + ", "
                    + LEAST_MARKS + " are needed");
        int n = t.last() - t.first() + 1, step = Math.max(1, n / MOST_FRAMES), m = tracks.size();
        int rows = (n - 1) / step + 1;
        double[][] seen = new double[rows][m], radius = new double[rows][m];
        for (int r = 0; r < rows; r++) {
            Arrays.fill(seen[r], Double.NaN);
            int f = t.first() + r * step;
            Image im = t.plate().apply(f);
            double all = (double) im.width * im.width / 4 + (double) im.height * im.height / 4;
            for (int k = 0; k < m; k++) {
                int at = tracks.get(k).at(f);
                if (at < 0) continue;
                double x = tracks.get(k).x()[at], y = tracks.get(k).y()[at];
                double[] v = Around.of(im, x, y);
                if (v == null) continue;
                double luma = 0.2126 * v[0] + 0.7152 * v[1] + 0.0722 * v[2];
                if (luma < DARK || Math.max(v[0], Math.max(v[1], v[2])) > WHITE) continue;
                seen[r][k] = Math.log(luma) / Math.log(2);
                radius[r][k] = (Math.pow(x - im.width / 2.0, 2) + Math.pow(y - im.height / 2.0, 2)) / all;
            }
        }
        return of(t.first(), n, step, seen, radius);
    }

    /**
     * @param seen stops by row and mark, no number where it is not seen; @param radius square of the distance from the
     *     middle, 1 at the corner
     */
    static OverFrame of(int first, int n, int step, double[][] seen, double[][] radius) {
        double a = 0, b = MOST_CORNER, golden = (Math.sqrt(5) - 1) / 2;
        while (b - a > FINE / 4) {
            double p = b - golden * (b - a), q = a + golden * (b - a);
            if (polished(seen, radius, p).left < polished(seen, radius, q).left) b = q;
            else a = p;
        }
        double corner = (a + b) / 2;
        Polished best = polished(seen, radius, corner), flat = polished(seen, radius, 0);
        if (flat.left <= best.left) {
            corner = 0;
            best = flat;
        }
        // How much what is left grows with a darker corner tells how sure it is.
        double d = 0.1,
                worse = polished(seen, radius, Math.min(MOST_CORNER, corner + d)).left,
                bend = (worse * worse - best.left * best.left) / (d * d),
                off = bend > 0 ? best.left / Math.sqrt(bend * Math.max(1, best.count)) : 1;
        double[] stops = new double[n];
        for (int f = 0; f < n; f++) {
            int r = Math.min(best.frame.length - 1, f / step), s = Math.min(best.frame.length - 1, r + 1);
            double u = s == r ? 0 : (double) (f - r * step) / step;
            stops[f] = best.frame[r] + Math.min(1, u) * (best.frame[s] - best.frame[r]) - best.frame[0];
        }
        return new OverFrame(first, stops, best.spread, corner, off, best.marks, wander(seen, radius));
    }

    private static double wander(double[][] seen, double[][] radius) {
        double[] way = new double[seen[0].length];
        int c = 0;
        for (int k = 0; k < way.length; k++) {
            double least = Double.MAX_VALUE, most = 0;
            for (int f = 0; f < seen.length; f++) {
                if (Double.isNaN(seen[f][k])) continue;
                least = Math.min(least, radius[f][k]);
                most = Math.max(most, radius[f][k]);
            }
            if (most > 0) way[c++] = most - least;
        }
        return c == 0 ? 0 : Medians.sorting(way, c);
    }

    /** @param left robust spread of what is not explained; @param spread of one frame's value */
    private record Polished(double[] frame, double left, double spread, int marks, int count) {}

    private static Polished polished(double[][] seen, double[][] radius, double corner) {
        int n = seen.length, m = seen[0].length;
        double[] frame = new double[n], mark = new double[m], v = new double[Math.max(n, m)];
        double[][] s = new double[n][m];
        for (int f = 0; f < n; f++)
            for (int k = 0; k < m; k++) s[f][k] = seen[f][k] - Math.log(1 - corner * radius[f][k]) / Math.log(2);
        int[] times = new int[m];
        for (int round = 0; round < ROUNDS; round++) {
            for (int k = 0; k < m; k++) {
                int c = 0;
                for (int f = 0; f < n; f++) if (!Double.isNaN(s[f][k])) v[c++] = s[f][k] - frame[f];
                times[k] = c;
                mark[k] = Medians.sorting(v, c);
            }
            for (int f = 0; f < n; f++) {
                int c = 0;
                for (int k = 0; k < m; k++) if (!Double.isNaN(s[f][k]) && times[k] > 1) v[c++] = s[f][k] - mark[k];
                if (c > 0) frame[f] = Medians.sorting(v, c);
            }
        }
        double[] off = new double[n * m];
        int all = 0, marks = 0;
        for (int k = 0; k < m; k++) {
            if (times[k] < 2) continue;
            marks++;
            for (int f = 0; f < n; f++) if (!Double.isNaN(s[f][k])) off[all++] = Math.abs(s[f][k] - mark[k] - frame[f]);
        }
        if (marks < LEAST_MARKS)
            throw new NoSolution("too few marks are seen in more than one frame to tell how the plate's light changes");
        double left = 1.4826 * Medians.sorting(off, all);
        return new Polished(frame, left, left / Math.sqrt(Math.max(1.0, (double) all / n)), marks, all);
    }
}

package dasein.core.track;

import java.util.Arrays;
import java.util.List;

/** How the picture moves around a place, by the eight nearest marks that were just followed. */
final class Neighbours {
    private static final int NEAREST = 8;

    /** x, y, vx, vy of each. */
    private final double[][] marks;

    Neighbours(List<Mark> followed) {
        marks = followed.stream()
                .filter(m -> !m.lost && m.n > 1)
                .map(m -> new double[] {m.lastX() - m.vx, m.lastY() - m.vy, m.vx, m.vy})
                .toArray(double[][]::new);
    }

    /**
     * {median motion x, y, median distance from it} around a place of the frame before, or null when there are fewer
     * than eight others.
     */
    double[] motion(double px, double py) {
        double[][] near = new double[NEAREST][];
        double[] dist = new double[NEAREST];
        Arrays.fill(dist, Double.MAX_VALUE);
        for (double[] m : marks) {
            double dx = px - m[0], dy = py - m[1], d = dx * dx + dy * dy;
            // The mark itself is no neighbour.
            if (d >= dist[NEAREST - 1] || d < 1e-12) continue;
            int k = NEAREST - 1;
            while (k > 0 && dist[k - 1] > d) {
                dist[k] = dist[k - 1];
                near[k] = near[k - 1];
                k--;
            }
            dist[k] = d;
            near[k] = m;
        }
        if (near[NEAREST - 1] == null) return null;
        double mx = median(near, 2), my = median(near, 3);
        double[] off = new double[NEAREST];
        for (int k = 0; k < NEAREST; k++) off[k] = Math.hypot(near[k][2] - mx, near[k][3] - my);
        Arrays.sort(off);
        return new double[] {mx, my, off[NEAREST / 2]};
    }

    /** Median motion of all marks. */
    double[] overall() {
        return marks.length == 0 ? null : new double[] {median(marks, 2), median(marks, 3)};
    }

    private static double median(double[][] v, int k) {
        double[] s = new double[v.length];
        for (int i = 0; i < s.length; i++) s[i] = v[i][k];
        Arrays.sort(s);
        return 0.5 * (s[(s.length - 1) / 2] + s[s.length / 2]);
    }
}

package dasein.core.solve;

import dasein.core.image.Filters;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * The inner corners of a chessboard in a photograph. Saddles of the smoothed picture are candidates; from one of them
 * and two neighbours the lattice is grown by prediction; corners are then refined to where all edges around meet
 * (Foerstner and Guelch 1987).
 */
public final class Chessboard {
    private static final int RING = 5, REFINE = 5, SEEDS = 25;
    /** A candidate this far from where the lattice puts it is another one, in parts of the lattice's step. */
    private static final double ASTRAY = 0.3;

    private final float[] grey;
    private final int w, h;

    private Chessboard(float[] grey, int w, int h) {
        this.grey = grey;
        this.w = w;
        this.h = h;
    }

    /**
     * @param grey brightness codes, 0 to 255; @param columns inner corners along one side, {@code rows} along the other
     * @return columns x rows places in continuous pixels, row by row of the board, or null when the board was not found
     *     whole
     */
    public static double[][] find(float[] grey, int width, int height, int columns, int rows) {
        for (double sigma : new double[] {1.5, 2.5, 4}) {
            double[][] found = new Chessboard(Filters.gaussian(grey, width, height, 0.8), width, height)
                    .find(columns, rows, Filters.gaussian(grey, width, height, sigma));
            if (found != null) return found;
        }
        return null;
    }

    private double[][] find(int columns, int rows, float[] smooth) {
        List<double[]> all = candidates(smooth, 6 * columns * rows);
        if (all.size() < columns * rows) return null;
        double cx = all.stream().mapToDouble(c -> c[0]).average().orElse(0),
                cy = all.stream().mapToDouble(c -> c[1]).average().orElse(0);
        List<double[]> seeds = all.stream()
                .sorted(Comparator.comparingDouble(c -> Math.hypot(c[0] - cx, c[1] - cy)))
                .limit(SEEDS)
                .toList();
        for (double[] seed : seeds) {
            double[][] grid = grow(all, seed, columns, rows);
            if (grid == null) continue;
            for (int i = 0; i < grid.length; i++) grid[i] = refined(grid[i]);
            return grid;
        }
        return null;
    }

    /** Places where the picture is a saddle and four sectors around alternate, strongest first. */
    private List<double[]> candidates(float[] s, int most) {
        float[] strength = new float[w * h];
        for (int y = 2; y < h - 2; y++) {
            for (int x = 2; x < w - 2; x++) {
                int i = y * w + x;
                float xx = s[i - 1] - 2 * s[i] + s[i + 1],
                        yy = s[i - w] - 2 * s[i] + s[i + w],
                        xy = 0.25f * (s[i + w + 1] - s[i + w - 1] - s[i - w + 1] + s[i - w - 1]);
                strength[i] = Math.max(0, xy * xy - xx * yy);
            }
        }
        List<double[]> out = new ArrayList<>();
        int edge = RING + 3;
        for (int y = edge; y < h - edge; y++) {
            for (int x = edge; x < w - edge; x++) {
                int i = y * w + x;
                float v = strength[i];
                if (v < 1) continue;
                boolean top = true;
                for (int dy = -4; dy <= 4 && top; dy++)
                    for (int dx = -4; dx <= 4; dx++) if (strength[i + dy * w + dx] > v) top = false;
                if (top && alternates(x, y)) out.add(new double[] {x + 0.5, y + 0.5, v});
            }
        }
        out.sort(Comparator.comparingDouble(c -> -c[2]));
        return out.subList(0, Math.min(most, out.size()));
    }

    /** Around a corner of a chessboard brightness changes sides four times. */
    private boolean alternates(int x, int y) {
        int n = 32;
        double[] v = new double[n];
        double lo = 1e9, hi = -1e9;
        for (int k = 0; k < n; k++) {
            v[k] = grey[
                    (int) Math.round(y + RING * Math.sin(2 * Math.PI * k / n)) * w
                            + (int) Math.round(x + RING * Math.cos(2 * Math.PI * k / n))];
            lo = Math.min(lo, v[k]);
            hi = Math.max(hi, v[k]);
        }
        if (hi - lo < 20) return false;
        double mid = 0.5 * (lo + hi);
        int changes = 0;
        for (int k = 0; k < n; k++) if (v[k] > mid != v[(k + 1) % n] > mid) changes++;
        return changes == 4;
    }

    private record Cell(int i, int j) {}

    private static double[][] grow(List<double[]> all, double[] seed, int columns, int rows) {
        List<double[]> near = all.stream()
                .filter(c -> c != seed)
                .sorted(Comparator.comparingDouble(c -> distance(c, seed)))
                .limit(6)
                .toList();
        if (near.size() < 2) return null;
        double[] a = near.get(0), b = null;
        double ux = a[0] - seed[0], uy = a[1] - seed[1];
        for (double[] c : near) {
            double vx = c[0] - seed[0],
                    vy = c[1] - seed[1],
                    cross = Math.abs(ux * vy - uy * vx) / (Math.hypot(ux, uy) * Math.hypot(vx, vy));
            if (c != a && cross > 0.6 && distance(c, seed) < 2.5 * distance(a, seed)) {
                b = c;
                break;
            }
        }
        if (b == null) return null;
        Map<Cell, double[]> grid = new HashMap<>();
        Set<double[]> taken = new HashSet<>(List.of(seed, a, b));
        grid.put(new Cell(0, 0), seed);
        grid.put(new Cell(1, 0), a);
        grid.put(new Cell(0, 1), b);
        int most = Math.max(columns, rows);
        for (boolean grew = true; grew && grid.size() <= 4 * most * most; ) {
            grew = false;
            for (Cell c : List.copyOf(grid.keySet())) {
                for (int[] d : new int[][] {{1, 0}, {-1, 0}, {0, 1}, {0, -1}}) {
                    Cell next = new Cell(c.i + d[0], c.j + d[1]);
                    if (grid.containsKey(next)) continue;
                    double[] want = predicted(grid, next);
                    if (want == null) continue;
                    double[] best = null;
                    for (double[] q : all)
                        if (!taken.contains(q) && (best == null || distance(q, want) < distance(best, want))) best = q;
                    if (best == null || distance(best, want) > ASTRAY * want[2]) continue;
                    grid.put(next, best);
                    taken.add(best);
                    grew = true;
                }
            }
        }
        int i0 = grid.keySet().stream().mapToInt(Cell::i).min().orElse(0),
                i1 = grid.keySet().stream().mapToInt(Cell::i).max().orElse(0),
                j0 = grid.keySet().stream().mapToInt(Cell::j).min().orElse(0),
                j1 = grid.keySet().stream().mapToInt(Cell::j).max().orElse(0);
        // Beyond the board its rim may go on as more corners: of all whole pieces of the right size that with the
        // strongest weakest corner.
        double[][] best = null;
        double weakest = 0;
        for (boolean turned : columns == rows ? new boolean[] {false} : new boolean[] {false, true}) {
            int across = turned ? rows : columns, down = turned ? columns : rows;
            for (int i = i0; i + across - 1 <= i1; i++) {
                for (int j = j0; j + down - 1 <= j1; j++) {
                    double[][] piece = new double[columns * rows][];
                    double weak = Double.MAX_VALUE;
                    for (int r = 0; r < rows && weak > weakest; r++) {
                        for (int c = 0; c < columns && weak > weakest; c++) {
                            double[] q = grid.get(turned ? new Cell(i + r, j + c) : new Cell(i + c, j + r));
                            weak = q == null ? 0 : Math.min(weak, q[2]);
                            piece[r * columns + c] = q;
                        }
                    }
                    if (weak <= weakest) continue;
                    weakest = weak;
                    best = piece;
                }
            }
        }
        return best;
    }

    /** Where a cell must lie by its neighbours, and the lattice's step there; null when they do not tell. */
    private static double[] predicted(Map<Cell, double[]> g, Cell c) {
        double x = 0, y = 0, step = 0;
        int n = 0;
        for (int[] d : new int[][] {{1, 0}, {-1, 0}, {0, 1}, {0, -1}}) {
            double[] p = g.get(new Cell(c.i + d[0], c.j + d[1])), q = g.get(new Cell(c.i + 2 * d[0], c.j + 2 * d[1]));
            if (p != null && q != null) {
                x += 2 * p[0] - q[0];
                y += 2 * p[1] - q[1];
                step += distance(p, q);
                n++;
            }
            // The fourth corner of a parallelogram.
            for (int s = -1; s <= 1; s += 2) {
                int ex = s * d[1], ey = s * d[0];
                double[] r = g.get(new Cell(c.i + ex, c.j + ey)), o = g.get(new Cell(c.i + d[0] + ex, c.j + d[1] + ey));
                if (p == null || r == null || o == null) continue;
                x += p[0] + r[0] - o[0];
                y += p[1] + r[1] - o[1];
                step += 0.5 * (distance(p, o) + distance(r, o));
                n++;
            }
        }
        return n == 0 ? null : new double[] {x / n, y / n, step / n};
    }

    private static double distance(double[] a, double[] b) {
        return Math.hypot(a[0] - b[0], a[1] - b[1]);
    }

    /**
     * Where the edges around a place meet: least squares over gradients, which stand at right angles to the way from
     * the corner.
     */
    private double[] refined(double[] start) {
        double px = start[0] - 0.5, py = start[1] - 0.5;
        for (int step = 0; step < 15; step++) {
            double a = 0, b = 0, c = 0, d = 0, e = 0;
            for (int j = -REFINE; j <= REFINE; j++) {
                for (int i = -REFINE; i <= REFINE; i++) {
                    double x = px + i, y = py + j;
                    if (x < 2 || y < 2 || x > w - 4 || y > h - 4) continue;
                    double gx = 0.5 * (at(x + 1, y) - at(x - 1, y)),
                            gy = 0.5 * (at(x, y + 1) - at(x, y - 1)),
                            k = Math.exp(-(i * i + j * j) / (0.5 * REFINE * REFINE));
                    a += k * gx * gx;
                    b += k * gx * gy;
                    c += k * gy * gy;
                    d += k * (gx * gx * x + gx * gy * y);
                    e += k * (gx * gy * x + gy * gy * y);
                }
            }
            double det = a * c - b * b;
            if (Math.abs(det) < 1e-9) break;
            double x = (c * d - b * e) / det, y = (a * e - b * d) / det, moved = Math.hypot(x - px, y - py);
            if (Math.hypot(x + 0.5 - start[0], y + 0.5 - start[1]) > REFINE) break;
            px = x;
            py = y;
            if (moved < 0.002) break;
        }
        return new double[] {px + 0.5, py + 0.5};
    }

    private double at(double x, double y) {
        int x0 = (int) x, y0 = (int) y, i = y0 * w + x0;
        double u = x - x0, v = y - y0;
        return (1 - v) * ((1 - u) * grey[i] + u * grey[i + 1]) + v * ((1 - u) * grey[i + w] + u * grey[i + w + 1]);
    }
}

package dasein.core.light.chart;

import dasein.core.light.chart.Squares.Square;
import dasein.core.math.Projective;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Squares that stand in rows and columns.
 *
 * @param places column and row of each, from the first found as 0, 0
 * @param toPicture from column and row to the picture
 */
record Lattice(Map<List<Integer>, Square> places, Projective toPicture) {
    private static final int LEAST = 7;
    /** Middles of neighbours, in sides of a square that is a little smaller than its patch. */
    private static final double NEAREST = 1.03, FARTHEST = 2.1;

    /** The largest ones first. */
    static List<Lattice> of(List<Square> squares) {
        List<Lattice> out = new ArrayList<>();
        for (Square seed : squares) {
            if (out.stream().anyMatch(l -> l.places.size() >= 12 && l.places.containsValue(seed))) continue;
            Lattice l = grown(seed, squares);
            if (l != null) out.add(l);
        }
        out.sort(Comparator.comparingInt(l -> -l.places.size()));
        return out;
    }

    private record Node(Square s, int column, int row, double[] u, double[] v) {}

    private static Lattice grown(Square seed, List<Square> all) {
        double[] u = step(seed, 0, all), v = step(seed, 1, all);
        if (u == null || v == null) return null;
        Map<List<Integer>, Square> places = new HashMap<>();
        Deque<Node> open = new ArrayDeque<>();
        open.add(new Node(seed, 0, 0, u, v));
        places.put(List.of(0, 0), seed);
        while (!open.isEmpty()) {
            Node n = open.poll();
            int[][] ways = {{1, 0}, {-1, 0}, {0, 1}, {0, -1}};
            for (int[] w : ways) {
                List<Integer> place = List.of(n.column + w[0], n.row + w[1]);
                if (places.containsKey(place) || Math.abs(place.get(0)) > 8 || Math.abs(place.get(1)) > 8) continue;
                double px = n.s.x() + w[0] * n.u[0] + w[1] * n.v[0], py = n.s.y() + w[0] * n.u[1] + w[1] * n.v[1];
                Square s = nearest(px, py, 0.2 * Math.min(length(n.u), length(n.v)), n.s.area(), all);
                if (s == null || places.containsValue(s)) continue;
                places.put(place, s);
                double[] gone = {s.x() - n.s.x(), s.y() - n.s.y()};
                double[] nu = w[0] == 0 ? n.u : times(gone, w[0]), nv = w[1] == 0 ? n.v : times(gone, w[1]);
                open.add(new Node(s, place.get(0), place.get(1), nu, nv));
            }
        }
        return fitted(places);
    }

    /** Those that a plane seen by a camera explains. */
    private static Lattice fitted(Map<List<Integer>, Square> places) {
        while (places.size() >= LEAST) {
            Projective p = fit(places);
            if (p == null) return null;
            List<Integer> worst = null;
            double off = 0.12;
            for (Map.Entry<List<Integer>, Square> e : places.entrySet()) {
                double d = off(p, e.getKey(), e.getValue());
                if (d > off) {
                    off = d;
                    worst = e.getKey();
                }
            }
            if (worst == null) return new Lattice(places, p);
            places.remove(worst);
        }
        return null;
    }

    private static double off(Projective p, List<Integer> place, Square s) {
        double[] q = p.at(place.get(0), place.get(1));
        return Math.hypot(q[0] - s.x(), q[1] - s.y()) / Math.sqrt(s.area());
    }

    private static Projective fit(Map<List<Integer>, Square> places) {
        double[][] from = new double[places.size()][], to = new double[places.size()][];
        int n = 0;
        for (Map.Entry<List<Integer>, Square> e : places.entrySet()) {
            from[n] = new double[] {e.getKey().get(0), e.getKey().get(1)};
            to[n++] = new double[] {e.getValue().x(), e.getValue().y()};
        }
        return Projective.of(from, to);
    }

    /** To the neighbour along an axis of the square, as seen from it; null where there is none on either side. */
    private static double[] step(Square s, int axis, List<Square> all) {
        double[] e = s.axis(axis), f = s.axis(1 - axis), best = null;
        double det = e[0] * f[1] - e[1] * f[0], least = FARTHEST;
        if (Math.abs(det) < 1e-9) return null;
        for (Square o : all) {
            if (!alike(o.area(), s.area())) continue;
            double dx = o.x() - s.x(), dy = o.y() - s.y();
            double a = (dx * f[1] - dy * f[0]) / det, b = (e[0] * dy - e[1] * dx) / det;
            double d = Math.abs(a);
            if (d < NEAREST || d >= least || Math.abs(b) > 0.25) continue;
            least = d;
            best = new double[] {dx * Math.signum(a), dy * Math.signum(a)};
        }
        return best;
    }

    private static Square nearest(double x, double y, double within, double area, List<Square> all) {
        Square best = null;
        double least = within;
        for (Square o : all) {
            double d = Math.hypot(o.x() - x, o.y() - y);
            if (d >= least || !alike(o.area(), area)) continue;
            least = d;
            best = o;
        }
        return best;
    }

    private static boolean alike(double a, double b) {
        return a > 0.5 * b && a < 2 * b;
    }

    private static double length(double[] v) {
        return Math.hypot(v[0], v[1]);
    }

    private static double[] times(double[] v, int k) {
        return new double[] {v[0] * k, v[1] * k};
    }
}

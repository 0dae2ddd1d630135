package dasein.core.ground;

import dasein.core.BadInput;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** Lays a set piece around points: the smallest upright box, wall or floor that holds them. */
public final class PieceFit {
    private static final int ROUNDS = 30;
    /** How thick a wall may be, as a part of its width. */
    private static final double THICK = 0.02;

    private static final double LEAST = 0.02;
    /** Points within this part of its size lie on a side; and how far the first heading may be off, degrees. */
    private static final double NEAR = 0.15, TURN = 6;

    private PieceFit() {}

    /**
     * @param p gives kind, name, roles and what the points do not say; @param all in the set's frame, one or more; of a
     *     wall or a floor some may lie elsewhere
     */
    public static Piece around(Piece p, List<Vec3> all) {
        List<Vec3> points = p.kind() == Piece.Kind.WALL
                ? upright(all)
                : p.kind() == Piece.Kind.FLOOR || p.kind() == Piece.Kind.HOLE ? level(all) : all;
        double low = points.stream().mapToDouble(Vec3::y).min().orElse(0),
                high = points.stream().mapToDouble(Vec3::y).max().orElse(0);
        if (points.size() == 1)
            return p.at(points.get(0).x(), low, points.get(0).z());
        double best = Double.MAX_VALUE;
        double[] fit = null;
        // Quarter degrees are finer than points are known.
        for (int k = 0; k < 720; k++) {
            double t = Math.toRadians(k * 0.25), c = Math.cos(t), s = Math.sin(t);
            double[] r = {Double.MAX_VALUE, -Double.MAX_VALUE, Double.MAX_VALUE, -Double.MAX_VALUE};
            for (Vec3 q : points) {
                // Local x and z of a piece turned by t: x' = cos x - sin z, z' = sin x + cos z.
                double u = c * q.x() - s * q.z(), v = s * q.x() + c * q.z();
                r[0] = Math.min(r[0], u);
                r[1] = Math.max(r[1], u);
                r[2] = Math.min(r[2], v);
                r[3] = Math.max(r[3], v);
            }
            // A wall is thin, all others small.
            double cost = p.kind() == Piece.Kind.WALL ? r[3] - r[2] : (r[1] - r[0]) * (r[3] - r[2]);
            if (cost < best - 1e-9) {
                best = cost;
                fit = new double[] {k * 0.25, r[0], r[1], r[2], r[3]};
            }
        }
        double[] rough = fit;
        if (p.kind() != Piece.Kind.WALL && points.size() > 3) fit = settled(points, rough);
        double t = Math.toRadians(fit[0]),
                c = Math.cos(t),
                s = Math.sin(t),
                u = (fit[1] + fit[2]) / 2,
                v = (fit[3] + fit[4]) / 2;
        double[] level = ends(points.stream().mapToDouble(Vec3::y).toArray(), low, high);
        double width = Math.max(LEAST, fit[2] - fit[1]),
                depth = Math.max(LEAST, fit[4] - fit[3]),
                height = Math.max(LEAST, level[1] - level[0]);
        low = level[0];
        boolean lies = p.kind() == Piece.Kind.FLOOR || p.kind() == Piece.Kind.HOLE || p.kind() == Piece.Kind.POLYGON;
        double x = c * u + s * v,
                z = -s * u + c * v,
                y = lies ? points.stream().mapToDouble(Vec3::y).average().orElse(0) : low;
        if (p.kind() == Piece.Kind.CYLINDER || p.kind() == Piece.Kind.SPHERE) width = depth = Math.max(width, depth);
        List<Double> corners = p.corners();
        if (p.kind() == Piece.Kind.POLYGON) {
            corners = new ArrayList<>();
            for (Vec3 q : points) {
                double dx = q.x() - x, dz = q.z() - z;
                corners.add(c * dx - s * dz);
                corners.add(s * dx + c * dz);
            }
        }
        return p.at(new Piece.Stand(x, y, z, fit[0]))
                .shaped(new Piece.Size(width, p.kind() == Piece.Kind.FLOOR ? 0 : height, depth), corners);
    }

    /**
     * Those that lie on the upright plane which holds most of them: what was chosen through its gaps or past its end is
     * left out.
     */
    private static List<Vec3> upright(List<Vec3> all) {
        List<Vec3> best = List.of();
        double width = 0;
        for (Vec3 p : all)
            width = Math.max(
                    width, Math.hypot(p.x() - all.get(0).x(), p.z() - all.get(0).z()));
        double near = Math.max(0.03, THICK * width);
        for (int i = 0; i < all.size(); i++) {
            for (int j = i + 1; j < all.size(); j++) {
                double dx = all.get(j).x() - all.get(i).x(),
                        dz = all.get(j).z() - all.get(i).z(),
                        l = Math.hypot(dx, dz);
                if (l < 2 * near) continue;
                Vec3 a = all.get(i);
                List<Vec3> in = all.stream()
                        .filter(q -> Math.abs(((q.x() - a.x()) * dz - (q.z() - a.z()) * dx) / l) < near)
                        .toList();
                if (in.size() > best.size()) best = in;
            }
        }
        return best.size() < 2 ? all : best;
    }

    /** Those near the height of most. */
    private static List<Vec3> level(List<Vec3> all) {
        double[] y = all.stream().mapToDouble(Vec3::y).sorted().toArray(),
                off =
                        all.stream()
                                .mapToDouble(q -> Math.abs(q.y() - y[y.length / 2]))
                                .sorted()
                                .toArray();
        double near = Math.max(0.02, 4 * off[off.length / 2]);
        return all.stream()
                .filter(q -> Math.abs(q.y() - y[y.length / 2]) <= near)
                .toList();
    }

    /**
     * Moves and turns a piece, its size kept, until its edges run through points that lie on them (iterated closest
     * points, Besl and McKay 1992, about the upright only).
     */
    public static Piece settle(Piece p, List<Vec3> points) {
        if (p.kind() == Piece.Kind.TERRAIN || p.kind() == Piece.Kind.MODEL)
            throw new BadInput(p.name() + " has no edges to settle on");
        Piece now = p;
        for (int round = 0; round < ROUNDS; round++) {
            List<float[]> edges = Shape.of(now, null).edges();
            Vec3 from = Vec3.ZERO, to = Vec3.ZERO;
            List<Vec3> on = new ArrayList<>();
            for (Vec3 q : points) {
                Vec3 best = null;
                for (float[] e : edges) {
                    Vec3 a = new Vec3(e[0], e[1], e[2]), d = new Vec3(e[3] - e[0], e[4] - e[1], e[5] - e[2]);
                    Vec3 at = a.plus(d.times(Math.max(0, Math.min(1, q.minus(a).dot(d) / Math.max(1e-12, d.dot(d))))));
                    if (best == null || at.distance(q) < best.distance(q)) best = at;
                }
                on.add(best);
                from = from.plus(best.times(1.0 / points.size()));
                to = to.plus(q.times(1.0 / points.size()));
            }
            double sin = 0, cos = 0;
            for (int i = 0; i < on.size(); i++) {
                Vec3 a = on.get(i).minus(from), b = points.get(i).minus(to);
                cos += a.x() * b.x() + a.z() * b.z();
                sin += a.z() * b.x() - a.x() * b.z();
            }
            double turn = points.size() < 2 ? 0 : Math.atan2(sin, cos),
                    c = Math.cos(turn),
                    s = Math.sin(turn),
                    dx = now.x() - from.x(),
                    dz = now.z() - from.z();
            now = p.at(new Piece.Stand(
                    to.x() + c * dx + s * dz,
                    now.y() + to.y() - from.y(),
                    to.z() - s * dx + c * dz,
                    now.headingDeg() + Math.toDegrees(turn)));
        }
        return now;
    }

    /**
     * The same rectangle laid through the points near its sides, not around the outermost: what noise adds to those is
     * taken off again.
     */
    private static double[] settled(List<Vec3> points, double[] rough) {
        double best = Double.MAX_VALUE;
        double[] fit = rough;
        for (double turn = -TURN; turn <= TURN; turn += 0.05) {
            double t = Math.toRadians(rough[0] + turn), c = Math.cos(t), s = Math.sin(t);
            double[] u = points.stream().mapToDouble(q -> c * q.x() - s * q.z()).toArray(),
                    v = points.stream().mapToDouble(q -> s * q.x() + c * q.z()).toArray();
            double[]
                    across =
                            ends(
                                    u,
                                    Arrays.stream(u).min().orElse(0),
                                    Arrays.stream(u).max().orElse(0)),
                    along =
                            ends(
                                    v,
                                    Arrays.stream(v).min().orElse(0),
                                    Arrays.stream(v).max().orElse(0));
            double cost = across[2] + along[2];
            if (cost >= best) continue;
            best = cost;
            fit = new double[] {rough[0] + turn, across[0], across[1], along[0], along[1]};
        }
        return fit;
    }

    /** Means of those near either end, and the squares that are left about them. */
    private static double[] ends(double[] v, double low, double high) {
        double near = NEAR * (high - low), a = 0, b = 0, left = 0;
        int na = 0, nb = 0;
        for (double x : v) {
            if (x < low + near) {
                a += x;
                na++;
            } else if (x > high - near) {
                b += x;
                nb++;
            }
        }
        a /= Math.max(1, na);
        b = nb == 0 ? high : b / nb;
        for (double x : v) {
            if (x < low + near) left += (x - a) * (x - a);
            else if (x > high - near) left += (x - b) * (x - b);
        }
        return new double[] {a, b, left};
    }
}

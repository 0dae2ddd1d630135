package dasein.core.track;

import java.awt.BasicStroke;
import java.awt.geom.Area;
import java.awt.geom.Path2D;
import java.awt.geom.PathIterator;
import java.util.ArrayList;
import java.util.List;

/**
 * The outline of a brush's stroke, as points of a mask. Where a stroke closes on itself, what it encloses is within.
 */
public final class StrokeOutline {
    private static final int MOST = 200;
    private static final double FLAT = 0.25;

    private StrokeOutline() {}

    /** @param xy middle of the brush along its way, x and y in turn; @param radius of the brush */
    public static List<Double> of(List<Double> xy, double radius) {
        if (xy.size() < 2 || xy.size() % 2 != 0) return xy;
        Path2D way = new Path2D.Double();
        way.moveTo(xy.get(0), xy.get(1));
        for (int i = 2; i < xy.size(); i += 2) way.lineTo(xy.get(i), xy.get(i + 1));
        // A dot is a way of no length, which has no outline.
        if (xy.size() == 2) way.lineTo(xy.get(0) + 1e-3, xy.get(1));
        Area area = new Area(new BasicStroke((float) (2 * radius), BasicStroke.CAP_ROUND, BasicStroke.JOIN_ROUND)
                .createStrokedShape(way));
        List<List<double[]>> loops = new ArrayList<>();
        double[] v = new double[6];
        for (PathIterator it = area.getPathIterator(null, FLAT); !it.isDone(); it.next()) {
            int kind = it.currentSegment(v);
            if (kind == PathIterator.SEG_MOVETO) loops.add(new ArrayList<>());
            if (kind != PathIterator.SEG_CLOSE) loops.get(loops.size() - 1).add(new double[] {v[0], v[1]});
        }
        List<double[]> widest = List.of();
        double most = -1;
        for (List<double[]> l : loops)
            if (Math.abs(surface(l)) > most) {
                most = Math.abs(surface(l));
                widest = l;
            }
        return even(widest, radius);
    }

    private static double surface(List<double[]> l) {
        double a = 0;
        for (int i = 0; i < l.size(); i++) {
            double[] p = l.get(i), q = l.get((i + 1) % l.size());
            a += (p[0] * q[1] - q[0] * p[1]) / 2;
        }
        return a;
    }

    /** Points an even step apart, a third of the brush or more, so that a smooth curve through them keeps the shape. */
    private static List<Double> even(List<double[]> l, double radius) {
        double length = 0;
        for (int i = 0; i < l.size(); i++) length += far(l.get(i), l.get((i + 1) % l.size()));
        int n = (int) Math.max(8, Math.min(MOST, Math.ceil(length / Math.max(1, radius / 3))));
        double step = length / n, next = 0, done = 0;
        List<Double> out = new ArrayList<>();
        for (int i = 0; i < l.size() && out.size() < 2 * n; i++) {
            double[] p = l.get(i), q = l.get((i + 1) % l.size());
            double d = far(p, q);
            while (next < done + d && out.size() < 2 * n) {
                double t = (next - done) / d;
                out.add(p[0] + t * (q[0] - p[0]));
                out.add(p[1] + t * (q[1] - p[1]));
                next += step;
            }
            done += d;
        }
        return out;
    }

    private static double far(double[] p, double[] q) {
        return Math.hypot(p[0] - q[0], p[1] - q[1]);
    }
}

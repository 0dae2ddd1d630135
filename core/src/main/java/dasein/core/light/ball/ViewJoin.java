package dasein.core.light.ball;

import dasein.core.NoSolution;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.CommonOps_DDRM;

/**
 * How a second view of a ball is turned against the first: the turn for which both show the same from every direction
 * that both see well. Searched all round, then by Gauss-Newton on logarithms of light, in which another exposure is but
 * a number added.
 */
final class ViewJoin {
    private static final double LEAST = 0.45;
    /** Farther apart, radians, two spots are not the same sun; and how much of what is cut off must lie together. */
    private static final double NEAR_SUN = Math.toRadians(4), ONE_SPOT = 0.997;

    private ViewJoin() {}

    /** Logarithm of light by direction in a view's own frame, and how far it can be relied on. */
    private record Sight(Image log, float[] trust) {
        static Sight of(BallPhotos p, int width, double blur) {
            int w = width, h = width / 2;
            BallMap.Result m = BallMap.of(List.of(new BallMap.Turned(p, Quat.IDENTITY, 1)), new double[] {1, 1, 1}, w);
            float[] l = m.map().luminance(), trust = new float[w * h];
            float[] sorted = l.clone();
            java.util.Arrays.sort(sorted);
            float floor = Math.max(1e-6f, 0.1f * sorted[sorted.length / 2]);
            double[] at = new double[3];
            for (int y = 0; y < h; y++)
                for (int x = 0; x < w; x++) {
                    int i = y * w + x;
                    l[i] = (float) Math.log(Math.max(0, l[i]) + floor);
                    Vec3 d = Environment.fromUv((x + 0.5) / w, (y + 0.5) / h);
                    if (m.invented()[i] || !p.view().pixel(d, at)) continue;
                    double rim = Math.max(0, Math.min(1, (at[2] - 0.15) / 0.3));
                    trust[i] = (float) (rim * BallMap.apart(d, p.view().towardsCamera()));
                }
            return new Sight(new Image(w, h, Filters.gaussian(l, w, h, blur)), trust);
        }

        float log(Vec3 d) {
            return sample(log.planes[0], d);
        }

        float trust(Vec3 d) {
            return sample(trust, d);
        }

        private float sample(float[] p, Vec3 d) {
            int w = log.width, h = log.height;
            double[] uv = Environment.toUv(d);
            double fx = uv[0] * w - 0.5, fy = Math.max(0, Math.min(h - 1.001, uv[1] * h - 0.5));
            int x = (int) Math.floor(fx), y = (int) fy;
            float a = (float) (fx - x), b = (float) (fy - y);
            int xa = Math.floorMod(x, w), xb = Math.floorMod(x + 1, w);
            return (p[y * w + xa] * (1 - a) + p[y * w + xb] * a) * (1 - b)
                    + (p[(y + 1) * w + xa] * (1 - a) + p[(y + 1) * w + xb] * a) * b;
        }
    }

    /** Even directions over the sphere (Fibonacci's spiral). */
    private static List<Vec3> directions(int n) {
        List<Vec3> out = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            double y = 1 - (2.0 * i + 1) / n, r = Math.sqrt(1 - y * y), t = i * Math.PI * (3 - Math.sqrt(5));
            out.add(new Vec3(r * Math.cos(t), y, r * Math.sin(t)));
        }
        return out;
    }

    static BallMap.Turned turned(BallPhotos first, BallPhotos second) {
        Sight a = Sight.of(first, 96, 1.2), b = Sight.of(second, 96, 1.2);
        List<Vec3> few = directions(1200);
        Quat best = null;
        double most = -2;
        int[] tilts = {-12, -6, 0, 6, 12};
        for (int yaw = 0; yaw < 360; yaw += 4)
            for (int pitch : tilts)
                for (int roll : tilts) {
                    Quat q = Quat.axisAngle(Vec3.X, Math.toRadians(pitch))
                            .times(Quat.axisAngle(Vec3.Z, Math.toRadians(roll)))
                            .times(Quat.axisAngle(Vec3.Y, Math.toRadians(yaw)));
                    double c = alike(a, b, q, few);
                    if (c > most) {
                        most = c;
                        best = q;
                    }
                }
        double gain = 1;
        for (int width : new int[] {96, 192, 384}) {
            Sight fa = width == 96 ? a : Sight.of(first, width, 1), fb = width == 96 ? b : Sight.of(second, width, 1);
            List<Vec3> many = directions(width * 60);
            double[] found = new double[1];
            best = refine(fa, fb, best, many, found);
            gain = Math.exp(found[0]);
            most = alike(fa, fb, best, many);
        }
        if (most < LEAST)
            throw new NoSolution("the two views of the ball share too little to be joined: they agree by "
                    + Math.round(100 * most) + " %");
        return new BallMap.Turned(second, bySun(first, second, best), gain);
    }

    /**
     * What stands near is mirrored at another angle from another side of the ball; the sun is not. Where both cut it
     * off, it must lie in one place.
     */
    private static Quat bySun(BallPhotos first, BallPhotos second, Quat q) {
        Vec3 a = cutOff(first), b = cutOff(second);
        if (a == null || b == null) return q;
        Vec3 there = q.rotate(a);
        double off = Math.acos(Math.max(-1, Math.min(1, there.dot(b))));
        return off > NEAR_SUN ? q : Quat.between(there, b).times(q).unit();
    }

    /** Middle of what is cut off in every photograph, in the view's frame; null unless that is one small spot. */
    private static Vec3 cutOff(BallPhotos p) {
        double[] at = new double[3];
        Vec3 sum = Vec3.ZERO;
        double total = 0;
        for (int i = 0; i < p.clipped().length; i++) {
            if (!p.clipped()[i]) continue;
            Vec3 d = p.view().direction(p.left() + i % p.light().width + 0.5, p.top() + i / p.light().width + 0.5);
            if (d == null || !p.view().pixel(d, at) || at[2] < p.leastCos()) continue;
            double solid = Math.pow(p.view().pixelAngle(at[2]), 2);
            sum = sum.plus(d.times(solid));
            total += solid;
        }
        return total > 0 && sum.length() > ONE_SPOT * total ? sum.unit() : null;
    }

    /** Correlation of what both show, weighed by trust in both; -2 when they share next to nothing. */
    private static double alike(Sight a, Sight b, Quat q, List<Vec3> directions) {
        double n = 0, sa = 0, sb = 0, saa = 0, sbb = 0, sab = 0;
        for (Vec3 d : directions) {
            float ta = a.trust(d);
            if (ta <= 0) continue;
            Vec3 e = q.rotate(d);
            double t = ta * b.trust(e);
            if (t <= 0) continue;
            double u = a.log(d), v = b.log(e);
            n += t;
            sa += t * u;
            sb += t * v;
            saa += t * u * u;
            sbb += t * v * v;
            sab += t * u * v;
        }
        if (n < 0.08 * directions.size()) return -2;
        double va = saa - sa * sa / n, vb = sbb - sb * sb / n;
        return va > 0 && vb > 0 ? (sab - sa * sb / n) / Math.sqrt(va * vb) : -2;
    }

    /** @param level the logarithm by which the first is brighter is put there */
    private static Quat refine(Sight a, Sight b, Quat q, List<Vec3> directions, double[] level) {
        double h = Math.PI / a.log.width;
        Vec3[] axes = {Vec3.X, Vec3.Y, Vec3.Z};
        for (int step = 0; step < 20; step++) {
            DMatrixRMaj m = new DMatrixRMaj(4, 4), g = new DMatrixRMaj(4, 1), x = new DMatrixRMaj(4, 1);
            Quat[] plus = new Quat[3], minus = new Quat[3];
            for (int k = 0; k < 3; k++) {
                plus[k] = Quat.axisAngle(axes[k], h).times(q);
                minus[k] = Quat.axisAngle(axes[k], -h).times(q);
            }
            double[] j = {0, 0, 0, 1};
            for (Vec3 d : directions) {
                double t = a.trust(d);
                if (t <= 0) continue;
                Vec3 e = q.rotate(d);
                t *= b.trust(e);
                if (t <= 0) continue;
                double off = a.log(d) - b.log(e) - level[0];
                // Who moved, and what is cut off in one, must not pull.
                double w = t / Math.pow(1 + off * off / 0.09, 2);
                for (int k = 0; k < 3; k++) j[k] = (b.log(plus[k].rotate(d)) - b.log(minus[k].rotate(d))) / (2 * h);
                for (int r = 0; r < 4; r++) {
                    g.add(r, 0, w * j[r] * off);
                    for (int c = 0; c < 4; c++) m.add(r, c, w * j[r] * j[c]);
                }
            }
            for (int r = 0; r < 4; r++) m.add(r, r, 1e-9 + 1e-6 * m.get(r, r));
            if (!CommonOps_DDRM.solve(m, g, x)) return q;
            Vec3 turn = new Vec3(x.get(0, 0), x.get(1, 0), x.get(2, 0));
            double angle = Math.min(turn.length(), 0.1);
            if (angle > 0) q = Quat.axisAngle(turn.unit(), angle).times(q);
            level[0] += x.get(3, 0);
            if (angle < 1e-5) break;
        }
        return q;
    }
}

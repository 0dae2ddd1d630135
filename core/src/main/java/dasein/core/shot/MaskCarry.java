package dasein.core.shot;

import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Projective;
import dasein.core.math.Vec3;
import dasein.core.track.DrawnMask;
import java.util.TreeMap;
import java.util.function.IntFunction;

/**
 * How a mask that was drawn in one frame moves in the picture when it is a part of the solved set: as if painted on a
 * flat surface there. That surface is the ground; or stands upright on it, facing the camera, where the mask is lowest;
 * or faces the camera through what carries it.
 */
public final class MaskCarry {
    /** Places along each side of the mask's box that are taken along. */
    private static final int SIDE = 5;
    /** A surface seen flatter than this cannot be told from its edge. */
    private static final double GRAZING = 0.01;

    private MaskCarry() {}

    /**
     * @param views the camera in the set, in pixels of the plate; null for frames that are not solved
     * @param carrier pose in the set of what carries it, null where it is not known; of the ground and what stands on
     *     it it is at rest
     * @return maps from the drawn frame's pixels to another's, 3x3 row-major; without frames in which it is behind the
     *     camera; empty when it could not be laid on its surface where it was drawn
     */
    public static TreeMap<Integer, double[]> way(
            DrawnMask m, IntFunction<View> views, IntFunction<Pose> carrier, int first, int last) {
        TreeMap<Integer, double[]> out = new TreeMap<>();
        int drawn = m.keys().get(0).frame();
        View from = views.apply(drawn);
        Pose with = carrier.apply(drawn);
        if (from == null || with == null) return out;
        double[][] places = places(m.at(drawn));
        Vec3[] on = laid(m, places, from, with);
        if (on == null) return out;
        for (int f = first; f <= last; f++) {
            View v = views.apply(f);
            Pose p = carrier.apply(f);
            if (v == null || p == null) continue;
            double[][] to = new double[places.length][];
            boolean seen = true;
            for (int i = 0; i < to.length && seen; i++) {
                to[i] = v.project(p.toWorld(on[i]));
                seen = to[i] != null;
            }
            Projective h = seen ? Projective.of(places, to) : null;
            if (h == null) continue;
            double[] scaled = h.h().clone();
            for (int i = 0; i < 9; i++) scaled[i] /= h.h()[8];
            out.put(f, scaled);
        }
        return out;
    }

    private static double[][] places(double[] p) {
        double left = p[0], right = p[0], top = p[1], bottom = p[1];
        for (int i = 0; i < p.length; i += 2) {
            left = Math.min(left, p[i]);
            right = Math.max(right, p[i]);
            top = Math.min(top, p[i + 1]);
            bottom = Math.max(bottom, p[i + 1]);
        }
        double[][] out = new double[SIDE * SIDE][];
        for (int j = 0; j < SIDE; j++)
            for (int i = 0; i < SIDE; i++)
                out[j * SIDE + i] =
                        new double[] {left + (right - left) * i / (SIDE - 1), top + (bottom - top) * j / (SIDE - 1)};
        return out;
    }

    /** Where those places lie on the mask's surface, as what carries it sees them; null where they do not meet it. */
    private static Vec3[] laid(DrawnMask m, double[][] places, View v, Pose with) {
        Pose eye = v.at(0.5);
        Vec3 on, normal;
        if (m.carry() == DrawnMask.Carry.GROUND) {
            on = Vec3.ZERO;
            normal = Vec3.Y;
        } else {
            Vec3 to;
            if (m.carry() == DrawnMask.Carry.STANDING) {
                on = met(eye, v, lowest(m.at(m.keys().get(0).frame())), Vec3.ZERO, Vec3.Y);
                if (on == null) return null;
                to = eye.position().minus(on);
                to = new Vec3(to.x(), 0, to.z());
            } else {
                on = with.position();
                to = eye.position().minus(on);
            }
            if (!(to.length() > 1e-9)) return null;
            normal = to.unit();
        }
        Vec3[] out = new Vec3[places.length];
        for (int i = 0; i < out.length; i++) {
            Vec3 at = met(eye, v, places[i], on, normal);
            if (at == null) return null;
            out[i] = with.toLocal(at);
        }
        return out;
    }

    private static double[] lowest(double[] p) {
        int low = 0;
        for (int i = 2; i < p.length; i += 2) if (p[i + 1] > p[low + 1]) low = i;
        return new double[] {p[low], p[low + 1]};
    }

    private static Vec3 met(Pose eye, View v, double[] pixel, Vec3 on, Vec3 normal) {
        Vec3 d = eye.rotation().rotate(v.lens().ray(pixel[0], pixel[1])).unit();
        double down = d.dot(normal), t = on.minus(eye.position()).dot(normal) / down;
        return Math.abs(down) < GRAZING || !(t > 0) ? null : eye.position().plus(d.times(t));
    }
}

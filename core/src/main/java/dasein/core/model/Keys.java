package dasein.core.model;

import dasein.core.math.Quat;

/**
 * Values between keys, by the formulas of glTF 2.0 appendix C: step, linear (rotations along the great arc), cubic
 * spline.
 */
final class Keys {
    private Keys() {}

    static float[] at(Model.Channel c, float t) {
        float[] times = c.times();
        int n = times.length, w = c.width(), last = n - 1;
        boolean cubic = c.interpolation() == Model.Interpolation.CUBIC;
        if (t <= times[0]) return value(c, 0, cubic);
        if (t >= times[last]) return value(c, last, cubic);
        int k = java.util.Arrays.binarySearch(times, t);
        if (k < 0) k = -k - 2;
        if (c.interpolation() == Model.Interpolation.STEP) return value(c, k, false);
        float span = times[k + 1] - times[k], u = (t - times[k]) / span;
        float[] a = value(c, k, cubic), b = value(c, k + 1, cubic);
        if (!cubic) {
            if (c.property() == Model.Property.ROTATION) {
                Quat q = new Quat(a[0], a[1], a[2], a[3]).slerp(new Quat(b[0], b[1], b[2], b[3]), u);
                return new float[] {(float) q.x(), (float) q.y(), (float) q.z(), (float) q.w()};
            }
            float[] out = new float[w];
            for (int i = 0; i < w; i++) out[i] = a[i] + u * (b[i] - a[i]);
            return out;
        }
        float u2 = u * u, u3 = u2 * u;
        float[] out = new float[w];
        for (int i = 0; i < w; i++) {
            float outTangent = c.values()[(3 * k + 2) * w + i], inTangent = c.values()[3 * (k + 1) * w + i];
            out[i] = (2 * u3 - 3 * u2 + 1) * a[i]
                    + span * (u3 - 2 * u2 + u) * outTangent
                    + (-2 * u3 + 3 * u2) * b[i]
                    + span * (u3 - u2) * inTangent;
        }
        return out;
    }

    private static float[] value(Model.Channel c, int k, boolean cubic) {
        int w = c.width(), at = cubic ? (3 * k + 1) * w : k * w;
        return java.util.Arrays.copyOfRange(c.values(), at, at + w);
    }
}

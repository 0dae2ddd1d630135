package dasein.core.math;

/**
 * Angles in single precision, several times as fast as {@link Math}'s and right to some 1e-6: polynomials of Abramowitz
 * and Stegun 4.4.49 and 4.4.46.
 */
public final class Angles {
    private static final float HALF = (float) (Math.PI / 2), PI = (float) Math.PI;

    private Angles() {}

    /** As {@link Math#atan2}; 0 where both are. */
    public static float atan2(float y, float x) {
        float ax = Math.abs(x), ay = Math.abs(y), most = Math.max(ax, ay);
        if (most == 0) return 0;
        float t = Math.min(ax, ay) / most, s = t * t;
        float p = -0.0161657367f + s * 0.0028662257f;
        p = 0.0429096138f + s * p;
        p = -0.0752896400f + s * p;
        p = 0.1065626393f + s * p;
        p = -0.1420889944f + s * p;
        p = 0.1999355085f + s * p;
        p = -0.3333314528f + s * p;
        float a = t * (1 + s * p);
        if (ay > ax) a = HALF - a;
        if (x < 0) a = PI - a;
        return y < 0 ? -a : a;
    }

    /** As {@link Math#acos} of what lies between -1 and 1; what lies beyond counts as that. */
    public static float acos(float x) {
        float a = Math.min(1, Math.abs(x));
        float p = 0.0066700901f - a * 0.0012624911f;
        p = -0.0170881256f + a * p;
        p = 0.0308918810f + a * p;
        p = -0.0501743046f + a * p;
        p = 0.0889789874f + a * p;
        p = -0.2145988016f + a * p;
        p = 1.5707963050f + a * p;
        float r = (float) Math.sqrt(1 - a) * p;
        return x < 0 ? PI - r : r;
    }
}

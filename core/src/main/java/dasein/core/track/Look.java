package dasein.core.track;

/**
 * What a mark looks like: the template of an inverse-compositional alignment with all that does not change from step to
 * step. Values have their mean taken out; {@code gx, gy} are central differences.
 */
final class Look {
    /** Parameters of the affine warp: {tx, ty, a-1, b, c, d-1}. */
    private static final int P = 6;

    final int r;
    final float[] t;
    final float[] gx;
    final float[] gy;
    float mean;
    /** Sum of squares of {@code t}. */
    float energy;

    float sumX, sumY, dotX, dotY;
    double sxx, sxy, syy;
    /** Sums of the steepest-descent images, and of their products with the template. */
    final double[] sum = new double[P];

    final double[] dot = new double[P];
    /** Inverse Hessian of the affine warp; null when it has none. */
    double[] inverse;

    Look(int r) {
        this.r = r;
        int n = (2 * r + 1) * (2 * r + 1);
        t = new float[n];
        gx = new float[n];
        gy = new float[n];
    }

    /** From values with a border of one pixel, (2 r + 3)^2. */
    void set(float[] big) {
        int n = 2 * r + 1, m = n + 2;
        float s = 0;
        for (int j = 0; j < n; j++) {
            for (int i = 0, q = (j + 1) * m + 1, o = j * n; i < n; i++, q++, o++) {
                t[o] = big[q];
                s += big[q];
                gx[o] = 0.5f * (big[q + 1] - big[q - 1]);
                gy[o] = 0.5f * (big[q + m] - big[q - m]);
            }
        }
        mean = s / t.length;
        float e = 0, sx = 0, sy = 0, dx = 0, dy = 0, xx = 0, xy = 0, yy = 0;
        for (int i = 0; i < t.length; i++) {
            float v = t[i] - mean, a = gx[i], b = gy[i];
            t[i] = v;
            e += v * v;
            sx += a;
            sy += b;
            dx += v * a;
            dy += v * b;
            xx += a * a;
            xy += a * b;
            yy += b * b;
        }
        energy = e;
        sumX = sx;
        sumY = sy;
        dotX = dx;
        dotY = dy;
        sxx = xx;
        sxy = xy;
        syy = yy;
    }

    /** Makes ready for the affine warp. */
    void prepareAffine() {
        java.util.Arrays.fill(sum, 0);
        java.util.Arrays.fill(dot, 0);
        double[] hess = new double[P * P], j = new double[P];
        int n = 2 * r + 1;
        for (int i = 0; i < t.length; i++) {
            double u = i % n - r, w = i / n - r;
            j[0] = gx[i];
            j[1] = gy[i];
            j[2] = gx[i] * u;
            j[3] = gx[i] * w;
            j[4] = gy[i] * u;
            j[5] = gy[i] * w;
            for (int a = 0; a < P; a++) {
                sum[a] += j[a];
                dot[a] += j[a] * t[i];
                for (int b = a; b < P; b++) hess[a * P + b] += j[a] * j[b];
            }
        }
        for (int a = 0; a < P; a++) {
            for (int b = 0; b < a; b++) hess[a * P + b] = hess[b * P + a];
            // A region with an edge in one direction only must not shear freely.
            hess[a * P + a] *= a < 2 ? 1 : 1.02;
        }
        double[] inv = new double[P * P];
        inverse = Spd6.invert(hess, inv) ? inv : null;
    }

    /** Standard deviation of the values. */
    double contrast() {
        return Math.sqrt(energy / t.length);
    }
}

package dasein.core.image;

import java.util.Arrays;
import org.ejml.simple.SimpleMatrix;

/**
 * Colour primaries of linear light, and the way to and from Rec. 709 with D65, in which everything is computed.
 * Matrices follow from the chromaticities (SMPTE RP 177) with Bradford adaptation of the white point (ICC.1:2010, Annex
 * E).
 */
public enum Primaries {
    REC709(0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290),
    /** ITU-R BT.2020. */
    REC2020(0.708, 0.292, 0.170, 0.797, 0.131, 0.046, 0.3127, 0.3290),
    /** SMPTE ST 2065-1. */
    AP0(0.7347, 0.2653, 0, 1, 0.0001, -0.077, 0.32168, 0.33767),
    /** Academy S-2014-004. */
    AP1(0.713, 0.293, 0.165, 0.830, 0.128, 0.044, 0.32168, 0.33767);

    private static final SimpleMatrix BRADFORD = new SimpleMatrix(
            new double[][] {{0.8951, 0.2664, -0.1614}, {-0.7502, 1.7135, 0.0367}, {0.0389, -0.0685, 1.0296}});

    private final double[] xy;
    /** Row-major 3x3. */
    private float[] toRec709;

    private float[] fromRec709;

    Primaries(double... xy) {
        this.xy = xy;
    }

    private SimpleMatrix toXyz() {
        SimpleMatrix p = new SimpleMatrix(3, 3);
        for (int c = 0; c < 3; c++) {
            double[] v = xyz(xy[2 * c], xy[2 * c + 1]);
            for (int r = 0; r < 3; r++) p.set(r, c, v[r]);
        }
        SimpleMatrix white = new SimpleMatrix(3, 1, true, xyz(xy[6], xy[7])), s = p.solve(white);
        return p.mult(SimpleMatrix.diag(s.get(0), s.get(1), s.get(2)));
    }

    private static double[] xyz(double x, double y) {
        return new double[] {x / y, 1, (1 - x - y) / y};
    }

    private SimpleMatrix matrix() {
        return REC709.toXyz()
                .invert()
                .mult(adaptation(xyz(xy[6], xy[7]), xyz(REC709.xy[6], REC709.xy[7])))
                .mult(toXyz());
    }

    /** Bradford's way of XYZ from one white point to another; both with Y = 1. */
    public static SimpleMatrix adaptation(double[] fromWhite, double[] toWhite) {
        SimpleMatrix from = BRADFORD.mult(new SimpleMatrix(3, 1, true, fromWhite)),
                to = BRADFORD.mult(new SimpleMatrix(3, 1, true, toWhite));
        return BRADFORD.invert()
                .mult(SimpleMatrix.diag(to.get(0) / from.get(0), to.get(1) / from.get(1), to.get(2) / from.get(2)))
                .mult(BRADFORD);
    }

    /** Linear Rec. 709 of XYZ under D65; below zero where it lies outside. */
    public static double[] rec709(double x, double y, double z) {
        double[] m = FromXyz.MATRIX;
        return new double[] {
            m[0] * x + m[1] * y + m[2] * z, m[3] * x + m[4] * y + m[5] * z, m[6] * x + m[7] * y + m[8] * z
        };
    }

    /** Worked out when it is first asked for: an enum's own constants come before its statics. */
    private static final class FromXyz {
        static final double[] MATRIX = REC709.toXyz().invert().getDDRM().getData();
    }

    private synchronized float[] to() {
        if (toRec709 == null) {
            SimpleMatrix m = matrix();
            toRec709 = flat(m);
            fromRec709 = flat(m.invert());
        }
        return toRec709;
    }

    private static float[] flat(SimpleMatrix m) {
        float[] f = new float[9];
        for (int i = 0; i < 9; i++) f[i] = (float) m.get(i / 3, i % 3);
        return f;
    }

    /** Row-major matrix from these primaries to Rec. 709. */
    public float[] toRec709() {
        return Arrays.copyOf(to(), 9);
    }

    /** Turns light of these primaries into Rec. 709, in place. */
    public Image intoRec709(Image im) {
        return this == REC709 ? im : apply(im, to());
    }

    /** A Rec. 709 picture in these primaries; the same one when they are Rec. 709's. */
    public Image outOfRec709(Image im) {
        if (this == REC709) return im;
        to();
        return apply(im.copy(), fromRec709);
    }

    private static Image apply(Image im, float[] m) {
        float[] r = im.planes[0], g = im.planes[1], b = im.planes[2];
        Image.rows(im.height, y -> {
            for (int i = y * im.width, e = i + im.width; i < e; i++) {
                float u = r[i], v = g[i], w = b[i];
                r[i] = m[0] * u + m[1] * v + m[2] * w;
                g[i] = m[3] * u + m[4] * v + m[5] * w;
                b[i] = m[6] * u + m[7] * v + m[8] * w;
            }
        });
        return im;
    }
}

package dasein.core.light.lamp;

import dasein.core.image.Primaries;

/**
 * Colour of a body that glows: chromaticity on the Planckian locus by the cubics of Kim and others (US patent 7024034,
 * 2006; from memory), 1667 to 25000 kelvin, as linear Rec. 709 of mean 1.
 */
public final class Kelvin {
    public static final double LEAST = 1667, MOST = 25_000;

    private Kelvin() {}

    static double[] xy(double t) {
        double k = 1000 / t, x;
        if (t <= 4000) x = ((-0.2661239 * k - 0.2343589) * k + 0.8776956) * k + 0.179910;
        else x = ((-3.0258469 * k + 2.1070379) * k + 0.2226347) * k + 0.240390;
        double y;
        if (t <= 2222) y = ((-1.1063814 * x - 1.34811020) * x + 2.18555832) * x - 0.20219683;
        else if (t <= 4000) y = ((-0.9549476 * x - 1.37418593) * x + 2.09137015) * x - 0.16748867;
        else y = ((3.0817580 * x - 5.87338670) * x + 3.75112997) * x - 0.37001483;
        return new double[] {x, y};
    }

    /** Held within the range that is known. */
    public static double[] colour(double kelvin) {
        double[] q = xy(Math.max(LEAST, Math.min(MOST, kelvin)));
        double x = q[0] / q[1], z = (1 - q[0] - q[1]) / q[1];
        double[] c = Primaries.rec709(x, 1, z);
        for (int i = 0; i < 3; i++) c[i] = Math.max(0, c[i]);
        double mean = (c[0] + c[1] + c[2]) / 3;
        for (int i = 0; i < 3; i++) c[i] /= mean;
        return c;
    }
}

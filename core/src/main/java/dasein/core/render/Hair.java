package dasein.core.render;

/**
 * Light on a strand of hair: thrown back by its surface, through it, thrown back within once, and more often (Chiang,
 * Bitterli, Tappan and Burley 2016, after Marschner et al. 2003 and d'Eon et al. 2011). Directions are local, x along
 * the strand from root to tip. Set by {@link #at}; {@link #f} is the BSDF times the cosine. Mutable and reused.
 */
final class Hair {
    private static final int ONCE_MORE = 3;
    private static final float INDEX = 1.55f;
    /** Scales stand off by this angle. */
    private static final double TILT = Math.toRadians(2);

    private static final float[] SIN = new float[3], COS = new float[3];

    static {
        SIN[0] = (float) Math.sin(TILT);
        COS[0] = (float) Math.cos(TILT);
        for (int k = 1; k < 3; k++) {
            SIN[k] = 2 * SIN[k - 1] * COS[k - 1];
            COS[k] = COS[k - 1] * COS[k - 1] - SIN[k - 1] * SIN[k - 1];
        }
    }

    final float[] f = new float[3], fInner = new float[3];
    float pdf;
    /** The last direction drawn. */
    float x, y, z;

    private final float[] wide = new float[ONCE_MORE + 1], chance = new float[ONCE_MORE + 1];
    private final float[] share = new float[3 * (ONCE_MORE + 1)];
    private float spread, sinO, cosO, phiO, gammaO, gammaT;

    /**
     * @param x, y, z towards the viewer; @param h where across the strand, -1 to 1: the sine of the angle, round the
     *     strand, from the surface's normal to the viewer; @param roughness 0 to 1; @param colour that many strands
     *     together have
     */
    void at(float x, float y, float z, float h, float roughness, float[] colour) {
        float r = Math.max(0.05f, Math.min(1, roughness)), r2 = r * r;
        float v = 0.726f * r + 0.812f * r2 + 3.7f * (float) Math.pow(r, 20);
        wide[0] = v * v;
        wide[1] = 0.25f * wide[0];
        wide[2] = wide[3] = 4 * wide[0];
        spread = (float) (Math.sqrt(Math.PI / 8) * (0.265 * r + 1.194 * r2 + 5.372 * Math.pow(r, 22)));
        h = Math.max(-0.999f, Math.min(0.999f, h));
        sinO = Math.max(-1, Math.min(1, x));
        cosO = root(1 - sinO * sinO);
        phiO = (float) Math.atan2(z, y);
        gammaO = (float) Math.asin(h);
        float sinT = sinO / INDEX,
                cosT = root(1 - sinT * sinT),
                bent = root(INDEX * INDEX - sinO * sinO) / Math.max(1e-4f, cosO),
                sinG = h / bent,
                cosG = root(1 - sinG * sinG);
        gammaT = (float) Math.asin(sinG);
        float back = Surface.thrownBack(Math.min(1, cosO * root(1 - h * h)), 1 / INDEX), sum = 0;
        // By the roughness round the strand; the fit is Chiang's.
        double fit = 5.969 - 0.215 * r + 2.532 * r2 - 10.73 * r2 * r + 5.574 * r2 * r2 + 0.245 * r2 * r2 * r;
        for (int c = 0; c < 3; c++) {
            double swallows = Math.log(Math.max(1e-3, Math.min(0.999, colour[c]))) / fit;
            float left = (float) Math.exp(-swallows * swallows * 2 * cosG / cosT);
            share[c] = back;
            share[3 + c] = (1 - back) * (1 - back) * left;
            share[6 + c] = share[3 + c] * left * back;
            share[9 + c] = share[6 + c] * back * left / (1 - left * back);
        }
        for (int p = 0; p <= ONCE_MORE; p++) sum += chance[p] = luminance(p);
        for (int p = 0; p <= ONCE_MORE; p++) chance[p] /= sum;
    }

    private float luminance(int p) {
        return Film.luminance(share[3 * p], share[3 * p + 1], share[3 * p + 2]);
    }

    /** Sets {@link #f}, of that what has been within, and {@link #pdf} for light from direction x, y, z. */
    void evaluate(float x, float y, float z) {
        float sin = Math.max(-1, Math.min(1, x)), cos = root(1 - sin * sin), phi = (float) Math.atan2(z, y) - phiO;
        f[0] = f[1] = f[2] = fInner[0] = fInner[1] = fInner[2] = pdf = 0;
        for (int p = 0; p <= ONCE_MORE; p++) {
            float k = along(sin, cos, tiltedSin(p), Math.abs(tiltedCos(p)), wide[p])
                    * (p < ONCE_MORE ? around(phi, p) : (float) (1 / (2 * Math.PI)));
            pdf += chance[p] * k;
            for (int c = 0; c < 3; c++) {
                f[c] += share[3 * p + c] * k;
                if (p > 0) fInner[c] += share[3 * p + c] * k;
            }
        }
    }

    /** Draws a direction into x, y, z and evaluates it. */
    void sample(float u, float v, float choice) {
        int p = 0;
        while (p < ONCE_MORE && choice >= chance[p]) choice -= chance[p++];
        choice = Math.max(0, Math.min(0.9999f, choice / Math.max(1e-9f, chance[p])));
        float m = wide[p], sinP = tiltedSin(p), cosP = Math.abs(tiltedCos(p)), e = Math.max(u, 1e-5f);
        float cos = 1 + m * (float) Math.log(e + (1 - e) * Math.exp(-2 / m)), sin = root(1 - cos * cos);
        float s = -cos * sinP + sin * (float) Math.cos(2 * Math.PI * v) * cosP, flat = root(1 - s * s);
        double phi = phiO + (p < ONCE_MORE ? exit(p) + drawn(choice) : 2 * Math.PI * choice);
        x = s;
        y = flat * (float) Math.cos(phi);
        z = flat * (float) Math.sin(phi);
        evaluate(x, y, z);
    }

    /**
     * Scales lie like tiles, their edges towards the tip: what they throw back is turned towards the root, what goes
     * through towards the tip. {@link #along} peaks at the negative of this.
     */
    private float tiltedSin(int p) {
        return p == ONCE_MORE
                ? sinO
                : p == 0 ? sinO * COS[1] + cosO * SIN[1] : sinO * COS[p == 1 ? 0 : 2] - cosO * SIN[p == 1 ? 0 : 2];
    }

    private float tiltedCos(int p) {
        return p == ONCE_MORE
                ? cosO
                : p == 0 ? cosO * COS[1] - sinO * SIN[1] : cosO * COS[p == 1 ? 0 : 2] + sinO * SIN[p == 1 ? 0 : 2];
    }

    /** Density along the strand (d'Eon et al. 2011). */
    private static float along(float sinI, float cosI, float sinO, float cosO, float v) {
        float a = cosI * cosO / v, b = sinI * sinO / v;
        return v <= 0.1f
                ? (float) Math.exp(logBessel(a) - b - 1 / v + 0.6931f + Math.log(1 / (2 * v)))
                : (float) (Math.exp(-b) * bessel(a) / (Math.sinh(1 / v) * 2 * v));
    }

    /** Modified, of the first kind and order 0. */
    private static double bessel(double x) {
        double term = 1, sum = 1;
        for (int i = 1; i < 10; i++) {
            term *= x * x / (4.0 * i * i);
            sum += term;
        }
        return sum;
    }

    private static double logBessel(double x) {
        return x > 12 ? x + 0.5 * (-Math.log(2 * Math.PI) + Math.log(1 / x) + 1 / (8 * x)) : Math.log(bessel(x));
    }

    /** Where round the strand light leaves that was within p times. */
    private double exit(int p) {
        return 2 * p * gammaT - 2 * gammaO + p * Math.PI;
    }

    private float around(float phi, int p) {
        double d = phi - exit(p);
        d -= 2 * Math.PI * Math.rint(d / (2 * Math.PI));
        double k = Math.exp(-Math.abs(d) / spread);
        return (float) (k / (spread * (1 + k) * (1 + k)) / (below(Math.PI) - below(-Math.PI)));
    }

    private double below(double x) {
        return 1 / (1 + Math.exp(-x / spread));
    }

    private double drawn(float u) {
        double k = below(Math.PI) - below(-Math.PI), x = -spread * Math.log(1 / (u * k + below(-Math.PI)) - 1);
        return Math.max(-Math.PI, Math.min(Math.PI, x));
    }

    private static float root(float v) {
        return (float) Math.sqrt(Math.max(0, v));
    }
}

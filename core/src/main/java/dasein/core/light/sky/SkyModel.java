package dasein.core.light.sky;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.image.Primaries;
import dasein.core.light.Environment;
import dasein.core.math.Vec3;

/**
 * Daylight without the sun's disc: Preetham, Shirley and Smits, "A Practical Analytic Model for Daylight" (1999), mixed
 * with an overcast sky (Moon and Spencer 1942: {@code (1 + 2 sin h) / 3} of the zenith, grey). The letters are those of
 * the paper. Radiance is relative: level ground receives pi from the upper half.
 */
public final class SkyModel {
    private static final double[][] X_ZENITH = {
        {0.00166, -0.00375, 0.00209, 0}, {-0.02903, 0.06377, -0.03202, 0.00394}, {0.11693, -0.21196, 0.06052, 0.25886}
    };
    private static final double[][] Y_ZENITH = {
        {0.00275, -0.00610, 0.00317, 0}, {-0.04214, 0.08970, -0.04153, 0.00516}, {0.15346, -0.26756, 0.06670, 0.26688}
    };
    /** The horizon itself is where the model's 1 / cos has its pole. */
    private static final double LEAST_COS = 0.01;

    private final Vec3 sun;
    private final double overcast;
    private final double[] perezY, perezX, perezZ;
    private final double zenithY, zenithX, zenithZ, thetaS, level;

    /**
     * @param sun unit, towards it; @param turbidity 2 (very clear) to 10 (haze); @param overcast 0 clear to 1 closed
     * @throws BadInput when these lie outside, or the sun stands below the horizon
     */
    public SkyModel(Vec3 sun, double turbidity, double overcast) {
        if (!(turbidity >= 1.7 && turbidity <= 12)) throw new BadInput("the turbidity must lie between 1.7 and 12");
        if (!(overcast >= 0 && overcast <= 1)) throw new BadInput("the overcast must lie between 0 and 1");
        if (sun.y() < 0) throw new BadInput("the sun stands below the ground");
        this.sun = sun;
        this.overcast = overcast;
        double t = turbidity;
        thetaS = Math.acos(Math.min(1, sun.y()));
        perezY = new double[] {
            0.1787 * t - 1.4630, -0.3554 * t + 0.4275, -0.0227 * t + 5.3251, 0.1206 * t - 2.5771, -0.0670 * t + 0.3703
        };
        perezX = new double[] {
            -0.0193 * t - 0.2592, -0.0665 * t + 0.0008, -0.0004 * t + 0.2125, -0.0641 * t - 0.8989, -0.0033 * t + 0.0452
        };
        perezZ = new double[] {
            -0.0167 * t - 0.2608, -0.0950 * t + 0.0092, -0.0079 * t + 0.2102, -0.0441 * t - 1.6537, -0.0109 * t + 0.0529
        };
        double chi = (4 / 9.0 - t / 120) * (Math.PI - 2 * thetaS);
        zenithY = Math.max(1e-3, (4.0453 * t - 4.9710) * Math.tan(chi) - 0.2155 * t + 2.4192);
        zenithX = zenith(X_ZENITH, t);
        zenithZ = zenith(Y_ZENITH, t);
        level = Math.PI / horizontal();
    }

    private double zenith(double[][] m, double t) {
        double[] p = {thetaS * thetaS * thetaS, thetaS * thetaS, thetaS, 1}, q = {t * t, t, 1};
        double s = 0;
        for (int i = 0; i < 3; i++) for (int j = 0; j < 4; j++) s += q[i] * m[i][j] * p[j];
        return s;
    }

    private static double perez(double[] k, double cosTheta, double gamma) {
        double c = Math.cos(gamma);
        return (1 + k[0] * Math.exp(k[1] / cosTheta)) * (1 + k[2] * Math.exp(k[3] * gamma) + k[4] * c * c);
    }

    /** Clear sky: luminance Y, chromaticities x and y. */
    private double[] clear(Vec3 d) {
        double cos = Math.max(LEAST_COS, d.y()), gamma = Math.acos(Math.max(-1, Math.min(1, d.dot(sun))));
        double cs = Math.cos(thetaS);
        return new double[] {
            zenithY * perez(perezY, cos, gamma) / perez(perezY, 1, thetaS),
            zenithX * perez(perezX, cos, gamma) / perez(perezX, 1, thetaS),
            zenithZ * perez(perezZ, cos, gamma) / perez(perezZ, 1, thetaS)
        };
    }

    /** Luminance on level ground of both parts, as mixed. */
    private double horizontal() {
        double sum = 0;
        int n = 48;
        for (int j = 0; j < n; j++)
            for (int i = 0; i < 2 * n; i++) {
                // Even in the squared sine: equal shares of cosine-weighted solid angle.
                double sin2 = (j + 0.5) / n, phi = Math.PI * (i + 0.5) / n;
                Vec3 d =
                        new Vec3(Math.sqrt(sin2) * Math.cos(phi), Math.sqrt(1 - sin2), Math.sqrt(sin2) * Math.sin(phi));
                sum += luminance(d);
            }
        return Math.PI * sum / (2.0 * n * n);
    }

    private double luminance(Vec3 d) {
        return (1 - overcast) * Math.max(0, clear(d)[0]) + overcast * zenithY * (1 + 2 * Math.max(0, d.y())) / 3;
    }

    /** Linear Rec. 709; below the horizon what the horizon shows. */
    public double[] radiance(Vec3 d) {
        double[] yxy = clear(d);
        double big = level * (1 - overcast) * Math.max(0, yxy[0]);
        double x = big * yxy[1] / yxy[2], z = big * (1 - yxy[1] - yxy[2]) / yxy[2];
        double grey = level * overcast * zenithY * (1 + 2 * Math.max(0, d.y())) / 3;
        double[] c = Primaries.rec709(x, big, z);
        for (int k = 0; k < 3; k++) c[k] = Math.max(0, c[k]) + grey;
        return c;
    }

    /** A lat-long map, the ground of one colour that is lit by sky and sun. @param ground its radiance */
    public Image map(int width, double[] ground) {
        Image out = new Image(width, width / 2, 3);
        Image.rows(width / 2, y -> {
            for (int x = 0; x < width; x++) {
                Vec3 d = Environment.fromUv((x + 0.5) / width, (y + 0.5) / (width / 2.0));
                double[] c = d.y() >= 0 ? radiance(d) : ground;
                for (int k = 0; k < 3; k++) out.planes[k][y * width + x] = (float) c[k];
            }
        });
        return out;
    }
}

package dasein.core.light.sun;

import dasein.core.BadInput;
import java.time.Instant;

/**
 * Where the sun stands, by place, date and time: Reda and Andreas, "Solar Position Algorithm for Solar Radiation
 * Applications" (NREL/TP-560-34302, 2008), good to 0.0003 degrees from -2000 to 6000. The letters are theirs.
 *
 * @param zenithDeg from straight up, with refraction; @param azimuthDeg from north over east, 0 to 360
 */
public record SolarPosition(double zenithDeg, double azimuthDeg) {
    /** Seconds that uniform time is ahead of the Earth's turning: as of 2020 to 2026. */
    public static final double DELTA_T = 69.2;

    /**
     * Where somebody stands: degrees, east and north positive; metres; millibar and degrees centigrade for refraction.
     */
    public record Place(double latitude, double longitude, double height, double pressure, double temperature) {
        public Place {
            if (!(latitude >= -90 && latitude <= 90)) throw new BadInput("the latitude must lie between -90 and 90");
            if (!(longitude >= -180 && longitude <= 180))
                throw new BadInput("the longitude must lie between -180 and 180");
            if (!(height > -500 && height < 10_000)) throw new BadInput("the height must lie between -500 and 10000 m");
            if (!(pressure >= 0 && pressure < 5000)) throw new BadInput("that is no pressure");
            if (!(temperature > -273 && temperature < 6000)) throw new BadInput("that is no temperature");
        }

        /** Pressure of the standard atmosphere at that height. */
        public Place(double latitude, double longitude, double height) {
            this(latitude, longitude, height, 1013.25 * Math.pow(1 - 2.25577e-5 * height, 5.25588), 12);
        }
    }

    public double elevationDeg() {
        return 90 - zenithDeg;
    }

    public static SolarPosition at(Instant time, Place place) {
        double jd = time.getEpochSecond() / 86400.0 + time.getNano() / 86400e9 + 2440587.5;
        return at(jd, DELTA_T, place);
    }

    /** @param jd Julian day in universal time; @param deltaT seconds */
    static SolarPosition at(double jd, double deltaT, Place p) {
        double jc = (jd - 2451545) / 36525, jce = (jd + deltaT / 86400 - 2451545) / 36525, jme = jce / 10;
        double l = limited(Math.toDegrees(sum(SolarTerms.L, jme))), b = Math.toDegrees(sum(SolarTerms.B, jme));
        double r = sum(SolarTerms.R, jme), theta = limited(l + 180), beta = Math.toRadians(-b);
        double[] nutation = nutation(jce);
        double u = jme / 10;
        double epsilon0 =
                polynomial(u, 84381.448, -4680.93, -1.55, 1999.25, -51.38, -249.67, -39.05, 7.12, 27.87, 5.79, 2.45);
        double epsilon = Math.toRadians(epsilon0 / 3600 + nutation[1]);
        double lambda = Math.toRadians(theta + nutation[0] - 20.4898 / (3600 * r));
        double nu0 = limited(280.46061837 + 360.98564736629 * (jd - 2451545) + jc * jc * (0.000387933 - jc / 38710000));
        double nu = nu0 + nutation[0] * Math.cos(epsilon);
        double alpha =
                Math.atan2(Math.sin(lambda) * Math.cos(epsilon) - Math.tan(beta) * Math.sin(epsilon), Math.cos(lambda));
        double delta =
                Math.asin(Math.sin(beta) * Math.cos(epsilon) + Math.cos(beta) * Math.sin(epsilon) * Math.sin(lambda));
        double h = Math.toRadians(limited(nu + p.longitude() - Math.toDegrees(alpha)));
        // The observer does not stand in the Earth's middle.
        double phi = Math.toRadians(p.latitude()), xi = Math.toRadians(8.794 / (3600 * r));
        double uu = Math.atan(0.99664719 * Math.tan(phi));
        double x = Math.cos(uu) + p.height() / 6378140 * Math.cos(phi);
        double y = 0.99664719 * Math.sin(uu) + p.height() / 6378140 * Math.sin(phi);
        double da = Math.atan2(-x * Math.sin(xi) * Math.sin(h), Math.cos(delta) - x * Math.sin(xi) * Math.cos(h));
        double delta1 = Math.atan2(
                (Math.sin(delta) - y * Math.sin(xi)) * Math.cos(da), Math.cos(delta) - x * Math.sin(xi) * Math.cos(h));
        double h1 = h - da;
        double e0 = Math.toDegrees(
                Math.asin(Math.sin(phi) * Math.sin(delta1) + Math.cos(phi) * Math.cos(delta1) * Math.cos(h1)));
        double refraction = e0 < -0.26667 - 0.5667
                ? 0
                : p.pressure()
                        / 1010
                        * 283
                        / (273 + p.temperature())
                        * 1.02
                        / (60 * Math.tan(Math.toRadians(e0 + 10.3 / (e0 + 5.11))));
        double gamma = Math.toDegrees(
                Math.atan2(Math.sin(h1), Math.cos(h1) * Math.sin(phi) - Math.tan(delta1) * Math.cos(phi)));
        return new SolarPosition(90 - e0 - refraction, limited(gamma + 180));
    }

    private static double sum(double[][][] terms, double jme) {
        double out = 0, power = 1;
        for (double[][] series : terms) {
            double s = 0;
            for (double[] t : series) s += t[0] * Math.cos(t[1] + t[2] * jme);
            out += s * power;
            power *= jme;
        }
        return out / 1e8;
    }

    /** Of longitude and obliquity, degrees. */
    private static double[] nutation(double t) {
        double[] x = {
            297.85036 + 445267.111480 * t - 0.0019142 * t * t + t * t * t / 189474,
            357.52772 + 35999.050340 * t - 0.0001603 * t * t - t * t * t / 300000,
            134.96298 + 477198.867398 * t + 0.0086972 * t * t + t * t * t / 56250,
            93.27191 + 483202.017538 * t - 0.0036825 * t * t + t * t * t / 327270,
            125.04452 - 1934.136261 * t + 0.0020708 * t * t + t * t * t / 450000
        };
        double psi = 0, epsilon = 0;
        for (double[] n : SolarTerms.NUTATION) {
            double a = 0;
            for (int k = 0; k < 5; k++) a += x[k] * n[k];
            a = Math.toRadians(a);
            psi += (n[5] + n[6] * t) * Math.sin(a);
            epsilon += (n[7] + n[8] * t) * Math.cos(a);
        }
        return new double[] {psi / 36e6, epsilon / 36e6};
    }

    private static double polynomial(double u, double... c) {
        double out = 0;
        for (int k = c.length - 1; k >= 0; k--) out = out * u + c[k];
        return out;
    }

    private static double limited(double degrees) {
        double d = degrees % 360;
        return d < 0 ? d + 360 : d;
    }
}

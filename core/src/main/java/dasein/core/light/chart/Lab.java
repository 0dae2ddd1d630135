package dasein.core.light.chart;

/** CIE 1976 L*a*b* and the distance CIEDE2000 between two of it. */
public final class Lab {
    /**
     * White points of the 2 degree observer, Y = 1 (ICC.1:2010 for D50, CIE 15 chromaticity 0.3127, 0.3290 for D65).
     */
    static final double[] D50 = {0.9642, 1, 0.8249}, D65 = {0.3127 / 0.3290, 1, (1 - 0.3127 - 0.3290) / 0.3290};

    /** Linear Rec. 709 (D65) to XYZ, by SMPTE RP 177 from the chromaticities. */
    static final double[] REC709_TO_XYZ = {
        0.4123907992659593, 0.3575843393838780, 0.1804807884018343,
        0.2126390058715102, 0.7151686787677560, 0.0721923153607337,
        0.0193308187155918, 0.1191947797946260, 0.9505321522496607
    };

    private static final double EPSILON = 216 / 24389.0, KAPPA = 24389 / 27.0;
    private static final double POW25_7 = Math.pow(25, 7);

    private Lab() {}

    static double[] xyz(double[] lab, double[] white) {
        double fy = (lab[0] + 16) / 116, fx = fy + lab[1] / 500, fz = fy - lab[2] / 200;
        return new double[] {
            white[0] * back(fx),
            white[1] * (lab[0] > KAPPA * EPSILON ? fy * fy * fy : lab[0] / KAPPA),
            white[2] * back(fz)
        };
    }

    private static double back(double f) {
        double c = f * f * f;
        return c > EPSILON ? c : (116 * f - 16) / KAPPA;
    }

    /** Of linear Rec. 709, where 1, 1, 1 is white. */
    public static double[] of709(double r, double g, double b) {
        double[] m = REC709_TO_XYZ;
        double fx = f((m[0] * r + m[1] * g + m[2] * b) / D65[0]),
                fy = f(m[3] * r + m[4] * g + m[5] * b),
                fz = f((m[6] * r + m[7] * g + m[8] * b) / D65[2]);
        return new double[] {116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)};
    }

    private static double f(double t) {
        return t > EPSILON ? Math.cbrt(t) : (KAPPA * t + 16) / 116;
    }

    /**
     * CIEDE2000 with all weights 1. The letters are those of Sharma, Wu and Dalal, "The CIEDE2000 color-difference
     * formula" (2005).
     */
    public static double difference(double[] lab1, double[] lab2) {
        double c1 = Math.hypot(lab1[1], lab1[2]), c2 = Math.hypot(lab2[1], lab2[2]), cBar7 = Math.pow((c1 + c2) / 2, 7);
        double g = 0.5 * (1 - Math.sqrt(cBar7 / (cBar7 + POW25_7)));
        double a1 = (1 + g) * lab1[1], a2 = (1 + g) * lab2[1];
        double cc1 = Math.hypot(a1, lab1[2]), cc2 = Math.hypot(a2, lab2[2]);
        double h1 = hue(lab1[2], a1), h2 = hue(lab2[2], a2);
        boolean grey = cc1 * cc2 == 0;
        double dl = lab2[0] - lab1[0], dc = cc2 - cc1, dh = grey ? 0 : h2 - h1;
        if (dh > 180) dh -= 360;
        if (dh < -180) dh += 360;
        double dH = 2 * Math.sqrt(cc1 * cc2) * Math.sin(Math.toRadians(dh / 2));
        double lBar = (lab1[0] + lab2[0]) / 2, cBar = (cc1 + cc2) / 2, hBar = h1 + h2;
        if (!grey) {
            if (Math.abs(h1 - h2) > 180) hBar += hBar < 360 ? 360 : -360;
            hBar /= 2;
        }
        double t = 1
                - 0.17 * Math.cos(Math.toRadians(hBar - 30))
                + 0.24 * Math.cos(Math.toRadians(2 * hBar))
                + 0.32 * Math.cos(Math.toRadians(3 * hBar + 6))
                - 0.20 * Math.cos(Math.toRadians(4 * hBar - 63));
        double dTheta = 30 * Math.exp(-Math.pow((hBar - 275) / 25, 2)), c7 = Math.pow(cBar, 7);
        double rc = 2 * Math.sqrt(c7 / (c7 + POW25_7)), l50 = (lBar - 50) * (lBar - 50);
        double sl = 1 + 0.015 * l50 / Math.sqrt(20 + l50), sc = 1 + 0.045 * cBar, sh = 1 + 0.015 * cBar * t;
        double rt = -Math.sin(Math.toRadians(2 * dTheta)) * rc;
        return Math.sqrt(Math.pow(dl / sl, 2) + Math.pow(dc / sc, 2) + Math.pow(dH / sh, 2) + rt * dc / sc * dH / sh);
    }

    private static double hue(double b, double a) {
        if (a == 0 && b == 0) return 0;
        double h = Math.toDegrees(Math.atan2(b, a));
        return h < 0 ? h + 360 : h;
    }
}

package dasein.core.render;

/**
 * What a film as thin as light is long mirrors: rays thrown back by its top and its bottom meet again (Belcour and
 * Barla 2017, with the simplifications of KHR_materials_iridescence: Schlick's Fresnel, two orders). The sensitivity of
 * the eye is a sum of Gaussians there, whose transform is known.
 */
final class ThinFilm {
    private static final double[] VALUE = {5.4856e-13, 4.4201e-13, 5.2481e-13},
            PLACE = {1.6810e+06, 1.7953e+06, 2.2084e+06},
            WIDTH = {4.3278e+09, 9.3046e+09, 6.6121e+09};
    private static final double FULL = 1.0685e-7;
    /** From CIE XYZ to linear Rec. 709. */
    private static final double[] REC709 = {
        3.2404542, -1.5371385, -0.4985314, -0.9692660, 1.8760108, 0.0415560, 0.0556434, -0.2040259, 1.0572252
    };

    private static final int ORDERS = 2;

    private ThinFilm() {}

    /**
     * Reflectance head on by which Schlick's formula gives, at this angle, what the film mirrors there.
     *
     * @param cos of the angle to the normal; @param f0 head on, of what lies under the film: replaced, by
     *     {@code strength}; @param nanometres the film's thickness
     */
    static void on(float[] f0, float cos, float strength, float ior, float nanometres) {
        double grazing = fifth(1 - cos),
                outside = Math.max(0, Math.min(1, nanometres / 0.03)),
                film = 1 + (ior - 1) * outside * outside * (3 - 2 * outside),
                cos2 = Math.sqrt(1 - (1 - cos * cos) / (film * film)),
                r12 = schlick(square((film - 1) / (film + 1)), grazing),
                t12 = 1 - r12,
                way = 2 * film * nanometres * cos2;
        for (int c = 0; c < 3; c++) {
            double root = Math.sqrt(Math.max(0, Math.min(0.9999, f0[c]))),
                    under = (1 + root) / (1 - root),
                    r23 = schlick(square((under - film) / (under + film)), fifth(1 - cos2)),
                    r123 = Math.max(1e-5, Math.min(0.9999, r12 * r23)),
                    back = t12 * t12 * r23 / (1 - r123),
                    shift = Math.PI + (under < film ? Math.PI : 0),
                    order = back - t12,
                    seen = r12 + back;
            for (int m = 1; m <= ORDERS; m++) {
                order *= Math.sqrt(r123);
                seen += order * 2 * sensitivity(c, m * way, m * shift);
            }
            // Schlick's formula turned round.
            double head = grazing < 0.999 ? (Math.max(0, seen) - grazing) / (1 - grazing) : 1;
            f0[c] += strength * ((float) Math.max(0, Math.min(1, head)) - f0[c]);
        }
    }

    /** Of one of Rec. 709's colours to a wave whose two parts are {@code way} nanometres and a phase apart. */
    private static double sensitivity(int colour, double way, double shift) {
        double phase = 2 * Math.PI * way * 1e-9, sum = 0;
        for (int k = 0; k < 3; k++) {
            double v = bell(VALUE[k], PLACE[k], WIDTH[k], phase, shift);
            if (k == 0) v += bell(9.7470e-14, 2.2399e+06, 4.5282e+09, phase, shift);
            sum += REC709[3 * colour + k] * v / FULL;
        }
        return sum;
    }

    private static double bell(double value, double place, double width, double phase, double shift) {
        return value
                * Math.sqrt(2 * Math.PI * width)
                * Math.cos(place * phase + shift)
                * Math.exp(-phase * phase * width);
    }

    private static double schlick(double f0, double grazing) {
        return f0 + (1 - f0) * grazing;
    }

    private static double square(double v) {
        return v * v;
    }

    private static double fifth(double k) {
        return k * k * k * k * k;
    }
}

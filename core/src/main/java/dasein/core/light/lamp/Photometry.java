package dasein.core.light.lamp;

import dasein.core.BadInput;

/**
 * Lamps in the units on their boxes. A lamp's level is the irradiance it gives a metre off, the way it faces, where a
 * picture value of 1 is the light that the plate's white stands for: candela over that white's candela a square metre.
 */
public final class Photometry {
    private Photometry() {}

    /**
     * Luminance of what fills the sensor, cd/m2: saturation speed of ISO 12232:2006, H = 78 / S, with H = 0.65 t L /
     * N^2.
     *
     * @param fStop N; @param seconds t; @param iso S
     */
    public static double white(double fStop, double seconds, double iso) {
        if (!(fStop > 0 && seconds > 0 && iso > 0)) throw new BadInput("f-stop, exposure time and ISO must be above 0");
        return 78 * fStop * fStop / (0.65 * seconds * iso);
    }

    /** Candela the way it faces, of a lamp that gives that many lumens in all. */
    public static double candela(double lumen, Lamp.Kind kind, double coneDeg, double softness) {
        return lumen
                / switch (kind) {
                    case POINT, SPHERE -> 4 * Math.PI;
                    // By the cosine, to one side.
                    case DISC, RECTANGLE -> Math.PI;
                    // By the sine against its run, all round.
                    case LINE -> Math.PI * Math.PI;
                    case SPOT -> cone(coneDeg, softness);
                };
    }

    /** Solid angle of a spot's cone, each part as it shines: full within, smooth step in the cosine to its rim. */
    private static double cone(double coneDeg, double softness) {
        double half = Math.toRadians(coneDeg) / 2, dark = Math.cos(half), full = Math.cos(half * (1 - softness));
        // The mean of 3t^2 - 2t^3 over its rise is a half.
        return 2 * Math.PI * (1 - full + (full - dark) / 2);
    }

    /**
     * A level as somebody writes it: a plain number as it is, "800 lm" and "1200 cd" by the plate's white.
     *
     * @param white cd/m2 of the plate's 1; 0 when not known
     */
    public static double level(String said, double white, LampRecipe lamp) {
        String s = said.trim().replace(',', '.');
        boolean lumen = s.endsWith("lm"), candela = s.endsWith("cd");
        double v;
        try {
            v = Double.parseDouble(
                    lumen || candela ? s.substring(0, s.length() - 2).trim() : s);
        } catch (NumberFormatException e) {
            throw new BadInput(
                    "the level must be a number, or one with lm or cd behind it, not \"" + said.trim() + "\"");
        }
        if (!(v >= 0 && v <= 1e9)) throw new BadInput("the level must lie between 0 and a thousand million");
        if (!lumen && !candela) return v;
        if (!(white > 0))
            throw new BadInput("lumens and candela need to know how bright the plate's white is: say its f-stop, "
                    + "exposure time and ISO, or the luminance");
        LampRecipe.Shape k = lamp.shape();
        return (lumen ? candela(v, lamp.kind(), k.coneDeg(), k.softness()) : v) / white;
    }
}

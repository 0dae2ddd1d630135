package dasein.core.lens;

/**
 * The opening of a thin lens that is focused on a plane (Potmesil and Chakravarty 1982): every place of it sees that
 * plane alike, and what lies before or behind it as a disc, the circle of confusion.
 *
 * @param radius of the opening, metres; @param focus distance of the plane along the view axis, metres
 * @param blades of the iris, straight ones; below 3 it is round
 * @param catsEye how much narrower the opening is towards the middle, seen from the picture's corner, 0 to 1: a barrel
 *     hides a part of it. The light is not changed: how a lens darkens corners is in the plate already
 */
public record Aperture(double radius, double focus, int blades, double catsEye) {
    /** @param focalMm focal length; @param fStop focal length over diameter */
    public static Aperture of(double focalMm, double fStop, double focus, int blades, double catsEye) {
        return new Aperture(focalMm / 1000 / (2 * fStop), focus, blades, catsEye);
    }

    /**
     * Diameter of the disc as which a point is seen, in pixels.
     *
     * @param depth of the point along the view axis, metres; @param focalPx of the lens
     */
    public double confusionPx(double depth, double focalPx) {
        return 2 * radius * focalPx * Math.abs(1 / depth - 1 / focus);
    }

    /**
     * A place of the opening, metres to the right and up.
     *
     * @param u, v in [0, 1); @param x, y where the picture's place lies, in parts of the corner's distance from the
     *     middle, to the right and up; @param out two numbers
     */
    public void at(float u, float v, float x, float y, float[] out) {
        if (blades < 3) round(u, v, out);
        else cornered(u, v, out);
        float a = out[0], b = out[1], far = (float) Math.sqrt(x * x + y * y);
        if (catsEye > 0 && far > 1e-6f) {
            // Narrowed along the line to the middle.
            float nx = x / far,
                    ny = y / far,
                    along = a * nx + b * ny,
                    less = (float) (catsEye * Math.min(1, far)) * along;
            a -= less * nx;
            b -= less * ny;
        }
        out[0] = (float) radius * a;
        out[1] = (float) radius * b;
    }

    /** Evenly over a disc, neighbours staying neighbours (Shirley and Chiu 1997). */
    private static void round(float u, float v, float[] out) {
        float a = 2 * u - 1, b = 2 * v - 1;
        if (a == 0 && b == 0) {
            out[0] = out[1] = 0;
            return;
        }
        boolean wide = Math.abs(a) > Math.abs(b);
        float r = wide ? a : b, turn = (float) Math.PI / 4 * (wide ? b / a : 2 - a / b);
        out[0] = r * (float) Math.cos(turn);
        out[1] = r * (float) Math.sin(turn);
    }

    /** Evenly over a regular polygon whose corners lie on the circle. */
    private void cornered(float u, float v, float[] out) {
        float sector = u * blades, t = (float) Math.sqrt(sector - (float) Math.floor(sector));
        double from = 2 * Math.PI * Math.floor(sector) / blades, to = from + 2 * Math.PI / blades;
        out[0] = t * (float) ((1 - v) * Math.cos(from) + v * Math.cos(to));
        out[1] = t * (float) ((1 - v) * Math.sin(from) + v * Math.sin(to));
    }
}

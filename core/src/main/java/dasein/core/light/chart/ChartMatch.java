package dasein.core.light.chart;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.math.Projective;

/**
 * A map brought to the plate's colours by the same chart, photographed by both cameras: into neutral by the map's
 * matrix, out of it by the inverse of the plate's. The plate is never touched.
 */
public final class ChartMatch {
    private ChartMatch() {}

    /**
     * From the map's light to the plate's; row-major 3x3.
     *
     * @param plate, map matrices from each camera's light to neutral
     * @throws BadInput when the plate's has no inverse
     */
    public static double[] between(double[] plate, double[] map) {
        double[] back = new Projective(plate).inverse().h(), out = new double[9];
        for (int r = 0; r < 3; r++)
            for (int c = 0; c < 3; c++) for (int k = 0; k < 3; k++) out[3 * r + c] += back[3 * r + k] * map[3 * k + c];
        for (double v : out) if (!Double.isFinite(v)) throw new BadInput("the plate's chart gives no usable matrix");
        return out;
    }

    /** Light cannot be negative: what would be stays black. */
    public static Image applied(Image map, double[] m) {
        Image out = new Image(map.width, map.height, 3);
        Image.rows(map.height, y -> {
            for (int i = y * map.width; i < (y + 1) * map.width; i++)
                for (int c = 0; c < 3; c++)
                    out.planes[c][i] = (float) Math.max(
                            0,
                            m[3 * c] * map.planes[0][i]
                                    + m[3 * c + 1] * map.planes[1][i]
                                    + m[3 * c + 2] * map.planes[2][i]);
        });
        return out;
    }
}

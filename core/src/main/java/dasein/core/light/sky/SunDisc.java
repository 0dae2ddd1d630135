package dasein.core.light.sky;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Sun;
import dasein.core.math.Vec3;

/** Puts a sun into a lat-long map: a disc of its irradiance, at least as large as the texels can show. */
public final class SunDisc {
    private static final double LEAST_TEXELS = 3;

    private SunDisc() {}

    /**
     * A sky with its sun over level ground.
     *
     * @param ground its reflectance; @param ratio light on it in the sun over that in the shade; 0 or 1: no sun
     */
    public static Image sky(SkyModel sky, Vec3 towards, double[] ground, double ratio, int width) {
        if (ratio != 0 && !(ratio >= 1 && ratio < 1000))
            throw new BadInput("the light in the sun over that in the shade must lie between 1 and 1000");
        // The model gives level ground pi; a warm sun gives the rest.
        double[] warm = {1.06, 1, 0.9};
        double over = Math.max(0, ratio - 1), up = Math.max(0.03, towards.y());
        double[] radiance = new double[3];
        float[] sun = new float[3];
        for (int c = 0; c < 3; c++) {
            radiance[c] = ground[c] * (1 + over * warm[c]);
            sun[c] = (float) (Math.PI * over * warm[c] / up);
        }
        Image map = sky.map(width, radiance);
        if (over > 0) add(map, new Sun(towards, Math.toRadians(0.533), sun));
        return map;
    }

    public static void add(Image map, Sun sun) {
        int w = map.width, h = map.height;
        double half = Math.max(sun.angleRadians(), LEAST_TEXELS * Math.PI / h) / 2,
                cos = Math.cos(1.5 * half + 2 * Math.PI / h);
        double[] share = new double[w * h];
        double total = 0;
        for (int y = 0; y < h; y++) {
            double solid = Environment.solid(y, w, h);
            for (int x = 0; x < w; x++) {
                if (Environment.fromUv((x + 0.5) / w, (y + 0.5) / h).dot(sun.towards()) < cos) continue;
                int in = 0;
                for (int k = 0; k < 64; k++) {
                    Vec3 d = Environment.fromUv((x + (k % 8 + 0.5) / 8) / w, (y + (k / 8 + 0.5) / 8) / h);
                    if (Math.acos(Math.min(1, d.dot(sun.towards()))) < half) in++;
                }
                share[y * w + x] = in / 64.0;
                total += in / 64.0 * solid;
            }
        }
        for (int i = 0; i < share.length; i++)
            for (int c = 0; c < 3; c++) map.planes[c][i] += (float) (sun.irradiance()[c] * share[i] / total);
    }
}

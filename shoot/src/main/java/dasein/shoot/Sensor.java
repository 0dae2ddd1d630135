package dasein.shoot;

import dasein.core.image.Image;
import java.util.SplittableRandom;

/**
 * Photon and read noise of a small sensor: variance a L + b in scene-linear light, a little shared between the colours
 * by demosaicing.
 */
final class Sensor {
    private static final double PHOTON = 0.00011;
    private static final double READ = 0.0000025;
    private static final double SHARED = 0.6;

    private Sensor() {}

    static Image expose(Image clean, long seed) {
        Image out = clean.copy();
        Image.rows(clean.height, y -> {
            SplittableRandom r = new SplittableRandom(seed * 1000003L + y);
            for (int i = y * clean.width, end = i + clean.width; i < end; i++) {
                double common = r.nextGaussian();
                for (int c = 0; c < 3; c++) {
                    double v = Math.max(clean.planes[c][i], 0),
                            g = SHARED * common + Math.sqrt(1 - SHARED * SHARED) * r.nextGaussian();
                    out.planes[c][i] = (float) Math.max(0, v + g * Math.sqrt(PHOTON * v + READ));
                }
            }
        });
        return out;
    }
}

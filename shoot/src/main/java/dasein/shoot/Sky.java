package dasein.shoot;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Sun;
import dasein.core.math.Vec3;

/**
 * The light over the slipway: an overcast-bright morning with a veiled sun, as a lat-long map. Plate 1.0 = a white card
 * lying on the concrete.
 */
final class Sky {
    static final double SUN_ELEVATION = Math.toRadians(41);
    static final double SUN_AZIMUTH = Math.toRadians(-50);
    static final double SUN_WIDTH = Math.toRadians(1.5);
    /** Exposure: a bright morning, concrete in the upper middle of the curve. */
    private static final double LEVEL = 1.3;

    private static final int WIDTH = 1024;

    private Sky() {}

    static Vec3 sunDirection() {
        return Sun.direction(SUN_ELEVATION, SUN_AZIMUTH);
    }

    static Image map() {
        int w = WIDTH, h = WIDTH / 2;
        Image im = new Image(w, h, 3);
        Vec3 sun = sunDirection();
        Image.rows(h, y -> {
            for (int x = 0; x < w; x++) {
                double u = (x + 0.5) / w, v = (y + 0.5) / h;
                Vec3 d = Environment.fromUv(u, v);
                double cos = d.dot(sun), angle = Math.acos(Math.min(1, cos));
                double[] c;
                if (d.y() > -0.005) {
                    double up = Math.max(d.y(), 0),
                            cloud = Noise.octaves(u * 2, v * 2 + 0.15 * Noise.octaves(u, v, 4, 3, 91), 6, 6, 71);
                    double veil = 0.55 * Math.exp(-angle * angle / 0.4) + 1.6 * Math.exp(-angle * angle / 0.045);
                    double sky = 0.33 + 0.14 * Math.pow(1 - up, 3) + 0.24 * (cloud - 0.5);
                    double warm = Math.exp(-angle * 2.2);
                    c = new double[] {
                        sky * (0.90 + 0.16 * warm) + veil,
                        sky * (0.99 + 0.03 * warm) + veil * 0.95,
                        sky * (1.13 - 0.12 * warm) + veil * 0.84
                    };
                } else {
                    double g = 0.16 + 0.05 * Noise.octaves(u, v, 16, 4, 5);
                    c = new double[] {g, g * 0.98, g * 0.92};
                }
                // The disc, with its limb softened over a texel or two by supersampling.
                double inside = 0;
                if (angle < SUN_WIDTH) {
                    for (int j = 0; j < 8; j++) {
                        for (int i = 0; i < 8; i++) {
                            Vec3 e = Environment.fromUv((x + (i + 0.5) / 8) / w, (y + (j + 0.5) / 8) / h);
                            if (Math.acos(Math.min(1, e.dot(sun))) < SUN_WIDTH / 2) inside += 1 / 64.0;
                        }
                    }
                }
                double disc = 2.75 / (2 * Math.PI * (1 - Math.cos(SUN_WIDTH / 2)));
                double[] tint = {1.06, 0.99, 0.86};
                for (int k = 0; k < 3; k++)
                    im.planes[k][y * w + x] = (float) (LEVEL * (c[k] + inside * disc * tint[k]));
            }
        });
        return im;
    }
}

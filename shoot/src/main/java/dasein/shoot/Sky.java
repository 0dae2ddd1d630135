package dasein.shoot;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Sun;
import dasein.core.math.Vec3;

/**
 * The light over the slipway at an hour of one day, as a lat-long map. Plate 1.0 = a white card lying on the concrete
 * in the morning.
 *
 * @param name of the hour; @param elevation, azimuth of the sun, radians
 * @param sky, disc brightness of the sky and of the sun against the morning's; @param tint of the sun
 * @param warmth how far the sky takes the sun's colour
 */
record Sky(String name, double elevation, double azimuth, double sky, double disc, double[] tint, double warmth) {
    static final double SUN_WIDTH = Math.toRadians(1.5);
    /** Overcast-bright with a veiled sun: all plates are shot in it. */
    static final Sky MORNING =
            new Sky("slipway", Math.toRadians(41), Math.toRadians(-50), 1, 1, new double[] {1.06, 0.99, 0.86}, 1);
    /** The veil has gone thinner, the sun stands high over the water. */
    static final Sky NOON =
            new Sky("noon", Math.toRadians(62), Math.toRadians(12), 1.25, 1.7, new double[] {1.02, 1.0, 0.95}, 0.4);
    /** Low over the water, red. */
    static final Sky EVENING =
            new Sky("evening", Math.toRadians(9), Math.toRadians(20), 0.45, 0.5, new double[] {1.25, 0.82, 0.42}, 2.2);
    /** Exposure: a bright morning, concrete in the upper middle of the curve. */
    private static final double LEVEL = 1.3;

    private static final int WIDTH = 1024;

    Vec3 sunDirection() {
        return Sun.direction(elevation, azimuth);
    }

    Image map() {
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
                    double grey = 0.33 + 0.14 * Math.pow(1 - up, 3) + 0.24 * (cloud - 0.5);
                    double warm = warmth * Math.exp(-angle * 2.2);
                    c = new double[] {
                        sky * (grey * (0.90 + 0.16 * warm) + veil * tint[0] / 1.06),
                        sky * (grey * (0.99 + 0.03 * warm) + veil * 0.95 * tint[1] / 0.99),
                        sky * (grey * (1.13 - 0.12 * warm) + veil * 0.84 * tint[2] / 0.86)
                    };
                } else {
                    double g = 0.16 + 0.05 * Noise.octaves(u, v, 16, 4, 5);
                    c = new double[] {sky * g, sky * g * 0.98, sky * g * 0.92};
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
                double bright = disc * 2.75 / (2 * Math.PI * (1 - Math.cos(SUN_WIDTH / 2)));
                for (int k = 0; k < 3; k++)
                    im.planes[k][y * w + x] = (float) (LEVEL * (c[k] + inside * bright * tint[k]));
            }
        });
        return im;
    }
}

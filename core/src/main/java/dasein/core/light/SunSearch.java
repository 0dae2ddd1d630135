package dasein.core.light;

import dasein.core.image.Image;
import dasein.core.math.Vec3;

/**
 * Takes the sun out of a lat-long map: what stands above the local envelope near the brightest spot becomes a
 * {@link Sun} of the same energy, and the map keeps the rest. Sharp, noise-free shadows need the sun as a lamp.
 */
public final class SunSearch {
    /** Radiance above this multiple of the map's median upper-half luminance counts as sun. */
    private static final double PEAK_FACTOR = 12;

    private SunSearch() {}

    /** The sun (null when nothing stands out) and the map without it. */
    public record Found(Sun sun, Image rest) {}

    public static Found in(Image map) {
        return in(map, Math.toRadians(8));
    }

    /** @param radius the search stays within this angle (radians) of the peak */
    public static Found in(Image map, double radius) {
        int w = map.width, h = map.height;
        float[] lum = map.luminance();
        float[] upper = java.util.Arrays.copyOf(lum, w * h / 2);
        int peak = 0;
        for (int i = 0; i < upper.length; i++) if (lum[i] > lum[peak]) peak = i;
        Vec3 centre = Environment.fromUv((peak % w + 0.5) / w, (peak / w + 0.5) / h);
        java.util.Arrays.sort(upper);
        double median = Math.max(upper[upper.length / 2], 1e-6);
        if (lum[peak] < PEAK_FACTOR * median) return new Found(null, map);
        // Envelope: the mean on a ring just outside the radius.
        double[] ring = new double[3];
        double ringWeight = 0;
        for (int y = 0; y < h; y++) {
            for (int x = 0; x < w; x++) {
                double angle = angle(centre, x, y, w, h);
                if (angle < radius || angle > radius * 1.4) continue;
                ringWeight++;
                for (int c = 0; c < 3; c++) ring[c] += map.planes[c][y * w + x];
            }
        }
        for (int c = 0; c < 3; c++) ring[c] /= Math.max(ringWeight, 1);
        Image rest = map.copy();
        double[] energy = new double[3];
        double moment = 0, total = 0;
        Vec3 mean = Vec3.ZERO;
        for (int pass = 0; pass < 2; pass++) {
            for (int y = 0; y < h; y++) {
                double solid = (Math.cos(Math.PI * y / h) - Math.cos(Math.PI * (y + 1) / h)) * 2 * Math.PI / w;
                for (int x = 0; x < w; x++) {
                    double angle = angle(centre, x, y, w, h);
                    if (angle >= radius) continue;
                    double fade = Math.min(1, (radius - angle) / (0.3 * radius)), taken = 0;
                    for (int c = 0; c < 3; c++) {
                        double over = Math.max(0, map.planes[c][y * w + x] - ring[c]) * fade;
                        taken += over / 3;
                        if (pass == 1) continue;
                        energy[c] += over * solid;
                        rest.planes[c][y * w + x] -= (float) over;
                    }
                    Vec3 d = Environment.fromUv((x + 0.5) / w, (y + 0.5) / h);
                    if (pass == 0) {
                        mean = mean.plus(d.times(taken * solid));
                    } else {
                        double off = Math.acos(Math.min(1, d.dot(mean)));
                        moment += taken * solid * off * off;
                        total += taken * solid;
                    }
                }
            }
            if (pass == 0) mean = mean.unit();
        }
        // A uniform disc of radius r has a mean squared radius of r^2 / 2.
        double diameter = 2 * Math.sqrt(2 * moment / total);
        float[] e = {(float) energy[0], (float) energy[1], (float) energy[2]};
        return new Found(new Sun(mean, diameter, e), rest);
    }

    private static double angle(Vec3 centre, int x, int y, int w, int h) {
        return Math.acos(Math.max(
                -1, Math.min(1, Environment.fromUv((x + 0.5) / w, (y + 0.5) / h).dot(centre))));
    }
}

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
        double[] ringWeight = new double[1];
        each(w, h, centre, radius * 1.4, (i, d, solid, angle) -> {
            if (angle < radius) return;
            ringWeight[0]++;
            for (int c = 0; c < 3; c++) ring[c] += map.planes[c][i];
        });
        for (int c = 0; c < 3; c++) ring[c] /= Math.max(ringWeight[0], 1);
        Image rest = map.copy();
        double[] energy = new double[3], sum = new double[3];
        each(w, h, centre, radius, (i, d, solid, angle) -> {
            double fade = Math.min(1, (radius - angle) / (0.3 * radius)), taken = 0;
            for (int c = 0; c < 3; c++) {
                double over = Math.max(0, map.planes[c][i] - ring[c]) * fade;
                taken += over / 3;
                energy[c] += over * solid;
                rest.planes[c][i] -= (float) over;
            }
            sum[0] += d.x() * taken * solid;
            sum[1] += d.y() * taken * solid;
            sum[2] += d.z() * taken * solid;
        });
        Vec3 mean = Vec3.of(sum).unit();
        double[] spread = new double[2];
        each(w, h, centre, radius, (i, d, solid, angle) -> {
            double taken = 0;
            for (int c = 0; c < 3; c++) taken += (map.planes[c][i] - rest.planes[c][i]) / 3;
            double off = Math.acos(Math.min(1, d.dot(mean)));
            spread[0] += taken * solid * off * off;
            spread[1] += taken * solid;
        });
        // A uniform disc of radius r has a mean squared radius of r^2 / 2.
        double diameter = 2 * Math.sqrt(2 * spread[0] / spread[1]);
        float[] e = {(float) energy[0], (float) energy[1], (float) energy[2]};
        return new Found(new Sun(mean, diameter, e), rest);
    }

    private interface Texel {
        void at(int i, Vec3 direction, double solid, double angle);
    }

    /** Texels within an angle of a direction: only the rows that come so near are looked at. */
    private static void each(int w, int h, Vec3 centre, double within, Texel of) {
        double theta = Math.acos(Math.max(-1, Math.min(1, centre.y()))), cos = Math.cos(within);
        int from = Math.max(0, (int) Math.floor((theta - within) / Math.PI * h) - 1),
                to = Math.min(h, (int) Math.ceil((theta + within) / Math.PI * h) + 1);
        for (int y = from; y < to; y++) {
            double t = Math.PI * (y + 0.5) / h, sin = Math.sin(t), up = Math.cos(t);
            double solid = Environment.solid(y, w, h);
            for (int x = 0; x < w; x++) {
                double phi = ((x + 0.5) / w - 0.5) * 2 * Math.PI;
                Vec3 d = new Vec3(sin * Math.sin(phi), up, -sin * Math.cos(phi));
                double dot = d.dot(centre);
                if (dot > cos) of.at(y * w + x, d, solid, Math.acos(Math.min(1, dot)));
            }
        }
    }
}

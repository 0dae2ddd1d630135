package dasein.core.light.ball;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.SoftFill;
import dasein.core.math.Vec3;

/**
 * Gives a sun that every photograph cuts off its light back: from what it gives a surface that faces it, or from how
 * much brighter level ground is in the sun than in its shadow.
 */
public final class SunMend {
    private SunMend() {}

    /** @param irradiance what it gives a surface that faces it, mean of the colours, in the map's unit */
    public record Mended(Image map, Vec3 towards, double irradiance) {}

    /**
     * @param ratio light on level ground in the sun over that in its shadow, above 1: E_sun sin(elevation) / E_sky + 1
     * @param clipped texels that are cut off
     * @throws BadInput when nothing is cut off, or the ratio or the spot is impossible
     */
    public static Mended byRatio(Image map, boolean[] clipped, double ratio) {
        Spots.Spot s = sun(map, clipped);
        if (!(ratio > 1 && ratio < 1000))
            throw new BadInput("the light in the sun over that in its shadow must lie between 1 and 1000");
        if (s.towards().y() <= 0.02)
            throw new BadInput("what is cut off lies at or below the horizon: level ground tells nothing of it");
        Image open = without(map, s);
        while (open.width > 1024) open = open.half();
        float[] sky = new Environment(open, 0, 1).irradiance(Vec3.Y);
        double mean = (sky[0] + sky[1] + sky[2]) / 3.0;
        return byLevel(map, clipped, (ratio - 1) * mean / s.towards().y());
    }

    /** @param irradiance on a surface that faces it, mean of the colours, in the map's unit */
    public static Mended byLevel(Image map, boolean[] clipped, double irradiance) {
        Spots.Spot s = sun(map, clipped);
        if (!(irradiance > 0 && irradiance < 1e7)) throw new BadInput("the sun's level must be a number above 0");
        Image rest = without(map, s), out = rest.copy();
        double[] over = new double[3], colour = new double[3];
        double solid = 0;
        for (int i : s.texels()) {
            solid += solid(i, map);
            for (int c = 0; c < 3; c++) over[c] += Math.max(0, map.planes[c][i] - rest.planes[c][i]) * solid(i, map);
        }
        // Where all colours are cut off alike their ratio says nothing; the glow around the sun has its colour.
        double[] ring = ring(map, s);
        double mean = (ring[0] + ring[1] + ring[2]) / 3;
        double present = (over[0] + over[1] + over[2]) / 3;
        for (int c = 0; c < 3; c++) colour[c] = mean > 0 ? ring[c] / mean : 1;
        if (irradiance < present)
            throw new BadInput(
                    "the photographs show more of the sun already than that: " + present + " against " + irradiance);
        for (int i : s.texels())
            for (int c = 0; c < 3; c++) out.planes[c][i] += (float) (irradiance * colour[c] / solid);
        return new Mended(out, s.towards(), irradiance);
    }

    private static Spots.Spot sun(Image map, boolean[] clipped) {
        return Spots.of(clipped, map).stream()
                .findFirst()
                .orElseThrow(() -> new BadInput("nothing is cut off in every photograph: there is nothing to mend"));
    }

    private static double solid(int i, Image m) {
        return Environment.solid(i / m.width, m.width, m.height);
    }

    /** The map with the spot filled in from around it. */
    private static Image without(Image map, Spots.Spot s) {
        Image out = map.copy();
        boolean[] missing = new boolean[map.width * map.height];
        for (int i : s.texels()) missing[i] = true;
        SoftFill.fill(out, missing);
        return out;
    }

    /** Mean just outside the spot over what is farther out: the glow. */
    private static double[] ring(Image map, Spots.Spot s) {
        double[] near = new double[3], far = new double[3];
        double nearSum = 0, farSum = 0, r = s.across() / 2 + 2 * 2 * Math.PI / map.width;
        boolean[] spot = new boolean[map.width * map.height];
        for (int i : s.texels()) spot[i] = true;
        double far5 = Math.cos(Math.min(Math.PI, 5 * r));
        for (int i = 0; i < spot.length; i++) {
            if (spot[i]) continue;
            Vec3 d = Environment.fromUv((i % map.width + 0.5) / map.width, (i / map.width + 0.5) / map.height);
            double dot = d.dot(s.towards());
            if (dot < far5) continue;
            double angle = Math.acos(Math.max(-1, Math.min(1, dot))), k = solid(i, map);
            if (angle < 1.6 * r) {
                nearSum += k;
                for (int c = 0; c < 3; c++) near[c] += k * map.planes[c][i];
            } else if (angle < 5 * r) {
                farSum += k;
                for (int c = 0; c < 3; c++) far[c] += k * map.planes[c][i];
            }
        }
        double[] out = new double[3];
        for (int c = 0; c < 3; c++)
            out[c] = Math.max(0, near[c] / Math.max(nearSum, 1e-12) - far[c] / Math.max(farSum, 1e-12));
        return out;
    }
}

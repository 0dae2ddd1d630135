package dasein.core.light;

import dasein.core.image.Image;
import dasein.core.math.Vec3;

/**
 * What can be said of a map at a glance.
 *
 * @param stops light on level ground against that under an even sky of 1
 * @param sun whether one stands out of it
 * @param azimuthDeg, elevationDeg of that sun, the map unturned
 * @param ratio light on level ground in that sun over that in its shadow
 */
public record MapFacts(double stops, boolean sun, double azimuthDeg, double elevationDeg, double ratio) {
    /** @throws dasein.core.BadInput when a number in it is no light */
    public static MapFacts of(Image map) {
        for (float[] p : map.planes)
            for (float v : p)
                if (!(v >= -1e-3f && v < 1e7f))
                    throw new dasein.core.BadInput("the map holds negative or infinite light");
        // Some hundred columns tell all of this.
        Image small = map;
        while (small.width > 2048) small = small.half();
        SunSearch.Found f = SunSearch.in(small);
        float[] sky = new Environment(f.rest(), 0, 1).irradiance(Vec3.Y);
        double up = (sky[0] + sky[1] + sky[2]) / 3.0;
        if (f.sun() == null) return new MapFacts(stops(up), false, 0, 0, 1);
        Vec3 s = f.sun().towards();
        float[] e = f.sun().irradiance();
        double lit = Math.max(0, s.y()) * (e[0] + e[1] + e[2]) / 3.0;
        return new MapFacts(
                stops(up + lit),
                true,
                Math.toDegrees(Math.atan2(s.x(), -s.z())),
                Math.toDegrees(Math.asin(s.y())),
                up > 0 ? 1 + lit / up : 1);
    }

    private static double stops(double irradiance) {
        return Math.log(Math.max(irradiance, 1e-9) / Math.PI) / Math.log(2);
    }
}

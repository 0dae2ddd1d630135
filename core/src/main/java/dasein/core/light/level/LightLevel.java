package dasein.core.light.level;

import dasein.core.BadInput;
import dasein.core.light.Environment;
import dasein.core.light.Sun;
import java.util.ArrayList;
import java.util.List;
import org.ejml.simple.SimpleMatrix;

/**
 * The map's level and the sun's, each by colour, from dull surfaces in the plate: {@code pi L = albedo (g E_sky(n) + e
 * max(0, n . s))}, with e only where the surface lies in the sun. Solved for every colour apart by least squares
 * relative to what is seen, never below zero. A surface of unknown albedo that is seen both in sun and in shade holds e
 * / g alone; then the map keeps its level.
 */
public final class LightLevel {
    /**
     * @param map factors on the map, by colour; 1 where nothing told
     * @param sun irradiance on what faces the sun, by colour; null where no swatch lay in the sun
     * @param levelKnown whether an albedo was known
     * @param off by how many stops each swatch misses what was solved, mean of the colours
     */
    public record Result(double[] map, double[] sun, boolean levelKnown, List<Double> off) {
        public double mapStops() {
            return Math.log(mean(map)) / Math.log(2);
        }
    }

    private LightLevel() {}

    /**
     * @param sky the map, without the sun where that is a lamp of its own
     * @param sun its direction; null when there is none apart from the map
     * @throws BadInput when the swatches tell nothing
     */
    public static Result of(Environment sky, Sun sun, List<Swatch> swatches) {
        if (swatches.isEmpty()) throw new BadInput("no surface was marked in the plate");
        List<Swatch> known = swatches.stream().filter(s -> s.albedo() != null).toList();
        boolean anyLit = false;
        for (Swatch s : swatches) {
            if (!s.lit()) continue;
            anyLit = true;
            if (sun == null)
                throw new BadInput(s.of() + " is said to lie in the sun, but there is no sun apart from the map");
        }
        if (sun != null && sun.towards().y() < -0.02) throw new BadInput("the sun stands below the ground");
        double[] g = {1, 1, 1}, e = anyLit ? new double[3] : null;
        if (!known.isEmpty()) byAlbedo(sky, sun, known, g, e);
        if (anyLit && known.stream().noneMatch(Swatch::lit)) byRatio(sky, sun, swatches, g, e);
        List<Double> off = new ArrayList<>();
        for (Swatch s : swatches) off.add(s.albedo() == null ? 0.0 : off(sky, sun, s, g, e));
        return new Result(g, e, !known.isEmpty(), off);
    }

    private static void byAlbedo(Environment sky, Sun sun, List<Swatch> known, double[] g, double[] e) {
        boolean lit = known.stream().anyMatch(Swatch::lit),
                shaded = known.stream().anyMatch(s -> !s.lit());
        boolean both = lit && (shaded || normals(known) > 1);
        for (int c = 0; c < 3; c++) {
            SimpleMatrix n = new SimpleMatrix(2, 2), r = new SimpleMatrix(2, 1);
            for (Swatch s : known) {
                double y = Math.PI * s.light()[c] / s.albedo()[c];
                double a = sky.irradiance(s.normal())[c] / y, b = s.lit() ? facing(s, sun) / y : 0;
                n.set(0, 0, n.get(0, 0) + a * a);
                n.set(0, 1, n.get(0, 1) + a * b);
                n.set(1, 0, n.get(1, 0) + a * b);
                n.set(1, 1, n.get(1, 1) + b * b);
                r.set(0, 0, r.get(0, 0) + a);
                r.set(1, 0, r.get(1, 0) + b);
            }
            if (!(n.get(0, 0) > 0)) throw new BadInput("the map is black: no level makes it light the marked surface");
            if (both) {
                SimpleMatrix x = n.solve(r);
                if (x.get(0) > 0 && x.get(1) >= 0) {
                    g[c] = x.get(0);
                    e[c] = x.get(1);
                    continue;
                }
            }
            if (lit && !both)
                throw new BadInput(
                        "all that was marked lies in the sun and faces one way: mark a piece in the shade too");
            g[c] = r.get(0) / n.get(0, 0);
        }
    }

    private static long normals(List<Swatch> s) {
        return s.stream()
                .map(k -> Math.round(8 * k.normal().x()) + ","
                        + Math.round(8 * k.normal().y()) + ","
                        + Math.round(8 * k.normal().z()))
                .distinct()
                .count();
    }

    /** lit / shaded = 1 + e (n . s) / (g E_sky(n)), for the same surface. */
    private static void byRatio(Environment sky, Sun sun, List<Swatch> all, double[] g, double[] e) {
        int pairs = 0;
        for (Swatch a : all)
            for (Swatch b : all) {
                if (!a.lit() || b.lit() || !a.of().equals(b.of()) || a.normal().dot(b.normal()) < 0.98) continue;
                pairs++;
                float[] sk = sky.irradiance(b.normal());
                double facing = facing(a, sun);
                if (facing < 0.03) throw new BadInput("the sun hardly reaches " + a.of() + ", which it faces edge on");
                double sum = 0;
                for (int c = 0; c < 3; c++) {
                    double ratio = a.light()[c] / b.light()[c];
                    sum += ratio;
                    e[c] += Math.max(0, ratio - 1) * g[c] * sk[c] / facing;
                }
                if (sum <= 3) throw new BadInput(a.of() + " is darker in the sun than in the shade");
            }
        if (pairs == 0)
            throw new BadInput(
                    "what lies in the sun was not marked in the shade too, and its reflectance is not known");
        for (int c = 0; c < 3; c++) e[c] /= pairs;
    }

    private static double facing(Swatch s, Sun sun) {
        return Math.max(0, s.normal().dot(sun.towards()));
    }

    private static double off(Environment sky, Sun sun, Swatch s, double[] g, double[] e) {
        float[] sk = sky.irradiance(s.normal());
        double seen = 0, got = 0;
        for (int c = 0; c < 3; c++) {
            seen += s.light()[c];
            got += s.albedo()[c] / Math.PI * (g[c] * sk[c] + (s.lit() && e != null ? e[c] * facing(s, sun) : 0));
        }
        return Math.log(got / seen) / Math.log(2);
    }

    private static double mean(double[] v) {
        return (v[0] + v[1] + v[2]) / 3;
    }
}

package dasein.core.light.level;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.light.LightRecipe;
import dasein.core.light.LightRig;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.sun.ShadowSun;
import dasein.core.light.sun.SolarPosition;
import dasein.core.math.Vec3;
import java.util.List;
import java.util.function.IntFunction;

/** A light recipe fitted to what was marked in the plate. */
public final class PlateMatch {
    /** Half a side of what is looked at about a marked place, pixels. */
    private static final int REACH = 1;

    private PlateMatch() {}

    /** Mean light of the marked ground by colour; null where none was marked. */
    public record Ground(double[] lit, double[] shaded) {
        /** Lit over shaded, mean of the colours; 0 unless both were marked. */
        public double ratio() {
            return lit == null || shaded == null ? 0 : mean(lit) / mean(shaded);
        }
    }

    /** @param frames of the plate, linear */
    public static Ground ground(Clues clues, IntFunction<Image> frames) {
        double[][] sum = new double[2][3];
        int[] n = new int[2];
        for (Clues.Patch p : clues.patches()) {
            Image im = frames.apply(p.frame());
            int k = p.lit() ? 0 : 1;
            n[k]++;
            for (int j = -REACH; j <= REACH; j++)
                for (int i = -REACH; i <= REACH; i++)
                    for (int c = 0; c < 3; c++)
                        sum[k][c] += im.sample(p.x() + i, p.y() + j, c) / ((2 * REACH + 1) * (2 * REACH + 1));
        }
        for (int k = 0; k < 2; k++)
            for (int c = 0; c < 3; c++) sum[k][c] = Math.max(1e-6, sum[k][c] / Math.max(1, n[k]));
        return new Ground(n[0] > 0 ? sum[0] : null, n[1] > 0 ? sum[1] : null);
    }

    /** By which ground of one kind differs from place to place, stops (common practice). */
    private static final double GROUND_STOPS = 0.25;

    /**
     * How well marks tell by how many stops ground in the sun is brighter, one sigma: by how they differ among
     * themselves, and by no less than ground does.
     */
    public static double sigma(Clues clues, IntFunction<Image> frames) {
        double sum = 0;
        for (boolean lit : new boolean[] {true, false}) {
            double[] stops = clues.patches().stream()
                    .filter(p -> p.lit() == lit)
                    .mapToDouble(p -> {
                        Ground g = ground(Clues.NONE.with(p), frames);
                        return Math.log(mean(lit ? g.lit() : g.shaded())) / Math.log(2);
                    })
                    .toArray();
            double mean = java.util.Arrays.stream(stops).average().orElse(0),
                    own =
                            java.util.Arrays.stream(stops)
                                            .map(v -> (v - mean) * (v - mean))
                                            .sum()
                                    / Math.max(1, stops.length - 1);
            sum += Math.max(own, GROUND_STOPS * GROUND_STOPS) / Math.max(1, stops.length);
        }
        return Math.sqrt(sum);
    }

    /** Light on open level ground in the sun over that in its shadow; 1 without a sun apart. */
    public static double ratio(Lighting l) {
        float[] sky = l.environment().irradiance(Vec3.Y);
        double sun = 0;
        for (Sun s : l.suns())
            sun += mean(s.irradiance()) * Math.max(0, s.towards().y());
        return 1 + sun / Math.max(1e-9, mean(sky));
    }

    /** A sun of one's own that stands there, as strong and as large as the one that lit before. */
    public static LightRecipe sunAt(LightRecipe recipe, Lighting now, double azimuthDeg, double elevationDeg) {
        LightRecipe own = own(recipe, now);
        return own.with(own.sun()
                .with(new LightRecipe.Disc(
                        round(azimuthDeg, 100),
                        round(elevationDeg, 100),
                        own.sun().angleDeg())));
    }

    /** The same where the real shadows say. */
    public static LightRecipe sunSet(LightRecipe recipe, Lighting now, ShadowSun.Result found) {
        return sunAt(recipe, now, found.azimuthDeg(), found.elevationDeg());
    }

    /** The same where it stood at that place and time. @throws BadInput when that was below the ground */
    public static LightRecipe sunAt(LightRecipe recipe, Lighting now, Clues.When when) {
        SolarPosition s = when.sun();
        if (s.elevationDeg() < 0) throw new BadInput("at that time the sun stood below the ground");
        double az = s.azimuthDeg() + when.northDeg();
        return sunAt(recipe, now, az - 360 * Math.rint(az / 360), s.elevationDeg());
    }

    /** A sun of one's own of that size, degrees, that gives as much light as the one before. */
    public static LightRecipe sized(LightRecipe recipe, Lighting now, double angleDeg) {
        LightRecipe own = own(recipe, now);
        LightRecipe.Disc d = own.sun().disc();
        return own.with(own.sun()
                .with(new LightRecipe.Disc(
                        d.azimuthDeg(), d.elevationDeg(), Math.max(0.1, Math.min(90, round(angleDeg, 100))))));
    }

    /**
     * Level and colour of map and sun by surfaces of known reflectance, all in one.
     *
     * @param now the recipe's lighting in the frame where the surfaces are seen
     */
    public static LightRecipe matched(LightRecipe recipe, LightRig rig, Lighting now, List<Swatch> surfaces) {
        Sun sun = now.suns().isEmpty() ? null : now.suns().get(0);
        LightLevel.Result r = LightLevel.of(now.environment(), sun, surfaces);
        double[] was = new double[3], c = new double[3];
        for (int k = 0; k < 3; k++) {
            was[k] = recipe.colour().get(k);
            c[k] = was[k] * r.map()[k];
        }
        double by = mean(c) / mean(was);
        LightRecipe out = recipe.resting("level", round(recipe.level() * by, 10_000))
                .withColour(mean1(List.of(c[0], c[1], c[2])));
        if (r.sun() == null || sun == null) return out;
        LightRecipe.SunRecipe s = recipe.sun();
        double[] factor = r.sun().clone();
        // On the map's own sun, which the map's colour has changed too, level and colour are factors.
        if (s.source().equals("map"))
            for (int k = 0; k < 3; k++)
                factor[k] /= out.level()
                        * rig.found().irradiance()[k]
                        / was[k]
                        * out.colour().get(k);
        return out.with(sunLit(s, factor));
    }

    private static LightRecipe.SunRecipe sunLit(LightRecipe.SunRecipe s, double[] factor) {
        return new LightRecipe.SunRecipe(
                s.source(), s.disc(), round(mean(factor), 10_000), mean1(List.of(factor[0], factor[1], factor[2])));
    }

    /**
     * A sun of one's own in place of the one that lights now, where there is one; else one that makes level ground two
     * and a half times as bright as its shadow.
     */
    public static LightRecipe own(LightRecipe recipe, Lighting now) {
        LightRecipe.SunRecipe s = recipe.sun();
        if (s.source().equals("own")) return recipe;
        if (now.suns().isEmpty()) {
            double up = Math.max(0.05, Math.sin(Math.toRadians(s.elevationDeg())));
            return recipe.with(new LightRecipe.SunRecipe(
                    "own",
                    s.disc(),
                    round(1.5 * mean(now.environment().irradiance(Vec3.Y)) / up, 1000),
                    List.of(1.0, 1.0, 1.0)));
        }
        Sun is = now.suns().get(0);
        return recipe.with(new LightRecipe.SunRecipe(
                "own",
                new LightRecipe.Disc(
                        round(
                                Math.toDegrees(Math.atan2(
                                        is.towards().x(), -is.towards().z())),
                                100),
                        round(Math.toDegrees(Math.asin(Math.max(0, is.towards().y()))), 100),
                        round(Math.toDegrees(is.angleRadians()), 100)),
                round(mean(is.irradiance()), 10_000),
                colour(is.irradiance())));
    }

    /** The map turned until its own sun stands over the azimuth that the real shadows say. */
    public static LightRecipe turned(LightRecipe recipe, LightRig rig, ShadowSun.Result found) {
        if (rig.found() == null) throw new BadInput("no sun stands out of the map: turn it by hand");
        Vec3 s = rig.found().towards();
        double az = Math.toDegrees(Math.atan2(s.x(), -s.z())), turn = found.azimuthDeg() - az;
        return recipe.resting("turn", round(turn - 360 * Math.rint(turn / 360), 100));
    }

    /**
     * Level and sun by the ground: its shadow tells the sky, what is lit beside it the sun. The map keeps its colour,
     * for nobody knows the ground's; the sun's colour against it follows from both.
     *
     * @param albedo of the ground; 0 when not known: then only the sun is set against the map
     */
    public static LightRecipe levelled(LightRecipe recipe, LightRig rig, Lighting now, Ground g, double albedo) {
        if (g.lit() == null && g.shaded() == null) throw new BadInput("no ground was marked in the plate");
        if (albedo == 0 && g.ratio() == 0)
            throw new BadInput("mark ground in the sun and in the shade, or say its reflectance");
        float[] sky = now.environment().irradiance(Vec3.Y);
        double[] e = null;
        Sun sun = now.suns().isEmpty() ? null : now.suns().get(0);
        if (g.ratio() > 0) {
            if (sun == null) throw new BadInput("there is no sun apart from the map whose strength could be set");
            List<Swatch> pair = List.of(
                    new Swatch("the ground", g.lit(), Vec3.Y, null, true),
                    new Swatch("the ground", g.shaded(), Vec3.Y, null, false));
            e = LightLevel.of(now.environment(), sun, pair).sun();
        } else if (sun != null) {
            e = new double[] {sun.irradiance()[0], sun.irradiance()[1], sun.irradiance()[2]};
        }
        double k = 1;
        if (albedo > 0) {
            double light = mean(sky);
            if (g.shaded() == null && e != null)
                light += mean(e) * Math.max(0, sun.towards().y());
            k = Math.PI * mean(g.shaded() != null ? g.shaded() : g.lit()) / albedo / light;
        }
        LightRecipe out = recipe.resting("level", round(recipe.level() * k, 10_000));
        if (e == null) return out;
        LightRecipe.SunRecipe s = recipe.sun();
        double[] factor = new double[3];
        // On the map's own sun level and colour are factors.
        for (int c = 0; c < 3; c++)
            factor[c] = k
                    * e[c]
                    / (s.source().equals("map") ? out.level() * rig.found().irradiance()[c] : 1);
        return out.with(sunLit(s, factor));
    }

    private static List<Double> colour(float[] e) {
        return mean1(List.of((double) e[0], (double) e[1], (double) e[2]));
    }

    private static List<Double> mean1(List<Double> v) {
        double m = (v.get(0) + v.get(1) + v.get(2)) / 3;
        return m <= 0
                ? List.of(1.0, 1.0, 1.0)
                : v.stream().map(x -> round(x / m, 1000)).toList();
    }

    private static double round(double v, double by) {
        return Math.rint(v * by) / by;
    }

    private static double mean(float[] v) {
        return (v[0] + v[1] + v[2]) / 3.0;
    }

    private static double mean(double[] v) {
        return (v[0] + v[1] + v[2]) / 3;
    }
}

package dasein.core.light;

import dasein.core.image.Image;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.List;

/**
 * A light recipe made ready: the map is searched for its sun and its tables are laid once, then the lighting of any
 * frame costs next to nothing.
 */
public final class LightRig {
    private final LightRecipe recipe;
    /** The map's own sun, unturned and at its own level; null where nothing stands out or it is left in. */
    private final Sun found;
    /** The map as it lights, unturned and at its own level. */
    private final Environment sky;

    /** @param map the picture named by the recipe's environment, or null for the even grey sky */
    public LightRig(LightRecipe recipe, Image map) {
        this.recipe = recipe;
        map = map == null ? even() : CleanMap.of(map);
        List<Double> colour = recipe.colour();
        if (recipe.sun().source().equals("none")) {
            found = null;
            sky = new Environment(coloured(map, colour), 0, 1);
        } else {
            SunSearch.Found f = SunSearch.in(map);
            found = f.sun() == null
                    ? null
                    : new Sun(
                            f.sun().towards(),
                            f.sun().angleRadians(),
                            tinted(f.sun().irradiance(), 1, colour));
            sky = new Environment(coloured(f.rest(), colour), 0, 1);
        }
    }

    private static Image coloured(Image map, List<Double> colour) {
        if (colour.stream().allMatch(c -> c == 1)) return map;
        Image out = map.copy();
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < out.planes[c].length; i++)
                out.planes[c][i] *= colour.get(c).floatValue();
        return out;
    }

    /** The map's own sun, unturned and at its own level; null where nothing stands out or it is left in. */
    public Sun found() {
        return found;
    }

    /** The map without its sun, unturned and at its own level. */
    public Environment sky() {
        return sky;
    }

    /** Whether it is the same in all frames. */
    public boolean still() {
        return recipe.keys().isEmpty();
    }

    /** @param rate frames a second */
    public Lighting at(double frame, double rate) {
        LightRecipe r = recipe.at(frame, rate);
        LightRecipe.SunRecipe sun = r.sun();
        double turn = Math.toRadians(r.turnDeg());
        Sun s =
                switch (sun.source()) {
                    case "own" ->
                        new Sun(
                                Sun.direction(Math.toRadians(sun.elevationDeg()), Math.toRadians(sun.azimuthDeg())),
                                Math.toRadians(sun.angleDeg()),
                                tinted(new float[] {1, 1, 1}, sun.level(), sun.colour()));
                    case "map" ->
                        found == null
                                ? null
                                : new Sun(
                                        turned(found.towards(), turn),
                                        found.angleRadians(),
                                        tinted(found.irradiance(), sun.level() * r.level(), sun.colour()));
                    default -> null;
                };
        return new Lighting(sky.turned(turn, r.level()), s == null ? List.of() : List.of(s));
    }

    private static Vec3 turned(Vec3 d, double turn) {
        return Quat.axisAngle(Vec3.Y, -turn).rotate(d);
    }

    private static float[] tinted(float[] e, double k, List<Double> colour) {
        float[] out = new float[3];
        for (int c = 0; c < 3; c++) out[c] = (float) (e[c] * k * colour.get(c));
        return out;
    }

    private static Image even() {
        Image im = new Image(32, 16, 3);
        for (float[] p : im.planes) for (int i = 0; i < p.length; i++) p[i] = i < p.length / 2 ? 0.32f : 0.1f;
        return im;
    }
}

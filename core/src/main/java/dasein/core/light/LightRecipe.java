package dasein.core.light;

import dasein.core.image.Image;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.List;

/**
 * What lights the performers.
 *
 * @param environment lat-long picture; empty for an even grey sky
 * @param turnDeg turns it about the vertical; positive moves what was straight ahead (-Z) to the right (+X)
 * @param level multiplies it
 * @param sun source {@code map} (found in the picture and taken out of it), {@code own} (set by hand; the picture's is
 *     taken out) or {@code none} (left in the picture)
 */
public record LightRecipe(String environment, double turnDeg, double level, SunRecipe sun) {

    /**
     * @param azimuthDeg 0 straight ahead (-Z), 90 to the right (+X); {@code angleDeg} across the disc, 0.5 for a clear
     *     sky, tens for a veiled one
     * @param level for {@code own} the irradiance on a surface that faces it, for {@code map} a factor; {@code colour}
     *     a multiplier of mean 1
     */
    public record SunRecipe(
            String source,
            double azimuthDeg,
            double elevationDeg,
            double angleDeg,
            double level,
            List<Double> colour) {}

    public static final LightRecipe BLANK =
            new LightRecipe("", 0, 1, new SunRecipe("map", -45, 40, 3, 1, List.of(1.0, 1.0, 1.0)));

    public LightRecipe withEnvironment(String other) {
        return new LightRecipe(other, turnDeg, level, sun);
    }

    /** @param map the picture named by {@link #environment}, or null */
    public Lighting build(Image map) {
        double turn = Math.toRadians(turnDeg);
        if (map == null) map = even();
        if (sun.source().equals("none")) return new Lighting(new Environment(map, turn, level), List.of());
        SunSearch.Found found = SunSearch.in(map);
        Sun s = null;
        if (sun.source().equals("own")) {
            s = new Sun(
                    Sun.direction(Math.toRadians(sun.elevationDeg()), Math.toRadians(sun.azimuthDeg())),
                    Math.toRadians(sun.angleDeg()),
                    tinted(new float[] {1, 1, 1}, sun.level()));
        } else if (found.sun() != null) {
            Vec3 towards = Quat.axisAngle(Vec3.Y, -turn).rotate(found.sun().towards());
            s = new Sun(towards, found.sun().angleRadians(), tinted(found.sun().irradiance(), sun.level() * level));
        }
        return new Lighting(new Environment(found.rest(), turn, level), s == null ? List.of() : List.of(s));
    }

    private float[] tinted(float[] e, double k) {
        float[] out = new float[3];
        for (int c = 0; c < 3; c++) out[c] = (float) (e[c] * k * sun.colour().get(c));
        return out;
    }

    private static Image even() {
        Image im = new Image(32, 16, 3);
        for (float[] p : im.planes) for (int i = 0; i < p.length; i++) p[i] = i < p.length / 2 ? 0.32f : 0.1f;
        return im;
    }
}

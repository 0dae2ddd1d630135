package dasein.core.light.lamp;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import dasein.core.BadInput;
import dasein.core.cast.Tie;
import dasein.core.key.Curve;
import dasein.core.key.Keyed;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * A lamp as a person sets it.
 *
 * @param on whether it shines; @param real whether it stood on set, so that the plate shows its light already
 * @param tie what it goes along with: its place and heading are then in the frame of that; null for the set
 */
public record LampRecipe(
        int id,
        String name,
        Lamp.Kind kind,
        boolean on,
        boolean real,
        @JsonUnwrapped Stand stand,
        @JsonUnwrapped Shape shape,
        @JsonUnwrapped Shine shine,
        Tie tie,
        Map<String, Curve> keys)
        implements Keyed<LampRecipe> {
    public static final List<String> CHANNELS = List.of("x", "y", "z", "heading", "tilt", "level");

    /** Metres; degrees: heading 0 along +Z and 90 along +X as performers have it, tilt 90 straight up, -90 down. */
    public record Stand(double x, double y, double z, double headingDeg, double tiltDeg) {}

    /** Metres; @param coneDeg across a spot's cone; @param softness part of it over which it falls off, 0 to 1 */
    public record Shape(double width, double height, double coneDeg, double softness) {}

    /**
     * @param level irradiance a metre off; @param kelvin 0 for white; @param colour multiplies it; @param picture name
     *     or hash of one that a rectangle or disc shines with, white as bright as the level says; empty for none
     */
    public record Shine(double level, double kelvin, List<Double> colour, String picture) {
        public Shine {
            if (picture == null) picture = "";
        }

        public Shine(double level, double kelvin, List<Double> colour) {
            this(level, kelvin, colour, "");
        }

        public Shine showing(String other) {
            return new Shine(level, kelvin, colour, other);
        }
    }

    public LampRecipe {
        Map<String, Curve> curves = new TreeMap<>();
        if (keys != null)
            keys.forEach((channel, c) -> {
                if (!CHANNELS.contains(channel)) throw new BadInput("a lamp has no number called " + channel);
                if (!c.empty()) curves.put(channel, c);
            });
        keys = Collections.unmodifiableMap(curves);
    }

    /** Two metres over a place, shining down. */
    public static LampRecipe fresh(int id, Lamp.Kind kind, double x, double z) {
        return new LampRecipe(
                id,
                "lamp " + id,
                kind,
                true,
                false,
                new Stand(x, 2, z, 0, -90),
                new Shape(0.5, 0.5, 60, 0.3),
                new Shine(4, 0, List.of(1.0, 1.0, 1.0)),
                null,
                Map.of());
    }

    @Override
    public boolean has(String channel) {
        return CHANNELS.contains(channel);
    }

    @Override
    public double rest(String channel) {
        return switch (channel) {
            case "x" -> stand.x;
            case "y" -> stand.y;
            case "z" -> stand.z;
            case "heading" -> stand.headingDeg;
            case "tilt" -> stand.tiltDeg;
            default -> shine.level;
        };
    }

    @Override
    public LampRecipe resting(String channel, double v) {
        Stand s = stand;
        return switch (channel) {
            case "x" -> with(new Stand(v, s.y, s.z, s.headingDeg, s.tiltDeg));
            case "y" -> with(new Stand(s.x, v, s.z, s.headingDeg, s.tiltDeg));
            case "z" -> with(new Stand(s.x, s.y, v, s.headingDeg, s.tiltDeg));
            case "heading" -> with(new Stand(s.x, s.y, s.z, v, s.tiltDeg));
            case "tilt" -> with(new Stand(s.x, s.y, s.z, s.headingDeg, v));
            default -> with(new Shine(v, shine.kelvin, shine.colour, shine.picture));
        };
    }

    public LampRecipe with(Stand s) {
        return new LampRecipe(id, name, kind, on, real, s, shape, shine, tie, keys);
    }

    public LampRecipe with(Shape s) {
        return new LampRecipe(id, name, kind, on, real, stand, s, shine, tie, keys);
    }

    public LampRecipe with(Shine s) {
        return new LampRecipe(id, name, kind, on, real, stand, shape, s, tie, keys);
    }

    public LampRecipe with(Tie t) {
        return new LampRecipe(id, name, kind, on, real, stand, shape, shine, t, keys);
    }

    /** Named, of a kind, on or off, of the set or added. */
    public LampRecipe as(String other, Lamp.Kind k, boolean shines, boolean stood) {
        return new LampRecipe(id, other, k, shines, stood, stand, shape, shine, tie, keys);
    }

    @Override
    public Curve curve(String channel) {
        return keys.getOrDefault(channel, Curve.NONE);
    }

    @Override
    public LampRecipe with(String channel, Curve curve) {
        Map<String, Curve> all = new TreeMap<>(keys);
        all.put(channel, curve);
        return new LampRecipe(id, name, kind, on, real, stand, shape, shine, tie, all);
    }

    /** @param rate frames a second; @param carrier of what it goes along with, in the set */
    public Lamp at(double frame, double rate, Pose carrier) {
        double heading = Math.toRadians(now("heading", frame, rate)), tilt = Math.toRadians(now("tilt", frame, rate));
        Quat turn = Quat.axisAngle(Vec3.Y, heading).times(Quat.axisAngle(Vec3.X, -tilt));
        Vec3 at = new Vec3(now("x", frame, rate), now("y", frame, rate), now("z", frame, rate));
        if (tie == null || tie.turns()) turn = carrier.rotation().times(turn);
        double level = Math.max(0, now("level", frame, rate));
        double[] glow = shine.kelvin > 0 ? Kelvin.colour(shine.kelvin) : new double[] {1, 1, 1};
        float[] e = new float[3];
        for (int c = 0; c < 3; c++) e[c] = (float) (level * glow[c] * shine.colour.get(c));
        double half = Math.toRadians(Math.max(1, Math.min(179, shape.coneDeg))) / 2;
        return new Lamp(
                kind,
                carrier.toWorld(at),
                turn.rotate(Vec3.Z),
                turn.rotate(Vec3.X),
                Math.max(1e-3, shape.width),
                Math.max(1e-3, shape.height),
                Math.cos(half),
                Math.cos(half * (1 - Math.max(0, Math.min(1, shape.softness)))),
                e,
                real);
    }

    private double now(String channel, double frame, double rate) {
        return curve(channel).at(frame, rest(channel), rate);
    }
}

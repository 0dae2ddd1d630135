package dasein.core.light;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import dasein.core.BadInput;
import dasein.core.key.Curve;
import dasein.core.key.Keyed;
import dasein.core.light.blocker.Blocker;
import dasein.core.light.lamp.LampRecipe;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * What lights the performers.
 *
 * @param environment lat-long picture; empty for an even grey sky
 * @param turnDeg turns it about the vertical; positive moves what was straight ahead (-Z) to the right (+X)
 * @param level multiplies it, and the sun that is found in it
 * @param sun source {@code map} (found in the picture and taken out of it), {@code own} (set by hand; the picture's is
 *     taken out) or {@code none} (left in the picture)
 * @param colour multiplies it too, three numbers of mean 1
 * @param lamps that stand in the set; @param blockers that keep light away
 * @param clues what was marked in the plate to find all this by
 * @param keys curves of those of {@link #CHANNELS} that change over the shot: clouds, a sun that sets
 */
public record LightRecipe(
        String environment,
        double turnDeg,
        double level,
        List<Double> colour,
        SunRecipe sun,
        List<LampRecipe> lamps,
        List<Blocker> blockers,
        Clues clues,
        Map<String, Curve> keys)
        implements Keyed<LightRecipe> {
    private static final List<Double> WHITE = List.of(1.0, 1.0, 1.0);

    public static final List<String> CHANNELS =
            List.of("turn", "level", "sunAzimuth", "sunElevation", "sunSize", "sunLevel");

    /** Those that are called otherwise. */
    private static final Map<String, String> CALLED = Map.of(
            "sunAzimuth",
            "azimuth of the sun",
            "sunElevation",
            "elevation of the sun",
            "sunSize",
            "size of the sun",
            "sunLevel",
            "level of the sun");

    /**
     * @param azimuthDeg 0 straight ahead (-Z), 90 to the right (+X); {@code angleDeg} across the disc, 0.5 for a clear
     *     sky, tens for a veiled one
     * @param level for {@code own} the irradiance on a surface that faces it, for {@code map} a factor; {@code colour}
     *     a multiplier of mean 1
     */
    public record SunRecipe(String source, @JsonUnwrapped Disc disc, double level, List<Double> colour) {
        public SunRecipe(
                String source,
                double azimuthDeg,
                double elevationDeg,
                double angleDeg,
                double level,
                List<Double> colour) {
            this(source, new Disc(azimuthDeg, elevationDeg, angleDeg), level, colour);
        }

        public SunRecipe with(Disc other) {
            return new SunRecipe(source, other, level, colour);
        }

        public double azimuthDeg() {
            return disc.azimuthDeg;
        }

        public double elevationDeg() {
            return disc.elevationDeg;
        }

        public double angleDeg() {
            return disc.angleDeg;
        }
    }

    /** Where a sun stands, and how large it is seen. */
    public record Disc(double azimuthDeg, double elevationDeg, double angleDeg) {}

    public static final LightRecipe BLANK =
            new LightRecipe("", 0, 1, new SunRecipe("map", -45, 40, 3, 1, List.of(1.0, 1.0, 1.0)));

    public LightRecipe {
        if (colour == null) colour = WHITE;
        lamps = lamps == null ? List.of() : List.copyOf(lamps);
        blockers = blockers == null ? List.of() : List.copyOf(blockers);
        if (clues == null) clues = Clues.NONE;
        Map<String, Curve> curves = new TreeMap<>();
        if (keys != null)
            keys.forEach((channel, c) -> {
                if (!CHANNELS.contains(channel)) throw new BadInput("the light has no number called " + channel);
                if (!c.empty()) curves.put(channel, c);
            });
        keys = Collections.unmodifiableMap(curves);
    }

    public LightRecipe(String environment, double turnDeg, double level, SunRecipe sun) {
        this(environment, turnDeg, level, WHITE, sun, List.of(), List.of(), Clues.NONE, Map.of());
    }

    public LightRecipe withEnvironment(String other) {
        return new LightRecipe(other, turnDeg, level, colour, sun, lamps, blockers, clues, keys);
    }

    /** As it is in a frame: nothing is keyed any more. @param rate frames a second */
    public LightRecipe at(double frame, double rate) {
        LightRecipe r = new LightRecipe(environment, turnDeg, level, colour, sun, lamps, blockers, clues, Map.of());
        for (Map.Entry<String, Curve> e : keys.entrySet())
            r = r.resting(e.getKey(), held(e.getKey(), e.getValue().at(frame, rest(e.getKey()), rate)));
        return r;
    }

    /** A curve may swing beyond what there is: no light is less than none, no sun below the ground. */
    private static double held(String channel, double v) {
        return switch (channel) {
            case "level", "sunLevel" -> Math.max(0, v);
            case "sunElevation" -> Math.max(0, Math.min(90, v));
            case "sunSize" -> Math.max(0.1, Math.min(90, v));
            default -> v;
        };
    }

    @Override
    public String name() {
        return "the light";
    }

    @Override
    public boolean has(String channel) {
        return CHANNELS.contains(channel);
    }

    @Override
    public String called(String channel) {
        return CALLED.getOrDefault(channel, channel);
    }

    @Override
    public double rest(String channel) {
        return switch (channel) {
            case "turn" -> turnDeg;
            case "level" -> level;
            case "sunAzimuth" -> sun.disc.azimuthDeg;
            case "sunElevation" -> sun.disc.elevationDeg;
            case "sunSize" -> sun.disc.angleDeg;
            default -> sun.level;
        };
    }

    @Override
    public LightRecipe resting(String channel, double v) {
        Disc d = sun.disc;
        return switch (channel) {
            case "turn" -> new LightRecipe(environment, v, level, colour, sun, lamps, blockers, clues, keys);
            case "level" -> new LightRecipe(environment, turnDeg, v, colour, sun, lamps, blockers, clues, keys);
            case "sunAzimuth" -> with(new Disc(v, d.elevationDeg, d.angleDeg));
            case "sunElevation" -> with(new Disc(d.azimuthDeg, v, d.angleDeg));
            case "sunSize" -> with(new Disc(d.azimuthDeg, d.elevationDeg, v));
            default -> with(new SunRecipe(sun.source, d, v, sun.colour));
        };
    }

    private LightRecipe with(Disc d) {
        return with(sun.with(d));
    }

    public LightRecipe with(SunRecipe other) {
        return new LightRecipe(environment, turnDeg, level, colour, other, lamps, blockers, clues, keys);
    }

    public LightRecipe withColour(List<Double> other) {
        return new LightRecipe(environment, turnDeg, level, other, sun, lamps, blockers, clues, keys);
    }

    public LightRecipe withLamps(List<LampRecipe> other) {
        return new LightRecipe(environment, turnDeg, level, colour, sun, other, blockers, clues, keys);
    }

    /** Names of the pictures that lamps show and flags are cut out by. */
    public Set<String> pictures() {
        Set<String> out = new TreeSet<>();
        for (LampRecipe l : lamps) out.add(l.shine().picture());
        for (Blocker b : blockers) out.add(b.picture());
        out.remove("");
        return out;
    }

    public LightRecipe withBlockers(List<Blocker> other) {
        return new LightRecipe(environment, turnDeg, level, colour, sun, lamps, other, clues, keys);
    }

    public LightRecipe with(Clues other) {
        return new LightRecipe(environment, turnDeg, level, colour, sun, lamps, blockers, other, keys);
    }

    @Override
    public Curve curve(String channel) {
        return keys.getOrDefault(channel, Curve.NONE);
    }

    @Override
    public LightRecipe with(String channel, Curve curve) {
        Map<String, Curve> all = new TreeMap<>(keys);
        all.put(channel, curve);
        return new LightRecipe(environment, turnDeg, level, colour, sun, lamps, blockers, clues, all);
    }
}

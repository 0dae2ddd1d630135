package dasein.core.ground;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import dasein.core.BadInput;
import dasein.core.key.Curve;
import dasein.core.key.Keyed;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * Something that was really there, as simple geometry in the set's frame.
 *
 * @param stand where it stands; @param size its size; @param mirror how it mirrors: in documents their numbers stand
 *     among the others
 * @param steps of stairs
 * @param corners of a polygon on its level: x, z one after the other, against its own place
 * @param roles what it does in the passes
 * @param model of a piece that is one, scaled to its height
 * @param follows number of the thing that carries it, 0 for none; @param builtIn frame in which its place is meant
 * @param curves by channel, of those of {@link #CHANNELS} in which it moves; over its own place they count
 */
public record Piece(
        int id,
        String name,
        Kind kind,
        @JsonUnwrapped Stand stand,
        @JsonUnwrapped Size size,
        int steps,
        List<Double> corners,
        List<Role> roles,
        @JsonUnwrapped Mirror mirror,
        String model,
        int follows,
        int builtIn,
        Map<String, Curve> curves)
        implements Keyed<Piece> {
    public static final List<String> CHANNELS = List.of("x", "y", "z", "heading");

    private static final double MOST = 100_000;
    private static final int MOST_STEPS = 200, MOST_CORNERS = 400;

    /**
     * @param x place of its foot's middle, metres; @param y height of its foot over the ground
     * @param headingDeg turned about the upright, as performers are
     */
    public record Stand(double x, double y, double z, double headingDeg) {}

    /**
     * @param width across, from left to right; @param height upwards; @param depth from front to back; what a kind does
     *     not have is not used
     */
    public record Size(double width, double height, double depth) {}

    /** @param roughness of what it mirrors, 0 to 1; @param strength 0 to 1 */
    public record Mirror(double roughness, double strength) {}

    public enum Kind {
        /** A rectangle that lies. */
        FLOOR,
        /** A rectangle that stands. */
        WALL,
        BOX,
        CYLINDER,
        /** Rises from front to back. */
        WEDGE,
        STAIRS,
        SPHERE,
        /** Any outline that lies. */
        POLYGON,
        /** Through the solved points. */
        TERRAIN,
        /** A scanned or measured model. */
        MODEL,
        /** A region of the ground, a rectangle or an outline, that opens onto what is below. */
        HOLE
    }

    public enum Role {
        /** Takes shadow and given light. */
        SHADOW,
        /** Mirrors performers. */
        REFLECTION,
        /** Gives the plate's colour back to performers. */
        BOUNCE,
        /** Hides what is behind it. */
        HIDE
    }

    public Piece {
        curves = curves == null ? Map.of() : Collections.unmodifiableMap(new TreeMap<>(curves));
        for (double v : new double[] {stand.x, stand.y, stand.z, stand.headingDeg, size.width, size.height, size.depth})
            if (!(Math.abs(v) < MOST)) throw new BadInput(name + " has a number that cannot be");
        if (size.width < 0 || size.height < 0 || size.depth < 0)
            throw new BadInput(name + " must not be smaller than nothing");
        if (steps < 0 || steps > MOST_STEPS)
            throw new BadInput(name + " must have between 0 and " + MOST_STEPS + " steps");
        if (corners.size() % 2 != 0 || corners.size() > 2 * MOST_CORNERS)
            throw new BadInput(name + " has an outline that cannot be");
        if (!(mirror.roughness >= 0 && mirror.roughness <= 1 && mirror.strength >= 0 && mirror.strength <= 1))
            throw new BadInput("roughness and strength of " + name + " must lie between 0 and 1");
    }

    public Piece(
            int id,
            String name,
            Kind kind,
            double x,
            double y,
            double z,
            double headingDeg,
            double width,
            double height,
            double depth,
            int steps,
            List<Double> corners,
            List<Role> roles,
            double roughness,
            double strength) {
        this(
                id,
                name,
                kind,
                new Stand(x, y, z, headingDeg),
                new Size(width, height, depth),
                steps,
                corners,
                roles,
                new Mirror(roughness, strength),
                "",
                0,
                0,
                Map.of());
    }

    public boolean does(Role r) {
        return roles.contains(r);
    }

    public double x() {
        return stand.x;
    }

    public double y() {
        return stand.y;
    }

    public double z() {
        return stand.z;
    }

    public double headingDeg() {
        return stand.headingDeg;
    }

    public double width() {
        return size.width;
    }

    public double height() {
        return size.height;
    }

    public double depth() {
        return size.depth;
    }

    public double roughness() {
        return mirror.roughness;
    }

    public double strength() {
        return mirror.strength;
    }

    public Piece at(double nx, double ny, double nz) {
        return at(new Stand(nx, ny, nz, headingDeg()));
    }

    public Piece at(Stand s) {
        return new Piece(id, name, kind, s, size, steps, corners, roles, mirror, model, follows, builtIn, curves);
    }

    /** Of another size and outline. */
    public Piece shaped(Size s, List<Double> outline) {
        return new Piece(id, name, kind, stand, s, steps, outline, roles, mirror, model, follows, builtIn, curves);
    }

    public Piece withModel(String other) {
        return new Piece(id, name, kind, stand, size, steps, corners, roles, mirror, other, follows, builtIn, curves);
    }

    public boolean moves() {
        return !curves.isEmpty();
    }

    /** Where its own curves put it at a (fractional) frame. */
    public Stand stand(double frame, double rate) {
        return new Stand(
                curve("x").at(frame, stand.x, rate),
                curve("y").at(frame, stand.y, rate),
                curve("z").at(frame, stand.z, rate),
                curve("heading").at(frame, stand.headingDeg, rate));
    }

    /** Without any key. */
    public Piece still() {
        return with(Map.of());
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
            default -> stand.headingDeg;
        };
    }

    @Override
    public Piece resting(String channel, double v) {
        return at(
                switch (channel) {
                    case "x" -> new Stand(v, stand.y, stand.z, stand.headingDeg);
                    case "y" -> new Stand(stand.x, v, stand.z, stand.headingDeg);
                    case "z" -> new Stand(stand.x, stand.y, v, stand.headingDeg);
                    default -> new Stand(stand.x, stand.y, stand.z, v);
                });
    }

    @Override
    public Curve curve(String channel) {
        return curves.getOrDefault(channel, Curve.NONE);
    }

    @Override
    public Piece with(String channel, Curve curve) {
        Map<String, Curve> all = new TreeMap<>(curves);
        if (curve.empty()) all.remove(channel);
        else all.put(channel, curve);
        return with(all);
    }

    private Piece with(Map<String, Curve> all) {
        return new Piece(id, name, kind, stand, size, steps, corners, roles, mirror, model, follows, builtIn, all);
    }
}

package dasein.core.ground;

import dasein.core.BadInput;
import java.util.List;

/**
 * Something that was really there, as simple geometry in the set's frame.
 *
 * @param x place of its foot's middle, metres; @param y height of its foot over the ground
 * @param headingDeg turned about the upright, as performers are
 * @param width across, from left to right; @param height upwards; @param depth from front to back; what a kind does not
 *     have is not used
 * @param steps of stairs
 * @param corners of a polygon on its level: x, z one after the other, against its own place
 * @param roles what it does in the passes
 * @param model of a piece that is one, scaled to its height
 * @param follows number of the thing that carries it, 0 for none; @param builtIn frame in which its place is meant
 * @param keys where it stands in some frames, rising, between which it moves evenly; empty for one that stands
 * @param roughness of what it mirrors, 0 to 1; @param strength 0 to 1
 */
public record Piece(
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
        double strength,
        String model,
        int follows,
        int builtIn,
        List<Key> keys) {
    private static final double MOST = 100_000;
    private static final int MOST_STEPS = 200, MOST_CORNERS = 400;

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
        for (double v : new double[] {x, y, z, headingDeg, width, height, depth})
            if (!(Math.abs(v) < MOST)) throw new BadInput(name + " has a number that cannot be");
        if (width < 0 || height < 0 || depth < 0) throw new BadInput(name + " must not be smaller than nothing");
        if (steps < 0 || steps > MOST_STEPS)
            throw new BadInput(name + " must have between 0 and " + MOST_STEPS + " steps");
        if (corners.size() % 2 != 0 || corners.size() > 2 * MOST_CORNERS)
            throw new BadInput(name + " has an outline that cannot be");
        if (!(roughness >= 0 && roughness <= 1 && strength >= 0 && strength <= 1))
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
                x,
                y,
                z,
                headingDeg,
                width,
                height,
                depth,
                steps,
                corners,
                roles,
                roughness,
                strength,
                "",
                0,
                0,
                List.of());
    }

    public boolean does(Role r) {
        return roles.contains(r);
    }

    public Piece at(double nx, double ny, double nz) {
        return new Piece(
                id,
                name,
                kind,
                nx,
                ny,
                nz,
                headingDeg,
                width,
                height,
                depth,
                steps,
                corners,
                roles,
                roughness,
                strength,
                model,
                follows,
                builtIn,
                keys);
    }

    public Piece withModel(String other) {
        return new Piece(
                id,
                name,
                kind,
                x,
                y,
                z,
                headingDeg,
                width,
                height,
                depth,
                steps,
                corners,
                roles,
                roughness,
                strength,
                other,
                follows,
                builtIn,
                keys);
    }

    public Piece withKeys(List<Key> k) {
        return new Piece(
                id,
                name,
                kind,
                x,
                y,
                z,
                headingDeg,
                width,
                height,
                depth,
                steps,
                corners,
                roles,
                roughness,
                strength,
                model,
                follows,
                builtIn,
                List.copyOf(k));
    }

    /** Its place in a frame. */
    public record Key(int frame, double x, double y, double z, double headingDeg) {}
}

package dasein.core.ground;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import dasein.core.BadInput;
import java.util.List;
import java.util.function.Consumer;

/**
 * How the set's frame is found, and what stands in it. Points are named by number: those of the solve by their track's,
 * picked ones from {@link PickedPoint#FIRST_ID}.
 *
 * @param groundPoints numbers of points that lie on the ground, three or more; empty: proposed from all points
 * @param axes where its origin is and which way it looks; @param film of water on the ground: in documents their
 *     numbers stand among the others
 * @param yardsticks known distances; the scale is their least-squares fit
 * @param catcher the part of the ground that receives shadow, in metres
 * @param points put by hand; @param edges drawn along real edges; @param uprights pairs of points one above the other
 * @param pieces what was really there
 * @param levels of the camera as they were noted
 * @param colours frames whose colours the stand-ins have; empty: the one that is rendered, and others for what that
 *     does not see
 */
public record SetRecipe(
        List<Integer> groundPoints,
        @JsonUnwrapped Axes axes,
        List<Yardstick> yardsticks,
        Catcher catcher,
        @JsonUnwrapped Film film,
        List<PickedPoint> points,
        List<Edge> edges,
        List<Upright> uprights,
        List<Piece> pieces,
        List<ColourFrame> colours,
        List<Level> levels) {

    /**
     * @param originPoint point whose foot on the ground becomes the origin; 0: the ground under the middle of the
     *     picture
     * @param headingFrom point from which, and {@code headingTo} towards which, -Z runs; 0: the way the first camera
     *     looks
     * @param turnDeg by which all is turned about the origin at the end, degrees
     */
    public record Axes(int originPoint, int headingFrom, int headingTo, double turnDeg) {
        private static final Axes PROPOSED = new Axes(0, 0, 0, 0);
    }

    /** @param wet how the ground mirrors, 0 dry to 1 water; {@code wetRoughness} of the film, 0 to 1 */
    public record Film(double wet, double wetRoughness) {}

    /**
     * A known distance.
     *
     * @param from a point, or {@link #CAMERA} for the camera in its first frame; @param to a point, or {@link #GROUND}
     *     for the foot of the first on the ground
     * @param weight by how much it counts against others
     */
    public record Yardstick(String name, int from, int to, double metres, Double weight) {
        public static final int GROUND = 0, CAMERA = -1;

        public Yardstick {
            // Documents from before weights say nothing of them.
            if (weight == null) weight = 1.0;
            if (!(weight > 0 && weight <= 1000))
                throw new BadInput("the weight of the yardstick " + name + " must lie between 0 and 1000");
        }

        public Yardstick(String name, int from, int to, double metres) {
            this(name, from, to, metres, 1.0);
        }
    }

    /**
     * A rectangle on the ground: its middle, and its size along X and Z.
     *
     * @param goesOn whether the ground goes on beyond it and hides what is sunk there; documents from before say
     *     nothing of it, and it did not
     */
    public record Catcher(double x, double z, double width, double depth, Boolean goesOn) {
        public Catcher {
            goesOn = goesOn != null && goesOn;
        }

        /** Beyond which there is nothing. */
        public Catcher(double x, double z, double width, double depth) {
            this(x, z, width, depth, false);
        }

        /** The same elsewhere. */
        public Catcher at(double otherX, double otherZ) {
            return new Catcher(otherX, otherZ, width, depth, goesOn);
        }
    }

    /** A line in a frame along a real edge, ends in pixels. */
    public record Edge(Axis axis, int frame, double fromX, double fromY, double toX, double toY) {
        public Edge {
            if (!(Math.hypot(toX - fromX, toY - fromY) > 2))
                throw new BadInput("a line along an edge is shorter than two pixels");
        }
    }

    /** Along which of the set's axes an edge runs: to the right, upwards, in depth. */
    public enum Axis {
        X,
        Y,
        Z
    }

    /** @param picture painted in place of the plate's frame, empty for that as it is */
    public record ColourFrame(int frame, String picture) {}

    /**
     * How a level on the camera read in a frame, degrees.
     *
     * @param rollDeg positive when the camera leans to its right, so that the horizon sinks to the left
     * @param tiltDeg positive upwards; null where only the roll was noted
     */
    public record Level(int frame, double rollDeg, Double tiltDeg) {
        public Level {
            if (!(Math.abs(rollDeg) <= 180) || tiltDeg != null && !(Math.abs(tiltDeg) <= 90))
                throw new BadInput("a level reads at most 180 degrees of roll and 90 of tilt");
        }
    }

    /** A point that stands straight above another. */
    public record Upright(int above, int below) {}

    public static final SetRecipe BLANK =
            new SetRecipe(List.of(), 0, 0, 0, List.of(), new Catcher(0, 0, 14, 14, true), 0, 0.25);

    public SetRecipe(
            List<Integer> groundPoints,
            int originPoint,
            int headingFrom,
            int headingTo,
            List<Yardstick> yardsticks,
            Catcher catcher,
            double wet,
            double wetRoughness) {
        this(
                groundPoints,
                new Axes(originPoint, headingFrom, headingTo, 0),
                yardsticks,
                catcher,
                new Film(wet, wetRoughness),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of());
    }

    public double wet() {
        return film.wet;
    }

    public double wetRoughness() {
        return film.wetRoughness;
    }

    public SetRecipe with(Catcher c) {
        return but(o -> o.catcher = c);
    }

    public SetRecipe withPoints(List<PickedPoint> p) {
        return but(o -> o.points = List.copyOf(p));
    }

    public SetRecipe withEdges(List<Edge> e) {
        return but(o -> o.edges = List.copyOf(e));
    }

    public SetRecipe withUprights(List<Upright> u) {
        return but(o -> o.uprights = List.copyOf(u));
    }

    public SetRecipe withPieces(List<Piece> p) {
        return but(o -> o.pieces = List.copyOf(p));
    }

    public SetRecipe withColours(List<ColourFrame> c) {
        return but(o -> o.colours = List.copyOf(c));
    }

    public SetRecipe withYardsticks(List<Yardstick> y) {
        return but(o -> o.yardsticks = List.copyOf(y));
    }

    public SetRecipe withLevels(List<Level> l) {
        return but(o -> o.levels = List.copyOf(l));
    }

    /** What the frame depends on. */
    public SetRecipe framing() {
        return but(o -> {
            o.catcher = BLANK.catcher;
            o.film = new Film(0, 0);
            o.pieces = List.of();
            o.colours = List.of();
        });
    }

    /** What stands in the set, without anything that is said about its frame. */
    public SetRecipe unframed() {
        return new SetRecipe(
                List.of(),
                Axes.PROPOSED,
                List.of(),
                catcher,
                film,
                List.of(),
                List.of(),
                List.of(),
                pieces,
                colours,
                List.of());
    }

    /** Whether nothing at all is said about the frame. */
    public boolean unsaid() {
        return framing().withPoints(List.of()).equals(BLANK.framing());
    }

    /** A copy while it is changed, so that a change names only what it changes. */
    private static final class Copy {
        private List<Integer> groundPoints;
        private Axes axes;
        private List<Yardstick> yardsticks;
        private Catcher catcher;
        private Film film;
        private List<PickedPoint> points;
        private List<Edge> edges;
        private List<Upright> uprights;
        private List<Piece> pieces;
        private List<ColourFrame> colours;
        private List<Level> levels;
    }

    private SetRecipe but(Consumer<Copy> change) {
        Copy o = new Copy();
        o.groundPoints = groundPoints;
        o.axes = axes;
        o.yardsticks = yardsticks;
        o.catcher = catcher;
        o.film = film;
        o.points = points;
        o.edges = edges;
        o.uprights = uprights;
        o.pieces = pieces;
        o.colours = colours;
        o.levels = levels;
        change.accept(o);
        return new SetRecipe(
                o.groundPoints,
                o.axes,
                o.yardsticks,
                o.catcher,
                o.film,
                o.points,
                o.edges,
                o.uprights,
                o.pieces,
                o.colours,
                o.levels);
    }
}

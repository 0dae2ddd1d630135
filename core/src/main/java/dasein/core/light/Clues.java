package dasein.core.light;

import dasein.core.BadInput;
import dasein.core.light.sun.Penumbra;
import dasein.core.light.sun.ShadowLine;
import dasein.core.light.sun.ShadowsFile;
import dasein.core.light.sun.SolarPosition;
import java.time.DateTimeException;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.function.ToIntFunction;

/**
 * What the light can be found by: marked in the plate, photographed or noted on set. It is only offered: nothing is lit
 * by it until a map is made or sun and level are set from it. No two marks of a shot have the same number.
 *
 * @param balls up to two views of a mirror ball
 * @param charts the colour chart as read for the plate's camera and for the map's, one of each place
 * @param albedo reflectance of the marked ground; 0 when nobody said
 * @param edges strokes across the edges of real shadows
 * @param greys a dull grey ball seen in the plate
 * @param pairs things seen both in the plate and in the map
 * @param stands virtual balls that are only looked at
 * @param when where and when the plate was shot; null when nobody said
 * @param white candela a square metre of what the plate shows as 1; 0 when nobody said
 */
public record Clues(
        List<Shadow> shadows,
        List<Patch> patches,
        double albedo,
        List<Ball> balls,
        List<Chart> charts,
        List<Edge> edges,
        List<Grey> greys,
        List<Pair> pairs,
        List<Stand> stands,
        When when,
        double white) {
    public static final Clues NONE = new Clues(
            List.of(), List.of(), 0, List.of(), List.of(), List.of(), List.of(), List.of(), List.of(), null, 0);

    /** A photograph that was brought in, by its hash. */
    public record Photo(String hash, String name) {}

    /**
     * A 24-patch chart that was read.
     *
     * @param of "plate" or "map": whose camera photographed it
     * @param frame of the plate; 0 for a photograph
     * @param corners x, y of its four corners, pixels; @param matrix row-major 3x3, to neutral
     * @param mean, worst CIEDE2000 of what the matrix leaves
     * @param place where it stood: "sun", "shade", or empty when nobody said
     */
    public record Chart(
            int id,
            String of,
            String name,
            int frame,
            List<Double> corners,
            List<Double> matrix,
            double mean,
            double worst,
            String place) {
        public Chart {
            if (place == null) place = "";
        }

        /** What it is called where one is chosen. */
        public String said() {
            return name + (place.isEmpty() ? "" : ", in the " + place);
        }
    }

    /**
     * A view of a mirror ball.
     *
     * @param stops as typed, one a photograph in the order of their names; empty: as the camera noted
     * @param circle as typed, x, y, radius in pixels; empty: found
     * @param fieldDeg across a photograph's width; 0: as the camera noted, else far away
     * @param reflectance of the ball, 0 to 1
     */
    public record Ball(int id, List<Photo> photos, String stops, String circle, double fieldDeg, double reflectance) {
        public Ball {
            photos = List.copyOf(photos);
        }
    }

    /** A real shadow by three clicks, pixels of one frame. */
    public record Shadow(
            int id, int frame, double footX, double footY, double topX, double topY, double tipX, double tipY) {
        public String name() {
            return "shadow " + id;
        }

        public ShadowLine line() {
            return new ShadowLine(
                    name(), frame, new double[] {footX, footY}, new double[] {topX, topY}, new double[] {tipX, tipY});
        }
    }

    /** A piece of level ground, in the sun or in shadow. */
    public record Patch(int id, int frame, double x, double y, boolean lit) {}

    /**
     * A stroke across the edge of a real shadow on level ground, pixels of one frame.
     *
     * @param height of what casts it, metres over the ground; @param piece of the set whose shadow it bounds; 0 when
     *     nobody said
     */
    public record Edge(
            int id, int frame, double fromX, double fromY, double toX, double toY, double height, int piece) {
        public String name() {
            return "edge " + id;
        }

        public ShadowsFile.Edge stroke() {
            return new ShadowsFile.Edge(
                    frame, new double[] {fromX, fromY}, new double[] {toX, toY}, height, Penumbra.PIXEL_BLUR);
        }
    }

    /** A dull grey ball in the plate: its circle in pixels of one frame. @param lit whether the sun reaches it */
    public record Grey(int id, int frame, double x, double y, double r, double albedo, boolean lit) {}

    /** The same far thing in the plate, pixels of one frame, and in the map, degrees in the map as it was made. */
    public record Pair(int id, int frame, double x, double y, double azimuthDeg, double elevationDeg) {}

    /** A ball of 18 % grey, or a mirror, that stands in drafts of the light and nowhere else; metres. */
    public record Stand(int id, boolean mirror, double x, double y, double z, double radius) {}

    /**
     * @param time with its distance from universal time: 2026-06-21T10:15:00+02:00; @param northDeg where north lies in
     *     the set: 0 along -Z, 90 along +X
     */
    public record When(double latitude, double longitude, String time, double northDeg) {
        /** Hours ahead of universal time. */
        public double offsetHours() {
            return OffsetDateTime.parse(time).getOffset().getTotalSeconds() / 3600.0;
        }

        /** @throws BadInput when the place or the time is none */
        public SolarPosition sun() {
            try {
                return SolarPosition.at(
                        OffsetDateTime.parse(time).toInstant(), new SolarPosition.Place(latitude, longitude, 0));
            } catch (DateTimeException e) {
                throw new BadInput("the time must be like 2026-06-21T10:15:00+02:00, not " + time);
            }
        }
    }

    public Clues {
        shadows = shadows == null ? List.of() : List.copyOf(shadows);
        patches = patches == null ? List.of() : List.copyOf(patches);
        balls = balls == null ? List.of() : List.copyOf(balls);
        charts = charts == null ? List.of() : List.copyOf(charts);
        edges = edges == null ? List.of() : List.copyOf(edges);
        greys = greys == null ? List.of() : List.copyOf(greys);
        pairs = pairs == null ? List.of() : List.copyOf(pairs);
        stands = stands == null ? List.of() : List.copyOf(stands);
    }

    public List<ShadowLine> lines() {
        return shadows.stream().map(Shadow::line).toList();
    }

    /** How many there are of all that is marked in pictures. */
    public int marks() {
        return shadows.size() + patches.size() + edges.size() + greys.size() + pairs.size() + stands.size();
    }

    /** A number that none of them has. */
    public int free() {
        int n = most(shadows, Shadow::id, 0);
        n = most(patches, Patch::id, n);
        n = most(balls, Ball::id, n);
        n = most(charts, Chart::id, n);
        n = most(edges, Edge::id, n);
        n = most(greys, Grey::id, n);
        n = most(pairs, Pair::id, n);
        return most(stands, Stand::id, n) + 1;
    }

    private static <T> int most(List<T> of, ToIntFunction<T> id, int least) {
        for (T t : of) least = Math.max(least, id.applyAsInt(t));
        return least;
    }

    public Clues with(Shadow s) {
        return new Clues(
                put(shadows, s, Shadow::id), patches, albedo, balls, charts, edges, greys, pairs, stands, when, white);
    }

    public Clues with(Patch p) {
        return new Clues(
                shadows, put(patches, p, Patch::id), albedo, balls, charts, edges, greys, pairs, stands, when, white);
    }

    public Clues with(Ball b) {
        return new Clues(
                shadows, patches, albedo, put(balls, b, Ball::id), charts, edges, greys, pairs, stands, when, white);
    }

    /** In place of that of the same camera and place. */
    public Clues with(Chart c) {
        List<Chart> all = new ArrayList<>(charts);
        all.removeIf(o -> o.of.equals(c.of) && o.place.equals(c.place));
        all.add(c);
        return new Clues(shadows, patches, albedo, balls, all, edges, greys, pairs, stands, when, white);
    }

    public Clues with(Edge e) {
        return new Clues(
                shadows, patches, albedo, balls, charts, put(edges, e, Edge::id), greys, pairs, stands, when, white);
    }

    public Clues with(Grey g) {
        return new Clues(
                shadows, patches, albedo, balls, charts, edges, put(greys, g, Grey::id), pairs, stands, when, white);
    }

    public Clues with(Pair p) {
        return new Clues(
                shadows, patches, albedo, balls, charts, edges, greys, put(pairs, p, Pair::id), stands, when, white);
    }

    public Clues with(Stand s) {
        return new Clues(
                shadows, patches, albedo, balls, charts, edges, greys, pairs, put(stands, s, Stand::id), when, white);
    }

    public Clues with(When w) {
        return new Clues(shadows, patches, albedo, balls, charts, edges, greys, pairs, stands, w, white);
    }

    public Clues withWhite(double w) {
        return new Clues(shadows, patches, albedo, balls, charts, edges, greys, pairs, stands, when, w);
    }

    public Clues withAlbedo(double a) {
        return new Clues(shadows, patches, a, balls, charts, edges, greys, pairs, stands, when, white);
    }

    /** In place of the one of its number, or as a further one. */
    private static <T> List<T> put(List<T> into, T what, ToIntFunction<T> id) {
        List<T> all = new ArrayList<>(into);
        for (int i = 0; i < all.size(); i++)
            if (id.applyAsInt(all.get(i)) == id.applyAsInt(what)) {
                all.set(i, what);
                return all;
            }
        all.add(what);
        return all;
    }

    public Clues without(int id) {
        return new Clues(
                shadows.stream().filter(s -> s.id != id).toList(),
                patches.stream().filter(p -> p.id != id).toList(),
                albedo,
                balls.stream().filter(b -> b.id != id).toList(),
                charts.stream().filter(c -> c.id != id).toList(),
                edges.stream().filter(e -> e.id != id).toList(),
                greys.stream().filter(g -> g.id != id).toList(),
                pairs.stream().filter(p -> p.id != id).toList(),
                stands.stream().filter(s -> s.id != id).toList(),
                when,
                white);
    }

    /**
     * As read for a camera; null when it was not.
     *
     * @param id of a certain one; 0 for the first
     */
    public Chart chart(String of, int id) {
        return charts.stream()
                .filter(c -> c.of.equals(of) && (id == 0 || c.id == id))
                .findFirst()
                .orElse(null);
    }

    /** Those of one camera. */
    public List<Chart> charts(String of) {
        return charts.stream().filter(c -> c.of.equals(of)).toList();
    }
}

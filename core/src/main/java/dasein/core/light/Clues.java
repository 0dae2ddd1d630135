package dasein.core.light;

import dasein.core.light.sun.ShadowLine;
import java.util.ArrayList;
import java.util.List;

/**
 * What the light can be found by: marked in the plate, or photographed on set. It is only offered: nothing is lit by it
 * until a map is made or sun and level are set from it.
 *
 * @param balls up to two views of a mirror ball
 * @param charts the colour chart as read for the plate's camera and for the map's, one of each
 * @param albedo reflectance of the marked ground; 0 when nobody said
 */
public record Clues(List<Shadow> shadows, List<Patch> patches, double albedo, List<Ball> balls, List<Chart> charts) {
    public static final Clues NONE = new Clues(List.of(), List.of(), 0, List.of(), List.of());

    /** A photograph that was brought in, by its hash. */
    public record Photo(String hash, String name) {}

    /**
     * A 24-patch chart that was read.
     *
     * @param of "plate" or "map": whose camera photographed it
     * @param frame of the plate; 0 for a photograph
     * @param corners x, y of its four corners, pixels; @param matrix row-major 3x3, to neutral
     * @param mean, worst CIEDE2000 of what the matrix leaves
     */
    public record Chart(
            int id,
            String of,
            String name,
            int frame,
            List<Double> corners,
            List<Double> matrix,
            double mean,
            double worst) {}

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

    public Clues {
        shadows = shadows == null ? List.of() : List.copyOf(shadows);
        patches = patches == null ? List.of() : List.copyOf(patches);
        balls = balls == null ? List.of() : List.copyOf(balls);
        charts = charts == null ? List.of() : List.copyOf(charts);
    }

    public List<ShadowLine> lines() {
        return shadows.stream().map(Shadow::line).toList();
    }

    /** A number that none of them has. */
    public int free() {
        int n = 1;
        for (Shadow s : shadows) n = Math.max(n, s.id + 1);
        for (Patch p : patches) n = Math.max(n, p.id + 1);
        for (Ball b : balls) n = Math.max(n, b.id + 1);
        for (Chart c : charts) n = Math.max(n, c.id + 1);
        return n;
    }

    public Clues with(Shadow s) {
        List<Shadow> all = new ArrayList<>(shadows);
        all.add(s);
        return new Clues(all, patches, albedo, balls, charts);
    }

    public Clues with(Patch p) {
        List<Patch> all = new ArrayList<>(patches);
        all.add(p);
        return new Clues(shadows, all, albedo, balls, charts);
    }

    public Clues without(int id) {
        return new Clues(
                shadows.stream().filter(s -> s.id != id).toList(),
                patches.stream().filter(p -> p.id != id).toList(),
                albedo,
                balls.stream().filter(b -> b.id != id).toList(),
                charts.stream().filter(c -> c.id != id).toList());
    }

    /** In place of the one of its number, or as a further one. */
    public Clues with(Ball b) {
        List<Ball> all = new ArrayList<>(balls);
        int at = -1;
        for (int i = 0; i < all.size(); i++) if (all.get(i).id == b.id) at = i;
        if (at >= 0) all.set(at, b);
        else all.add(b);
        return new Clues(shadows, patches, albedo, all, charts);
    }

    /** In place of that of the same camera. */
    public Clues with(Chart c) {
        List<Chart> all = new ArrayList<>(charts);
        all.removeIf(o -> o.of.equals(c.of));
        all.add(c);
        return new Clues(shadows, patches, albedo, balls, all);
    }

    /** As read for a camera; null when it was not. */
    public Chart chart(String of) {
        return charts.stream().filter(c -> c.of.equals(of)).findFirst().orElse(null);
    }

    public Clues withAlbedo(double a) {
        return new Clues(shadows, patches, a, balls, charts);
    }
}

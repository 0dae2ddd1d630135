package dasein.core.cast;

import dasein.core.model.Model;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * All wheels of a performer at once, on top of what follows from its way.
 *
 * @param steerDeg counter-clockwise from above, of those that steer; @param spinDeg forwards, of those that roll
 */
public record Wheels(double steerDeg, double spinDeg) {
    public static final Wheels NONE = new Wheels(0, 0);

    /** Axles nearer to the last than this part of the whole wheelbase do not steer of themselves. */
    private static final double REAR = 1.0 / 3;

    /**
     * Nodes that roll about their own x, as what most vehicles have does (common practice): all axles steer that do not
     * stand near the last one.
     *
     * @param nodes names of those of the model that are wheels
     */
    public static List<PartTurn> of(Model m, List<String> nodes) {
        List<PartTurn> roll =
                nodes.stream().map(n -> new PartTurn(n, "x", 0, true, false)).toList();
        List<Wheel> all = Wheel.of(m, roll);
        double front = all.stream().mapToDouble(w -> w.hub().z()).max().orElse(0),
                rear = all.stream().mapToDouble(w -> w.hub().z()).min().orElse(0),
                from = rear + REAR * (front - rear);
        Set<String> steer = all.stream()
                .filter(w -> front - rear > w.radius() && w.hub().z() > from)
                .map(w -> w.turn().node())
                .collect(Collectors.toSet());
        return roll.stream()
                .map(t -> new PartTurn(t.node(), "x", 0, true, steer.contains(t.node())))
                .toList();
    }
}

package dasein.core.comp.match;

import dasein.core.comp.step.Group;
import java.util.List;

/** All that can be matched, in the order in which it is done: what changes light before what is laid on it. */
public final class Matches {
    public static final List<Match> ALL = List.of(
            new ShadowMatch(),
            new ShadowEdgeMatch(),
            new PlateChartMatch(),
            new ColourMatch(),
            new DriftMatch(),
            new BlacksMatch(),
            new WhitesMatch(),
            new HazeMatch(),
            new FallOffMatch(),
            new GlowMatch(),
            new HaloMatch(),
            new SoftnessMatch(),
            new FringeMatch(),
            new ShutterMatch(),
            new GrainMatch(),
            new CodecMatch());

    private Matches() {}

    /** @throws java.util.NoSuchElementException when none is called so */
    public static Match named(String key) {
        return ALL.stream().filter(m -> m.key().equals(key)).findFirst().orElseThrow();
    }

    public static List<Match> of(Group g) {
        return ALL.stream().filter(m -> m.group() == g).toList();
    }
}

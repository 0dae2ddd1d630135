package dasein.core.render;

import dasein.core.render.pass.Pass;
import dasein.core.render.pass.PassSet;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What is to be kept of a frame besides the passes that every comp needs.
 *
 * @param lights how far light is kept apart
 * @param lamps names of the lighting's lamps, in its order; what is not named is numbered
 * @param sets further passes
 * @param contact metres within which something is in contact
 * @param performers names of performers by their number, for mattes
 */
public record Keep(
        LightGroups.Apart lights,
        List<String> lamps,
        Set<PassSet> sets,
        double contact,
        Map<Integer, Name> performers) {
    /**
     * What mattes call a performer.
     *
     * @param parts of its model, in the order of their triangles; @param first number of the first of each
     */
    public record Name(String performer, List<String> parts, int[] first) {}

    public static final Keep PLAIN = new Keep(LightGroups.Apart.TOGETHER, List.of(), Set.of(), 0.3, Map.of());

    /** Whether it is to be told where every place comes from and goes to. */
    public boolean ways() {
        return sets.contains(PassSet.MOTION) || sets.contains(PassSet.FILTERS);
    }

    /** Those of the passes that are asked for. */
    List<Pass> asked(List<Pass> all) {
        Set<Pass> some = new HashSet<>(), wanted = new HashSet<>();
        for (PassSet s : PassSet.values()) {
            some.addAll(s.passes());
            if (s.offered() && sets.contains(s)) wanted.addAll(s.passes());
        }
        return all.stream().filter(p -> wanted.contains(p) || !some.contains(p)).toList();
    }

    public Keep(LightGroups.Apart lights) {
        this(lights, List.of(), Set.of(), PLAIN.contact(), Map.of());
    }

    public Keep(Set<PassSet> sets) {
        this(LightGroups.Apart.TOGETHER, List.of(), sets, PLAIN.contact(), Map.of());
    }
}

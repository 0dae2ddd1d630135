package dasein.core.comp;

import dasein.core.BadInput;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Steps;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/**
 * Numbers of its own for some performers, or for a part of the picture.
 *
 * @param performers for which they count, by number; empty when it is a part of the picture
 * @param mask number of the drawn mask of that part; 0 for performers
 * @param numbers by the parameter's name; what is not there is as for all others
 */
public record Variant(
        int id, String name, boolean on, List<Integer> performers, int mask, Map<String, Double> numbers) {
    private static final Set<Group> OF_PERFORMERS = Set.of(Group.PERFORMER, Group.HAZE, Group.LENS),
            OF_NO_PART = Set.of(Group.REPAIR, Group.FRONT, Group.MOVE);

    public Variant {
        performers = performers == null ? List.of() : List.copyOf(performers);
        if (performers.isEmpty() == (mask == 0))
            throw new BadInput("settings of their own are for performers, or for what a mask covers");
        Map<String, Double> held = new TreeMap<>();
        boolean whole = performers.isEmpty();
        if (numbers != null)
            numbers.forEach((n, v) ->
                    may(whole).stream().filter(p -> p.name().equals(n)).forEach(p -> held.put(n, p.held(v))));
        numbers = Collections.unmodifiableMap(held);
    }

    /** Numbers that may be its own. @param part of the picture, not of performers */
    public static List<Param> may(boolean part) {
        return java.util.Arrays.stream(Group.values())
                .filter(g -> part ? !OF_NO_PART.contains(g) : OF_PERFORMERS.contains(g))
                .flatMap(g -> Steps.params(g).stream())
                .toList();
    }

    /** The numbers of all with those of its own. */
    public CompRecipe on(CompRecipe r) {
        CompRecipe out = r;
        for (Param p : may(mask != 0)) if (numbers.containsKey(p.name())) out = out.with(p, numbers.get(p.name()));
        return out;
    }
}

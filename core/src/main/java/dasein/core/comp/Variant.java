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
 * @param mask number of the drawn mask of that part, or 0; {@code piece} of the set that is seen there, or 0
 * @param numbers by the parameter's name; what is not there is as for all others
 */
public record Variant(
        int id, String name, boolean on, List<Integer> performers, int mask, int piece, Map<String, Double> numbers) {
    private static final Set<Group> OF_PERFORMERS = Set.of(Group.PERFORMER, Group.HAZE, Group.LENS),
            OF_NO_PART = Set.of(Group.REPAIR, Group.FRONT, Group.MOVE);

    public Variant {
        performers = performers == null ? List.of() : List.copyOf(performers);
        int of = (performers.isEmpty() ? 0 : 1) + (mask == 0 ? 0 : 1) + (piece == 0 ? 0 : 1);
        if (of != 1)
            throw new BadInput(
                    "settings of their own are for performers, for what a mask covers, or for a piece of " + "the set");
        Map<String, Double> held = new TreeMap<>();
        boolean whole = performers.isEmpty();
        if (numbers != null)
            numbers.forEach((n, v) ->
                    may(whole).stream().filter(p -> p.name().equals(n)).forEach(p -> held.put(n, p.held(v))));
        numbers = Collections.unmodifiableMap(held);
    }

    /** The flat ground among the pieces of the set. */
    public static final int GROUND = -1;

    /** Whether it is for a part of the picture, not for performers. */
    public boolean part() {
        return performers.isEmpty();
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
        for (Param p : may(part())) if (numbers.containsKey(p.name())) out = out.with(p, numbers.get(p.name()));
        return out;
    }
}

package dasein.core.comp.match;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Group;

/** Measures one thing in the plate and sets the numbers of a step by it. */
public interface Match {
    /** In addresses, and what it is called. */
    String key();

    Group group();

    /**
     * @throws dasein.core.NoSolution when the plate does not tell; @throws dasein.core.BadInput when something it needs
     *     is missing; with a sentence
     */
    Outcome of(Taken t);

    /**
     * @param recipe with the numbers set; @param plate what the plate has, in words with its uncertainty; @param was
     *     what the comp had before
     */
    record Outcome(CompRecipe recipe, String plate, String was) {}
}

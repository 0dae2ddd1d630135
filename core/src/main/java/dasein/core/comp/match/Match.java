package dasein.core.comp.match;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Group;
import dasein.core.key.Curve;
import java.util.Map;

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
     * @param curves keys of numbers that follow the plate over the shot, by name; an empty one takes keys away
     * @param shutterDeg that performers should be rendered with, 0 when nothing is said of it; {@code shutterSigma} how
     *     sure that is, degrees
     */
    record Outcome(
            CompRecipe recipe,
            String plate,
            String was,
            Map<String, Curve> curves,
            double shutterDeg,
            double shutterSigma) {
        Outcome(CompRecipe recipe, String plate, String was) {
            this(recipe, plate, was, Map.of());
        }

        Outcome(CompRecipe recipe, String plate, String was, Map<String, Curve> curves) {
            this(recipe, plate, was, curves, 0, 0);
        }
    }

    /** Whether there is what it goes by, where a person has to pick that; else "match all" passes it over. */
    default boolean ready(Taken t) {
        return true;
    }

    /** Whether "match all" does it; else only who asks for it. */
    default boolean ofAll() {
        return true;
    }
}

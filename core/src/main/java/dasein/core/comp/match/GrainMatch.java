package dasein.core.comp.match;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Grain;

/** Sets the grain by what the plate has. */
final class GrainMatch {
    private GrainMatch() {}

    static CompRecipe on(CompRecipe r, GrainMeasure.Found f) {
        return r.with(Grain.GRAIN, Grain.GRAIN.held(f.level()))
                .with(Grain.RED, f.colour()[0])
                .with(Grain.GREEN, f.colour()[1])
                .with(Grain.BLUE, f.colour()[2])
                .with(Grain.DARK, f.dark())
                .with(Grain.BRIGHT, f.bright())
                .with(Grain.SIZE, f.size())
                .with(Grain.COLOUR_SIZE, f.colourSize())
                .with(Grain.COMMON, f.common());
    }
}

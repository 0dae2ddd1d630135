package dasein.core.comp.match;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Group;
import java.util.Locale;

/** Sets the grain by what the plate has. */
final class GrainMatch implements Match {
    /** Pairs of neighbouring frames, spread over the shot. */
    private static final int PAIRS = 6;

    @Override
    public String key() {
        return "grain";
    }

    @Override
    public Group group() {
        return Group.GRAIN;
    }

    @Override
    public Outcome of(Taken t) {
        GrainMeasure m = new GrainMeasure();
        int room = t.last() - t.first(), pairs = Math.min(PAIRS, Math.max(1, room));
        for (int k = 0; k < pairs && room > 0; k++) {
            int f = Math.min(t.last() - 1, t.spread(pairs)[k]);
            m.look(t.plate().apply(f), t.plate().apply(f + 1), t.encoding());
        }
        GrainMeasure.Found f = m.found();
        return new Outcome(
                on(t.now(), f),
                String.format(
                        Locale.ROOT, "%.2f %% +- %.2f, size %.1f px", 100 * f.level(), 100 * f.uncertainty(), f.size()),
                String.format(
                        Locale.ROOT,
                        "%.2f %%, %.1f px",
                        100 * t.now().get(Grain.GRAIN),
                        t.now().get(Grain.SIZE)));
    }

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

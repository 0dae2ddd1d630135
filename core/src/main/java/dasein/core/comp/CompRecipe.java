package dasein.core.comp;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonValue;
import dasein.core.comp.step.Steps;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * How CG is brought to the plate: a number for each {@link Param} that a step declares. The plate itself is never
 * graded.
 *
 * @param numbers by the parameter's name, all of them and no others
 */
public record CompRecipe(Map<String, Double> numbers) {
    /** Everything as it was rendered, but a little softness and grain, which every plate has. */
    public static final CompRecipe BLANK = new CompRecipe(Map.of());

    /** @param numbers what is not there is at rest, and what nobody declares is left out */
    @JsonCreator(mode = JsonCreator.Mode.DELEGATING)
    public CompRecipe {
        Map<String, Double> all = new LinkedHashMap<>();
        for (Param p : Steps.params()) {
            Double v = numbers.get(p.name());
            all.put(p.name(), v == null ? p.rest() : v);
        }
        numbers = Collections.unmodifiableMap(all);
    }

    @Override
    @JsonValue
    public Map<String, Double> numbers() {
        return numbers;
    }

    public double get(Param p) {
        return numbers.get(p.name());
    }

    public CompRecipe with(Param p, double v) {
        Map<String, Double> all = new LinkedHashMap<>(numbers);
        all.put(p.name(), v);
        return new CompRecipe(all);
    }
}

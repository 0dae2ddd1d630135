package dasein.core.comp;

import com.fasterxml.jackson.annotation.JsonAnyGetter;
import com.fasterxml.jackson.annotation.JsonAnySetter;
import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonProperty;
import dasein.core.BadInput;
import dasein.core.comp.front.Front;
import dasein.core.comp.match.ColourPair;
import dasein.core.comp.match.HazePick;
import dasein.core.comp.repair.Repair;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Lights;
import dasein.core.comp.step.Steps;
import dasein.core.key.Curve;
import dasein.core.key.Keyed;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * How CG is brought to the plate: a number for each {@link Param} that a step declares. The plate itself is never
 * graded. In a document the numbers stand beside {@code keys}.
 *
 * @param numbers by the parameter's name, all of them, and levels of lights that somebody changed
 * @param keys curves by the parameter's name, of those that change over the shot; in the numbers' own unit
 * @param fronts what of the plate stands in front; @param repairs what of it is covered, in the order of covering
 * @param pairs places that are to have the same colour, and {@code hazes} dark places at known distances: what matching
 *     goes by
 * @param variants numbers of their own of some performers, or of parts of the picture
 * @param table name or hash of a table of colours that the grade ends with; empty for none
 */
public record CompRecipe(
        @JsonAnyGetter Map<String, Double> numbers,
        Map<String, Curve> keys,
        List<Front> fronts,
        List<Repair> repairs,
        String table,
        List<ColourPair> pairs,
        List<HazePick> hazes,
        List<Variant> variants)
        implements Keyed<CompRecipe> {
    /** Everything as it was rendered, but a little softness and grain, which every plate has. */
    public static final CompRecipe BLANK =
            new CompRecipe(Map.of(), Map.of(), List.of(), List.of(), "", List.of(), List.of(), List.of());

    /** @param numbers what is not there is at rest, and what nobody declares is left out */
    @JsonCreator
    public CompRecipe(
            @JsonAnySetter Map<String, Double> numbers,
            @JsonProperty("keys") Map<String, Curve> keys,
            @JsonProperty("fronts") List<Front> fronts,
            @JsonProperty("repairs") List<Repair> repairs,
            @JsonProperty("table") String table,
            @JsonProperty("pairs") List<ColourPair> pairs,
            @JsonProperty("hazes") List<HazePick> hazes,
            @JsonProperty("variants") List<Variant> variants) {
        this.variants = variants == null ? List.of() : List.copyOf(variants);
        this.pairs = pairs == null ? List.of() : List.copyOf(pairs);
        this.hazes = hazes == null ? List.of() : List.copyOf(hazes);
        this.table = table == null ? "" : table;
        this.fronts = fronts == null ? List.of() : List.copyOf(fronts);
        this.repairs = repairs == null ? List.of() : List.copyOf(repairs);
        Map<String, Double> all = new LinkedHashMap<>();
        // In order, so that the same decisions have the same fingerprint.
        Map<String, Curve> curves = new TreeMap<>();
        List<Param> params = new ArrayList<>(Steps.params());
        params.addAll(lights(numbers, keys));
        for (Param p : params) {
            Double v = numbers == null ? null : numbers.get(p.name());
            all.put(p.name(), v == null ? p.rest() : v);
            Curve c = keys == null ? null : keys.get(p.name());
            if (c == null || c.empty()) continue;
            for (Curve.Key k : c.keys())
                if (p.held(k.value()) != k.value())
                    throw new BadInput("the key of " + p.label() + " in frame " + k.frame() + " must lie between "
                            + p.accepted().least() + " and " + p.accepted().most());
            curves.put(p.name(), c);
        }
        this.numbers = Collections.unmodifiableMap(all);
        this.keys = Collections.unmodifiableMap(curves);
    }

    /** Levels of lights, in order; what stands at rest and is not keyed is as if nobody had said it. */
    private static List<Param> lights(Map<String, Double> numbers, Map<String, Curve> keys) {
        Set<String> said = new TreeSet<>();
        if (numbers != null)
            numbers.forEach((name, v) -> {
                if (Lights.level(name) && v != 1) said.add(name);
            });
        if (keys != null)
            keys.forEach((name, c) -> {
                if (Lights.level(name) && !c.empty()) said.add(name);
            });
        return said.stream().map(Lights::named).toList();
    }

    /** Levels of lights that somebody changed. */
    public List<Param> lights() {
        return numbers.keySet().stream()
                .filter(Lights::level)
                .map(Lights::named)
                .toList();
    }

    public double get(Param p) {
        return numbers.getOrDefault(p.name(), p.rest());
    }

    /** Whether the steps of a heading are done. */
    public boolean on(Group g) {
        return get(g.on()) >= 0.5;
    }

    /** Whether a number under a heading is keyed, or is not at rest. */
    public boolean changed(Group g) {
        return changed(Steps.params(g));
    }

    /** Whether any of these is not at rest. */
    public boolean changed(List<Param> these) {
        return these.stream().anyMatch(p -> get(p) != p.rest() || keys.containsKey(p.name()));
    }

    public CompRecipe with(Param p, double v) {
        return resting(p.name(), v);
    }

    public CompRecipe withFronts(List<Front> f) {
        return new CompRecipe(numbers, keys, f, repairs, table, pairs, hazes, variants);
    }

    public CompRecipe withRepairs(List<Repair> r) {
        return new CompRecipe(numbers, keys, fronts, r, table, pairs, hazes, variants);
    }

    public CompRecipe withTable(String t) {
        return new CompRecipe(numbers, keys, fronts, repairs, t, pairs, hazes, variants);
    }

    public CompRecipe withPairs(List<ColourPair> p) {
        return new CompRecipe(numbers, keys, fronts, repairs, table, p, hazes, variants);
    }

    public CompRecipe withHazes(List<HazePick> h) {
        return new CompRecipe(numbers, keys, fronts, repairs, table, pairs, h, variants);
    }

    public CompRecipe withVariants(List<Variant> v) {
        return new CompRecipe(numbers, keys, fronts, repairs, table, pairs, hazes, v);
    }

    /** Whether it uses a drawn mask. */
    public boolean uses(int mask) {
        return fronts.stream().anyMatch(f -> f.uses(mask))
                || repairs.stream().anyMatch(r -> r.mask() == mask || r.moves() == mask)
                || variants.stream().anyMatch(v -> v.mask() == mask);
    }

    /** As it is in a frame: every number that is keyed is what its curve says, and nothing is keyed any more. */
    public CompRecipe at(double frame, double rate) {
        if (keys.isEmpty()) return this;
        Map<String, Double> all = new LinkedHashMap<>(numbers);
        List<Param> params = new ArrayList<>(Steps.params());
        params.addAll(lights());
        for (Param p : params) {
            Curve c = keys.get(p.name());
            if (c != null) all.put(p.name(), p.held(c.at(frame, get(p), rate)));
        }
        return new CompRecipe(all, Map.of(), fronts, repairs, table, pairs, hazes, variants);
    }

    @Override
    public String name() {
        return "the comp";
    }

    @Override
    public boolean has(String channel) {
        return numbers.containsKey(channel) || Lights.level(channel);
    }

    @Override
    public double rest(String channel) {
        return numbers.getOrDefault(channel, 1.0);
    }

    @Override
    public CompRecipe resting(String channel, double value) {
        Map<String, Double> all = new LinkedHashMap<>(numbers);
        all.put(channel, value);
        return new CompRecipe(all, keys, fronts, repairs, table, pairs, hazes, variants);
    }

    @Override
    public Curve curve(String channel) {
        return keys.getOrDefault(channel, Curve.NONE);
    }

    @Override
    public CompRecipe with(String channel, Curve curve) {
        Map<String, Curve> all = new LinkedHashMap<>(keys);
        all.put(channel, curve);
        return new CompRecipe(numbers, all, fronts, repairs, table, pairs, hazes, variants);
    }
}

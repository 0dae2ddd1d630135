package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/** The comp, step by step, in the order in which it is done. */
public final class Steps {
    public static final List<Step> ALL = List.of(
            new Shadow(),
            new Bounce(),
            new Reflection(),
            new Mixing(),
            new Gain(),
            new Saturation(),
            new PlateColour(),
            new Blacks(),
            new Haze(),
            new FallOff(),
            new Defocus(),
            new Glow(),
            new Softness(),
            new Fringe(),
            new Wrap(),
            new Sharpen(),
            new Whites(),
            new Over(),
            new InFront(),
            new Grain(),
            new Codec(),
            new Move(),
            new Grade());

    private static final List<Param> PARAMS = Stream.concat(
                    ALL.stream().flatMap(s -> s.params().stream()),
                    Arrays.stream(Group.values()).map(Group::on))
            .toList();

    private Steps() {}

    /** Every number of the comp, with the switches. */
    public static List<Param> params() {
        return PARAMS;
    }

    /** How far shadow may come to show beyond where it was rendered. */
    public static int shadowMargin(CompRecipe r, double scale) {
        if (!r.on(Group.SHADOW)) return 0;
        return Softness.margin(r.get(Shadow.GROWS) > 0 ? Penumbra.SOFTEST * scale : r.get(Shadow.SOFT) * scale);
    }

    /** Whether the whole frame is changed, plate and all. */
    public static boolean everywhere(CompRecipe r) {
        return r.on(Group.GRADE) && Grade.any(r) || moves(r);
    }

    /** Whether the frame is moved or enlarged. */
    public static boolean moves(CompRecipe r) {
        return r.on(Group.MOVE) && Move.any(r);
    }

    /** How far the performer may come to show beyond its own pixels. */
    public static int margin(CompRecipe r, double scale) {
        return r.on(Group.LENS)
                ? Softness.margin(r, scale)
                        + Glow.margin(r, scale)
                        + Fringe.margin(r, scale)
                        + Wrap.margin(r, scale)
                        + Defocus.margin(r, scale)
                        + Sharpen.margin(r, scale)
                : 0;
    }

    /** Numbers of one heading by their smaller ones, those without first, each in order. */
    public static Map<String, List<Param>> titled(Group g) {
        Map<String, List<Param>> out = new LinkedHashMap<>();
        out.put("", new ArrayList<>());
        for (Step s : ALL)
            if (s.group() == g)
                out.computeIfAbsent(s.title(), t -> new ArrayList<>()).addAll(s.params());
        return out;
    }

    /** Numbers of one heading, in order. */
    public static List<Param> params(Group g) {
        return ALL.stream()
                .filter(s -> s.group() == g)
                .flatMap(s -> s.params().stream())
                .toList();
    }
}

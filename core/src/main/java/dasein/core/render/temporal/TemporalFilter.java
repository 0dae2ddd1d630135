package dasein.core.render.temporal;

import dasein.core.render.pass.Passes;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Supplier;

/**
 * Takes the noise out of a frame by its neighbours. They are laid over it by the motion of what they show, and each
 * pixel counts as far as the patch around it differs by no more than its noise explains (non-local means with the
 * variance cancelled: Rousselle, Knaus and Zwicker 2012). What moves otherwise, as the edge of a shadow does, is so
 * left alone.
 */
public final class TemporalFilter {
    private TemporalFilter() {}

    /**
     * The raw passes of a frame with less noise, and with the spread that is left. Of the neighbours, which are asked
     * for one after the other, two at most are held at a time.
     *
     * @param before, after the nearest first; one that lies otherwise in the picture ends them
     */
    public static Passes filter(Seen now, List<Supplier<Seen>> before, List<Supplier<Seen>> after) {
        List<Layer> layers = new ArrayList<>();
        for (Layer.Of of : Layer.Of.values()) layers.add(new Layer(of, now.passes()));
        add(layers, now, before, false);
        add(layers, now, after, true);
        Passes out = now.passes().keeping(now.passes().list());
        for (Layer l : layers) l.into(out);
        return out;
    }

    private static void add(List<Layer> layers, Seen now, List<Supplier<Seen>> others, boolean forward) {
        Warp performers = Warp.still(now.passes());
        Passes last = now.passes();
        for (Supplier<Seen> s : others) {
            Seen next = s.get();
            if (!now.passes().lieAs(next.passes())) return;
            performers = performers.on(last, next.passes(), forward);
            Warp ground = Warp.ofGround(now, next);
            for (Layer l : layers) l.add(next.passes(), l.of == Layer.Of.BEAUTY ? performers : ground);
            last = next.passes();
        }
    }
}

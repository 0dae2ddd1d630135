package dasein.core.render.pass;

import dasein.core.image.Image;
import java.util.List;
import java.util.function.Function;

/**
 * One pass: everything that is to be said of it besides how it is sampled.
 *
 * @param name by which pages ask for it
 * @param channels in the written file, one for each plane
 * @param exact kept in 32 bits instead of 16, and taken by a lens from the nearest pixel: what lies between two of its
 *     values means nothing
 * @param neutral what stands where there is nothing to say
 * @param part it is a part of something, 0 to 1: what a lens's filter carries beyond that is cut off
 * @param smoothing how noise is filtered out, or null
 * @param picture makes it visible; null for one that is not looked at
 */
public record Pass(
        String name,
        List<String> channels,
        boolean exact,
        float neutral,
        boolean part,
        Smoothing smoothing,
        Function<Passes, Image> picture) {

    /** The same of a single light: its name, and the layer of its channels, go on with that light's. */
    Pass of(String light) {
        String layer = name + "." + light;
        return new Pass(
                layer,
                channels.stream()
                        .map(c -> layer + "." + c.substring(c.lastIndexOf('.') + 1))
                        .toList(),
                exact,
                neutral,
                part,
                null,
                p -> PassPictures.ofLight(p, this, layer));
    }

    /**
     * @param over where its samples count; @param noise whose measure steers the filter; @param levels of the filter
     */
    public record Smoothing(Over over, Noise noise, int levels) {}

    public enum Over {
        CATCHERS,
        ALL
    }

    public enum Noise {
        SHADOW,
        /** Of light that is added: bounce and reflection. */
        ADDED,
        /** Not measured while sampling: told by the neighbourhood. */
        NEIGHBOURS
    }
}

package dasein.core.comp.match;

import dasein.core.comp.CompRecipe;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.render.pass.Passes;
import java.util.List;
import java.util.function.IntFunction;

/**
 * What matches are made from.
 *
 * @param plate its frames, scene-linear, at its own size; {@code first} to {@code last} of them may be asked for
 * @param passes of {@code frame}, null where none are rendered
 * @param now the comp as it is in that frame
 * @param patches places of the plate in light and in shadow
 */
public record Taken(
        IntFunction<Image> plate,
        int first,
        int last,
        Encoding encoding,
        int frame,
        Passes passes,
        CompRecipe now,
        List<Clues.Patch> patches) {}

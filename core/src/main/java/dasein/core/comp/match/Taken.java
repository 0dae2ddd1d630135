package dasein.core.comp.match;

import dasein.core.comp.CompRecipe;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.render.pass.Passes;
import dasein.core.track.Track;
import java.util.List;
import java.util.function.IntFunction;
import java.util.function.IntToDoubleFunction;

/**
 * What matches are made from.
 *
 * @param plate its frames, scene-linear, at its own size; {@code first} to {@code last} of them may be asked for
 * @param passes of {@code frame}, null where none are rendered
 * @param now the comp as it is in that frame
 * @param clues what was marked of the real light: ground in sun and shadow, edges of shadows
 * @param tracks as kept; @param pairs places that are to have the same colour; @param hazes dark places at known
 *     distances
 * @param quantiser step that a frame of the plate was coded with, codes of 0 to 1, no number where it is not known
 * @param halfColour whether its colours are stored at half size
 * @param shutter part of a frame's time for which it is open for performers
 * @param points of each frame, whose distance is known
 */
public record Taken(
        IntFunction<Image> plate,
        int first,
        int last,
        Encoding encoding,
        int frame,
        Passes passes,
        CompRecipe now,
        Clues clues,
        List<Track> tracks,
        List<ColourPair> pairs,
        List<HazePick> hazes,
        IntToDoubleFunction quantiser,
        boolean halfColour,
        double shutter,
        IntFunction<List<SeenPoint>> points) {
    /** Frames that matches look at lie on one grid: what one of them has read is there for the next. */
    private static final int GRID = 12;

    /** So many frames, spread over the shot; at most {@link #GRID}. */
    int[] spread(int count) {
        int[] out = new int[count];
        for (int k = 0; k < count; k++) {
            int at = (2 * k + 1) * GRID / (2 * count);
            out[k] = first + (int) ((last - first) * (2L * at + 1) / (2 * GRID));
        }
        return out;
    }
}

package dasein.core.comp;

import dasein.core.comp.front.Matte;
import dasein.core.image.Cube;
import java.util.List;

/**
 * What a frame is put together from beside plate and passes.
 *
 * @param front what of the plate stands in front; @param table of colours that the grade ends with, or null
 * @param apart performers, and parts of the picture, that have numbers of their own
 */
public record Beside(Matte front, Cube table, List<Apart> apart) {
    public static final Beside NONE = new Beside(Matte.NONE, null, List.of());

    public static Beside of(Matte front) {
        return new Beside(front, null, List.of());
    }
}

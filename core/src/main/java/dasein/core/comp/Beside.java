package dasein.core.comp;

import dasein.core.comp.front.Matte;
import dasein.core.image.Cube;

/**
 * What a frame is put together from beside plate and passes.
 *
 * @param front what of the plate stands in front; @param table of colours that the grade ends with, or null
 */
public record Beside(Matte front, Cube table) {
    public static final Beside NONE = new Beside(Matte.NONE, null);

    public static Beside of(Matte front) {
        return new Beside(front, null);
    }
}

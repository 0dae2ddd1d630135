package dasein.core.comp;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.List;
import java.util.function.IntFunction;

/**
 * One finished frame. Where no pass says anything (alpha 0, shadow 1, bounce and reflection 0) the plate's own floats
 * are handed through, so that the frame equals the plate bit for bit there.
 */
public final class Comp {
    private Comp() {}

    /**
     * @param plate scene-linear, of the passes' size
     * @param encoding of the plate, in whose code values grain is laid
     * @param sizeOfPlate pixels of this frame for one of the full-size plate
     * @param seed of the grain: the frame number
     * @throws BadInput when sizes differ
     */
    public static Image frame(
            Image plate, Passes rendered, CompRecipe r, Encoding encoding, double sizeOfPlate, int seed) {
        return frame(plate, rendered, r, encoding, sizeOfPlate, seed, Beside.NONE);
    }

    /** @param beside what else there is for it */
    public static Image frame(
            Image plate,
            Passes rendered,
            CompRecipe r,
            Encoding encoding,
            double sizeOfPlate,
            int seed,
            Beside beside) {
        sized(plate, rendered);
        Window all = Window.all(plate.width, plate.height);
        return whole(r, beside, k -> new Course(plate, rendered, encoding, sizeOfPlate, seed, all, false), -1);
    }

    static void sized(Image plate, Passes rendered) {
        if (rendered.width != plate.width || rendered.height != plate.height)
            throw new BadInput("the passes are " + rendered.width + " x " + rendered.height + ", the plate "
                    + plate.width + " x " + plate.height);
    }

    /** @param courses of the frame, and of each time it is done again for a part of it; @param likely see there */
    static Image whole(CompRecipe r, Beside beside, IntFunction<Course> courses, int likely) {
        List<Apart> performers =
                beside.apart().stream().filter(Apart::performers).toList();
        Image out = courses.apply(0).gone(r, beside, performers, likely);
        int k = 0;
        for (Apart a : beside.apart()) {
            if (a.performers()) continue;
            Image other = courses.apply(++k).gone(a.recipe(), beside, performers, likely);
            Image.rows(out.height, y -> {
                for (int i = y * out.width, end = i + out.width; i < end; i++) {
                    float part = a.part()[i];
                    for (int c = 0; c < 3 && part > 0; c++)
                        out.planes[c][i] += part * (other.planes[c][i] - out.planes[c][i]);
                }
            });
        }
        return out;
    }
}

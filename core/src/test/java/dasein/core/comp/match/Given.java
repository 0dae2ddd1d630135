package dasein.core.comp.match;

import dasein.core.comp.CompRecipe;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.render.pass.Passes;
import java.util.List;

/** What matches are made from, where a test has one frame and nothing else. */
public final class Given {
    private Given() {}

    public static Taken frame(Image plate, Passes p, CompRecipe now, Clues clues) {
        return new Taken(
                f -> plate,
                1,
                1,
                Encoding.REC709,
                1,
                p,
                now,
                clues,
                List.of(),
                List.of(),
                List.of(),
                f -> Double.NaN,
                false,
                0.5,
                f -> List.of());
    }
}

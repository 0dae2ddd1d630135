package dasein.core.comp;

import dasein.core.comp.step.Steps;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.ArrayList;
import java.util.List;

/**
 * A frame, or a part of it, that is made again and again while one number of the comp changes. Everything else stays:
 * plate, passes, and what its beside is made of. For one thread at a time.
 */
public final class Trial {
    private final Image plate;
    private final Passes rendered;
    private final Encoding encoding;
    private final double scale;
    private final int seed;
    private final Window window;
    private final List<Course> courses = new ArrayList<>();

    /** @param window what of the frame is wanted; the rest as in {@link Comp#frame} */
    public Trial(Image plate, Passes rendered, Encoding encoding, double scale, int seed, Window window) {
        Comp.sized(plate, rendered);
        this.plate = plate;
        this.rendered = rendered;
        this.encoding = encoding;
        this.scale = scale;
        this.seed = seed;
        this.window = window;
    }

    /** What it was begun with. */
    public Image plate() {
        return plate;
    }

    /** @param number of the comp that is changing; @return the window alone */
    public Image frame(CompRecipe r, Beside beside, String number) {
        int likely = Course.stepOf(number);
        return window.of(Comp.whole(r, beside, k -> course(k, r), likely));
    }

    private Course course(int k, CompRecipe r) {
        // A picture that is moved or enlarged takes from all over the frame.
        Window of = Steps.moves(r) ? Window.all(plate.width, plate.height) : window;
        while (courses.size() <= k) courses.add(null);
        Course c = courses.get(k);
        if (c == null || !c.window().equals(of)) {
            c = new Course(plate, rendered, encoding, scale, seed, of, true);
            courses.set(k, c);
        }
        return c;
    }
}

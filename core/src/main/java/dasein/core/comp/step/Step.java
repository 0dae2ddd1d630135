package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/** One thing that is done on the way from passes to the finished frame. */
public interface Step {
    /** Under which heading its numbers stand, and with which it is switched off. */
    Group group();

    /** Under which smaller heading they are folded up while they are at rest; empty: always seen. */
    default String title() {
        return "";
    }

    /** Its numbers, in the order in which the page shows them. */
    List<Param> params();

    /** Whether it works on performers before they are laid over the plate: some of them may have it done otherwise. */
    default boolean ofPerformer() {
        return this instanceof OnPerformer;
    }

    /** Steps that need more than one pixel at a time work on everything at once. */
    interface Whole extends Step {
        void apply(Layers l, CompRecipe r);
    }

    /** Works on the performer alone, before it is laid over the plate: on what lies in {@link Layers#cg}. */
    interface OnPerformer extends Step {
        /** @param from first place of a row in the performer's box; {@code to}: the one after its last */
        void row(Layers l, CompRecipe r, int from, int to);
    }

    /** Works on the frame: on what lies in {@link Layers#frame}. */
    interface OnFrame extends Step {
        void row(Layers.Row row, CompRecipe r);
    }
}

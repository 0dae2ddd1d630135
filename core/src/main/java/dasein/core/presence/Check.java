package dasein.core.presence;

import dasein.core.ground.SetRecipe;
import dasein.core.image.Image;
import dasein.core.lens.View;
import dasein.core.render.pass.Passes;

/**
 * One measurement of how the CG sits: it looks at finished frames, one after the other, and then says what it found.
 */
public interface Check {
    /**
     * A finished frame with all it was made from, at the size of its passes.
     *
     * @param comp the finished picture; @param reach by how many pixels of this size the comp may carry performers
     *     beyond where they were rendered; @param shadowReach likewise their shadow; @param graded the whole frame was
     *     graded, plate and all
     * @param catcher the part of the ground that takes shadow
     */
    record Frame(
            int frame,
            Image plate,
            Passes passes,
            Image comp,
            View view,
            SetRecipe.Catcher catcher,
            int reach,
            int shadowReach,
            boolean graded) {}

    void look(Frame f);

    Finding finding();
}

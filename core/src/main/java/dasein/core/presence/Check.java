package dasein.core.presence;

import dasein.core.comp.CompRecipe;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.View;
import dasein.core.render.pass.Passes;
import java.util.function.Function;

/**
 * One measurement of how the CG sits: it looks at finished frames, one after the other, and then says what it found.
 * Those of how things stand look at no frame and speak as soon as they stand.
 */
public interface Check {
    /**
     * A finished frame with all it was made from, at the size of its passes.
     *
     * @param comp the finished picture; @param reach by how many pixels of this size the comp may carry performers
     *     beyond where they were rendered; @param shadowReach likewise their shadow; @param graded the whole frame was
     *     graded, plate and all
     * @param catcher the part of the ground that takes shadow
     * @param recipe as it is in this frame; @param remade the same frame finished by another recipe
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
            boolean graded,
            CompRecipe recipe,
            Encoding encoding,
            Function<CompRecipe, Image> remade) {
        /** With a comp that nobody asks to make again. */
        public Frame(
                int frame,
                Image plate,
                Passes passes,
                Image comp,
                View view,
                SetRecipe.Catcher catcher,
                int reach,
                int shadowReach,
                boolean graded) {
            this(
                    frame,
                    plate,
                    passes,
                    comp,
                    view,
                    catcher,
                    reach,
                    shadowReach,
                    graded,
                    CompRecipe.BLANK,
                    Encoding.REC709,
                    r -> comp);
        }
    }

    /** In addresses. */
    default String key() {
        return about().key();
    }

    Finding.About about();

    /** @param s what else there is of the shot */
    default void look(Frame f, Subject s) {}

    Finding finding(Subject s);
}

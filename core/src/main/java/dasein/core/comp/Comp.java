package dasein.core.comp;

import dasein.core.BadInput;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.InFront;
import dasein.core.comp.step.Layers;
import dasein.core.comp.step.Lights;
import dasein.core.comp.step.Step;
import dasein.core.comp.step.Steps;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.ArrayList;
import java.util.List;

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
        Passes p = Lights.apply(rendered, r);
        int w = plate.width, h = plate.height;
        if (p.width != w || p.height != h)
            throw new BadInput("the passes are " + p.width + " x " + p.height + ", the plate " + w + " x " + h);
        InFront.Held held = r.on(Group.FRONT) ? InFront.held(plate, beside.front(), r, sizeOfPlate) : null;
        Layers l =
                new Layers(plate, p, encoding, sizeOfPlate, seed, Steps.margin(r, sizeOfPlate), held, beside.table());
        List<Step.OnFrame> rows = new ArrayList<>();
        for (Step s : Steps.ALL) {
            if (!r.on(s.group())) continue;
            // Those on the frame are done row by row, one after the other, as long as nothing needs more of it.
            if (s instanceof Step.OnFrame f) rows.add(f);
            else if (s instanceof Step.Whole all) {
                flush(rows, l, r);
                all.apply(l, r);
            } else if (s instanceof Step.OnPerformer own && l.boxWidth() > 0) {
                int wide = l.boxWidth();
                Image.rows(l.boxHeight(), y -> own.row(l, r, y * wide, (y + 1) * wide));
            }
        }
        flush(rows, l, r);
        return l.frame();
    }

    private static void flush(List<Step.OnFrame> steps, Layers l, CompRecipe r) {
        if (steps.isEmpty()) return;
        Image.rows(l.frame().height, y -> {
            Layers.Row row = l.row(y);
            for (Step.OnFrame s : steps) s.row(row, r);
            row.close();
        });
        steps.clear();
    }
}

package dasein.core.comp;

import dasein.core.BadInput;
import dasein.core.comp.step.Layers;
import dasein.core.comp.step.Lights;
import dasein.core.comp.step.Step;
import dasein.core.comp.step.Steps;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.List;

/**
 * One finished frame. Where no pass says anything (alpha 0, shadow 1, bounce and reflection 0) the plate's own floats
 * are handed through, so that the frame equals the plate bit for bit there.
 */
public final class Comp {
    private static final List<Step.OnFrame> ON_FRAME = Steps.ALL.stream()
            .filter(Step.OnFrame.class::isInstance)
            .map(Step.OnFrame.class::cast)
            .toList();

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
        Passes p = Lights.apply(rendered, r);
        int w = plate.width, h = plate.height;
        if (p.width != w || p.height != h)
            throw new BadInput("the passes are " + p.width + " x " + p.height + ", the plate " + w + " x " + h);
        Layers l = new Layers(plate, p, encoding, sizeOfPlate, seed, Steps.margin(r, sizeOfPlate));
        if (l.boxWidth() > 0) for (Step s : Steps.ALL) onPerformer(s, l, r);
        Image.rows(h, y -> {
            Layers.Row row = l.row(y);
            for (Step.OnFrame s : ON_FRAME) s.row(row, r);
            row.close();
        });
        return l.frame();
    }

    private static void onPerformer(Step s, Layers l, CompRecipe r) {
        int w = l.boxWidth();
        if (s instanceof Step.Whole all) all.apply(l, r);
        if (s instanceof Step.OnPerformer own) Image.rows(l.boxHeight(), y -> own.row(l, r, y * w, (y + 1) * w));
    }
}

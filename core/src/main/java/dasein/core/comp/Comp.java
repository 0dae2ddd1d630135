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
        if (rendered.width != plate.width || rendered.height != plate.height)
            throw new BadInput("the passes are " + rendered.width + " x " + rendered.height + ", the plate "
                    + plate.width + " x " + plate.height);
        Frame f = new Frame(plate, rendered, encoding, sizeOfPlate, seed, beside);
        List<Apart> performers =
                beside.apart().stream().filter(Apart::performers).toList();
        Image out = f.whole(r, performers);
        for (Apart a : beside.apart()) {
            if (a.performers()) continue;
            Image other = f.whole(a.recipe(), performers);
            Image.rows(out.height, y -> {
                for (int i = y * out.width, end = i + out.width; i < end; i++) {
                    float k = a.part()[i];
                    for (int c = 0; c < 3 && k > 0; c++)
                        out.planes[c][i] += k * (other.planes[c][i] - out.planes[c][i]);
                }
            });
        }
        return out;
    }

    private record Frame(Image plate, Passes rendered, Encoding encoding, double scale, int seed, Beside beside) {
        /** @param apart performers that have numbers of their own */
        Image whole(CompRecipe r, List<Apart> apart) {
            Passes p = Lights.apply(rendered, r);
            InFront.Held held = r.on(Group.FRONT) ? InFront.held(plate, beside.front(), r, scale) : null;
            int margin = Steps.margin(r, scale);
            for (Apart a : apart) margin = Math.max(margin, Steps.margin(a.recipe(), scale));
            Layers l = new Layers(plate, p, encoding, scale, seed, margin, held, beside.table());
            List<Step> before = new ArrayList<>(), own = new ArrayList<>(), after = new ArrayList<>();
            for (Step s : Steps.ALL) (s.ofPerformer() ? own : own.isEmpty() ? before : after).add(s);
            run(before, l, r);
            if (apart.isEmpty()) run(own, l, r);
            else {
                List<Layers> split = new ArrayList<>();
                for (Apart a : apart) split.add(l.taken(a.part()));
                run(own, l, r);
                for (int k = 0; k < apart.size(); k++) {
                    run(own, split.get(k), apart.get(k).recipe());
                    l.add(split.get(k));
                }
            }
            run(after, l, r);
            return l.frame();
        }
    }

    private static void run(List<Step> steps, Layers l, CompRecipe r) {
        List<Step.OnFrame> rows = new ArrayList<>();
        for (Step s : steps) {
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

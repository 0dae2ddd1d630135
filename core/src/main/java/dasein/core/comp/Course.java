package dasein.core.comp;

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
import java.util.Set;
import java.util.TreeSet;

/**
 * The way of one frame through all steps. It may be gone again with other numbers: what is done before the first step
 * whose numbers changed is then taken from what was kept there.
 */
final class Course {
    /** Of states that are kept: each is as large as a frame. */
    private static final int MOST = 3;
    /** Pixels beside a window from which the last steps still take: a codec's block of colours. */
    private static final int BLOCK = 16;

    private static final int OWN = first(true, 0), AFTER = first(false, OWN);

    private final Image plate;
    private final Passes rendered;
    private final Encoding encoding;
    private final double scale;
    private final int seed;
    private final Window window;
    private final boolean again;
    private final List<Kept> kept = new ArrayList<>();
    private CompRecipe before;
    private int margin = -1;

    /** @param layers as they were before this step */
    private record Kept(int step, Layers layers) {}

    /** @param again whether it will be gone again: else nothing is kept */
    Course(Image plate, Passes rendered, Encoding encoding, double scale, int seed, Window window, boolean again) {
        this.plate = plate;
        this.rendered = rendered;
        this.encoding = encoding;
        this.scale = scale;
        this.seed = seed;
        this.window = window;
        this.again = again;
    }

    /**
     * @param apart performers that have numbers of their own; @param likely step whose numbers will change next, -1
     *     where nobody knows
     */
    Image gone(CompRecipe r, Beside beside, List<Apart> apart, int likely) {
        int needed = Steps.margin(r, scale);
        for (Apart a : apart) needed = Math.max(needed, Steps.margin(a.recipe(), scale));
        int changed = before == null ? 0 : firstChanged(before, r);
        if (needed > margin) {
            // Somewhat more, so that a number which grows while its slider is held does not begin anew each time.
            margin = again && margin >= 0 ? needed + needed / 2 : needed;
            changed = 0;
        }
        int from = changed;
        // Between the first step of performers and the last there is no one state where some have numbers of their own.
        boolean several = !apart.isEmpty();
        kept.removeIf(k -> k.step > from || from == 0 || several && k.step > OWN && k.step < AFTER);
        Layers l;
        int at = 0;
        if (kept.isEmpty()) l = begun(r, beside);
        else {
            Kept k = kept.get(kept.size() - 1);
            l = k.layers.copy();
            at = k.step;
        }
        int keep = !again ? -1 : changed > 0 && before != null ? changed : likely;
        if (several && keep > OWN && keep < AFTER) keep = OWN;
        at = run(l, r, at, OWN, keep);
        if (at < AFTER) {
            if (several && keep == OWN) keep(OWN, l);
            List<Layers> split = new ArrayList<>();
            for (Apart a : apart) split.add(l.taken(a.part()));
            at = run(l, r, at, AFTER, several ? -1 : keep);
            for (int k = 0; k < apart.size(); k++) {
                run(split.get(k), apart.get(k).recipe(), OWN, AFTER, -1);
                l.add(split.get(k));
            }
        }
        run(l, r, at, Steps.ALL.size(), keep);
        before = r;
        return l.frame();
    }

    Window window() {
        return window;
    }

    private Layers begun(CompRecipe r, Beside beside) {
        Passes p = Lights.apply(rendered, r);
        InFront.Held held = r.on(Group.FRONT) ? InFront.held(plate, beside.front(), r, scale) : null;
        Window near = window.grown(margin + BLOCK, p.width, p.height);
        return new Layers(plate, p, encoding, scale, seed, margin, held, beside.table(), near);
    }

    /** Steps from one on to before another; @param keep the one before which layers are kept, -1 for none */
    private int run(Layers l, CompRecipe r, int from, int to, int keep) {
        List<Step.OnFrame> rows = new ArrayList<>();
        for (int i = from; i < to; i++) {
            Step s = Steps.ALL.get(i);
            if (i == keep) {
                flush(rows, l, r);
                keep(i, l);
            }
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
        return Math.max(from, to);
    }

    private void keep(int step, Layers l) {
        if (step == 0 || !kept.isEmpty() && kept.get(kept.size() - 1).step >= step) return;
        if (kept.size() == MOST) kept.remove(0);
        kept.add(new Kept(step, l.copy()));
    }

    private static void flush(List<Step.OnFrame> steps, Layers l, CompRecipe r) {
        if (steps.isEmpty()) return;
        Window w = l.window();
        Image.rows(w.height(), k -> {
            Layers.Row row = l.row(w.y() + k);
            for (Step.OnFrame s : steps) s.row(row, r);
            row.close();
        });
        steps.clear();
    }

    private static int first(boolean ofPerformer, int from) {
        int i = from;
        while (Steps.ALL.get(i).ofPerformer() != ofPerformer) i++;
        return i;
    }

    /** The first step that one recipe does otherwise than another; as many as there are steps where none does. */
    static int firstChanged(CompRecipe a, CompRecipe b) {
        Set<String> names = new TreeSet<>();
        for (CompRecipe r : List.of(a, b)) names.addAll(r.numbers().keySet());
        names.removeIf(n -> a.numbers().getOrDefault(n, 1.0).equals(b.numbers().getOrDefault(n, 1.0)));
        return names.stream().mapToInt(Course::stepOf).min().orElse(Steps.ALL.size());
    }

    /** The step at which a number first counts; 0 for what counts before all of them. */
    static int stepOf(String number) {
        for (int i = 0; i < Steps.ALL.size(); i++) {
            Step s = Steps.ALL.get(i);
            boolean its = s.group().on().name().equals(number)
                    || s.params().stream().anyMatch(p -> p.name().equals(number));
            // What stands in front is parted from what lies behind before anything is done.
            if (its) return s.group() == Group.FRONT ? 0 : i;
        }
        return 0;
    }
}

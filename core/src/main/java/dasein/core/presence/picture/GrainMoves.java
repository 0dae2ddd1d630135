package dasein.core.presence.picture;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Group;
import dasein.core.image.CodeTable;
import dasein.core.image.Image;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.Locale;

/**
 * Whether the grain on performers moves: what grain changed in a frame, held against the one before it. Frozen grain is
 * seen as dirt on the lens.
 */
public final class GrainMoves implements Check {
    private static final double LIMIT = 20;
    private static final int LEAST = 2000, MOST = 6;
    private static final Finding.About ABOUT = new Finding.About(
            "frozen",
            "Moving grain",
            "comp",
            "% alike",
            LIMIT,
            "of two frames no grain is alike; a fifth is what chance leaves of small areas");

    private final Worst worst = new Worst(LIMIT);
    private float[] before;
    private int last = -2, pairs;
    private boolean none;

    @Override
    public void look(Frame f, Subject s) {
        if (pairs >= MOST || f.recipe() == null) return;
        boolean next = f.frame() == last + 1;
        // Of each pair of neighbours: it is made twice.
        if (!next && before != null) before = null;
        float[] now = grain(f);
        if (now == null) return;
        if (next && before != null && before.length == now.length) {
            double ab = 0, aa = 0, bb = 0;
            int n = 0;
            for (int i = 0; i < now.length; i++) {
                if (Float.isNaN(now[i]) || Float.isNaN(before[i])) continue;
                ab += now[i] * before[i];
                aa += now[i] * now[i];
                bb += before[i] * before[i];
                n++;
            }
            if (n > LEAST && aa > 0 && bb > 0) {
                worst.add(f.frame(), 100 * Math.abs(ab) / Math.sqrt(aa * bb), null);
                pairs++;
            }
            before = null;
            last = -2;
            return;
        }
        before = now;
        last = f.frame();
    }

    /** Codes by which grain changed performers; no number elsewhere; null without any. */
    private float[] grain(Frame f) {
        // Coarse coding swallows grain, or lays its own pattern over it: both are looked at without.
        CompRecipe plainly = f.recipe().with(Group.CODEC.on(), 0), without = plainly.with(Group.GRAIN.on(), 0);
        if (without.equals(plainly)) {
            none = true;
            return null;
        }
        Image grainy = f.remade().apply(plainly), plain = f.remade().apply(without);
        CodeTable t = CodeTable.of(f.encoding());
        float[] out = new float[plain.planes[1].length];
        boolean any = false;
        for (int i = 0; i < out.length; i++) {
            out[i] = f.passes().alpha[i] > 0.98f
                    ? t.encode(Math.max(0, grainy.planes[1][i])) - t.encode(Math.max(0, plain.planes[1][i]))
                    : Float.NaN;
            any |= out[i] != 0 && !Float.isNaN(out[i]);
        }
        none |= !any;
        return any ? out : null;
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (worst.frames == 0)
            return ABOUT.unseen(
                    none
                            ? "There is no grain on performers that could move."
                            : "Two finished frames in a row are needed.");
        return worst.found()
                ? worst.on(ABOUT.found(
                        worst.figure,
                        String.format(
                                Locale.ROOT, "Grain of frame %d is the one of the frame before it.", worst.frame)))
                : ABOUT.good(worst.figure, "Every frame has grain of its own.");
    }
}

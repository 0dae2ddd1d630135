package dasein.core.presence.picture;

import dasein.core.image.Image;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import java.util.ArrayList;
import java.util.List;

/** Counts pixels outside the influence of CG that differ from the plate's by a single bit. There may be none. */
public final class PlateUntouched implements Check {
    private static final Finding.About ABOUT = new Finding.About(
            "untouched", "Plate untouched", "comp", "pixels", 0, "what nobody changed is the plate's, bit for bit");

    private final List<Integer> bad = new ArrayList<>();
    private int frames, graded;
    private long outside;
    private long changed;
    private int worstFrame;
    private long worst;

    @Override
    public void look(Frame f, Subject s) {
        if (f.graded()) {
            graded++;
            return;
        }
        Image plate = f.plate(), comp = f.comp();
        Passes p = f.passes();
        int w = plate.width;
        boolean[] near = spread(p, f.reach(), f.shadowReach());
        long here = 0;
        for (int i = 0; i < w * plate.height; i++) {
            if (near[i]) continue;
            outside++;
            for (int c = 0; c < 3; c++) {
                if (Float.floatToRawIntBits(plate.planes[c][i]) != Float.floatToRawIntBits(comp.planes[c][i])) {
                    here++;
                    break;
                }
            }
        }
        frames++;
        changed += here;
        if (here > 0) bad.add(f.frame());
        if (here > worst) {
            worst = here;
            worstFrame = f.frame();
        }
    }

    private static boolean[] spread(Passes p, int performer, int shadow) {
        int w = p.width, h = p.height;
        boolean[] on = new boolean[w * h];
        for (int y = 0; y < h; y++) {
            for (int x = 0, i = y * w; x < w; x++, i++) {
                if (!p.matters(i)) continue;
                on[i] = true;
                int reach = p.shows(i) ? Math.max(performer, shadow) : shadow;
                if (reach == 0) continue;
                for (int b = Math.max(0, y - reach); b <= Math.min(h - 1, y + reach); b++) {
                    java.util.Arrays.fill(on, b * w + Math.max(0, x - reach), b * w + Math.min(w, x + reach + 1), true);
                }
            }
        }
        return on;
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (frames == 0)
            return ABOUT.unseen(
                    graded > 0
                            ? "The grade or the reframing changes the whole frame; switch them off to have it looked at."
                            : "No finished frame to look at yet.");
        if (changed == 0)
            return ABOUT.good(0, "Outside the CG every pixel of " + frames + " frames is the plate's own.");
        return ABOUT.found(
                        changed,
                        changed + " pixels outside the CG differ from the plate, most in frame " + worstFrame + ".")
                .in(List.copyOf(bad), worstFrame);
    }
}

package dasein.core.presence;

import dasein.core.image.Image;
import dasein.core.render.pass.Passes;

/** Counts pixels outside the influence of CG that differ from the plate's by a single bit. There may be none. */
public final class PlateUntouched implements Check {
    private int frames, graded;
    private long outside;
    private long changed;
    private int worstFrame;
    private long worst;

    @Override
    public void look(Frame f) {
        if (f.graded()) {
            graded++;
            return;
        }
        Image plate = f.plate(), comp = f.comp();
        Passes p = f.passes();
        int w = plate.width;
        boolean[] near = spread(p, f.reach(), f.shadowReach());
        long bad = 0;
        for (int i = 0; i < w * plate.height; i++) {
            if (near[i]) continue;
            outside++;
            for (int c = 0; c < 3; c++) {
                if (Float.floatToRawIntBits(plate.planes[c][i]) != Float.floatToRawIntBits(comp.planes[c][i])) {
                    bad++;
                    break;
                }
            }
        }
        frames++;
        changed += bad;
        if (bad > worst) {
            worst = bad;
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
    public Finding finding() {
        boolean all = frames == 0 && graded > 0;
        String s = all
                ? "The grade or the reframing changes the whole frame, so the plate is not looked at; switch them off to "
                        + "have it looked at."
                : frames == 0
                        ? "No finished frame to look at yet."
                        : changed == 0
                                ? "Outside the CG every pixel of " + frames + " frames is the plate's own."
                                : changed + " pixels outside the CG differ from the plate, most in frame " + worstFrame
                                        + ".";
        return new Finding(
                "Plate untouched", all || frames > 0 && changed == 0, changed, "pixels", 0, s, "comp", worstFrame);
    }
}

package dasein.core.presence;

import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.render.Passes;

/** Counts pixels outside the influence of CG whose code values differ from the plate's. There may be none. */
public final class PlateUntouched {
    private int frames;
    private long outside;
    private long changed;
    private int worstFrame;
    private long worst;

    /** @param softnessPx by how much the comp spread the performer, in pixels of this size */
    public void add(int frame, Image plate, Passes p, Image comp, Encoding e, double softnessPx) {
        int w = plate.width, reach = softnessPx > 0 ? (int) Math.ceil(4 * softnessPx) + 1 : 0;
        boolean[] near = spread(p, reach);
        long bad = 0;
        for (int i = 0; i < w * plate.height; i++) {
            if (near[i]) continue;
            outside++;
            for (int c = 0; c < 3; c++) {
                if (e.encode8(plate.planes[c][i]) != e.encode8(comp.planes[c][i])) {
                    bad++;
                    break;
                }
            }
        }
        frames++;
        changed += bad;
        if (bad > worst) {
            worst = bad;
            worstFrame = frame;
        }
    }

    private static boolean[] spread(Passes p, int reach) {
        int w = p.width, h = p.height;
        boolean[] on = new boolean[w * h];
        for (int y = 0; y < h; y++) {
            for (int x = 0, i = y * w; x < w; x++, i++) {
                if (p.shadow[0][i] != 1
                        || p.shadow[1][i] != 1
                        || p.shadow[2][i] != 1
                        || p.bounce[0][i] != 0
                        || p.bounce[1][i] != 0
                        || p.bounce[2][i] != 0
                        || p.reflection[0][i] != 0
                        || p.reflection[1][i] != 0
                        || p.reflection[2][i] != 0) on[i] = true;
                if (p.alpha[i] <= 0) continue;
                for (int b = Math.max(0, y - reach); b <= Math.min(h - 1, y + reach); b++) {
                    java.util.Arrays.fill(on, b * w + Math.max(0, x - reach), b * w + Math.min(w, x + reach + 1), true);
                }
            }
        }
        return on;
    }

    public Finding finding() {
        String s = frames == 0
                ? "No finished frame to look at yet."
                : changed == 0
                        ? "Outside the CG every pixel of " + frames + " frames is the plate's own."
                        : changed + " pixels outside the CG differ from the plate, most in frame " + worstFrame + ".";
        return new Finding("Plate untouched", frames > 0 && changed == 0, changed, "pixels", 0, s, "comp", worstFrame);
    }
}

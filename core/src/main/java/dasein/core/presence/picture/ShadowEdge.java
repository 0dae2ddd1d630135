package dasein.core.presence.picture;

import dasein.core.ground.SetRecipe;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import java.util.Locale;

/**
 * Is the shadow still dark where the catcher ends? Then the eye sees a straight cut. Figure: darkest run of shadow
 * along the edge, in percent.
 */
public final class ShadowEdge implements Check {
    /** A cut of less than this is lost in grain (common practice: grain of a few percent). */
    private static final double LIMIT = 1.5;

    private static final int STEPS = 400;
    /** Shadow of less is seen nowhere. */
    private static final double FAINT = 0.005;
    /** Neighbouring places along the edge that are averaged. */
    private static final int RUN = 12;

    private static final Finding.About ABOUT = new Finding.About(
            "catcher",
            "Shadow inside the catcher",
            "set",
            "% dark at the edge",
            LIMIT,
            "grain of a few percent hides a step of less (common practice)");

    private final Worst worst = new Worst(LIMIT);

    @Override
    public void look(Frame f, Subject s) {
        Passes p = f.passes();
        SetRecipe.Catcher c = f.catcher();
        Pose pose = f.view().at(0.5);
        Lens lens = f.view().lens();
        double deepest = 0;
        Vec3 place = null;
        for (int side = 0; side < 4; side++) {
            double[] dark = new double[STEPS];
            for (int k = 0; k < STEPS; k++) {
                double[] q = lens.project(pose.toLocal(at(c, side, k)));
                if (q == null || q[0] < 0 || q[1] < 0 || q[0] >= p.width || q[1] >= p.height) continue;
                int i = (int) q[1] * p.width + (int) q[0];
                if (p.alpha[i] > 0.5) continue;
                double d = 1 - (p.shadow[0][i] + p.shadow[1][i] + p.shadow[2][i]) / 3;
                // What stands before the edge takes shadow itself.
                dark[k] = d > FAINT && hidden(s, pose.position(), at(c, side, k)) ? 0 : d;
            }
            // A cut is seen as a line; one noisy pixel is not a line.
            for (int k = 0; k + RUN <= STEPS; k++) {
                double mean = 0;
                for (int j = k; j < k + RUN; j++) mean += dark[j] / RUN;
                if (mean <= deepest) continue;
                deepest = mean;
                place = at(c, side, k + RUN / 2);
            }
        }
        double[] q = place == null ? null : lens.project(pose.toLocal(place));
        worst.add(f.frame(), 100 * deepest, q == null ? null : s.place(f, q[0], q[1], 0.04 * p.width));
    }

    private static boolean hidden(Subject s, Vec3 eye, Vec3 at) {
        return s.blocking() != null && s.blocking().hides(eye, at);
    }

    /** A place on one of its four sides, a little inside, so that the pixel lies on the catcher. */
    private static Vec3 at(SetRecipe.Catcher c, int side, int k) {
        double t = (k + 0.5) / STEPS - 0.5, in = 0.496;
        return new Vec3(
                c.x() + c.width() * (side == 0 ? -in : side == 1 ? in : t),
                0,
                c.z() + c.depth() * (side == 2 ? -in : side == 3 ? in : t));
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (worst.frames == 0) return ABOUT.unseen("No rendered frame to look at yet.");
        if (!worst.found()) return ABOUT.good(worst.figure, "The shadow has faded before the catcher ends.");
        return worst.on(ABOUT.found(
                worst.figure,
                String.format(
                        Locale.ROOT,
                        "The shadow is cut off by the catcher's edge in frame %d: it is still %.0f %% dark there. "
                                + "Make the catcher larger.",
                        worst.frame,
                        worst.figure)));
    }
}

package dasein.core.presence;

import dasein.core.ground.SetRecipe;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.render.pass.Passes;

/**
 * Is the shadow still dark where the catcher ends? Then the eye sees a straight cut. Figure: darkest run of shadow
 * along the edge, in percent.
 */
public final class ShadowEdge implements Check {
    /** A cut of less than this is lost in grain (common practice: grain of a few percent). */
    private static final double LIMIT = 1.5;

    private static final int STEPS = 400;
    /** Neighbouring places along the edge that are averaged. */
    private static final int RUN = 12;

    private double worst;
    private int worstFrame;
    private int frames;

    @Override
    public void look(Frame f) {
        Passes p = f.passes();
        SetRecipe.Catcher c = f.catcher();
        Pose pose = f.view().at(0.5);
        Lens lens = f.view().lens();
        double deepest = 0;
        for (int side = 0; side < 4; side++) {
            double[] dark = new double[STEPS];
            for (int k = 0; k < STEPS; k++) {
                double t = (k + 0.5) / STEPS - 0.5;
                // A little inside the edge, so that the pixel lies on the catcher.
                double in = 0.496;
                double x = c.x() + c.width() * (side == 0 ? -in : side == 1 ? in : t),
                        z = c.z() + c.depth() * (side == 2 ? -in : side == 3 ? in : t);
                double[] q = lens.project(pose.toLocal(new Vec3(x, 0, z)));
                if (q == null || q[0] < 0 || q[1] < 0 || q[0] >= p.width || q[1] >= p.height) continue;
                int i = (int) q[1] * p.width + (int) q[0];
                if (p.alpha[i] > 0.5) continue;
                dark[k] = 1 - (p.shadow[0][i] + p.shadow[1][i] + p.shadow[2][i]) / 3;
            }
            // A cut is seen as a line; one noisy pixel is not a line.
            for (int k = 0; k + RUN <= STEPS; k++) {
                double mean = 0;
                for (int j = k; j < k + RUN; j++) mean += dark[j] / RUN;
                deepest = Math.max(deepest, mean);
            }
        }
        frames++;
        if (100 * deepest > worst) {
            worst = 100 * deepest;
            worstFrame = f.frame();
        }
    }

    @Override
    public Finding finding() {
        boolean ok = frames > 0 && worst <= LIMIT;
        String s = frames == 0
                ? "No rendered frame to look at yet."
                : ok
                        ? "The shadow has faded before the catcher ends."
                        : String.format(
                                "The shadow is cut off by the catcher's edge in frame %d: it is still %.0f "
                                        + "%% dark there. Make the catcher larger.",
                                worstFrame, worst);
        return new Finding("Shadow inside the catcher", ok, worst, "% dark at the edge", LIMIT, s, "set", worstFrame);
    }
}

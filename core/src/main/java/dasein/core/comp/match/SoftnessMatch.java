package dasein.core.comp.match;

import dasein.core.BadInput;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Sharpen;
import dasein.core.comp.step.Softness;
import dasein.core.render.pass.Passes;
import java.util.Locale;

/**
 * Softens performers as much as the plate's edges are drawn softer than theirs: widths of Gaussians one after the other
 * add in squares.
 */
final class SoftnessMatch implements Match {
    private static final int FRAMES = 3;

    @Override
    public String key() {
        return "softness";
    }

    @Override
    public Group group() {
        return Group.LENS;
    }

    @Override
    public Outcome of(Taken t) {
        Passes p = t.passes();
        if (p == null) throw new BadInput("there are no passes of this frame yet whose edges could be compared");
        EdgeMeasure plate = new EdgeMeasure(), own = new EdgeMeasure();
        int width = 0;
        for (int k = 0; k < FRAMES; k++) {
            var im = t.plate().apply(t.spread(FRAMES)[k]);
            plate.look(im, t.encoding(), null);
            width = im.width;
        }
        own.look(p.alpha, p.width, p.height);
        EdgeMeasure.Found a = plate.found(), b = own.found();
        // Edges that the camera sharpened run steeper than they were drawn.
        double unsharpened =
                t.now().get(Sharpen.AMOUNT) > 0 ? HaloMatch.measured(t).sigma() / a.sigma() : 1;
        // Passes may be smaller than the plate.
        double rendered = b.sigma() * width / p.width, green = besides(unsharpened * a.colour()[1], rendered);
        return new Outcome(
                t.now()
                        .with(Softness.SOFTNESS, green)
                        .with(Softness.RED, besides(a.colour()[0], a.colour()[1]))
                        .with(Softness.BLUE, besides(a.colour()[2], a.colour()[1])),
                String.format(Locale.ROOT, "%.2f px +- %.2f, of %d edges", a.sigma(), a.uncertainty(), a.edges()),
                String.format(
                        Locale.ROOT, "%.2f px", Math.hypot(rendered, t.now().get(Softness.SOFTNESS))));
    }

    private static double besides(double all, double part) {
        return Softness.SOFTNESS.held(Math.sqrt(Math.max(0, all * all - part * part)));
    }
}

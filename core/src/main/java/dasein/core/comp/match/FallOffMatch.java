package dasein.core.comp.match;

import dasein.core.NoSolution;
import dasein.core.comp.step.FallOff;
import dasein.core.comp.step.Group;
import java.util.Locale;

/** Sets how much less light the lens gives to corners, from marks that wander over the picture. */
final class FallOffMatch implements Match {
    /** When it is less sure than this, nothing wandered far enough. */
    private static final double UNSURE = 0.04;
    /** With less way than this between middle and corner, what shines otherwise from elsewhere counts for more. */
    private static final double WANDER = 0.08;

    @Override
    public String key() {
        return "fall-off";
    }

    @Override
    public Group group() {
        return Group.LENS;
    }

    @Override
    public Outcome of(Taken t) {
        OverFrame f = OverFrame.of(t);
        if (f.cornerOff() > UNSURE || f.wander() < WANDER)
            throw new NoSolution("marks do not wander far enough over the picture to see whether corners are darker");
        return new Outcome(
                t.now().with(FallOff.CORNER, FallOff.CORNER.held(f.corner())),
                String.format(
                        Locale.ROOT,
                        "%.1f %% darker +- %.1f, of %d marks",
                        100 * f.corner(),
                        100 * f.cornerOff(),
                        f.marks()),
                String.format(Locale.ROOT, "%.1f %%", 100 * t.now().get(FallOff.CORNER)));
    }
}

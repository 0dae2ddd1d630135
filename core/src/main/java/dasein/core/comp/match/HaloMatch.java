package dasein.core.comp.match;

import dasein.core.comp.step.Group;
import dasein.core.comp.step.Sharpen;
import java.util.Locale;

/** Sharpens performers as the camera sharpened the plate, where it did. */
final class HaloMatch implements Match {
    private static final int FRAMES = 3;
    /** Less than this is seen by nobody; and it must stand out of its uncertainty so many times. */
    private static final double LEAST = 0.015, SURE = 3;

    @Override
    public String key() {
        return "halos";
    }

    @Override
    public Group group() {
        return Group.LENS;
    }

    @Override
    public Outcome of(Taken t) {
        HaloMeasure.Found f = measured(t);
        boolean there = f.sure() > LEAST && f.sure() > SURE * f.uncertainty();
        double was = t.now().get(Sharpen.AMOUNT);
        return new Outcome(
                there
                        ? t.now()
                                .with(Sharpen.AMOUNT, Sharpen.AMOUNT.held(f.times()))
                                .with(Sharpen.SPREAD, Sharpen.SPREAD.held(f.pixels()))
                        : t.now().with(Sharpen.AMOUNT, 0),
                there
                        ? String.format(
                                Locale.ROOT,
                                "%.1f %% +- %.1f of an edge's rise, in %d places",
                                100 * f.over(),
                                100 * f.uncertainty(),
                                f.fields())
                        : String.format(Locale.ROOT, "none beyond %.1f %%, in %d places", 100 * LEAST, f.fields()),
                was > 0 ? String.format(Locale.ROOT, "sharpened %.2f times", was) : "not sharpened");
    }

    static HaloMeasure.Found measured(Taken t) {
        HaloMeasure m = new HaloMeasure();
        for (int f : t.spread(FRAMES)) m.look(t.plate().apply(f), t.encoding());
        return m.found();
    }
}

package dasein.core.cast;

import dasein.core.model.Moment;

/** How far that of a performer which may touch the ground is above it. */
public final class Feet {
    private Feet() {}

    /** A place that may touch the ground, and metres from there to the ground under it; below it they are negative. */
    public record Stand(double x, double y, double z, double above) {}

    /**
     * The lowest of them in a frame; null for a performer that has none, such as a card.
     *
     * @param frame fractional
     */
    public static Stand lowest(Blocking b, Performer p, double frame) {
        if (p.card() != null || p.flock() != null) return null;
        Moment m = b.at(p.id(), frame);
        float[] at = b.footing(p, m.clip() == null ? "" : m.clip().name()).places(m);
        double reach = 0.25 * p.heightMetres();
        Stand low = null;
        for (int i = 0; i < at.length; i += 3) {
            double above = at[i + 1] - b.around.ground(at[i], at[i + 2], at[i + 1] + reach);
            if (low == null || above < low.above) low = new Stand(at[i], at[i + 1], at[i + 2], above);
        }
        return low;
    }
}

package dasein.core.solve;

import dasein.core.BadInput;
import dasein.core.math.Vec3;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * What a person says to a solve beside its settings.
 *
 * @param first first frame that is solved, 0 for all; {@code last} likewise
 * @param readout time from the picture's first row to its last, as a part of the frame's; 0: all rows at once;
 *     {@link #SOLVE_READOUT}: to be found out
 * @param fillGaps frames that cannot be solved stand between their neighbours; else they are left out
 * @param weights of single tracks, for all others 1
 * @param measured places known from a survey; three or more put the solve into their frame
 */
public record Hints(
        int first, int last, double readout, boolean fillGaps, List<Weight> weights, List<Measured> measured) {
    public static final double SOLVE_READOUT = -2;
    public static final Hints NONE = new Hints(0, 0, 0, false, List.of(), List.of());

    /** @param weight by how much the track's squared errors count, 0.01 to 100 */
    public record Weight(int track, double weight) {
        public Weight {
            if (!(weight >= 0.01 && weight <= 100))
                throw new BadInput("the weight of track " + track + " must lie between 0.01 and 100");
        }
    }

    /** @param off one standard deviation of the measurement, in the survey's unit */
    public record Measured(int track, Vec3 position, double off) {
        public Measured {
            if (!(off > 0)) throw new BadInput("how exactly track " + track + " was measured must be more than 0");
        }
    }

    public Hints {
        if (readout != SOLVE_READOUT && !(Math.abs(readout) <= 1))
            throw new BadInput("the readout must lie between -1 and 1 of a frame");
        if (last != 0 && last < first)
            throw new BadInput("the part to be solved ends at frame " + last + ", before its first frame " + first);
    }

    public Hints part(int from, int to) {
        return new Hints(from, to, readout, fillGaps, weights, measured);
    }

    public Hints withReadout(double r) {
        return new Hints(first, last, r, fillGaps, weights, measured);
    }

    public Hints withFilled(boolean f) {
        return new Hints(first, last, readout, f, weights, measured);
    }

    public Hints withWeights(List<Weight> w) {
        return new Hints(first, last, readout, fillGaps, List.copyOf(w), measured);
    }

    public Hints withMeasured(List<Measured> m) {
        return new Hints(first, last, readout, fillGaps, weights, List.copyOf(m));
    }

    Map<Integer, Double> byTrack() {
        Map<Integer, Double> by = new HashMap<>();
        for (Weight w : weights) by.put(w.track, w.weight);
        return by;
    }
}

package dasein.core.model;

import dasein.core.math.Quat;
import java.util.Map;

/**
 * A performer at one moment.
 *
 * @param toSet affine 3x4 from model space to the set
 * @param clip null at rest; @param seconds into it
 * @param before the clip it takes over from, null for none; @param beforeSeconds into that; @param share of
 *     {@code clip}, 0 to 1
 * @param turns of nodes about their own pivots, by their number
 */
public record Moment(
        double[] toSet,
        Model.Clip clip,
        double seconds,
        Model.Clip before,
        double beforeSeconds,
        double share,
        Map<Integer, Quat> turns) {
    public static Moment still(double[] toSet, Model.Clip clip, double seconds) {
        return new Moment(toSet, clip, seconds, null, 0, 1, Map.of());
    }
}

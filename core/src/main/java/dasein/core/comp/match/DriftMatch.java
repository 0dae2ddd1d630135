package dasein.core.comp.match;

import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Group;
import dasein.core.key.Curve;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * Lets performers' gain follow the plate's exposure from frame to frame, by keys; what it is in the frame that is
 * looked at stays.
 */
final class DriftMatch implements Match {
    /**
     * Less than so many uncertainties, or stops from darkest to brightest, is none: surfaces that shine look by so much
     * brighter from elsewhere while the light stays (0.05 measured in a take whose light did).
     */
    private static final double SURE = 4, LEAST = 0.07;

    @Override
    public String key() {
        return "exposure drift";
    }

    @Override
    public Group group() {
        return Group.PERFORMER;
    }

    @Override
    public Outcome of(Taken t) {
        OverFrame f = OverFrame.of(t);
        double[] s = f.stops();
        double least = 0, most = 0;
        for (double v : s) {
            least = Math.min(least, v);
            most = Math.max(most, v);
        }
        double here = s[Math.max(0, Math.min(s.length - 1, t.frame() - f.first()))],
                gain = t.now().get(Gain.GAIN);
        String plate = String.format(
                Locale.ROOT, "%+.2f to %+.2f stops +- %.3f, of %d marks", least, most, f.spread(), f.marks());
        if (most - least < Math.max(LEAST, SURE * f.spread()))
            return new Outcome(t.now(), "steady: " + plate, "steady", Map.of(Gain.GAIN.name(), Curve.NONE));
        List<Curve.Key> keys = new ArrayList<>();
        for (int i = 0; i < s.length; i++)
            keys.add(new Curve.Key(
                    f.first() + i, Gain.GAIN.held(gain * Math.pow(2, s[i] - here)), Curve.Ease.LINEAR, 0, 0));
        return new Outcome(t.now(), plate, "steady", Map.of(Gain.GAIN.name(), new Curve(keys, List.of())));
    }
}

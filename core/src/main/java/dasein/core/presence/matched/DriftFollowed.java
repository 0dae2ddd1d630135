package dasein.core.presence.matched;

import dasein.core.NoSolution;
import dasein.core.comp.match.Match;
import dasein.core.comp.step.Gain;
import dasein.core.key.Curve;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Whether performers get darker and brighter over the shot as the plate does. */
public final class DriftFollowed implements Check {
    private static final double LIMIT = 0.12;
    private static final Finding.About ABOUT = new Finding.About(
            "drift",
            "Exposure drift",
            "comp",
            "stops",
            LIMIT,
            "an eighth of a stop is seen beside the plate (common practice)");

    private final Outcomes outcomes;

    public DriftFollowed(Outcomes outcomes) {
        this.outcomes = outcomes;
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (s.taken() == null) return ABOUT.unseen("No rendered frame to measure in yet.");
        Match.Outcome o;
        try {
            o = outcomes.of("exposure drift", s.taken());
        } catch (NoSolution e) {
            return ABOUT.unseen("It is not known: " + e.getMessage() + ".");
        }
        double rate = s.plate().rate().perSecond(),
                worst = 0,
                here = s.comp().at(s.taken().frame(), rate).get(Gain.GAIN);
        Curve wanted = o.curves().get(Gain.GAIN.name());
        int frame = 0;
        List<Integer> frames = new ArrayList<>();
        for (int f = s.cutFirst(); f <= s.cutLast(); f++) {
            double is = s.comp().at(f, rate).get(Gain.GAIN),
                    should = wanted == null || wanted.empty() ? here : wanted.at(f, here, rate),
                    off = Math.abs(Math.log(Math.max(1e-3, is) / Math.max(1e-3, should)) / Math.log(2));
            if (off > LIMIT) frames.add(f);
            if (off <= worst) continue;
            worst = off;
            frame = f;
        }
        String plate = "The plate is " + o.plate() + ".";
        return worst <= LIMIT
                ? ABOUT.good(worst, plate)
                : ABOUT.found(
                                worst,
                                String.format(
                                        Locale.ROOT,
                                        "%s Performers are off by %.2f stops in frame %d.",
                                        plate,
                                        worst,
                                        frame))
                        .in(frames, frame)
                        .mendedBy(Finding.Mend.match("exposure drift", s.taken().frame()));
    }
}

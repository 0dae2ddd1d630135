package dasein.core.presence.matched;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.comp.match.Match;
import dasein.core.comp.match.Matches;
import dasein.core.comp.match.Taken;
import java.util.HashMap;
import java.util.Map;

/** What matches find in one shot: each is asked once, however many checks go by it. */
public final class Outcomes {
    private record Answer(Match.Outcome outcome, String trouble) {}

    private final Map<String, Answer> known = new HashMap<>();

    /** @throws NoSolution with the sentence why it could not be measured */
    Match.Outcome of(String key, Taken t) {
        Answer a = known.computeIfAbsent(key, k -> asked(k, t));
        if (a.trouble != null) throw new NoSolution(a.trouble);
        return a.outcome;
    }

    private static Answer asked(String key, Taken t) {
        try {
            return new Answer(Matches.named(key).of(t), null);
        } catch (BadInput | NoSolution e) {
            return new Answer(null, e.getMessage());
        }
    }
}

package dasein.app.stage.comp;

import dasein.app.stage.Change;
import dasein.app.stage.Seen;
import dasein.app.store.Plates;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.comp.match.Match;
import dasein.core.comp.match.Matches;
import dasein.core.comp.match.Taken;
import dasein.core.comp.step.Steps;
import dasein.core.plate.Plate;
import dasein.core.shot.Shot;
import java.util.ArrayList;
import java.util.List;

/** Sets the comp by what is measured in the plate. */
final class CompMatches {
    static final String ALL = "all";

    private CompMatches() {}

    /** @param which key of a match, or {@link #ALL} */
    static Change change(Seen s, String which, int frame) {
        List<Match> these = Matches.ALL.stream()
                .filter(m -> which.equals(ALL) || m.key().equals(which))
                .toList();
        if (these.isEmpty()) throw new BadInput("there is nothing called " + which + " to be matched");
        Shot shot = s.shot();
        CompRecipe r = shot.comp();
        List<String> done = new ArrayList<>(), not = new ArrayList<>();
        try (Plates.Lent lent = s.desk().plates().need(shot)) {
            Plate plate = lent.plate();
            double rate = plate.rate().perSecond();
            for (Match m : these) {
                CompRecipe now = r.at(frame, rate);
                try {
                    Match.Outcome o = m.of(new Taken(
                            plate::frame,
                            s.first(),
                            s.last(),
                            plate.encoding(),
                            frame,
                            s.desk().comps().passes(shot, frame),
                            now,
                            shot.light().clues().patches()));
                    r = set(r, now, o.recipe(), m, frame);
                    done.add(m.key() + ": plate " + o.plate() + ", was " + o.was());
                } catch (BadInput | NoSolution e) {
                    not.add(m.key() + " not: " + e.getMessage());
                }
            }
        }
        if (done.isEmpty()) throw new BadInput(String.join("; ", not));
        done.addAll(not);
        return new Change(shot.with(r), "matched " + String.join("; ", done));
    }

    /** What is keyed is set by a key in this frame. */
    private static CompRecipe set(CompRecipe to, CompRecipe now, CompRecipe found, Match m, int frame) {
        CompRecipe next = to;
        for (Param p : Steps.params())
            if (found.get(p) != now.get(p)) next = next.set(p.name(), p.held(found.get(p)), frame);
        return next.on(m.group()) ? next : next.set(m.group().on().name(), 1, frame);
    }
}

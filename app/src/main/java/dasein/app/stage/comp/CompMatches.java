package dasein.app.stage.comp;

import dasein.app.scene.Subjects;
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
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;

/** Sets the comp by what is measured in the plate, and remembers what was found as long as the program runs. */
@Component
class CompMatches {
    private static final String ALL = "all";

    private final Subjects subjects;

    CompMatches(Subjects subjects) {
        this.subjects = subjects;
    }

    /** What was found last, by shot and match. */
    private final Map<Long, Map<String, Found>> last = new ConcurrentHashMap<>();

    /** @param failed the sentence that says why it could not be matched; null where it could */
    record Found(String key, String plate, String was, int frame, String failed) {}

    /** Of a shot, in the order of matching. */
    List<Found> found(long shot) {
        Map<String, Found> of = last.getOrDefault(shot, Map.of());
        return Matches.ALL.stream()
                .map(m -> of.get(m.key()))
                .filter(java.util.Objects::nonNull)
                .toList();
    }

    /** @param which key of a match, or "all" */
    Change change(Seen s, String which, int frame) {
        List<Match> these = Matches.ALL.stream()
                .filter(m -> which.equals(ALL) && m.ofAll() || m.key().equals(which))
                .toList();
        if (these.isEmpty()) throw new BadInput("there is nothing called " + which + " to be matched");
        Shot shot = s.shot(), next = shot;
        CompRecipe r = shot.comp();
        List<String> done = new ArrayList<>(), not = new ArrayList<>();
        Map<String, Found> found = last.computeIfAbsent(s.id(), id -> new ConcurrentHashMap<>());
        try (Plates.Lent lent = s.desk().plates().need(shot)) {
            Plate plate = lent.plate();
            if (frame < plate.first() || frame > plate.last())
                throw new BadInput("frame " + frame + " is none of the plate's, which are " + plate.first() + " to "
                        + plate.last());
            double rate = plate.rate().perSecond();
            Passes passes = s.desk().comps().passes(shot, frame);
            for (Match m : these) {
                CompRecipe now = r.at(frame, rate);
                Taken t = subjects.taken(shot, plate, frame, passes, now);
                if (which.equals(ALL) && !m.ready(t)) continue;
                try {
                    Match.Outcome o = m.of(t);
                    for (var e : o.curves().entrySet()) r = r.with(e.getKey(), e.getValue());
                    r = set(r, now, o.recipe(), m, frame);
                    if (o.shutterDeg() > 0) next = next.with(next.passes().withShutter(o.shutterDeg()));
                    done.add(m.key());
                    found.put(m.key(), new Found(m.key(), o.plate(), o.was(), frame, null));
                } catch (BadInput | NoSolution e) {
                    not.add(m.key() + ": " + e.getMessage());
                    found.put(m.key(), new Found(m.key(), "", "", frame, e.getMessage()));
                }
            }
        }
        if (done.isEmpty()) throw new BadInput(String.join("; ", not));
        return new Change(next.with(r), String.join(", ", done) + " matched in frame " + frame);
    }

    /** What is keyed is set by a key in this frame. */
    private static CompRecipe set(CompRecipe to, CompRecipe now, CompRecipe found, Match m, int frame) {
        CompRecipe next = to;
        for (Param p : Steps.params())
            if (found.get(p) != now.get(p)) next = next.set(p.name(), p.held(found.get(p)), frame);
        return next.on(m.group()) ? next : next.set(m.group().on().name(), 1, frame);
    }
}

package dasein.app.stage.comp;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Seen;
import dasein.app.store.ShotMapper;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Steps;
import dasein.core.key.Curve;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.springframework.stereotype.Component;

/** Carries a comp's numbers from another shot of the show. */
@Component
class CompFrom {
    private final ShotMapper rows;

    CompFrom(ShotMapper rows) {
        this.rows = rows;
    }

    /** Other shots of its show. */
    List<ShotMapper.ShotRow> others(Seen s) {
        return rows.shots().stream()
                .filter(r -> r.showId() == s.head().row().showId() && r.id() != s.id())
                .toList();
    }

    /**
     * What is keyed there is taken as it is in that shot's first frame: its frames are not this one's.
     *
     * @param f the other shot ({@code from}) and the key of a heading ({@code group}), empty for all
     */
    Change change(Seen s, Form f) {
        String key = f.text("group", "");
        List<Group> groups = Arrays.stream(Group.values())
                .filter(g -> key.isEmpty() || g.key().equals(key))
                .toList();
        if (groups.isEmpty()) throw new BadInput("there is no step called " + key);
        ShotMapper.ShotRow other = others(s).stream()
                .filter(r -> f.text("from", "").equals(Long.toString(r.id())))
                .findFirst()
                .orElseThrow(() -> new BadInput("choose another shot of this show"));
        Shots.Head from = s.desk().shots().head(other.id());
        CompRecipe there = from.shot().comp(), r = s.shot().comp();
        if (!there.keys().isEmpty()) {
            var facts = s.desk().plates().facts(from.shot());
            there = there.at(facts.first(), facts.rate().perSecond());
        }
        for (Group g : groups) {
            List<Param> these = new ArrayList<>(Steps.params(g));
            these.add(g.on());
            for (Param p : these) r = r.with(p.name(), Curve.NONE).with(p, there.get(p));
        }
        String what = key.isEmpty() ? "comp" : groups.get(0).label();
        return new Change(s.shot().with(r), what + " as in " + other.name());
    }
}

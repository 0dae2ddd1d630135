package dasein.app.stage.comp;

import dasein.app.stage.Change;
import dasein.app.stage.Desk;
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
    List<ShotMapper.ShotRow> others(Shots.Head of) {
        return rows.shots().stream()
                .filter(r -> r.showId() == of.row().showId() && r.id() != of.id())
                .toList();
    }

    /** @param number of one of them. @throws BadInput when it is none */
    ShotMapper.ShotRow other(Shots.Head of, String number) {
        return others(of).stream()
                .filter(r -> number.equals(Long.toString(r.id())))
                .findFirst()
                .orElseThrow(() -> new BadInput("choose another shot of this show"));
    }

    /** @param f the other shot ({@code from}) and the key of a heading ({@code group}), empty for all */
    Change change(Seen s, Form f) {
        Taken t = taken(s.desk(), s.head(), f.text("from", ""), f.text("group", ""));
        return new Change(s.shot().with(t.recipe), t.said);
    }

    /**
     * A comp with numbers of another shot's.
     *
     * @param groups headings whose numbers may differ; @param said what was done
     */
    record Taken(CompRecipe recipe, List<Group> groups, String said) {}

    /**
     * What is keyed there is taken as it is in that shot's first frame: its frames are not this one's.
     *
     * @param other number of the other shot; @param group key of a heading, empty for all
     */
    Taken taken(Desk desk, Shots.Head to, String other, String group) {
        List<Group> groups = Arrays.stream(Group.values())
                .filter(g -> group.isEmpty() || g.key().equals(group))
                .toList();
        if (groups.isEmpty()) throw new BadInput("there is no step called " + group);
        ShotMapper.ShotRow row = other(to, other);
        Shots.Head from = desk.shots().head(row.id());
        CompRecipe there = from.shot().comp(), r = to.shot().comp();
        if (!there.keys().isEmpty()) {
            var facts = desk.plates().facts(from.shot());
            there = there.at(facts.first(), facts.rate().perSecond());
        }
        for (Group g : groups)
            for (Param p : of(g)) r = r.with(p.name(), Curve.NONE).with(p, there.get(p));
        String what = group.isEmpty() ? "comp" : groups.get(0).label();
        return new Taken(r, groups, what + " as in " + row.name());
    }

    /** One number that the other shot has otherwise, as the page shows it. */
    record Difference(String heading, String label, double here, double there) {}

    /** What would change. @param frame in which this shot's own numbers are looked at */
    List<Difference> differences(Desk desk, Shots.Head to, String other, String group, int frame) {
        Taken t = taken(desk, to, other, group);
        CompRecipe now = to.shot().comp();
        if (!now.keys().isEmpty())
            now = now.at(frame, desk.plates().facts(to.shot()).rate().perSecond());
        List<Difference> out = new ArrayList<>();
        for (Group g : t.groups)
            for (Param p : of(g)) {
                double here = now.get(p) * p.shown(), there = t.recipe.get(p) * p.shown();
                if (here != there) out.add(new Difference(g.label(), p.label(), here, there));
            }
        return out;
    }

    /** Its numbers and its switch. */
    private static List<Param> of(Group g) {
        List<Param> all = new ArrayList<>(Steps.params(g));
        all.add(g.on());
        return all;
    }
}

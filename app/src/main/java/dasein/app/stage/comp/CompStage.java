package dasein.app.stage.comp;

import dasein.app.stage.Change;
import dasein.app.stage.Edited;
import dasein.app.stage.FileNames;
import dasein.app.stage.Form;
import dasein.app.stage.KeyEdits;
import dasein.app.stage.Line;
import dasein.app.stage.Moving;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.stage.passes.Rendering;
import dasein.app.stage.tracks.MaskEdits;
import dasein.app.store.Media;
import dasein.core.BadInput;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.comp.match.Matches;
import dasein.core.comp.step.Grade;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Lights;
import dasein.core.comp.step.Steps;
import dasein.core.format.DecisionList;
import dasein.core.shot.Shot;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import org.springframework.web.multipart.MultipartFile;

/** Plate and passes put together. */
@Component
class CompStage implements Stage {
    private final CompMatches found;
    private final CompFrom from;
    private final CompBench lists;
    private final CompVersions versions;
    private final CompKeysFrom follows;
    private final Rendering rendering;

    CompStage(
            CompMatches found,
            CompFrom from,
            CompBench lists,
            CompVersions versions,
            CompKeysFrom follows,
            Rendering rendering) {
        this.rendering = rendering;
        this.follows = follows;
        this.versions = versions;
        this.found = found;
        this.from = from;
        this.lists = lists;
    }

    /** What everybody sets first. */
    private static final Set<Group> USUAL = Set.of(Group.SHADOW, Group.PERFORMER);

    private static final Set<Param> SWITCHES =
            Arrays.stream(Group.values()).map(Group::on).collect(Collectors.toSet());

    @Override
    public String key() {
        return "comp";
    }

    @Override
    public String name() {
        return "Comp";
    }

    @Override
    public Line line(Seen s) {
        int have = s.renderedInCut().size(), all = s.plate() == null ? 0 : s.cutLast() - s.cutFirst() + 1;
        String said = "ready in " + have + (have == 1 ? " frame" : " frames");
        return have == 0 ? Line.missing("needs passes") : have < all ? Line.stale(said) : Line.fresh(said);
    }

    @Override
    public void bench(Model m, Seen s) {
        m.addAttribute("rendered", s.rendered());
        boolean somebody = s.camera() != null && !s.shot().performers().isEmpty() && s.plate() != null;
        m.addAttribute(
                "missing",
                somebody ? s.cutLast() - s.cutFirst() + 1 - s.renderedInCut().size() : 0);
        List<Param> lights = Lights.of(s.shot().lightsApart());
        m.addAttribute("lights", lights);
        m.addAttribute("lightsTogether", lights.isEmpty());
        Map<Group, Map<String, List<Param>>> groups = new LinkedHashMap<>();
        for (Group g : Group.values()) groups.put(g, Steps.titled(g));
        m.addAttribute("groups", groups);
        m.addAttribute("found", found.found(s.id()));
        m.addAttribute("others", from.others(s.head()));
        lists.bench(m, s);
        m.addAttribute("versions", versions.of(s.id()));
        String table = s.shot().comp().table();
        Media file = table.isEmpty() ? null : s.desk().shelf().find(table);
        m.addAttribute("tableName", file == null ? null : file.name());
        m.addAttribute("matches", groups.keySet().stream().collect(Collectors.toMap(g -> g, Matches::of)));
        m.addAttribute(
                "opened",
                groups.keySet().stream()
                        .filter(g -> USUAL.contains(g) || s.shot().comp().changed(g))
                        .collect(Collectors.toSet()));
    }

    /** A colour decision list, or a table of colours, into the grade. */
    @Override
    public void bring(Seen s, List<MultipartFile> files, Form f) throws IOException {
        String name = FileNames.of(files.get(0));
        if (name.toLowerCase(Locale.ROOT).endsWith(".cube")) {
            Media t = s.desk().media().table(files.get(0).getInputStream(), name);
            s.desk()
                    .shots()
                    .change(s.id(), "grade by " + name, k -> k.with(k.comp().withTable(t.hash())));
            return;
        }
        DecisionList list = DecisionList.read(files.get(0).getBytes(), name);
        s.desk().shots().change(s.id(), "grade of " + name, k -> k.with(Grade.with(k.comp(), list)));
    }

    @Override
    public Change edit(Seen s, String action, Form f) {
        CompRecipe now = s.shot().comp();
        int frame = f.frame();
        if (action.equals("no-table")) return new Change(s.shot().with(now.withTable("")), "colour table taken away");
        if (CompVersions.knows(action)) return versions.change(s, action, f);
        if (CompKeysFrom.knows(action)) return follows.change(s, action, f);
        if (VariantEdits.knows(action)) return VariantEdits.apply(s, action, f);
        if (CompLists.knows(action)) return CompLists.apply(s, action, f);
        if (MaskEdits.knows(action)) return MaskEdits.apply(s.shot(), action, f);
        if (action.equals("from")) return from.change(s, f);
        if (action.equals("match")) return found.change(s, f.text("which", ""), frame);
        if (KeyEdits.knows(action)) {
            Edited<CompRecipe> e = KeyEdits.apply(
                    now, action, f, frame, () -> now.at(frame, rate(s)).rest(KeyEdits.channel(now, f)));
            return new Change(s.shot().with(e.value()), e.said());
        }
        CompRecipe next = now;
        List<Param> all = params(s.shot());
        if (all.stream().noneMatch(p -> f.has(p.name()) || f.has(p.name() + "_")))
            throw new BadInput("none of the comp's numbers is named in that change");
        for (Param p : all) {
            if (SWITCHES.contains(p)) {
                next = next.set(p.name(), f.tick(p.name(), next.get(p) >= 0.5) ? 1 : 0, frame);
                continue;
            }
            if (!f.has(p.name())) continue;
            Param.Range r = p.accepted();
            double v = f.number(p.name(), p.label(), 0, r.least(), r.most()) / p.shown();
            next = next.set(p.name(), v, frame);
        }
        return new Change(s.shot().with(next), "comp changed");
    }

    /** All numbers that the page shows. */
    static List<Param> params(Shot s) {
        List<Param> all = new ArrayList<>(Steps.params());
        all.addAll(Lights.of(s.lightsApart()));
        return all;
    }

    private static double rate(Seen s) {
        return s.plate() == null ? 24 : s.plate().rate().perSecond();
    }

    /** What carries masks is followed at once. */
    @Override
    public void after(Seen s, String action) {
        lists.follow(s);
    }

    /** Passes that are missing, or were rendered before something changed. */
    @Override
    public void start(Seen s, Form f) {
        rendering.start(s);
    }

    @Override
    public void data(Map<String, Object> m, Seen s) {
        if (s.plate() == null) return;
        lists.data(m, s);
        CompRecipe c = s.shot().comp();
        Map<String, Param> params = params(s.shot()).stream()
                .collect(Collectors.toMap(Param::name, p -> p, (a, b) -> a, LinkedHashMap::new));
        m.put(
                "comp",
                Moving.of(
                        c,
                        params.keySet(),
                        s,
                        (name, f) -> c.at(f, rate(s)).get(params.get(name))
                                * params.get(name).shown()));
    }
}

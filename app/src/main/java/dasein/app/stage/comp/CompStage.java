package dasein.app.stage.comp;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.comp.step.Step;
import dasein.core.comp.step.Steps;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;

/** Plate and passes put together. */
@Component
class CompStage implements Stage {
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
        String said = "ready in " + have + " frames";
        return have == 0 ? Line.missing("needs passes") : have < all ? Line.stale(said) : Line.fresh(said);
    }

    @Override
    public void bench(Model m, Seen s) {
        m.addAttribute("rendered", s.rendered());
        Map<String, List<Param>> groups = new LinkedHashMap<>();
        for (Step t : Steps.ALL)
            groups.computeIfAbsent(t.group(), g -> new ArrayList<>()).addAll(t.params());
        m.addAttribute("groups", groups);
    }

    @Override
    public Change edit(Seen s, String action, Form f) {
        CompRecipe next = s.shot().comp();
        for (Param p : Steps.params()) {
            if (!f.has(p.name())) continue;
            Param.Range r = p.accepted();
            next = next.with(p, f.number(p.name(), p.label(), 0, r.least(), r.most()) / p.shown());
        }
        return new Change(s.shot().with(next), "comp changed");
    }
}

package dasein.app.stage.comp;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.core.comp.CompRecipe;
import java.util.List;
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
    }

    @Override
    public Change edit(Seen s, String action, Form f) {
        CompRecipe c = s.shot().comp();
        CompRecipe next = new CompRecipe(
                f.number("gain", "gain", c.gain(), 0, 20),
                f.number("blacks", "blacks", c.blacks(), 0, 0.5),
                f.number("saturation", "saturation", c.saturation(), 0, 3),
                f.number("softnessPx", "softness", c.softnessPx(), 0, 20),
                f.number("grain", "grain", 100 * c.grain(), 0, 20) / 100,
                f.number("shadow", "shadow density", c.shadow(), 0, 3),
                List.of(
                        f.number("tintRed", "tint", c.shadowTint().get(0), 0, 3),
                        f.number("tintGreen", "tint", c.shadowTint().get(1), 0, 3),
                        f.number("tintBlue", "tint", c.shadowTint().get(2), 0, 3)),
                f.number("bounce", "bounce", c.bounce(), 0, 5),
                f.number("reflection", "reflection", c.reflection(), 0, 5));
        return new Change(s.shot().with(next), "comp changed");
    }
}

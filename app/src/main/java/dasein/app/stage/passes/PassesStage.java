package dasein.app.stage.passes;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.task.FrameOrder;
import dasein.app.task.Task;
import dasein.core.BadInput;
import dasein.core.render.Focus;
import dasein.core.render.LightGroups;
import dasein.core.render.PassesRecipe;
import dasein.core.render.pass.Pass;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.PassSet;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;

/** What the comp needs, rendered frame by frame. */
@Component
class PassesStage implements Stage {
    /** How lights can be kept, by what is sent, and what people read. */
    private static final Map<String, String> APART = new LinkedHashMap<>();

    static {
        APART.put("TOGETHER", "together");
        APART.put("LIGHTS", "apart");
        APART.put("INDIRECT", "apart, indirect too");
    }

    private final Rendering rendering;
    private final FilterAfter filter;

    PassesStage(Rendering rendering, FilterAfter filter) {
        this.rendering = rendering;
        this.filter = filter;
    }

    @Override
    public String key() {
        return "passes";
    }

    @Override
    public String name() {
        return "Passes";
    }

    @Override
    public List<String> works() {
        return List.of("passes", "filtered");
    }

    @Override
    public Line line(Seen s) {
        Task t = s.last("passes");
        boolean ran = t != null && !t.open() && !t.state().equals("cancelled");
        int have = s.renderedInCut().size(), all = s.plate() == null ? 0 : s.cutLast() - s.cutFirst() + 1;
        if (t != null && t.open())
            return new Line("running", have + " of " + all + (t.paused() ? " rendered, paused" : " rendered"));
        if (ran && t.state().equals("failed") && have < all) return Line.failed(t.note());
        if (have == 0) return ran ? Line.stale("older than its settings") : Line.missing("nothing rendered yet");
        String said = have + " of " + all + " frames";
        return have < all ? Line.stale(said) : Line.fresh(said);
    }

    @Override
    public void bench(Model m, Seen s) {
        m.addAttribute("passes", String.join(" ", PassList.shown(kept(s.shot()))));
        m.addAttribute(
                "sets", Arrays.stream(PassSet.values()).filter(PassSet::offered).toList());
        m.addAttribute("apart", APART);
        List<Integer> done = s.rendered();
        m.addAttribute("rendered", done);
        m.addAttribute("filtered", s.filtered());
        boolean idle = s.open().stream().noneMatch(t -> works().contains(t.kind()));
        m.addAttribute("toFilter", idle ? s.toFilter() : List.of());
        if (!done.isEmpty())
            m.addAttribute("frameFacts", s.facts("passes", Prints.frame(s.shot(), done.get(done.size() / 2))));
    }

    @Override
    public Change edit(Seen s, String action, Form f) {
        PassesRecipe p = s.shot().passes();
        double shutter = !f.has("passShutter")
                ? p.shutterDeg()
                : f.text("passShutter", "").isEmpty() ? -1 : f.number("passShutter", "the shutter", 0, 0, 360);
        PassesRecipe next = new PassesRecipe(
                f.number("size", "the size", p.size(), 0.1, 1),
                f.whole("minSamples", "the least samples", p.minSamples(), 2, 4096),
                f.whole("maxSamples", "the most samples", p.maxSamples(), 2, 16384),
                f.number("noise", "the noise", 100 * p.noise(), 0, 50) / 100,
                f.whole("bounces", "the bounces", p.bounces(), 0, 16),
                shutter,
                f.tick("denoise", p.denoise()),
                f.tick("straight", p.straight()),
                LightGroups.Apart.valueOf(
                        f.choice("lights", p.lights().name(), APART.keySet().toArray(String[]::new))),
                sets(f, p.sets()),
                f.number("contactCm", "the reach of contact", p.contactCm(), 1, 1000),
                focus(f, s, p.focus()),
                f.whole("overFrames", "the neighbours", p.overFrames(), 0, PassesRecipe.MOST_FRAMES));
        if (next.maxSamples() < next.minSamples())
            throw new BadInput("the most samples must not be fewer than the least");
        return new Change(s.shot().with(next), "pass settings changed");
    }

    /** Empty numbers are what was noted on set. */
    private static Focus focus(Form f, Seen s, Focus now) {
        int performer = f.whole("focusOn", "the performer in focus", now.performer(), 0, Integer.MAX_VALUE);
        if (s.shot().performers().stream().noneMatch(p -> p.id() == performer) && performer != 0 && f.has("focusOn"))
            throw new BadInput("there is no such performer");
        Focus next = new Focus(
                f.tick("focus", now.on()),
                noted(f, "fStop", "the f-stop", now.fStop(), 0.5, 64),
                noted(f, "focusMetres", "the distance of focus", now.metres(), 0.05, 10_000),
                performer,
                f.whole("blades", "the blades", now.blades(), 0, 24),
                f.number("catsEye", "the cat's eye", 100 * now.catsEye(), 0, 90) / 100);
        if (!next.on()) return next;
        PlateRecipe p = s.shot().plate();
        if (!(p.sensorWidthMm() > 0))
            throw new BadInput("depth of field needs the width of the sensor: note it with the plate");
        if (!(next.fStop() > 0 || p.fStop() > 0))
            throw new BadInput("depth of field needs the f-stop: note it with the plate, or type it");
        if (!(next.performer() > 0 || next.metres() > 0 || p.focusMetres() > 0))
            throw new BadInput("depth of field needs the distance of focus: note it, type it, or choose a performer");
        return next;
    }

    private static double noted(Form f, String name, String label, double now, double least, double most) {
        if (!f.has(name)) return now;
        return f.text(name, "").isEmpty() ? 0 : f.number(name, label, 0, least, most);
    }

    private static Set<PassSet> sets(Form f, Set<PassSet> now) {
        Set<PassSet> all = EnumSet.noneOf(PassSet.class);
        for (PassSet p : PassSet.values()) if (p.offered() && f.tick("set" + p, now.contains(p))) all.add(p);
        return all;
    }

    /** What the passes of a frame will be. */
    private static List<Pass> kept(Shot s) {
        List<Pass> all = new ArrayList<>(PassList.ALL_PASSES);
        for (PassSet p : s.passes().sets()) all.addAll(p.passes());
        for (String light : s.lightsApart().keySet()) {
            all.addAll(PassList.ofLight(light));
            if (s.passes().lights() == LightGroups.Apart.INDIRECT)
                all.addAll(PassList.ofLight(light + PassList.INDIRECT));
        }
        return all;
    }

    @Override
    public void start(Seen s, Form f) {
        if (f.has("filter")) {
            if (!filter.start(s, false)) throw new BadInput("every frame that has its neighbours is filtered already");
            return;
        }
        int from = f.whole("from", "the first frame", s.first(), s.first(), s.last()),
                to = f.whole("to", "the last frame", s.last(), s.first(), s.last());
        rendering.start(
                s, from, to, FrameOrder.valueOf(f.choice("order", "ENDS_FIRST", "ENDS_FIRST", "ONE_AFTER_THE_OTHER")));
    }

    @Override
    public void data(Map<String, Object> m, Seen s) {
        m.put("rendered", s.rendered());
        m.put("filtered", s.filtered().size());
        m.put("overFrames", s.shot().passes().overFrames());
        m.put("rendering", s.busy().contains("passes") || s.busy().contains("output"));
    }
}

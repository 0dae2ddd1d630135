package dasein.app.stage.light;

import dasein.app.stage.Change;
import dasein.app.stage.Desk;
import dasein.app.stage.Edited;
import dasein.app.stage.FileNames;
import dasein.app.stage.Form;
import dasein.app.stage.KeyEdits;
import dasein.app.stage.Line;
import dasein.app.stage.Moving;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.store.Media;
import dasein.core.BadInput;
import dasein.core.light.LightRecipe;
import dasein.core.light.Sun;
import dasein.core.render.Lit;
import dasein.core.shot.Shot;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import org.springframework.web.multipart.MultipartFile;

/** What lights the performers: a map, and a sun. */
@Component
class LightStage implements Stage {
    /** A number that slides and can be keyed. */
    record Number(String field, String channel, String label, double least, double most) {}

    private static final List<Number> NUMBERS = List.of(
            new Number("turnDeg", "turn", "the turn", -3600, 3600),
            new Number("level", "level", "the level", 0, 1000),
            new Number("azimuthDeg", "sunAzimuth", "the sun's azimuth", -720, 720),
            new Number("elevationDeg", "sunElevation", "the sun's elevation", 0, 90),
            new Number("angleDeg", "sunSize", "the sun's size", 0.1, 90),
            new Number("sunLevel", "sunLevel", "the sun's level", 0, 1000));

    private final Desk desk;

    LightStage(Desk desk) {
        this.desk = desk;
    }

    @Override
    public String key() {
        return "light";
    }

    @Override
    public String name() {
        return "Light";
    }

    @Override
    public Line line(Seen s) {
        LightRecipe l = s.shot().light();
        String sun =
                switch (l.sun().source()) {
                    case "own" ->
                        String.format(Locale.ROOT, "sun %.0f deg high", l.sun().elevationDeg());
                    case "map" -> "sun from the map";
                    default -> "no sun apart";
                };
        return l.environment().isEmpty() ? Line.missing("even grey sky, " + sun) : Line.fresh("map, " + sun);
    }

    @Override
    public void bench(Model m, Seen s) {
        m.addAttribute("maps", desk.shelf().shelf("environment"));
    }

    @Override
    public Change edit(Seen s, String action, Form f) {
        Shot shot = s.shot();
        LightRecipe l = shot.light();
        int frame = f.frame();
        if (KeyEdits.knows(action)) {
            Edited<LightRecipe> e = KeyEdits.apply(
                    l, action, f, frame, () -> l.at(frame, rate(s)).rest(KeyEdits.channel(l, f)));
            return new Change(shot.with(e.value()), e.said());
        }
        String map = f.text("environment", l.environment());
        if (!map.isEmpty() && desk.shelf().item(map) == null) throw new BadInput("that map is not on the shelf");
        LightRecipe next = l.withEnvironment(map).with(sun(l.sun(), f));
        for (Number n : NUMBERS)
            if (f.has(n.field)) next = next.set(n.channel, f.number(n.field, n.label, 0, n.least, n.most), frame);
        return new Change(shot.with(next), "light changed");
    }

    private static double rate(Seen s) {
        return s.plate() == null ? 24 : s.plate().rate().perSecond();
    }

    private static LightRecipe.SunRecipe sun(LightRecipe.SunRecipe n, Form f) {
        return new LightRecipe.SunRecipe(
                f.choice("source", n.source(), "map", "own", "none"),
                n.disc(),
                n.level(),
                List.of(
                        f.number("red", "red", n.colour().get(0), 0, 10),
                        f.number("green", "green", n.colour().get(1), 0, 10),
                        f.number("blue", "blue", n.colour().get(2), 0, 10)));
    }

    @Override
    public void bring(Seen s, List<MultipartFile> files, Form f) throws IOException {
        String name = FileNames.of(files.get(0));
        Media map = desk.media().environment(files.get(0).getInputStream(), name);
        desk.shots().change(s.id(), "map " + name, k -> {
            LightRecipe l = k.light();
            return k.with(l.withEnvironment(map.hash()));
        });
    }

    @Override
    public void data(Map<String, Object> m, Seen s) {
        LightRecipe l = s.shot().light();
        if (s.plate() != null)
            m.put("light", Moving.of(l, LightRecipe.CHANNELS, s, (channel, f) -> l.at(f, rate(s))
                    .rest(channel)));
        if (s.camera() == null
                || s.shot().performers().isEmpty()
                        && s.shot().light().environment().isEmpty()) return;
        Lit lit = desk.scenes().light(s.shot());
        m.put("suns", shown(lit, s.first()));
        if (l.keys().isEmpty()) return;
        Map<Integer, List<Map<String, Object>>> frames = new LinkedHashMap<>();
        for (int f = s.first(); f <= s.last(); f++) frames.put(f, shown(lit, f));
        m.put("sunsByFrame", frames);
    }

    private static List<Map<String, Object>> shown(Lit lit, int frame) {
        return lit.in(frame).lighting().suns().stream().map(LightStage::shown).toList();
    }

    private static Map<String, Object> shown(Sun u) {
        return Map.of("towards", u.towards().array(), "irradiance", u.irradiance());
    }
}

package dasein.app.stage.light;

import dasein.app.stage.Change;
import dasein.app.stage.Desk;
import dasein.app.stage.FileNames;
import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.store.Media;
import dasein.core.BadInput;
import dasein.core.light.LightRecipe;
import dasein.core.light.Sun;
import dasein.core.shot.Shot;
import java.io.IOException;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import org.springframework.web.multipart.MultipartFile;

/** What lights the performers: a map, and a sun. */
@Component
class LightStage implements Stage {
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
        String map = f.text("environment", l.environment());
        if (!map.isEmpty() && desk.shelf().item(map) == null) throw new BadInput("that map is not on the shelf");
        return new Change(
                shot.with(new LightRecipe(
                        map,
                        f.number("turnDeg", "the turn", l.turnDeg(), -3600, 3600),
                        f.number("level", "the level", l.level(), 0, 1000),
                        sun(l.sun(), f))),
                "light changed");
    }

    private static LightRecipe.SunRecipe sun(LightRecipe.SunRecipe n, Form f) {
        return new LightRecipe.SunRecipe(
                f.choice("source", n.source(), "map", "own", "none"),
                f.number("azimuthDeg", "the sun's azimuth", n.azimuthDeg(), -720, 720),
                f.number("elevationDeg", "the sun's elevation", n.elevationDeg(), 0, 90),
                f.number("angleDeg", "the sun's size", n.angleDeg(), 0.1, 90),
                f.number("sunLevel", "the sun's level", n.level(), 0, 1000),
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
            return k.with(new LightRecipe(map.hash(), l.turnDeg(), l.level(), l.sun()));
        });
    }

    @Override
    public void data(Map<String, Object> m, Seen s) {
        if (s.camera() == null
                || s.shot().performers().isEmpty()
                        && s.shot().light().environment().isEmpty()) return;
        m.put(
                "suns",
                desk.scenes().light(s.shot()).lighting().suns().stream()
                        .map(LightStage::shown)
                        .toList());
    }

    private static Map<String, Object> shown(Sun u) {
        return Map.of("towards", u.towards().array(), "irradiance", u.irradiance());
    }
}

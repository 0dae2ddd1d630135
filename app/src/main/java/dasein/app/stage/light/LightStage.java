package dasein.app.stage.light;

import dasein.app.stage.Change;
import dasein.app.stage.Desk;
import dasein.app.stage.FileNames;
import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Moving;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.store.Media;
import dasein.app.store.MediaMapper;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.ground.Piece;
import dasein.core.light.Clues;
import dasein.core.light.LightRecipe;
import dasein.core.light.Sun;
import dasein.core.light.lamp.Lamp;
import dasein.core.light.lamp.LampRecipe;
import dasein.core.light.pano.CubeFaces;
import dasein.core.light.photo.Bracket;
import dasein.core.math.Vec3;
import dasein.core.render.Lit;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.BiFunction;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import org.springframework.web.multipart.MultipartFile;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What lights the performers: a map, and a sun. */
@Component
class LightStage implements Stage {
    private static final JsonMapper JSON = new JsonMapper();

    private final Desk desk;
    private final Tasks tasks;
    private final LightEdits edits;
    private final Clueing clueing;
    private final LampEdits lamps;
    private final Charts charts;
    private final LightProof proof;

    LightStage(
            Desk desk,
            Tasks tasks,
            LightEdits edits,
            Clueing clueing,
            LampEdits lamps,
            Charts charts,
            LightProof proof) {
        this.proof = proof;
        this.charts = charts;
        this.lamps = lamps;
        this.desk = desk;
        this.tasks = tasks;
        this.edits = edits;
        this.clueing = clueing;
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
    public List<String> works() {
        return List.of(BallMapWork.KIND, PlateMapWork.KIND, ChartMapWork.KIND, CloudsWork.KIND, PanoramaWork.KIND);
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

    /** A map of the shelf, in words. */
    record MapLine(String hash, String name, JsonNode facts) {
        public String level() {
            return facts.has("stops")
                    ? String.format(
                            Locale.ROOT, "%+.1f stops", facts.path("stops").asDouble())
                    : "";
        }

        public String sun() {
            if (!facts.has("stops")) return "";
            return facts.has("elevationDeg")
                    ? String.format(
                            Locale.ROOT,
                            "sun %.0f high at %.0f, ratio %.1f",
                            facts.path("elevationDeg").asDouble(),
                            facts.path("azimuthDeg").asDouble(),
                            facts.path("ratio").asDouble())
                    : "no sun stands out";
        }

        public String made() {
            if (!facts.has("made")) return "";
            return String.format(
                    Locale.ROOT,
                    "%s, %.0f %% of it invented",
                    facts.path("made").asString(),
                    100 * facts.path("invented").asDouble());
        }

        public List<String> said() {
            List<String> out = new ArrayList<>();
            facts.path("said").forEach(n -> out.add(n.asString()));
            return out;
        }

        public boolean proof() {
            return facts.has("proofStops");
        }

        public String proofSaid() {
            return String.format(
                    Locale.ROOT,
                    "The ball as photographed, photographed anew under this map, and the difference: %.2f stops in the "
                            + "median, %.2f where 95 %% are below.",
                    facts.path("proofStops").asDouble(),
                    facts.path("proofWorst").asDouble());
        }
    }

    @Override
    public void bench(Model m, Seen s) {
        List<MapLine> maps = desk.shelf().shelf("environment").stream()
                .map(i -> new MapLine(i.hash(), i.name(), JSON.readTree(i.facts())))
                .toList();
        m.addAttribute("maps", maps);
        String env = s.shot().light().environment();
        m.addAttribute(
                "map",
                maps.stream().filter(k -> k.hash().equals(env)).findFirst().orElse(null));
        if (!s.shot().light().lamps().isEmpty()) m.addAttribute("carriers", lamps.carriers(s));
        m.addAttribute(
                "casters",
                s.shot().set().pieces().stream()
                        .filter(p -> !p.roles().isEmpty() && p.kind() != Piece.Kind.HOLE)
                        .toList());
        proof.put(m, s);
    }

    @Override
    public Change edit(Seen s, String action, Form f) {
        return edits.apply(s, action, f);
    }

    @Override
    public void start(Seen s, Form f) {
        s.refuseWhile(BallMapWork.KIND, PlateMapWork.KIND, ChartMapWork.KIND, CloudsWork.KIND, PanoramaWork.KIND);
        String what = f.choice("what", "ball", "ball", "plate", "chart", "clouds", "upright");
        if (what.equals("chart")) {
            ChartMapWork.Chosen by =
                    ChartMapWork.Chosen.of(s.shot().light(), f.text("plateChart", "0") + "," + f.text("mapChart", "0"));
            tasks.start(
                    s.id(),
                    s.head().revision().id(),
                    ChartMapWork.KIND,
                    "Map to the plate's colours",
                    by.plate() + "," + by.map());
        } else if (what.equals("ball")) {
            if (s.shot().light().clues().balls().isEmpty())
                throw new BadInput("bring in photographs of a mirror ball first");
            tasks.start(s.id(), s.head().revision().id(), BallMapWork.KIND, "Map of the ball", "");
        } else if (what.equals("upright")) {
            upright(s, f);
        } else if (what.equals("clouds")) {
            s.needPlate();
            clueing.camera(s);
            tasks.start(s.id(), s.head().revision().id(), CloudsWork.KIND, "Light of every frame", "");
        } else {
            s.needPlate();
            clueing.camera(s);
            tasks.start(s.id(), s.head().revision().id(), PlateMapWork.KIND, "Map from the plate", "");
        }
    }

    private void upright(Seen s, Form f) {
        if (s.shot().light().environment().isEmpty()) throw new BadInput("there is no map to bring upright");
        PanoramaWork.Wanted w = new PanoramaWork.Wanted(
                List.of(),
                0,
                PanoramaWork.groups(f.text("verticals", ""), 4, "upright lines"),
                PanoramaWork.groups(f.text("horizon", ""), 2, "places of the horizon"),
                f.number("tripodDeg", "the tripod's angle", 0, 0, 79));
        if (w.verticals().size() < 2 && w.horizon().size() < 2 && w.tripodDeg() == 0)
            throw new BadInput("draw two upright lines that stand apart, or two places of the horizon");
        tasks.start(s.id(), s.head().revision().id(), PanoramaWork.KIND, "Map upright", w.json());
    }

    @Override
    public void bring(Seen s, List<MultipartFile> files, Form f) throws IOException {
        String as = f.choice("as", "map", "map", "ball", "chart-plate", "chart-map", "panorama", "lamp", "blocker");
        if (as.equals("ball")) {
            ball(s, files);
            return;
        }
        if (as.startsWith("chart-")) {
            charts.photographed(s, files.get(0), as.substring("chart-".length()), Charts.place(f));
            return;
        }
        if (as.equals("lamp") || as.equals("blocker")) {
            picture(s, files.get(0), f.id(), as.equals("lamp"));
            return;
        }
        if (as.equals("panorama")) {
            panorama(s, files, f);
            return;
        }
        String name = FileNames.of(files.get(0));
        Media map = desk.media().environment(files.get(0).getInputStream(), name);
        desk.shots().change(s.id(), "map " + name, k -> {
            LightRecipe l = k.light();
            return k.with(l.withEnvironment(map.hash()));
        });
    }

    /** On a lamp, or to cut a flag out. */
    private void picture(Seen s, MultipartFile file, int id, boolean lamp) throws IOException {
        BiFunction<LightRecipe, String, LightRecipe> put =
                (l, p) -> lamp ? LampEdits.showing(l, id, p) : BlockerEdits.cut(l, id, p);
        // One that is gone is said before the picture is kept.
        put.apply(s.shot().light(), "");
        String hash =
                desk.media().photo(file.getInputStream(), FileNames.of(file)).hash();
        desk.shots()
                .change(
                        s.id(),
                        lamp ? "picture on a lamp" : "flag cut out by a picture",
                        k -> k.with(put.apply(k.light(), hash)));
    }

    private void panorama(Seen s, List<MultipartFile> files, Form f) throws IOException {
        s.refuseWhile(PanoramaWork.KIND);
        String[] photos = new String[files.size()];
        if (files.size() != 6 && files.size() != 2)
            throw new BadInput("that takes the six faces of a cube, or a fisheye to the front and one to the back");
        List<String> names = files.stream().map(FileNames::of).sorted().toList();
        for (MultipartFile k : files) {
            String name = FileNames.of(k);
            // Two pictures are taken by their names' order, faces by what they are called.
            int at = files.size() == 2 ? names.indexOf(name) : CubeFaces.face(name);
            if (at < 0 || photos[at] != null)
                throw new BadInput("the faces must be called front, right, back, left, up and down, each once");
            photos[at] = desk.media().photo(k.getInputStream(), name).hash();
        }
        PanoramaWork.Wanted w = new PanoramaWork.Wanted(
                List.of(photos),
                f.number("fieldDeg", "the fisheyes' field", 190, 180, 280),
                List.of(),
                List.of(),
                f.number("tripodDeg", "the tripod's angle", 0, 0, 79));
        tasks.start(s.id(), s.head().revision().id(), PanoramaWork.KIND, "Map of a panorama", w.json());
    }

    private void ball(Seen s, List<MultipartFile> files) throws IOException {
        if (files.size() > Bracket.MOST)
            throw new BadInput("more than " + Bracket.MOST + " photographs of one view are not merged");
        List<Clues.Photo> photos = new ArrayList<>();
        for (MultipartFile f : files) {
            String name = FileNames.of(f);
            photos.add(
                    new Clues.Photo(desk.media().photo(f.getInputStream(), name).hash(), name));
        }
        photos.sort(Comparator.comparing(Clues.Photo::name));
        desk.shots().change(s.id(), "ball photographs", k -> {
            Clues c = k.light().clues();
            if (c.balls().size() >= 2) throw new BadInput("a map is made of one ball view or two: take one away first");
            // It is the same ball and the same camera, most likely.
            Clues.Ball was = c.balls().isEmpty() ? null : c.balls().get(0);
            return k.with(k.light()
                    .with(c.with(new Clues.Ball(
                            c.free(),
                            photos,
                            "",
                            "",
                            was == null ? 0 : was.fieldDeg(),
                            was == null ? 0.7 : was.reflectance()))));
        });
    }

    @Override
    public void data(Map<String, Object> m, Seen s) {
        LightRecipe l = s.shot().light();
        Clues k = l.clues();
        m.put(
                "clues",
                Map.of(
                        "shadows", k.shadows(),
                        "patches", k.patches(),
                        "charts", k.charts(),
                        "edges", k.edges(),
                        "greys", k.greys(),
                        "pairs", k.pairs(),
                        "stands", k.stands()));
        m.put("map", l.environment());
        MediaMapper.ShelfItem map =
                l.environment().isEmpty() ? null : desk.shelf().item(l.environment());
        m.put("mapProof", map != null && JSON.readTree(map.facts()).has("proofStops"));
        m.put("mapTurn", l.turnDeg());
        m.put("mapLevel", l.level());
        m.put("mapColour", l.colour());
        m.put("sunApart", !l.sun().source().equals("none"));
        if (s.plate() != null) {
            double rate = s.plate().rate().perSecond();
            m.put("light", Moving.of(l, LightRecipe.CHANNELS, s, (channel, f) -> l.at(f, rate)
                    .rest(channel)));
        }
        m.put("blockers", l.blockers());
        if (s.camera() != null && !l.lamps().isEmpty()) m.put("lamps", lamps(s));
        if (s.camera() == null
                || s.shot().performers().isEmpty()
                        && l.environment().isEmpty()
                        && l.clues().shadows().isEmpty()) return;
        Lit lit = desk.scenes().light(s.shot());
        m.put("suns", shown(lit, s.first()));
        if (l.keys().isEmpty()) return;
        Map<Integer, List<Map<String, Object>>> frames = new LinkedHashMap<>();
        for (int f = s.first(); f <= s.last(); f++) frames.put(f, shown(lit, f));
        m.put("sunsByFrame", frames);
    }

    /** For each lamp its number, name, and by frame where it is and which way it faces. */
    private List<Map<String, Object>> lamps(Seen s) {
        double rate = s.plate().rate().perSecond();
        List<Map<String, Object>> out = new ArrayList<>();
        for (LampRecipe k : s.shot().light().lamps()) {
            boolean moves = k.tie() != null || !k.keys().isEmpty();
            List<double[]> at = new ArrayList<>();
            for (int f = s.first(); f <= (moves ? s.last() : s.first()); f++) {
                Lamp l = k.at(f, rate, lamps.carrier(s, k, f));
                Vec3 p = l.at(), t = l.towards();
                at.add(new double[] {p.x(), p.y(), p.z(), t.x(), t.y(), t.z()});
            }
            out.add(Map.of(
                    "id", k.id(),
                    "name", k.name(),
                    "kind", k.kind().name(),
                    "on", k.on(),
                    "at", at,
                    "moving",
                            Moving.of(k, LampRecipe.CHANNELS, s, (channel, f) -> k.curve(channel)
                                    .at(f, k.rest(channel), rate))));
        }
        return out;
    }

    private static List<Map<String, Object>> shown(Lit lit, int frame) {
        return lit.in(frame).lighting().suns().stream().map(LightStage::shown).toList();
    }

    private static Map<String, Object> shown(Sun u) {
        return Map.of("towards", u.towards().array(), "irradiance", u.irradiance());
    }
}

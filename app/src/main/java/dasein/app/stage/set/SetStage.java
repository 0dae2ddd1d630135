package dasein.app.stage.set;

import dasein.app.stage.Change;
import dasein.app.stage.Desk;
import dasein.app.stage.FileNames;
import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.store.Media;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.ground.GroundFit;
import dasein.core.ground.Piece;
import dasein.core.ground.PlaneSearch;
import dasein.core.ground.SetRecipe;
import dasein.core.ground.StickSlide;
import dasein.core.key.Curve;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import org.springframework.web.multipart.MultipartFile;

/** Ground, axes, true size, and what stands there. */
@Component
class SetStage implements Stage {
    private static final int MOST_PLANES = 4;

    private final Desk desk;
    private final SetEdits edits;
    private final Tasks tasks;

    SetStage(Desk desk, SetEdits edits, Tasks tasks) {
        this.desk = desk;
        this.edits = edits;
        this.tasks = tasks;
    }

    @Override
    public String key() {
        return "set";
    }

    @Override
    public String name() {
        return "Set";
    }

    @Override
    public List<String> works() {
        return List.of("colours");
    }

    @Override
    public Line line(Seen s) {
        GroundFit.Result g = desk.results().set(s.shot());
        if (g == null) return Line.missing("needs a solved camera");
        if (g.points().isEmpty() && s.camera().measured()) return Line.fresh("in the frame of measured places");
        if (g.points().isEmpty())
            return g.scaled()
                    ? Line.fresh(String.format(
                            Locale.ROOT,
                            "level, %.2f m below the camera",
                            s.shot().plate().cameraHeightMetres()))
                    : Line.stale("level ground, size unknown");
        if (!g.scaled()) return Line.stale("ground proposed, size unknown");
        for (GroundFit.Check c : g.checks()) if (c.contradicts()) return Line.fresh(c.name() + " contradicts the rest");
        int n = g.residuals().size();
        if (n == 0) return Line.fresh("size from the camera's height");
        if (n == 1) return Line.fresh("size from one yardstick");
        double worst = g.residuals().stream().mapToDouble(Math::abs).max().orElse(0);
        return Line.fresh(String.format(Locale.ROOT, "%d yardsticks within %.1f cm", n, 100 * worst));
    }

    /**
     * @param off solved minus measured in metres, as in the table of all that was said; not a number while its points
     *     are not solved
     */
    record Stick(int index, SetRecipe.Yardstick yardstick, double off) {
        public boolean lost() {
            return Double.isNaN(off);
        }
    }

    /** A set piece, and what it does in words. */
    record PieceLine(Piece piece) {
        /** In which it is keyed, rising. */
        public List<Integer> frames() {
            return piece.curves().values().stream()
                    .flatMap(c -> c.keys().stream().map(Curve.Key::frame))
                    .distinct()
                    .sorted()
                    .toList();
        }

        public String said() {
            if (piece.kind() == Piece.Kind.HOLE) return "opens the ground onto what is below";
            List<String> does = new ArrayList<>();
            for (Piece.Role r : piece.roles())
                does.add(
                        switch (r) {
                            case SHADOW -> "takes shadow and given light";
                            case REFLECTION -> "mirrors performers";
                            case BOUNCE -> "gives its colour back to performers";
                            case HIDE -> "hides what is behind it";
                        });
            return does.isEmpty() ? "does nothing" : String.join(", ", does);
        }

        public boolean has(String what) {
            return switch (piece.kind()) {
                case FLOOR, TERRAIN, HOLE -> !what.equals("height") && !what.equals("steps");
                case WALL -> !what.equals("depth") && !what.equals("steps");
                case POLYGON -> false;
                case MODEL -> what.equals("height");
                case STAIRS -> true;
                default -> !what.equals("steps");
            };
        }
    }

    @Override
    public void bench(Model m, Seen s) {
        Shot shot = s.shot();
        SolvedCamera c = s.camera();
        m.addAttribute(
                "pieces", shot.set().pieces().stream().map(PieceLine::new).toList());
        m.addAttribute("shelf", desk.shelf().shelf("model"));
        m.addAttribute("kinds", Piece.Kind.values());
        m.addAttribute("coloured", s.facts("colours", Prints.colours(shot)));
        m.addAttribute("planes", c == null || !c.depth() ? List.of() : PlaneSearch.planes(c, MOST_PLANES));
        try {
            ground(m, s, c);
        } catch (BadInput | NoSolution e) {
            m.addAttribute("trouble", e.getMessage());
            m.addAttribute("sticks", sticks(shot, null));
        }
    }

    private void ground(Model m, Seen s, SolvedCamera c) {
        Shot shot = s.shot();
        GroundFit.Result g = desk.results().set(shot);
        m.addAttribute("ground", g);
        List<Track> kept = desk.results().kept(shot);
        if (c != null && kept != null && !c.points().isEmpty()) m.addAttribute("slide", StickSlide.of(c, kept));
        m.addAttribute("checks", g == null ? List.of() : g.checks());
        m.addAttribute("sticks", g == null ? List.of() : sticks(shot, g));
        SolvedCamera laid = g == null ? null : desk.results().cameraInSet(shot);
        if (laid != null && g.scaled() && laid.reach() != null)
            m.addAttribute("trust", laid.reach().inMetres());
        if (g != null && shot.plate().cameraHeightMetres() > 0)
            m.addAttribute(
                    "cameraHeight", laid.frames().get(0).pose().position().y());
    }

    /** @param g null while nothing can be solved: then all are off by what is no number */
    private static List<Stick> sticks(Shot s, GroundFit.Result g) {
        List<Stick> out = new ArrayList<>();
        int n = g == null ? s.set().yardsticks().size() : g.residuals().size();
        for (int k = 0; k < n; k++)
            out.add(new Stick(
                    k,
                    s.set().yardsticks().get(k),
                    g == null ? Double.NaN : -g.residuals().get(k)));
        return out;
    }

    @Override
    public Change edit(Seen s, String action, Form f) {
        return edits.apply(s.shot(), action, f);
    }

    @Override
    public void start(Seen s, Form f) {
        s.needPlate();
        s.refuseWhile("colours");
        tasks.start(s.id(), s.head().revision().id(), "colours", "Colours of the set", "");
    }

    @Override
    public void bring(Seen s, List<MultipartFile> files, Form f) throws IOException {
        int frame = f.whole("frame", "the frame", 0, 0, 10_000_000);
        Media painted = desk.media().photo(files.get(0).getInputStream(), FileNames.of(files.get(0)));
        desk.shots().change(s.id(), "painted frame " + frame, k -> {
            List<SetRecipe.ColourFrame> all = new ArrayList<>(k.set().colours());
            all.removeIf(c -> c.frame() == frame);
            all.add(new SetRecipe.ColourFrame(frame, painted.hash()));
            return k.with(k.set().withColours(all));
        });
    }

    @Override
    public void data(Map<String, Object> m, Seen s) {
        m.put("catcher", s.shot().set().catcher());
    }
}

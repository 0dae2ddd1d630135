package dasein.app.stage.light;

import dasein.app.stage.Desk;
import dasein.app.store.Plates;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.key.Curve;
import dasein.core.light.Clues;
import dasein.core.light.LightRecipe;
import dasein.core.light.Lighting;
import dasein.core.light.level.Drift;
import dasein.core.light.sun.ShadowSun;
import dasein.core.math.Vec3;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.springframework.stereotype.Component;

/**
 * Lets the light go with the plate's: the marked ground is followed through all frames (without marks, what the camera
 * was solved by), and level and sun get a key in each.
 */
@Component
class CloudsWork implements Work {
    static final String KIND = "clouds";
    /** About a marked place: so many to a side, so many metres apart. */
    private static final int SIDE = 5;

    private static final double APART = 0.08;
    private static final int MOST_POINTS = 400;

    private final Desk desk;

    CloudsWork(Desk desk) {
        this.desk = desk;
    }

    @Override
    public String kind() {
        return KIND;
    }

    @Override
    public String run(Task task, Progress progress) throws Exception {
        Shot s = desk.shots().document(task.revisionId());
        SolvedCamera c = desk.results().cameraInSet(s);
        if (c == null) throw new BadInput("the camera is not solved yet");
        Clues k = s.light().clues();
        boolean lit = k.patches().stream().anyMatch(Clues.Patch::lit),
                shaded = k.patches().stream().anyMatch(p -> !p.lit());
        List<Vec3> first = lit ? about(c, k, true) : shaded ? about(c, k, false) : solved(c),
                second = lit && shaded ? about(c, k, false) : null;
        Drift a, b;
        try (Plates.Lent lent = desk.plates().need(s)) {
            double white = lent.plate().encoding().decode(1);
            a = Drift.of(f -> lent.plate().frame(f), white, c, first, progress.part(0, second == null ? 1 : 0.5));
            b = second == null ? a : Drift.of(f -> lent.plate().frame(f), white, c, second, progress.part(0.5, 0.5));
        }
        int from = k.patches().isEmpty() ? c.first() : k.patches().get(0).frame();
        Lighting now = desk.scenes().light(s).in(from).lighting();
        desk.shots()
                .change(
                        task.shotId(),
                        "light goes with the plate's",
                        d -> d.with(keyed(d.light(), c, now, from, a, b, second != null)));
        double least = Double.MAX_VALUE, most = -Double.MAX_VALUE;
        for (double v : a.stops()) {
            least = Math.min(least, v);
            most = Math.max(most, v);
        }
        return String.format(
                Locale.ROOT,
                "light keyed in %d frames: it changes by %.2f stops, known within %.3f, by %d places%s",
                c.frames().size(),
                most - least,
                a.spread(),
                a.places(),
                most - least < 4 * a.spread() ? "; that is hardly more than chance" : "");
    }

    private static LightRecipe keyed(
            LightRecipe l, SolvedCamera c, Lighting now, int from, Drift lit, Drift shaded, boolean apart) {
        List<Curve.Key> level = new ArrayList<>(), sun = new ArrayList<>();
        for (SolvedCamera.Frame f : c.frames()) {
            double a = lit.factor(f.frame(), from), b = shaded.factor(f.frame(), from);
            double[] k = apart ? Drift.apart(now, a, b) : new double[] {a, a};
            level.add(key(f.frame(), l.level() * k[0]));
            // The map's sun goes with the map's level already; one's own does not.
            double own = l.sun().source().equals("map") ? k[0] > 0 ? k[1] / k[0] : 1 : k[1];
            sun.add(key(f.frame(), l.sun().level() * own));
        }
        LightRecipe out = l.with("level", new Curve(level, List.of()));
        boolean sunMoves =
                !l.sun().source().equals("none") && (apart || l.sun().source().equals("own"));
        return out.with("sunLevel", sunMoves ? new Curve(sun, List.of()) : Curve.NONE);
    }

    private static Curve.Key key(int frame, double v) {
        return new Curve.Key(frame, Math.rint(1e5 * v) / 1e5, Curve.Ease.LINEAR);
    }

    /** Places on the ground about those that are marked. */
    private static List<Vec3> about(SolvedCamera c, Clues k, boolean lit) {
        List<Vec3> out = new ArrayList<>();
        for (Clues.Patch p : k.patches()) {
            if (p.lit() != lit) continue;
            Vec3 at = ShadowSun.ground(c, p.frame(), new double[] {p.x(), p.y()}, 0, "the marked ground");
            for (int j = 0; j < SIDE; j++)
                for (int i = 0; i < SIDE; i++)
                    out.add(at.plus(new Vec3((i - SIDE / 2) * APART, 0, (j - SIDE / 2) * APART)));
        }
        return out;
    }

    private static List<Vec3> solved(SolvedCamera c) {
        int step = Math.max(1, c.points().size() / MOST_POINTS);
        List<Vec3> out = new ArrayList<>();
        for (int i = 0; i < c.points().size(); i += step)
            out.add(c.points().get(i).position());
        if (out.isEmpty())
            throw new BadInput("the camera has no points that stand still: mark a piece of ground first");
        return out;
    }
}

package dasein.app.stage.light;

import dasein.app.stage.Desk;
import dasein.app.store.Plates;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.cast.Performer;
import dasein.core.light.Clues;
import dasein.core.light.level.PlateMatch;
import dasein.core.light.sky.PlateLight;
import dasein.core.light.sky.PlateSphere;
import dasein.core.light.sun.ShadowSun;
import dasein.core.math.Vec3;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Guesses a map from the plate's own frames and puts it on the shelf and into the shot. */
@Component
class PlateMapWork implements Work {
    static final String KIND = "platemap";
    private static final int WIDTH = 1024;
    private static final double SUN_DEG = 0.53;

    private final Desk desk;
    private final MapShelf shelf;

    PlateMapWork(Desk desk, MapShelf shelf) {
        this.shelf = shelf;
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
        PlateLight.Result r;
        PlateMatch.Ground g;
        try (Plates.Lent lent = desk.plates().need(s)) {
            g = PlateMatch.ground(k, f -> lent.plate().frame(f));
            double white = lent.plate().encoding().decode(1);
            PlateSphere sphere =
                    PlateSphere.of(f -> lent.plate().frame(f), white, c, place(s, c), WIDTH, progress.part(0, 0.8));
            progress.at(0.85, "going on where nothing was seen");
            ShadowSun.Result sun = k.shadows().isEmpty() ? null : ShadowSun.of(c, k.lines());
            r = PlateLight.of(
                    sphere,
                    new PlateLight.Hints(
                            sun == null ? null : sun.towards(),
                            Math.toRadians(SUN_DEG),
                            g.lit(),
                            g.shaded(),
                            k.albedo()));
        }
        Map<String, Object> facts = new LinkedHashMap<>();
        facts.put("made", "guessed from the plate");
        facts.put("invented", 1 - r.seen());
        facts.put(
                "said",
                List.of(
                        "sky: " + r.skySaid(),
                        r.sun() == null
                                ? "no sun in it: that takes a drawn shadow, and ground marked in the sun and in the shade"
                                : "its sun stands where the drawn shadows say"));
        shelf.put(task.shotId(), r.map(), "guess from the plate", facts, "map guessed from the plate", n -> n.resting(
                        "turn", 0)
                .resting("level", 1));
        return String.format(
                Locale.ROOT,
                "map guessed; %.0f %% of the sphere was seen in the plate, sky: %s%s",
                100 * r.seen(),
                r.skySaid(),
                r.sun() == null ? ", no sun" : "");
    }

    /** Where the first performer stands, else some metres before the camera; a metre above the ground. */
    private static Vec3 place(Shot s, SolvedCamera c) {
        for (Performer p : s.performers()) return new Vec3(p.x(), 1, p.z());
        Vec3 eye = c.frames().get(0).pose().position(),
                look = c.frames().get(0).pose().rotation().rotate(new Vec3(0, 0, -1));
        Vec3 level = new Vec3(look.x(), 0, look.z());
        Vec3 at = eye.plus(level.unit().times(5));
        return new Vec3(at.x(), 1, at.z());
    }
}

package dasein.app.scene;

import dasein.app.store.Results;
import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.match.SeenPoint;
import dasein.core.comp.match.Taken;
import dasein.core.ground.GroundFit;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.level.PlateMatch;
import dasein.core.light.sun.ShadowSun;
import dasein.core.math.Vec3;
import dasein.core.plate.Plate;
import dasein.core.plate.PlateFacts;
import dasein.core.presence.Subject;
import dasein.core.presence.layout.LightRatio;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.Comparator;
import java.util.List;
import org.springframework.stereotype.Component;

/** What matches and presence checks are made from. */
@Component
public class Subjects {
    private final Results results;
    private final Scenes scenes;
    private final Comps comps;

    Subjects(Results results, Scenes scenes, Comps comps) {
        this.results = results;
        this.scenes = scenes;
        this.comps = comps;
    }

    /** @param passes of the frame, or null; @param now the comp as it is in that frame */
    public Taken taken(Shot s, Plate plate, int frame, Passes passes, CompRecipe now) {
        SolvedCamera camera = results.cameraInSet(s);
        List<Track> tracks = tracks(s);
        return new Taken(
                plate::frame,
                ShotSteps.first(s.plate(), plate),
                ShotSteps.last(s.plate(), plate),
                plate.encoding(),
                frame,
                passes,
                now,
                s.light().clues(),
                tracks,
                s.comp().pairs(),
                s.comp().hazes(),
                plate::quantiser,
                plate.halfColour(),
                s.shutter(),
                f -> SeenPoint.of(camera, tracks, f));
    }

    private List<Track> tracks(Shot s) {
        List<Track> kept = results.kept(s);
        return kept == null ? results.byHand(s) : kept;
    }

    /**
     * @param rendered frames that are, none to look at how things stand alone; the one in their middle is what numbers
     *     are measured against
     */
    public Subject of(Shot s, Plate plate, List<Integer> rendered) {
        PlateFacts facts = PlateFacts.of(plate);
        SolvedCamera camera = results.cameraInSet(s);
        GroundFit.Result set = results.set(s);
        Blocking blocking = camera == null ? null : scenes.blocking(s);
        Taken taken = null;
        if (!rendered.isEmpty()) {
            int f = rendered.get(rendered.size() / 2);
            taken = taken(
                    s, plate, f, comps.passes(s, f), s.comp().at(f, plate.rate().perSecond()));
        }
        boolean front = s.comp().fronts().stream().anyMatch(k -> k.on());
        return new Subject(
                facts,
                ShotSteps.first(s.plate(), facts),
                ShotSteps.last(s.plate(), facts),
                ShotSteps.cutFirst(s.plate(), facts),
                ShotSteps.cutLast(s.plate(), facts),
                s.plate().focalMm(),
                s.plate().sensorWidthMm(),
                camera,
                set == null ? List.of() : set.checks(),
                s.performers(),
                blocking,
                s.set(),
                camera == null ? null : sun(s, camera),
                camera == null ? null : realSun(s, camera),
                camera == null ? null : stops(s, plate, camera),
                s.light().clues(),
                tracks(s),
                rendered,
                s.passes().size(),
                front && !rendered.isEmpty() ? comps.pops(s) : null,
                s.comp(),
                taken);
    }

    private Vec3 sun(Shot s, SolvedCamera camera) {
        return scenes.light(s).in(camera.first()).lighting().suns().stream()
                .max(Comparator.comparingDouble(k -> k.irradiance()[1]))
                .map(Sun::towards)
                .orElse(null);
    }

    /** Null where the ground was not marked, or nothing lights the shot that could be compared. */
    private LightRatio.Stops stops(Shot s, Plate plate, SolvedCamera camera) {
        double marked = PlateMatch.ground(s.light().clues(), plate::frame).ratio();
        Lighting own = scenes.light(s).in(camera.first()).lighting();
        return marked <= 0 || own.environment() == null
                ? null
                : new LightRatio.Stops(
                        log2(marked),
                        log2(PlateMatch.ratio(own)),
                        PlateMatch.sigma(s.light().clues(), plate::frame));
    }

    private static double log2(double v) {
        return Math.log(v) / Math.log(2);
    }

    private static ShadowSun.Result realSun(Shot s, SolvedCamera camera) {
        if (s.light().clues().shadows().isEmpty()) return null;
        try {
            return ShadowSun.of(camera, s.light().clues().lines());
        } catch (BadInput vague) {
            return null;
        }
    }
}

package dasein.app.scene;

import dasein.app.store.Held;
import dasein.app.store.Results;
import dasein.core.cast.Blocking;
import dasein.core.comp.Apart;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.front.Matte;
import dasein.core.comp.front.Pops;
import dasein.core.comp.repair.Mender;
import dasein.core.comp.step.Group;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.plate.PlateFacts;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Mending;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.IntFunction;
import java.util.function.Supplier;
import org.springframework.stereotype.Component;

/** Plates with what is covered in them, and what of them stands in front; those last looked at stay in memory. */
@Component
public class Mended {
    private static final Apart.Found NONE = new Apart.Found(List.of(), List.of());

    private final Results results;
    private final Held<Mender.Mended> frames = new Held<>(
            0.04, m -> 4L * m.image().width * m.image().height * m.image().channels());
    private final Held<Matte> mattes = new Held<>(0.02, m -> m.part() == null ? 64 : 4L * m.part().length);

    private final Map<String, List<Integer>> popped = new ConcurrentHashMap<>();

    Mended(Results results) {
        this.results = results;
    }

    /** @param blocking where performers are, asked for only where one carries a mask */
    public Mending of(Shot s, Plate p, Supplier<Blocking> blocking) {
        return of(s, PlateFacts.of(p), p::frame, blocking);
    }

    /** The same of which no frame may be asked for but those that are given. */
    public Mending of(Shot s, PlateFacts p, IntFunction<Image> frames, Supplier<Blocking> blocking) {
        boolean covers = s.comp().repairs().stream().anyMatch(r -> !r.tracks().isEmpty());
        List<Track> found = covers ? results.kept(s) : List.of(),
                // Without found ones those put by hand are there all the same.
                kept = found == null ? results.byHand(s) : found;
        SolvedCamera camera = results.cameraInSet(s);
        return new Mending(
                s,
                new Mending.From(
                        frames,
                        ShotSteps.first(s.plate(), p),
                        ShotSteps.last(s.plate(), p),
                        p.colour(),
                        s.tracks().masks().isEmpty() ? Map.of() : results.planes(s),
                        camera,
                        camera == null ? Map.of() : results.moved(s),
                        blocking,
                        kept));
    }

    /** What is held under a print is of another state while something that carries masks is not known yet. */
    private String now(Shot s, String print) {
        return print + results.toFollow(s) + (results.cameraInSet(s) != null);
    }

    /** The frame as performers are laid over it, at full size. */
    public Image frame(Shot s, Plate p, int frame, Supplier<Blocking> blocking) {
        if (s.comp().repairs().stream().noneMatch(r -> r.on() && !r.clean())
                || !s.comp().at(frame, p.rate().perSecond()).on(Group.REPAIR)) return p.frame(frame);
        return mended(s, p, frame, blocking).image();
    }

    /** The same with what could not be covered, whether repairs are switched on there or not. */
    public Mender.Mended mended(Shot s, Plate p, int frame, Supplier<Blocking> blocking) {
        return frames.get(Prints.mended(s, frame), () -> of(s, p, blocking).frame(frame));
    }

    /** The same as it is projected onto the set. */
    public Image projected(Shot s, Plate p, int frame) {
        if (s.comp().repairs().stream().noneMatch(r -> r.on() && r.feeds() && !r.clean())) return p.frame(frame);
        return of(s, p, () -> null).projected(frame);
    }

    /** @param plate at the size wanted; @param size pixels of it for one of the full-size plate */
    public Matte front(Shot s, Plate p, Image plate, int frame, double size, Supplier<Blocking> blocking) {
        if (s.comp().fronts().stream().noneMatch(f -> f.on())) return Matte.NONE;
        return mattes.get(now(s, Prints.front(s, frame)) + plate.width, () -> of(s, p, blocking)
                .matte(plate, frame, size));
    }

    /** Where numbers of their own count in a frame. @param r the comp as it is there */
    public Apart.Found apart(Shot s, Plate p, CompRecipe r, Passes passes, int frame, double size, Scenes scenes) {
        if (r.variants().isEmpty()) return NONE;
        boolean pieces = r.variants().stream().anyMatch(v -> v.piece() != 0);
        return of(s, p, () -> scenes.blocking(s))
                .apart(r, passes, frame, size, pieces ? scenes.pieceModels(s) : Map.of());
    }

    /** Frames in which what stands in front pops; looked at small, and remembered. */
    public List<Integer> pops(Shot s, Plate p, Supplier<Blocking> blocking) {
        if (s.comp().fronts().stream().noneMatch(f -> f.on())) return List.of();
        return popped.computeIfAbsent(now(s, Prints.front(s, 0)), k -> {
            Mending m = of(s, p, blocking);
            int first = ShotSteps.cutFirst(s.plate(), p), last = ShotSteps.cutLast(s.plate(), p);
            double[] area = new double[last - first + 1];
            for (int f = first; f <= last; f++) {
                Image small = p.frame(f).half();
                float[] part =
                        m.matte(small, f, (double) small.width / p.width()).part();
                for (int n = 0; part != null && n < part.length; n++) area[f - first] += part[n];
            }
            return Pops.of(area, first);
        });
    }
}

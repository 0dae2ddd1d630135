package dasein.app.scene;

import dasein.app.store.Held;
import dasein.app.store.Plates;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Steps;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.presence.Check;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import java.nio.file.Path;
import org.springframework.stereotype.Component;

/** Finished frames from stored passes; the passes last looked at stay in memory, so that a slider answers at once. */
@Component
public class Comps {
    private final Plates plates;
    private final Filtered filtered;
    private final Scenes scenes;
    private final Held<Passes> passes = new Held<>(0.12, Passes::bytes);

    Comps(Plates plates, Filtered filtered, Scenes scenes) {
        this.scenes = scenes;
        this.plates = plates;
        this.filtered = filtered;
    }

    /** Passes of a frame, or null when they are not rendered. */
    public Passes passes(Shot s, int frame) {
        Path file = filtered.file(s, frame);
        return file == null ? null : passes.get(file.toString(), () -> bent(s, frame, Passes.read(file)));
    }

    /** The same before their noise was filtered; null when that was not kept. */
    public Passes raw(Shot s, int frame) {
        Passes raw = filtered.raw(s, frame);
        return raw == null ? null : bent(s, frame, raw);
    }

    private Passes bent(Shot s, int frame, Passes read) {
        return read.straight()
                ? read.bent(scenes.of(s).straighten(frame, s.passes().size()))
                : read;
    }

    /** The finished frame at the passes' size, or null when they are not rendered. */
    public Image frame(Shot s, int frame) {
        return frame(s, frame, passes(s, frame));
    }

    /** The same of passes that are at hand, which may be null. */
    public Image frame(Shot s, int frame, Passes p) {
        if (p == null) return null;
        try (Plates.Lent lent = plates.need(s)) {
            return finished(s, lent.plate(), frame, p, plateFor(lent.plate(), frame, p));
        }
    }

    /** A finished frame with all it was made from. */
    public Check.Frame checked(Shot s, Plate plate, int frame, Passes p, ShotScene scene) {
        Image source = plateFor(plate, frame, p);
        double part = (double) p.width / plate.width();
        CompRecipe r = s.comp().at(frame, plate.rate().perSecond());
        return new Check.Frame(
                frame,
                source,
                p,
                finished(s, plate, frame, p, source),
                scene.view(frame, part),
                s.set().catcher(),
                Steps.margin(r, part),
                Steps.shadowMargin(r, part),
                Steps.everywhere(r));
    }

    private static Image finished(Shot s, Plate plate, int frame, Passes p, Image source) {
        return Comp.frame(
                source,
                p,
                s.comp().at(frame, plate.rate().perSecond()),
                plate.encoding(),
                (double) p.width / plate.width(),
                frame);
    }

    /** The plate's frame at the size of the passes. */
    private static Image plateFor(Plate plate, int frame, Passes p) {
        Image im = plate.frame(frame);
        return im.width == p.width ? im : im.resize(p.width, p.height);
    }
}

package dasein.app.scene;

import dasein.app.store.Held;
import dasein.app.store.Plates;
import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.comp.Beside;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.Trial;
import dasein.core.comp.Window;
import dasein.core.comp.repair.Mender;
import dasein.core.comp.step.Steps;
import dasein.core.image.Image;
import dasein.core.output.MatteChannels;
import dasein.core.plate.Plate;
import dasein.core.plate.PlateFacts;
import dasein.core.presence.Check;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import java.lang.ref.SoftReference;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Supplier;
import org.springframework.stereotype.Component;

/** Finished frames from stored passes; the passes last looked at stay in memory, so that a slider answers at once. */
@Component
public class Comps {
    private final Plates plates;
    private final Filtered filtered;
    private final Scenes scenes;
    private final Mended mended;
    private final Tables tables;
    private final Held<Passes> passes = new Held<>(0.12, Passes::bytes);

    Comps(Plates plates, Filtered filtered, Scenes scenes, Mended mended, Tables tables) {
        this.tables = tables;
        this.mended = mended;
        this.scenes = scenes;
        this.plates = plates;
        this.filtered = filtered;
    }

    /** Passes wider than this are looked at in half size while something is being set. */
    private static final int WORKING = 800;
    /** Unless so many pixels of the screen, or more, show one of theirs. */
    private static final double ENOUGH = 0.55;

    /** Passes of a frame, or null when they are not rendered. */
    public Passes passes(Shot s, int frame) {
        Path file = filtered.file(s, frame);
        return file == null ? null : passes(s, frame, file);
    }

    private Passes passes(Shot s, int frame, Path file) {
        return passes.get(file.toString(), () -> bent(s, frame, Passes.read(file)));
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

    /** The same for a movie: its passes are not kept, and those that somebody looks at stay. */
    public Image written(Shot s, int frame) {
        Path file = filtered.file(s, frame);
        if (file == null) return null;
        Passes held = passes.find(file.toString());
        return frame(s, frame, held != null ? held : bent(s, frame, Passes.read(file)));
    }

    /** A part of a frame that is made again and again. @param of which: then nothing but numbers is otherwise */
    private record Tried(String of, Passes passes, Trial trial) {}

    /** The one last asked for; given up where memory is short. */
    private final AtomicReference<SoftReference<Tried>> tried = new AtomicReference<>(new SoftReference<>(null));

    /** @param image of the part; @param window where it lies in a frame; @param width, height of that frame */
    public record Part(Image image, Window window, int width, int height) {}

    /**
     * What is looked at of a frame while a number is being set, at a size that is quickly there; null when it is not
     * rendered. Only what comes after the number is done again.
     *
     * @param s as it would be; @param of which revision it is of, but for its numbers; @param number that is set
     * @param look left, top, right, bottom of what is seen, 0 to 1, and how many pixels of the screen show one of the
     *     plate
     */
    public Part tried(Shot s, String of, int frame, String number, double[] look) {
        try (Plates.Lent lent = plates.need(s)) {
            Plate plate = lent.plate();
            Path file = filtered.file(s, frame);
            if (file == null) return null;
            Passes p = passes(s, frame, file);
            if (p.width > WORKING && look[4] * plate.width() < ENOUGH * p.width)
                p = passes.get(file + " half", p::half);
            Window window = Window.of(look[0], look[1], look[2], look[3], p.width, p.height);
            String key = of + " " + frame + " " + window;
            // Taken out while it is worked with: it is for one at a time.
            Tried t = tried.getAndSet(new SoftReference<>(null)).get();
            double part = (double) p.width / plate.width();
            if (t == null || !t.of.equals(key) || t.passes != p)
                t = new Tried(
                        key, p, new Trial(plateFor(s, plate, frame, p), p, plate.encoding(), part, frame, window));
            CompRecipe r = s.comp().at(frame, plate.rate().perSecond());
            Image im = t.trial.frame(r, beside(s, plate, frame, p, t.trial.plate(), r), number);
            tried.set(new SoftReference<>(t));
            return new Part(im, window, p.width, p.height);
        }
    }

    /** The plate alone with all that is done to it, as long as no performer is rendered in it. */
    public Image plain(Shot s, int frame) {
        PlateFacts p = plates.facts(s);
        double size = s.passes().size();
        return frame(s, frame, new Passes((int) Math.round(p.width() * size), (int) Math.round(p.height() * size)));
    }

    /** Whether anything is done to the plate, whether performers are there or not. */
    public static boolean plainly(Shot s) {
        CompRecipe r = s.comp();
        return r.repairs().stream().anyMatch(k -> k.on() && !k.clean())
                || Steps.everywhere(r)
                || !r.keys().isEmpty()
                || r.variants().stream().anyMatch(v -> v.on() && v.part());
    }

    /** The same of passes that are at hand, which may be null. */
    public Image frame(Shot s, int frame, Passes p) {
        if (p == null) return null;
        try (Plates.Lent lent = plates.need(s)) {
            return finished(s, lent.plate(), frame, p, plateFor(s, lent.plate(), frame, p));
        }
    }

    /** A finished frame with all it was made from. */
    public Check.Frame checked(Shot s, Plate plate, int frame, Passes p, ShotScene scene) {
        Image source = plateFor(s, plate, frame, p);
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
                Steps.everywhere(r),
                r,
                plate.encoding(),
                other -> finished(s, plate, frame, p, source, other));
    }

    private Image finished(Shot s, Plate plate, int frame, Passes p, Image source) {
        return finished(
                s, plate, frame, p, source, s.comp().at(frame, plate.rate().perSecond()));
    }

    /** @param r the comp as it is in this frame, or as it might be */
    private Image finished(Shot s, Plate plate, int frame, Passes p, Image source, CompRecipe r) {
        double part = (double) p.width / plate.width();
        return Comp.frame(source, p, r, plate.encoding(), part, frame, beside(s, plate, frame, p, source, r));
    }

    private Beside beside(Shot s, Plate plate, int frame, Passes p, Image source, CompRecipe r) {
        double part = (double) p.width / plate.width();
        Supplier<Blocking> blocking = () -> scenes.blocking(s);
        return new Beside(
                mended.front(s, plate, source, frame, part, blocking),
                tables.of(r),
                mended.apart(s, plate, r, p, frame, part, scenes).there());
    }

    /** Frames in which what stands in front pops. */
    public List<Integer> pops(Shot s) {
        try (Plates.Lent lent = plates.need(s)) {
            return mended.pops(s, lent.plate(), () -> scenes.blocking(s));
        }
    }

    /** Sentences on what could not be found in front, or covered, in a frame. */
    public List<String> lost(Shot s, int frame) {
        CompRecipe r = s.comp();
        if (r.fronts().isEmpty() && r.repairs().isEmpty() && r.variants().isEmpty()) return List.of();
        try (Plates.Lent lent = plates.need(s)) {
            Plate p = lent.plate();
            Mender.Mended m = mended.mended(s, p, frame, () -> scenes.blocking(s));
            List<String> out = new ArrayList<>(m.lost());
            out.addAll(mended.front(s, p, m.image(), frame, 1, () -> scenes.blocking(s))
                    .lost());
            Passes passes = passes(s, frame);
            if (passes != null)
                out.addAll(mended.apart(s, p, r, passes, frame, (double) passes.width / p.width(), scenes)
                        .lost());
            return out;
        }
    }

    /** The plate's frame as the set shows it back: with what is covered there, too. */
    public Image projected(Shot s, Plate plate, int frame) {
        return mended.projected(s, plate, frame);
    }

    /** How all masks are carried, as far as it is known, by their number. */
    public Map<Integer, ? extends Map<Integer, double[]>> ways(Shot s) {
        if (s.tracks().masks().isEmpty() || s.plate().file().isEmpty()) return Map.of();
        return mended.of(s, plates.facts(s), f -> null, () -> scenes.blocking(s))
                .shapes()
                .ways();
    }

    /** Coverage by name, at the passes' size, or the plate's where nobody is. @throws BadInput without the passes */
    public Mattes mattes(Shot s, Plate plate, int frame) {
        Passes p = s.performers().isEmpty() ? null : passes(s, frame);
        if (p == null && !s.performers().isEmpty()) throw new BadInput("the passes of frame " + frame + " are missing");
        Image under =
                p == null ? mended.frame(s, plate, frame, () -> scenes.blocking(s)) : plateFor(s, plate, frame, p);
        double scale = (double) under.width / plate.width();
        float[] front = mended.front(s, plate, under, frame, scale, () -> scenes.blocking(s))
                .part();
        return new Mattes(
                under.width,
                under.height,
                MatteChannels.of(
                        mended.of(s, plate, () -> scenes.blocking(s)).shapes(),
                        s.performers(),
                        p,
                        front,
                        frame,
                        under.width,
                        under.height,
                        scale));
    }

    public record Mattes(int width, int height, Map<String, float[]> channels) {}

    /** The plate's frame, mended, at the size of the passes. */
    private Image plateFor(Shot s, Plate plate, int frame, Passes p) {
        Image im = mended.frame(s, plate, frame, () -> scenes.blocking(s));
        if (im.width == p.width) return im;
        return im.width == 2 * p.width && im.height == 2 * p.height ? im.half() : im.resize(p.width, p.height);
    }
}

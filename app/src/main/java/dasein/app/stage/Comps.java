package dasein.app.stage;

import dasein.app.store.MediaStore;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.app.store.ShotMapper;
import dasein.core.comp.Comp;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.render.Passes;
import dasein.core.shot.Shot;
import java.util.LinkedHashMap;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Finished frames from stored passes; the passes last looked at stay in memory, so that a slider answers at once. */
@Component
public class Comps {
    private static final int KEPT = 3;

    private final Plates plates;
    private final Results results;
    private final MediaStore media;
    private final Scenes scenes;
    private final Map<String, Passes> passes = new LinkedHashMap<>(8, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Passes> e) {
            return size() > KEPT;
        }
    };

    Comps(Plates plates, Results results, MediaStore media, Scenes scenes) {
        this.scenes = scenes;
        this.plates = plates;
        this.results = results;
        this.media = media;
    }

    /** Passes of a frame, or null when they are not rendered. */
    public Passes passes(Shot s, int frame) {
        String print = Results.framePrint(s, frame);
        synchronized (passes) {
            Passes p = passes.get(print);
            if (p != null) return p;
        }
        ShotMapper.Result r = results.find("passes", print);
        if (r == null) return null;
        Passes read = Passes.read(media.result("passes", r.file())),
                p =
                        read.straight()
                                ? read.bent(scenes.of(s)
                                        .straighten(frame, s.passes().size()))
                                : read;
        synchronized (passes) {
            passes.put(print, p);
        }
        return p;
    }

    /** The plate's frame at the size of the passes. */
    public Image plateFor(Shot s, int frame, Passes p) {
        Image im = plates.of(s).frame(frame);
        return im.width == p.width ? im : im.resize(p.width, p.height);
    }

    /** The finished frame at the passes' size, or null when they are not rendered. */
    public Image frame(Shot s, int frame) {
        Passes p = passes(s, frame);
        if (p == null) return null;
        Plate plate = plates.of(s);
        return Comp.frame(
                plateFor(s, frame, p), p, s.comp(), plate.encoding(), (double) p.width / plate.width(), frame);
    }
}

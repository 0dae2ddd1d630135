package dasein.app.store;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import java.util.LinkedHashMap;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Plates stay open while they are in use: opening one walks its whole file. */
@Component
public class Plates {
    private static final int OPEN = 6;

    private final MediaStore media;
    private final LinkedHashMap<String, Plate> open = new LinkedHashMap<>(8, 0.75f, true);

    Plates(MediaStore media) {
        this.media = media;
    }

    /** The shot's plate, shared by all who ask; null when the shot has none. Do not close it. */
    public synchronized Plate of(Shot s) {
        if (s.plate().file().isEmpty()) return null;
        String key = Results.platePrint(s);
        Plate p = open.get(key);
        if (p != null) return p;
        try {
            p = ShotSteps.plate(
                    s.plate(),
                    media.path(s.plate().file()),
                    s.plate().table().isEmpty() ? null : media.path(s.plate().table()));
        } catch (BadInput e) {
            // The sentence names the person's file, not ours.
            String said = e.getMessage()
                    .replace(s.plate().file(), media.name(s.plate().file()));
            throw e instanceof Plate.Gap ? new Plate.Gap(said) : new BadInput(said, e);
        }
        open.put(key, p);
        if (open.size() > OPEN) {
            Map.Entry<String, Plate> oldest = open.entrySet().iterator().next();
            open.remove(oldest.getKey());
            oldest.getValue().close();
        }
        return p;
    }

    /** The frame reduced by 1, 2, 4 ... */
    public static Image reduced(Image im, int by) {
        for (int k = by; k > 1; k /= 2) im = im.half();
        return im;
    }
}

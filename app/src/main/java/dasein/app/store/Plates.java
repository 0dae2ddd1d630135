package dasein.app.store;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import java.util.LinkedHashMap;
import java.util.Map;
import org.springframework.stereotype.Component;

/**
 * Plates are lent: whoever needs frames takes one and gives it back, and nobody closes it under his hands. Opening one
 * walks its whole file, so a few that nobody has are kept open. What is only asked about a plate, its size, frames and
 * rate, is a result of its own and opens nothing.
 */
@Component
public class Plates {
    /** Plates that nobody has and that are kept open all the same: a decoder each, frames are bounded elsewhere. */
    private static final int IDLE = 4;

    private static final class Open {
        Plate plate;
        int holders;
    }

    private final MediaStore media;
    private final Results results;
    private final Map<String, Open> open = new LinkedHashMap<>(8, 0.75f, true);

    Plates(MediaStore media, Results results) {
        this.media = media;
        this.results = results;
    }

    /** A plate in somebody's hands, until it is closed. */
    public final class Lent implements AutoCloseable {
        private final Open of;
        private boolean back;

        private Lent(Open of) {
            this.of = of;
        }

        public Plate plate() {
            return of.plate;
        }

        @Override
        public void close() {
            if (back) return;
            back = true;
            giveBack(of);
        }
    }

    /**
     * The shot's plate, shared by all who have it; null when the shot has none.
     *
     * @throws BadInput when it cannot be opened, with its reason
     */
    public Lent lend(Shot s) {
        if (s.plate().file().isEmpty()) return null;
        Open mine;
        synchronized (open) {
            mine = open.computeIfAbsent(Prints.plate(s), k -> new Open());
            mine.holders++;
        }
        try {
            // Who wants another plate need not wait while this one is opened.
            synchronized (mine) {
                if (mine.plate == null) mine.plate = opened(s);
            }
        } catch (RuntimeException e) {
            giveBack(mine);
            throw e;
        }
        return new Lent(mine);
    }

    /** The shot's plate. @throws BadInput when the shot has none, or it cannot be opened */
    public Lent need(Shot s) {
        Lent l = lend(s);
        if (l == null) throw new BadInput("bring in a plate first");
        return l;
    }

    private void giveBack(Open of) {
        synchronized (open) {
            of.holders--;
            int idle = 0;
            for (Open o : open.values()) if (o.holders == 0 && o.plate != null) idle++;
            var oldest = open.values().iterator();
            while (oldest.hasNext()) {
                Open o = oldest.next();
                if (o.holders > 0 || o.plate != null && idle <= IDLE) continue;
                if (o.plate != null) {
                    o.plate.close();
                    idle--;
                }
                oldest.remove();
            }
        }
    }

    private Plate opened(Shot s) {
        try {
            return ShotSteps.plate(
                    s.plate(),
                    media.path(s.plate().file()),
                    s.plate().table().isEmpty() ? null : media.path(s.plate().table()));
        } catch (BadInput e) {
            // The sentence names the person's file, not ours.
            String said = e.getMessage()
                    .replace(s.plate().file(), media.name(s.plate().file()));
            throw e instanceof Plate.Gap ? new Plate.Gap(said) : new BadInput(said, e);
        }
    }

    /**
     * What is known of the shot's plate; null when the shot has none. It is opened only where nobody opened it before.
     *
     * @throws BadInput when it cannot be opened, with its reason
     */
    public PlateFacts facts(Shot s) {
        if (s.plate().file().isEmpty()) return null;
        PlateFacts known = results.plate(Prints.plate(s));
        if (known != null) return known;
        try (Lent l = lend(s)) {
            PlateFacts found = PlateFacts.of(l.plate());
            results.save("plate", Prints.plate(s), found, "");
            return found;
        }
    }

    /** Whether {@link #facts} opens nothing. */
    public boolean knows(Shot s) {
        return s.plate().file().isEmpty() || results.plate(Prints.plate(s)) != null;
    }

    /** How many are open now. */
    public int opened() {
        synchronized (open) {
            return (int) open.values().stream().filter(o -> o.plate != null).count();
        }
    }

    /** The frame reduced by 1, 2, 4 ... */
    public static Image reduced(Image im, int by) {
        for (int k = by; k > 1; k /= 2) im = im.half();
        return im;
    }
}

package dasein.app.web;

import dasein.app.stage.Scenes;
import dasein.app.store.Plates;
import dasein.app.store.Shots;
import dasein.core.comp.Comp;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Passes;
import dasein.core.render.Quality;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import org.springframework.stereotype.Component;

/** Draft renders while somebody looks. One at a time; a newer question ends the older one of the same shot. */
@Component
class Drafts {
    private static final double[] SIZE = {0.25, 0.5, 0.5, 0.5};
    private static final int[] SAMPLES = {4, 4, 16, 64};

    private final Scenes scenes;
    private final Plates plates;
    private final ConcurrentHashMap<Long, AtomicLong> newest = new ConcurrentHashMap<>();
    private final Object one = new Object();

    Drafts(Scenes scenes, Plates plates) {
        this.scenes = scenes;
        this.plates = plates;
    }

    /** @return null when a newer question came meanwhile */
    Image frame(Shots.Head h, int frame, int level) {
        AtomicLong latest = newest.computeIfAbsent(h.id(), k -> new AtomicLong());
        long mine = latest.incrementAndGet();
        int l = Math.max(0, Math.min(SIZE.length - 1, level));
        synchronized (one) {
            if (latest.get() != mine) return null;
            Plate plate = plates.of(h.shot());
            Image full = plate.frame(frame);
            // On a small plate half would be too little to judge by.
            double size = Math.min(1, SIZE[l] * Math.max(1, 1280.0 / full.width));
            Quality q = new Quality(
                    SAMPLES[l],
                    SAMPLES[l],
                    0,
                    Math.min(l == 0 ? 1 : 2, h.shot().passes().bounces()),
                    true);
            try {
                Passes p = FrameRenderer.render(
                        scenes.of(h.shot()).job(frame, full, size, q),
                        (done, what) -> {
                            if (latest.get() != mine) throw new CancellationException();
                        },
                        null);
                return Comp.frame(full.resize(p.width, p.height), p, h.shot().comp(), plate.encoding(), size, frame);
            } catch (CancellationException e) {
                return null;
            }
        }
    }
}

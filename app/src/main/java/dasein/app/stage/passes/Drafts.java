package dasein.app.stage.passes;

import dasein.app.scene.Mended;
import dasein.app.scene.Scenes;
import dasein.app.scene.Tables;
import dasein.app.store.Plates;
import dasein.app.store.Shots;
import dasein.app.task.Turns;
import dasein.core.BadInput;
import dasein.core.comp.Beside;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.front.Matte;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import dasein.core.shot.ShotScene;
import dasein.core.shot.Stands;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CancellationException;
import java.util.concurrent.atomic.AtomicLong;
import org.springframework.stereotype.Component;

/** Draft renders while somebody looks. One at a time; a newer question of the same page ends its older one. */
@Component
class Drafts {
    /** Of a plate 1280 wide. The first is to be there at once, the second to be looked at, the others to judge by. */
    private static final double[] SIZE = {0.2, 0.35, 0.5, 0.5};

    private static final int[] SAMPLES = {2, 4, 12, 64};
    /** Pages whose newest question is remembered. */
    private static final int MOST_PAGES = 200;

    private final Scenes scenes;
    private final Plates plates;
    private final Mended mended;
    private final Tables tables;
    private final Turns turns;
    private final Map<String, AtomicLong> newest = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, AtomicLong> e) {
            return size() > MOST_PAGES;
        }
    };
    private final Object one = new Object();

    Drafts(Scenes scenes, Plates plates, Mended mended, Tables tables, Turns turns) {
        this.tables = tables;
        this.mended = mended;
        this.turns = turns;
        this.scenes = scenes;
        this.plates = plates;
    }

    /**
     * How a shot is looked at.
     *
     * @param alone one light of it ({@link ShotScene#alone}); empty for all
     * @param stands whether balls stand in it that show its light
     * @param part left, top, right and bottom of what is looked at, 0 to 1; null for all
     */
    record Look(String alone, boolean stands, double[] part) {
        static final Look PLAIN = new Look("", false, null);
        private static final double LEAST = 0.02;

        /** @param part as the page sends it: four numbers with commas between, or nothing */
        static Look of(String alone, boolean stands, String part) {
            if (part.isEmpty()) return new Look(alone, stands, null);
            String[] k = part.split(",");
            double[] v = new double[4];
            try {
                for (int i = 0; i < 4; i++) v[i] = Math.max(0, Math.min(1, Double.parseDouble(k[i])));
            } catch (NumberFormatException | ArrayIndexOutOfBoundsException e) {
                throw new BadInput("a part of the picture is four numbers from 0 to 1");
            }
            if (!(v[2] - v[0] >= LEAST && v[3] - v[1] >= LEAST))
                throw new BadInput("a part of the picture is at least a fiftieth of it");
            return new Look(alone, stands, v);
        }
    }

    Image frame(Shots.Head h, int frame, int level, String by) {
        return frame(h, frame, level, by, Look.PLAIN);
    }

    /** @param by the page that asks @return null when a newer question came from there meanwhile */
    Image frame(Shots.Head h, int frame, int level, String by, Look look) {
        AtomicLong latest;
        synchronized (newest) {
            latest = newest.computeIfAbsent(h.id() + " " + by, k -> new AtomicLong());
        }
        long mine = latest.incrementAndGet();
        synchronized (one) {
            if (latest.get() != mine) return null;
            try (Turns.Turn turn = turns.first();
                    Plates.Lent lent = plates.need(h.shot())) {
                return draft(h, lent.plate(), frame, Math.max(0, Math.min(SIZE.length - 1, level)), look, latest, mine);
            } catch (CancellationException e) {
                return null;
            }
        }
    }

    private Image draft(Shots.Head h, Plate plate, int frame, int level, Look look, AtomicLong latest, long mine) {
        Image full = mended.frame(h.shot(), plate, frame, () -> scenes.blocking(h.shot()));
        // On a small plate half would be too little to judge by.
        double size = Math.min(1, SIZE[level] * Math.max(1, 1280.0 / full.width));
        ShotScene scene = scenes.of(h.shot());
        double[] part = scene.camera().readout() == 0 ? look.part() : null;
        // What is looked at closely is drawn as large as it is seen.
        if (part != null) size = Math.min(1, size / Math.max(part[2] - part[0], part[3] - part[1]));
        int bounces = Math.min(level == 0 ? 1 : 2, h.shot().passes().bounces());
        FrameRenderer.Job job = scene.job(
                        frame, full, size, new Quality(SAMPLES[level], SAMPLES[level], 0, bounces, true))
                .focused(scene.aperture(h.shot(), frame));
        Image plain = full.resize(job.view().width(), job.view().height());
        Matte front = mended.front(h.shot(), plate, plain, frame, size, () -> scenes.blocking(h.shot()));
        if (part != null) {
            int left = (int) (part[0] * plain.width),
                    top = (int) (part[1] * plain.height),
                    w = Math.max(8, (int) Math.ceil(part[2] * plain.width) - left),
                    high = Math.max(8, (int) Math.ceil(part[3] * plain.height) - top);
            left = Math.max(0, Math.min(left, plain.width - w));
            top = Math.max(0, Math.min(top, plain.height - high));
            job = job.with(job.view().part(left, top, w, high));
            front = front.part(plain.width, left, top, w, high);
            plain = plain.part(left, top, w, high);
        }
        if (!look.alone().isEmpty()) job = job.with(scene.alone(frame, look.alone()));
        if (look.stands()) job = job.with(Stands.meshes(h.shot().light().clues().stands()));
        Passes p = FrameRenderer.render(
                job,
                (done, what) -> {
                    if (latest.get() != mine) throw new CancellationException();
                },
                null);
        CompRecipe comp = h.shot().comp().at(frame, plate.rate().perSecond());
        return Comp.frame(
                plain,
                p,
                comp,
                plate.encoding(),
                size,
                frame,
                new Beside(
                        front,
                        tables.of(comp),
                        // Of a part of the picture masks would have to be cut, too; it is looked at for a moment only.
                        part != null
                                ? List.of()
                                : mended.apart(h.shot(), plate, comp, p, frame, size, scenes)
                                        .there()));
    }
}

package dasein.core.render;

import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.lens.Aperture;
import dasein.core.lens.RayGrid;
import dasein.core.lens.View;
import dasein.core.light.Lighting;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.render.pass.PassSet;
import dasein.core.render.pass.Passes;
import dasein.core.render.ray.Tracer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.stream.IntStream;

/**
 * Renders one frame in rounds over the whole picture; after each round the noise of every tile is estimated from how
 * far it moved in it, and only tiles that are too noisy, and their neighbours, get another. Same seed, same picture,
 * whatever the number of threads.
 */
public final class FrameRenderer {
    private static final int TILE = 8;

    private static final int THREADS = ForkJoinPool.getCommonPoolParallelism() + 1;
    /** What is on a catcher is smooth and filtered over many pixels: its error counts less than the performer's. */
    private static final double CATCHER_WEIGHT = 0.35;
    /** Radiance below which a difference no longer counts in full: it drowns in the plate's own noise. */
    private static final float DARK = 0.05f;
    /** What a ground gives back of its light, to know how bright the plate is under what is added to it. */
    private static final float GROUND_ALBEDO = 0.2f;

    /** Pixels behind an edge that are looked behind: at least, and as a part of the picture's width. */
    private static final int LEAST_BEHIND = 2, BEHIND_PART = 250;

    private static final int MOST_BEHIND = 16;
    /** Part of the noise that is asked for, below which a tile has enough before it has the least samples. */
    private static final double LEAST_NOISE = 0.125;
    /** Looks at a pixel along an edge, only for how much of it performers cover. */
    private static final int LOOKS = 32;

    /**
     * What to render.
     *
     * @param ground catchers' albedo; may be null when there is no catcher
     * @param background also show sky and give it alpha 1: for scenes that are rendered whole
     * @param shutterFraction part of the frame's time that the shutter is open, to express motion in pixels a frame
     */
    public record Job(
            List<Mesh> meshes,
            Lighting lighting,
            View view,
            Ground ground,
            CatcherLook look,
            Quality quality,
            boolean background,
            double shutterFraction,
            int seed,
            Asked asked) {
        /** Only what every comp needs. */
        public Job(
                List<Mesh> meshes,
                Lighting lighting,
                View view,
                Ground ground,
                CatcherLook look,
                Quality quality,
                boolean background,
                double shutterFraction,
                int seed) {
            this(meshes, lighting, view, ground, look, quality, background, shutterFraction, seed, Asked.NOTHING);
        }

        private Job asking(Asked a) {
            return new Job(meshes, lighting, view, ground, look, quality, background, shutterFraction, seed, a);
        }

        public Job keeping(Keep keep) {
            return asking(new Asked(keep, asked.aperture(), asked.plate(), asked.neighbours()));
        }

        /** Through an opening instead of a pinhole; null for that. */
        public Job focused(Aperture a) {
            return asking(new Asked(asked.keep(), a, asked.plate(), asked.neighbours()));
        }

        /** Over this plate, of any size: noise on a catcher is judged as it will be seen. */
        public Job over(Image of) {
            Image im = of.resize(view.width(), view.height());
            float[] y = new float[view.width() * view.height()];
            for (int i = 0; i < y.length; i++) y[i] = Film.luminance(im.planes[0][i], im.planes[1][i], im.planes[2][i]);
            return asking(new Asked(asked.keep(), asked.aperture(), y, asked.neighbours()));
        }

        /** With what motion both ways is told from. */
        public Job between(Neighbours n) {
            return asking(new Asked(asked.keep(), asked.aperture(), asked.plate(), n));
        }

        /** With further things in it. */
        public Job with(List<Mesh> more) {
            List<Mesh> all = new ArrayList<>(more);
            all.addAll(meshes);
            return new Job(all, lighting, view, ground, look, quality, background, shutterFraction, seed, asked);
        }

        /** Of another picture, over which no plate is known. */
        public Job with(View other) {
            Asked a = new Asked(asked.keep(), asked.aperture(), null, asked.neighbours());
            return new Job(meshes, lighting, other, ground, look, quality, background, shutterFraction, seed, a);
        }

        /** Lit otherwise than the plate was: of the ground its colour counts alone. */
        public Job with(Lighting other) {
            Ground colour = ground == null ? null : ground::albedo;
            return new Job(meshes, other, view, colour, look, quality, background, shutterFraction, seed, asked);
        }
    }

    private final Job job;
    private final Film film;
    private final ConcurrentLinkedQueue<PixelSampler> idle = new ConcurrentLinkedQueue<>();
    private final Tracer tracer;
    private final RayGrid rays;
    private final int tilesX;
    private final int tilesY;
    private final Catchers catchers;
    private final Lights.Of lights;
    private final OpenLight open;
    /** Null where nobody asks for them. */
    private final MatteIds mattes;
    /** As {@link Lights} asks for it. */
    private final float scale;

    private final float[] catcherIrradiance;

    private FrameRenderer(Job job) {
        this.job = job;
        Glow glow = Glow.of(job.meshes);
        lights = new Lights.Of(
                job.lighting,
                glow,
                new LightGroups(
                        job.lighting, job.asked.keep().lamps(), job.asked.keep().lights()));
        film = new Film(job.view.width(), job.view.height(), lights.groups(), job.asked.keep());
        open = OpenLight.of(job.lighting);
        mattes = film.mattes.length == 0 ? null : new MatteIds(job.meshes, job.asked.keep());
        tracer = Tracer.of(job.meshes);
        rays = new RayGrid(job.view.lens(), film.width, film.height);
        tilesX = (film.width + TILE - 1) / TILE;
        tilesY = (film.height + TILE - 1) / TILE;
        catchers = Catchers.among(job.meshes);
        float[] up = glow.count > 0 ? job.lighting.irradiance(Vec3.Y) : new float[3];
        float sky = Film.luminance(up[0], up[1], up[2]);
        scale = lights.groups().apart() ? glow.roughly(sky) : sky;
        catcherIrradiance =
                job.lighting.irradiance(catchers.normal(job.view.open().position()));
    }

    /**
     * @param shown called after every round with the passes so far (undenoised rounds are denoised too); null for
     *     nobody
     */
    public static Passes render(Job job, Progress progress, Consumer<Passes> shown) {
        return new FrameRenderer(job).run(progress, shown);
    }

    private Passes run(Progress progress, Consumer<Passes> shown) {
        Quality q = job.quality;
        boolean[] active = new boolean[tilesX * tilesY];
        Arrays.fill(active, true);
        int done = 0;
        boolean covered = false;
        // The first half of the minimum goes everywhere; from then on tiles that no performer reaches are left alone.
        for (int round = 0; done < q.maxSamples(); round++) {
            int want = round == 0 ? Math.max(2, q.minSamples() / 2) : round == 1 ? q.minSamples() - done : done;
            int n = Math.min(Math.max(want, 2), q.maxSamples() - done), from = done;
            List<Integer> list = new ArrayList<>();
            for (int t = 0; t < active.length; t++) if (active[t]) list.add(t);
            if (list.isEmpty()) break;
            double before = (double) done / q.maxSamples(), step = (double) n / q.maxSamples();
            // Each thread takes the next that is left: shares made beforehand would leave one waiting for another.
            AtomicInteger next = new AtomicInteger();
            IntStream.range(0, THREADS).parallel().forEach(w -> {
                PixelSampler s = idle.poll();
                if (s == null) s = sampler();
                for (int k = next.getAndIncrement(); k < list.size(); k = next.getAndIncrement()) {
                    tile(s, list.get(k), from, n);
                    if ((k & 127) == 127) progress.at(before + step * k / list.size(), "rendering");
                }
                idle.add(s);
            });
            done += n;
            progress.at(before + step, "rendering");
            if (!covered && done >= q.minSamples()) {
                cover();
                covered = true;
            }
            if (shown != null && done < q.maxSamples()) shown.accept(resolved(false));
            active = stillNoisy(active, done);
        }
        if (!covered) cover();
        behindEdges();
        return resolved(true);
    }

    private Passes resolved(boolean last) {
        Passes raw = Resolve.passes(film, job, lights.groups(), mattes, catcherIrradiance, last);
        Passes kept = last && job.asked.keep().sets().contains(PassSet.FILTERS) ? raw.keeping(raw.list()) : null;
        Passes out = Finish.of(raw, job.quality.denoise(), job.asked.keep());
        out.raw = kept;
        return out;
    }

    /** Along edges it is cheap to know well how much of a pixel performers cover: no light has to be found for that. */
    private void cover() {
        if (job.background || tracer.adds()) return;
        int w = film.width;
        each(Edges.along(film), (s, p) -> {
            for (int i = 0; i < LOOKS; i++) s.look(p % w, p / w, i, job.seed);
        });
    }

    /** Something for each of some pixels, on all threads. */
    private void each(int[] pixels, BiConsumer<PixelSampler, Integer> what) {
        AtomicInteger next = new AtomicInteger();
        IntStream.range(0, THREADS).parallel().forEach(t -> {
            PixelSampler s = idle.poll();
            if (s == null) s = sampler();
            for (int k = next.getAndIncrement(); k < pixels.length; k = next.getAndIncrement())
                what.accept(s, pixels[k]);
            idle.add(s);
        });
    }

    /**
     * A performer's edge that the comp softens lets show what lies behind it: of pixels that performers cover whole,
     * those near others get the light on the catcher there too.
     */
    private void behindEdges() {
        if (catchers.mesh() == null) return;
        int w = film.width, n = Math.max(2, Math.min(MOST_BEHIND, job.quality.minSamples()));
        each(Edges.behind(film, Math.max(LEAST_BEHIND, w / BEHIND_PART)), (s, p) -> {
            for (int i = 0; i < n; i++) s.behind(p % w, p / w, i, job.seed);
            film.settled(p);
        });
    }

    private PixelSampler sampler() {
        PathTracer path = new PathTracer(
                tracer.twin(),
                job.meshes.toArray(Mesh[]::new),
                lights,
                scale,
                job.ground,
                job.quality.bounces(),
                open,
                film.lobes != null);
        float contact = (float) job.asked.keep().contact();
        CatcherSampler catcher = new CatcherSampler(path, film, job.ground, job.look, contact);
        return new PixelSampler(
                path,
                film,
                job.view,
                rays,
                catcher,
                job.background,
                contact,
                mattes,
                job.asked.aperture(),
                job.asked.neighbours(),
                job.look.beyond());
    }

    private void tile(PixelSampler s, int t, int from, int n) {
        int x0 = t % tilesX * TILE,
                y0 = t / tilesX * TILE,
                x1 = Math.min(x0 + TILE, film.width),
                y1 = Math.min(y0 + TILE, film.height);
        for (int y = y0; y < y1; y++)
            for (int x = x0; x < x1; x++) {
                if (from > 0) film.note(y * film.width + x);
                for (int i = from; i < from + n; i++) {
                    if (from == 0 && i == n / 2) film.note(y * film.width + x);
                    s.take(x, y, i, job.seed);
                }
            }
    }

    private boolean[] stillNoisy(boolean[] active, int done) {
        boolean[] noisy = new boolean[active.length];
        IntStream.range(0, active.length).parallel().filter(t -> active[t]).forEach(t -> {
            double e = error(t);
            noisy[t] = e > (done < job.quality.minSamples() ? LEAST_NOISE * job.quality.noise() : job.quality.noise());
        });
        // A quiet tile beside a noisy one may be quiet by luck.
        boolean[] grown = new boolean[active.length];
        for (int t = 0; t < active.length; t++) {
            int tx = t % tilesX, ty = t / tilesX;
            for (int y = Math.max(ty - 1, 0); y <= Math.min(ty + 1, tilesY - 1); y++) {
                for (int x = Math.max(tx - 1, 0); x <= Math.min(tx + 1, tilesX - 1); x++)
                    grown[t] |= noisy[y * tilesX + x];
            }
            grown[t] &= active[t];
        }
        return grown;
    }

    /** Relative error of a tile: over the level; 0 where no performer shows. */
    private double error(int t) {
        int x0 = t % tilesX * TILE,
                y0 = t / tilesX * TILE,
                x1 = Math.min(x0 + TILE, film.width),
                y1 = Math.min(y0 + TILE, film.height);
        float[][] s = film.sum;
        float e0 = Film.luminance(catcherIrradiance[0], catcherIrradiance[1], catcherIrradiance[2]);
        double sum = 0;
        int shown = 0;
        for (int y = y0; y < y1; y++) {
            for (int x = x0; x < x1; x++) {
                int p = y * film.width + x;
                float n = film.count[p];
                double err = 0;
                boolean content = false;
                if (s[Film.SHADED][p] > 0 || s[0][p] > 0 || s[1][p] > 0 || s[2][p] > 0) {
                    content = true;
                    float all = film.luminance(Film.BEAUTY, p) * film.part(p);
                    err += Math.abs(film.beautyError(p)) / (all + DARK);
                }
                if (film.catches(p)) {
                    content = true;
                    // As it is seen: on a bright ground more, on a dark one less.
                    float
                            plate =
                                    job.asked.plate() == null
                                            ? e0 / (float) Math.PI * GROUND_ALBEDO
                                            : job.asked.plate()[p],
                            taken = film.luminance(Film.BLOCKED, p),
                            given = film.luminance(Film.BOUNCE, p) + film.luminance(Film.REFLECTION, p),
                            // Of no light at all nothing can be taken away.
                            left = e0 > 0 ? Math.max(0, 1 - taken / (n * e0)) : 1,
                            level = plate * left + Math.abs(given) / n + DARK;
                    float off = e0 > 0 ? film.error(taken, Film.EARLIER_BLOCKED, p) / e0 * plate : 0;
                    err += (Math.abs(off) + Math.abs(film.error(given, Film.EARLIER_ADDED, p)))
                            / level
                            * CATCHER_WEIGHT;
                }
                if (content) {
                    shown++;
                    sum += err * err;
                }
            }
        }
        return shown == 0 ? 0 : Math.sqrt(sum / (TILE * TILE));
    }
}

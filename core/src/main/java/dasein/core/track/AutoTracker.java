package dasein.core.track;

import dasein.core.Aside;
import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.image.Pyramid;
import dasein.core.plate.Plate;
import dasein.core.track.TrackSettings.Quality;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashSet;
import java.util.Iterator;
import java.util.List;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.function.Consumer;
import java.util.function.IntFunction;

/**
 * Finds marks all over the picture and follows them through the shot, finding new ones where old ones end. Each is
 * predicted from its own and the picture's motion, followed coarse to fine, checked backward, and held against its
 * first look; one that is hidden is looked for where its neighbours say it should be.
 */
public final class AutoTracker {
    private static final int LEVELS = 6;
    /** Forward and back again must end this close to the start, in pixels. */
    private static final double BACK_TOLERANCE = 0.6;

    private static final double STEP_CORRELATION = 0.75;
    private static final double ANCHOR_CORRELATION = 0.88;
    /** Only a mark that looks very much the same after it was hidden is the same. */
    private static final double REGAIN_CORRELATION = 0.93;

    private static final int REGAIN_REACH = 8;
    /** The affine warp against the anchor may scale and shear this much before a new anchor is taken. */
    private static final double WARP_LIMIT = 0.35;
    /** A picture whose strong corners are weaker than this (squared grey steps over the window) has no marks. */
    private static final double NO_CONTRAST = 25;
    /** A picture that jumps by more than this against the motion so far corrects the predictions, in pixels. */
    private static final double JUMP = 6;
    /** Cells without marks are looked into again after so many frames. */
    private static final int BARREN = 12;
    /** Held this well, a mark needs no backward check. */
    private static final double SURE = 0.95;
    /** A motion this far from its prediction is looked at twice, in pixels. */
    private static final double SURPRISE = 3;
    /** A mark hidden sooner than this was hardly one. */
    private static final int WORTH_REGAINING = 4;

    /**
     * Pictures wider than this are tracked in half the size when it is for a draft, in pixels; and the least half size
     * of a region then.
     */
    private static final int DRAFT_WIDTH = 1500, DRAFT_REGION = 5;

    private final TrackSettings settings;
    private final Quality quality;
    private final int width, height, region;
    private final ThreadLocal<Aligner> aligners;
    private final List<Mark> live = new ArrayList<>();
    private final List<Mark> hidden = new ArrayList<>();
    private final List<Track> done = new ArrayList<>();
    private int nextId = 1;

    private AutoTracker(TrackSettings settings, int width, int height) {
        this.settings = settings;
        this.width = width;
        this.height = height;
        quality = settings.quality();
        region = settings.region() + quality.wider;
        aligners = ThreadLocal.withInitial(() -> new Aligner(region));
    }

    /**
     * Tracks frames first..last.
     *
     * @param mask frame number to "do not look here" (row-major, plate size), or null for none; may return null
     * @throws NoSolution when the picture has nothing to follow
     */
    public static List<Track> track(
            Plate plate, int first, int last, IntFunction<boolean[]> mask, TrackSettings settings, Progress progress) {
        return track(plate, first, last, mask, settings, progress, null);
    }

    /** @param found told after every frame what is alive, as x, y pairs; may be null */
    public static List<Track> track(
            Plate plate,
            int first,
            int last,
            IntFunction<boolean[]> mask,
            TrackSettings settings,
            Progress progress,
            Consumer<double[]> found) {
        return track(plate::grey, plate.width(), plate.height(), first, last, mask, settings, progress, found);
    }

    /** @param grey brightness codes of a frame, 0 to 255, row by row; asked from another thread, rising */
    public static List<Track> track(
            IntFunction<float[]> grey,
            int width,
            int height,
            int first,
            int last,
            IntFunction<boolean[]> mask,
            TrackSettings settings,
            Progress progress,
            Consumer<double[]> found) {
        if (settings.quality() == Quality.DRAFT && width > DRAFT_WIDTH)
            return reduced(grey, width, height, first, last, mask, settings, progress, found);
        return new AutoTracker(settings, width, height).run(grey, first, last, mask, progress, found);
    }

    /** In half the size: a quarter of the pixels to make ready, and twice the error. */
    private static List<Track> reduced(
            IntFunction<float[]> grey,
            int width,
            int height,
            int first,
            int last,
            IntFunction<boolean[]> mask,
            TrackSettings s,
            Progress progress,
            Consumer<double[]> found) {
        int w = width / 2, h = height / 2;
        IntFunction<float[]> half = f -> {
            float[] g = grey.apply(f), out = new float[w * h];
            for (int y = 0; y < h; y++)
                for (int x = 0, i = 2 * y * width; x < w; x++, i += 2)
                    out[y * w + x] = 0.25f * (g[i] + g[i + 1] + g[i + width] + g[i + width + 1]);
            return out;
        };
        IntFunction<boolean[]> skip = mask == null
                ? null
                : f -> {
                    boolean[] m = mask.apply(f), out = m == null ? null : new boolean[w * h];
                    if (m != null)
                        for (int i = 0; i < out.length; i++)
                            out[i] = m[i / w * 2 * width + i % w * 2] || m[(i / w * 2 + 1) * width + i % w * 2 + 1];
                    return out;
                };
        Consumer<double[]> told = found == null
                ? null
                : xy -> found.accept(Arrays.stream(xy).map(v -> 2 * v).toArray());
        TrackSettings smaller = new TrackSettings(
                s.count(),
                s.threshold(),
                Math.max(DRAFT_REGION, s.region() / 2),
                s.spacing() / 2,
                s.minLength(),
                s.quality());
        return track(half, w, h, first, last, skip, smaller, progress, told).stream()
                .map(t -> new Track(
                        t.id(),
                        t.frames(),
                        Arrays.stream(t.x()).map(v -> 2 * v).toArray(),
                        Arrays.stream(t.y()).map(v -> 2 * v).toArray(),
                        t.match()))
                .toList();
    }

    private List<Track> run(
            IntFunction<float[]> grey,
            int first,
            int last,
            IntFunction<boolean[]> mask,
            Progress progress,
            Consumer<double[]> found) {
        int cell = (int) Math.max(8, Math.sqrt((double) width * height / settings.count())), border = region + 4;
        if (settings.spacing() > 0) cell = (int) Math.max(cell, settings.spacing());
        int gap = Math.max(4, cell * 2 / 5);
        Pyramid before = null;
        double[] moved = {0, 0};
        float least = 0;
        Set<Integer> barren = new HashSet<>();
        // Three are in use at a time: the frame before, this one, and the next, which is decoded while this one is
        // tracked.
        Pyramid[] store = new Pyramid[3];
        for (int i = 0; i < 3; i++) store[i] = new Pyramid(width, height, LEVELS);
        CompletableFuture<Pyramid> next =
                CompletableFuture.supplyAsync(() -> store[first % 3].fill(grey.apply(first)), Aside.THREAD);
        try {
            for (int f = first; f <= last; f++) {
                Pyramid now = next.join();
                int ahead = f + 1;
                if (f < last)
                    next = CompletableFuture.supplyAsync(() -> store[ahead % 3].fill(grey.apply(ahead)), Aside.THREAD);
                boolean[] skip = mask == null ? null : mask.apply(f);
                if (before != null) moved = advance(before, now, f, skip, moved, cell * 0.5);
                // Looking for corners costs a part of a frame; holes are not filled in every one.
                if (f == first || (f - first) % quality.lookEvery == 0 && live.size() < settings.count()) {
                    Corners corners = new Corners(now.plane(0), width, height);
                    if (f == first || least == 0) {
                        float strong = corners.strong();
                        if (f == first && strong < NO_CONTRAST)
                            throw new NoSolution(
                                    "the plate has no contrast to follow: no marks were found in frame " + f);
                        least = (float) (strong * settings.threshold());
                    }
                    List<double[]> taken = new ArrayList<>();
                    for (Mark m : live) taken.add(new double[] {m.lastX(), m.lastY()});
                    if ((f - first) % BARREN == 0) barren.clear();
                    for (int[] p : corners.pick(cell, gap, least, taken, skip, border, barren))
                        start(now, f, p[0] + 0.5, p[1] + 0.5, moved);
                }
                before = now;
                progress.at(
                        (f - first + 1.0) / (last - first + 1), "tracking frame " + f + ", " + live.size() + " marks");
                if (found != null)
                    found.accept(live.stream()
                            .flatMapToDouble(m -> java.util.stream.DoubleStream.of(m.lastX(), m.lastY()))
                            .toArray());
            }
        } catch (CompletionException e) {
            if (e.getCause() instanceof RuntimeException r) throw r;
            throw e;
        } finally {
            next.exceptionally(e -> null).join();
        }
        live.forEach(this::finish);
        hidden.forEach(this::finish);
        done.sort(Comparator.comparingInt(Track::id));
        return done;
    }

    private void start(Pyramid p, int frame, double x, double y, double[] moved) {
        Look k = aligners.get().look(p, x, y);
        if (k == null) return;
        Mark m = new Mark(nextId++);
        m.anchor = k;
        m.vx = moved[0];
        m.vy = moved[1];
        m.add(frame, x, y, 1);
        live.add(m);
    }

    private void finish(Mark m) {
        if (m.n >= settings.minLength()) done.add(m.track());
    }

    /** One frame on. @return how the picture moved, its median mark */
    private double[] advance(Pyramid from, Pyramid to, int frame, boolean[] skip, double[] moved, double near) {
        double[] shift = GlobalShift.between(from, to);
        double jx = shift[0] - moved[0], jy = shift[1] - moved[1];
        boolean jump = Math.hypot(jx, jy) > Math.max(JUMP, 0.5 * (1 << from.levels() - 1));
        live.parallelStream()
                .forEach(m -> step(
                        m,
                        from,
                        to,
                        frame,
                        m.vx + (jump ? jx : 0),
                        m.vy + (jump ? jy : 0),
                        jump || m.surprise > 2 ? 2 : m.surprise > 1 ? 1 : 0,
                        skip));
        // Whoever was lost on a short start is given the whole one.
        live.parallelStream()
                .filter(m -> m.lost)
                .forEach(m -> step(m, from, to, frame, m.vx + (jump ? jx : 0), m.vy + (jump ? jy : 0), 2, skip));
        if (quality != Quality.DRAFT) secondChance(from, to, frame, skip, shift);
        Neighbours around = new Neighbours(live);
        // A mark that suddenly runs against the motion of its neighbours has jumped to something else.
        live.parallelStream()
                .filter(m -> !m.lost)
                .filter(m -> astray(m, around))
                .toList()
                .forEach(m -> {
                    m.n--;
                    m.lost = true;
                });
        for (Iterator<Mark> i = live.iterator(); i.hasNext(); ) {
            Mark m = i.next();
            if (!m.lost) continue;
            i.remove();
            if (quality.regain > 0 && m.n >= WORTH_REGAINING && m.anchor != null) {
                m.hiddenX = m.lastX();
                m.hiddenY = m.lastY();
                hidden.add(m);
            } else {
                finish(m);
            }
        }
        regain(to, frame, skip, around, near);
        double[] all = around.overall();
        return all == null ? shift : all;
    }

    private void secondChance(Pyramid from, Pyramid to, int frame, boolean[] skip, double[] shift) {
        Neighbours around = new Neighbours(live);
        live.parallelStream().filter(m -> m.lost).forEach(m -> {
            double[] by = around.motion(m.lastX(), m.lastY());
            if (by != null) step(m, from, to, frame, by[0], by[1], 1, skip);
            if (m.lost && quality == Quality.THOROUGH) step(m, from, to, frame, shift[0], shift[1], quality.top, skip);
        });
    }

    private static boolean astray(Mark m, Neighbours around) {
        double[] by = around.motion(m.lastX() - m.vx, m.lastY() - m.vy);
        return by != null && Math.hypot(m.vx - by[0], m.vy - by[1]) > 6 + 8 * by[2];
    }

    /** Follows a mark into the next frame from a guess of its motion; {@code lost} tells how it went. */
    private void step(
            Mark m, Pyramid from, Pyramid to, int frame, double guessX, double guessY, int top, boolean[] skip) {
        Aligner a = aligners.get();
        double px = m.lastX(), py = m.lastY();
        m.lost = true;
        // The anchor has the last word, so the way to it need not be walked to the end.
        double done = quality.anchored ? Aligner.COARSE_DONE : Aligner.FINE_DONE;
        if (!a.follow(from, px, py, to, px + guessX, py + guessY, top, done) || a.correlation < STEP_CORRELATION)
            return;
        double nx = a.x, ny = a.y, fx = nx, fy = ny, match = a.correlation;
        double[] warp = m.warp.clone();
        boolean held = quality.anchored && hold(a, m, warp, to, nx, ny) && a.correlation > ANCHOR_CORRELATION;
        double hx = a.x, hy = a.y, how = held ? a.correlation : 0;
        // A place that was not expected must lead back from the guess, not only from where it is known to end.
        boolean surprise = Math.hypot(nx - px - guessX, ny - py - guessY) > SURPRISE;
        if (surprise
                && (!a.follow(to, nx, ny, from, nx - guessX, ny - guessY, Math.max(top, 2), done)
                        || Math.hypot(a.x - px, a.y - py) > BACK_TOLERANCE)) return;
        if (!surprise
                && how < SURE
                && (!a.follow(to, nx, ny, from, px, py, 0, done) || Math.hypot(a.x - px, a.y - py) > BACK_TOLERANCE))
            return;
        if (!held && quality.anchored && a.follow(from, px, py, to, nx, ny, 0, Aligner.FINE_DONE)) {
            nx = a.x;
            ny = a.y;
        }
        if (held) {
            nx = hx;
            ny = hy;
            match = how;
        }
        int edge = region + 2;
        if (nx < edge || ny < edge || nx > width - edge || ny > height - edge) return;
        if (skip != null && skip[(int) ny * width + (int) nx]) return;
        double change = Math.abs(warp[0] - 1) + Math.abs(warp[1]) + Math.abs(warp[2]) + Math.abs(warp[3] - 1);
        boolean fresh = quality.anchored && (held ? change > WARP_LIMIT : m.unheld >= quality.patience);
        if (fresh) {
            Look k = a.look(to, nx, ny);
            if (k == null) return;
            m.anchor = k;
            m.warp = new double[] {1, 0, 0, 1};
        } else if (held) {
            m.warp = warp;
        }
        m.lost = false;
        m.surprise = Math.hypot(nx - px - guessX, ny - py - guessY);
        m.vx = nx - px;
        m.vy = ny - py;
        m.add(frame, nx, ny, match);
        // What crept in while only frame to frame was followed is known now.
        if (held && m.unheld > 0)
            m.correct(m.n - 2, (nx - fx) * m.unheld / (m.unheld + 1), (ny - fy) * m.unheld / (m.unheld + 1), m.unheld);
        m.unheld = held || fresh ? 0 : m.unheld + 1;
    }

    /**
     * Aligns the anchor, its place first and, where it fits very well, its shape (a blurred or half-hidden picture
     * would only be mistaken for a sheared one).
     */
    private boolean hold(Aligner a, Mark m, double[] warp, Pyramid to, double nx, double ny) {
        // It may have crept while it was not held.
        double reach = 1.2 + 0.35 * m.unheld;
        boolean ok = a.refine(m.anchor, warp, to, nx, ny, reach, false);
        return ok && a.correlation > SURE ? a.refine(m.anchor, warp, to, a.x, a.y, 1, true) : ok;
    }

    /** Looks for hidden marks where their neighbours say they should be by now. */
    private void regain(Pyramid to, int frame, boolean[] skip, Neighbours around, double near) {
        if (hidden.isEmpty()) return;
        hidden.parallelStream().forEach(m -> {
            double[] by = around.motion(m.hiddenX, m.hiddenY);
            if (by != null) {
                m.hiddenX += by[0];
                m.hiddenY += by[1];
            }
            // Half of them in each frame: a mark that came out is found a frame later at most.
            if ((m.id + frame) % 2 == 0 && frame - m.frames[m.n - 1] > 1) seek(m, to, skip, frame);
        });
        for (Iterator<Mark> i = hidden.iterator(); i.hasNext(); ) {
            Mark m = i.next();
            int last = m.frames[m.n - 1];
            if (last == frame) {
                i.remove();
                m.lost = false;
                // Two marks on one thing: the one that was there longer stays.
                boolean taken = false;
                for (Iterator<Mark> j = live.iterator(); j.hasNext(); ) {
                    Mark o = j.next();
                    if (Math.abs(o.lastX() - m.lastX()) > near || Math.abs(o.lastY() - m.lastY()) > near) continue;
                    if (o.n < m.n) {
                        j.remove();
                        finish(o);
                    } else {
                        taken = true;
                    }
                }
                if (!taken) live.add(m);
                else finish(m);
            } else if (frame - last > quality.regain) {
                i.remove();
                finish(m);
            }
        }
    }

    private void seek(Mark m, Pyramid to, boolean[] skip, int frame) {
        Aligner a = aligners.get();
        int edge = region + 2, cx = (int) m.hiddenX, cy = (int) m.hiddenY, bx = cx, by = cy;
        if (cx < edge || cy < edge || cx > width - edge || cy > height - edge) return;
        double best = -1, second = -1;
        for (int dy = -REGAIN_REACH; dy <= REGAIN_REACH; dy += 2) {
            for (int dx = -REGAIN_REACH; dx <= REGAIN_REACH; dx += 2) {
                double c = a.correlationAt(m.anchor, to, cx + dx, cy + dy);
                boolean far = Math.abs(cx + dx - bx) > 4 || Math.abs(cy + dy - by) > 4;
                if (c > best) {
                    if (far) second = best;
                    best = c;
                    bx = cx + dx;
                    by = cy + dy;
                } else if (far) {
                    second = Math.max(second, c);
                }
            }
        }
        // A look that is found twice tells nothing.
        if (best < 0.5 || second > 0.9 * best) return;
        double[] warp = m.warp.clone();
        if (!a.refine(m.anchor, warp, to, bx + 0.5, by + 0.5, 3, true) || a.correlation < REGAIN_CORRELATION) return;
        double change = Math.abs(warp[0] - m.warp[0])
                + Math.abs(warp[1] - m.warp[1])
                + Math.abs(warp[2] - m.warp[2])
                + Math.abs(warp[3] - m.warp[3]);
        if (change > WARP_LIMIT
                || a.x < edge
                || a.y < edge
                || a.x > width - edge
                || a.y > height - edge
                || skip != null && skip[(int) a.y * width + (int) a.x]) return;
        int gone = frame - m.frames[m.n - 1];
        m.vx = (a.x - m.lastX()) / gone;
        m.vy = (a.y - m.lastY()) / gone;
        m.warp = warp;
        m.add(frame, a.x, a.y, a.correlation);
    }
}

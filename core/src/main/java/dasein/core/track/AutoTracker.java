package dasein.core.track;

import dasein.core.Progress;
import dasein.core.NoSolution;
import dasein.core.image.Image;
import dasein.core.image.Pyramid;
import dasein.core.plate.Plate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntFunction;

/** Finds marks all over the picture and follows them through the shot, finding new ones where old ones end. */
public final class AutoTracker {
    private static final int LEVELS = 5;
    /** Forward and back again must end this close to the start, in pixels. */
    private static final double BACK_TOLERANCE = 0.6;
    private static final double STEP_CORRELATION = 0.75;
    private static final double ANCHOR_CORRELATION = 0.88;
    /** The affine warp against the anchor may scale and shear this much before a new anchor is taken. */
    private static final double WARP_LIMIT = 0.35;
    /** A picture whose strong corners are weaker than this (squared grey steps over the window) has no marks. */
    private static final double NO_CONTRAST = 25;

    private final TrackSettings settings;
    private final List<Live> live = new ArrayList<>();
    private final List<Track> done = new ArrayList<>();
    private int nextId = 1;

    private static final class Live {
        int id;
        int[] frames = new int[16];
        double[] x = new double[16];
        double[] y = new double[16];
        int n;
        float[] anchor;
        double[] warp = {1, 0, 0, 1};
        double vx, vy;
        boolean lost;

        void add(int frame, double px, double py) {
            if (n == frames.length) {
                frames = Arrays.copyOf(frames, 2 * n);
                x = Arrays.copyOf(x, 2 * n);
                y = Arrays.copyOf(y, 2 * n);
            }
            frames[n] = frame;
            x[n] = px;
            y[n++] = py;
        }
    }

    private AutoTracker(TrackSettings settings) {
        this.settings = settings;
    }

    /**
     * Tracks frames first..last.
     *
     * @param mask frame number to "do not look here" (row-major, plate size), or null for none; may return null
     * @throws NoSolution when the picture has nothing to follow
     */
    public static List<Track> track(Plate plate, int first, int last, IntFunction<boolean[]> mask, TrackSettings settings, Progress progress) {
        return new AutoTracker(settings).run(plate, first, last, mask, progress);
    }

    private List<Track> run(Plate plate, int first, int last, IntFunction<boolean[]> mask, Progress progress) {
        int w = plate.width(), h = plate.height(), r = settings.region();
        int cell = (int) Math.max(8, Math.sqrt((double) w * h / settings.count()));
        int border = r + 4;
        ThreadLocal<Aligner> aligners = ThreadLocal.withInitial(() -> new Aligner(r));
        Pyramid before = null;
        float least = 0;
        for (int f = first; f <= last; f++) {
            Image im = plate.frame(f);
            Pyramid now = new Pyramid(Grey.of(im), w, h, LEVELS);
            boolean[] skip = mask == null ? null : mask.apply(f);
            int frame = f;
            if (before != null) {
                Pyramid from = before;
                live.parallelStream().forEach(t -> step(aligners.get(), t, from, now, frame, w, h, skip));
                reject(live);
                live.removeIf(t -> {
                    if (t.lost) finish(t);
                    return t.lost;
                });
            }
            // Looking for corners costs a good part of a frame; holes are filled every other frame.
            if (f == first || (f - first) % 2 == 0 && live.size() < settings.count()) {
                Corners corners = new Corners(now.planes.get(0), w, h);
                if (f == first || least == 0) least = (float) (corners.strong() * settings.threshold());
                if (f == first && corners.strong() < NO_CONTRAST) {
                    throw new NoSolution("the plate has no contrast to follow: no marks were found in frame " + f);
                }
                List<double[]> taken = new ArrayList<>();
                for (Live t : live) taken.add(new double[] {t.x[t.n - 1], t.y[t.n - 1]});
                for (int[] p : corners.pick(cell, least, taken, skip, border)) start(aligners.get(), now, f, p[0] + 0.5, p[1] + 0.5);
            }
            before = now;
            progress.at((f - first + 1.0) / (last - first + 1), "tracking frame " + f + ", " + live.size() + " marks");
        }
        for (Live t : live) finish(t);
        done.sort(java.util.Comparator.comparingInt(Track::id));
        return done;
    }

    private void start(Aligner a, Pyramid p, int frame, double x, double y) {
        Live t = new Live();
        t.id = nextId++;
        t.anchor = a.patch(p, x, y);
        if (t.anchor == null) return;
        t.add(frame, x, y);
        live.add(t);
    }

    private void finish(Live t) {
        if (t.n >= settings.minLength()) done.add(new Track(t.id, Arrays.copyOf(t.frames, t.n), Arrays.copyOf(t.x, t.n), Arrays.copyOf(t.y, t.n)));
    }

    private void step(Aligner a, Live t, Pyramid from, Pyramid to, int frame, int w, int h, boolean[] skip) {
        double px = t.x[t.n - 1], py = t.y[t.n - 1];
        t.lost = true;
        if (!a.follow(from, px, py, to, px + t.vx, py + t.vy) || a.correlation < STEP_CORRELATION) return;
        double nx = a.x, ny = a.y;
        if (!a.follow(to, nx, ny, from, px, py) || Math.hypot(a.x - px, a.y - py) > BACK_TOLERANCE) return;
        double[] warp = t.warp.clone();
        boolean held = a.refine(t.anchor, warp, to, nx, ny) && a.correlation > ANCHOR_CORRELATION && Math.hypot(a.x - nx, a.y - ny) < 1.2;
        if (held) {
            nx = a.x;
            ny = a.y;
            t.warp = warp;
        }
        int m = settings.region() + 2;
        if (nx < m || ny < m || nx > w - m || ny > h - m) return;
        if (skip != null && skip[(int) ny * w + (int) nx]) return;
        double change = Math.abs(t.warp[0] - 1) + Math.abs(t.warp[1]) + Math.abs(t.warp[2]) + Math.abs(t.warp[3] - 1);
        if (!held || change > WARP_LIMIT) {
            float[] anchor = a.patch(to, nx, ny);
            if (anchor == null) return;
            t.anchor = anchor;
            t.warp = new double[] {1, 0, 0, 1};
        }
        t.lost = false;
        t.vx = nx - px;
        t.vy = ny - py;
        t.add(frame, nx, ny);
    }

    /** A mark that suddenly runs against the motion of its neighbours has jumped to something else. */
    private static void reject(List<Live> live) {
        int n = live.size();
        double[][] p = new double[n][];
        for (int i = 0; i < n; i++) {
            Live t = live.get(i);
            p[i] = t.lost ? null : new double[] {t.x[t.n - 1], t.y[t.n - 1], t.vx, t.vy};
        }
        for (int i = 0; i < n; i++) {
            if (p[i] == null) continue;
            // Nearest eight others.
            double[][] near = new double[8][];
            double[] dist = new double[8];
            Arrays.fill(dist, Double.MAX_VALUE);
            for (int j = 0; j < n; j++) {
                if (j == i || p[j] == null) continue;
                double d = (p[i][0] - p[j][0]) * (p[i][0] - p[j][0]) + (p[i][1] - p[j][1]) * (p[i][1] - p[j][1]);
                if (d >= dist[7]) continue;
                int k = 7;
                while (k > 0 && dist[k - 1] > d) {
                    dist[k] = dist[k - 1];
                    near[k] = near[k - 1];
                    k--;
                }
                dist[k] = d;
                near[k] = p[j];
            }
            if (near[7] == null) continue;
            double mx = median(near, 2), my = median(near, 3), spread = 0;
            double[] off = new double[8];
            for (int k = 0; k < 8; k++) off[k] = Math.hypot(near[k][2] - mx, near[k][3] - my);
            Arrays.sort(off);
            spread = off[4];
            if (Math.hypot(p[i][2] - mx, p[i][3] - my) > 6 + 8 * spread) live.get(i).lost = true;
        }
    }

    private static double median(double[][] v, int k) {
        double[] s = new double[v.length];
        for (int i = 0; i < s.length; i++) s[i] = v[i][k];
        Arrays.sort(s);
        return 0.5 * (s[s.length / 2 - 1] + s[s.length / 2]);
    }
}

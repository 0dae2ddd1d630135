package dasein.bench;

import dasein.core.Progress;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.image.Pyramid;
import dasein.core.plate.Plate;
import dasein.core.track.AutoTracker;
import dasein.core.track.Track;
import dasein.core.track.TrackSettings;
import dasein.core.track.TrackSettings.Quality;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.stream.IntStream;
import org.bytedeco.javacpp.indexer.FloatIndexer;
import org.bytedeco.javacpp.indexer.UByteIndexer;
import org.bytedeco.opencv.global.opencv_core;
import org.bytedeco.opencv.global.opencv_imgproc;
import org.bytedeco.opencv.global.opencv_video;
import org.bytedeco.opencv.opencv_core.Mat;
import org.bytedeco.opencv.opencv_core.MatVector;
import org.bytedeco.opencv.opencv_core.Size;
import org.bytedeco.opencv.opencv_core.TermCriteria;

/**
 * Tracking beside OpenCV's pyramidal Lucas-Kanade: the same frames, the same marks. The frames are a picture moved by
 * known homographies, so every mark's place is known; error is that of position, frame by frame, over marks that both
 * still hold.
 */
final class TrackBench {
    private static final int W = 640, H = 360, FRAMES = 40;
    private static final int WINDOW = 21, REGION = 7;

    private TrackBench() {}

    /** Where a pixel of a frame lies in the picture, at a moment (in frames). */
    private interface Motion {
        double[] of(double x, double y, double t);
    }

    private record Sequence(String name, Motion motion, double blurPx, double gain, double noise) {}

    private static Motion smooth(double speed, double shake, long seed) {
        Random r = new Random(seed);
        double[] jx = new double[FRAMES + 2], jy = new double[FRAMES + 2];
        for (int i = 0; i < jx.length; i++) {
            jx[i] = shake * r.nextGaussian();
            jy[i] = shake * r.nextGaussian();
        }
        return (x, y, t) -> {
            // Even motion while the shutter is open, so that the middle of the blur is the place at the frame's own
            // time.
            int i = (int) Math.max(1, Math.min(FRAMES, Math.rint(t)));
            double f = t - i,
                    sx = jx[i] + f * 0.5 * (jx[i + 1] - jx[i - 1]),
                    sy = jy[i] + f * 0.5 * (jy[i + 1] - jy[i - 1]);
            double a = 0.0025 * t, s = 1 + 0.0022 * t, u = x - W / 2.0, v = y - H / 2.0, w = 1 + 0.00002 * t * u;
            return new double[] {
                640 + 1.2 * ((s * (Math.cos(a) * u - Math.sin(a) * v) + speed * t + sx) / w),
                360 + 1.2 * ((s * (Math.sin(a) * u + Math.cos(a) * v) - 0.4 * speed * t + sy) / w)
            };
        };
    }

    private static float[] frame(Image picture, Sequence q, int f) {
        float[] out = new float[W * H];
        Random grain = new Random(900 + f);
        double gain = 1 + q.gain * Math.sin(0.35 * f);
        int taps = q.blurPx > 0 ? 9 : 1;
        IntStream.range(0, H).parallel().forEach(y -> {
            for (int x = 0; x < W; x++) {
                double s = 0;
                for (int k = 0; k < taps; k++) {
                    double t = taps == 1 ? f : f + 0.5 * ((double) k / (taps - 1) - 0.5);
                    for (int z = 0; z < 4; z++) {
                        double[] m = q.motion.of(x + 0.25 + 0.5 * (z & 1), y + 0.25 + 0.5 * (z >> 1), Math.max(0, t));
                        s += picture.sample(m[0], m[1], 0);
                    }
                }
                out[y * W + x] = (float) (s / (4 * taps) * gain);
            }
        });
        for (int i = 0; i < out.length; i++)
            out[i] = (float) Math.max(0, Math.min(255, Math.rint(out[i] + q.noise * grain.nextGaussian())));
        return out;
    }

    private static double[] truth(Sequence q, double x0, double y0, int from, int to) {
        double[] want = q.motion.of(x0, y0, from);
        double x = x0, y = y0;
        for (int i = 0; i < 40; i++) {
            double[] m = q.motion.of(x, y, to), mx = q.motion.of(x + 0.01, y, to), my = q.motion.of(x, y + 0.01, to);
            double a = (mx[0] - m[0]) / 0.01,
                    b = (my[0] - m[0]) / 0.01,
                    c = (mx[1] - m[1]) / 0.01,
                    d = (my[1] - m[1]) / 0.01,
                    det = a * d - b * c,
                    ex = want[0] - m[0],
                    ey = want[1] - m[1];
            x += (d * ex - b * ey) / det;
            y += (a * ey - c * ex) / det;
        }
        return new double[] {x, y};
    }

    /** @param speedOnly leaves the accuracy out */
    static void run(boolean speedOnly) throws Exception {
        opencv_core.setNumThreads(Runtime.getRuntime().availableProcessors());
        Image picture;
        try (Plate p = Plate.open(Path.of("demo/LW_010.mp4"), null, null)) {
            Image im = p.frame(40);
            float[] l = im.luminance();
            for (int i = 0; i < l.length; i++) l[i] = 255 * (float) Encoding.REC709.encode(l[i]);
            picture = new Image(im.width, im.height, l);
        }
        if (speedOnly) {
            speed(picture);
            return;
        }
        System.out.printf(
                "tracking known motion, %d frames of %d x %d, error in px over marks that both hold (RMS / "
                        + "95th percentile), part of the sightings still held:%n",
                FRAMES, W, H);
        List<Sequence> all = List.of(
                new Sequence("smooth", smooth(1.3, 0, 1), 0, 0, 1.2),
                new Sequence("brightness changes", smooth(1.3, 0, 2), 0, 0.35, 1.2),
                new Sequence("large motion, shaken", smooth(2, 14, 3), 0, 0, 1.2),
                new Sequence("shaken and blurred", smooth(2, 8, 4), 1, 0, 1.2));
        for (Sequence q : all) compare(picture, q);
        speed(picture);
    }

    private static void compare(Image picture, Sequence q) {
        float[][] grey = new float[FRAMES + 1][];
        for (int f = 1; f <= FRAMES; f++) grey[f] = frame(picture, q, f);
        StringBuilder line = new StringBuilder(String.format(Locale.ROOT, "  %-22s", q.name));
        for (Quality k : Quality.values()) {
            List<Track> ours = AutoTracker.track(
                    f -> grey[f].clone(),
                    W,
                    H,
                    1,
                    FRAMES,
                    null,
                    new TrackSettings(200, 0.02, REGION, 0, 2, k),
                    Progress.NONE,
                    null);
            List<Track> begun = ours.stream().filter(t -> t.frames()[0] == 1).toList();
            List<Track> theirs = openCv(grey, begun, FRAMES, new long[1]);
            List<Double> a = new ArrayList<>(), b = new ArrayList<>();
            long held = 0, heldTheirs = 0, could = 0;
            for (int i = 0; i < begun.size(); i++) {
                Track t = begun.get(i), o = theirs.get(i);
                for (int f = 2; f <= FRAMES; f++) {
                    double[] at = truth(q, t.x()[0], t.y()[0], 1, f);
                    if (at[0] < 16 || at[1] < 16 || at[0] > W - 16 || at[1] > H - 16) continue;
                    could++;
                    int x = t.at(f), y = o.at(f);
                    if (x >= 0) held++;
                    if (y >= 0) heldTheirs++;
                    if (x < 0 || y < 0) continue;
                    a.add(Math.hypot(t.x()[x] - at[0], t.y()[x] - at[1]));
                    b.add(Math.hypot(o.x()[y] - at[0], o.y()[y] - at[1]));
                }
            }
            if (k == Quality.DRAFT)
                line.append(String.format(Locale.ROOT, " OpenCV holds %2d %%;", 100 * heldTheirs / could));
            line.append(String.format(
                    Locale.ROOT,
                    " %s %s (OpenCV %s) holds %2d %%;",
                    k.name().toLowerCase(Locale.ROOT),
                    stats(a),
                    stats(b),
                    100 * held / could));
        }
        System.out.println(line);
    }

    private static String stats(List<Double> e) {
        double[] s = e.stream().mapToDouble(d -> d).sorted().toArray();
        if (s.length == 0) return "-";
        return String.format(
                Locale.ROOT,
                "%.3f / %.3f",
                Math.sqrt(Arrays.stream(s).map(d -> d * d).average().orElse(0)),
                s[(int) (0.95 * (s.length - 1))]);
    }

    /** Forward, then backward as a check; a mark that fails is gone. */
    private static List<Track> openCv(float[][] grey, List<Track> from, int frames, long[] sightings) {
        Mat[] m = new Mat[frames + 1];
        for (int f = 1; f <= frames; f++) m[f] = mat(grey[f], W, H);
        return openCv(m, from, frames, sightings);
    }

    private static Mat mat(float[] g, int w, int h) {
        Mat m = new Mat(h, w, opencv_core.CV_8U);
        UByteIndexer b = m.createIndexer();
        for (int y = 0; y < h; y++) for (int x = 0; x < w; x++) b.put(y, x, Math.round(g[y * w + x]));
        return m;
    }

    private static List<Track> openCv(Mat[] m, List<Track> from, int frames, long[] sightings) {
        int n = from.size();
        double[][] x = new double[n][frames], y = new double[n][frames];
        int[] length = new int[n];
        boolean[] gone = new boolean[n];
        for (int i = 0; i < n; i++) {
            x[i][0] = from.get(i).x()[0];
            y[i][0] = from.get(i).y()[0];
            length[i] = 1;
        }
        TermCriteria end = new TermCriteria(3, 20, 0.01);
        for (int f = 2; f <= frames; f++) {
            int step = f;
            int[] alive = IntStream.range(0, n).filter(i -> !gone[i]).toArray();
            if (alive.length == 0) break;
            Mat a = new Mat(alive.length, 1, opencv_core.CV_32FC2),
                    b = new Mat(),
                    ok = new Mat(),
                    err = new Mat(),
                    back = new Mat(),
                    okBack = new Mat();
            FloatIndexer ai = a.createIndexer();
            for (int k = 0; k < alive.length; k++) {
                // Their pixel centres are whole numbers.
                ai.put(k, 0, 0, (float) (x[alive[k]][step - 2] - 0.5));
                ai.put(k, 0, 1, (float) (y[alive[k]][step - 2] - 0.5));
            }
            opencv_video.calcOpticalFlowPyrLK(m[f - 1], m[f], a, b, ok, err, new Size(WINDOW, WINDOW), 3, end, 0, 1e-4);
            opencv_video.calcOpticalFlowPyrLK(
                    m[f], m[f - 1], b, back, okBack, err, new Size(WINDOW, WINDOW), 3, end, 0, 1e-4);
            sightings[0] += alive.length;
            FloatIndexer bi = b.createIndexer(), ci = back.createIndexer();
            UByteIndexer oi = ok.createIndexer(), pi = okBack.createIndexer();
            for (int k = 0; k < alive.length; k++) {
                int i = alive[k];
                boolean good = oi.get(k, 0) != 0
                        && pi.get(k, 0) != 0
                        && Math.hypot(ci.get(k, 0, 0) - ai.get(k, 0, 0), ci.get(k, 0, 1) - ai.get(k, 0, 1)) < 0.6;
                gone[i] = !good;
                if (!good) continue;
                x[i][f - 1] = bi.get(k, 0, 0) + 0.5;
                y[i][f - 1] = bi.get(k, 0, 1) + 0.5;
                length[i] = f;
            }
        }
        List<Track> out = new ArrayList<>();
        for (int i = 0; i < n; i++)
            out.add(new Track(
                    i,
                    IntStream.rangeClosed(1, length[i]).toArray(),
                    Arrays.copyOf(x[i], length[i]),
                    Arrays.copyOf(y[i], length[i])));
        return out;
    }

    /** Frames 1 and on: the picture goes to the left and up, with grain of its own in each. */
    private static float[][] moved(Image picture, int w, int h, int frames) {
        float[][] grey = new float[frames + 1][];
        for (int f = 1; f <= frames; f++) {
            float[] g = new float[w * h];
            double dx = 2.3 * f, dy = 1.1 * f;
            Random grain = new Random(f);
            IntStream.range(0, h).parallel().forEach(y -> {
                for (int x = 0; x < w; x++) g[y * w + x] = picture.sample(30 + (x + dx) * 0.6, 20 + (y + dy) * 0.6, 0);
            });
            for (int i = 0; i < g.length; i++)
                g[i] = (float) Math.max(0, Math.min(255, Math.rint(g[i] + 1.2 * grain.nextGaussian())));
            grey[f] = g;
        }
        return grey;
    }

    /**
     * 1080p, 400 marks, pictures in memory: pyramids, forward and backward in it for both; detection in it for ours.
     */
    private static void speed(Image picture) throws Exception {
        int w = 1920, h = 1080, frames = 24;
        float[][] grey = moved(picture, w, h, frames);
        Mat[] m = new Mat[frames + 1];
        for (int f = 1; f <= frames; f++) m[f] = mat(grey[f], w, h);
        for (Quality k : Quality.values()) {
            long[] n = {0};
            double s = best(4, () -> {
                List<Track> t = AutoTracker.track(
                        f -> grey[f],
                        w,
                        h,
                        1,
                        frames,
                        null,
                        new TrackSettings(400, 0.02, REGION, 0, 2, k),
                        Progress.NONE,
                        null);
                n[0] = t.stream().mapToLong(Track::length).sum();
            });
            System.out.printf(
                    "1080p, %s: %,.0f sightings a second, %.1f ms a frame with everything but decoding%n",
                    k.name().toLowerCase(Locale.ROOT), n[0] / s, 1000 * s / frames);
        }
        List<Track> begun = AutoTracker.track(
                        f -> grey[f],
                        w,
                        h,
                        1,
                        frames,
                        null,
                        new TrackSettings(400, 0.02, REGION, 0, 2, Quality.STANDARD),
                        Progress.NONE,
                        null)
                .stream()
                .filter(t -> t.frames()[0] == 1)
                .toList();
        long[] n = {0};
        double s = best(4, () -> {
            n[0] = 0;
            openCv(m, begun, frames, n);
        });
        System.out.printf(
                "1080p, OpenCV pyramidal LK, %d x %d, 4 levels, forward and back: %,.0f sightings a second, "
                        + "%.1f ms a frame%n",
                WINDOW, WINDOW, n[0] / s, 1000 * s / frames);
        double corners = best(4, () -> {
            Mat out = new Mat();
            opencv_imgproc.goodFeaturesToTrack(m[1], out, 400, 0.02, 20, null, 7, false, 0.04);
        });
        double ours = best(
                6,
                () -> AutoTracker.track(
                        f -> grey[f],
                        w,
                        h,
                        1,
                        1,
                        null,
                        new TrackSettings(400, 0.02, REGION, 0, 1, Quality.STANDARD),
                        Progress.NONE,
                        null));
        Pyramid pyramid = new Pyramid(w, h, 6);
        double mine = best(6, () -> pyramid.fill(grey[1]));
        double theirs = best(6, () -> {
            Mat smooth = new Mat();
            opencv_imgproc.GaussianBlur(m[1], smooth, new Size(3, 3), 0);
            opencv_video.buildOpticalFlowPyramid(smooth, new MatVector(), new Size(WINDOW, WINDOW), 3);
        });
        System.out.printf(
                "1080p, finding marks: OpenCV %.1f ms, and %.1f ms for smoothing and pyramid; ours %.1f ms "
                        + "and %.1f ms%n",
                1000 * corners, 1000 * theirs, 1000 * (ours - mine), 1000 * mine);
    }

    private interface Work {
        void run() throws Exception;
    }

    private static double best(int times, Work work) throws Exception {
        double b = Double.MAX_VALUE;
        for (int i = 0; i < times; i++) {
            long t = System.nanoTime();
            work.run();
            b = Math.min(b, (System.nanoTime() - t) / 1e9);
        }
        return b;
    }
}

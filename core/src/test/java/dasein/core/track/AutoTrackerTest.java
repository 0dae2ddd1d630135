package dasein.core.track;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.bytedeco.opencv.global.opencv_core.CV_32FC2;
import static org.bytedeco.opencv.global.opencv_core.CV_8U;

import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.ConcurrentHashMap;
import org.bytedeco.javacpp.indexer.FloatIndexer;
import org.bytedeco.javacpp.indexer.UByteIndexer;
import org.bytedeco.opencv.global.opencv_video;
import org.bytedeco.opencv.opencv_core.Mat;
import org.bytedeco.opencv.opencv_core.Size;
import org.bytedeco.opencv.opencv_core.TermCriteria;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Marks on pictures that are moved by known homographies, with changing brightness and grain. */
class AutoTrackerTest {
    static final int W = 480;
    static final int H = 320;
    private static final int FRAMES = 12;

    @TempDir
    Path folder;

    /** Frame f shows the texture through this map from pixel to texture. */
    static double[] map(double x, double y, int f) {
        double a = 0.004 * f, s = 1 + 0.004 * f, u = x - W / 2.0, v = y - H / 2.0, w = 1 + 0.00003 * f * u;
        return new double[] {
            (s * (Math.cos(a) * u - Math.sin(a) * v) + 2.3 * f) / w,
            (s * (Math.sin(a) * u + Math.cos(a) * v) - 1.1 * f) / w
        };
    }

    /** Smooth random texture: a sum of waves of many directions and lengths. */
    private static final Map<Integer, double[]> PATTERNS = new ConcurrentHashMap<>();

    /** The pattern as frame f sees it, of sixty waves; many tests look at the same. */
    private static double[] pattern(int f) {
        Random r = new Random(11);
        int waves = 60;
        double[] kx = new double[waves], ky = new double[waves], ph = new double[waves], amp = new double[waves];
        for (int i = 0; i < waves; i++) {
            double th = 2 * Math.PI * r.nextDouble(), k = 0.05 + 0.55 * r.nextDouble() * r.nextDouble();
            kx[i] = k * Math.cos(th);
            ky[i] = k * Math.sin(th);
            ph[i] = 7 * r.nextDouble();
            amp[i] = 0.02;
        }
        double[] out = new double[W * H];
        for (int y = 0; y < H; y++) {
            for (int x = 0; x < W; x++) {
                double[] t = map(x + 0.5, y + 0.5, f);
                double v = 0.3;
                for (int i = 0; i < waves; i++) v += amp[i] * Math.sin(kx[i] * t[0] + ky[i] * t[1] + ph[i]);
                out[y * W + x] = v;
            }
        }
        return out;
    }

    static Image frame(int f, double gain, double noise) {
        double[] v = PATTERNS.computeIfAbsent(f, AutoTrackerTest::pattern);
        Image im = new Image(W, H, 3);
        Random grain = new Random(100 + f);
        for (int i = 0; i < v.length; i++) {
            float g = (float) Math.max(0, Math.min(1, v[i] * gain + noise * grain.nextGaussian()));
            for (float[] p : im.planes) p[i] = g;
        }
        return im;
    }

    private Plate plate(double gainStep, double noise) {
        for (int f = 0; f < FRAMES; f++)
            Stills.writePng(
                    folder.resolve(String.format("f%03d.png", f + 1)),
                    frame(f, 1 + gainStep * f, noise),
                    Encoding.SRGB);
        return Plate.open(folder, null, null);
    }

    /** Where a mark of frame 0 must be in frame f: Newton on the map. */
    static double[] truth(double x0, double y0, int f) {
        return truth(x0, y0, 0, f);
    }

    static double[] truth(double x0, double y0, int from, int f) {
        double[] want = map(x0, y0, from);
        double x = x0, y = y0;
        for (int i = 0; i < 30; i++) {
            double[] m = map(x, y, f), mx = map(x + 0.01, y, f), my = map(x, y + 0.01, f);
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

    private static double rms(List<Track> tracks) {
        double sum = 0;
        int n = 0;
        for (Track t : tracks) {
            if (t.frames()[0] != 1) continue;
            for (int i = 1; i < t.length(); i++) {
                double[] q = truth(t.x()[0], t.y()[0], t.frames()[i] - 1);
                sum += Math.pow(q[0] - t.x()[i], 2) + Math.pow(q[1] - t.y()[i], 2);
                n++;
            }
        }
        assertThat(n).isGreaterThan(300);
        return Math.sqrt(sum / n);
    }

    @Test
    void followsKnownHomographiesAtLeastAsWellAsOpenCv() {
        Plate p = plate(0.01, 0.006);
        List<Track> ours = AutoTracker.track(
                p,
                1,
                FRAMES,
                null,
                new TrackSettings(120, 0.02, 7, 0, 6, TrackSettings.Quality.STANDARD),
                Progress.NONE);
        double mine = rms(ours);
        List<Track> begun = ours.stream().filter(t -> t.frames()[0] == 1).toList();
        double theirs = rms(openCv(p, begun));
        System.out.printf(
                "tracking error over %d frames: ours %.3f px RMS, OpenCV pyramidal LK (15x15) %.3f%n",
                FRAMES, mine, theirs);
        assertThat(mine).isLessThan(0.12).isLessThan(1.1 * theirs);
        assertThat(Coverage.covered(ours, 1, FRAMES, W, H)).isGreaterThan(0.9);
    }

    /** OpenCV's pyramidal Lucas-Kanade from frame to frame, from the same marks. */
    private static List<Track> openCv(Plate p, List<Track> from) {
        int n = from.size();
        Mat now = new Mat(n, 1, CV_32FC2), before = grey(p.frame(1));
        FloatIndexer ni = now.createIndexer();
        double[][] x = new double[n][FRAMES], y = new double[n][FRAMES];
        for (int i = 0; i < n; i++) {
            x[i][0] = from.get(i).x()[0];
            y[i][0] = from.get(i).y()[0];
            // Their pixel centres are whole numbers.
            ni.put(i, 0, 0, (float) (x[i][0] - 0.5));
            ni.put(i, 0, 1, (float) (y[i][0] - 0.5));
        }
        for (int f = 2; f <= FRAMES; f++) {
            Mat next = grey(p.frame(f)), moved = new Mat(), ok = new Mat(), err = new Mat();
            opencv_video.calcOpticalFlowPyrLK(
                    before, next, now, moved, ok, err, new Size(15, 15), 3, new TermCriteria(3, 30, 0.01), 0, 1e-4);
            FloatIndexer mi = moved.createIndexer();
            for (int i = 0; i < n; i++) {
                x[i][f - 1] = mi.get(i, 0, 0) + 0.5;
                y[i][f - 1] = mi.get(i, 0, 1) + 0.5;
            }
            before = next;
            now = moved;
        }
        List<Track> out = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            int k = from.get(i).length();
            out.add(new Track(i, from.get(i).frames(), Arrays.copyOf(x[i], k), Arrays.copyOf(y[i], k)));
        }
        return out;
    }

    private static Mat grey(Image im) {
        Mat m = new Mat(H, W, CV_8U);
        UByteIndexer b = m.createIndexer();
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++) b.put(y, x, Encoding.SRGB.encode8(im.planes[1][y * W + x]));
        return m;
    }

    /** A bar crosses the picture: marks behind it are picked up again as the same, where they really are. */
    @Test
    void marksThatWereHiddenArePickedUpAgain() {
        int n = 24;
        float[][] grey = new float[n + 1][];
        for (int f = 1; f <= n; f++) {
            float[] l = frame(f - 1, 1, 0.004).planes[1];
            int bar = 12 * f;
            for (int i = 0; i < l.length; i++)
                l[i] = 255 * (float) Math.sqrt(i % W >= bar && i % W < bar + 50 ? 0.05f : l[i]);
            grey[f] = l;
        }
        List<Track> t = AutoTracker.track(
                f -> grey[f],
                W,
                H,
                1,
                n,
                null,
                new TrackSettings(150, 0.02, 7, 0, 6, TrackSettings.Quality.STANDARD),
                Progress.NONE,
                null);
        int again = 0;
        for (Track k : t) {
            for (int i = 1; i < k.length(); i++) {
                if (k.frames()[i] == k.frames()[i - 1] + 1) continue;
                again++;
                double[] q = truth(k.x()[i - 1], k.y()[i - 1], k.frames()[i - 1] - 1, k.frames()[i] - 1);
                assertThat(Math.hypot(q[0] - k.x()[i], q[1] - k.y()[i]))
                        .as("track %d after frame %d", k.id(), k.frames()[i - 1])
                        .isLessThan(1.5);
            }
        }
        assertThat(again).isGreaterThan(15);
    }

    /** A draft of a wide picture runs in half its size; places and masks are the whole one's. */
    @Test
    void aDraftOfAWidePictureIsInItsOwnPixels() {
        int w = 1600, h = 300, n = 8;
        float[][] grey = new float[n + 1][];
        for (int f = 1; f <= n; f++) {
            grey[f] = new float[w * h];
            for (int i = 0; i < w * h; i++) {
                double x = i % w + 3.4 * f, y = i / w - 1.7 * f;
                grey[f][i] = (float) (120
                        + 30 * Math.sin(0.11 * x + 2 * Math.sin(0.023 * y))
                        + 30 * Math.sin(0.13 * y + 2 * Math.sin(0.017 * x))
                        + 15 * Math.sin(0.07 * x - 0.09 * y));
            }
        }
        boolean[] left = new boolean[w * h];
        for (int i = 0; i < left.length; i++) left[i] = i % w < w / 4;
        List<Track> t = AutoTracker.track(
                f -> grey[f],
                w,
                h,
                1,
                n,
                f -> left,
                new TrackSettings(150, 0.02, 7, 0, 4, TrackSettings.Quality.DRAFT),
                Progress.NONE,
                null);
        assertThat(t.size()).isGreaterThan(60);
        double[] off = new double[t.size()];
        for (int i = 0; i < off.length; i++) {
            Track k = t.get(i);
            int e = k.length() - 1;
            assertThat(k.x()[e]).isGreaterThan(w / 4.0 - 2);
            off[i] = Math.hypot(
                    k.x()[e] - k.x()[0] + 3.4 * (k.frames()[e] - k.frames()[0]),
                    k.y()[e] - k.y()[0] - 1.7 * (k.frames()[e] - k.frames()[0]));
        }
        Arrays.sort(off);
        // Were places left in half pixels, they would be off by a dozen.
        assertThat(off[off.length / 2]).isLessThan(0.25);
        assertThat(off[off.length * 9 / 10]).isLessThan(1);
    }

    @Test
    void staysOffTheMask() {
        Plate p = plate(0, 0.004);
        boolean[] left = new boolean[W * H];
        for (int i = 0; i < left.length; i++) left[i] = i % W < W / 2;
        List<Track> t = AutoTracker.track(
                p,
                1,
                FRAMES,
                f -> left,
                new TrackSettings(120, 0.02, 7, 0, 6, TrackSettings.Quality.STANDARD),
                Progress.NONE);
        assertThat(t).isNotEmpty().allSatisfy(k -> assertThat(
                        Arrays.stream(k.x()).min().orElse(0))
                .isGreaterThanOrEqualTo(W / 2.0 - 1));
    }

    @Test
    void aPlateWithoutContrastIsRefused() {
        for (int f = 1; f <= 3; f++) {
            Image im = new Image(W, H, 3);
            for (float[] c : im.planes) Arrays.fill(c, 0.2f);
            Stills.writePng(folder.resolve("g" + f + ".png"), im, Encoding.SRGB);
        }
        Plate p = Plate.open(folder, null, null);
        assertThatThrownBy(() -> AutoTracker.track(p, 1, 3, null, TrackSettings.DEFAULT, Progress.NONE))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("no contrast");
    }
}

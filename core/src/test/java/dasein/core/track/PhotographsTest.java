package dasein.core.track;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dasein.core.Progress;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.image.Pyramid;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * On real photographs: the pair of a painted wall with its published homography (Mikolajczyk and Schmid 2005,
 * "graffiti", in Debian's package opencv-doc; it has no aeroplane's accuracy: it was made from points chosen by hand
 * and then refined). Skipped where the package could not be fetched.
 */
class PhotographsTest {
    private static final Path FOLDER =
            Path.of(System.getenv().getOrDefault("DASEIN_PHOTOGRAPHS", "../var/photographs"));

    @BeforeEach
    void there() {
        assumeTrue(Files.exists(FOLDER.resolve("graf1.png")), "the photographs are not there");
    }

    private static Image codes(String name) {
        Image im = Stills.read(FOLDER.resolve(name), Encoding.SRGB);
        float[] l = im.luminance();
        for (int i = 0; i < l.length; i++) l[i] = 255 * (float) Encoding.SRGB.encode(l[i]);
        return new Image(im.width, im.height, l);
    }

    /** In our pixels, whose centres are halves; theirs are whole numbers. */
    private static double[] published() throws IOException {
        String text = Files.readString(FOLDER.resolve("H1to3p.xml"));
        Matcher m = Pattern.compile("[-+]?\\d\\.\\d+e[-+]\\d+").matcher(text.substring(text.indexOf("<data>")));
        double[] h = new double[9];
        for (int i = 0; i < 9 && m.find(); i++) h[i] = Double.parseDouble(m.group());
        return PatchAligner.compose(
                new double[] {1, 0, 0.5, 0, 1, 0.5, 0, 0, 1},
                PatchAligner.compose(h, new double[] {1, 0, -0.5, 0, 1, -0.5, 0, 0, 1}));
    }

    @Test
    void patchesOfAWallAreFoundWhereItsPublishedHomographySays() throws IOException {
        Image a = codes("graf1.png"), b = codes("graf3.png");
        Pyramid p = new Pyramid(a.width, a.height, 3).fill(a.planes[0]),
                q = new Pyramid(b.width, b.height, 3).fill(b.planes[0]);
        double[] h = published();
        List<Double> off = new ArrayList<>();
        int tried = 0;
        for (int y = 120; y < a.height - 120; y += 45) {
            for (int x = 120; x < a.width - 120; x += 45) {
                double[] local = PatchAligner.compose(h, new double[] {1, 0, x + 0.5, 0, 1, y + 0.5, 0, 0, 1}),
                        want = PlaneTracker.mapped(h, new double[] {x + 0.5, y + 0.5});
                if (want[0] < 60 || want[1] < 60 || want[0] > b.width - 60 || want[1] > b.height - 60) continue;
                PatchAligner k =
                        new PatchAligner(p, x + 0.5, y + 0.5, PatchAligner.square(24), HandMark.Motion.AFFINE, 3, true);
                if (!k.usable()) continue;
                tried++;
                // From a guess that is off by 5 px.
                double[] got = k.align(q, PatchAligner.compose(new double[] {1, 0, 4, 0, 1, -3, 0, 0, 1}, local));
                if (got == null || k.correlation < 0.85) continue;
                off.add(Math.hypot(got[2] / got[8] - want[0], got[5] / got[8] - want[1]));
            }
        }
        off.sort(null);
        double median = off.get(off.size() / 2), most = off.get(off.size() * 9 / 10);
        System.out.printf(
                "graffiti pair: %d of %d patches found, %.2f px from the published homography in the "
                        + "median, 90 %% within %.2f%n",
                off.size(), tried, median, most);
        assertThat(off.size()).isGreaterThan(tried / 2);
        assertThat(median).isLessThan(1.0);
        assertThat(most).isLessThan(2.5);
    }

    /** Photographed texture moved as {@link AutoTrackerTest} moves its waves, with grain. */
    @Test
    void photographedTextureIsFollowedThroughKnownHomographies() {
        Image wall = codes("graf1.png");
        int w = AutoTrackerTest.W, h = AutoTrackerTest.H, n = 12;
        float[][] grey = new float[n + 1][];
        for (int f = 1; f <= n; f++) {
            int frame = f - 1;
            grey[f] = sampled(wall, w, h, f, (x, y) -> {
                double[] m = AutoTrackerTest.map(x, y, frame);
                return new double[] {400 + 1.4 * m[0], 320 + 1.4 * m[1]};
            });
        }
        List<Track> t = AutoTracker.track(
                f -> grey[f],
                w,
                h,
                1,
                n,
                null,
                new TrackSettings(150, 0.02, 7, 0, 6, TrackSettings.Quality.STANDARD),
                Progress.NONE,
                null);
        List<Double> off = new ArrayList<>();
        for (Track k : t) {
            for (int i = 1; i < k.length(); i++) {
                double[] q = AutoTrackerTest.truth(k.x()[0], k.y()[0], k.frames()[0] - 1, k.frames()[i] - 1);
                off.add(Math.hypot(q[0] - k.x()[i], q[1] - k.y()[i]));
            }
        }
        off.sort(null);
        double rms = Math.sqrt(off.stream().mapToDouble(d -> d * d).average().orElse(9));
        System.out.printf(
                "photographed wall, %d tracks: %.3f px RMS, 95 %% within %.3f%n",
                t.size(), rms, off.get(off.size() * 95 / 100));
        assertThat(t.size()).isGreaterThan(100);
        assertThat(rms).isLessThan(0.2);
    }

    /**
     * Peak locking: places drawn to whole pixels show as an error that depends on the fraction of the true place only.
     */
    @Test
    void placesAreNotDrawnToWholePixels() {
        Image wall = codes("graf1.png");
        int w = 480, h = 320, steps = 21;
        float[][] grey = new float[steps + 1][];
        for (int f = 1; f <= steps; f++) {
            double s = 0.1 * (f - 1);
            grey[f] = sampled(wall, w, h, f, (x, y) -> new double[] {40 + 1.4 * (x + s), 60 + 1.4 * y});
        }
        List<Track> t = AutoTracker.track(
                f -> grey[f],
                w,
                h,
                1,
                steps,
                null,
                new TrackSettings(200, 0.02, 7, 0, steps, TrackSettings.Quality.STANDARD),
                Progress.NONE,
                null);
        assertThat(t.size()).isGreaterThan(60);
        double[] bias = new double[steps];
        for (int i = 0; i < steps; i++) {
            int k = i;
            double[] e = t.stream()
                    .mapToDouble(q -> q.x()[k] - q.x()[0] + 0.1 * k)
                    .sorted()
                    .toArray();
            bias[i] = e[e.length / 2];
        }
        double worst = Arrays.stream(bias).map(Math::abs).max().orElse(1);
        System.out.printf(
                "peak locking over two pixels in steps of a tenth, %d tracks: median error at most %.3f px%n",
                t.size(), worst);
        assertThat(worst).isLessThan(0.03);
    }

    private interface Way {
        double[] of(double x, double y);
    }

    /** Four samples a pixel and grain of 1.2 codes, rounded to codes. */
    private static float[] sampled(Image from, int w, int h, int seed, Way way) {
        Random grain = new Random(seed);
        float[] out = new float[w * h];
        for (int i = 0; i < out.length; i++) {
            double s = 0;
            for (int z = 0; z < 4; z++) {
                double[] m = way.of(i % w + 0.25 + 0.5 * (z & 1), i / w + 0.25 + 0.5 * (z >> 1));
                s += 0.25 * from.sample(m[0], m[1], 0);
            }
            out[i] = (float) Math.max(0, Math.min(255, Math.rint(s + 1.2 * grain.nextGaussian())));
        }
        return out;
    }
}

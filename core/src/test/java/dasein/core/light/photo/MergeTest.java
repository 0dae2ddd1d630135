package dasein.core.light.photo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.image.Image;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.function.DoubleUnaryOperator;
import org.bytedeco.javacpp.indexer.FloatIndexer;
import org.bytedeco.javacpp.indexer.UByteIndexer;
import org.bytedeco.opencv.global.opencv_core;
import org.bytedeco.opencv.global.opencv_photo;
import org.bytedeco.opencv.opencv_core.Mat;
import org.bytedeco.opencv.opencv_core.MatVector;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Brackets of a known view: the response and the light that come out, beside OpenCV's on the same photographs. */
class MergeTest {
    private static final int W = 320, H = 200;
    private static final double[] STOPS = {-4, -2, 0, 2, 4};
    private static final Image TRUTH = KnownPhotos.view(W, H);

    /** Median and 95th percentile of how far light is off, as a part, after one factor a colour. */
    private static double[] off(Image got, Image truth) {
        double[] all = new double[3 * W * H];
        int n = 0;
        for (int c = 0; c < 3; c++) {
            double[] ratio = new double[W * H];
            for (int i = 0; i < ratio.length; i++) ratio[i] = got.planes[c][i] / truth.planes[c][i];
            double[] sorted = ratio.clone();
            Arrays.sort(sorted);
            for (double r : ratio) all[n++] = Math.abs(r / sorted[sorted.length / 2] - 1);
        }
        Arrays.sort(all);
        return new double[] {all[n / 2], all[n * 95 / 100]};
    }

    private static Image opencv(Bracket b) {
        MatVector photos = new MatVector(b.photos().size());
        Mat times = new Mat(b.photos().size(), 1, opencv_core.CV_32F);
        try (FloatIndexer t = times.createIndexer()) {
            for (int k = 0; k < b.photos().size(); k++) {
                t.put(k, 0, (float) b.exposures()[k]);
                Mat m = new Mat(H, W, opencv_core.CV_8UC3);
                try (UByteIndexer px = m.createIndexer()) {
                    for (int y = 0; y < H; y++)
                        for (int x = 0; x < W; x++)
                            for (int c = 0; c < 3; c++)
                                px.put(
                                        y,
                                        x,
                                        2 - c,
                                        Math.round(255 * b.photos().get(k).at(c, y * W + x)));
                }
                photos.put(k, m);
            }
        }
        Mat response = new Mat(), out = new Mat();
        opencv_photo.createCalibrateDebevec().process(photos, response, times);
        opencv_photo.createMergeDebevec().process(photos, out, times, response);
        Image im = new Image(W, H, 3);
        try (FloatIndexer px = out.createIndexer()) {
            for (int y = 0; y < H; y++)
                for (int x = 0; x < W; x++) for (int c = 0; c < 3; c++) im.planes[c][y * W + x] = px.get(y, x, 2 - c);
        }
        return im;
    }

    private static double worst(Response r, DoubleUnaryOperator[] curve) {
        double most = 0;
        for (int c = 0; c < 3; c++) {
            // One factor a colour; where codes are not few.
            double k = Double.NaN;
            for (int z = 128; z >= 24; z--) k = z == 128 ? 1 / r.light(c, z / 255f) * inverse(curve[c], z / 255.0) : k;
            for (int z = 24; z <= 245; z++)
                most = Math.max(most, Math.abs(k * r.light(c, z / 255f) / inverse(curve[c], z / 255.0) - 1));
        }
        return most;
    }

    private static double inverse(DoubleUnaryOperator f, double v) {
        double lo = 0, hi = 1;
        for (int k = 0; k < 60; k++) {
            double m = (lo + hi) / 2;
            if (f.applyAsDouble(m) < v) lo = m;
            else hi = m;
        }
        return lo;
    }

    @Test
    void unknownResponseAndLightBesideOpenCv() {
        for (DoubleUnaryOperator[] curve : List.of(
                KnownPhotos.STYLED, new DoubleUnaryOperator[] {MergeTest::srgb, MergeTest::srgb, MergeTest::srgb})) {
            Bracket b = KnownPhotos.bracket(TRUTH, STOPS, curve);
            Response r = ResponseFit.of(b);
            Merge.Result m = Merge.of(b, r);
            double[] ours = off(m.light(), TRUTH), theirs = off(opencv(b), TRUTH);
            System.out.printf(
                    "response off by %.4f; light median %.4f, 95 %% %.4f; OpenCV %.4f, %.4f%n",
                    worst(r, curve), ours[0], ours[1], theirs[0], theirs[1]);
            assertThat(worst(r, curve)).isLessThan(0.03);
            assertThat(ours[0]).isLessThan(0.012).isLessThanOrEqualTo(theirs[0]);
            assertThat(ours[1]).isLessThan(0.04).isLessThanOrEqualTo(theirs[1]);
            assertThat(m.moved()).as("nothing moved").isLessThan(0.002);
        }
    }

    private static double srgb(double l) {
        return l <= 0.0031308 ? 12.92 * l : 1.055 * Math.pow(l, 1 / 2.4) - 0.055;
    }

    private static float brightest(Image im, int x, int y, int around) {
        float most = 0;
        for (int j = Math.max(0, y - around); j <= Math.min(H - 1, y + around); j++)
            for (int i = Math.max(0, x - around); i <= Math.min(W - 1, x + around); i++)
                for (float[] p : im.planes) most = Math.max(most, p[j * W + i]);
        return most;
    }

    /** White of the exposure 1 is 1; what all photographs cut off is said, and nothing else. */
    @Test
    void levelAndWhatIsCutOff() {
        Image light = KnownPhotos.view(W, H);
        for (int y = 20; y < 30; y++) for (int x = 20; x < 30; x++) light.planes[1][y * W + x] = 200;
        DoubleUnaryOperator[] srgb = {MergeTest::srgb, MergeTest::srgb, MergeTest::srgb};
        Merge.Result m = Merge.of(KnownPhotos.bracket(light, STOPS, srgb), Response.SRGB);
        int wrong = 0;
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++) {
                // White of the shortest is 16; what touches it may be lost, too.
                float here = brightest(light, x, y, 0), near = brightest(light, x, y, 2);
                if (m.clipped()[y * W + x] ? near < 14.5f : here > 17) wrong++;
            }
        assertThat(wrong).isZero();
        assertThat(m.light().planes[1][25 * W + 25])
                .as("at least what white of the shortest is")
                .isGreaterThan(15f);
        double got = 0, want = 0;
        for (int y = 90; y < 110; y++)
            for (int x = 150; x < 170; x++) {
                got += m.light().planes[1][y * W + x];
                want += light.planes[1][y * W + x];
            }
        assertThat(got / want).isCloseTo(1, within(0.003));
    }

    /** A thing that stood elsewhere in every photograph is there once, sharp, and nowhere else. */
    @Test
    void whatMovedComesFromOnePhotograph() {
        DoubleUnaryOperator[] srgb = {MergeTest::srgb, MergeTest::srgb, MergeTest::srgb};
        List<Photo> all = new java.util.ArrayList<>();
        for (int k = 0; k < 5; k++) {
            Image light = KnownPhotos.view(W, H);
            for (int y = 120; y < 160; y++)
                for (int x = 60 + 12 * k; x < 84 + 12 * k; x++)
                    for (int c = 0; c < 3; c++) light.planes[c][y * W + x] = 0.5f;
            all.add(KnownPhotos.photo("p" + k, light, Math.pow(2, STOPS[k]), srgb, k));
        }
        Merge.Result m = Merge.of(Bracket.of(all, STOPS), Response.SRGB);
        assertThat(m.moved()).isBetween(0.02, 0.12);
        int wide = 0, between = 0;
        for (int x = 40; x < 160; x++) {
            float v = m.light().planes[1][140 * W + x], bare = TRUTH.planes[1][140 * W + x];
            if (v > 0.45f) wide++;
            else if (v > bare + 0.25f * (0.5f - bare)) between++;
        }
        assertThat(wide).as("columns that it covers").isBetween(22, 26);
        assertThat(between).as("columns half of it").isLessThanOrEqualTo(2);
    }

    @Test
    void handHeldPhotographsAreLaidOnEachOther() {
        Image light = KnownPhotos.view(W, H);
        DoubleUnaryOperator[] srgb = {MergeTest::srgb, MergeTest::srgb, MergeTest::srgb};
        Placing[] held = {
            new Placing(3.4, -2.2, 0.006),
            new Placing(-1.7, 0.8, -0.004),
            Placing.NONE,
            Placing.NONE,
            new Placing(6, 5, 0.01)
        };
        List<Photo> all = new java.util.ArrayList<>();
        for (int k = 0; k < 5; k++) {
            Image seen = new Image(W, H, 3);
            // What the photograph has at (x, y) is what placing p brings there, so p's inverse is looked up.
            double cos = Math.cos(held[k].turn()), sin = Math.sin(held[k].turn());
            for (int y = 0; y < H; y++)
                for (int x = 0; x < W; x++) {
                    double dx = x + 0.5 - W / 2.0 - held[k].dx(), dy = y + 0.5 - H / 2.0 - held[k].dy();
                    for (int c = 0; c < 3; c++)
                        seen.planes[c][y * W + x] =
                                light.sample(W / 2.0 + cos * dx + sin * dy, H / 2.0 - sin * dx + cos * dy, c);
                }
            all.add(KnownPhotos.photo("p" + k, seen, Math.pow(2, STOPS[k]), srgb, k));
        }
        List<Placing> found = Registration.of(Bracket.of(all, STOPS));
        for (int k = 0; k < 5; k++) {
            Placing d = new Placing(
                    found.get(k).dx() - held[k].dx(),
                    found.get(k).dy() - held[k].dy(),
                    found.get(k).turn() - held[k].turn());
            assertThat(d.most(W, H)).as("photograph " + k).isLessThan(0.35);
        }
        assertThat(found.get(2)).isEqualTo(Placing.NONE);
        assertThat(found.get(3)).as("stood still: left alone").isEqualTo(Placing.NONE);
    }

    @Test
    void badBracketsAreSaid(@TempDir Path dir) {
        DoubleUnaryOperator[] c = KnownPhotos.STYLED;
        List<Photo> two =
                List.of(KnownPhotos.photo("a.jpg", TRUTH, 1, c, 1), KnownPhotos.photo("b.jpg", TRUTH, 0.25, c, 2));
        assertThatThrownBy(() -> Bracket.of(two, new double[] {0, 2}))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("another order");
        assertThatThrownBy(() -> Bracket.of(two, new double[] {1, 1}))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("the same");
        assertThatThrownBy(() -> Bracket.of(two, null))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("a.jpg does not say");
        assertThatThrownBy(() -> Bracket.of(two, new double[] {0, -2, 2}))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("stops for 3");
        assertThatThrownBy(() -> ResponseFit.of(Bracket.of(two.subList(0, 1), null)))
                .isInstanceOf(NoSolution.class);
        Response.SRGB.write(dir.resolve("r.json"));
        Response back = Response.read(dir.resolve("r.json"));
        for (int k = 0; k < 3; k++)
            assertThat(back.table()[k]).isEqualTo(Response.SRGB.table()[k]);
    }
}

package dasein.core.plate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;
import static org.assertj.core.api.InstanceOfAssertFactories.STRING;

import dasein.core.Progress;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.nio.file.Path;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Pictures whose blur, noise, exposure and repetition are known. */
class PlateHealthTest {
    private static final int W = 320, H = 240;

    @TempDir
    Path folder;

    /**
     * Hard-edged discs of many sizes and brightnesses, moved by f, smeared evenly along a direction, with noise in
     * codes of 255.
     */
    private static Image discs(double move, double smearPx, double smearDeg, double gain, double noise, long seed) {
        Random where = new Random(3), grain = new Random(seed);
        int n = 70, taps = smearPx > 0 ? 24 : 1;
        double[] x = new double[n], y = new double[n], r = new double[n], v = new double[n];
        for (int i = 0; i < n; i++) {
            x[i] = where.nextDouble() * (W + 80) - 40;
            y[i] = where.nextDouble() * H;
            r[i] = 16 + 26 * where.nextDouble();
            v[i] = 0.15 + 0.6 * where.nextDouble();
        }
        Image im = new Image(W, H, 3);
        double cx = Math.cos(Math.toRadians(smearDeg)), cy = Math.sin(Math.toRadians(smearDeg));
        Image.rows(H, py -> {
            for (int px = 0; px < W; px++) {
                double s = 0;
                for (int t = 0; t < 4 * taps; t++) {
                    double a = taps == 1 ? 0 : smearPx * ((t / 4 + 0.5) / taps - 0.5),
                            qx = px + 0.25 + 0.5 * (t & 1) + a * cx - move,
                            qy = py + 0.25 + 0.5 * (t >> 1 & 1) + a * cy,
                            here = 0.3;
                    for (int i = 0; i < n; i++)
                        if ((qx - x[i]) * (qx - x[i]) + (qy - y[i]) * (qy - y[i]) < r[i] * r[i]) here = v[i];
                    s += here;
                }
                im.planes[0][py * W + px] = (float) (s / (4 * taps) * gain);
            }
        });
        for (int i = 0; i < W * H; i++) {
            // Noise even in codes, by way of the codes.
            double code = Encoding.SRGB.encode(im.planes[0][i]) + noise / 255 * grain.nextGaussian();
            float l = (float) Encoding.SRGB.decode(Math.max(0, Math.min(1, code)));
            for (int c = 0; c < 3; c++) im.planes[c][i] = l;
        }
        return im;
    }

    private PlateHealth of(Image... frames) {
        for (int f = 0; f < frames.length; f++)
            Stills.writePng16(folder.resolve(String.format("f%03d.png", f + 1)), frames[f], Encoding.SRGB);
        try (Plate p = Plate.open(folder, Encoding.SRGB, null)) {
            return PlateHealth.of(p, p.first(), p.last(), Progress.NONE);
        }
    }

    @Test
    void blurIsMeasuredByDirectionAndLength() {
        PlateHealth h = of(
                discs(0, 0, 0, 1, 0.5, 1),
                discs(2, 9, 0, 1, 0.5, 2),
                discs(4, 14, 0, 1, 0.5, 3),
                discs(6, 12, 90, 1, 0.5, 4),
                discs(8, 12, 45, 1, 0.5, 5));
        assertThat(h.frames().get(0).blurPx()).isLessThan(2);
        assertThat(h.frames().get(1).blurPx()).isCloseTo(9, within(2.5));
        assertThat(h.frames().get(2).blurPx()).isCloseTo(14, within(3.0));
        assertThat(h.frames().get(2).blurDeg()).isEqualTo(0);
        assertThat(h.frames().get(3).blurDeg()).isEqualTo(90);
        assertThat(h.frames().get(4).blurDeg()).isEqualTo(45);
        assertThat(h.findings())
                .filteredOn(s -> s.contains("blurred"))
                .singleElement(STRING)
                .startsWith("Frames 2 to 5 are blurred")
                .contains("tracks will be weak");
        assertThat(h.blurs()).isTrue();
    }

    @Test
    void runsOfBlurAreOneSentence() {
        Image[] all = new Image[14];
        for (int f = 0; f < all.length; f++) all[f] = discs(f, f == 2 || f == 3 || f == 12 ? 12 : 0, 0, 1, 0.5, f);
        assertThat(of(all).findings())
                .filteredOn(s -> s.contains("blurred"))
                .singleElement(STRING)
                .startsWith("Frames 3 to 4, 13 are blurred by up to");
    }

    /** The same picture from black to white, and in the middle third of the codes as log footage stands there. */
    @Test
    void aFlatPictureIsToldFromOneOfFullContrast() {
        Image full = discs(0, 0, 0, 1, 0.5, 1), flat = discs(0, 0, 0, 1, 0.5, 1);
        for (int i = 0; i < full.planes[0].length; i++) {
            boolean white = (i / 7) % 2 == 0;
            for (int c = 0; c < 3; c++) {
                full.planes[c][i] = (float) Encoding.SRGB.decode(white ? 0.95 : 0.05);
                flat.planes[c][i] = (float) Encoding.SRGB.decode(white ? 0.6 : 0.35);
            }
        }
        assertThat(of(full, full).findings()).noneMatch(s -> s.contains("flat"));
        assertThat(of(flat, flat).findings())
                .anySatisfy(s -> assertThat(s).contains("is flat").contains("log"));
    }

    @Test
    void noiseIsMeasuredInCodes() {
        PlateHealth h = of(discs(0, 0, 0, 1, 1.5, 1), discs(2, 0, 0, 1, 1.5, 2));
        double[] n = h.noise();
        int seen = 0;
        for (double v : n) {
            if (Double.isNaN(v)) continue;
            seen++;
            // The plate's grey is the root of light, steeper than sRGB codes in the dark: their ratio stays within a
            // fifth here.
            assertThat(v).isCloseTo(1.5, within(0.35));
        }
        assertThat(seen).isPositive();
    }

    @Test
    void repeatedFramesJumpsFlickerAndClippingAreFound() {
        Image[] f = new Image[12];
        for (int i = 0; i < f.length; i++) f[i] = discs(i < 6 ? 2 * i : 2 * i + 8, 0, 0, i == 9 ? 1.15 : 1, 0.4, i);
        f[4] = f[3].copy();
        PlateHealth h = of(f);
        assertThat(h.repeated()).containsExactly(5);
        assertThat(h.jumps()).contains(7);
        assertThat(h.flicker()[9]).isCloseTo(Math.log(1.15) / Math.log(2), within(0.05));
        assertThat(h.findings())
                .anySatisfy(s -> assertThat(s).contains("Frame 5 repeats"))
                .anySatisfy(s -> assertThat(s).contains("before frame"))
                .anySatisfy(s -> assertThat(s).contains("flickers"));
        assertThat(of(discs(0, 0, 0, 3, 0.4, 1), discs(1, 0, 0, 3, 0.4, 2)).findings())
                .anySatisfy(s -> assertThat(s).contains("clipped at white"));
    }

    @Test
    void aHealthyPlateHasNoFindings() {
        assertThat(of(
                                discs(0, 0, 0, 1, 1, 1),
                                discs(1, 0, 0, 1, 1, 2),
                                discs(2, 0, 0, 1, 1, 3),
                                discs(3, 0, 0, 1, 1, 4))
                        .findings())
                .isEmpty();
    }
}

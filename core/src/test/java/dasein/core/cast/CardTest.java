package dasein.core.cast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;
import static org.assertj.core.api.Assertions.withinPercentage;

import dasein.core.Progress;
import dasein.core.cast.Card.Cut;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.light.LightRecipe;
import dasein.core.light.lamp.Lamp;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import dasein.core.solve.SolvedCamera;
import java.awt.image.BufferedImage;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Three frames of one colour each, half clear: what a card shows, covers, adds and shades is what the footage says. */
class CardTest {
    private static final int[] COLOURS = {0xc86432, 0x3264c8, 0x64c832};

    @TempDir
    Path folder;

    private Footage footage;

    @BeforeEach
    void frames() throws Exception {
        for (int f = 0; f < 3; f++) {
            BufferedImage b = new BufferedImage(8, 4, BufferedImage.TYPE_INT_ARGB);
            for (int y = 0; y < 4; y++) for (int x = 0; x < 8; x++) b.setRGB(x, y, 0x80000000 | COLOURS[f]);
            ImageIO.write(b, "png", folder.resolve("flash" + f + ".png").toFile());
        }
        footage = Footage.open(folder);
    }

    /** A card two metres high and four wide on the ground 4 m before a camera at 1 m. */
    private Passes render(Card c, int frame, double heading) {
        Image plate = new Image(160, 90, 3);
        for (float[] v : plate.planes) java.util.Arrays.fill(v, 0.2f);
        return scene(c, heading).render(frame, plate, 1, new Quality(48, 48, 0, 1, false), Progress.NONE);
    }

    private ShotScene scene(Card c, double heading) {
        Pose eye = Pose.lookAt(new Vec3(0, 1, 4), new Vec3(0, 1, 0), Vec3.Y);
        List<SolvedCamera.Frame> frames = new java.util.ArrayList<>();
        for (int f = 1; f <= 10; f++) frames.add(new SolvedCamera.Frame(f, eye, 100, 0, 9));
        SolvedCamera camera = new SolvedCamera(
                160, 90, new Rate(24, 1), "moving", 0, 9, new Lens(100, 80, 45, 0, 0), frames, List.of());
        Performer p = new Performer(1, "flash", "", 0, 0, 0, heading, 2, "", 0, 1, true).with(c);
        LightRecipe above =
                new LightRecipe("", 0, 1, new LightRecipe.SunRecipe("own", 180, 30, 0.5, 4, List.of(1.0, 1.0, 1.0)));
        return new ShotScene(
                Shot.BLANK.with(List.of(p)).with(above),
                camera,
                Map.of(),
                null,
                Map.of(),
                null,
                List.of(),
                Map.of("flash", footage));
    }

    private static double linear(int rgb, int channel) {
        return Encoding.SRGB.decode((rgb >> 16 - 8 * channel & 255) / 255.0);
    }

    @Test
    void showsItsFrameOverWhatLiesBehind() {
        int middle = 45 * 160 + 80;
        for (int f = 1; f <= 4; f++) {
            Passes p = render(Card.of("flash", Cut.ALPHA), f, 0);
            assertThat(p.alpha[middle]).isCloseTo(0.5f, within(0.2f));
            double alpha = 0;
            for (int y = 30; y < 60; y++) for (int x = 60; x < 100; x++) alpha += p.alpha[160 * y + x] / 1200;
            assertThat(alpha).isCloseTo(0.502, within(0.01));
            // Premultiplied: the footage's colour times what covers.
            for (int k = 0; k < 3; k++)
                assertThat(p.beauty[k][middle])
                        .isCloseTo((float) (p.alpha[middle] * linear(COLOURS[(f - 1) % 3], k)), within(1e-3f));
        }
        // Half speed and two frames on: frames 3, 3, 1, 1, ... of the footage.
        Card slow = new Card("flash", Cut.ALPHA, 0, true, true, true, true, 0, false, false, false, 1, 2, 12, true);
        assertThat(new int[] {
                    slow.frame(0, 3, 24),
                    slow.frame(1 / 24.0, 3, 24),
                    slow.frame(2 / 24.0, 3, 24),
                    slow.frame(5 / 24.0, 3, 24)
                })
                .containsExactly(2, 2, 0, 1);
        // Turned away it is only seen from its edge, unless it faces the camera by itself.
        Card fixed = new Card("flash", Cut.NONE, 0, false, true, true, true, 0, false, false, false, 1, 0, 0, true);
        assertThat(sum(render(fixed, 1, 90).alpha)).isLessThan(0.02 * sum(render(fixed, 1, 0).alpha));
    }

    private static double sum(float[] v) {
        double s = 0;
        for (float x : v) s += x;
        return s;
    }

    @Test
    void addsItsLightOrOnlyItsShadow() {
        int middle = 45 * 160 + 80;
        Passes glow = render(
                new Card("flash", Cut.BLACK, 0, true, true, true, true, 0, true, false, false, 2, 0, 0, true), 1, 0);
        assertThat(glow.alpha[middle]).isZero();
        for (int k = 0; k < 3; k++)
            assertThat(glow.beauty[k][middle]).isCloseTo((float) (2 * linear(COLOURS[0], k)), within(2e-3f));
        assertThat(glow.shadow[1]).containsOnly(1f);
        // Not seen, but between the sun behind the camera and the ground behind the card: its shadow is.
        Card unseen = new Card("flash", Cut.NONE, 0, false, false, true, true, 0, false, false, false, 1, 0, 0, true);
        Passes shade = render(unseen, 1, 0);
        assertThat(shade.alpha).containsOnly(0f);
        double low = 1;
        for (float v : shade.shadow[1]) low = Math.min(low, v);
        assertThat(low).isLessThan(0.5);
        // Its shadow card turned edge-on to that sun, there is hardly any; half clear footage shades by half.
        Passes turned = render(
                new Card("flash", Cut.NONE, 0, false, false, true, true, 90, false, false, false, 1, 0, 0, true), 1, 0);
        assertThat(sum(turned.shadow[1])).isGreaterThan(sum(shade.shadow[1]));
        Passes half = render(
                new Card("flash", Cut.ALPHA, 0, false, false, true, true, 0, false, false, false, 1, 0, 0, true), 1, 0);
        double all = 160 * 90 - sum(shade.shadow[1]), part = 160 * 90 - sum(half.shadow[1]);
        assertThat(part / all).isCloseTo(0.5, within(0.06));
    }

    /**
     * The sun's azimuth is 180 here, behind the camera: of a card turned edge-on to it the shadow is as if it faced it.
     */
    @Test
    void itsShadowTurnsToTheSun() {
        Card still = new Card("flash", Cut.NONE, 0, false, false, true, true, 0, false, false, false, 1, 0, 0, true),
                turns =
                        new Card(
                                "flash",
                                Cut.NONE,
                                0,
                                false,
                                false,
                                true,
                                true,
                                0,
                                false,
                                false,
                                false,
                                1,
                                0,
                                0,
                                true,
                                true,
                                Matte.NONE);
        double faced = 160 * 90 - sum(render(still, 1, 0).shadow[1]);
        assertThat(160 * 90 - sum(render(still, 1, 90).shadow[1])).isLessThan(0.5 * faced);
        for (double heading : new double[] {90, 35, 200})
            assertThat(160 * 90 - sum(render(turns, 1, heading).shadow[1]))
                    .as("turned by " + heading)
                    .isCloseTo(faced, within(0.03 * faced));
        // Left stays left: it is never turned by more than a quarter.
        for (double heading = 0; heading < 360; heading += 10)
            assertThat(Math.abs(turns.shadowTurn(heading, new Vec3(0.3, 0.5, 1))))
                    .isLessThanOrEqualTo(90);
        assertThat(turns.shadowTurn(40, null)).isZero();
    }

    /**
     * An even card of radiance L and area A that is far away shines as a point of L A: on ground below it the
     * irradiance is L A cos / r^2, and ground gives back its part of that over pi.
     */
    @Test
    void addedLightFallsOnWhatIsNearFrameByFrame() {
        Card throwing = new Card("flash", Cut.NONE, 0, true, true, true, true, 0, true, false, false, 5, 0, 0, true),
                keeping = new Card("flash", Cut.NONE, 0, true, true, true, false, 0, true, false, false, 5, 0, 0, true);
        for (int f = 1; f <= 3; f++) {
            List<Lamp> lamps = scene(throwing, 0).lighting(f).lamps();
            assertThat(lamps).hasSize(1);
            Lamp l = lamps.get(0);
            assertThat(l.at().minus(new Vec3(0, 1, 0)).length()).isLessThan(0.02);
            for (int k = 0; k < 3; k++)
                assertThat((double) l.intensity()[k]).isCloseTo(5 * 8 * linear(COLOURS[f - 1], k), withinPercentage(1));
            // Of points evenly spread over 4 x 2 m: (16 + 4) / 12, twice that for the disc's radius.
            assertThat(l.width()).isCloseTo(2 * Math.sqrt(2 * 20 / 12.0), withinPercentage(4));
            assertThat(l.real()).isFalse();
        }
        assertThat(scene(keeping, 0).lighting(1).lamps()).isEmpty();
        Passes lit = render(throwing, 1, 0), dark = render(keeping, 1, 0);
        assertThat(sum(dark.bounce[0])).isZero();
        assertThat(sum(lit.bounce[0])).isGreaterThan(50);
        assertThat(sum(lit.bounce[0]) / sum(lit.bounce[2]))
                .isCloseTo(linear(COLOURS[0], 0) / linear(COLOURS[0], 2), withinPercentage(3));
        assertThat(sum(lit.beauty[0])).isCloseTo(sum(dark.beauty[0]), withinPercentage(1));
    }

    /** The sentence says the first frame of the shot in which the footage is through, at any rate and offset. */
    @Test
    void saysWhereItEnds() {
        java.util.Random r = new java.util.Random(6);
        for (int k = 0; k < 60; k++) {
            double offset = r.nextInt(8), rate = r.nextBoolean() ? 0 : 12 + r.nextInt(30);
            int count = 5 + r.nextInt(60), shot = 40;
            Card once =
                    new Card("f", Cut.NONE, 0, true, true, true, true, 0, false, false, false, 1, offset, rate, false);
            Card again =
                    new Card("f", Cut.NONE, 0, true, true, true, true, 0, false, false, false, 1, offset, rate, true);
            int through = 0;
            // The one that begins again leaves the one that stands still where the footage is through.
            while (through < shot && again.frame(through / 25.0, count, 24) == once.frame(through / 25.0, count, 24))
                through++;
            String said = once.ends(count, 24, shot, 25);
            if (through == shot)
                assertThat(said)
                        .as("%d frames from %.0f at %.0f", count, offset, rate)
                        .isEmpty();
            else
                assertThat(said)
                        .contains("lasts " + through + " of the shot's 40")
                        .contains("stands still");
        }
    }

    /**
     * Four frames written by ffmpeg's own program from PNG whose left half has an alpha of 40 times the frame's number,
     * of 255: what is clear in a movie stays so.
     */
    @ParameterizedTest
    @CsvSource({"alpha-rle.mov, 0.005", "alpha-444.mov, 0.01", "alpha.webm, 0.02"})
    void alphaOfMovies(String movie, double most) throws Exception {
        try (Footage read =
                Footage.open(Path.of(CardTest.class.getResource("/" + movie).toURI()))) {
            assertThat(read.count()).isEqualTo(4);
            for (int f = 1; f <= 4; f++) {
                BufferedImage b = read.frame(f - 1, Cut.ALPHA).image();
                assertThat((b.getRGB(16, 16) >>> 24) / 255.0).isCloseTo(40 * f / 255.0, within(most));
                assertThat(b.getRGB(50, 16) >>> 24).isGreaterThan(251);
            }
        }
    }

    /** Cut from black or white and laid over it again, a picture is what it was. */
    @Test
    void whatIsCutOutGoesBack() {
        BufferedImage b = new BufferedImage(16, 16, BufferedImage.TYPE_INT_ARGB);
        java.util.Random r = new java.util.Random(4);
        for (int i = 0; i < 256; i++) b.setRGB(i % 16, i / 16, 0xff000000 | r.nextInt(1 << 24));
        for (Cut c : new Cut[] {Cut.BLACK, Cut.WHITE}) {
            BufferedImage out = Footage.cut(b, c);
            for (int i = 0; i < 256; i++) {
                int v = out.getRGB(i % 16, i / 16);
                for (int k = 0; k < 3; k++) {
                    double a = (v >>> 24) / 255.0, over = a * linear(v, k) + (1 - a) * (c == Cut.WHITE ? 1 : 0);
                    assertThat(over).isCloseTo(linear(b.getRGB(i % 16, i / 16), k), within(0.012));
                }
            }
        }
        // Screen, as image editors have it: 1 - (1 - c) (1 - b).
        BufferedImage grey = new BufferedImage(1, 1, BufferedImage.TYPE_INT_ARGB);
        for (int code = 0; code < 256; code += 15) {
            grey.setRGB(0, 0, 0xff000000 | code * 0x10101);
            int v = Footage.cut(grey, Cut.BLACK).getRGB(0, 0);
            double c = linear(grey.getRGB(0, 0), 1), a = (v >>> 24) / 255.0, behind = 0.3;
            assertThat(a * linear(v, 1) + (1 - a) * behind).isCloseTo(1 - (1 - c) * (1 - behind), within(0.004));
        }
        // Curved, it is as long along its arc as it was wide.
        float[] p = Card.model(2, 180).parts().get(0).position();
        double length = 0;
        for (int i = 6; i < p.length; i += 6) length += Math.hypot(p[i] - p[i - 6], p[i + 2] - p[i - 4]);
        assertThat(length).isCloseTo(2, within(0.002));
        assertThat(p[2]).isCloseTo((float) (2 / Math.PI), within(1e-5f));
    }
}

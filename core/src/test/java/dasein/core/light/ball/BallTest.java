package dasein.core.light.ball;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.SoftFill;
import dasein.core.light.photo.Bracket;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Maps from photographs of a ball under a known sky, the camera's response unknown. */
class BallTest {
    private static final double[] STOPS = {-4, -2, 0, 2, 4};
    private static final Environment TRUTH = new Environment(KnownBall.map(512), 0, 1);

    private static final float[][] WANTED =
            KnownBall.TWELVE.stream().map(TRUTH::irradiance).toArray(float[][]::new);

    private static BallPhotos photos(KnownBall.Camera c, long seed) {
        Bracket b = KnownBall.photographed(c, STOPS, KnownBall::curve, seed);
        return BallPhotos.of(b, null, null, new BallPhotos.Camera(Math.toRadians(c.fieldDeg)), Progress.NONE);
    }

    private static BallMap.Result map(List<BallMap.Turned> views) {
        return BallMap.of(views, new double[] {0.7, 0.7, 0.7}, 512);
    }

    /** The farthest of twelve irradiances and three colours from the truth, as a part, after one factor a colour. */
    private static double worst(Image map) {
        Environment e = new Environment(map, 0, 1);
        double most = 0;
        float[][] is = new float[12][];
        for (int i = 0; i < 12; i++) is[i] = e.irradiance(KnownBall.TWELVE.get(i));
        for (int c = 0; c < 3; c++) {
            double got = 0, want = 0;
            for (int i = 0; i < 12; i++) {
                got += is[i][c];
                want += WANTED[i][c];
            }
            for (int i = 0; i < 12; i++) most = Math.max(most, Math.abs(is[i][c] / WANTED[i][c] * want / got - 1));
        }
        return most;
    }

    @Test
    void oneViewGivesTheLight() {
        KnownBall.Camera c = new KnownBall.Camera();
        BallPhotos p = photos(c, 1);
        double f = c.width / 2.0 / Math.tan(Math.toRadians(6)), r = f / Math.sqrt(c.distance * c.distance - 1);
        assertThat(Math.hypot(
                        p.circle().x() - c.width / 2.0 - c.offX, p.circle().y() - c.height / 2.0 - c.offY))
                .isLessThan(0.6);
        assertThat(p.circle().r()).isCloseTo(r, within(0.6));
        BallMap.Result m = map(BallMap.joined(p, null));
        double level = new Environment(m.map(), 0, 1).irradiance(Vec3.Y)[1] / TRUTH.irradiance(Vec3.Y)[1];
        System.out.printf(
                "one view: worst of twelve %.4f, level %.4f, invented %.4f%n", worst(m.map()), level, m.inventedPart());
        assertThat(worst(m.map())).isLessThan(0.05);
        // White of the middle exposure is 1: the level is right, too, as far as white can be told.
        assertThat(level).isCloseTo(1, within(0.1));
        assertThat(m.inventedPart()).isLessThan(0.06);
    }

    /** The second view shows what the first hides: who held the camera, and what is behind the ball. */
    @Test
    void twoViewsAreJoinedAndThePhotographerIsGone() {
        KnownBall.Camera a = new KnownBall.Camera(), b = new KnownBall.Camera();
        a.photographer = b.photographer = true;
        b.yawDeg = 97;
        b.offX = -25;
        b.distance = 30;
        BallPhotos first = photos(a, 1), second = photos(b, 50);
        List<BallMap.Turned> views = BallMap.joined(first, second);
        Quat truly = Quat.axisAngle(Vec3.Y, Math.toRadians(-97));
        double off = Math.toDegrees(views.get(1).toView().angleTo(truly));
        BallMap.Result two = map(views), one = map(BallMap.joined(first, null));
        System.out.printf(
                "two views: turn off by %.3f deg, gain %.4f, worst %.4f (one: %.4f)%n",
                off, views.get(1).gain(), worst(two.map()), worst(one.map()));
        // A pixel of so small a ball is more than a degree.
        assertThat(off).isLessThan(1);
        assertThat(worst(two.map())).isLessThan(0.03).isLessThan(worst(one.map()));
        // Where the photographer stood there is the sky.
        Vec3 behind = new Vec3(0, -0.1, 1).unit();
        float[] got = new float[3], bare = new float[3];
        new Environment(two.map(), 0, 1).radiance((float) behind.x(), (float) behind.y(), (float) behind.z(), got);
        TRUTH.radiance((float) behind.x(), (float) behind.y(), (float) behind.z(), bare);
        assertThat(got[1] / bare[1]).isCloseTo(1, within(0.12f));
    }

    /** What is mirrored at a pixel is found again at that pixel, for near and for endlessly far cameras. */
    @Test
    void everyDirectionIsFoundWhereItIsMirrored() {
        Circle c = new Circle(300, 180, 90);
        for (BallView v :
                List.of(BallView.orthographic(640, 400, c), BallView.perspective(640, 400, Math.toRadians(40), c))) {
            double[] at = new double[3];
            for (int k = 0; k < 200; k++) {
                double r = 86 * Math.sqrt((k + 0.5) / 200), t = k * 2.4;
                double x = c.x() + r * Math.cos(t), y = c.y() + r * Math.sin(t);
                assertThat(v.pixel(v.direction(x, y), at)).isTrue();
                assertThat(Math.hypot(at[0] - x, at[1] - y)).isLessThan(1e-6);
            }
            assertThat(v.direction(c.x() + 95, c.y())).isNull();
        }
        // Far away, a perspective camera is an orthographic one.
        BallView far = BallView.perspective(640, 400, Math.toRadians(0.01), new Circle(320, 200, 90)),
                flat = BallView.orthographic(640, 400, new Circle(320, 200, 90));
        assertThat(far.direction(350, 170).distance(flat.direction(350, 170))).isLessThan(1e-3);
        // The middle of the ball mirrors the camera, its top what is above and behind.
        assertThat(flat.direction(320, 200).distance(Vec3.Z)).isLessThan(1e-9);
        assertThat(flat.direction(320, 200 - 90 * Math.sqrt(0.5)).distance(Vec3.Y))
                .isLessThan(1e-9);
    }

    @Test
    void noBallTwoBallsAndHalfABall() {
        KnownBall.Camera c = new KnownBall.Camera();
        Image one = KnownBall.seen(c);
        Image none = new Image(480, 360, 3);
        for (int y = 0; y < 360; y++)
            for (int x = 0; x < 480; x++)
                for (int k = 0; k < 3; k++)
                    none.planes[k][y * 480 + x] = (float) (0.3 + 0.1 * Math.sin(x / 17.0) + (x > 200 ? 0.2 : 0));
        assertThatThrownBy(() -> BallFinder.find(none))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("no ball");
        Image two = new Image(960, 360, 3);
        for (int k = 0; k < 3; k++)
            for (int y = 0; y < 360; y++)
                for (int x = 0; x < 960; x++) two.planes[k][y * 960 + x] = one.planes[k][y * 480 + x % 480];
        assertThatThrownBy(() -> BallFinder.find(two))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("two balls");
        c.offX = 190;
        assertThatThrownBy(() -> BallFinder.find(KnownBall.seen(c)))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("cut off");
    }

    /** What is left open is filled between its borders, and what is known stays. */
    @Test
    void theHoleIsFilledSoftly() {
        Image m = new Image(64, 32, 1);
        boolean[] hole = new boolean[64 * 32];
        for (int y = 0; y < 32; y++)
            for (int x = 0; x < 64; x++) {
                m.planes[0][y * 64 + x] = x < 32 ? 1 : 3;
                // Across the seam, where the map wraps round.
                hole[y * 64 + x] = y > 8 && y < 20 && (x < 6 || x > 57);
            }
        Image before = m.copy();
        for (int i = 0; i < hole.length; i++) if (hole[i]) m.planes[0][i] = 99;
        SoftFill.fill(m, hole);
        for (int i = 0; i < hole.length; i++) {
            if (hole[i]) assertThat(m.planes[0][i]).isBetween(1f, 3f);
            else assertThat(m.planes[0][i]).isEqualTo(before.planes[0][i]);
        }
        assertThat(m.planes[0][14 * 64]).as("at the seam in the middle").isBetween(1.5f, 2.5f);
    }
}

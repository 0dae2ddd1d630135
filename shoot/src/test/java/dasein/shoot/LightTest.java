package dasein.shoot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.cast.Blocking;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.View;
import dasein.core.light.Environment;
import dasein.core.light.LightRecipe;
import dasein.core.light.LightRig;
import dasein.core.light.MapFacts;
import dasein.core.light.SunSearch;
import dasein.core.light.ball.BallMap;
import dasein.core.light.ball.BallPhotos;
import dasein.core.light.ball.Circle;
import dasein.core.light.ball.SunMend;
import dasein.core.light.chart.Chart;
import dasein.core.light.level.GreyBall;
import dasein.core.light.level.LightLevel;
import dasein.core.light.pano.MapView;
import dasein.core.light.photo.Bracket;
import dasein.core.light.photo.Photo;
import dasein.core.light.photo.PhotoFolder;
import dasein.core.light.sky.PlateLight;
import dasein.core.light.sky.PlateSphere;
import dasein.core.light.sun.ShadowLine;
import dasein.core.light.sun.ShadowSun;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.file.ModelReader;
import dasein.core.plate.Plate;
import dasein.core.plate.Rate;
import dasein.core.render.CatcherLook;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import dasein.core.solve.SolvedCamera;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** The light of LW_010, found from its plate and its photographs, against what only the simulated shoot knows. */
class LightTest {
    private static final Vec3 PLACE = new Vec3(0.6, 1.2, -6.2);
    private static final int FRAME = 48;

    private final TrueCamera real = TrueCamera.of("LW_010");
    private final Vec3 sun = Vec3.of(TrueCamera.numbers(real.truth().path("sun")));

    LightTest() throws Exception {}

    private SolvedCamera camera() {
        List<SolvedCamera.Frame> f = new ArrayList<>();
        for (int k = 1; k <= real.poses().size(); k++)
            f.add(new SolvedCamera.Frame(k, real.pose(k), real.lens().focalPx(), 0.1, 100));
        return new SolvedCamera(1280, 720, new Rate(24, 1), "moving", 0.1, 10, real.lens(), f, List.of(), 1, List.of());
    }

    private double[] drawn(int frame, Vec3 p, Random r) {
        double[] q = real.pixel(frame, p);
        return new double[] {q[0] + 0.5 * r.nextGaussian(), q[1] + 0.5 * r.nextGaussian()};
    }

    private ShadowLine line(String name, int frame, Vec3 top, boolean foot, Random r) {
        Vec3 below = new Vec3(top.x(), 0, top.z()), tip = top.minus(sun.times(top.y() / sun.y()));
        return new ShadowLine(
                name, frame, foot ? drawn(frame, below, r) : null, drawn(frame, top, r), drawn(frame, tip, r));
    }

    /** The pole, a bollard and a crate's corner, drawn by a hand that is off by half a pixel: 0.5 degrees are asked. */
    @Test
    void threeShadowLinesHoldTheSun() {
        SolvedCamera c = camera();
        double mean = 0, worst = 0;
        int n = 20;
        for (int seed = 0; seed < n; seed++) {
            Random r = new Random(seed);
            ShadowSun.Result s = ShadowSun.of(
                    c,
                    List.of(
                            line("pole", 48, new Vec3(-1.9, 2.4, -6.2), true, r),
                            line("bollard", 10, new Vec3(3.3, 0.62, -5), true, r),
                            line("crate", 90, new Vec3(2.5, 0.6, -8), false, r)));
            double off = Math.toDegrees(Math.acos(Math.min(1, s.towards().dot(sun))));
            mean += off / n;
            worst = Math.max(worst, off);
        }
        System.out.printf(
                "sun from three shadow lines on LW_010: mean %.2f, worst of %d %.2f degrees%n", mean, n, worst);
        assertThat(mean).isLessThan(0.25);
        assertThat(worst).isLessThan(0.5);
    }

    /**
     * The ground beside the pole's shadow and in it, as a person marks it, its reflectance told: 20 % at twelve normals
     * are asked, and 10 % for the strider's mean colour.
     */
    @Test
    void lightFromThePlateAloneComesNear() throws Exception {
        Image truth = Stills.read(Path.of("demo/kit/slipway_latlong.exr"), Encoding.LINEAR), map;
        try (Plate plate = Plate.open(Path.of("demo/LW_010.mp4"), null, null)) {
            PlateSphere s = PlateSphere.of(plate::frame, 1, camera(), PLACE, 256, Progress.NONE);
            Image im = plate.frame(FRAME);
            map = PlateLight.of(
                            s,
                            new PlateLight.Hints(
                                    sun, Math.toRadians(1.5), mean(im, 345, 595), mean(im, 345, 584), 0.32))
                    .map();
        }
        Environment got = new Environment(map, 0, 1), want = new Environment(truth, 0, 1);
        double worst = 0, mean = 0, worstEven = 0, g = (1 + Math.sqrt(5)) / 2;
        float level = want.irradiance(Vec3.Y)[1];
        for (int a = -1; a <= 1; a += 2)
            for (int b = -1; b <= 1; b += 2)
                for (Vec3 n : new Vec3[] {new Vec3(0, a, b * g), new Vec3(a, b * g, 0), new Vec3(b * g, 0, a)}) {
                    float[] x = got.irradiance(n.unit()), y = want.irradiance(n.unit());
                    for (int c = 0; c < 3; c++) {
                        worst = Math.max(worst, Math.abs(x[c] / y[c] - 1));
                        mean += Math.abs(x[c] / y[c] - 1) / 36;
                        worstEven = Math.max(worstEven, Math.abs(level / y[c] - 1));
                    }
                }
        double[] under = strider(map), real = strider(truth);
        System.out.printf(
                "light from LW_010's plate alone: irradiance off by %.1f %% in the mean, %.1f %% at worst (even grey sky of "
                        + "the right level: %.0f %%); strider %.3f %.3f %.3f, under the true map %.3f %.3f %.3f%n",
                100 * mean, 100 * worst, 100 * worstEven, under[0], under[1], under[2], real[0], real[1], real[2]);
        assertThat(worst).isLessThan(0.2);
        assertThat(worst).isLessThan(worstEven / 3);
        for (int c = 0; c < 3; c++) assertThat(under[c] / real[c]).isBetween(0.9, 1.1);
    }

    /** The kit's grey ball under the true map, which is wrong by a stop and a tint: 0.1 stop and 2 % are asked. */
    @Test
    void greyBallOfTheKitHoldsLevelAndColour() {
        Image truth = Stills.read(Path.of("demo/kit/slipway_latlong.exr"), Encoding.LINEAR), wrong = truth.copy();
        double[] by = {2.4, 2.0, 1.7};
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < wrong.planes[c].length; i++) wrong.planes[c][i] *= (float) by[c];
        SunSearch.Found f = SunSearch.in(wrong);
        Image photo = Stills.read(Path.of("demo/kit/grey_ball.jpg"), Encoding.SRGB);
        Vec3 eye = PLACE.plus(new Vec3(-0.2, 0.05, 2.4));
        double far = eye.distance(PLACE);
        Circle circle = new Circle(280, 280, 5200 * 0.1 / Math.sqrt(far * far - 0.01));
        LightLevel.Result r = LightLevel.of(
                new Environment(f.rest(), 0, 1),
                f.sun(),
                GreyBall.swatches(
                        photo,
                        circle,
                        0.18,
                        Pose.lookAt(eye, PLACE, Vec3.Y).rotation(),
                        f.sun().towards()));
        double stops = r.mapStops() + Math.log((by[0] + by[1] + by[2]) / 3) / Math.log(2);
        double red = r.map()[0] / r.map()[1] * by[0] / by[1], blue = r.map()[2] / r.map()[1] * by[2] / by[1];
        double sun = 0;
        for (int c = 0; c < 3; c++) sun += r.sun()[c] * by[c] / f.sun().irradiance()[c] / 3;
        System.out.printf(
                "grey ball of the kit: level off by %+.3f stops, red %.3f, blue %.3f against green; sun %+.3f stops%n",
                stops, red, blue, Math.log(sun) / Math.log(2));
        assertThat(Math.abs(stops)).isLessThan(0.1);
        assertThat(red).isBetween(0.98, 1.02);
        assertThat(blue).isBetween(0.98, 1.02);
    }

    /** The chart that was held up before the lat-long camera, read in a look into the map as the page does it. */
    @Test
    void chartIsReadInTheMapItself() {
        Image map = Stills.read(Path.of("demo/kit/chart_latlong.exr"), Encoding.LINEAR);
        Photo look = Photo.ofLight("the map", new MapView(175, -5, 60).of(map, 1600, 900));
        Chart c = Chart.of(look, null, null);
        System.out.printf(
                "chart in the map: mean %.2f, worst %.2f (CIEDE2000)%n",
                c.fit().mean(), c.fit().worst());
        assertThat(c.fit().mean()).isLessThan(1);
        assertThat(c.fit().worst()).isLessThan(3);
    }

    /** Noon is brighter and its sun stands higher, evening darker and redder: where the shoot put them. */
    @Test
    void otherHoursOfThePlaceHaveTheirSun() {
        MapFacts morning = MapFacts.of(Stills.read(Path.of("demo/kit/slipway_latlong.exr"), Encoding.LINEAR)),
                noon = MapFacts.of(Stills.read(Path.of("demo/kit/noon_latlong.exr"), Encoding.LINEAR)),
                evening = MapFacts.of(Stills.read(Path.of("demo/kit/evening_latlong.exr"), Encoding.LINEAR));
        assertThat(noon.stops()).isGreaterThan(morning.stops() + 0.3);
        assertThat(evening.stops()).isLessThan(morning.stops() - 0.8);
        assertThat(noon.elevationDeg()).isCloseTo(62, within(1.0));
        assertThat(evening.elevationDeg()).isCloseTo(9, within(1.0));
        assertThat(evening.azimuthDeg()).isCloseTo(20, within(1.5));
    }

    private static double[] mean(Image im, int x, int y) {
        double[] out = new double[3];
        for (int c = 0; c < 3; c++)
            for (int j = -1; j <= 1; j++) for (int i = -1; i <= 1; i++) out[c] += im.get(x + i, y + j, c) / 9;
        return out;
    }

    /** Its mean colour in the picture under a map, as the product lights it. */
    private double[] strider(Image map) throws Exception {
        Model m = ModelReader.read(Path.of("demo/models/strider.glb"));
        View v = camera().view(FRAME, 0, 0.12);
        Passes p = FrameRenderer.render(
                new FrameRenderer.Job(
                        List.of(Blocking.alone(Truth.STRIDER, m, Walk.RATE)
                                .meshes(FRAME, FRAME)
                                .get(0)),
                        new LightRig(LightRecipe.BLANK, map).at(FRAME, 24),
                        v,
                        null,
                        CatcherLook.DRY,
                        new Quality(32, 32, 0, 1, false),
                        true,
                        0,
                        3),
                Progress.NONE,
                null);
        double[] out = new double[3];
        double alpha = 0;
        for (int i = 0; i < p.alpha.length; i++) {
            alpha += p.alpha[i];
            if (p.alpha[i] > 0.99) for (int c = 0; c < 3; c++) out[c] += p.beauty[c][i];
        }
        for (int c = 0; c < 3; c++) out[c] /= alpha;
        return out;
    }

    /** The chart that was photographed on the slipway, lit by its sun and sky. */
    @Test
    void chartOfTheKitIsReadByItself() {
        Chart c = Chart.of(Photo.read(Path.of("demo/kit/chart.jpg")), null, null);
        System.out.printf(
                "chart of the kit: CIEDE2000 mean %.2f, worst %.2f, read as %s%n",
                c.fit().mean(), c.fit().worst(), c.encoding());
        assertThat(c.encoding()).isEqualTo(Encoding.REC709);
        assertThat(c.fit().mean()).isLessThan(1);
        assertThat(c.fit().worst()).isLessThan(3);
    }

    private static Bracket bracket(String folder) {
        List<Photo> photos = PhotoFolder.of(Path.of(folder)).stream()
                .filter(p -> p.getFileName().toString().startsWith("ball_"))
                .map(Photo::read)
                .toList();
        double[] stops = photos.stream()
                .mapToDouble(p -> Double.parseDouble(p.name.replaceAll("ball_([+-]\\d)_stops.jpg", "$1")))
                .toArray();
        return Bracket.of(photos, stops);
    }

    /** @param circle null to find it */
    private static BallPhotos ball(String folder, Circle circle) {
        return BallPhotos.of(bracket(folder), null, circle, new BallPhotos.Camera(Math.toRadians(6.17)), Progress.NONE);
    }

    private static BallPhotos ball(String folder) {
        return ball(folder, null);
    }

    @Test
    void aBallThatIsNotAllInThePictureIsRefused() {
        assertThatThrownBy(() -> ball("demo/kit", new Circle(30, 30, 200)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("cut off by the picture's edge");
    }

    /** Its lens spreads nothing: no glow tells of its sun, and none is made up. */
    @Test
    void kitsSunHasNoGlowToTellItBy() {
        BallPhotos first = ball("demo/kit");
        assertThatThrownBy(first::sunByFlare).isInstanceOf(BadInput.class).hasMessageContaining("does not tell");
    }

    /**
     * Five JPEGs of the ball, its camera's response unknown, its sun cut off in all of them and mended by the ratio
     * that the ground shows: 10 % at twelve normals are asked, the sun within a degree.
     */
    @Test
    void kitsBallGivesTheSetsLight() throws Exception {
        Image truth = Stills.read(Path.of("demo/kit/slipway_latlong.exr"), Encoding.LINEAR);
        SunSearch.Found f = SunSearch.in(truth);
        double sky = new Environment(f.rest(), 0, 1).irradiance(Vec3.Y)[1];
        double ratio = 1 + f.sun().irradiance()[1] * f.sun().towards().y() / sky;
        Quat toWorld = Pose.lookAt(PLACE.plus(new Vec3(-0.2, 0.05, 2.4)), PLACE, Vec3.Y)
                .rotation();
        BallPhotos first = ball("demo/kit"), second = ball("demo/kit/ball_side");
        for (BallPhotos b : new BallPhotos[] {null, second}) {
            BallMap.Result m = BallMap.of(BallMap.joined(first, b), new double[] {0.78, 0.78, 0.79}, 512);
            Image map = SunMend.byRatio(m.map(), m.clipped(), ratio).map();
            Environment got = new Environment(map, 0, 1), want = new Environment(truth, 0, 1);
            double worst = 0, mean = 0, g = (1 + Math.sqrt(5)) / 2;
            for (int i = -1; i <= 1; i += 2)
                for (int j = -1; j <= 1; j += 2)
                    for (Vec3 n : new Vec3[] {new Vec3(0, i, j * g), new Vec3(i, j * g, 0), new Vec3(j * g, 0, i)}) {
                        float[] x = got.irradiance(toWorld.conjugate().rotate(n.unit())), y = want.irradiance(n.unit());
                        for (int c = 0; c < 3; c++) {
                            worst = Math.max(worst, Math.abs(x[c] / y[c] - 1));
                            mean += Math.abs(x[c] / y[c] - 1) / 36;
                        }
                    }
            Vec3 at = toWorld.rotate(SunSearch.in(map).sun().towards());
            double off = Math.toDegrees(Math.acos(Math.min(1, at.dot(sun))));
            System.out.printf(
                    "kit's ball, %s: irradiance off by %.1f %% in the mean, %.1f %% at worst; sun off by %.2f degrees%n",
                    b == null ? "one view" : "two views", 100 * mean, 100 * worst, off);
            assertThat(worst).isLessThan(0.1);
            assertThat(off).isLessThan(1);
        }
    }
}

package dasein.core.presence.layout;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.light.Clues;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.level.PlateMatch;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.presence.Bare;
import dasein.core.presence.Finding;
import dasein.core.presence.Finding.State;
import dasein.core.solve.SolvedCamera;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** Checks of the light, the camera and the handles, each by a shot that has nothing else. */
class HowItStandsTest {
    private static SolvedCamera solved(int first, int last, int badFrame, double bad) {
        Pose p = Pose.lookAt(new Vec3(0, 1.6, 6), new Vec3(0, 0.6, 0), Vec3.Y);
        return new SolvedCamera(
                320,
                180,
                new Rate(24, 1),
                "moving",
                0.2,
                10,
                new Lens(300, 160, 90, 0, 0),
                IntStream.rangeClosed(first, last)
                        .mapToObj(f -> new SolvedCamera.Frame(f, p, 300, f == badFrame ? bad : 0.2, 8))
                        .toList(),
                List.of());
    }

    @Test
    void aFrameWhoseCameraIsOffIsFoundAndNamed() {
        Bare b = new Bare();
        b.camera = solved(1, 10, 7, 2);
        Finding f = new SolveError().finding(b.subject());
        assertThat(f.state()).isEqualTo(State.FOUND);
        assertThat(f.frames()).containsExactly(7);
        assertThat(f.figure()).isEqualTo(2);
        b.camera = solved(1, 10, 7, 0.9);
        assertThat(new SolveError().finding(b.subject()).state()).isEqualTo(State.GOOD);
        b.camera = solved(1, 8, 0, 0);
        assertThat(new SolveError().finding(b.subject()).sentence()).startsWith("2 of the frames");
    }

    @Test
    void handlesWithoutACameraAreFound() {
        Bare b = new Bare();
        b.first = 5;
        b.last = 10;
        assertThat(new Handles().finding(b.subject()).state()).isEqualTo(State.UNSEEN);
        b.handles = 3;
        assertThat(new Handles().finding(b.subject()).state()).as("no camera").isEqualTo(State.UNSEEN);
        b.camera = solved(4, 12, 0, 0);
        Finding f = new Handles().finding(b.subject());
        assertThat(f.state()).isEqualTo(State.FOUND);
        assertThat(f.frames()).containsExactly(2, 3, 13);
        b.camera = solved(1, 20, 0, 0);
        assertThat(new Handles().finding(b.subject()).state()).isEqualTo(State.GOOD);
        b.first = 1;
        b.handles = 0;
        b.camera = solved(1, 3, 0, 0);
        assertThat(new Handles().finding(b.subject()).state())
                .as("what is missing of the cut itself is the camera's")
                .isEqualTo(State.UNSEEN);
    }

    /** An even sky of radiance L gives pi L on level ground; the sun E sin(elevation). */
    @Test
    void theSunsPartOfTheLightIsHeldAgainstThePlates() {
        Image sky = new Image(32, 16, 3);
        for (float[] p : sky.planes) Arrays.fill(p, 1);
        float e = (float) (3 * Math.PI / Math.sin(Math.toRadians(30)));
        Sun sun = new Sun(Sun.direction(Math.toRadians(30), 0.4), 0.01, new float[] {e, e, e});
        double own = Math.log(PlateMatch.ratio(new Lighting(new Environment(sky, 0, 1), List.of(sun)))) / Math.log(2);
        assertThat(own).as("1 + 3 times the sky").isCloseTo(2, within(0.01));
        Bare b = new Bare();
        assertThat(new LightRatio().finding(b.subject()).state()).isEqualTo(State.UNSEEN);
        b.stops = new LightRatio.Stops(1.8, own, 0.1);
        assertThat(new LightRatio().finding(b.subject()).state()).isEqualTo(State.GOOD);
        b.stops = new LightRatio.Stops(own - 2 / 3.0, own, 0.1);
        Finding f = new LightRatio().finding(b.subject());
        assertThat(f.state()).isEqualTo(State.FOUND);
        assertThat(f.figure()).isCloseTo(2 / 3.0, within(1e-9));
        assertThat(f.sentence()).contains("too strong");
        b.stops = new LightRatio.Stops(own + 1, own, 0.1);
        assertThat(new LightRatio().finding(b.subject()).sentence()).contains("too weak");
        b.stops = new LightRatio.Stops(own + 1, own, 0.4);
        assertThat(new LightRatio().finding(b.subject()).state())
                .as("marks that differ by more do not tell")
                .isEqualTo(State.GOOD);
    }

    /** Four marks each of ground that is even, and of ground that is not. */
    @Test
    void marksOnUnevenGroundTellLess() {
        for (double uneven : new double[] {0, 1}) {
            Image im = new Image(80, 40, 3);
            Clues c = Clues.NONE;
            for (int k = 0; k < 4; k++) {
                double v = Math.pow(2, uneven * (k % 2 == 0 ? -1 : 1));
                for (float[] p : im.planes)
                    for (int y = 0; y < 40; y++)
                        for (int x = 20 * k; x < 20 * k + 20; x++) p[80 * y + x] = (float) ((y < 20 ? 0.4 : 0.1) * v);
                c = c.with(new Clues.Patch(2 * k + 1, 1, 20 * k + 10, 10, true))
                        .with(new Clues.Patch(2 * k + 2, 1, 20 * k + 10, 30, false));
            }
            assertThat(PlateMatch.ground(c, f -> im).ratio()).isCloseTo(4, within(1e-3));
            // Of four that lie one stop to either side: variance 4/3, of each mean a quarter of that, of both twice.
            double want = uneven == 0 ? 0.25 * Math.sqrt(2 / 4.0) : Math.sqrt(2 * 4 / 3.0 / 4);
            assertThat(PlateMatch.sigma(c, f -> im)).isCloseTo(want, within(1e-3));
        }
    }
}

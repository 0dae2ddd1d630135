package dasein.core.solve.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraExchange.Reading;
import dasein.core.track.Track;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class CameraExchangeTest {
    private static final Lens LENS = new Lens(1200, 640, 360, -0.05, 0.01, 0.002, 0.0004, -0.0003);

    @TempDir
    Path folder;

    private static SolvedCamera camera() {
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int f = 11; f <= 40; f++)
            frames.add(new SolvedCamera.Frame(
                    f,
                    new Pose(
                            Quat.fromRotationVector(0.02 * f, 0.1 - 0.01 * f, 0.003 * f),
                            new Vec3(0.05 * f, 1.6, -0.02 * f)),
                    1200,
                    0.3,
                    50));
        List<SolvedCamera.Point> points = new ArrayList<>();
        Random r = new Random(4);
        for (int i = 0; i < 40; i++)
            points.add(new SolvedCamera.Point(
                    100 + i,
                    frames.get(15)
                            .pose()
                            .toWorld(LENS.ray(1280 * r.nextDouble(), 720 * r.nextDouble())
                                    .times(3 + 9 * r.nextDouble())),
                    0.2));
        return new SolvedCamera(1280, 720, new Rate(24000, 1001), "moving", 0.3, 20, LENS, frames, points);
    }

    private static List<Track> marks(SolvedCamera c) {
        List<Track> out = new ArrayList<>();
        for (SolvedCamera.Point p : c.points()) {
            List<double[]> seen = new ArrayList<>();
            for (SolvedCamera.Frame f : c.frames()) {
                double[] q = c.lens(f.frame()).project(f.pose().toLocal(p.position()));
                if (q != null && q[0] > 0 && q[1] > 0 && q[0] < 1280 && q[1] < 720)
                    seen.add(new double[] {f.frame(), q[0], q[1]});
            }
            if (seen.size() > 3)
                out.add(new Track(
                        p.id(),
                        seen.stream().mapToInt(v -> (int) v[0]).toArray(),
                        seen.stream().mapToDouble(v -> v[1]).toArray(),
                        seen.stream().mapToDouble(v -> v[2]).toArray()));
        }
        return out;
    }

    @ParameterizedTest
    @ValueSource(strings = {"c.json", "c.glb", "c.usda", "c.csv"})
    void whatIsWrittenIsReadAgain(String name) {
        SolvedCamera c = camera();
        Path p = folder.resolve(name);
        CameraExchange.write(p, c);
        SolvedCamera back = CameraExchange.read(p, Reading.PLAIN);
        assertThat(back.width()).isEqualTo(1280);
        assertThat(back.rate()).isEqualTo(c.rate());
        assertThat(back.frames()).hasSize(30);
        // glTF and USD keep single precision.
        for (SolvedCamera.Frame f : c.frames()) {
            SolvedCamera.Frame g = back.frame(f.frame());
            assertThat(g.frame()).isEqualTo(f.frame());
            assertThat(g.pose().position().distance(f.pose().position())).isLessThan(1e-5);
            assertThat(Math.toDegrees(g.pose().rotation().angleTo(f.pose().rotation())))
                    .isLessThan(1e-3);
            assertThat(g.focalPx()).isCloseTo(1200, within(1e-2));
        }
        assertThat(back.lens().k2()).isCloseTo(0.01, within(1e-9));
        assertThat(back.lens().p1()).isCloseTo(0.0004, within(1e-9));
        if (name.endsWith("csv")) return;
        assertThat(back.points()).hasSize(40);
        assertThat(CameraExchange.check(back, Reading.PLAIN, marks(c)).px()).isLessThan(0.05);
    }

    /** A camera that looks along its own Y, frames counted from one: both are found, and said. */
    @Test
    void wrongAxesAndFramesAreFound() {
        SolvedCamera c = camera();
        Quat odd = Quat.axisAngle(Vec3.X, Math.toRadians(-90));
        SolvedCamera other = new SolvedCamera(
                c.width(),
                c.height(),
                c.rate(),
                c.kind(),
                0,
                0,
                c.lens(),
                c.frames().stream()
                        .map(f -> new SolvedCamera.Frame(
                                f.frame() + 1,
                                new Pose(
                                        f.pose().rotation().times(odd), f.pose().position()),
                                f.focalPx(),
                                0,
                                0))
                        .toList(),
                c.points());
        CameraExchange.Landing l = CameraExchange.check(other, Reading.PLAIN, marks(c));
        assertThat(l.lands()).isFalse();
        assertThat(l.sentence()).contains("turned by 90 degrees about X").contains("shifted by -1 frames");
        assertThat(CameraExchange.check(other, l.fix(), marks(c)).lands()).isTrue();
        // Another up axis and unit move the world, not the picture.
        Reading centimetres = new Reading(true, 0.01, 0, "none");
        assertThat(CameraExchange.check(c, centimetres, marks(c)).lands()).isTrue();
        SolvedCamera small = CameraExchange.understood(c, centimetres);
        assertThat(small.frames().get(0).pose().position().y())
                .isCloseTo(0.01 * c.frames().get(0).pose().position().z(), within(1e-9));
        assertThat(small.pathLength()).isCloseTo(0.01 * c.pathLength(), within(1e-9));
    }

    /**
     * As other programs write it: translation and rotateXYZ, aperture and focal length in millimetres, nothing else.
     */
    @Test
    void plainUsdIsUnderstood() throws Exception {
        Path p = folder.resolve("plain.usda");
        Files.writeString(
                p,
                "#usda 1.0\n(\n    timeCodesPerSecond = 25\n)\ndef Xform \"a\"\n{\n    def Camera \"cam\"\n "
                        + "   {\n        float focalLength = 35\n        float horizontalAperture = 24\n    "
                        + "    float verticalAperture = 13.5\n        double3 xformOp:translate.timeSamples "
                        + "= {\n            1: (0, 1.5, 4),\n            2: (0.1, 1.5, 4),\n        }\n     "
                        + "   float3 xformOp:rotateXYZ = (0, 90, 0)\n    }\n}\n");
        SolvedCamera c = CameraExchange.read(p, Reading.PLAIN);
        assertThat(c.frames()).hasSize(2);
        assertThat(c.width()).isEqualTo(1920);
        assertThat(c.height()).isEqualTo(1080);
        assertThat(c.frames().get(0).focalPx()).isCloseTo(35 / 24.0 * 1920, within(1e-6));
        // Turned by a quarter about Y it looks along -X.
        assertThat(c.frames().get(1).pose().rotation().rotate(Vec3.Z.times(-1)).x())
                .isCloseTo(-1, within(1e-9));
        assertThat(c.frames().get(1).pose().position().x()).isCloseTo(0.1, within(1e-9));
    }

    @Test
    void damagedFilesAreSaid() throws Exception {
        for (String name : List.of("a.json", "a.glb", "a.usda", "a.csv", "a.txt")) {
            Path p = folder.resolve(name);
            Files.writeString(
                    p,
                    "#usda 1.0\nthis is not a camera {{{ def Camera \"x\" { xformOp:transform.timeSamples = "
                            + "{ 1: (1,2");
            assertThatThrownBy(() -> CameraExchange.read(p, Reading.PLAIN))
                    .as(name)
                    .isInstanceOf(BadInput.class);
        }
    }
}

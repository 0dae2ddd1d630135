package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.command.Headless;
import dasein.core.format.Exr;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The commands for pipelines: what they write, and the exit codes 2 and 3 with one clear line. */
class HeadlessTest {
    @TempDir
    Path folder;

    private final PrintStream standard = System.err;
    private final ByteArrayOutputStream said = new ByteArrayOutputStream();

    @BeforeEach
    void listen() {
        System.setErr(new PrintStream(said, true, StandardCharsets.UTF_8));
    }

    @AfterEach
    void stop() {
        System.setErr(standard);
    }

    private int run(String... args) {
        said.reset();
        return Headless.run(args);
    }

    private String said() {
        return said.toString(StandardCharsets.UTF_8);
    }

    /** Lays the solved camera by picks. */
    private int set(Path picks, Path out) {
        return run(
                "set",
                "--camera",
                folder.resolve("own.json").toString(),
                "--picks",
                picks.toString(),
                "--out",
                out.toString());
    }

    private void frames(int... numbers) {
        Random r = new Random(3);
        Image im = new Image(128, 72, 3);
        for (float[] p : im.planes) for (int i = 0; i < p.length; i++) p[i] = 0.1f + 0.5f * r.nextFloat();
        for (int n : numbers) Stills.writePng(folder.resolve(String.format("plate/f%04d.png", n)), im, Encoding.SRGB);
    }

    @Test
    void badInputIsTwoAndNoSolutionIsThree() throws Exception {
        String out = folder.resolve("o.csv").toString();
        assertThat(run("track", "--plate", folder.resolve("nothing.mp4").toString(), "--out", out))
                .isEqualTo(2);
        assertThat(said()).contains("there is no file or folder").doesNotContain("\tat ");
        Files.writeString(folder.resolve("text.mp4"), "not a movie at all ".repeat(99));
        assertThat(run("track", "--plate", folder.resolve("text.mp4").toString(), "--out", out))
                .isEqualTo(2);
        frames(1, 2, 4);
        assertThat(run("track", "--plate", folder.resolve("plate").toString(), "--out", out))
                .isEqualTo(2);
        assertThat(said()).contains("frame 3 is missing");
        assertThat(run("solve", "--plate", folder.resolve("plate").toString(), "--kind", "locked", "--out", out))
                .isEqualTo(2);
        assertThat(said()).contains("--lines");
        assertThat(run("solve", "--out", out)).isEqualTo(2);
        Files.delete(folder.resolve("plate/f0004.png"));
        frames(3);
        assertThat(run("solve", "--plate", folder.resolve("plate").toString(), "--out", out))
                .isEqualTo(3);
        assertThat(said()).contains("frames");
        Image flat = new Image(128, 72, 3);
        for (float[] p : flat.planes) Arrays.fill(p, 0.3f);
        for (int f = 1; f < 9; f++) Stills.writePng(folder.resolve("flat/a" + f + ".png"), flat, Encoding.SRGB);
        assertThat(run("solve", "--plate", folder.resolve("flat").toString(), "--out", out))
                .isEqualTo(3);
        assertThat(said()).contains("no contrast").contains("say it with --rate");
        assertThat(Files.exists(Path.of(out))).isFalse();
    }

    private Path scene() throws Exception {
        frames(1, 2);
        List<SolvedCamera.Frame> f = new ArrayList<>();
        for (int n = 1; n <= 2; n++)
            f.add(new SolvedCamera.Frame(
                    n, Pose.lookAt(new Vec3(0.02 * n, 1.6, 4), new Vec3(0, 0.9, -2), Vec3.Y), 130, 0.2, 50));
        CameraFile.write(
                folder.resolve("camera.json"),
                new SolvedCamera(
                        128,
                        72,
                        new Rate(24, 1),
                        "moving",
                        0.2,
                        9,
                        new Lens(f.get(0).focalPx(), 64, 36, 0, 0),
                        f,
                        List.of()));
        Files.copy(Path.of("demo/models/mule.glb"), folder.resolve("mule.glb"));
        Path scene = folder.resolve("scene.json");
        Files.writeString(
                scene,
                "{\"plate\": {\"file\": \"plate\"}, \"camera\": {\"file\": \"camera.json\"}, "
                        + "\"performers\": [{\"model\": \"mule.glb\", \"z\": -2, \"heightMetres\": 1.8, "
                        + "\"clip\": \"rolling\"}]}");
        return scene;
    }

    /**
     * A cuboid of known size seen by a known camera, whose picks give ground, heading and true size back; and what is
     * wrong with picks is said.
     */
    @Test
    void setOnTheCommandLine() throws Exception {
        Lens lens = new Lens(1100, 640, 360, 0, 0);
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        List<Pose> real = new ArrayList<>();
        // The solve's own unit is 0.4 m, and it is turned.
        dasein.core.math.Similarity hidden = new dasein.core.math.Similarity(
                2.5, dasein.core.math.Quat.fromRotationVector(0.1, 0.8, -0.2), new Vec3(1, 2, 3));
        for (int n = 1; n <= 5; n++) {
            real.add(Pose.lookAt(new Vec3(0.3 * n, 1.7, 4), new Vec3(0, 0.5, -2), Vec3.Y));
            frames.add(new SolvedCamera.Frame(n, hidden.apply(real.get(n - 1)), 1100, 0.2, 50));
        }
        CameraFile.write(
                folder.resolve("own.json"),
                new SolvedCamera(1280, 720, new Rate(24, 1), "moving", 0.2, 9, lens, frames, List.of()));
        java.util.function.Function<Vec3, String> pick = p -> {
            double[] a = lens.project(real.get(0).toLocal(p)),
                    b = lens.project(real.get(4).toLocal(p));
            return String.format(
                    java.util.Locale.ROOT, "{\"1\": [%.4f, %.4f], \"5\": [%.4f, %.4f]}", a[0], a[1], b[0], b[1]);
        };
        Vec3 p = new Vec3(-1, 0, 0), q = new Vec3(1, 0, 0), r = new Vec3(1, 0, -3), top = new Vec3(-1, 2.1, 0);
        Path picks = folder.resolve("picks.json"), out = folder.resolve("set.json");
        Files.writeString(
                picks,
                String.format(
                        "{\"ground\": [%s, %s, %s], \"yardsticks\": [{\"name\": \"edge\", \"metres\": 2, "
                                + "\"a\": %s, \"b\": %s}, {\"metres\": 2.1, \"a\": %s}], \"origin\": %s, "
                                + "\"heading\": [%s, %s], \"vertical\": [%s, %s], \"cameraHeightMetres\": 1.7}",
                        pick.apply(p),
                        pick.apply(q),
                        pick.apply(r),
                        pick.apply(p),
                        pick.apply(q),
                        pick.apply(top),
                        pick.apply(q),
                        pick.apply(q),
                        pick.apply(r),
                        pick.apply(top),
                        pick.apply(p)));
        assertThat(set(picks, out)).as(said()).isZero();
        SolvedCamera c = CameraFile.read(out);
        for (int n = 1; n <= 5; n++)
            assertThat(c.frame(n)
                            .pose()
                            .position()
                            .distance(real.get(n - 1).position().minus(q)))
                    .isLessThan(1e-3);
        assertThat(c.measured()).isTrue();
        assertThat(Files.readString(out)).contains("\"checks\"").contains("camera height");
        Files.writeString(picks, "{\"ground\": [{\"one\": [1, 2]}]}");
        assertThat(set(picks, out)).isEqualTo(2);
        Files.writeString(picks, "{\"yardsticks\": []}");
        assertThat(set(picks, out)).isEqualTo(3);
        assertThat(said()).contains("too few solved points");
    }

    /**
     * A street in one-point perspective: the lines of depth meet in the middle, the others lie level; its camera looks
     * along the street.
     */
    @Test
    void linesAndLensOnTheCommandLine() throws Exception {
        Path lines = folder.resolve("lines.json"), camera = folder.resolve("locked.json");
        Files.writeString(
                lines,
                "{\"lines\": [{\"axis\": \"z\", \"from\": [100, 700], \"to\": [500, 420]}, {\"axis\": "
                        + "\"z\", \"from\": [1180, 700], \"to\": [780, 420]}, {\"axis\": \"y\", \"from\": "
                        + "[300, 100], \"to\": [300, 600]}, {\"axis\": \"x\", \"from\": [200, 650], \"to\": "
                        + "[900, 650]}]}");
        assertThat(run(
                        "solve",
                        "--kind",
                        "locked",
                        "--lines",
                        lines.toString(),
                        "--size",
                        "1280x720",
                        "--focal-px",
                        "1200",
                        "--out",
                        camera.toString()))
                .isEqualTo(0);
        SolvedCamera c = CameraFile.read(camera);
        assertThat(c.kind()).isEqualTo("locked");
        // The two lines of depth meet at (640, 322): the camera looks down by as much as that lies above the middle.
        Vec3 ahead = c.frames().get(0).pose().rotation().rotate(Vec3.Z.times(-1));
        assertThat(Math.toDegrees(Math.asin(ahead.y())))
                .isCloseTo(-Math.toDegrees(Math.atan(38 / 1200.0)), org.assertj.core.api.Assertions.within(0.6));
        Path lens = folder.resolve("lens.json");
        Files.writeString(
                lens,
                "{\"schema\": \"dasein-lens/1\", \"width\": 128, \"height\": 72, \"focalPx\": 140, "
                        + "\"centrePx\": [64, 36], \"k1\": -0.1}");
        assertThat(run(
                        "lens",
                        "stmap",
                        "--lens",
                        lens.toString(),
                        "--size",
                        "128x72",
                        "--undistort",
                        folder.resolve("u.exr").toString(),
                        "--redistort",
                        folder.resolve("r.exr").toString()))
                .isEqualTo(0);
        assertThat(dasein.core.format.Exr.read(folder.resolve("u.exr")).width()).isGreaterThan(128);
        assertThat(run(
                        "lens",
                        "stmap",
                        "--lens",
                        lens.toString(),
                        "--size",
                        "100x100",
                        "--undistort",
                        "u.exr",
                        "--redistort",
                        "r.exr"))
                .isEqualTo(2);
        assertThat(said()).contains("another shape");
    }

    @Test
    void rendersAndCompsAScene() throws Exception {
        Path scene = scene();
        assertThat(run(
                        "render",
                        "--scene",
                        scene.toString(),
                        "--frames",
                        "1-2",
                        "--samples",
                        "4",
                        "--deep",
                        "--out",
                        folder.resolve("passes").toString()))
                .as(said())
                .isZero();
        assertThat(folder.resolve("passes/deep/0002.exr")).isNotEmptyFile();
        assertThat(Exr.read(folder.resolve("passes/raw/0002.exr")).planes()).containsKeys("spread.shadow", "forward.U");
        Exr.Channels c = Exr.read(folder.resolve("passes/0002.exr"));
        assertThat(c.planes())
                .containsKeys(
                        "R",
                        "G",
                        "B",
                        "A",
                        "Z",
                        "shadow.R",
                        "bounce.R",
                        "reflection.R",
                        "ao.Y",
                        "normal.X",
                        "motion.U",
                        "performer.id");
        assertThat(run(
                        "comp",
                        "--scene",
                        scene.toString(),
                        "--passes",
                        folder.resolve("passes").toString(),
                        "--out",
                        folder.resolve("done").toString()))
                .as(said())
                .isZero();
        Image done = Stills.read(folder.resolve("done/0001.png"), Encoding.SRGB),
                plate = Stills.read(folder.resolve("plate/f0001.png"), Encoding.SRGB);
        assertThat(done.get(2, 2, 0)).isEqualTo(plate.get(2, 2, 0));
        assertThat(Math.abs(done.get(64, 40, 1) - plate.get(64, 40, 1)))
                .as("the mule is in the picture")
                .isGreaterThan(0.01f);
        assertThat(run(
                        "comp",
                        "--scene",
                        scene.toString(),
                        "--passes",
                        folder.resolve("passes").toString(),
                        "--out",
                        folder.resolve("done.mp4").toString()))
                .isZero();
        assertThat(Files.size(folder.resolve("done.mp4"))).isPositive();
    }

    @Test
    void badScenesAreSaid() throws Exception {
        Path scene = scene();
        Files.writeString(folder.resolve("typo.json"), Files.readString(scene).replace("\"performers\"", "\"actors\""));
        // What is not known may come from another version: it is said, and does nothing.
        assertThat(run(
                        "render",
                        "--scene",
                        folder.resolve("typo.json").toString(),
                        "--frames",
                        "1",
                        "--samples",
                        "1",
                        "--out",
                        folder.resolve("typo").toString()))
                .isZero();
        assertThat(said()).contains("actors");
        assertThat(run("render", "--scene", scene.toString(), "--frames", "5", "--out", "x"))
                .isEqualTo(2);
        assertThat(run("render", "--scene", scene.toString(), "--frames", "one", "--out", "x"))
                .isEqualTo(2);
        Files.writeString(folder.resolve("gone.json"), Files.readString(scene).replace("mule.glb", "lost.glb"));
        assertThat(run("render", "--scene", folder.resolve("gone.json").toString(), "--frames", "1", "--out", "x"))
                .isEqualTo(2);
        assertThat(said()).contains("lost.glb");
        dasein.core.render.pass.Passes other = new dasein.core.render.pass.Passes(100, 100);
        other.write(folder.resolve("odd/0001.exr"));
        assertThat(run(
                        "comp",
                        "--scene",
                        scene.toString(),
                        "--passes",
                        folder.resolve("odd").toString(),
                        "--out",
                        folder.resolve("x").toString()))
                .isEqualTo(2);
        assertThat(said()).contains("100 x 100");
    }
}

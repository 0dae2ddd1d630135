package dasein.app.command;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.format.Exr;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.light.Environment;
import dasein.core.light.Sun;
import dasein.core.light.SunSearch;
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
import java.util.List;
import java.util.Locale;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** {@code dasein light …} for pipelines: the files it writes, exit codes and sentences. */
class LightCommandTest {
    private static final String STOPS = "0,2,4,-2,-4";

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
        String[] all = new String[args.length + 1];
        all[0] = "light";
        System.arraycopy(args, 0, all, 1, args.length);
        return Headless.run(all);
    }

    private void refused(String with, String... args) {
        assertThat(run(args)).isEqualTo(Console.BAD_INPUT);
        assertThat(said.toString(StandardCharsets.UTF_8)).contains(with);
    }

    private Path ball() throws Exception {
        Path to = Files.createDirectories(folder.resolve("ball"));
        try (var list = Files.list(Path.of("demo/kit"))) {
            for (Path p : list.filter(k -> k.getFileName().toString().matches("ball_.\\d_stops.jpg"))
                    .toList()) Files.copy(p, to.resolve(p.getFileName()));
        }
        return to;
    }

    private String out(String name) {
        return folder.resolve(name).toString();
    }

    private JsonNode json(String name) throws Exception {
        return new JsonMapper().readTree(Files.readString(folder.resolve(name)));
    }

    @Test
    void ballBecomesAMapAndItsSunIsMended() throws Exception {
        String photos = ball().toString();
        int done = run(
                "ball",
                "--photos",
                photos,
                "--stops",
                STOPS,
                "--field-deg",
                "6.17",
                "--reflectance",
                "0.78",
                "--size",
                "256",
                "--sun-ratio",
                "2.2",
                "--out",
                out("map.exr"));
        assertThat(done).isZero();
        assertThat(said.toString(StandardCharsets.UTF_8)).contains("cut off in every photograph", "the sun gives");
        Image map = Exr.readColour(folder.resolve("map.exr"));
        assertThat(map.width).isEqualTo(256);
        SunSearch.Found f = SunSearch.in(map);
        float[] sky = new Environment(f.rest(), 0, 1).irradiance(Vec3.Y);
        assertThat(1 + f.sun().irradiance()[1] * f.sun().towards().y() / sky[1]).isCloseTo(2.2, within(0.15));
        refused("stops for 2", "ball", "--photos", photos, "--stops", "0,2", "--out", out("no.exr"));
        refused("exposed the same", "ball", "--photos", photos, "--stops", "0,0,0,0,0", "--out", out("no.exr"));
        refused("another order", "ball", "--photos", photos, "--stops", "-4,-2,0,2,4", "--out", out("no.exr"));
        refused("how it was exposed", "ball", "--photos", photos, "--out", out("no.exr"));
        refused(
                "exclude each other",
                "ball",
                "--photos",
                photos,
                "--stops",
                STOPS,
                "--ortho",
                "--field-deg",
                "6",
                "--out",
                out("no.exr"));
        refused(
                "no photographs",
                "ball",
                "--photos",
                Files.createDirectories(folder.resolve("empty")).toString(),
                "--out",
                out("no.exr"));
        assertThat(folder.resolve("no.exr")).doesNotExist();
    }

    @Test
    void mergeWritesLightAndTheCamerasResponse() throws Exception {
        assertThat(run(
                        "merge",
                        "--photos",
                        ball().toString(),
                        "--stops",
                        STOPS,
                        "--out",
                        out("merged.exr"),
                        "--response-out",
                        out("response.json")))
                .isZero();
        JsonNode table = json("response.json").path("table");
        assertThat(table.size()).isEqualTo(3);
        assertThat(table.get(1).size()).isEqualTo(256);
        assertThat(table.get(1).get(255).asDouble()).isEqualTo(1);
        assertThat(Exr.readColour(folder.resolve("merged.exr")).width).isEqualTo(560);
        // What was found can be given back.
        assertThat(run(
                        "merge",
                        "--photos",
                        out("ball"),
                        "--stops",
                        STOPS,
                        "--response",
                        out("response.json"),
                        "--out",
                        out("again.exr")))
                .isZero();
        refused(
                "cannot be read",
                "merge",
                "--photos",
                out("ball"),
                "--response",
                out("none.json"),
                "--stops",
                STOPS,
                "--out",
                out("no.exr"));
    }

    @Test
    void chartIsWrittenInItsForm() throws Exception {
        assertThat(run("chart", "--photo", "demo/kit/chart.jpg", "--out", out("chart.json")))
                .isZero();
        JsonNode c = json("chart.json");
        assertThat(c.path("matrix").size()).isEqualTo(9);
        assertThat(c.path("deltaE").path("mean").asDouble()).isLessThan(1);
        assertThat(c.path("corners").size()).isEqualTo(4);
        List<String> xy = new ArrayList<>();
        c.path("corners")
                .forEach(p -> xy.add(p.get(0).asDouble() + "," + p.get(1).asDouble()));
        assertThat(run(
                        "chart",
                        "--photo",
                        "demo/kit/chart.jpg",
                        "--corners",
                        String.join(",", xy),
                        "--out",
                        out("same.json")))
                .isZero();
        assertThat(json("same.json").path("deltaE").path("mean").asDouble())
                .isCloseTo(c.path("deltaE").path("mean").asDouble(), within(1e-6));
        refused(
                "eight numbers",
                "chart",
                "--photo",
                "demo/kit/chart.jpg",
                "--corners",
                "1,2,3",
                "--out",
                out("no.json"));
        refused(
                "no chart",
                "chart",
                "--photo",
                ball().resolve("ball_+0_stops.jpg").toString(),
                "--out",
                out("no.json"));
    }

    @Test
    void sunFromPlaceAndTimeAndFromShadows() throws Exception {
        assertThat(run(
                        "sun",
                        "--place",
                        "39.742476,-105.1786,1830",
                        "--time",
                        "2003-10-17T12:30:30-07:00",
                        "--out",
                        out("sun.json")))
                .isZero();
        // The report's zenith of 50.11162 and azimuth of 194.34024, but for air of another pressure and warmth.
        assertThat(json("sun.json").path("elevationDeg").asDouble()).isCloseTo(90 - 50.1116, within(0.002));
        assertThat(json("sun.json").path("azimuthDeg").asDouble()).isCloseTo(194.3402 - 360, within(0.002));
        CameraFile.write(folder.resolve("camera.json"), camera());
        Vec3 sun = Sun.direction(Math.toRadians(40), Math.toRadians(-60));
        Vec3 foot = new Vec3(-0.8, 0, -6), top = foot.plus(new Vec3(0, 2, 0)), tip = top.minus(sun.times(2 / sun.y()));
        Files.writeString(
                folder.resolve("shadows.json"),
                "{\"lines\": [{\"name\": \"pole\", \"frame\": 1, \"foot\": " + px(foot) + ", \"top\": " + px(top)
                        + ", \"tip\": " + px(tip) + "}]}");
        assertThat(run("sun", "--camera", out("camera.json"), "--lines", out("shadows.json"), "--out", out("sun.json")))
                .isZero();
        assertThat(json("sun.json").path("elevationDeg").asDouble()).isCloseTo(40, within(0.01));
        assertThat(json("sun.json").path("azimuthDeg").asDouble()).isCloseTo(-60, within(0.01));
        refused(
                "below the ground",
                "sun",
                "--place",
                "50,10",
                "--time",
                "2026-06-21T00:15:00+02:00",
                "--out",
                out("no.json"));
        refused("must be like", "sun", "--place", "50,10", "--time", "yesterday", "--out", out("no.json"));
        refused("latitude", "sun", "--place", "95,10", "--time", "2026-06-21T10:15:00+02:00", "--out", out("no.json"));
    }

    /** Of LW_050, from a tripod. */
    private static SolvedCamera camera() {
        Pose p = Pose.lookAt(new Vec3(1.5, 1.7, -1.2), new Vec3(-0.3, 0.6, -6.6), Vec3.Y);
        double focal = 28 / 24.9 * 960;
        List<SolvedCamera.Frame> f = new ArrayList<>();
        for (int k = 1; k <= 8; k++) f.add(new SolvedCamera.Frame(k, p, focal, 0.1, 50));
        return new SolvedCamera(
                960,
                540,
                new Rate(24, 1),
                "locked",
                0.1,
                0,
                new Lens(focal, 480, 270, -0.08, 0),
                f,
                List.of(),
                1,
                List.of());
    }

    private static String px(Vec3 p) {
        SolvedCamera c = camera();
        double[] q = c.lens().project(c.frame(1).pose().toLocal(p));
        return String.format(Locale.ROOT, "[%.3f, %.3f]", q[0], q[1]);
    }

    @Test
    void plateAndSkyGiveMapsAndLevelMatchesThem() throws Exception {
        CameraFile.write(folder.resolve("camera.json"), camera());
        assertThat(run(
                        "plate",
                        "--plate",
                        "demo/LW_050.mp4",
                        "--camera",
                        out("camera.json"),
                        "--place",
                        "0,1,-5",
                        "--size",
                        "128",
                        "--out",
                        out("plate.exr")))
                .isZero();
        assertThat(said.toString(StandardCharsets.UTF_8)).contains("All else is a guess");
        assertThat(run(
                        "sky",
                        "--azimuth-deg",
                        "-50",
                        "--elevation-deg",
                        "41",
                        "--sun-ratio",
                        "3",
                        "--size",
                        "512",
                        "--out",
                        out("sky.exr")))
                .isZero();
        Files.writeString(
                folder.resolve("swatches.json"),
                "{\"swatches\": [{\"of\": \"ground\", \"frame\": 1, \"at\": [420, 420], \"albedo\": 0.3}]}");
        assertThat(run(
                        "level",
                        "--plate",
                        "demo/LW_050.mp4",
                        "--map",
                        out("sky.exr"),
                        "--swatches",
                        out("swatches.json"),
                        "--out",
                        out("level.json"),
                        "--map-out",
                        out("levelled.exr")))
                .isZero();
        double stops = json("level.json").path("mapStops").asDouble();
        // At its new level the map shows that ground just as it was filmed: nothing is left to be done.
        assertThat(run(
                        "level",
                        "--plate",
                        "demo/LW_050.mp4",
                        "--map",
                        out("levelled.exr"),
                        "--swatches",
                        out("swatches.json"),
                        "--out",
                        out("level.json")))
                .isZero();
        assertThat(Math.abs(json("level.json").path("mapStops").asDouble())).isLessThan(0.02 + 0.02 * Math.abs(stops));
        refused(
                "outside the picture",
                "plate",
                "--plate",
                "demo/LW_050.mp4",
                "--camera",
                out("camera.json"),
                "--lit",
                "1,5000,20",
                "--out",
                out("no.exr"));
        refused("turbidity", "sky", "--turbidity", "40", "--out", out("no.exr"));
        refused("even number", "sky", "--size", "77", "--out", out("no.exr"));
    }

    @Test
    void panoramasAreLevelledAndFilled() {
        assertThat(run(
                        "pano",
                        "--in",
                        "demo/kit/slipway_latlong.exr",
                        "--size",
                        "256",
                        "--tripod-deg",
                        "12",
                        "--horizon",
                        "40,64;150,64;210,64",
                        "--out",
                        out("pano.exr")))
                .isZero();
        assertThat(said.toString(StandardCharsets.UTF_8)).contains("tilted by 0.00 degrees");
        assertThat(Exr.readColour(folder.resolve("pano.exr")).width).isEqualTo(256);
        refused("six faces", "pano", "--in", "demo/kit", "--out", out("no.exr"));
        refused(
                "two upright lines",
                "pano",
                "--in",
                "demo/kit/slipway_latlong.exr",
                "--size",
                "256",
                "--verticals",
                "10,20,12,90",
                "--out",
                out("no.exr"));
        refused("twice as wide", "pano", "--in", "demo/kit/chart.jpg", "--out", out("no.exr"));
    }
}

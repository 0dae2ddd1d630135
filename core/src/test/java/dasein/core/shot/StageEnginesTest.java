package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.Progress;
import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.cast.Route;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.format.MovieReader;
import dasein.core.format.MovieWriter;
import dasein.core.format.Stills;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.file.ModelReader;
import dasein.core.plate.Plate;
import dasein.core.plate.PlateHealth;
import dasein.core.plate.Rate;
import dasein.core.presence.Bare;
import dasein.core.presence.Check;
import dasein.core.presence.Checks;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import dasein.core.solve.ObjectSolver;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.DrawnMask;
import dasein.core.track.HandMark;
import dasein.core.track.HandTracker;
import dasein.core.track.PlaneTracker;
import dasein.core.track.Track;
import java.awt.image.BufferedImage;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * The other kinds of results, as {@link EngineTest} holds those that take longest: a figure for each engine's number.
 */
class StageEnginesTest {
    private static final int W = 160, H = 120, FRAMES = 6;
    private static final Map<String, String> GOLDEN = Map.ofEntries(
            Map.entry("blocking", "1: 0.332 -0.719 8.67e+04"),
            Map.entry("colours", "1: 1.00 1.54e+08"),
            Map.entry("health", "2: 23.7 0.00"),
            Map.entry("marks", "1: 463 374"),
            Map.entry("object", "1: 24.0 0.0409 -1.98"),
            Map.entry("output", "1: 4.00 6.27e+03"),
            Map.entry("planes", "1: 6.00 -6.50 3.50"),
            Map.entry("plate", "1: 0.413 0.332 6.00"),
            Map.entry("presence", "6: rate 24.0 untouched 1.00 catcher 40.0"),
            Map.entry("standing", "2: GUUUUUUUUUUU"));

    @TempDir
    Path folder;

    private static String said(double... v) {
        StringBuilder b = new StringBuilder();
        for (double d : v) b.append(String.format(Locale.ROOT, "%.3g ", d));
        return b.toString().trim();
    }

    /** Blotches that go to the left and down. */
    private static float[] blotches(int f) {
        float[] g = new float[W * H];
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++) {
                double u = x + 1.3 * f, v = y - 0.7 * f;
                g[y * W + x] = (float) (110
                        + 35 * Math.sin(0.31 * u) * Math.cos(0.27 * v)
                        + 35 * Math.sin(0.11 * u + 0.19 * v + 2 * Math.sin(0.05 * u)));
            }
        return g;
    }

    private static SolvedCamera camera() {
        List<SolvedCamera.Frame> f = new ArrayList<>();
        for (int n = 1; n <= 24; n++)
            f.add(new SolvedCamera.Frame(
                    n, Pose.lookAt(new Vec3(0.08 * n, 1.6, 4), new Vec3(0, 0.5, -3), Vec3.Y), 150, 0.2, 50));
        return new SolvedCamera(
                W, H, new Rate(24, 1), "moving", 0.2, 9, new Lens(150, W / 2.0, H / 2.0, -0.05, 0), f, List.of());
    }

    private static Image painted(int f) {
        float[] g = blotches(f);
        float[][] p = new float[3][W * H];
        for (int c = 0; c < 3; c++) for (int i = 0; i < g.length; i++) p[c][i] = g[i] / (300f + 40 * c);
        return new Image(W, H, p);
    }

    private Plate plate() throws Exception {
        Files.createDirectories(folder.resolve("plate"));
        for (int f = 1; f <= FRAMES; f++)
            Stills.writePng(folder.resolve("plate/a" + f + ".png"), painted(f), Encoding.SRGB);
        return Plate.open(folder.resolve("plate"), null, new Rate(24, 1));
    }

    /** A box of marks that drives and turns before the camera. */
    private static ObjectSolver.Result thing() {
        SolvedCamera c = camera();
        Random r = new Random(4);
        List<Track> tracks = new ArrayList<>();
        for (int id = 1; id <= 60; id++) {
            Vec3 p = new Vec3(1.6 * r.nextDouble() - 0.8, r.nextDouble(), 1.6 * r.nextDouble() - 0.8);
            double[] x = new double[24], y = new double[24];
            int[] frames = new int[24];
            for (int f = 1; f <= 24; f++) {
                Pose at = new Pose(
                        dasein.core.math.Quat.axisAngle(Vec3.Y, 0.03 * f), new Vec3(-0.6 + 0.05 * f, 0.2, -1.5));
                double[] q = c.lens(f).project(c.pose(f).toLocal(at.toWorld(p)));
                frames[f - 1] = f;
                x[f - 1] = q[0] + 0.03 * r.nextGaussian();
                y[f - 1] = q[1] + 0.03 * r.nextGaussian();
            }
            tracks.add(new Track(id, frames, x, y));
        }
        return ObjectSolver.solve(tracks, c, 6, Progress.NONE);
    }

    /** A dark blot of shadow that the catcher's edge cuts. */
    private static Check.Frame shaded() {
        Passes p = new Passes(W, H);
        for (int y = 60; y < 110; y++) for (int x = 30; x < 120; x++) for (float[] s : p.shadow) s[y * W + x] = 0.6f;
        Pose pose = Pose.lookAt(new Vec3(0, 1.6, 4), new Vec3(0, 0, 0), Vec3.Y);
        Image plate = painted(1), done = Comp.frame(plate, p, CompRecipe.BLANK, Encoding.SRGB, 1, 1);
        done.planes[0][3] += 0.01f;
        return new Check.Frame(
                1,
                plate,
                p,
                done,
                new View(pose, pose, new Lens(150, W / 2.0, H / 2.0, 0, 0), W, H),
                new SetRecipe.Catcher(0, 0, 2, 2),
                0,
                0,
                false);
    }

    private static double sum(double[] v) {
        return Arrays.stream(v).sum();
    }

    @Test
    void whoChangesAResultRaisesItsEngine() throws Exception {
        Map<String, String> now = new LinkedHashMap<>();
        Plate plate = plate();
        now.put("plate", said(plate.frame(2).planes[0][1234], plate.frame(5).planes[2][4321], plate.count()));
        PlateHealth health = PlateHealth.of(plate, 1, FRAMES, Progress.NONE);
        now.put("health", said(sum(health.change()), health.repeated().size()));
        Track mark = new HandTracker(StageEnginesTest::blotches, W, H)
                .follow(
                        new HandMark(
                                1, "a", 9, 12, HandMark.Motion.AFFINE, List.of(new HandMark.Fix(1, 80.5, 60.5)), 1, 6),
                        Progress.NONE);
        now.put("marks", said(sum(mark.x()), sum(mark.y())));
        var surface = new PlaneTracker(StageEnginesTest::blotches, W, H)
                .follow(
                        new DrawnMask(
                                1,
                                "wall",
                                0,
                                DrawnMask.Carry.PLANE,
                                List.of(new DrawnMask.Key(1, List.of(50., 40., 110., 40., 110., 80., 50., 80.)))),
                        HandMark.Motion.AFFINE,
                        1,
                        6,
                        f -> null,
                        Progress.NONE);
        double[] moved = surface.lastEntry().getValue();
        now.put("planes", said(surface.size(), moved[2], moved[5]));
        placed(now);
        shown(now);
        now.replaceAll((kind, figure) -> Prints.ENGINE.get(kind) + ": " + figure);
        assertThat(now)
                .as("if a figure is meant to change: raise Prints.ENGINE of its kind, then note it here")
                .containsExactlyInAnyOrderEntriesOf(GOLDEN);
    }

    private static void placed(Map<String, String> now) {
        ObjectSolver.Result thing = thing();
        now.put(
                "object",
                said(
                        thing.frames().size(),
                        thing.rmsPx(),
                        thing.frames().get(23).objectToWorld().position().z()));
        Piece floor = new Piece(
                1, "floor", Piece.Kind.FLOOR, 0, 0, -1, 0, 3, 0, 3, 0, List.of(), List.of(Piece.Role.SHADOW), 0.3, 1);
        PieceColours.Result colours = PieceColours.of(
                SetRecipe.BLANK.withPieces(List.of(floor)),
                camera(),
                Map.of(),
                Map.of(),
                StageEnginesTest::painted,
                Progress.NONE);
        BufferedImage texture = colours.model().materials()[0].baseTexture().image();
        double red = 0;
        for (int y = 0; y < texture.getHeight(); y++)
            for (int x = 0; x < texture.getWidth(); x++) red += texture.getRGB(x, y) >> 16 & 255;
        now.put("colours", said(colours.seen().get(1), red));
        Performer walker = new Performer(1, "strider", "w", 0, 0, 0, 0, 2.4, "walk", 0, 1, true)
                .with(new Route(List.of(0., 0., 1., -2., 2., -3.), 1, 1, true));
        Blocking b = new Blocking(
                List.of(walker),
                Map.of("w", ModelReader.read(Path.of("demo/models/strider.glb"))),
                1,
                24,
                Blocking.Around.NOTHING);
        double places = 0;
        for (float v : b.meshes(20, 20.5).get(0).position1()) places += Math.abs(v);
        now.put("blocking", said(b.foot(1, 20).x(), b.foot(1, 20).z(), places));
    }

    private void shown(Map<String, String> now) {
        Subject bare = new Bare().subject();
        List<String> findings = new ArrayList<>();
        for (Check c : Checks.all()) {
            c.look(shaded(), bare);
            Finding f = c.finding(bare);
            if (f.figure() != 0) findings.add(f.key() + " " + said(f.figure()));
        }
        now.put("presence", String.join(" ", findings));
        now.put(
                "standing",
                Checks.layout().stream()
                        .map(c -> c.finding(bare).state().name().substring(0, 1))
                        .collect(Collectors.joining()));
        Path movie = folder.resolve("m.mp4");
        try (MovieWriter w = new MovieWriter(movie, W, H, 24, 1, Encoding.REC709, 2_000_000)) {
            for (int f = 1; f <= 4; f++) w.write(painted(f));
            w.finish();
        }
        try (MovieReader r = new MovieReader(movie)) {
            double light = 0;
            for (float v : r.read(2, Encoding.REC709).planes[1]) light += v;
            now.put("output", said(r.frameCount, light));
        }
    }
}

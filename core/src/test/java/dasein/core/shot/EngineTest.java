package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.Progress;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.ground.GroundFit;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.SunSearch;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.plate.Plate;
import dasein.core.plate.Rate;
import dasein.core.render.CatcherLook;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import dasein.core.solve.CameraSolver;
import dasein.core.solve.SolveSettings;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Results outlive the code that made them: whoever changes what comes out must raise the engine's number of that kind,
 * so that what is kept is computed anew. Figures are rounded to what no processor changes.
 */
class EngineTest {
    /** By kind: the engine's number, and the figure that it gives. */
    private static final Map<String, String> GOLDEN = Map.of(
            "tracks", "1: 169 1.05e+05 8.11e+04",
            "camera", "3: 898 0.270 141",
            "set", "2: 0.0373 -0.0533 5.31",
            "light", "1: 3.09 0.00 4.09e+03",
            "passes", "6: 140 1.22e+04 2.84 637",
            "comp", "2: 3.62e+03 3.54e+03");

    @TempDir
    Path folder;

    private static double sum(float[] v) {
        double s = 0;
        for (int i = 0; i < v.length; i++) if (Float.isFinite(v[i])) s += v[i] * (1 + i % 7);
        return s;
    }

    private static String said(double... v) {
        StringBuilder b = new StringBuilder();
        for (double d : v) b.append(String.format(Locale.ROOT, "%.3g ", d));
        return b.toString().trim();
    }

    /** A picture of blotches, shifted a little more in every frame. */
    private List<Track> tracks() throws Exception {
        Files.createDirectories(folder.resolve("plate"));
        for (int f = 1; f <= 8; f++) {
            Image im = new Image(160, 120, 3);
            for (int y = 0; y < 120; y++)
                for (int x = 0; x < 160; x++) {
                    double u = x + 1.3 * f, v = y - 0.7 * f;
                    float g = (float) (0.4
                            + 0.12 * Math.sin(0.31 * u) * Math.cos(0.27 * v)
                            + 0.12 * Math.sin(0.11 * u + 0.19 * v + 2 * Math.sin(0.05 * u)));
                    for (int c = 0; c < 3; c++) im.planes[c][y * 160 + x] = g;
                }
            dasein.core.format.Stills.writePng(folder.resolve(String.format("plate/a%04d.png", f)), im, Encoding.SRGB);
        }
        try (Plate p = Plate.open(folder.resolve("plate"), null, new Rate(24, 1))) {
            return ShotSteps.tracks(Shot.BLANK, p, null, Progress.NONE);
        }
    }

    private static SolvedCamera camera() {
        Random r = new Random(11);
        Lens lens = new Lens(900, 480, 270, -0.05, 0);
        List<Track> tracks = new ArrayList<>();
        for (int id = 1; id <= 160; id++) {
            Vec3 at = new Vec3(8 * r.nextDouble() - 4, id % 2 == 0 ? 0 : 2.5 * r.nextDouble(), -4 - 7 * r.nextDouble());
            List<Integer> frames = new ArrayList<>();
            List<double[]> seen = new ArrayList<>();
            for (int f = 1; f <= 30; f++) {
                Vec3 eye = new Vec3(0.07 * f, 1.6 + 0.01 * Math.sin(f), -0.03 * f);
                double[] q = lens.project(
                        Pose.lookAt(eye, new Vec3(0.3, 0.6, -7), Vec3.Y).toLocal(at));
                if (q == null || q[0] < 0 || q[1] < 0 || q[0] > 960 || q[1] > 540) continue;
                frames.add(f);
                seen.add(new double[] {q[0] + 0.2 * r.nextGaussian(), q[1] + 0.2 * r.nextGaussian()});
            }
            if (frames.size() > 8)
                tracks.add(new Track(
                        id,
                        frames.stream().mapToInt(k -> k).toArray(),
                        seen.stream().mapToDouble(q -> q[0]).toArray(),
                        seen.stream().mapToDouble(q -> q[1]).toArray(),
                        null));
        }
        return CameraSolver.solve(tracks, 960, 540, new Rate(24, 1), SolveSettings.UNKNOWN, Progress.NONE);
    }

    private static Mesh mesh(Mesh.Role role, float... xyz) {
        int n = xyz.length / 9;
        int[] index = new int[3 * n];
        float[] normal = new float[9 * n];
        for (int i = 0; i < index.length; i++) index[i] = i;
        for (int t = 0; t < n; t++) {
            Vec3 a = new Vec3(xyz[9 * t], xyz[9 * t + 1], xyz[9 * t + 2]),
                    b = new Vec3(xyz[9 * t + 3], xyz[9 * t + 4], xyz[9 * t + 5]),
                    c = new Vec3(xyz[9 * t + 6], xyz[9 * t + 7], xyz[9 * t + 8]),
                    k = b.minus(a).cross(c.minus(a)).unit();
            for (int v = 0; v < 3; v++) {
                normal[9 * t + 3 * v] = (float) k.x();
                normal[9 * t + 3 * v + 1] = (float) k.y();
                normal[9 * t + 3 * v + 2] = (float) k.z();
            }
        }
        return new Mesh(
                xyz,
                xyz,
                normal,
                normal,
                new float[6 * n],
                index,
                new int[n],
                new Material[] {Material.matt(0.4f, 0.3f, 0.2f)},
                role == Mesh.Role.PERFORMER ? 1 : 0,
                role);
    }

    private static Passes passes() {
        Image sky = new Image(32, 16, 3);
        for (float[] p : sky.planes) Arrays.fill(p, 0.3f);
        Sun sun = new Sun(new Vec3(0.5, 1, 0.4).unit(), Math.toRadians(1), new float[] {2, 1.8f, 1.5f});
        Pose pose = Pose.lookAt(new Vec3(0, 1.6, 3), new Vec3(0, 0.4, 0), Vec3.Y);
        return FrameRenderer.render(
                new FrameRenderer.Job(
                        List.of(
                                mesh(Mesh.Role.CATCHER, -9, 0, 9, 9, 0, 9, 9, 0, -9, -9, 0, 9, 9, 0, -9, -9, 0, -9),
                                mesh(Mesh.Role.PERFORMER, -0.5f, 0, 0, 0.5f, 0, 0, 0, 1, 0)),
                        new Lighting(new Environment(sky, 0, 1), List.of(sun)),
                        new View(pose, pose, new Lens(60, 32, 24, 0, 0), 64, 48),
                        (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.4f),
                        CatcherLook.DRY,
                        new Quality(4, 4, 0, 2, true),
                        false,
                        0.5,
                        5),
                Progress.NONE,
                null);
    }

    @Test
    void whoChangesAResultRaisesItsEngine() throws Exception {
        Map<String, String> now = new LinkedHashMap<>();
        List<Track> tracks = tracks();
        now.put(
                "tracks",
                said(
                        tracks.size(),
                        tracks.stream()
                                .mapToDouble(t -> Arrays.stream(t.x()).sum())
                                .sum(),
                        tracks.stream()
                                .mapToDouble(t -> Arrays.stream(t.y()).sum())
                                .sum()));
        SolvedCamera c = camera();
        now.put("camera", said(c.lens().focalPx(), c.rmsPx(), c.points().size()));
        now.put(
                "set",
                said(GroundFit.fit(c, SetRecipe.BLANK).toSet().apply(Vec3.ZERO).array()));
        Image map = new Image(64, 32, 3);
        for (float[] p : map.planes) Arrays.fill(p, 0.5f);
        for (float[] p : map.planes) p[9 * 64 + 20] = 400;
        SunSearch.Found sun = SunSearch.in(map);
        now.put("light", said(sun.sun().irradiance()[0], sun.sun().angleRadians(), sum(sun.rest().planes[0])));
        Passes p = passes();
        now.put("passes", said(sum(p.beauty[0]), sum(p.shadow[1]), sum(p.bounce[2]), sum(p.alpha)));
        Image plate = new Image(64, 48, 3);
        for (float[] v : plate.planes) Arrays.fill(v, 0.3f);
        Image done = Comp.frame(plate, p, CompRecipe.BLANK, Encoding.REC709, 1, 5);
        now.put("comp", said(sum(done.planes[0]), sum(done.planes[2])));
        now.replaceAll((kind, figure) -> Prints.ENGINE.get(kind) + ": " + figure);
        assertThat(now)
                .as("if a figure is meant to change: raise Prints.ENGINE of its kind, then note it here")
                .containsExactlyInAnyOrderEntriesOf(GOLDEN);
    }
}

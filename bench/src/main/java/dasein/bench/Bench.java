package dasein.bench;

import dasein.core.Progress;
import dasein.core.cast.Performer;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.LightRecipe;
import dasein.core.model.Model;
import dasein.core.model.file.ModelReader;
import dasein.core.plate.Plate;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.BundleBench;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.AutoTracker;
import dasein.core.track.Track;
import dasein.core.track.TrackSettings;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;

/** Speed on this machine, printed; what a general library does stands beside ours, measured in the same run. */
public final class Bench {
    private static final Path MOVIE = Path.of("demo/LW_010.mp4");

    private Bench() {}

    private static double seconds(Callable<?> work) throws Exception {
        long t = System.nanoTime();
        work.call();
        return (System.nanoTime() - t) / 1e9;
    }

    /** Best of several, after the compiler has had its time. */
    private static double best(int times, Callable<?> work) throws Exception {
        double b = Double.MAX_VALUE;
        for (int i = 0; i < times; i++) b = Math.min(b, seconds(work));
        return b;
    }

    public static void main(String[] args) throws Exception {
        System.out.printf(
                "%d cores, Java %s, heap at most %d MB%n",
                Runtime.getRuntime().availableProcessors(),
                System.getProperty("java.version"),
                Runtime.getRuntime().maxMemory() >> 20);
        String only = args.length > 0 ? args[0] : "";
        if (only.isEmpty() || only.equals("pose")) PoseBench.run();
        if (only.isEmpty() || only.equals("flock")) FlockBench.run();
        if (only.isEmpty() || only.equals("tracking") || only.equals("speed")) TrackBench.run(only.equals("speed"));
        if (only.isEmpty() || only.equals("plate")) PlateBench.run();
        if (only.isEmpty() || only.equals("rays")) {
            String library = System.getenv("DASEIN_RAY_BENCH");
            RayBench.run(library == null ? null : Path.of(library));
        }
        if (only.equals("bundle")) {
            String library = System.getenv("DASEIN_BUNDLE_BENCH");
            BundleBench.run(library == null ? null : Path.of(library));
        }
        if (!only.isEmpty() && !List.of("frame", "curve", "over", "comp").contains(only)) return;
        List<Track> tracks = tracking();
        SolvedCamera solved = solving(tracks);
        rendering(solved, only);
    }

    private static List<Track> tracking() throws Exception {
        List<Track> tracks = new ArrayList<>();
        double cold = seconds(() -> {
            try (Plate p = Plate.open(MOVIE, null, null)) {
                tracks.addAll(AutoTracker.track(p, p.first(), p.last(), null, TrackSettings.DEFAULT, Progress.NONE));
            }
            return null;
        });
        long sightings = tracks.stream().mapToLong(Track::length).sum();
        double warm = seconds(() -> {
            try (Plate p = Plate.open(MOVIE, null, null)) {
                return AutoTracker.track(p, p.first(), p.last(), null, TrackSettings.DEFAULT, Progress.NONE);
            }
        });
        System.out.printf(
                "tracking LW_010, decoding and detection included: %.1f s cold, %.1f s warm; %,d sightings, "
                        + "%,.0f a second%n",
                cold, warm, sightings, sightings / warm);
        return tracks;
    }

    private static SolvedCamera solving(List<Track> tracks) throws Exception {
        SolvedCamera[] out = new SolvedCamera[1];
        Plate p = Plate.open(MOVIE, null, null);
        double cold = seconds(() -> out[0] = ShotSteps.camera(Shot.BLANK, tracks, p, null, null, Progress.NONE));
        double warm = seconds(() -> ShotSteps.camera(Shot.BLANK, tracks, p, null, null, Progress.NONE));
        System.out.printf(
                "solve of %d tracks over %d frames: %.1f s cold, %.1f s warm; %.3f px RMS%n",
                tracks.size(), out[0].frames().size(), cold, warm, out[0].rmsPx());
        List<Track> less = tracks.subList(5, tracks.size());
        double again = seconds(() -> ShotSteps.camera(Shot.BLANK, less, p, out[0], null, Progress.NONE));
        System.out.printf("solved again without five tracks: %.1f s%n", again);
        p.close();
        return out[0];
    }

    private static void rendering(SolvedCamera solved, String only) throws Exception {
        Shot shot = dasein.core.shot.ShotJson.read(Files.readString(Path.of("demo/LW_010.json")));
        Model strider = ModelReader.read(Path.of("demo/models/strider.glb"));
        Image map = Stills.read(Path.of("demo/kit/slipway_latlong.exr"), Encoding.LINEAR);
        List<Performer> who =
                shot.performers().stream().map(p -> p.withModel("strider")).toList();
        LightRecipe l = shot.light();
        ShotScene scene = new ShotScene(
                shot.with(who).with(new LightRecipe("map", l.turnDeg(), l.level(), l.sun())),
                ShotSteps.inSet(shot, solved),
                Map.of("strider", strider),
                map);
        try (Plate p = Plate.open(MOVIE, null, null)) {
            Image full = p.frame(48);
            if (only.equals("curve")) {
                CurveBench.run(scene, full, 48);
                return;
            }
            if (only.equals("comp")) {
                CompBench.run(scene, p, 48);
                return;
            }
            if (only.equals("over")) {
                OverBench.run(scene, shot.with(who), p, 48);
                return;
            }
            Quality q = shot.passes().quality();
            Passes[] out = new Passes[1];
            double half =
                    best(3, () -> out[0] = FrameRenderer.render(scene.job(48, full, 0.5, q), Progress.NONE, null));
            System.out.printf(
                    "640x360 frame of the demo, all passes: %.1f s, %.0f samples in the mean, noise %.2f %% "
                            + "before the filter%n",
                    half, out[0].samples, 100 * out[0].noise);
            double big = best(1, () -> out[0] = FrameRenderer.render(scene.job(48, full, 1, q), Progress.NONE, null));
            System.out.printf(
                    "1280x720 frame of the demo, all passes: %.1f s, %.0f samples in the mean%n", big, out[0].samples);
            double draft = best(
                    3,
                    () -> FrameRenderer.render(
                            scene.job(48, full, 0.2, new Quality(2, 2, 0, 1, true)), Progress.NONE, null));
            System.out.printf("first draft picture, 256x144: %.2f s%n", draft);
            System.out.printf(
                    "comp of a 1280x720 frame: %.0f ms%n",
                    1000 * best(8, () -> Comp.frame(full, out[0], CompRecipe.BLANK, p.encoding(), 1, 48)));
            Path tmp = Files.createTempFile("bench", ".exr");
            System.out.printf(
                    "EXR write of a 1280x720 frame, 22 channels: %.2f s, %.1f MB%n",
                    best(4, () -> {
                        out[0].write(tmp);
                        return null;
                    }),
                    Files.size(tmp) / 1048576.0);
            System.out.printf(
                    "strider posed and placed at two moments: %.0f ms for %,d triangles%n",
                    1000 * best(5, () -> scene.blocking().meshes(25, 25.5)), strider.triangles());
            Files.delete(tmp);
        }
    }
}

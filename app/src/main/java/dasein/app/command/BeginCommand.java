package dasein.app.command;

import dasein.core.Progress;
import dasein.core.cast.Performer;
import dasein.core.cast.StandIn;
import dasein.core.comp.Beside;
import dasein.core.comp.Comp;
import dasein.core.format.Exr;
import dasein.core.format.Stills;
import dasein.core.ground.GroundFit;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Image;
import dasein.core.light.sky.PlateLight;
import dasein.core.light.sky.PlateSphere;
import dasein.core.math.Vec3;
import dasein.core.plate.Plate;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import dasein.core.solve.CameraSolver;
import dasein.core.solve.Cleaning;
import dasein.core.solve.SolveSettings;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** All that needs no decision: the pages' "Carry on" for pipelines. */
@Command(
        name = "begin",
        description =
                "From a plate to tracks, camera, ground, a guess of its light, and a first picture with a stand-in.")
public final class BeginCommand implements Callable<Integer> {
    private static final int SAMPLES = 24, BOUNCES = 2, MAP = 1024;
    private static final double TRACKED = 0.45, SOLVED = 0.7, CLEANED = 0.8, LIT = 0.92, WIDEST = 960;

    @Mixin
    TrackCommand.PlateOptions plate;

    @Option(names = "--model", description = "what stands in, a model file; without it there is no picture")
    Path model;

    @Option(names = "--out", required = true, description = "folder: tracks.csv, camera.json, light.exr, shot.json")
    Path out;

    @Override
    public Integer call() throws IOException {
        Progress progress = Console.progress();
        Files.createDirectories(out);
        try (Plate p = plate.open(true)) {
            List<Track> tracks = plate.tracks(p, 400, progress.part(0, TRACKED));
            TrackFile.write(out.resolve("tracks.csv"), tracks, false);
            SolvedCamera c = inSet(camera(p, tracks, progress));
            CameraFile.write(out.resolve("camera.json"), c);
            c.remarks().forEach(System.err::println);
            Vec3 at = StandIn.place(c);
            PlateLight.Result light = PlateLight.of(
                    PlateSphere.of(
                            p::frame, p.encoding().decode(1), c, at.plus(Vec3.Y), MAP, progress.part(CLEANED, LIT)),
                    new PlateLight.Hints(null, Math.toRadians(0.53), null, null, 0));
            Exr.writeColour(out.resolve("light.exr"), light.map());
            Files.writeString(out.resolve("shot.json"), ShotJson.writePretty(shot(at)));
            System.err.printf(
                    "solved %d frames as %s, %.2f px RMS; sky: %s%n",
                    c.frames().size(), c.kind(), c.rmsPx(), light.skySaid());
            if (model != null) picture(c.frames().get(c.frames().size() / 2).frame(), p);
        }
        return 0;
    }

    private SolvedCamera camera(Plate p, List<Track> tracks, Progress progress) {
        SolveSettings s = SolveSettings.UNKNOWN;
        SolvedCamera c = CameraSolver.solve(tracks, p.width(), p.height(), p.rate(), s, progress.part(TRACKED, SOLVED));
        progress.at(SOLVED, "cleaning");
        return Cleaning.clean(c, tracks, (before, left) -> CameraSolver.again(before, left, s, Progress.NONE))
                .camera();
    }

    private static SolvedCamera inSet(SolvedCamera c) {
        return c.in(GroundFit.fit(c, SetRecipe.BLANK, 0).toSet());
    }

    /** The camera stands in the set's frame, so nothing need be said of that. */
    private Shot shot(Vec3 at) {
        Shot s = Shot.BLANK.with(
                plate.recipe().withFile(plate.path.toAbsolutePath().toString()));
        s = s.with(s.camera().withFile("camera.json", s.camera().reading()));
        s = s.with(s.light().withEnvironment("light.exr"));
        s = s.with(s.set().with(s.set().catcher().at(at.x(), at.z())));
        if (model == null) return s;
        String file = model.toAbsolutePath().toString();
        return s.with(List.of(new Performer(1, "stand-in", file, at.x(), 0, at.z(), 0, StandIn.HEIGHT, "", 0, 1, true)
                .standing(Performer.Feet.REST, true)));
    }

    private void picture(int frame, Plate p) {
        SceneFile scene = SceneFile.read(out.resolve("shot.json"));
        double part = Math.min(1, WIDEST / p.width());
        Image full = p.frame(frame);
        Passes passes = scene.scene(p)
                .render(
                        scene.shot(),
                        frame,
                        full,
                        part,
                        new Quality(SAMPLES, SAMPLES, 0, BOUNCES, true),
                        Progress.NONE);
        Image done = Comp.frame(
                part == 1 ? full : full.resize(passes.width, passes.height),
                passes,
                scene.shot().comp().at(frame, p.rate().perSecond()),
                p.encoding(),
                part,
                frame,
                Beside.NONE);
        Stills.writePng(out.resolve("first.png"), done, p.encoding());
        System.err.println("frame " + frame + " is first.png");
    }
}

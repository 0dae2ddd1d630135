package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.plate.Plate;
import dasein.core.plate.Rate;
import dasein.core.solve.CameraFile;
import dasein.core.solve.CameraSolver;
import dasein.core.solve.SolveSettings;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

@Command(name = "solve", description = "Recover the camera from a plate or from tracks and write it as camera.json.")
final class SolveCommand implements Callable<Integer> {
    @Mixin TrackCommand.PlateOptions plate;
    @Option(names = "--tracks", description = "a file written by track, instead of a plate") Path tracks;
    @Option(names = "--size", description = "width x height of the plate, with --tracks") String size;
    @Option(names = "--sensor-width-mm", defaultValue = "0") double sensorWidthMm;
    @Option(names = "--focal-mm", defaultValue = "0") double focalMm;
    @Option(names = "--focal-px", defaultValue = "0") double focalPx;
    @Option(names = "--kind", defaultValue = "auto", description = "auto or moving") String kind;
    @Option(names = "--k2", description = "solve the second distortion term too") boolean k2;
    @Option(names = "--out", required = true) Path out;

    @Override
    public Integer call() {
        if (List.of("nodal", "locked", "locked-off", "object").contains(kind)) throw new NoSolution("a " + kind + " solve is not built yet; only moving cameras can be solved");
        if (!List.of("auto", "moving").contains(kind)) throw new BadInput("--kind must be auto or moving, not " + kind);
        if ((plate.path == null) == (tracks == null)) throw new BadInput("give either --plate or --tracks");
        Progress progress = Console.progress();
        int w, h;
        Rate rate;
        List<Track> marks;
        if (tracks != null) {
            if (size == null) throw new BadInput("--tracks needs --size, for example 1280x720");
            double[] s = Console.size(size, "--size");
            w = (int) s[0];
            h = (int) s[1];
            rate = plate.rate.isEmpty() ? new Rate(24, 1) : Rate.parse(plate.rate);
            marks = TrackFile.read(tracks);
        } else {
            try (Plate p = plate.open(true)) {
                w = p.width();
                h = p.height();
                rate = p.rate();
                marks = plate.tracks(p, 400, progress.part(0, 0.6));
            }
        }
        double focal = focalPx;
        if (focalMm > 0 || sensorWidthMm > 0) {
            if (focalMm <= 0 || sensorWidthMm <= 0) throw new BadInput("--focal-mm and --sensor-width-mm belong together");
            focal = focalMm / sensorWidthMm * w;
        }
        SolvedCamera s = CameraSolver.solve(marks, w, h, rate, new SolveSettings(SolveSettings.Kind.AUTO, focal > 0 ? SolveSettings.Focal.HELD : SolveSettings.Focal.UNKNOWN, focal, true, k2, false, false, false, 0, 1), progress.part(tracks == null ? 0.6 : 0, 1));
        CameraFile.write(out, s);
        System.err.printf("solved %d frames, %.2f px RMS, focal %.1f px, k1 %.4f%n", s.frames().size(), s.rmsPx(), s.frames().get(0).focalPx(), s.k1());
        return 0;
    }
}

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
    @Option(names = "--kind", defaultValue = "auto", description = "auto, moving or nodal") String kind;
    @Option(names = "--near", description = "the focal length is only near what is given") boolean near;
    @Option(names = "--zoom", description = "the focal length changes over the shot") boolean zoom;
    @Option(names = "--k2", description = "solve the second distortion term too") boolean k2;
    @Option(names = "--k3", description = "and the third") boolean k3;
    @Option(names = "--tangential", description = "solve tangential distortion p1, p2") boolean tangential;
    @Option(names = "--centre", description = "solve the principal point") boolean centre;
    @Option(names = "--smooth", defaultValue = "0", description = "strength with which the path is smoothed") double smooth;
    @Option(names = "--log", description = "say why it was solved so, and what is uncertain") boolean log;
    @Option(names = "--out", required = true) Path out;

    @Override
    public Integer call() {
        if (List.of("locked", "locked-off", "object").contains(kind)) throw new NoSolution("a " + kind + " solve is not built yet; moving and nodal cameras can be solved");
        if (!List.of("auto", "moving", "nodal").contains(kind)) throw new BadInput("--kind must be auto, moving or nodal, not " + kind);
        if (near && zoom) throw new BadInput("--near and --zoom cannot both be");
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
        if (near && focal <= 0) throw new BadInput("--near needs a focal length");
        SolveSettings.Focal use = zoom ? SolveSettings.Focal.ZOOM : focal <= 0 ? SolveSettings.Focal.UNKNOWN : near ? SolveSettings.Focal.NEAR : SolveSettings.Focal.HELD;
        SolvedCamera s = CameraSolver.solve(marks, w, h, rate, new SolveSettings(SolveSettings.Kind.valueOf(kind.toUpperCase(java.util.Locale.ROOT)), use, focal, true, k2, k3, tangential, centre, smooth, 1), progress.part(tracks == null ? 0.6 : 0, 1));
        CameraFile.write(out, s);
        System.err.printf("solved %d frames as %s, %.2f px RMS, focal %.1f px +- %.1f, k1 %.4f%n", s.frames().size(), s.kind(), s.rmsPx(), s.frames().get(0).focalPx(), s.focalOff(), s.k1());
        if (log) s.remarks().forEach(System.err::println);
        return 0;
    }
}

package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.plate.Plate;
import dasein.core.plate.Rate;
import dasein.core.solve.CameraSolver;
import dasein.core.solve.Hints;
import dasein.core.solve.ObjectSolver;
import dasein.core.solve.SolveSettings;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.StillSolver;
import dasein.core.solve.file.CameraFile;
import dasein.core.solve.file.HintsFile;
import dasein.core.solve.file.LensFile;
import dasein.core.solve.file.LinesFile;
import dasein.core.solve.file.ObjectFile;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.IntStream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

@Command(name = "solve", description = "Recover the camera from a plate or from tracks and write it as camera.json.")
public final class SolveCommand implements Callable<Integer> {
    @Mixin
    TrackCommand.PlateOptions plate;

    @Option(names = "--tracks", description = "a file written by track, instead of a plate")
    Path tracks;

    @Option(names = "--size", description = "width x height of the plate, with --tracks")
    String size;

    @Option(names = "--sensor-width-mm", defaultValue = "0")
    double sensorWidthMm;

    @Option(names = "--focal-mm", defaultValue = "0")
    double focalMm;

    @Option(names = "--focal-px", defaultValue = "0")
    double focalPx;

    @Option(names = "--kind", defaultValue = "auto", description = "auto, moving, nodal, locked or object")
    String kind;

    @Option(names = "--near", description = "the focal length is only near what is given")
    boolean near;

    @Option(names = "--zoom", description = "the focal length changes over the shot")
    boolean zoom;

    @Option(names = "--terms", split = ",", description = TermsOption.WHAT)
    Map<String, String> terms;

    @Option(names = "--smooth", defaultValue = "0", description = "strength with which the path is smoothed")
    double smooth;

    @Option(names = "--from", defaultValue = "0", description = "first frame that is solved")
    int from;

    @Option(names = "--to", defaultValue = "0", description = "last frame that is solved")
    int to;

    @Option(
            names = "--readout",
            defaultValue = "0",
            description = "time from the first row to the last, as a part of the frame's, or find")
    String readout;

    @Option(
            names = "--fill",
            description = "frames that cannot be solved stand between their neighbours; else they are left out")
    boolean fill;

    @Option(names = "--hints", description = "weights of tracks and measured places, as JSON")
    Path hints;

    @Option(names = "--lens", description = "a calibrated lens, held: lens.json or camera.json")
    Path lens;

    @Option(
            names = "--lines",
            description = "for locked: lines along the set's axes, a rectangle or known points, as JSON")
    Path lines;

    @Option(names = "--camera", description = "for object: the camera it is seen by; a locked one when left out")
    Path camera;

    @Option(
            names = "--distance",
            defaultValue = "0",
            description = "for object: from the camera to its middle in the first frame")
    double distance;

    @Option(names = "--log", description = "say why it was solved so, and what is uncertain")
    boolean log;

    @Option(names = "--out", required = true)
    Path out;

    @Override
    public Integer call() {
        if (!List.of("auto", "moving", "nodal", "locked", "object").contains(kind))
            throw new BadInput("--kind must be auto, moving, nodal, locked or object, not " + kind);
        if (near && zoom) throw new BadInput("--near and --zoom cannot both be");
        if (kind.equals("locked") ? plate.path == null && size == null : (plate.path == null) == (tracks == null))
            throw new BadInput("give either --plate or --tracks");
        Progress progress = Console.progress();
        if (kind.equals("locked")) return locked();
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
        double focal = focal(w);
        if (near && focal <= 0) throw new BadInput("--near needs a focal length");
        SolveSettings.Focal use = zoom
                ? SolveSettings.Focal.ZOOM
                : focal <= 0 ? SolveSettings.Focal.UNKNOWN : near ? SolveSettings.Focal.NEAR : SolveSettings.Focal.HELD;
        if (kind.equals("object")) return object(marks, w, h, rate, focal, progress);
        SolvedCamera s = CameraSolver.solve(
                marks,
                w,
                h,
                rate,
                new SolveSettings(
                        SolveSettings.Kind.valueOf(kind.toUpperCase(Locale.ROOT)),
                        use,
                        focal,
                        TermsOption.of(terms),
                        smooth,
                        1,
                        hints()),
                lens == null ? null : LensFile.read(lens).at(w, h),
                progress.part(tracks == null ? 0.6 : 0, 1));
        CameraFile.write(out, s);
        System.err.printf(
                "solved %d frames as %s, %.2f px RMS, focal %.1f px +- %.1f, k1 %.4f%n",
                s.frames().size(), s.kind(), s.rmsPx(), s.frames().get(0).focalPx(), s.focalOff(), s.k1());
        if (log) s.remarks().forEach(System.err::println);
        return 0;
    }

    private Hints hints() {
        Hints h = (hints == null ? Hints.NONE : HintsFile.read(hints))
                .part(from, to)
                .withFilled(fill);
        if (readout.equals("find")) return h.withReadout(Hints.SOLVE_READOUT);
        try {
            return h.withReadout(Double.parseDouble(readout));
        } catch (NumberFormatException e) {
            throw new BadInput("--readout must be a number or find, not " + readout);
        }
    }

    /** As given, in pixels of a plate of some width; 0 when it was not. */
    private double focal(int width) {
        if (focalMm <= 0 && sensorWidthMm <= 0) return focalPx;
        if (focalMm <= 0 || sensorWidthMm <= 0)
            throw new BadInput("--focal-mm and --sensor-width-mm belong " + "together");
        return focalMm / sensorWidthMm * width;
    }

    private int locked() {
        if (lines == null) throw new BadInput("a locked camera is matched by lines: give --lines lines.json");
        int w, h, first = 1, last = 1;
        Rate rate = plate.rate.isEmpty() ? new Rate(24, 1) : Rate.parse(plate.rate);
        if (plate.path != null) {
            try (Plate p = plate.open(true)) {
                w = p.width();
                h = p.height();
                rate = p.rate();
                first = p.first();
                last = p.last();
            }
        } else {
            if (size == null)
                throw new BadInput("without --plate a locked camera needs --size, for example " + "1280x720");
            double[] s = Console.size(size, "--size");
            w = (int) s[0];
            h = (int) s[1];
        }
        double focal = focal(w);
        LinesFile.Still still = LinesFile.read(lines);
        SolvedCamera s = StillSolver.solve(
                still.lines(), still.match(), TermsOption.of(terms).centre(), w, h, rate, first, last, focal);
        CameraFile.write(out, s);
        System.err.printf(
                "matched %.2f px RMS, focal %.1f px +- %.1f%n",
                s.rmsPx(), s.lens().focalPx(), s.focalOff());
        if (log) s.remarks().forEach(System.err::println);
        return 0;
    }

    private int object(List<Track> marks, int w, int h, Rate rate, double focal, Progress progress) {
        SolvedCamera seenBy;
        if (camera != null) {
            seenBy = CameraFile.read(camera);
        } else {
            if (focal <= 0) throw new BadInput("without --camera the focal length of the locked camera is needed");
            int first = marks.stream().mapToInt(t -> t.frames()[0]).min().orElse(1),
                    last =
                            marks.stream()
                                    .mapToInt(t -> t.frames()[t.length() - 1])
                                    .max()
                                    .orElse(1);
            List<SolvedCamera.Frame> frames = IntStream.rangeClosed(first, last)
                    .mapToObj(f -> new SolvedCamera.Frame(f, Pose.IDENTITY, focal, 0, 0))
                    .toList();
            seenBy = new SolvedCamera(
                    w, h, rate, "locked", 0, 0, new Lens(focal, w / 2.0, h / 2.0, 0, 0), frames, List.of());
        }
        ObjectSolver.Result r = ObjectSolver.solve(marks, seenBy, distance, progress);
        ObjectFile.write(out, seenBy, r);
        System.err.printf(
                "solved the thing in %d frames, %.2f px RMS, put %.2f from the camera%n",
                r.frames().size(), r.rmsPx(), r.distance());
        return 0;
    }
}

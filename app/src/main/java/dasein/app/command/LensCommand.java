package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.format.Exr;
import dasein.core.format.StraightExr;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.Straighten;
import dasein.core.plate.Plate;
import dasein.core.solve.BoardPhotographs;
import dasein.core.solve.file.LensFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

@Command(name = "lens", description = "Take a lens's distortion out of frames and put it back.")
public final class LensCommand {
    @Command(description = "A lens from photographs of a chessboard.")
    int calibrate(
            @Option(names = "--images", required = true, description = "folder of photographs") Path images,
            @Option(names = "--board", required = true, description = "inner corners, for example 9x6") String board,
            @Option(names = "--terms", split = ",", description = TermsOption.WHAT) Map<String, String> terms,
            @Option(names = "--out", required = true) Path out) {
        double[] b = Console.size(board, "--board");
        BoardPhotographs.Result r =
                BoardPhotographs.calibrate(images, (int) b[0], (int) b[1], TermsOption.of(terms), Console.progress());
        LensFile.write(out, r.lens());
        System.err.printf(
                "board found in %d of %d photographs, %d agree; focal %.2f px of %d, k1 %.4f, %.3f px RMS%n",
                r.found(),
                r.all(),
                r.used(),
                r.lens().lens().focalPx(),
                r.lens().width(),
                r.lens().lens().k1(),
                r.lens().rmsPx());
        System.err.println(r.said());
        return 0;
    }

    @Command(
            description =
                    "Straight frames as EXR; the overscan that keeps all of the plate stands in their data window.")
    int undistort(
            @Option(names = "--lens", required = true, description = "lens.json or camera.json") Path lens,
            @Option(names = "--plate", required = true, description = "movie or folder of numbered frames") Path plate,
            @Option(names = "--encoding", defaultValue = "") String encoding,
            @Option(names = "--out", required = true, description = "folder") Path out)
            throws IOException {
        try (Plate p = Plate.open(plate, encoding.isEmpty() ? null : Encoding.of(encoding), null)) {
            Straighten s = straighten(lens, p.width(), p.height());
            Files.createDirectories(out);
            Progress progress = Console.progress();
            for (int f = p.first(); f <= p.last(); f++) {
                progress.at((double) (f - p.first()) / p.count(), "frame " + f);
                StraightExr.writeFrame(out.resolve(String.format("straight.%04d.exr", f)), s, p.frame(f));
            }
            System.err.printf(
                    "%d frames of %d x %d, the plate's %d x %d from %d, %d%n",
                    p.count(), s.wide, s.high, p.width(), p.height(), -s.left, -s.top);
        }
        return 0;
    }

    @Command(description = "Bent frames again, from straight ones with their overscan in the data window.")
    int redistort(
            @Option(names = "--lens", required = true) Path lens,
            @Option(names = "--size", required = true, description = "width x height of the plate") String size,
            @Option(names = "--in", required = true, description = "folder of EXR frames") Path in,
            @Option(names = "--out", required = true, description = "folder") Path out)
            throws IOException {
        double[] wh = Console.size(size, "--size");
        int w = (int) wh[0], h = (int) wh[1];
        Straighten s = straighten(lens, w, h);
        List<Path> frames;
        try (Stream<Path> all = Files.list(in)) {
            frames = all.filter(p ->
                            p.getFileName().toString().toLowerCase(Locale.ROOT).endsWith(".exr"))
                    .sorted()
                    .toList();
        }
        if (frames.isEmpty()) throw new BadInput("the folder " + in + " holds no EXR frames");
        Files.createDirectories(out);
        Progress progress = Console.progress();
        for (int i = 0; i < frames.size(); i++) {
            progress.at((double) i / frames.size(), frames.get(i).getFileName().toString());
            Exr.Channels c = Exr.read(frames.get(i));
            if (c.width() != s.wide || c.height() != s.high || c.originX() != s.left || c.originY() != s.top) {
                throw new BadInput(frames.get(i).getFileName() + " has the data window " + c.width() + " x "
                        + c.height() + " from " + c.originX() + ", " + c.originY() + "; this lens needs " + s.wide
                        + " x " + s.high + " from " + s.left + ", " + s.top);
            }
            Map<String, float[]> bent = new LinkedHashMap<>();
            c.planes()
                    .forEach((name, plane) -> bent.put(name, s.distorted(new Image(s.wide, s.high, plane)).planes[0]));
            Exr.write(out.resolve(frames.get(i).getFileName()), w, h, bent, Set.of("Z"), Map.of());
        }
        System.err.println(frames.size() + " frames of " + w + " x " + h);
        return 0;
    }

    @Command(description = "Both ST maps as 32-bit float EXR.")
    int stmap(
            @Option(names = "--lens", required = true) Path lens,
            @Option(names = "--size", required = true, description = "width x height of the plate") String size,
            @Option(names = "--undistort", required = true, description = "map that straightens") Path undistort,
            @Option(names = "--redistort", required = true, description = "map that bends again") Path redistort) {
        double[] wh = Console.size(size, "--size");
        int w = (int) wh[0], h = (int) wh[1];
        Straighten s = straighten(lens, w, h);
        StraightExr.writeUndistortMap(undistort, s, w, h);
        StraightExr.writeRedistortMap(redistort, s, w, h);
        System.err.printf(
                "straight pictures are %d x %d, their top left corner lies at %d, %d of the plate%n",
                s.wide, s.high, s.left, s.top);
        return 0;
    }

    private static Straighten straighten(Path lens, int w, int h) {
        return new Straighten(LensFile.read(lens).at(w, h), w, h);
    }
}

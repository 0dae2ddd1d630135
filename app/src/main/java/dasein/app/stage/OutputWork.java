package dasein.app.stage;

import dasein.app.store.MediaStore;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.format.Exr;
import dasein.core.format.MovieWriter;
import dasein.core.format.SafeWrite;
import dasein.core.format.Stills;
import dasein.core.format.StraightExr;
import dasein.core.image.Image;
import dasein.core.lens.Straighten;
import dasein.core.plate.Plate;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.springframework.stereotype.Component;

/** Writes the finished shot: an H.264 movie, or PNG or EXR frames in a zip. Settings: kind, first, last. */
@Component
class OutputWork implements Work {
    private static final long BITS_PER_PIXEL_SECOND = 9;

    private final Shots shots;
    private final Plates plates;
    private final Results results;
    private final MediaStore media;
    private final Comps comps;
    private final PassesWork passes;

    OutputWork(Shots shots, Plates plates, Results results, MediaStore media, Comps comps, PassesWork passes) {
        this.shots = shots;
        this.plates = plates;
        this.results = results;
        this.media = media;
        this.comps = comps;
        this.passes = passes;
    }

    @Override
    public String kind() {
        return "output";
    }

    @Override
    public String run(Task task, Progress progress) throws Exception {
        Shot s = shots.document(task.revisionId());
        String[] set = task.settings().split(" ");
        String format = set[0];
        int first = Integer.parseInt(set[1]), last = Integer.parseInt(set[2]), n = last - first + 1;
        String print = Results.moviePrint(s, format, first, last),
                file = print + (format.equals("movie") ? ".mp4" : ".zip");
        if (results.find(kind(), print) == null) {
            Path target = media.result(kind(), file);
            Plate p = plates.of(s);
            if (format.equals("straight") && results.camera(s) == null)
                throw new BadInput("the camera is not solved yet");
            SafeWrite.to(target, tmp -> {
                if (format.equals("movie")) movie(s, p, tmp, first, last, progress);
                else if (format.equals("straight")) straight(s, p, tmp, first, last, progress);
                else frames(s, p, tmp, format, first, last, progress);
            });
            results.save(
                    kind(),
                    print,
                    Map.of("format", format, "first", first, "last", last, "bytes", Files.size(target)),
                    file);
        }
        return n + " frames written";
    }

    private Image frame(Shot s, int f, int first, int last, Progress progress) {
        double at = (double) (f - first) / (last - first + 1);
        progress.at(at, "frame " + f);
        passes.render(s, f, (d, w) -> progress.at(at, "rendering frame " + f));
        Image im = comps.frame(s, f);
        if (im == null) throw new BadInput("the passes of frame " + f + " are missing");
        return im;
    }

    private void movie(Shot s, Plate p, Path tmp, int first, int last, Progress progress) {
        MovieWriter w = null;
        try {
            for (int f = first; f <= last; f++) {
                Image im = frame(s, f, first, last, progress);
                if (w == null)
                    w = new MovieWriter(
                            tmp,
                            im.width,
                            im.height,
                            p.rate().num(),
                            p.rate().den(),
                            p.encoding().movie(),
                            BITS_PER_PIXEL_SECOND * im.width * im.height);
                w.write(im);
            }
        } finally {
            if (w != null) w.close();
        }
    }

    /** The undistorted plate with the maps there and back; of a zoom those of its first frame. */
    private void straight(Shot s, Plate p, Path tmp, int first, int last, Progress progress)
            throws java.io.IOException {
        SolvedCamera c = results.camera(s);
        Path one = Files.createTempFile(tmp.getParent(), ".part-", ".exr");
        try (OutputStream out = Files.newOutputStream(tmp);
                ZipOutputStream zip = new ZipOutputStream(out)) {
            zip.setLevel(java.util.zip.Deflater.NO_COMPRESSION);
            Straighten maps = new Straighten(c.lens(first), p.width(), p.height());
            StraightExr.writeUndistortMap(one, maps, p.width(), p.height());
            add(zip, "undistort.exr", one);
            StraightExr.writeRedistortMap(one, maps, p.width(), p.height());
            add(zip, "redistort.exr", one);
            for (int f = first; f <= last; f++) {
                progress.at((double) (f - first) / (last - first + 1), "frame " + f);
                StraightExr.writeFrame(one, new Straighten(c.lens(f), p.width(), p.height()), p.frame(f));
                add(zip, String.format("straight.%04d.exr", f), one);
            }
        } finally {
            Files.deleteIfExists(one);
        }
    }

    private static void add(ZipOutputStream zip, String name, Path file) throws java.io.IOException {
        zip.putNextEntry(new ZipEntry(name));
        Files.copy(file, zip);
        zip.closeEntry();
    }

    private void frames(Shot s, Plate p, Path tmp, String format, int first, int last, Progress progress)
            throws java.io.IOException {
        Path one = Files.createTempFile(tmp.getParent(), ".part-", format.equals("exr") ? ".exr" : ".png");
        try (OutputStream out = Files.newOutputStream(tmp);
                ZipOutputStream zip = new ZipOutputStream(out)) {
            // The pictures are packed already.
            zip.setLevel(java.util.zip.Deflater.NO_COMPRESSION);
            for (int f = first; f <= last; f++) {
                Image im = frame(s, f, first, last, progress);
                if (format.equals("exr")) Exr.writeColour(one, im);
                else Stills.writePng(one, im, p.encoding());
                add(zip, String.format("%04d.%s", f, format), one);
            }
        } finally {
            Files.deleteIfExists(one);
        }
    }
}

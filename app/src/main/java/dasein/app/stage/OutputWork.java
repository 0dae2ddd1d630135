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
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.shot.Shot;
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
    public String kind() { return "output"; }

    @Override
    public String run(Task task, Progress progress) throws Exception {
        Shot s = shots.document(task.revisionId());
        String[] set = task.settings().split(" ");
        String format = set[0];
        int first = Integer.parseInt(set[1]), last = Integer.parseInt(set[2]), n = last - first + 1;
        String print = Results.moviePrint(s, format, first, last), file = print + (format.equals("movie") ? ".mp4" : ".zip");
        if (results.find(kind(), print) == null) {
            Path target = media.result(kind(), file);
            Plate p = plates.of(s);
            SafeWrite.to(target, tmp -> {
                if (format.equals("movie")) movie(s, p, tmp, first, last, progress);
                else frames(s, p, tmp, format, first, last, progress);
            });
            results.save(kind(), print, Map.of("format", format, "first", first, "last", last, "bytes", Files.size(target)), file);
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
                if (w == null) w = new MovieWriter(tmp, im.width, im.height, p.rate().num(), p.rate().den(), p.encoding().movie(), BITS_PER_PIXEL_SECOND * im.width * im.height);
                w.write(im);
            }
        } finally {
            if (w != null) w.close();
        }
    }

    private void frames(Shot s, Plate p, Path tmp, String format, int first, int last, Progress progress) throws java.io.IOException {
        Path one = Files.createTempFile(tmp.getParent(), ".part-", format.equals("exr") ? ".exr" : ".png");
        try (OutputStream out = Files.newOutputStream(tmp); ZipOutputStream zip = new ZipOutputStream(out)) {
            // The pictures are packed already.
            zip.setLevel(java.util.zip.Deflater.NO_COMPRESSION);
            for (int f = first; f <= last; f++) {
                Image im = frame(s, f, first, last, progress);
                if (format.equals("exr")) Exr.writeColour(one, im);
                else Stills.writePng(one, im, p.encoding());
                zip.putNextEntry(new ZipEntry(String.format("%04d.%s", f, format)));
                Files.copy(one, zip);
                zip.closeEntry();
            }
        } finally {
            Files.deleteIfExists(one);
        }
    }
}

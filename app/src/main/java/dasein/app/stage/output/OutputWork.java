package dasein.app.stage.output;

import dasein.app.scene.Filtered;
import dasein.app.stage.Computed;
import dasein.app.stage.Desk;
import dasein.app.stage.passes.FilterWork;
import dasein.app.stage.passes.PassesWork;
import dasein.app.store.Plates;
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
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.springframework.stereotype.Component;

/** Writes the finished shot: an H.264 movie, or PNG or EXR frames in a zip. Settings: kind, first, last. */
@Component
public class OutputWork implements Work {
    private static final long BITS_PER_PIXEL_SECOND = 9;

    private final Desk desk;
    private final PassesWork passes;
    private final FilterWork filter;

    OutputWork(Desk desk, PassesWork passes, FilterWork filter) {
        this.desk = desk;
        this.passes = passes;
        this.filter = filter;
    }

    @Override
    public String kind() {
        return "output";
    }

    @Override
    public boolean batch() {
        return true;
    }

    @Override
    public String run(Task task, Progress progress) throws Exception {
        Shot s = desk.shots().document(task.revisionId());
        Writing w = Writing.parse(task.settings());
        try (Plates.Lent lent = desk.plates().need(s)) {
            Plate p = lent.plate();
            if (w.format().equals("straight") && desk.results().camera(s) == null)
                throw new BadInput("the camera is not solved yet");
            Computed.once(
                    desk,
                    kind(),
                    Prints.output(s, w.format(), w.first(), w.last()),
                    w.format().equals("movie") ? ".mp4" : ".zip",
                    () -> w,
                    (target, k) -> SafeWrite.to(target, tmp -> write(s, p, tmp, w, progress)),
                    k -> Map.of("format", w.format(), "first", w.first(), "last", w.last()));
        }
        return w.last() - w.first() + 1 + " frames written";
    }

    private void write(Shot s, Plate p, Path tmp, Writing w, Progress progress) throws IOException {
        switch (w.format()) {
            case "movie" -> movie(s, p, tmp, w.first(), w.last(), progress);
            case "straight" -> straight(s, p, tmp, w.first(), w.last(), progress);
            default -> frames(s, p, tmp, w.format(), w.first(), w.last(), progress);
        }
    }

    private Image frame(Shot s, int f, int first, int last, Progress progress) {
        double at = (double) (f - first) / (last - first + 1);
        progress.at(at, "frame " + f);
        // A shot without performers is its plate, with all that is done to that.
        if (s.performers().isEmpty()) return desk.comps().plain(s, f);
        try {
            if (Filtered.asked(s)) {
                for (int k : desk.filtered().window(s, f)) passes.render(s, k, rendering(progress, at, k));
                filter.filter(s, f, (d, w) -> progress.at(at, "filtering frame " + f));
            } else passes.render(s, f, rendering(progress, at, f));
        } catch (RuntimeException e) {
            throw e;
        } catch (Exception e) {
            throw new IllegalStateException(e);
        }
        Image im = desk.comps().written(s, f);
        if (im == null) throw new BadInput("the passes of frame " + f + " are missing");
        return im;
    }

    private static Progress rendering(Progress progress, double at, int frame) {
        return (d, w) -> progress.at(at, "rendering frame " + frame);
    }

    private void movie(Shot s, Plate p, Path tmp, int first, int last, Progress progress) throws IOException {
        MovieWriter[] w = new MovieWriter[1];
        try {
            try (Alongside writing = new Alongside()) {
                for (int f = first; f <= last; f++) {
                    Image im = frame(s, f, first, last, progress);
                    if (w[0] == null)
                        w[0] = new MovieWriter(
                                tmp,
                                im.width,
                                im.height,
                                p.rate().num(),
                                p.rate().den(),
                                p.encoding().movie(),
                                BITS_PER_PIXEL_SECOND * im.width * im.height);
                    writing.begin(() -> w[0].write(im));
                }
                writing.finish();
            }
            if (w[0] != null) w[0].finish();
        } finally {
            if (w[0] != null) w[0].close();
        }
    }

    /** The undistorted plate with the maps there and back; of a zoom those of its first frame. */
    private void straight(Shot s, Plate p, Path tmp, int first, int last, Progress progress) throws IOException {
        SolvedCamera c = desk.results().camera(s);
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

    private static void add(ZipOutputStream zip, String name, Path file) throws IOException {
        zip.putNextEntry(new ZipEntry(name));
        Files.copy(file, zip);
        zip.closeEntry();
    }

    private void frames(Shot s, Plate p, Path tmp, String format, int first, int last, Progress progress)
            throws IOException {
        Path one = Files.createTempFile(tmp.getParent(), ".part-", format.equals("exr") ? ".exr" : ".png");
        try (OutputStream out = Files.newOutputStream(tmp);
                ZipOutputStream zip = new ZipOutputStream(out)) {
            // The pictures are packed already.
            zip.setLevel(java.util.zip.Deflater.NO_COMPRESSION);
            try (Alongside writing = new Alongside()) {
                for (int f = first; f <= last; f++) {
                    Image im = frame(s, f, first, last, progress);
                    String name = String.format("%04d.%s", f, format);
                    writing.begin(() -> {
                        if (format.equals("exr")) Exr.writeColour(one, im);
                        else Stills.writePng(one, im, p.encoding());
                        add(zip, name, one);
                    });
                }
                writing.finish();
            }
        } finally {
            Files.deleteIfExists(one);
        }
    }
}

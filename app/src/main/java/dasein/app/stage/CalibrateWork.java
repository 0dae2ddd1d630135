package dasein.app.stage;

import dasein.app.store.Media;
import dasein.app.store.MediaMapper;
import dasein.app.store.MediaStore;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.Progress;
import dasein.core.solve.BoardPhotographs;
import dasein.core.solve.Calibration;
import dasein.core.solve.LensFile;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import org.springframework.stereotype.Component;

/**
 * A lens from photographs of a chessboard, onto the shelf and into the shot. Settings: hash of the photographs,
 * columns, rows.
 */
@Component
class CalibrateWork implements Work {
    private final Shots shots;
    private final MediaStore media;
    private final MediaMapper mapper;

    CalibrateWork(Shots shots, MediaStore media, MediaMapper mapper) {
        this.shots = shots;
        this.media = media;
        this.mapper = mapper;
    }

    @Override
    public String kind() {
        return "calibrate";
    }

    @Override
    public String run(Task task, Progress progress) throws IOException {
        String[] a = task.settings().split(" ");
        BoardPhotographs.Result r = BoardPhotographs.calibrate(
                media.path(a[0]),
                Integer.parseInt(a[1]),
                Integer.parseInt(a[2]),
                Calibration.terms(true, false, true, true),
                progress);
        Path tmp = Files.createTempFile("lens", ".json");
        Media m;
        try {
            LensFile.write(tmp, r.lens());
            Media zip = mapper.find(a[0]);
            try (InputStream in = Files.newInputStream(tmp)) {
                m = media.lens(in, (zip == null ? "lens" : zip.name().replaceAll("\\.[^.]*$", "")) + ".json");
            }
        } finally {
            Files.deleteIfExists(tmp);
        }
        Shots.Head h = shots.head(task.shotId());
        shots.edit(
                task.shotId(),
                h.revision().id(),
                "lens calibrated",
                s -> s.with(s.camera().withLens(m.hash())));
        return String.format(
                java.util.Locale.ROOT,
                "%d of %d photographs agree, %.2f px RMS",
                r.used(),
                r.all(),
                r.lens().rmsPx());
    }
}

package dasein.app.stage.camera;

import dasein.app.stage.Desk;
import dasein.app.store.Media;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.Progress;
import dasein.core.solve.BoardPhotographs;
import dasein.core.solve.LensTerms;
import dasein.core.solve.file.LensFile;
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
public class CalibrateWork implements Work {
    private final Desk desk;

    CalibrateWork(Desk desk) {
        this.desk = desk;
    }

    @Override
    public String kind() {
        return "calibrate";
    }

    @Override
    public String run(Task task, Progress progress) throws IOException {
        String[] a = task.settings().split(" ");
        BoardPhotographs.Result r = BoardPhotographs.calibrate(
                desk.media().path(a[0]), Integer.parseInt(a[1]), Integer.parseInt(a[2]), LensTerms.FIND, progress);
        Path tmp = Files.createTempFile("lens", ".json");
        Media made;
        try {
            LensFile.write(tmp, r.lens());
            Media zip = desk.shelf().find(a[0]);
            try (InputStream in = Files.newInputStream(tmp)) {
                made = desk.media().lens(in, (zip == null ? "lens" : zip.name().replaceAll("\\.[^.]*$", "")) + ".json");
            }
        } finally {
            Files.deleteIfExists(tmp);
        }
        Media m = made;
        desk.shots()
                .change(task.shotId(), "lens calibrated", s -> s.with(s.camera().withLens(m.hash())));
        return String.format(
                java.util.Locale.ROOT,
                "%d of %d photographs agree, %.2f px RMS. %s",
                r.used(),
                r.all(),
                r.lens().rmsPx(),
                r.said());
    }
}

package dasein.app.stage.output;

import dasein.app.scene.Filtered;
import dasein.app.stage.Computed;
import dasein.app.stage.Desk;
import dasein.app.stage.passes.FilterWork;
import dasein.app.stage.passes.PassesWork;
import dasein.app.store.Plates;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.format.SafeWrite;
import dasein.core.image.Image;
import dasein.core.output.Format;
import dasein.core.plate.Plate;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Writes the finished shot as a movie or frames; its settings are a {@link Writing}. */
@Component
public class OutputWork implements Work {
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
        Shots.Head head = desk.shots().head(task.shotId());
        try (Plates.Lent lent = desk.plates().need(s)) {
            Delivery d = new Delivery(
                    desk, s, lent.plate(), w, head.row().name(), head.row().showName(), task.revisionId());
            if (w.kind() == Format.STRAIGHT && desk.results().camera(s) == null)
                throw new BadInput("the camera is not solved yet");
            Computed.once(
                    desk,
                    kind(),
                    Prints.output(s, w.print(head.row().showName(), head.row().name()), w.first(), w.last()),
                    w.kind().file(),
                    () -> w,
                    (target, k) -> SafeWrite.to(target, tmp -> write(s, lent.plate(), d, tmp, w, progress)),
                    k -> Map.of("format", w.format(), "first", w.first(), "last", w.last()));
            return w.last() - w.first() + 1 + " frames written and read again" + d.silence();
        }
    }

    private void write(Shot s, Plate p, Delivery d, Path tmp, Writing w, Progress progress) throws IOException {
        if (w.kind() == Format.STRAIGHT) {
            d.straight(tmp, progress);
            return;
        }
        Sink sink = null;
        try {
            try (Alongside writing = new Alongside()) {
                for (int f = w.first(); f <= w.last(); f++) {
                    double at = (double) (f - w.first()) / (w.last() - w.first() + 1);
                    progress.at(at, "frame " + f);
                    if (!w.kind().finished()) {
                        if (!s.performers().isEmpty()) rendered(s, f, at, progress);
                        if (sink == null) sink = d.zip(tmp);
                        if (w.kind() == Format.PASSES) d.passes((ZipSink) sink, f);
                        else d.mattes((ZipSink) sink, f);
                        continue;
                    }
                    Image im = d.dressed(frame(s, f, at, progress), f);
                    if (sink == null) sink = d.sink(tmp, im);
                    Sink to = sink;
                    int number = f;
                    if (f == w.first() && w.slate()) writing.begin(() -> to.put(number - 1, d.slate(im)));
                    writing.begin(() -> to.put(number, im));
                }
                writing.finish();
            }
            if (sink != null) sink.finish();
        } finally {
            if (sink != null) sink.close();
        }
    }

    private Image frame(Shot s, int f, double at, Progress progress) {
        // A shot without performers is its plate, with all that is done to that.
        if (s.performers().isEmpty()) return desk.comps().plain(s, f);
        rendered(s, f, at, progress);
        Image im = desk.comps().written(s, f);
        if (im == null) throw new BadInput("the passes of frame " + f + " are missing");
        return im;
    }

    private void rendered(Shot s, int f, double at, Progress progress) {
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
    }

    private static Progress rendering(Progress progress, double at, int frame) {
        return (d, w) -> progress.at(at, "rendering frame " + frame);
    }
}

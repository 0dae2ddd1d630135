package dasein.app.stage.output;

import dasein.app.stage.Desk;
import dasein.app.stage.Seen;
import dasein.app.store.ShotMapper;
import dasein.app.task.TaskMapper;
import dasein.core.output.Format;
import dasein.core.output.Names;
import dasein.core.shot.Prints;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import org.springframework.stereotype.Component;

/** What was written of a shot. */
@Component
public class WrittenFiles {
    private final Desk desk;
    private final TaskMapper rows;

    WrittenFiles(Desk desk, TaskMapper rows) {
        this.desk = desk;
        this.rows = rows;
    }

    /**
     * @param label in words; @param print by which it is fetched; @param name of the file that is taken away
     * @param bytes of it, and {@code size} in words; @param shown whether browsers play it
     */
    public record Written(String label, String print, String name, long bytes, String size, boolean shown) {}

    /** The version after the last one that was written. */
    int next(Seen s) {
        return 1
                + rows.written(s.id()).stream()
                        .mapToInt(w -> Writing.parse(w).version())
                        .max()
                        .orElse(0);
    }

    /** What lies there of the shot as it is, the newest first. */
    public List<Written> of(Seen s) {
        if (s.plate() == null) return List.of();
        Set<Writing> asked = new LinkedHashSet<>();
        for (String done : rows.written(s.id())) asked.add(Writing.parse(done));
        asked.add(Writing.plain(Format.H264.key, s.cutFirst(), s.cutLast()));
        List<Written> out = new ArrayList<>();
        for (Writing w : asked) {
            String kind = w.print(s.head().row().showName(), s.head().row().name());
            ShotMapper.Result r = desk.results().find("output", Prints.output(s.shot(), kind, w.first(), w.last()));
            if (r == null) continue;
            boolean all = w.first() == s.cutFirst() && w.last() == s.cutLast();
            double part =
                    s.shot().performers().isEmpty() ? 1 : s.shot().passes().size();
            int[] size = w.reframe().size((int) Math.round(part * s.plate().width()), (int)
                    Math.round(part * s.plate().height()));
            Format k = w.kind();
            out.add(new Written(
                    w.words(s.plate().colour(), size, all),
                    r.fingerprint(),
                    Names.file(s.head().row().name(), w.version(), w.format(), k.file()),
                    r.bytes(),
                    size(r.bytes()),
                    k == Format.H264 || k == Format.WEBM || k == Format.AV1));
        }
        return out;
    }

    static String size(long bytes) {
        return bytes < 1 << 20
                ? (bytes + 1023) / 1024 + " KB"
                : String.format(Locale.ROOT, "%.1f MB", bytes / 1048576.0);
    }
}

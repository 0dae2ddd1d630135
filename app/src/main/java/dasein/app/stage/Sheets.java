package dasein.app.stage;

import dasein.app.store.Plates;
import dasein.app.store.SheetMapper;
import dasein.app.store.ShotMapper;
import dasein.app.task.TaskEnded;
import dasein.core.BadInput;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * The call sheets of all shots, as they were last worked out. They are worked out anew with every page of a shot and
 * whenever a task of it ends, so that the front page reads them and opens nothing.
 */
@Component
public class Sheets {
    private static final Logger LOG = LoggerFactory.getLogger(Sheets.class);
    private static final JsonMapper JSON = new JsonMapper();
    /** How long the front page may take for sheets that are not known yet. */
    private static final long PATIENCE_NANOS = 120_000_000;

    private final SheetMapper mapper;
    private final CallSheet sheet;
    private final Seeing seeing;
    private final Plates plates;

    Sheets(SheetMapper mapper, CallSheet sheet, Seeing seeing, Plates plates) {
        this.mapper = mapper;
        this.sheet = sheet;
        this.seeing = seeing;
        this.plates = plates;
    }

    /**
     * @param first the plate's first frame, null where there is none; @param lines empty where they are not known yet
     * @param trouble why the shot cannot be read, or null
     */
    public record Kept(Integer first, List<CallSheet.Entry> lines, String trouble) {}

    /** Works a shot's sheet out, and keeps it. */
    public List<CallSheet.Entry> of(Seen s) {
        List<CallSheet.Entry> lines = sheet.of(s);
        mapper.keep(new SheetMapper.Row(s.id(), s.head().revision().id(), first(s), JSON.writeValueAsString(lines)));
        return lines;
    }

    private static Integer first(Seen s) {
        try {
            return s.plate() == null ? null : s.first();
        } catch (BadInput e) {
            return null;
        }
    }

    @EventListener
    void ended(TaskEnded e) {
        try {
            of(seeing.of(e.shot()));
        } catch (RuntimeException x) {
            // The page of the shot says it where somebody looks.
            LOG.warn("the call sheet of shot {} could not be worked out", e.shot(), x);
        }
    }

    /** The sheets of shots, in their order; a few that are not known are worked out on the way. */
    public Map<Long, Kept> of(List<ShotMapper.ShotRow> shots) {
        Map<Long, SheetMapper.Row> rows =
                mapper.all().stream().collect(Collectors.toMap(SheetMapper.Row::shotId, r -> r));
        Map<Long, Kept> out = new LinkedHashMap<>();
        long until = System.nanoTime() + PATIENCE_NANOS;
        for (ShotMapper.ShotRow s : shots) {
            SheetMapper.Row r = rows.get(s.id());
            boolean now = r != null && r.revisionId() == s.head();
            out.put(s.id(), now || System.nanoTime() > until ? read(r, now) : workedOut(s.id()));
        }
        return out;
    }

    private static Kept read(SheetMapper.Row r, boolean now) {
        return r == null || !now
                ? new Kept(r == null ? null : r.first(), List.of(), null)
                : new Kept(r.first(), List.of(JSON.readValue(r.lines(), CallSheet.Entry[].class)), null);
    }

    private Kept workedOut(long shot) {
        try {
            Seen s = seeing.of(shot);
            // Whoever opens the shot opens its plate; the front page does not.
            return plates.knows(s.head().shot()) ? new Kept(first(s), of(s), null) : new Kept(null, List.of(), null);
        } catch (BadInput e) {
            return new Kept(null, List.of(), e.getMessage());
        }
    }
}

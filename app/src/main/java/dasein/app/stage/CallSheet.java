package dasein.app.stage;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import java.util.ArrayList;
import java.util.List;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** The stages of a shot with their state and proof figure. One that cannot tell its own leaves the others be. */
@Component
public class CallSheet {
    private static final Logger LOG = LoggerFactory.getLogger(CallSheet.class);

    private final Stages stages;

    CallSheet(Stages stages) {
        this.stages = stages;
    }

    /** @param number from 1, in the order of the work */
    public record Entry(int number, String key, String name, String state, String proof) {}

    public List<Entry> of(Seen s) {
        List<Entry> out = new ArrayList<>();
        for (Stage t : stages.all()) {
            Line l = line(t, s);
            out.add(new Entry(out.size() + 1, t.key(), t.name(), l.state(), l.proof()));
        }
        return out;
    }

    private static Line line(Stage t, Seen s) {
        try {
            return t.line(s);
        } catch (BadInput | NoSolution e) {
            return Line.failed(e.getMessage());
        } catch (RuntimeException e) {
            LOG.error("the line of {} in shot {}", t.key(), s.id(), e);
            return Line.failed("it could not be told how this stands; the log tells more");
        }
    }
}

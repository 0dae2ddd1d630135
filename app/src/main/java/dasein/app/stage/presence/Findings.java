package dasein.app.stage.presence;

import dasein.app.stage.Seen;
import dasein.core.presence.Finding;
import java.util.List;

/** What the presence stage found last, for others. */
public final class Findings {
    private Findings() {}

    /** Empty where nothing was looked at since the last change. */
    public static List<Finding> of(Seen s) {
        return s.plate() == null ? List.of() : PresenceStage.findings(s);
    }
}

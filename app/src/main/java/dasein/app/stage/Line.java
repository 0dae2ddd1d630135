package dasein.app.stage;

import dasein.app.task.Task;
import java.util.function.Supplier;

/**
 * A stage's line on the call sheet.
 *
 * @param state is shown as a shape: missing, stale, fresh, running, failed
 * @param proof its figure, or why there is none
 */
public record Line(String state, String proof) {
    public static Line missing(String proof) {
        return new Line("missing", proof);
    }

    public static Line stale(String proof) {
        return new Line("stale", proof);
    }

    public static Line fresh(String proof) {
        return new Line("fresh", proof);
    }

    public static Line failed(String why) {
        return new Line("failed", why);
    }

    /**
     * Of a stage that is computed by one kind of task.
     *
     * @param last task of that kind, or null; @param proof of the result as it is now, null when there is none
     */
    public static Line computed(Task last, Supplier<String> proof, String missing) {
        if (last != null && last.open())
            return new Line("running", last.state().equals("waiting") ? "waiting" : last.note());
        String said = proof.get();
        if (said != null) return fresh(said);
        if (last != null && last.state().equals("failed")) return failed(last.note());
        if (last != null && last.state().equals("done")) return stale("older than its settings");
        return missing(missing);
    }
}

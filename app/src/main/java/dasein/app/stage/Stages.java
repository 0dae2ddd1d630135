package dasein.app.stage;

import dasein.app.store.Shots;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** The stages in the order of the work: the one list of them. */
@Component
public class Stages {
    private static final List<String> ORDER =
            List.of("plate", "tracks", "camera", "set", "blocking", "light", "passes", "comp", "presence", "output");

    private final List<Stage> all;
    private final Map<String, Stage> by;

    Stages(List<Stage> found) {
        all = found.stream()
                .sorted(Comparator.comparingInt(s -> ORDER.indexOf(s.key())))
                .toList();
        by = all.stream().collect(Collectors.toMap(Stage::key, Function.identity()));
        if (!all.stream().map(Stage::key).toList().equals(ORDER))
            throw new IllegalStateException("the stages are " + by.keySet() + ", not " + ORDER);
    }

    public List<Stage> all() {
        return all;
    }

    /** Name of the stage whose work that is; the first where nobody says so. */
    public String owner(String work) {
        return all.stream()
                .filter(s -> s.works().contains(work))
                .map(Stage::key)
                .findFirst()
                .orElse(ORDER.get(0));
    }

    /** @throws Shots.NotThere when there is none of that name */
    public Stage of(String key) {
        Stage s = by.get(key);
        if (s == null) throw new Shots.NotThere("there is no such stage");
        return s;
    }
}

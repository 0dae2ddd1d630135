package dasein.app.stage;

import dasein.core.BadInput;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import org.springframework.ui.Model;
import org.springframework.web.multipart.MultipartFile;

/**
 * One step of the work on a shot: what it shows, what a person may change there, and what it computes. Its template is
 * {@code templates/stage/<key>.html}, its script {@code static/js/stage/<key>.js}.
 */
public interface Stage {
    /** Its name in addresses, templates and scripts. */
    String key();

    /** Its name for people. */
    String name();

    /** Its state and proof figure. */
    Line line(Seen s);

    /** What its panel shows besides the shot itself. */
    void bench(Model m, Seen s);

    /** A change of the shot. @throws BadInput with what is wrong with it */
    default Change edit(Seen s, String action, Form f) {
        throw new BadInput("there is nothing to change on this stage");
    }

    /** What follows at once from a change that was made. @param s the shot after it */
    default void after(Seen s, String action) {}

    /** Starts its work. @throws BadInput when it cannot begin, with the reason */
    default void start(Seen s, Form f) {
        throw new BadInput("there is nothing to start on this stage");
    }

    /** Takes in files. @throws BadInput when they cannot be used, with the reason */
    default void bring(Seen s, List<MultipartFile> files, Form f) throws IOException {
        throw new BadInput("nothing can be brought in on this stage");
    }

    /** Numbers that pages draw; every stage adds its own, whichever page asks. */
    default void data(Map<String, Object> m, Seen s) {}

    /** Kinds of tasks that belong to it: their failures are said on its page. */
    default List<String> works() {
        return List.of();
    }
}

package dasein.app.stage;

import dasein.app.task.TaskMapper;
import org.springframework.stereotype.Component;

/** Opens shots for requests. */
@Component
public class Seeing {
    private final Desk desk;
    private final TaskMapper rows;

    Seeing(Desk desk, TaskMapper rows) {
        this.desk = desk;
        this.rows = rows;
    }

    /** The shot as it stands now. @throws Shots.NotThere when there is none */
    public Seen of(long id) {
        return new Seen(desk.shots().head(id), desk, rows);
    }
}

package dasein.app.stage.plate;

import dasein.app.stage.Desk;
import dasein.app.store.Inbox;
import dasein.app.store.Media;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.Progress;
import dasein.core.shot.Shot;
import org.springframework.stereotype.Component;

/** Brings a plate in from the watched folder, as a task since it may be large. Settings: its name there. */
@Component
class BringWork implements Work {
    private final Desk desk;
    private final Inbox inbox;
    private final HealthWork health;

    BringWork(Desk desk, Inbox inbox, HealthWork health) {
        this.desk = desk;
        this.inbox = inbox;
        this.health = health;
    }

    @Override
    public String kind() {
        return "bring";
    }

    @Override
    public String run(Task task, Progress progress) {
        progress.at(0, "copying");
        Media m = desk.media().plate(inbox.of(task.settings()), task.settings(), progress.part(0, 0.6));
        Shot s = desk.shots()
                .change(
                        task.shotId(),
                        "plate " + m.name(),
                        k -> k.with(k.plate().withFile(m.hash())))
                .shot();
        return m.name() + " brought in, " + health.look(s, progress.part(0.6, 1));
    }
}

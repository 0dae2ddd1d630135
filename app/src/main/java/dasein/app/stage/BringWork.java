package dasein.app.stage;

import dasein.app.store.Inbox;
import dasein.app.store.Media;
import dasein.app.store.MediaStore;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.Progress;
import org.springframework.stereotype.Component;

/** Brings a plate in from the watched folder, as a task since it may be large. Settings: its name there. */
@Component
class BringWork implements Work {
    private final Shots shots;
    private final MediaStore media;
    private final Inbox inbox;
    private final HealthWork health;

    BringWork(Shots shots, MediaStore media, Inbox inbox, HealthWork health) {
        this.shots = shots;
        this.media = media;
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
        Media m = media.plate(inbox.of(task.settings()), task.settings(), progress.part(0, 0.6));
        shots.edit(
                task.shotId(),
                shots.head(task.shotId()).revision().id(),
                "plate " + m.name(),
                s -> s.with(s.plate().withFile(m.hash())));
        return m.name() + " brought in, "
                + health.look(shots.head(task.shotId()).shot(), progress.part(0.6, 1));
    }
}

package dasein.app.stage.begin;

import dasein.app.stage.Change;
import dasein.app.stage.Desk;
import dasein.app.stage.Form;
import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.store.MediaMapper;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.cast.Performer;
import dasein.core.cast.StandIn;
import dasein.core.ground.SetRecipe;
import dasein.core.math.Vec3;
import dasein.core.shot.Shot;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.stereotype.Component;

/**
 * All that needs no decision, from footage to a performer in its light: looked over, tracked, solved, cleaned, the
 * ground, a map guessed from the plate, a first stand-in from the shelf. Every step is the one that its own stage
 * takes, leaves what that would leave, and is passed over where it was taken already; where somebody must decide, the
 * step's own sentence is the end.
 */
@Component
public class CarryOnWork implements Work {
    public static final String KIND = "begin";

    /** Where a step begins and ends, in parts of the whole: as long as they take on the demo's plates. */
    private static final double LOOKED = 0.18, SOLVED = 0.72, CLEANED = 0.85, LIT = 0.97;

    private final Desk desk;
    private final Seeing seeing;
    private final ObjectProvider<Work> works;
    private final ObjectProvider<Stage> stages;

    CarryOnWork(Desk desk, Seeing seeing, ObjectProvider<Work> works, ObjectProvider<Stage> stages) {
        this.desk = desk;
        this.seeing = seeing;
        this.works = works;
        this.stages = stages;
    }

    @Override
    public String kind() {
        return KIND;
    }

    @Override
    public String run(Task task, Progress progress) throws Exception {
        List<String> said = new ArrayList<>();
        step(task, "health", progress.part(0, LOOKED));
        said.add("camera " + step(task, "camera", progress.part(LOOKED, SOLVED)));
        step(task, "clean", progress.part(SOLVED, CLEANED));
        Shot s = desk.shots().head(task.shotId()).shot();
        if (desk.results().set(s) == null)
            throw new BadInput("no ground was found among the solved points: choose three or more on it in Set");
        said.add("ground found");
        if (s.light().environment().isEmpty()) {
            step(task, "platemap", progress.part(CLEANED, LIT));
            said.add("light guessed from the plate");
        }
        progress.at(LIT, "a stand-in");
        if (s.performers().isEmpty()) said.add(standIn(task.shotId()));
        return String.join(", ", said);
    }

    /** Takes a step as its stage would, on the shot as it stands now. */
    private String step(Task t, String kind, Progress progress) throws Exception {
        Work work =
                works.stream().filter(w -> w.kind().equals(kind)).findFirst().orElseThrow();
        Task now = new Task(
                t.id(),
                t.shotId(),
                desk.shots().head(t.shotId()).revision().id(),
                kind,
                t.label(),
                "",
                t.state(),
                t.done(),
                t.note(),
                t.created(),
                t.started(),
                t.ended(),
                t.low(),
                null);
        return work.run(now, progress);
    }

    /** The first model of the shelf, as high as a person, where the ground is seen. */
    private String standIn(long shot) {
        List<MediaMapper.ShelfItem> shelf = desk.shelf().shelf("model");
        if (shelf.isEmpty()) return "the shelf has no model to stand in: bring one in on Blocking";
        Seen s = seeing.of(shot);
        Vec3 at = StandIn.place(desk.results().cameraInSet(s.shot()));
        Stage blocking = stages.stream()
                .filter(k -> k.key().equals("blocking"))
                .findFirst()
                .orElseThrow();
        Change c = blocking.edit(
                s,
                "add",
                new Form(Map.of(
                        "model", shelf.get(0).hash(), "x", Double.toString(at.x()), "z", Double.toString(at.z()))));
        List<Performer> all = new ArrayList<>(c.shot().performers());
        // It stands: a clip that walks on the spot would slide under it.
        all.set(
                all.size() - 1,
                all.get(all.size() - 1)
                        .sized(StandIn.HEIGHT)
                        .withClips(List.of())
                        .standing(Performer.Feet.REST, true));
        SetRecipe set = c.shot().set();
        // What is caught of its shadow is caught where it stands, unless somebody said where.
        if (set.catcher().equals(SetRecipe.BLANK.catcher()))
            set = set.with(set.catcher().at(at.x(), at.z()));
        Shot out = c.shot().with(all).with(set);
        Shots.Head h = desk.shots().edit(shot, s.head().revision().id(), c.summary(), k -> out);
        return h.shot().performers().get(all.size() - 1).name() + " stands in";
    }
}

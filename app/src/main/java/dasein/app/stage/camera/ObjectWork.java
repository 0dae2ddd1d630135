package dasein.app.stage.camera;

import dasein.app.stage.Desk;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.solve.ObjectSolver;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.ObjectFile;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Solves the things that move by themselves, each from the marks of its group, before the camera that counts. */
@Component
public class ObjectWork implements Work {
    private final Desk desk;

    ObjectWork(Desk desk) {
        this.desk = desk;
    }

    @Override
    public String kind() {
        return "object";
    }

    @Override
    public String run(Task task, Progress progress) {
        Shot s = desk.shots().document(task.revisionId());
        SolvedCamera camera = desk.results().camera(s);
        List<Track> tracks = desk.results().kept(s);
        if (camera == null || tracks == null) throw new BadInput("the camera must be solved first");
        List<String> said = new ArrayList<>();
        List<CameraRecipe.Moved> all = s.camera().objects();
        for (int i = 0; i < all.size(); i++) {
            CameraRecipe.Moved o = all.get(i);
            String print = Prints.object(s, o), file = print + ".json";
            if (desk.results().find(kind(), print) != null) continue;
            Set<Integer> mine = Set.copyOf(s.tracks().groups().stream()
                    .filter(g -> g.id() == o.group())
                    .findFirst()
                    .orElseThrow(() -> new BadInput("the group of " + o.name() + " is no longer there"))
                    .tracks());
            // Distances are said in the set's unit, the solve has its own.
            double k = desk.results().set(s).toSet().scale();
            ObjectSolver.Result r = ObjectSolver.solve(
                    tracks.stream().filter(t -> mine.contains(t.id())).toList(),
                    camera,
                    o.distance() / k,
                    progress.part((double) i / all.size(), (i + 1.0) / all.size()));
            ObjectFile.write(desk.media().result(kind(), file), camera, r);
            desk.results()
                    .save(
                            kind(),
                            print,
                            Map.of(
                                    "rms",
                                    r.rmsPx(),
                                    "frames",
                                    r.frames().size(),
                                    "from",
                                    r.frames().get(0).frame(),
                                    "to",
                                    r.frames().get(r.frames().size() - 1).frame(),
                                    "distance",
                                    r.distance() * k),
                            file);
            said.add(String.format(
                    Locale.ROOT,
                    "%s: %.2f px over %d frames",
                    o.name(),
                    r.rmsPx(),
                    r.frames().size()));
        }
        return said.isEmpty() ? "nothing to solve" : String.join("; ", said);
    }
}

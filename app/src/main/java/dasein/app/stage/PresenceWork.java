package dasein.app.stage;

import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.comp.Comp;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.presence.Finding;
import dasein.core.presence.PlateUntouched;
import dasein.core.presence.ShadowEdge;
import dasein.core.render.Passes;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Runs the presence checks over every rendered frame. */
@Component
class PresenceWork implements Work {
    private final Shots shots;
    private final Plates plates;
    private final Results results;
    private final Comps comps;
    private final Scenes scenes;

    PresenceWork(Shots shots, Plates plates, Results results, Comps comps, Scenes scenes) {
        this.shots = shots;
        this.plates = plates;
        this.results = results;
        this.comps = comps;
        this.scenes = scenes;
    }

    @Override
    public String kind() {
        return "presence";
    }

    @Override
    public String run(Task task, Progress progress) {
        Shot s = shots.document(task.revisionId());
        Plate plate = plates.of(s);
        int first = ShotSteps.cutFirst(s.plate(), plate), last = ShotSteps.cutLast(s.plate(), plate), seen = 0;
        PlateUntouched untouched = new PlateUntouched();
        ShadowEdge edge = new ShadowEdge();
        for (int f = first; f <= last; f++) {
            progress.at((double) (f - first) / (last - first + 1), "frame " + f);
            Passes p = comps.passes(s, f);
            if (p == null) continue;
            double part = (double) p.width / plate.width();
            Image source = comps.plateFor(s, f, p), done = Comp.frame(source, p, s.comp(), plate.encoding(), part, f);
            untouched.add(f, source, p, done, plate.encoding(), s.comp().softnessPx() * part);
            edge.add(f, p, scenes.of(s).view(f, part), s.set().catcher());
            seen++;
        }
        if (seen == 0) throw new BadInput("no frame is rendered yet; render passes first");
        List<Finding> found = List.of(untouched.finding(), edge.finding());
        results.save(
                kind(),
                Results.presencePrint(s, first, last) + "-" + seen,
                Map.of("frames", seen, "findings", found),
                "");
        long bad = found.stream().filter(x -> !x.passed()).count();
        return bad == 0 ? "nothing found in " + seen + " frames" : bad + " findings in " + seen + " frames";
    }
}

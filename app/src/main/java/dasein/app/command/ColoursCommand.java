package dasein.app.command;

import dasein.core.Progress;
import dasein.core.model.file.ModelGlb;
import dasein.core.plate.Plate;
import dasein.core.shot.PieceColours;
import java.nio.file.Path;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

@Command(
        name = "colours",
        description = "Lay the plate's colours onto a scene's set pieces and write them as a GLB with its textures.")
public final class ColoursCommand implements Callable<Integer> {
    @Option(names = "--scene", required = true)
    Path scene;

    @Option(names = "--plate", description = "instead of the scene's own")
    Path plate;

    @Option(names = "--out", required = true)
    Path out;

    @Override
    public Integer call() {
        SceneFile file = SceneFile.read(scene);
        try (Plate p = file.plate(plate)) {
            PieceColours.Result r = PieceColours.of(
                    file.shot().set(), file.camera(), file.pieceModels(), Map.of(), p::frame, Progress.NONE);
            ModelGlb.write(out, r.model());
            file.shot().set().pieces().stream()
                    .filter(k -> r.seen().containsKey(k.id()))
                    .forEach(k -> System.err.printf(
                            "%s: %.0f %% seen in the plate%n",
                            k.name(), 100 * r.seen().get(k.id())));
        }
        return 0;
    }
}

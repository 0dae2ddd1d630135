package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.format.Stills;
import dasein.core.ground.Piece;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.scene.Model;
import dasein.core.scene.ModelReader;
import dasein.core.scene.Performer;
import dasein.core.shot.Footage;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import dasein.core.shot.ShotScene;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.CameraFile;
import dasein.core.solve.SolvedCamera;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** A scene.json: a shot document whose files are named relative to it, with a camera file already solved. */
record SceneFile(Shot shot, Path folder) {

    static SceneFile read(Path path) {
        try {
            if (Files.size(path) > 64 << 20) throw new BadInput(path + " is too large for a scene");
            return new SceneFile(
                    ShotJson.read(Files.readString(path)), path.toAbsolutePath().getParent());
        } catch (IOException e) {
            throw new BadInput("the scene " + path + " cannot be read", e);
        }
    }

    Plate plate(Path given) {
        if (given == null && shot.plate().file().isEmpty())
            throw new BadInput("the scene names no plate; give plate.file in it or --plate");
        return ShotSteps.plate(
                shot.plate(),
                given != null ? given : folder.resolve(shot.plate().file()),
                shot.plate().table().isEmpty()
                        ? null
                        : folder.resolve(shot.plate().table()));
    }

    /** In the set's frame. */
    SolvedCamera camera() {
        if (shot.camera().file().isEmpty())
            throw new BadInput("the scene needs camera.file, a camera written by solve");
        SolvedCamera camera = CameraFile.read(folder.resolve(shot.camera().file()));
        // A camera file that comes with a set recipe is in the solve's own frame; without one it is taken to be in the
        // set's already.
        return shot.set().unsaid() ? camera : ShotSteps.inSet(shot, camera);
    }

    Map<String, Model> pieceModels() {
        Map<String, Model> models = new HashMap<>();
        for (Piece p : shot.set().pieces())
            if (p.kind() == Piece.Kind.MODEL)
                models.computeIfAbsent(p.model(), m -> ModelReader.read(folder.resolve(m)));
        return models;
    }

    ShotScene scene() {
        SolvedCamera camera = camera();
        Map<String, Model> models = pieceModels();
        for (Performer p : shot.performers())
            if (p.card() == null) models.computeIfAbsent(p.model(), m -> ModelReader.read(folder.resolve(m)));
        String env = shot.light().environment();
        Image map = env.isEmpty() ? null : Stills.read(folder.resolve(env), Encoding.LINEAR);
        Map<String, Footage> footage = new HashMap<>();
        for (Performer p : shot.performers())
            for (String n : p.footage()) footage.computeIfAbsent(n, f -> Footage.open(folder.resolve(f)));
        return new ShotScene(shot, camera, models, map, Map.of(), null, List.of(), footage);
    }
}

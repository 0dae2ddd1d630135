package dasein.app.command;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.cast.Blocking;
import dasein.core.cast.Footage;
import dasein.core.cast.Performer;
import dasein.core.comp.CompRecipe;
import dasein.core.format.Stills;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Cube;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.math.Pose;
import dasein.core.model.Model;
import dasein.core.model.Texture;
import dasein.core.model.file.ModelReader;
import dasein.core.plate.Plate;
import dasein.core.shot.Mending;
import dasein.core.shot.MovedFile;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import dasein.core.shot.ShotScene;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.function.Supplier;

/** A scene.json: a shot document whose files are named relative to it, with a camera file already solved. */
public record SceneFile(Shot shot, Path folder) {

    static SceneFile read(Path path) {
        try {
            if (Files.size(path) > 64 << 20) throw new BadInput(path + " is too large for a scene");
            String text = Files.readString(path);
            for (String u : ShotJson.unknown(text))
                System.err.println("dasein: " + path.getFileName() + " has an entry " + u
                        + " that is not known here; it has no effect");
            return new SceneFile(ShotJson.read(text), path.toAbsolutePath().getParent());
        } catch (IOException e) {
            throw new BadInput("the scene " + path + " cannot be read", e);
        }
    }

    Plate plate(Path given) {
        if (given == null && shot.plate().file().isEmpty())
            throw new BadInput("the scene names no plate; give plate.file in it or --plate");
        String table = shot.plate().table();
        return ShotSteps.plate(
                shot.plate(),
                given != null ? given : folder.resolve(shot.plate().file()),
                table.isEmpty() ? null : folder.resolve(table));
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

    /** Poses of things that move, from the file beside the scene; empty where there is none. */
    Map<Integer, NavigableMap<Integer, Pose>> moved() {
        Path file = folder.resolve("moved.json");
        return Files.exists(file) ? MovedFile.read(file) : Map.of();
    }

    /** A frame for its colours: as painted, else the plate's. */
    private Image colours(Plate p, Mending mending, int frame) {
        for (SetRecipe.ColourFrame c : shot.set().colours())
            if (c.frame() == frame && !c.picture().isEmpty())
                return Stills.read(folder.resolve(c.picture()), p.encoding());
        return mending.projected(frame);
    }

    /** Of colours, that the grade ends with; or null. */
    Cube table() {
        String t = shot.comp().table();
        return t.isEmpty() ? null : Cube.read(folder.resolve(t));
    }

    /** The plate as the comp is to have it. Masks that marks or surfaces carry are followed when they are asked for. */
    Mending mending(Plate p) {
        return mending(p, () -> shot.camera().file().isEmpty() ? null : scene(p).blocking());
    }

    private Mending mending(Plate p, Supplier<Blocking> blocking) {
        CompRecipe r = shot.comp();
        boolean any =
                !r.fronts().isEmpty() || !r.repairs().isEmpty() || !r.variants().isEmpty();
        SolvedCamera camera = any && !shot.camera().file().isEmpty() ? camera() : null;
        return new Mending(
                shot,
                new Mending.From(
                        p::frame,
                        ShotSteps.first(shot.plate(), p),
                        ShotSteps.last(shot.plate(), p),
                        p.encoding(),
                        any ? ShotSteps.ways(shot, p, Progress.NONE) : Map.of(),
                        camera,
                        any ? moved() : Map.of(),
                        blocking,
                        any ? tracks() : List.of()));
    }

    private List<Track> tracks() {
        return shot.tracks().file().isEmpty()
                ? List.of()
                : ShotSteps.kept(
                        shot.tracks(),
                        TrackFile.read(folder.resolve(shot.tracks().file())));
    }

    /** @param plate whose other frames tell what one frame does not see */
    ShotScene scene(Plate plate) {
        SolvedCamera camera = camera();
        Map<String, Model> models = pieceModels();
        for (Performer p : shot.performers())
            if (p.card() == null) models.computeIfAbsent(p.model(), m -> ModelReader.read(folder.resolve(m)));
        // What performers carry would need them to be there already.
        Mending mending = mending(plate, () -> null);
        String env = shot.light().environment();
        Image map = env.isEmpty() ? null : Stills.read(folder.resolve(env), Encoding.SRGB);
        Map<String, Footage> footage = new HashMap<>();
        for (Performer p : shot.performers())
            for (String n : p.footage()) footage.computeIfAbsent(n, f -> Footage.open(folder.resolve(f)));
        Map<String, Texture> pictures = new HashMap<>();
        for (String f : shot.light().pictures()) pictures.put(f, Texture.read(folder.resolve(f), true, true));
        return new ShotScene(
                shot, camera, models, map, moved(), f -> colours(plate, mending, f), tracks(), footage, pictures);
    }
}

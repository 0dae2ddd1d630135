package dasein.app.stage;

import dasein.app.store.MediaStore;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.format.Stills;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.render.Irradiance;
import dasein.core.scene.Card;
import dasein.core.scene.Model;
import dasein.core.scene.ModelReader;
import dasein.core.scene.Performer;
import dasein.core.scene.Tie;
import dasein.core.shot.Blocking;
import dasein.core.shot.Footage;
import dasein.core.shot.PieceColours;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import dasein.core.shot.ShotScene;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Shots made ready to render; models and maps are shared, and the last few scenes are kept. */
@Component
public class Scenes {
    private static final int KEPT = 4;

    private final MediaStore media;
    private final Results results;
    private final Plates plates;
    private final Map<String, Model> models = lru();
    private final Map<String, Image> maps = lru();
    private final Map<String, Irradiance> lights = lru();
    private final Map<String, ShotScene> scenes = lru();
    private final Map<String, Blocking> blockings = lru();
    private final Map<String, Footage> footages = new HashMap<>();

    Scenes(MediaStore media, Results results, Plates plates) {
        this.plates = plates;
        this.media = media;
        this.results = results;
    }

    private static <V> Map<String, V> lru() {
        return new LinkedHashMap<>(8, 0.75f, true) {
            @Override
            protected boolean removeEldestEntry(Map.Entry<String, V> e) {
                return size() > KEPT * 2;
            }
        };
    }

    public synchronized ShotScene of(Shot s) {
        SolvedCamera camera = results.cameraInSet(s);
        if (camera == null) throw new BadInput("the camera is not solved yet");
        String key = ShotJson.fingerprint(
                Results.cameraPrint(s), Results.carriersOf(s), s.set(), s.performers(), s.light(), s.passes());
        ShotScene known = scenes.get(key);
        if (known != null) return known;
        Map<String, Model> used = models(s);
        ShotScene made =
                ShotScene.lit(s, camera, used, light(s), results.moved(s), f -> colours(s, f), tracks(s), footage(s));
        scenes.put(key, made);
        return made;
    }

    /** What lights a shot; kept, since performers change more often than it does. */
    public synchronized Irradiance light(Shot s) {
        String env = s.light().environment();
        return lights.computeIfAbsent(
                ShotJson.fingerprint(s.light()), k -> new Irradiance(s.light().build(env.isEmpty() ? null : map(env))));
    }

    /** The plate's colours on the set pieces. */
    PieceColours.Result colours(Shot s, Progress progress) {
        SolvedCamera camera = results.cameraInSet(s);
        if (camera == null) throw new BadInput("the camera is not solved yet");
        return PieceColours.of(s.set(), camera, pieceModels(s), results.moved(s), f -> colours(s, f), progress);
    }

    /** Where performers are at any frame; null while the camera is not solved. */
    public synchronized Blocking blocking(Shot s) {
        SolvedCamera camera = results.cameraInSet(s);
        if (camera == null) return null;
        String key = ShotJson.fingerprint(Results.cameraPrint(s), Results.carriersOf(s), s.set(), s.performers());
        Blocking known = blockings.get(key);
        if (known != null) return known;
        Map<String, Model> used = models(s);
        Blocking made = ShotScene.blocking(s, camera, used, results.moved(s), tracks(s), footage(s));
        blockings.put(key, made);
        return made;
    }

    /** Tracks that performers go along with. */
    private List<Track> tracks(Shot s) {
        if (s.performers().stream().noneMatch(p -> p.tie() != null && p.tie().to() == Tie.To.TRACK)) return List.of();
        List<Track> all = results.kept(s);
        return all == null ? List.of() : all;
    }

    private Map<String, Model> models(Shot s) {
        Map<String, Model> used = pieceModels(s);
        for (Performer p : s.performers()) if (p.card() == null) used.put(p.model(), model(p.model()));
        return used;
    }

    /** The model of a performer, a card's included. */
    public Model model(Performer p) {
        return p.card() == null
                ? model(p.model())
                : Card.model(footage(p.card().footage()).aspect(), p.card().bendDeg());
    }

    private Map<String, Footage> footage(Shot s) {
        Map<String, Footage> out = new HashMap<>();
        for (Performer p : s.performers()) for (String n : p.footage()) out.put(n, footage(n));
        return out;
    }

    /** Footage stays open: scenes that were made hold on to it. */
    public synchronized Footage footage(String hash) {
        return footages.computeIfAbsent(hash, h -> Footage.open(media.path(h)));
    }

    private Map<String, Model> pieceModels(Shot s) {
        Map<String, Model> used = new HashMap<>();
        for (Piece p : s.set().pieces()) if (p.kind() == Piece.Kind.MODEL) used.put(p.model(), model(p.model()));
        return used;
    }

    /** A frame for its colours: as painted, else the plate's. */
    private Image colours(Shot s, int frame) {
        Plate p = plates.of(s);
        String painted = s.set().colours().stream()
                .filter(c -> c.frame() == frame)
                .map(SetRecipe.ColourFrame::picture)
                .filter(h -> !h.isEmpty())
                .findFirst()
                .orElse("");
        if (painted.isEmpty()) return p.frame(frame);
        Image im = Stills.read(media.path(painted), p.encoding());
        if (Math.abs((double) im.width / im.height - (double) p.width() / p.height()) > 0.02)
            throw new BadInput("the painted picture of frame " + frame + " is " + im.width + " x " + im.height
                    + ", which has another shape than the plate");
        return im;
    }

    public synchronized Model model(String hash) {
        Model m = models.get(hash);
        if (m == null) models.put(hash, m = ModelReader.read(media.path(hash)));
        return m;
    }

    private Image map(String hash) {
        Image m = maps.get(hash);
        if (m == null) maps.put(hash, m = Stills.read(media.path(hash), Encoding.SRGB));
        return m;
    }
}

package dasein.app.scene;

import dasein.app.store.Held;
import dasein.app.store.MediaStore;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.cast.Blocking;
import dasein.core.cast.Card;
import dasein.core.cast.Footage;
import dasein.core.cast.Performer;
import dasein.core.cast.Tie;
import dasein.core.format.Stills;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.LightRig;
import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.Texture;
import dasein.core.model.file.ModelReader;
import dasein.core.plate.PlateFacts;
import dasein.core.render.Lit;
import dasein.core.shot.PieceColours;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Shots made ready to render; models and maps are shared, and what was used lately is kept while there is room. */
@Component
public class Scenes {
    /** Footage that nobody looked at for a while is let go of, all but this many. */
    private static final int OPEN_FOOTAGE = 6;
    /** About what a scene holds of its own beside models, maps and lighting, which are shared. */
    private static final long SCENE = 24 << 20;

    private final MediaStore media;
    private final Results results;
    private final Plates plates;
    private final Mended mended;
    private final Held<Model> models = new Held<>(0.15, Scenes::bytes);
    private final Held<Image> maps = new Held<>(0.1, Scenes::bytes);
    private final Held<Lit> lights = new Held<>(0.1, i -> 24L << 20);
    private final Held<ShotScene> scenes = new Held<>(0.1, s -> SCENE);
    private final Held<Blocking> blockings = new Held<>(0.05, b -> SCENE / 4);
    private final Map<String, Footage> footages = new LinkedHashMap<>(8, 0.75f, true);

    Scenes(MediaStore media, Results results, Plates plates, Mended mended) {
        this.mended = mended;
        this.plates = plates;
        this.media = media;
        this.results = results;
    }

    private static long bytes(Image im) {
        return 4L * im.width * im.height * im.channels();
    }

    private static long bytes(Model m) {
        long n = 1 << 16;
        for (Model.Part p : m.parts()) n += 48L * p.vertices() + 4L * p.index().length;
        for (Material k : m.materials())
            for (Texture t :
                    new Texture[] {k.baseTexture(), k.metalRoughTexture(), k.normalTexture(), k.emissiveTexture()})
                if (t != null) n += t.bytes();
        return n;
    }

    /** A shot made ready to render. @throws BadInput while its camera is not solved */
    public synchronized ShotScene of(Shot s) {
        return scenes.get(
                Prints.scene(s),
                () -> ShotScene.lit(
                        s,
                        camera(s),
                        models(s),
                        light(s),
                        results.moved(s),
                        f -> colours(s, f),
                        blocking(s),
                        pictures(s)));
    }

    private Map<String, Texture> pictures(Shot s) {
        Map<String, Texture> out = new HashMap<>();
        for (String p : s.light().pictures()) out.put(p, Texture.read(media.path(p), true, true));
        return out;
    }

    private SolvedCamera camera(Shot s) {
        SolvedCamera camera = results.cameraInSet(s);
        if (camera == null) throw new BadInput("the camera is not solved yet");
        return camera;
    }

    /** What lights a shot; kept, since performers change more often than it does. */
    public synchronized Lit light(Shot s) {
        String env = s.light().environment();
        return lights.get(
                Prints.light(s),
                () -> new Lit(
                        new LightRig(s.light(), env.isEmpty() ? null : map(env)),
                        camera(s).rate().perSecond()));
    }

    /** The plate's colours on the set pieces. */
    public PieceColours.Result colours(Shot s, Progress progress) {
        return PieceColours.of(s.set(), camera(s), pieceModels(s), results.moved(s), f -> colours(s, f), progress);
    }

    /** Where performers are at any frame; null while the camera is not solved. */
    public synchronized Blocking blocking(Shot s) {
        SolvedCamera camera = results.cameraInSet(s);
        return camera == null
                ? null
                : blockings.get(
                        Prints.blocking(s),
                        () -> ShotScene.blocking(s, camera, models(s), results.moved(s), tracks(s), footage(s)));
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

    /** Footage of the shelf. Scenes hold on to it; what rests opens its file again when a frame is asked for. */
    public synchronized Footage footage(String hash) {
        Footage f = footages.computeIfAbsent(hash, h -> Footage.open(media.path(h)));
        int rest = footages.size() - OPEN_FOOTAGE;
        for (Footage o : footages.values()) if (rest-- > 0) o.close();
        return f;
    }

    Map<String, Model> pieceModels(Shot s) {
        Map<String, Model> used = new HashMap<>();
        for (Piece p : s.set().pieces()) if (p.kind() == Piece.Kind.MODEL) used.put(p.model(), model(p.model()));
        return used;
    }

    /** A frame for its colours: as painted, else the plate's. */
    private Image colours(Shot s, int frame) {
        String painted = s.set().colours().stream()
                .filter(c -> c.frame() == frame)
                .map(SetRecipe.ColourFrame::picture)
                .filter(h -> !h.isEmpty())
                .findFirst()
                .orElse("");
        if (painted.isEmpty()) {
            try (Plates.Lent lent = plates.need(s)) {
                return mended.projected(s, lent.plate(), frame);
            }
        }
        PlateFacts p = plates.facts(s);
        Image im = Stills.read(media.path(painted), p.colour());
        if (Math.abs((double) im.width / im.height - (double) p.width() / p.height()) > 0.02)
            throw new BadInput("the painted picture of frame " + frame + " is " + im.width + " x " + im.height
                    + ", which has another shape than the plate");
        return im;
    }

    public synchronized Model model(String hash) {
        return models.get(hash, () -> ModelReader.read(media.path(hash)));
    }

    /** A lat-long map of the shelf. */
    public Image map(String hash) {
        return maps.get(hash, () -> Stills.read(media.path(hash), Encoding.SRGB));
    }
}

package dasein.app.stage.output;

import dasein.app.stage.Desk;
import dasein.app.store.Media;
import dasein.core.BadInput;
import dasein.core.cast.Look;
import dasein.core.cast.Performer;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Grade;
import dasein.core.comp.step.Steps;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.light.LightRecipe;
import dasein.core.light.blocker.Blocker;
import dasein.core.light.lamp.LampRecipe;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.MovedFile;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.SceneGltf;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraExchange;
import dasein.core.solve.file.CameraFile;
import dasein.core.solve.file.CameraGltf;
import dasein.core.track.MotionFile;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import java.util.zip.Deflater;
import tools.jackson.databind.json.JsonMapper;

/**
 * A shot as it is taken away: {@code scene.json} and all it names beside it, by names relative to it, so that the
 * headless commands run on it as it is and give the page's frames. The camera is in the set's frame, and what framed
 * the set is left out of the document.
 */
final class SceneZip {
    private final Map<String, Path> files = new LinkedHashMap<>();
    private final Map<String, byte[]> texts = new LinkedHashMap<>();
    /** Under which name a stored file lies in the zip, by its hash. */
    private final Map<String, String> named = new LinkedHashMap<>();

    private final Desk desk;

    private SceneZip(Desk desk) {
        this.desk = desk;
    }

    /** @throws BadInput when the camera is not solved, or a file is missing */
    static SceneZip of(Shot s, Desk desk, boolean withPlate) {
        return of(s, desk, withPlate, false);
    }

    /** @param rendered with the frames that are rendered, which are large */
    static SceneZip of(Shot s, Desk desk, boolean withPlate, boolean rendered) {
        SolvedCamera c = desk.results().cameraInSet(s);
        if (c == null) throw new BadInput("the camera is not solved yet");
        SceneZip z = new SceneZip(desk);
        z.text("camera.json", CameraFile.toJson(c));
        Shot out = z.plate(s, withPlate);
        out = z.tracks(out, s);
        out = out.with(out.camera()
                .withKept(List.of(), "")
                .goingOn("")
                .withLens("")
                .withFile("camera.json", CameraExchange.Reading.PLAIN));
        out = z.set(out).with(s.performers().stream().map(z::performer).toList());
        String map = s.light().environment();
        if (!map.isEmpty()) out = out.with(out.light().withEnvironment(z.file("light/map", map)));
        out = out.with(z.lamps(out.light()));
        List<CameraRecipe.Moved> things = s.camera().objects();
        if (!things.isEmpty())
            z.text("moved.json", MovedFile.toJson(desk.results().moved(s)));
        z.text("scene.json", ShotJson.writePretty(out));
        z.forOthers(s, c);
        z.asItStands(s, withPlate);
        ResultsAlong.All results = new ResultsAlong(desk).of(s, rendered, z.files::put);
        z.text(HandedOver.RESULTS, JsonMapper.builder().build().writeValueAsString(results));
        return z;
    }

    /** The same for programs of others: all that stands and moves, tracks, masks as they move, and the grade. */
    private void forOthers(Shot s, SolvedCamera c) {
        texts.put("exchange/camera.glb", CameraGltf.of(c));
        texts.put("exchange/scene.glb", SceneGltf.of(desk.scenes().of(s)));
        text("exchange/camera.usda", CameraExchange.usd(c));
        text("exchange/camera.csv", CameraExchange.csv(c));
        List<Track> tracks = desk.results().kept(s);
        if (tracks != null) text("exchange/tracks.csv", TrackFile.toCsv(tracks));
        if (!s.tracks().masks().isEmpty())
            text(
                    "exchange/masks.json",
                    MotionFile.toJson(s.tracks().masks(), desk.results().planes(s)));
        double rate = desk.plates().facts(s).rate().perSecond();
        CompRecipe r = s.comp().at(c.first(), rate);
        if (Steps.everywhere(r)) text("exchange/grade.cc", Grade.list(r).written("grade"));
    }

    /** The document as it is, and which of the files here are its media: by these another installation has it back. */
    private void asItStands(Shot s, boolean withPlate) {
        String document = ShotJson.writePretty(s);
        List<HandedOver.Item> items = new ArrayList<>();
        Matcher m = HASH.matcher(document);
        while (m.find()) {
            String hash = m.group();
            Media known = desk.shelf().find(hash);
            if (known == null || items.stream().anyMatch(k -> k.hash().equals(hash))) continue;
            if (!withPlate && hash.equals(s.plate().file())) continue;
            String at = named.containsKey(hash) ? named.get(hash) : file("media/" + hash.substring(0, 12), hash);
            items.add(new HandedOver.Item(hash, known.kind(), known.name(), at));
        }
        text(HandedOver.DOCUMENT, document);
        text(HandedOver.MEDIA, JsonMapper.builder().build().writeValueAsString(items));
    }

    private static final Pattern HASH = Pattern.compile("(?<![0-9a-f])[0-9a-f]{64}(?![0-9a-f])");

    private void text(String name, String text) {
        texts.put(name, text.getBytes(StandardCharsets.UTF_8));
    }

    /** Puts a stored file (or folder) in under a name. @return that name with its suffix */
    private String file(String name, String hash) {
        Path p = desk.media().path(hash);
        String n = p.getFileName().toString(), as = name + n.substring(Math.min(n.length(), hash.length()));
        files.put(as, p);
        named.put(hash, as);
        return as;
    }

    private Shot plate(Shot s, boolean withPlate) {
        String name = withPlate
                ? file("plate/" + s.plate().file().substring(0, 8), s.plate().file())
                : "";
        PlateRecipe p = s.plate().named(name);
        if (!s.plate().table().isEmpty())
            p = p.withTable(file("plate/table", s.plate().table()));
        return s.with(p.withPhotos(List.of()));
    }

    /** Tracks as they were left, where performers go along with them. */
    private Shot tracks(Shot out, Shot s) {
        List<Track> all = desk.results().kept(s);
        Shot bare = out.with(Shot.BLANK.tracks());
        if (all == null) return bare;
        text("tracks.json", TrackFile.toJson(all));
        return bare.with(Shot.BLANK.tracks().withFile("tracks.json"));
    }

    private Shot set(Shot s) {
        List<Piece> pieces = s.set().pieces().stream()
                .map(p -> p.kind() == Piece.Kind.MODEL
                        ? p.withModel(file("models/" + p.model().substring(0, 8), p.model()))
                        : p)
                .toList();
        List<SetRecipe.ColourFrame> colours = s.set().colours().stream()
                .map(c -> c.picture().isEmpty()
                        ? c
                        : new SetRecipe.ColourFrame(c.frame(), file("painted/" + c.frame(), c.picture())))
                .toList();
        return s.with(s.set().unframed().withPieces(pieces).withColours(colours));
    }

    private Performer performer(Performer p) {
        Performer q = p.card() != null
                ? p.with(p.card()
                        .showing(file(
                                "footage/" + p.card().footage().substring(0, 8),
                                p.card().footage())))
                : p.withModel(file("models/" + p.model().substring(0, 8), p.model()));
        return q.withLooks(p.looks().stream().map(this::look).toList());
    }

    private LightRecipe lamps(LightRecipe l) {
        return l.withLamps(l.lamps().stream().map(this::lamp).toList())
                .withBlockers(l.blockers().stream().map(this::blocker).toList());
    }

    private LampRecipe lamp(LampRecipe k) {
        String p = k.shine().picture();
        return p.isEmpty() ? k : k.with(k.shine().showing(file("light/" + p.substring(0, 8), p)));
    }

    private Blocker blocker(Blocker b) {
        String p = b.picture();
        return p.isEmpty() ? b : b.cutBy(file("light/" + p.substring(0, 8), p));
    }

    private Look look(Look l) {
        return l.picture() == null
                ? l
                : l.maskedBy(file("footage/" + l.picture().substring(0, 8), l.picture()));
    }

    /** @param shot its name; @param revision of it that this is */
    void write(OutputStream to, String shot, long revision) throws IOException {
        try (ListedZip zip = new ListedZip(to)) {
            for (Map.Entry<String, byte[]> t : texts.entrySet()) zip.add(t.getKey(), t.getValue());
            // Pictures and movies are packed already.
            zip.packing(Deflater.NO_COMPRESSION);
            for (Map.Entry<String, Path> f : files.entrySet()) {
                if (!Files.isDirectory(f.getValue())) {
                    zip.add(f.getKey(), f.getValue());
                    continue;
                }
                try (Stream<Path> list = Files.list(f.getValue())) {
                    for (Path p : list.sorted().toList()) zip.add(f.getKey() + "/" + p.getFileName(), p);
                }
            }
            Map<String, String> about = new LinkedHashMap<>();
            about.put("scene.json", "the shot for the headless commands, run as they lie here");
            about.put("exchange/", "the whole scene, camera, tracks, masks and grade for other programs");
            about.put(HandedOver.DOCUMENT, "the shot as it is, to be brought into another installation");
            about.put("results/", "what was computed for it, so that nothing is computed anew there");
            zip.finish(shot, revision, about);
        }
    }
}

package dasein.app.web;

import dasein.app.stage.CallSheet;
import dasein.app.stage.Scenes;
import dasein.app.stage.TrackWork;
import dasein.app.store.MediaStore;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.app.store.ShotMapper;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.light.Sun;
import dasein.core.plate.Plate;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.CameraExchange;
import dasein.core.solve.CameraFile;
import dasein.core.solve.CameraGltf;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.MotionFile;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.core.io.FileSystemResource;
import org.springframework.core.io.Resource;
import org.springframework.http.ContentDisposition;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** What the picture, the ribbon and the set plan draw, as numbers; and files to take away. */
@RestController
class DataController {
    private final Shots shots;
    private final Plates plates;
    private final Results results;
    private final Scenes scenes;
    private final CallSheet sheet;
    private final MediaStore files;

    private final TrackWork tracking;
    private final CameraData cameraData;
    private final BlockingData blockingData;

    DataController(
            Shots shots,
            Plates plates,
            Results results,
            Scenes scenes,
            CallSheet sheet,
            MediaStore files,
            TrackWork tracking,
            CameraData cameraData,
            BlockingData blockingData) {
        this.blockingData = blockingData;
        this.cameraData = cameraData;
        this.tracking = tracking;
        this.shots = shots;
        this.plates = plates;
        this.results = results;
        this.scenes = scenes;
        this.sheet = sheet;
        this.files = files;
    }

    @GetMapping("/shots/{id}/data.json")
    Map<String, Object> data(@PathVariable long id) {
        Shots.Head h = shots.head(id);
        Shot s = h.shot();
        Map<String, Object> m = new LinkedHashMap<>();
        m.put("revision", h.revision().id());
        Plate p;
        try {
            p = plates.of(s);
        } catch (BadInput e) {
            m.put("trouble", e.getMessage());
            return m;
        }
        if (p == null) return m;
        m.put(
                "plate",
                Map.of(
                        "width",
                        p.width(),
                        "height",
                        p.height(),
                        "first",
                        ShotSteps.first(s.plate(), p),
                        "last",
                        ShotSteps.last(s.plate(), p),
                        "cut",
                        List.of(ShotSteps.cutFirst(s.plate(), p), ShotSteps.cutLast(s.plate(), p)),
                        "rate",
                        p.rate().perSecond(),
                        "print",
                        Results.platePrint(s)));
        var facts = results.facts("tracks", Results.tracksPrint(s));
        if (facts != null) m.put("alive", facts.path("alive"));
        m.put(
                "tracksPrint",
                ShotJson.fingerprint(
                        Results.tracksPrint(s),
                        facts != null,
                        s.tracks().cuts(),
                        s.tracks().joins(),
                        s.tracks().marks().stream()
                                .map(k -> Results.markPrint(s, k))
                                .toList(),
                        results.unfollowed(s).size()));
        m.put("marks", s.tracks().marks());
        m.put("masks", s.tracks().masks());
        m.put("planes", results.planes(s));
        m.put("groups", s.tracks().groups());
        m.put("lines", s.camera().locked() ? s.camera().lines() : null);
        m.put("match", s.camera().locked() ? s.camera().match() : null);
        m.put("health", results.facts("health", Results.healthPrint(s)));
        m.put("deleted", s.tracks().deleted());
        try {
            SolvedCamera c = results.cameraInSet(s);
            if (c != null) {
                cameraData.put(m, s, c);
                if (!s.performers().isEmpty() || !s.light().environment().isEmpty()) sun(m, s);
            }
        } catch (BadInput | NoSolution e) {
            m.put("trouble", e.getMessage());
        }
        m.put("catcher", s.set().catcher());
        m.put("performers", blockingData.brief(s, ShotSteps.first(s.plate(), p), m));
        m.put("rendered", sheet.renderedFrames(s, p));
        return m;
    }

    private void sun(Map<String, Object> m, Shot s) {
        List<Map<String, Object>> suns = new ArrayList<>();
        for (Sun u : scenes.light(s).lighting().suns())
            suns.add(Map.of("towards", u.towards().array(), "irradiance", u.irradiance()));
        m.put("suns", suns);
    }

    /** Every track: number, first frame, then x, y for each frame up to its last; null where it was hidden. */
    @GetMapping("/shots/{id}/tracks.json")
    List<Double[]> tracks(@PathVariable long id) {
        Shot s = shots.head(id).shot();
        List<Track> t = new ArrayList<>(results.byHand(s));
        if (results.tracks(s) != null) t.addAll(results.tracks(s));
        List<Double[]> out = new ArrayList<>();
        for (Track k : ShotSteps.kept(s.tracks(), t)) {
            int first = k.frames()[0];
            Double[] v = new Double[2 + 2 * (k.frames()[k.length() - 1] - first + 1)];
            v[0] = (double) k.id();
            v[1] = (double) first;
            for (int i = 0; i < k.length(); i++) {
                int at = 2 + 2 * (k.frames()[i] - first);
                v[at] = Math.rint(k.x()[i] * 100) / 100;
                v[at + 1] = Math.rint(k.y()[i] * 100) / 100;
            }
            out.add(v);
        }
        return out;
    }

    /**
     * One line for each track that is left. Speed: the fastest, pixels a frame; match: the mean, null where it was not
     * measured.
     */
    record TrackLine(int id, int from, int to, int frames, double speed, Double match, String reason) {}

    @GetMapping("/shots/{id}/tracks/list.json")
    List<TrackLine> list(@PathVariable long id) {
        Shot s = shots.head(id).shot();
        List<Track> t = new ArrayList<>(results.byHand(s));
        if (results.tracks(s) != null) t.addAll(results.tracks(s));
        Map<Integer, String> reasons = new HashMap<>();
        var facts = results.facts("tracks", Results.tracksPrint(s));
        if (facts != null)
            for (var d : facts.path("doubts"))
                reasons.put(d.path("track").asInt(), d.path("reason").asString());
        return ShotSteps.kept(s.tracks(), t).stream()
                .map(k -> line(k, reasons.get(k.id())))
                .toList();
    }

    private static TrackLine line(Track k, String reason) {
        double speed = 0, match = 0;
        int n = 0;
        for (int i = 0; i < k.length(); i++) {
            if (i > 0 && k.frames()[i] == k.frames()[i - 1] + 1)
                speed = Math.max(speed, Math.hypot(k.x()[i] - k.x()[i - 1], k.y()[i] - k.y()[i - 1]));
            if (Float.isNaN(k.match()[i])) continue;
            match += k.match()[i];
            n++;
        }
        return new TrackLine(
                k.id(),
                k.frames()[0],
                k.frames()[k.length() - 1],
                k.length(),
                Math.rint(100 * speed) / 100,
                n == 0 ? null : Math.rint(1000 * match / n) / 1000,
                reason);
    }

    /** The marks alive in the frame tracked last, while this process is tracking; else nothing. */
    @GetMapping("/shots/{id}/tracks/live.json")
    ResponseEntity<TrackWork.Live> live(@PathVariable long id) {
        TrackWork.Live l = tracking.live(id);
        return l == null ? ResponseEntity.noContent().build() : ResponseEntity.ok(l);
    }

    /** How well one track was matched in each of its frames: {frame, match}; match null where it was not measured. */
    @GetMapping("/shots/{id}/tracks/{track:\\d+}.json")
    List<Double[]> match(@PathVariable long id, @PathVariable int track) {
        Shot s = shots.head(id).shot();
        List<Track> t = new ArrayList<>(results.byHand(s));
        if (results.tracks(s) != null) t.addAll(results.tracks(s));
        Track k = t.stream()
                .filter(q -> q.id() == track)
                .findFirst()
                .orElseThrow(() -> new Shots.NotThere("there is no track " + track));
        List<Double[]> out = new ArrayList<>();
        for (int i = 0; i < k.length(); i++)
            out.add(new Double[] {
                (double) k.frames()[i], Float.isNaN(k.match()[i]) ? null : Math.rint(1000 * k.match()[i]) / 1000
            });
        return out;
    }

    /** A written movie or zip of this shot. */
    @GetMapping("/shots/{id}/written/{print}")
    ResponseEntity<Resource> written(@PathVariable long id, @PathVariable String print) {
        ShotMapper.Result r = results.find("output", print);
        if (r == null) throw new Shots.NotThere("that was not written yet, or its settings have changed");
        Path p = files.result("output", r.file());
        boolean movie = r.file().endsWith(".mp4");
        String name = shots.head(id).row().name() + (movie ? ".mp4" : ".zip");
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType(movie ? "video/mp4" : "application/zip"))
                .header(
                        "Content-Disposition",
                        (movie ? ContentDisposition.inline() : ContentDisposition.attachment())
                                .filename(name, StandardCharsets.UTF_8)
                                .build()
                                .toString())
                .body(new FileSystemResource(p));
    }

    /** The set pieces with the plate's colours on them. */
    @GetMapping("/shots/{id}/take/set.glb")
    ResponseEntity<Resource> set(@PathVariable long id) {
        Shots.Head h = shots.head(id);
        ShotMapper.Result r = results.find("colours", Results.coloursPrint(h.shot()));
        if (r == null) throw new Shots.NotThere("the set's colours are not laid yet, or its pieces have changed");
        return download(
                new FileSystemResource(files.result("colours", r.file())),
                h.row().name() + "_set.glb",
                "model/gltf-binary");
    }

    /** Passes of one frame, as written. */
    @GetMapping("/shots/{id}/passes/{frame}.exr")
    ResponseEntity<Resource> passes(@PathVariable long id, @PathVariable int frame) {
        Shots.Head h = shots.head(id);
        ShotMapper.Result r = results.find("passes", Results.framePrint(h.shot(), frame));
        if (r == null) throw new Shots.NotThere("the passes of frame " + frame + " are not rendered yet");
        return download(
                new FileSystemResource(files.result("passes", r.file())),
                String.format("%s_%04d.exr", h.row().name(), frame),
                "image/x-exr");
    }

    @GetMapping("/shots/{id}/take/{what:camera.glb|camera.json|camera.usda|camera.csv|tracks.csv|tracks.json|"
            + "motions.json|scene.json}")
    ResponseEntity<?> take(@PathVariable long id, @PathVariable String what) throws IOException {
        Shots.Head h = shots.head(id);
        Shot s = h.shot();
        String name = h.row().name() + "_" + what;
        if (what.equals("scene.json"))
            return download(ShotJson.writePretty(s).getBytes(StandardCharsets.UTF_8), name, "application/json");
        if (what.equals("motions.json"))
            return download(
                    MotionFile.toJson(s.tracks().masks(), results.planes(s)).getBytes(StandardCharsets.UTF_8),
                    name,
                    "application/json");
        if (what.startsWith("tracks")) {
            List<Track> t = results.kept(s);
            if (t == null) throw new Shots.NotThere("there are no tracks yet");
            if (what.equals("tracks.json"))
                return download(TrackFile.toJson(t).getBytes(StandardCharsets.UTF_8), name, "application/json");
            Path tmp = Files.createTempFile("dasein", ".csv");
            try {
                TrackFile.write(tmp, t);
                return download(Files.readAllBytes(tmp), name, "text/csv");
            } finally {
                Files.deleteIfExists(tmp);
            }
        }
        SolvedCamera c = results.cameraInSet(s);
        if (c == null) throw new Shots.NotThere("the camera is not solved yet");
        if (what.equals("camera.usda"))
            return download(CameraExchange.usd(c).getBytes(StandardCharsets.UTF_8), name, "text/plain");
        if (what.equals("camera.csv"))
            return download(CameraExchange.csv(c).getBytes(StandardCharsets.UTF_8), name, "text/csv");
        return what.equals("camera.json")
                ? download(CameraFile.toJson(c).getBytes(StandardCharsets.UTF_8), name, "application/json")
                : download(CameraGltf.of(c), name, "model/gltf-binary");
    }

    private static <T> ResponseEntity<T> download(T body, String name, String type) {
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType(type))
                .header(
                        "Content-Disposition",
                        ContentDisposition.attachment()
                                .filename(name, StandardCharsets.UTF_8)
                                .build()
                                .toString())
                .body(body);
    }
}

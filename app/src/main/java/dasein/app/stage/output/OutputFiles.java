package dasein.app.stage.output;

import dasein.app.stage.Desk;
import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.stage.Sheets;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.format.Exr;
import dasein.core.output.Names;
import dasein.core.render.pass.Layers;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Prints;
import dasein.core.shot.SceneGltf;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraExchange;
import dasein.core.solve.file.CameraFile;
import dasein.core.solve.file.CameraGltf;
import dasein.core.track.MotionFile;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import jakarta.servlet.http.HttpServletResponse;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.springframework.core.io.FileSystemResource;
import org.springframework.core.io.Resource;
import org.springframework.http.ContentDisposition;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Files to take away. */
@RestController
class OutputFiles {
    private final Desk desk;

    private final Seeing seeing;
    private final Sheets sheets;

    OutputFiles(Desk desk, Seeing seeing, Sheets sheets) {
        this.desk = desk;
        this.seeing = seeing;
        this.sheets = sheets;
    }

    /** A written movie or zip of this shot. @param name it is to have, kept harmless */
    @GetMapping("/shots/{id}/written/{print}")
    ResponseEntity<Resource> written(
            @PathVariable long id, @PathVariable String print, @RequestParam(defaultValue = "") String name) {
        Path p = desk.results().file("output", print);
        if (p == null) throw new Shots.NotThere("that was not written yet, or its settings have changed");
        String file = p.getFileName().toString(),
                suffix = file.substring(file.lastIndexOf('.')),
                shot = desk.shots().head(id).row().name(),
                as = name.endsWith(suffix) ? name.substring(0, name.length() - suffix.length()) : shot;
        boolean zip = suffix.equals(".zip");
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType(TYPES.getOrDefault(suffix, "application/octet-stream")))
                .header(
                        "Content-Disposition",
                        (zip ? ContentDisposition.attachment() : ContentDisposition.inline())
                                .filename(Names.safe(as) + suffix, StandardCharsets.UTF_8)
                                .build()
                                .toString())
                .body(new FileSystemResource(p));
    }

    private static final Map<String, String> TYPES = Map.of(
            ".mp4", "video/mp4",
            ".webm", "video/webm",
            ".mov", "video/quicktime",
            ".mkv", "video/x-matroska",
            ".zip", "application/zip");

    /** What the shot is and how it stands, for people. */
    @GetMapping("/shots/{id}/take/report.pdf")
    ResponseEntity<byte[]> report(@PathVariable long id) throws IOException {
        Seen s = seeing.of(id);
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        new ShotReport(s, sheets.of(s)).write(out);
        return download(out.toByteArray(), s.head().row().name() + "_report.pdf", "application/pdf");
    }

    /** The set pieces with the plate's colours on them. */
    @GetMapping("/shots/{id}/take/set.glb")
    ResponseEntity<Resource> set(@PathVariable long id) {
        Shots.Head h = desk.shots().head(id);
        Path p = desk.results().file("colours", Prints.colours(h.shot()));
        if (p == null) throw new Shots.NotThere("the set's colours are not laid yet, or its pieces have changed");
        return download(new FileSystemResource(p), h.row().name() + "_set.glb", "model/gltf-binary");
    }

    /** Passes of one frame, as written. */
    @GetMapping("/shots/{id}/passes/{frame}.exr")
    ResponseEntity<Resource> passes(@PathVariable long id, @PathVariable int frame) {
        Shots.Head h = desk.shots().head(id);
        Path p = desk.filtered().file(h.shot(), frame);
        if (p == null) throw new Shots.NotThere("the passes of frame " + frame + " are not rendered yet");
        return download(
                new FileSystemResource(p), String.format("%s_%04d.exr", h.row().name(), frame), "image/x-exr");
    }

    /** The performers of one frame by depth, as deep pixels. */
    @GetMapping("/shots/{id}/deep/{frame}.exr")
    ResponseEntity<byte[]> deep(@PathVariable long id, @PathVariable int frame) throws IOException {
        Shots.Head h = desk.shots().head(id);
        Path file = desk.filtered().file(h.shot(), frame);
        if (file == null) throw new Shots.NotThere("the passes of frame " + frame + " are not rendered yet");
        Passes p = Passes.read(file);
        if (Layers.of(p) == null) throw new BadInput("layers by depth were not kept: tick them under What is kept");
        if (!p.straight())
            p.view = desk.scenes().of(h.shot()).view(frame, h.shot().passes().size());
        p.attributes.put(Exr.COUNTER, Integer.toString(frame));
        p.attributes.put("shot", h.row().name());
        Path tmp = Files.createTempFile("dasein", ".exr");
        try {
            Layers.writeDeep(p, tmp);
            return download(
                    Files.readAllBytes(tmp),
                    String.format("%s_deep_%04d.exr", h.row().name(), frame),
                    "image/x-exr");
        } finally {
            Files.deleteIfExists(tmp);
        }
    }

    /**
     * The scene with all it is made of, for the headless commands.
     *
     * @param plate whether the footage comes along
     */
    @GetMapping("/shots/{id}/take/scene.zip")
    void scene(
            @PathVariable long id,
            @RequestParam(defaultValue = "true") boolean plate,
            @RequestParam(defaultValue = "false") boolean rendered,
            HttpServletResponse response)
            throws IOException {
        Shots.Head h = desk.shots().head(id);
        // What is missing is said before the first byte is sent.
        SceneZip zip = SceneZip.of(h.shot(), desk, plate, rendered);
        response.setContentType("application/zip");
        response.setHeader(
                "Content-Disposition",
                ContentDisposition.attachment()
                        .filename(h.row().name() + "_scene.zip", StandardCharsets.UTF_8)
                        .build()
                        .toString());
        zip.write(response.getOutputStream(), h.row().name(), h.revision().id());
    }

    /** Everything that stands and moves, for other programs. */
    @GetMapping("/shots/{id}/take/scene.glb")
    ResponseEntity<byte[]> everything(@PathVariable long id) {
        Shots.Head h = desk.shots().head(id);
        if (desk.results().cameraInSet(h.shot()) == null) throw new Shots.NotThere("the camera is not solved yet");
        byte[] glb = SceneGltf.of(desk.scenes().of(h.shot()));
        return download(glb, h.row().name() + "_scene.glb", "model/gltf-binary");
    }

    @GetMapping("/shots/{id}/take/{what:tracks.csv|tracks.json|motions.json}")
    ResponseEntity<byte[]> tracks(@PathVariable long id, @PathVariable String what) {
        Shots.Head h = desk.shots().head(id);
        Shot s = h.shot();
        String name = h.row().name() + "_" + what;
        if (what.equals("motions.json"))
            return text(MotionFile.toJson(s.tracks().masks(), desk.results().planes(s)), name, "application/json");
        List<Track> t = desk.results().kept(s);
        if (t == null) throw new Shots.NotThere("there are no tracks yet");
        if (what.equals("tracks.json")) return text(TrackFile.toJson(t), name, "application/json");
        return text(TrackFile.toCsv(t), name, "text/csv");
    }

    @GetMapping("/shots/{id}/take/{what:camera.glb|camera.json|camera.usda|camera.csv}")
    ResponseEntity<byte[]> camera(@PathVariable long id, @PathVariable String what) {
        Shots.Head h = desk.shots().head(id);
        String name = h.row().name() + "_" + what;
        SolvedCamera c = desk.results().cameraInSet(h.shot());
        if (c == null) throw new Shots.NotThere("the camera is not solved yet");
        return switch (what) {
            case "camera.usda" -> text(CameraExchange.usd(c), name, "text/plain");
            case "camera.csv" -> text(CameraExchange.csv(c), name, "text/csv");
            case "camera.json" -> text(CameraFile.toJson(c), name, "application/json");
            default -> download(CameraGltf.of(c), name, "model/gltf-binary");
        };
    }

    private static ResponseEntity<byte[]> text(String body, String name, String type) {
        return download(body.getBytes(StandardCharsets.UTF_8), name, type);
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

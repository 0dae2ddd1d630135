package dasein.app.web;

import dasein.app.stage.Comps;
import dasein.app.store.MediaStore;
import dasein.app.store.Plates;
import dasein.app.store.Proxies;
import dasein.app.store.Results;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.render.Passes;
import dasein.core.shot.Shot;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.Callable;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Frames as JPEG for looking at: plate, passes, comp, and drafts that get better with each asking. */
@RestController
class PictureController {
    private static final CacheControl FOR_GOOD =
            CacheControl.maxAge(Duration.ofDays(30)).cachePrivate().immutable();

    private final Shots shots;
    private final Plates plates;
    private final Comps comps;
    private final Drafts drafts;
    private final Proxies proxies;
    private final MediaStore media;
    private final Results results;

    PictureController(
            Shots shots,
            Plates plates,
            Comps comps,
            Drafts drafts,
            Proxies proxies,
            MediaStore media,
            Results results) {
        this.results = results;
        this.media = media;
        this.shots = shots;
        this.plates = plates;
        this.comps = comps;
        this.drafts = drafts;
        this.proxies = proxies;
    }

    /**
     * @param by 1 full, 2 half, 4 quarter size; @param hold number of a carried mask under which the picture is to
     *     stand still; @param v only keeps the browser's copies of different plates apart
     */
    @GetMapping("/shots/{id}/plate/{frame}.jpg")
    ResponseEntity<byte[]> plate(
            @PathVariable long id,
            @PathVariable int frame,
            @RequestParam(defaultValue = "2") int by,
            @RequestParam(required = false) String v,
            @RequestParam(defaultValue = "") String channel,
            @RequestParam(defaultValue = "0") int hold)
            throws IOException {
        if (by != 1 && by != 2 && by != 4) throw new BadInput("by must be 1, 2 or 4");
        Shot s = shots.head(id).shot();
        Plate p = plates.of(s);
        if (p == null) throw new Shots.NotThere("the shot has no plate yet");
        if (hold != 0) {
            Map<Integer, double[]> way = results.planes(s).get(hold);
            Image im = Plates.reduced(p.frame(frame), by);
            if (way != null && way.containsKey(frame)) im = PlateView.held(im, way.get(frame), by);
            return jpeg(im, p.encoding().shown(), CacheControl.noCache());
        }
        CacheControl cache = v != null && v.equals(Results.platePrint(s)) ? FOR_GOOD : CacheControl.noCache();
        if (channel.isEmpty() && by == (Proxies.half(p.width()) ? 2 : 1)) {
            byte[] known = proxies.read(s, frame);
            return known != null ? body(known, cache) : jpeg(p.preview(frame, by == 2), cache);
        }
        return jpeg(
                channel.isEmpty()
                        ? Plates.reduced(p.frame(frame), by)
                        : PlateView.of(p.frame(frame), channel, p.encoding(), by),
                p.encoding().shown(),
                cache);
    }

    /** A photo of the set notes, at most so many pixels wide. */
    @GetMapping("/shots/{id}/photo/{hash}.jpg")
    ResponseEntity<byte[]> photo(
            @PathVariable long id, @PathVariable String hash, @RequestParam(defaultValue = "280") int wide)
            throws IOException {
        if (shots.head(id).shot().plate().photos().stream()
                .noneMatch(k -> k.hash().equals(hash))) throw new Shots.NotThere("that photo is not in the notes");
        Image im = Stills.read(media.path(hash), Encoding.SRGB);
        while (im.width >= 2 * Math.max(16, wide)) im = im.half();
        return jpeg(im, Encoding.SRGB, FOR_GOOD);
    }

    private static ResponseEntity<byte[]> body(byte[] jpeg, CacheControl cache) {
        return ResponseEntity.ok()
                .contentType(MediaType.IMAGE_JPEG)
                .cacheControl(cache)
                .body(jpeg);
    }

    private static ResponseEntity<byte[]> jpeg(BufferedImage bi, CacheControl cache) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream(200_000);
        Stills.writeJpeg(out, bi, Proxies.QUALITY);
        return body(out.toByteArray(), cache);
    }

    private static ResponseEntity<byte[]> jpeg(Image im, Encoding e, CacheControl cache) throws IOException {
        return jpeg(Stills.toBuffered(im, e), cache);
    }

    /** The finished frame, or 404 while its passes are missing. */
    @GetMapping("/shots/{id}/comp/{frame}.jpg")
    ResponseEntity<byte[]> comp(@PathVariable long id, @PathVariable int frame) throws IOException {
        Shot s = shots.head(id).shot();
        Image im = comps.frame(s, frame);
        if (im == null) throw new Shots.NotThere("the passes of frame " + frame + " are not rendered yet");
        return jpeg(im, plates.of(s).encoding().shown(), CacheControl.noStore());
    }

    @GetMapping("/shots/{id}/pass/{frame}.jpg")
    ResponseEntity<byte[]> pass(@PathVariable long id, @PathVariable int frame, @RequestParam String pass)
            throws IOException {
        Passes p = comps.passes(shots.head(id).shot(), frame);
        if (p == null) throw new Shots.NotThere("the passes of frame " + frame + " are not rendered yet");
        return jpeg(PassView.of(p, pass), Encoding.SRGB, CacheControl.noStore());
    }

    /** A quick picture of the frame with its performers: level 0 at once, higher levels better and slower. */
    @GetMapping("/shots/{id}/draft/{frame}.jpg")
    Callable<ResponseEntity<byte[]>> draft(
            @PathVariable long id, @PathVariable int frame, @RequestParam(defaultValue = "0") int level) {
        return () -> {
            Shots.Head h = shots.head(id);
            Image im = drafts.frame(h, frame, level);
            if (im == null) return ResponseEntity.noContent().build();
            return jpeg(im, plates.of(h.shot()).encoding().shown(), CacheControl.noStore());
        };
    }
}

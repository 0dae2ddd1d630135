package dasein.app.stage.plate;

import dasein.app.stage.Desk;
import dasein.app.stage.Pictures;
import dasein.app.store.Plates;
import dasein.app.store.Proxies;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.io.IOException;
import java.util.Map;
import org.springframework.http.CacheControl;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Frames of the plate, and photos of the notes. */
@RestController
class PlatePictures {
    private final Desk desk;
    private final Proxies proxies;

    PlatePictures(Desk desk, Proxies proxies) {
        this.desk = desk;
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
        Shot s = desk.shots().head(id).shot();
        if (s.plate().file().isEmpty()) throw new Shots.NotThere("the shot has no plate yet");
        CacheControl cache = v != null && v.equals(Prints.plate(s)) ? Pictures.FOR_GOOD : CacheControl.noCache();
        PlateFacts facts = desk.plates().facts(s);
        boolean small = hold == 0 && channel.isEmpty() && by == (Proxies.half(facts.width()) ? 2 : 1);
        // The small pictures lie there ready: for them nothing is opened.
        byte[] known = small ? proxies.read(s, frame) : null;
        if (known != null) return Pictures.packed(known, cache);
        try (Plates.Lent lent = desk.plates().need(s)) {
            Plate p = lent.plate();
            if (small) return Pictures.of(p.preview(frame, by == 2), cache);
            if (hold != 0)
                return Pictures.of(held(s, p, frame, by, hold), p.encoding().shown(), CacheControl.noCache());
            Image im = channel.isEmpty()
                    ? Plates.reduced(p.frame(frame), by)
                    : PlateView.of(p.frame(frame), channel, p.encoding(), by);
            return Pictures.of(im, p.encoding().shown(), cache);
        }
    }

    private Image held(Shot s, Plate p, int frame, int by, int hold) {
        Map<Integer, double[]> way = desk.results().planes(s).get(hold);
        Image im = Plates.reduced(p.frame(frame), by);
        return way != null && way.containsKey(frame) ? PlateView.held(im, way.get(frame), by) : im;
    }

    /** A photo of the set notes or of a ball, at most so many pixels wide. */
    @GetMapping("/shots/{id}/photo/{hash}.jpg")
    ResponseEntity<byte[]> photo(
            @PathVariable long id, @PathVariable String hash, @RequestParam(defaultValue = "280") int wide)
            throws IOException {
        Shot s = desk.shots().head(id).shot();
        boolean noted = s.plate().photos().stream().anyMatch(k -> k.hash().equals(hash)),
                ball =
                        s.light().clues().balls().stream()
                                .flatMap(b -> b.photos().stream())
                                .anyMatch(k -> k.hash().equals(hash));
        if (!noted && !ball) throw new Shots.NotThere("that photo is not in the notes");
        Image im = Stills.read(desk.media().path(hash), Encoding.SRGB);
        while (im.width >= 2 * Math.max(16, wide)) im = im.half();
        return Pictures.of(im, Encoding.SRGB, Pictures.FOR_GOOD);
    }
}

package dasein.app.stage.passes;

import dasein.app.stage.Desk;
import dasein.app.stage.Pictures;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import org.springframework.http.CacheControl;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.context.request.async.AsyncRequestTimeoutException;

/** Single passes, and drafts that get better with each asking. */
@RestController
class PassPictures {
    private final Desk desk;
    private final Drafts drafts;

    PassPictures(Desk desk, Drafts drafts) {
        this.desk = desk;
        this.drafts = drafts;
    }

    @GetMapping("/shots/{id}/pass/{frame}.jpg")
    ResponseEntity<byte[]> pass(
            @PathVariable long id,
            @PathVariable int frame,
            @RequestParam String pass,
            @RequestParam(defaultValue = "false") boolean raw)
            throws IOException {
        Passes p = passes(desk.shots().head(id).shot(), frame, raw);
        return Pictures.of(p.picture(pass), Encoding.SRGB, CacheControl.noStore());
    }

    /** @param raw as they were sampled, before their noise was filtered out */
    private Passes passes(Shot s, int frame, boolean raw) {
        Passes p = raw ? desk.comps().raw(s, frame) : desk.comps().passes(s, frame);
        if (p == null)
            throw new Shots.NotThere(
                    raw
                            ? "frame " + frame + " was not kept as it was sampled: filtering over frames keeps it so"
                            : "the passes of frame " + frame + " are not rendered yet");
        return p;
    }

    /**
     * Scene-linear values of a pass, or of the finished frame ({@code comp}), at a place in parts of the picture; null
     * for what is no number.
     */
    @GetMapping("/shots/{id}/pass/{frame}/values")
    List<Float> values(
            @PathVariable long id,
            @PathVariable int frame,
            @RequestParam String pass,
            @RequestParam double x,
            @RequestParam double y,
            @RequestParam(defaultValue = "false") boolean raw) {
        Shot s = desk.shots().head(id).shot();
        Passes p = passes(s, frame, raw);
        float[][] planes = pass.equals("comp") ? desk.comps().frame(s, frame, p).planes : p.of(pass);
        if (planes == null) throw new BadInput("there is no pass " + pass);
        if (!(x >= 0 && x < 1 && y >= 0 && y < 1)) throw new BadInput("that place is not in the picture");
        int at = (int) (y * p.height) * p.width + (int) (x * p.width);
        List<Float> out = new ArrayList<>();
        for (float[] plane : planes) out.add(Float.isFinite(plane[at]) ? plane[at] : null);
        return out;
    }

    /**
     * A quick picture of the frame with its performers: level 0 at once, higher levels better and slower. Nothing when
     * a newer question came, or the shot has changed since the one that asks looked at it.
     *
     * @param rev the revision that is looked at; @param by who asks: one page looks at one draft at a time
     */
    @GetMapping("/shots/{id}/draft/{frame}.jpg")
    Callable<ResponseEntity<byte[]>> draft(
            @PathVariable long id,
            @PathVariable int frame,
            @RequestParam(defaultValue = "0") int level,
            @RequestParam(defaultValue = "0") long rev,
            @RequestParam(defaultValue = "") String by,
            @RequestParam(defaultValue = "") String alone,
            @RequestParam(defaultValue = "false") boolean stands,
            @RequestParam(defaultValue = "") String part) {
        return () -> {
            Shots.Head h = desk.shots().head(id);
            if (rev != 0 && rev != h.revision().id())
                return ResponseEntity.noContent().build();
            Image im = drafts.frame(h, frame, level, by, Drafts.Look.of(alone, stands, part));
            if (im == null) return ResponseEntity.noContent().build();
            return Pictures.of(im, desk.plates().facts(h.shot()).colour().shown(), CacheControl.noStore());
        };
    }

    /** It took too long, since something else is rendered: nothing to see yet, and nothing is wrong. */
    @ExceptionHandler(AsyncRequestTimeoutException.class)
    ResponseEntity<Void> late() {
        return ResponseEntity.noContent().build();
    }
}

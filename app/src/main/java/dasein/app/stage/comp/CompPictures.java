package dasein.app.stage.comp;

import dasein.app.scene.Comps;
import dasein.app.stage.Desk;
import dasein.app.stage.Pictures;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.comp.Window;
import dasein.core.comp.step.Grade;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Idle;
import dasein.core.image.Image;
import dasein.core.key.Curve;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.springframework.http.CacheControl;
import org.springframework.http.ContentDisposition;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Finished frames. */
@RestController
class CompPictures {
    private static final int THUMB = 160;

    private final Desk desk;
    private final CompFrom from;

    CompPictures(Desk desk, CompFrom from) {
        this.desk = desk;
        this.from = from;
    }

    /**
     * The finished frame; while its passes are missing the plate with what is done to it, or 404 where that is nothing.
     *
     * @param raw made of the passes before their noise was filtered out; @param without key of a heading whose steps
     *     are left out; @param of a revision of this shot that is looked at instead of the newest
     */
    @GetMapping("/shots/{id}/comp/{frame}.jpg")
    ResponseEntity<byte[]> comp(
            @PathVariable long id,
            @PathVariable int frame,
            @RequestParam(defaultValue = "false") boolean raw,
            @RequestParam(defaultValue = "") String without,
            @RequestParam(defaultValue = "0") long of,
            @RequestParam(defaultValue = "") String as,
            @RequestParam(defaultValue = "") String group)
            throws IOException {
        Shot now = !as.isEmpty()
                ? as(id, as, group)
                : of == 0 ? desk.shots().head(id).shot() : desk.shots().earlier(id, of);
        Shot s = without(now, without);
        Image im = raw
                ? desk.comps().frame(s, frame, desk.comps().raw(s, frame))
                : desk.comps().frame(s, frame);
        if (im == null && Comps.plainly(s)) im = desk.comps().plain(s, frame);
        if (im == null) throw new Shots.NotThere("the passes of frame " + frame + " are not rendered yet");
        return Pictures.of(im, desk.plates().facts(s).colour().shown(), CacheControl.noStore());
    }

    /**
     * What is looked at of the finished frame, while a slider is held: kept nowhere. Which part of it came says a
     * header.
     *
     * @param number of the comp that is tried as {@code value}, as the page shows it
     * @param look left, top, right and bottom of what is seen, 0 to 1, and pixels of the screen for one of the plate
     */
    @GetMapping("/shots/{id}/comp/{frame}/tried.jpg")
    ResponseEntity<byte[]> tried(
            @PathVariable long id,
            @PathVariable int frame,
            @RequestParam String number,
            @RequestParam double value,
            @RequestParam(defaultValue = "0,0,1,1,0.5") double[] look)
            throws IOException {
        if (look.length != 5 || !Arrays.stream(look).allMatch(Double::isFinite))
            throw new BadInput("what is looked at is said in five numbers");
        Shots.Head h = desk.shots().head(id);
        Shot s = tried(h.shot(), number, value, frame);
        Comps.Part p = desk.comps().tried(s, id + " " + h.revision().id(), frame, number, look);
        if (p == null) throw new Shots.NotThere("the passes of frame " + frame + " are not rendered yet");
        Window w = p.window();
        ResponseEntity<byte[]> picture =
                Pictures.of(p.image(), desk.plates().facts(s).colour().shown(), CacheControl.noStore());
        return ResponseEntity.ok()
                .headers(picture.getHeaders())
                .header(
                        "X-Part",
                        (double) w.x() / p.width() + "," + (double) w.y() / p.height() + ","
                                + (double) (w.x() + w.width()) / p.width() + ","
                                + (double) (w.y() + w.height()) / p.height())
                .body(picture.getBody());
    }

    /**
     * @param lost what could not be found or covered in this frame; @param idle headings with nothing to act on there
     */
    record Said(List<String> lost, Map<String, String> idle) {}

    /** What is to be said of a frame beside its picture. */
    @GetMapping("/shots/{id}/comp/{frame}/said.json")
    Said said(@PathVariable long id, @PathVariable int frame) {
        Shot s = desk.shots().head(id).shot();
        List<String> lost = new ArrayList<>(desk.comps().lost(s, frame));
        Passes p = desk.comps().passes(s, frame);
        Map<String, String> idle = new TreeMap<>();
        if (p != null) Idle.of(p).forEach((g, why) -> idle.put(g.key(), why));
        return new Said(lost.stream().distinct().toList(), idle);
    }

    /** Frames in which what stands in front pops. */
    @GetMapping("/shots/{id}/comp/pops.json")
    List<Integer> pops(@PathVariable long id) {
        return desk.comps().pops(desk.shots().head(id).shot());
    }

    /** The grade as a colour decision list; as it is in a frame where it is keyed. */
    @GetMapping("/shots/{id}/comp/grade.cc")
    ResponseEntity<byte[]> grade(@PathVariable long id, @RequestParam(defaultValue = "0") int frame) {
        Shots.Head h = desk.shots().head(id);
        Shot s = h.shot();
        double rate = desk.plates().facts(s).rate().perSecond();
        String list = Grade.list(s.comp().at(frame, rate)).written(h.row().name());
        return ResponseEntity.ok()
                .contentType(MediaType.APPLICATION_XML)
                .header(
                        "Content-Disposition",
                        ContentDisposition.attachment()
                                .filename(h.row().name() + ".cc")
                                .build()
                                .toString())
                .body(list.getBytes(StandardCharsets.UTF_8));
    }

    private Shot as(long id, String other, String group) {
        Shots.Head h = desk.shots().head(id);
        return h.shot().with(from.taken(desk, h, other, group).recipe());
    }

    /** Which numbers another shot of the show has otherwise. */
    @GetMapping("/shots/{id}/comp/{frame}/as.json")
    List<CompFrom.Difference> differences(
            @PathVariable long id,
            @PathVariable int frame,
            @RequestParam String as,
            @RequestParam(defaultValue = "") String group) {
        return from.differences(desk, desk.shots().head(id), as, group, frame);
    }

    private static Shot tried(Shot s, String number, double value, int frame) {
        Param p = CompStage.params(s).stream()
                .filter(k -> k.name().equals(number))
                .findFirst()
                .orElseThrow(() -> new Shots.NotThere("the comp has no number " + number));
        if (!Double.isFinite(value)) throw new BadInput(p.label() + " is a number");
        return s.with(s.comp().set(p.name(), p.held(value / p.shown()), frame));
    }

    private static Shot without(Shot s, String key) {
        CompRecipe r = s.comp();
        for (Group g : Group.values())
            if (g.key().equals(key)) r = r.with(g.on().name(), Curve.NONE).with(g.on(), 0);
        return s.with(r);
    }

    /** The same, small. @param rev revision that is looked at, so that an older picture is not taken for a newer */
    @GetMapping("/shots/{id}/thumb/{frame}.jpg")
    ResponseEntity<byte[]> thumb(
            @PathVariable long id, @PathVariable int frame, @RequestParam(defaultValue = "0") long rev)
            throws IOException {
        Shots.Head h = desk.shots().head(id);
        Image im = desk.comps().frame(h.shot(), frame);
        if (im == null) throw new Shots.NotThere("the passes of frame " + frame + " are not rendered yet");
        return Pictures.of(
                im.resize(THUMB, Math.max(1, Math.round((float) THUMB * im.height / im.width))),
                desk.plates().facts(h.shot()).colour().shown(),
                rev == h.revision().id() ? Pictures.FOR_GOOD : CacheControl.noStore());
    }
}

package dasein.app.stage.comp;

import dasein.app.stage.Desk;
import dasein.app.stage.Pictures;
import dasein.app.store.Shots;
import dasein.core.image.Image;
import dasein.core.shot.Shot;
import java.io.IOException;
import org.springframework.http.CacheControl;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** Finished frames. */
@RestController
class CompPictures {
    private final Desk desk;

    CompPictures(Desk desk) {
        this.desk = desk;
    }

    /** The finished frame, or 404 while its passes are missing. */
    @GetMapping("/shots/{id}/comp/{frame}.jpg")
    ResponseEntity<byte[]> comp(@PathVariable long id, @PathVariable int frame) throws IOException {
        Shot s = desk.shots().head(id).shot();
        Image im = desk.comps().frame(s, frame);
        if (im == null) throw new Shots.NotThere("the passes of frame " + frame + " are not rendered yet");
        return Pictures.of(im, desk.plates().facts(s).colour().shown(), CacheControl.noStore());
    }
}

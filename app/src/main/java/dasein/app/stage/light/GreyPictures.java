package dasein.app.stage.light;

import dasein.app.stage.Pictures;
import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.store.Shots;
import dasein.core.image.Encoding;
import dasein.core.light.Clues;
import java.io.IOException;
import org.springframework.http.CacheControl;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** A grey ball of the plate beside the same in the shot's light. */
@RestController
class GreyPictures {
    private final Seeing seeing;
    private final Clueing clueing;

    GreyPictures(Seeing seeing, Clueing clueing) {
        this.seeing = seeing;
        this.clueing = clueing;
    }

    @GetMapping("/shots/{id}/light/grey/{mark}.jpg")
    ResponseEntity<byte[]> grey(@PathVariable long id, @PathVariable int mark) throws IOException {
        Seen s = seeing.of(id);
        Clues.Grey g = s.shot().light().clues().greys().stream()
                .filter(k -> k.id() == mark)
                .findFirst()
                .orElseThrow(() -> new Shots.NotThere("that grey ball is no longer marked"));
        return Pictures.of(clueing.grey(s, g).picture(), Encoding.SRGB, CacheControl.noStore());
    }
}

package dasein.app.page.review;

import dasein.app.store.ReviewMapper;
import dasein.app.store.Shots;
import dasein.app.store.Token;
import dasein.core.BadInput;
import java.io.IOException;
import java.util.List;
import java.util.Set;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Controller;
import org.springframework.ui.Model;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseBody;

/** The owner's side of review: notes get their states here, and links are given out and taken back. */
@Controller
class ReviewPage {
    private static final Set<String> STATES = Set.of("open", "done", "meant");
    private static final int MOST_LINKS = 50, NAME = 60;

    private final Reviews reviews;
    private final ReviewMapper rows;

    ReviewPage(Reviews reviews, ReviewMapper rows) {
        this.reviews = reviews;
        this.rows = rows;
    }

    @GetMapping("/shots/{id}/review")
    String page(@PathVariable long id, Model model) {
        Shots.Head h = reviews.head(id);
        model.addAttribute("show", h.row().showName());
        model.addAttribute("shot", h.row().name());
        model.addAttribute("id", id);
        model.addAttribute("base", "/shots/" + id + "/review");
        model.addAttribute("files", "");
        model.addAttribute("owner", true);
        model.addAttribute("links", rows.links(id));
        return "review";
    }

    @GetMapping("/shots/{id}/review/data.json")
    @ResponseBody
    Reviews.Data data(@PathVariable long id) {
        return reviews.data(id, true);
    }

    @GetMapping("/shots/{id}/review/frame/{frame}.jpg")
    ResponseEntity<byte[]> frame(
            @PathVariable long id, @PathVariable int frame, @RequestParam(defaultValue = "0") long of)
            throws IOException {
        return reviews.frame(id, frame, of);
    }

    @GetMapping("/shots/{id}/review/plate/{frame}.jpg")
    ResponseEntity<byte[]> plate(@PathVariable long id, @PathVariable int frame) throws IOException {
        return reviews.plate(id, frame);
    }

    @PostMapping("/shots/{id}/review/notes")
    @ResponseBody
    Reviews.Data note(
            @PathVariable long id,
            @RequestParam int frame,
            @RequestParam(required = false) Double x,
            @RequestParam(required = false) Double y,
            @RequestParam(defaultValue = "") String author,
            @RequestParam String text) {
        reviews.note(id, null, frame, x, y, author, text);
        return reviews.data(id, true);
    }

    @PostMapping("/shots/{id}/review/notes/{note}/state")
    @ResponseBody
    Reviews.Data state(@PathVariable long id, @PathVariable long note, @RequestParam String state) {
        if (!STATES.contains(state)) throw new BadInput("a note is open, done, or as meant");
        if (rows.state(id, note, state) == 0) throw new Shots.NotThere("that note is gone");
        return reviews.data(id, true);
    }

    @PostMapping("/shots/{id}/review/notes/{note}/drop")
    @ResponseBody
    Reviews.Data drop(@PathVariable long id, @PathVariable long note) {
        rows.drop(id, note);
        return reviews.data(id, true);
    }

    /** @param address with the token, shown this once */
    record Given(String address, List<ReviewMapper.Link> links) {}

    @PostMapping("/shots/{id}/review/links")
    @ResponseBody
    Given give(@PathVariable long id, @RequestParam(defaultValue = "") String name) {
        reviews.head(id);
        String called = name.strip().isEmpty() ? "a link" : name.strip();
        if (called.length() > NAME) throw new BadInput("a name may have " + NAME + " letters at most");
        if (rows.links(id).stream().filter(l -> l.revoked() == null).count() >= MOST_LINKS)
            throw new BadInput("more than " + MOST_LINKS + " links are not given out: take some back");
        String token = Token.fresh();
        rows.link(id, called, Token.hash(token));
        return new Given("/look/" + token, rows.links(id));
    }

    @PostMapping("/shots/{id}/review/links/{link}/revoke")
    @ResponseBody
    Given revoke(@PathVariable long id, @PathVariable long link) {
        rows.revoke(id, link);
        return new Given("", rows.links(id));
    }
}

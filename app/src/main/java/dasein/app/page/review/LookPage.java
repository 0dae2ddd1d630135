package dasein.app.page.review;

import dasein.app.store.ReviewMapper;
import dasein.app.store.Shots;
import dasein.app.store.Token;
import java.io.IOException;
import java.util.Map;
import org.springframework.core.io.ClassPathResource;
import org.springframework.core.io.Resource;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Controller;
import org.springframework.ui.Model;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseBody;

/**
 * Review through a link: whoever has its token may look at one shot and note, and nothing else. All that its page needs
 * lies under the token, so that no other route has to be open.
 */
@Controller
class LookPage {
    private static final Map<String, MediaType> FILES = Map.of(
            "css/base.css", MediaType.valueOf("text/css"),
            "css/review.css", MediaType.valueOf("text/css"),
            "js/review.js", MediaType.valueOf("text/javascript"),
            "fonts/archivo.woff2", MediaType.valueOf("font/woff2"));

    private final Reviews reviews;
    private final ReviewMapper rows;

    LookPage(Reviews reviews, ReviewMapper rows) {
        this.reviews = reviews;
        this.rows = rows;
    }

    private ReviewMapper.Link link(String token) {
        ReviewMapper.Link l = rows.open(Token.hash(token));
        if (l == null) throw new Shots.NotThere("this link leads nowhere any more");
        return l;
    }

    @GetMapping("/look/{token}")
    String page(@PathVariable String token, Model model) {
        ReviewMapper.Link l = link(token);
        Shots.Head h = reviews.head(l.shotId());
        model.addAttribute("show", h.row().showName());
        model.addAttribute("shot", h.row().name());
        model.addAttribute("base", "/look/" + token);
        model.addAttribute("files", "/look/" + token + "/file");
        model.addAttribute("owner", false);
        return "review";
    }

    @GetMapping("/look/{token}/file/{folder}/{name}")
    ResponseEntity<Resource> file(@PathVariable String token, @PathVariable String folder, @PathVariable String name) {
        link(token);
        MediaType type = FILES.get(folder + "/" + name);
        if (type == null) throw new Shots.NotThere("there is no such file");
        return ResponseEntity.ok().contentType(type).body(new ClassPathResource("static/" + folder + "/" + name));
    }

    @GetMapping("/look/{token}/data.json")
    @ResponseBody
    Reviews.Data data(@PathVariable String token) {
        return reviews.data(link(token).shotId(), false);
    }

    @GetMapping("/look/{token}/frame/{frame}.jpg")
    ResponseEntity<byte[]> frame(
            @PathVariable String token, @PathVariable int frame, @RequestParam(defaultValue = "0") long of)
            throws IOException {
        return reviews.frame(link(token).shotId(), frame, of);
    }

    @GetMapping("/look/{token}/plate/{frame}.jpg")
    ResponseEntity<byte[]> plate(@PathVariable String token, @PathVariable int frame) throws IOException {
        return reviews.plate(link(token).shotId(), frame);
    }

    @PostMapping("/look/{token}/notes")
    @ResponseBody
    Reviews.Data note(
            @PathVariable String token,
            @RequestParam int frame,
            @RequestParam(required = false) Double x,
            @RequestParam(required = false) Double y,
            @RequestParam(defaultValue = "") String author,
            @RequestParam String text) {
        ReviewMapper.Link l = link(token);
        reviews.note(l.shotId(), l.id(), frame, x, y, author, text);
        return reviews.data(l.shotId(), false);
    }
}

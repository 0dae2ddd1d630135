package dasein.app.page.api;

import dasein.app.store.ApiTokenMapper;
import dasein.app.store.Token;
import dasein.core.BadInput;
import org.springframework.stereotype.Controller;
import org.springframework.ui.Model;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;

/** Keys for scripts are made and taken back here; a key is shown once. */
@Controller
class KeysPage {
    private static final int NAME = 60, MOST = 50;

    private final ApiTokenMapper keys;

    KeysPage(ApiTokenMapper keys) {
        this.keys = keys;
    }

    @GetMapping("/keys")
    String page(Model m) {
        m.addAttribute("keys", keys.open());
        return "keys";
    }

    @PostMapping("/keys")
    String add(@RequestParam(defaultValue = "") String name, Model m) {
        String called = name.strip();
        if (called.isEmpty() || called.length() > NAME)
            throw new BadInput("give the key a name of up to " + NAME + " letters, so that you know it again");
        if (keys.open().size() >= MOST) throw new BadInput("more than " + MOST + " keys are not kept: take some back");
        String token = Token.fresh();
        keys.add(called, Token.hash(token));
        m.addAttribute("fresh", token);
        return page(m);
    }

    @PostMapping("/keys/{key}/revoke")
    String revoke(@PathVariable long key) {
        keys.revoke(key);
        return "redirect:/keys";
    }
}

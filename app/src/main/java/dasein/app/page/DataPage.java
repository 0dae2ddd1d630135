package dasein.app.page;

import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.stage.Stages;
import dasein.app.store.Proxies;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.Prints;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** What the picture, the ribbon and the set plan draw, as numbers: the plate, and what each stage adds. */
@RestController
class DataPage {
    private final Seeing seeing;
    private final Stages stages;

    DataPage(Seeing seeing, Stages stages) {
        this.seeing = seeing;
        this.stages = stages;
    }

    @GetMapping("/shots/{id}/data.json")
    Map<String, Object> data(@PathVariable long id) {
        Seen s = seeing.of(id);
        Map<String, Object> m = new LinkedHashMap<>();
        m.put("revision", s.head().revision().id());
        try {
            if (s.plateTrouble() != null) throw s.plateTrouble();
            if (s.plate() == null) return m;
            m.put("plate", plate(s));
            // What one stage cannot tell, a set without ground for one, keeps nothing from the others.
            for (Stage t : stages.all()) told(t, m, s);
        } catch (BadInput e) {
            m.put("trouble", e.getMessage());
        }
        return m;
    }

    private static void told(Stage t, Map<String, Object> m, Seen s) {
        try {
            t.data(m, s);
        } catch (BadInput | NoSolution e) {
            m.putIfAbsent("trouble", e.getMessage());
        }
    }

    private static Map<String, Object> plate(Seen s) {
        PlateFacts p = s.plate();
        return Map.of(
                "width", p.width(),
                "height", p.height(),
                "first", s.first(),
                "last", s.last(),
                "cut", List.of(s.cutFirst(), s.cutLast()),
                "rate", p.rate().perSecond(),
                "by", Proxies.half(p.width()) ? 2 : 1,
                "print", Prints.plate(s.shot()));
    }
}

package dasein.app.stage.light;

import dasein.app.stage.Desk;
import dasein.app.stage.Seen;
import dasein.app.store.Plates;
import dasein.core.BadInput;
import dasein.core.light.Clues;
import dasein.core.light.LightRig;
import dasein.core.light.Lighting;
import dasein.core.light.level.PlateMatch;
import dasein.core.light.sun.ShadowSun;
import dasein.core.shot.Prints;
import dasein.core.solve.SolvedCamera;
import java.util.LinkedHashMap;
import java.util.Map;
import org.springframework.stereotype.Component;

/** What the marks in the plate say of its light. */
@Component
class Clueing {
    private static final int KEPT = 40;

    private final Desk desk;
    /** Reading the plate takes a while; by plate and marks. */
    private final Map<String, PlateMatch.Ground> grounds = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, PlateMatch.Ground> e) {
            return size() > KEPT;
        }
    };

    Clueing(Desk desk) {
        this.desk = desk;
    }

    /** @throws BadInput while it is not solved */
    SolvedCamera camera(Seen s) {
        SolvedCamera c = desk.results().cameraInSet(s.shot());
        if (c == null) throw new BadInput("the camera is not solved yet: a shadow needs the ground it lies on");
        return c;
    }

    ShadowSun.Result sun(Seen s) {
        return ShadowSun.of(camera(s), s.shot().light().clues().lines());
    }

    PlateMatch.Ground ground(Seen s) {
        Clues c = s.shot().light().clues();
        if (c.patches().isEmpty()) return new PlateMatch.Ground(null, null);
        String key = Prints.plate(s.shot()) + c.patches();
        synchronized (grounds) {
            PlateMatch.Ground known = grounds.get(key);
            if (known != null) return known;
        }
        PlateMatch.Ground g;
        try (Plates.Lent lent = desk.plates().need(s.shot())) {
            g = PlateMatch.ground(c, f -> lent.plate().frame(f));
        }
        synchronized (grounds) {
            grounds.put(key, g);
        }
        return g;
    }

    LightRig rig(Seen s) {
        camera(s);
        return desk.scenes().light(s.shot()).rig();
    }

    Lighting now(Seen s, int frame) {
        camera(s);
        return desk.scenes().light(s.shot()).in(frame).lighting();
    }

    /** Null while the camera is not solved. */
    Lighting nowIfSolved(Seen s, int frame) {
        return s.camera() == null ? null : now(s, frame);
    }
}

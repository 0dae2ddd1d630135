package dasein.app.stage.plate;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.plate.Conform;
import dasein.core.plate.PlateFacts;
import dasein.core.plate.Timecode;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.track.TrackSettings;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;

/** Changes of the Plate stage: how footage is read, and what was noted on set. */
@Component
public class PlateEdits {
    private static final int MOST_DISTANCES = 200, MOST_HANDLES = 1000;

    private final Plates plates;
    private final Results results;

    PlateEdits(Plates plates, Results results) {
        this.plates = plates;
        this.results = results;
    }

    Change apply(Shot s, String action, Form f) {
        PlateRecipe p = s.plate();
        return switch (action) {
            case "no-table" -> changed(s, p.withTable(""), "colour table taken away");
            case "no-repeats" -> withoutRepeats(s);
            case "thorough" ->
                new Change(s.with(s.tracks().with(TrackSettings.Quality.THOROUGH)), "marks are looked for thoroughly");
            case "distance" -> distance(s, f);
            case "no-distance" -> {
                List<PlateRecipe.Distance> all = new ArrayList<>(p.distances());
                PlateRecipe.Distance gone = all.remove(f.index(all.size()));
                yield new Change(s.with(p.withDistances(all)), gone.name() + " taken off the notes");
            }
            case "no-photo" ->
                new Change(
                        s.with(p.withPhotos(p.photos().stream()
                                .filter(k -> !k.hash().equals(f.text("hash", "")))
                                .toList())),
                        "photo taken off the notes");
            default -> settings(s, f);
        };
    }

    private Change settings(Shot s, Form f) {
        PlateRecipe p = s.plate();
        String encoding = f.text("encoding", p.encoding());
        if (!encoding.isEmpty()) Encoding.of(encoding);
        Conform c = p.conform();
        String order = f.choice("order", c.order().name(), "STORED", "BY_TIME", "WITHOUT");
        Conform conform = new Conform(
                Conform.Order.valueOf(order),
                Conform.Fields.valueOf(f.choice("fields", c.fields().name(), "WHOLE", "UPPER", "LOWER")),
                f.number("aspect", "the width of a pixel", c.aspect(), 0, 4),
                c.leftOut());
        PlateRecipe next = new PlateRecipe(
                p.file(),
                encoding,
                f.text("rate", p.rate()),
                f.whole("first", "the first frame", p.first(), 0, 10_000_000),
                f.whole("last", "the last frame", p.last(), 0, 10_000_000),
                f.number("sensorWidthMm", "the sensor width", p.sensorWidthMm(), 0, 200),
                f.number("focalMm", "the focal length", p.focalMm(), 0, 5000),
                f.text("notes", p.notes()),
                f.text("camera", p.camera()),
                f.text("lens", p.lens()),
                f.number("fStop", "the f-stop", p.fStop(), 0, 128),
                f.number("focusMetres", "the focus distance", p.focusMetres(), 0, 100_000),
                f.number("shutterDeg", "the shutter", p.shutterDeg(), 0, 360),
                f.number("cameraHeightMetres", "the camera height", p.cameraHeightMetres(), 0, 10_000),
                f.text("timecode", p.timecode()),
                p.table(),
                conform,
                f.whole("handles", "the handles", p.handles(), 0, MOST_HANDLES),
                p.distances(),
                p.photos());
        return changed(s, next, "plate settings changed");
    }

    /** What is to be read otherwise must open; a note can be written about footage that does not. */
    private Change changed(Shot s, PlateRecipe next, String said) {
        PlateRecipe p = s.plate();
        if (Prints.range(s).equals(Prints.range(s.with(next)))
                && next.timecode().equals(p.timecode())) return new Change(s.with(next), said);
        PlateFacts opened = plates.facts(s.with(next));
        if (opened != null) {
            ShotSteps.last(next, opened);
            if (!next.timecode().isEmpty()) Timecode.parse(next.timecode(), opened.rate());
        }
        return new Change(s.with(next), said);
    }

    private Change withoutRepeats(Shot s) {
        JsonNode health = results.facts("health", Prints.health(s));
        if (health == null || health.path("repeated").isEmpty()) throw new BadInput("no repeated frames are known");
        Conform c = s.plate().conform();
        TreeSet<Integer> left = new TreeSet<>(c.order() == Conform.Order.WITHOUT ? c.leftOut() : List.of());
        int before = left.size();
        for (JsonNode n : health.path("repeated")) left.add(n.asInt());
        return changed(
                s,
                s.plate().withConform(new Conform(Conform.Order.WITHOUT, c.fields(), c.aspect(), List.copyOf(left))),
                left.size() - before + " repeated frames left out");
    }

    private static Change distance(Shot s, Form f) {
        String name = f.text("name", "");
        double metres = f.number("metres", "the distance", 0, 0.001, 100_000);
        if (name.isEmpty() || metres <= 0) throw new BadInput("a distance needs a name and its length in metres");
        List<PlateRecipe.Distance> all = new ArrayList<>(s.plate().distances());
        if (all.size() >= MOST_DISTANCES) throw new BadInput("more than " + MOST_DISTANCES + " distances are not kept");
        all.add(new PlateRecipe.Distance(name, metres));
        return new Change(s.with(s.plate().withDistances(all)), name + ", " + metres + " m, noted");
    }
}

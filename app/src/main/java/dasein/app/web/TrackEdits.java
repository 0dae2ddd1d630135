package dasein.app.web;

import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.app.web.Edits.Change;
import dasein.core.BadInput;
import dasein.core.plate.Plate;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.track.HandMark;
import dasein.core.track.DrawnMask;
import dasein.core.track.TrackSettings;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;

/** Changes of the Tracks stage: settings, what is taken out, marks put by hand, masks. */
@Component
class TrackEdits {
    private static final int MOST_MARKS = 500, MOST_MASKS = 50;
    private static final int REGION = 10, SEARCH = 16;

    private final Plates plates;
    private final Results results;

    TrackEdits(Plates plates, Results results) {
        this.plates = plates;
        this.results = results;
    }

    Change apply(Shot s, String action, Form f) {
        Shot.TrackRecipe t = s.tracks();
        return switch (action) {
            case "delete" -> deleted(s, ids(f.text("ids", "")));
            case "find" -> new Change(s.with(t.withFile("")), "tracks to be found, not brought in");
            case "restore" -> new Change(s.with(t.withDeleted(List.of()).withCuts(List.of()).withJoins(List.of())), "all tracks as they were found");
            case "cut" -> cut(s, f);
            case "join" -> join(s, ids(f.text("ids", "")));
            case "tidy" -> tidy(s);
            case "group" -> group(s, f.whole("group", "the group", 0, 0, 1000));
            case "mark-add", "mark-fix", "mark-set", "mark-follow", "mark-delete" -> marks(s, action, f);
            case "mask-add", "mask-key", "mask-set", "mask-delete" -> masks(s, action, f);
            default -> settings(s, f);
        };
    }

    private static Change settings(Shot s, Form f) {
        Shot.TrackRecipe t = s.tracks();
        Shot.TrackRecipe next = new Shot.TrackRecipe(f.whole("count", "the number of marks", t.count(), 20, 3000), f.number("threshold", "the threshold", t.threshold(), 0, 1), f.whole("region", "the region", t.region(), 4, 25),
            f.number("spacing", "the spacing", t.spacing(), 0, 1000), TrackSettings.Quality.valueOf(f.choice("quality", t.quality().name(), "DRAFT", "STANDARD", "THOROUGH")), t.mask(), t.file(), t.deleted(), t.cuts(), t.joins(), t.masks(), t.marks());
        // Other settings give other tracks with the same numbers: what was taken out no longer means anything.
        return new Change(s.with(next.equals(t) ? t : next.withMasks(t.masks())), "track settings changed");
    }

    private static Change deleted(Shot s, List<Integer> ids) {
        TreeSet<Integer> all = new TreeSet<>(s.tracks().deleted());
        List<HandMark> marks = s.tracks().marks().stream().filter(m -> !ids.contains(m.id())).toList();
        ids.stream().filter(i -> i < HandMark.FIRST_ID).forEach(all::add);
        int n = ids.size();
        return new Change(s.with(s.tracks().withDeleted(List.copyOf(all)).withMarks(marks)), n == 1 ? "track " + named(s, ids.get(0)) + " deleted" : n + " tracks deleted");
    }

    private static String named(Shot s, int id) { return s.tracks().marks().stream().filter(m -> m.id() == id).map(HandMark::name).findFirst().orElse(Integer.toString(id)); }

    private Change cut(Shot s, Form f) {
        List<Integer> ids = ids(f.text("ids", ""));
        int from = f.whole("from", "the first frame", 0, -10_000_000, 10_000_000), to = f.whole("to", "the last frame", 0, -10_000_000, 10_000_000);
        if (ids.isEmpty()) throw new BadInput("choose a track first");
        if (to < from) throw new BadInput("the part to cut ends before it begins");
        List<Shot.Cut> all = new ArrayList<>(s.tracks().cuts());
        for (int id : ids) all.add(new Shot.Cut(id, from, to));
        return new Change(s.with(s.tracks().withCuts(all)), ids.size() == 1 ? "track " + named(s, ids.get(0)) + " cut" : ids.size() + " tracks cut");
    }

    private Change join(Shot s, List<Integer> ids) {
        if (ids.size() != 2) throw new BadInput("choose the two tracks that are one mark");
        List<Shot.Join> all = new ArrayList<>(s.tracks().joins());
        all.add(new Shot.Join(Math.min(ids.get(0), ids.get(1)), Math.max(ids.get(0), ids.get(1))));
        return new Change(s.with(s.tracks().withJoins(all)), "tracks " + ids.get(0) + " and " + ids.get(1) + " joined");
    }

    /** Cuts jumps and takes out what does not look like itself; short tracks stay, they do no harm. */
    private Change tidy(Shot s) {
        JsonNode facts = results.facts("tracks", Results.tracksPrint(s));
        if (facts == null) throw new BadInput("there are no tracks to tidy yet");
        Plate p = plates.of(s);
        int last = ShotSteps.last(s.plate(), p), cut = 0, out = 0;
        TreeSet<Integer> deleted = new TreeSet<>(s.tracks().deleted());
        List<Shot.Cut> cuts = new ArrayList<>(s.tracks().cuts());
        for (JsonNode d : facts.path("doubts")) {
            int id = d.path("track").asInt(), frame = d.path("frame").asInt();
            if (d.path("badness").asDouble() < 1 || deleted.contains(id) || cuts.stream().anyMatch(c -> c.track() == id)) continue;
            if (d.path("reason").asString().startsWith("jumps")) {
                cuts.add(new Shot.Cut(id, frame, last));
                cut++;
            } else {
                deleted.add(id);
                out++;
            }
        }
        if (cut + out == 0) throw new BadInput("there is nothing left that a sensible person would take out");
        return new Change(s.with(s.tracks().withDeleted(List.copyOf(deleted)).withCuts(cuts)), "tidied: " + cut + " cut at a jump, " + out + " deleted");
    }

    private Change group(Shot s, int n) {
        JsonNode facts = results.facts("tracks", Results.tracksPrint(s));
        JsonNode g = facts == null ? null : facts.path("groups").get(n);
        if (g == null) throw new BadInput("there is no such group");
        List<Integer> ids = new ArrayList<>();
        for (JsonNode i : g.path("tracks")) ids.add(i.asInt());
        return new Change(deleted(s, ids).shot(), "moving group of " + ids.size() + " tracks taken out");
    }

    private Change marks(Shot s, String action, Form f) {
        List<HandMark> all = new ArrayList<>(s.tracks().marks());
        Plate p = plates.of(s);
        if (p == null) throw new BadInput("bring in a plate first");
        int first = ShotSteps.first(s.plate(), p), last = ShotSteps.last(s.plate(), p), frame = f.whole("frame", "the frame", first, first, last);
        double x = f.number("x", "x", 0, 0, p.width()), y = f.number("y", "y", 0, 0, p.height());
        if (action.equals("mark-add")) {
            if (all.size() >= MOST_MARKS) throw new BadInput("more than " + MOST_MARKS + " marks by hand are not kept");
            int id = all.stream().mapToInt(HandMark::id).max().orElse(HandMark.FIRST_ID - 1) + 1;
            HandMark m = new HandMark(id, "hand " + (id - HandMark.FIRST_ID + 1), REGION, SEARCH, HandMark.Motion.TURN, List.of(new HandMark.Fix(frame, x, y)), frame, frame);
            all.add(m);
            return new Change(s.with(s.tracks().withMarks(all)), m.name() + " put at frame " + frame);
        }
        int id = number(f.text("id", "")), at = -1;
        for (int i = 0; i < all.size(); i++) if (all.get(i).id() == id) at = i;
        if (at < 0) throw new BadInput("that mark is gone");
        HandMark m = all.get(at);
        switch (action) {
            case "mark-delete" -> {
                all.remove(at);
                return new Change(s.with(s.tracks().withMarks(all)), m.name() + " deleted");
            }
            case "mark-fix" -> all.set(at, m.fixed(frame, x, y));
            case "mark-follow" -> all.set(at, follow(m, f.choice("to", "all", "all", "start", "end", "before", "after"), first, last));
            default -> all.set(at, new HandMark(id, f.text("name", m.name()).isEmpty() ? m.name() : f.text("name", m.name()), f.whole("region", "the region", m.region(), 4, 60), f.whole("search", "the search area", m.search(), 1, 200),
                HandMark.Motion.valueOf(f.choice("motion", m.motion().name(), "SHIFT", "TURN", "AFFINE", "PERSPECTIVE")), m.fixes(), m.first(), m.last()));
        }
        return new Change(s.with(s.tracks().withMarks(all)), m.name() + (action.equals("mark-fix") ? " put at frame " + frame : action.equals("mark-follow") ? " followed" : " changed"));
    }

    private static HandMark follow(HandMark m, String to, int first, int last) {
        return switch (to) {
            case "start" -> m.to(first, m.last());
            case "end" -> m.to(m.first(), last);
            case "before" -> m.to(Math.max(first, m.first() - 1), m.last());
            case "after" -> m.to(m.first(), Math.min(last, m.last() + 1));
            default -> m.to(first, last);
        };
    }

    private Change masks(Shot s, String action, Form f) {
        List<DrawnMask> all = new ArrayList<>(s.tracks().masks());
        int frame = f.whole("frame", "the frame", 1, -10_000_000, 10_000_000);
        if (action.equals("mask-add")) {
            if (all.size() >= MOST_MASKS) throw new BadInput("more than " + MOST_MASKS + " masks are not kept");
            int id = all.stream().mapToInt(DrawnMask::id).max().orElse(0) + 1;
            all.add(new DrawnMask(id, "mask " + id, 0, DrawnMask.Carry.KEYS, List.of(new DrawnMask.Key(frame, points(f.text("xy", ""))))));
            return new Change(s.with(s.tracks().withMasks(all)), "mask " + id + " drawn");
        }
        int id = number(f.text("id", ""));
        DrawnMask m = all.stream().filter(k -> k.id() == id).findFirst().orElseThrow(() -> new BadInput("that mask is gone"));
        if (action.equals("mask-key") && m.carry() == DrawnMask.Carry.PLANE && frame != m.keys().get(0).frame()) throw new BadInput("this mask is carried by its surface; change its shape at frame " + m.keys().get(0).frame() + ", where it was drawn");
        UnaryOperator<DrawnMask> change = action.equals("mask-key") ? k -> k.keyed(frame, points(f.text("xy", "")))
            : k -> new DrawnMask(k.id(), f.text("name", k.name()).isEmpty() ? k.name() : f.text("name", k.name()), f.number("feather", "the feather", k.feather(), 0, 500), DrawnMask.Carry.valueOf(f.choice("carry", k.carry().name(), "KEYS", "PLANE")), k.keys());
        if (action.equals("mask-delete")) all.remove(m);
        else all.set(all.indexOf(m), change.apply(m));
        return new Change(s.with(s.tracks().withMasks(all)), m.name() + (action.equals("mask-delete") ? " deleted" : action.equals("mask-key") ? " moved at frame " + frame : " changed"));
    }

    private static List<Double> points(String xy) {
        List<Double> out = new ArrayList<>();
        try {
            for (String v : xy.split("[, ]+")) if (!v.isBlank()) out.add(Double.parseDouble(v));
        } catch (NumberFormatException e) {
            throw new BadInput("the points of the mask cannot be read");
        }
        return out;
    }

    private static List<Integer> ids(String text) {
        List<Integer> out = new ArrayList<>();
        for (String id : text.split(",")) if (!id.isBlank()) out.add(number(id));
        return out;
    }

    static int number(String s) {
        try {
            return Integer.parseInt(s.trim());
        } catch (NumberFormatException e) {
            throw new BadInput("\"" + s.trim() + "\" is not a number of a track, mark or mask");
        }
    }
}

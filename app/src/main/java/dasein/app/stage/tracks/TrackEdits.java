package dasein.app.stage.tracks;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.core.BadInput;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.shot.TrackRecipe;
import dasein.core.track.HandMark;
import dasein.core.track.TrackCheck;
import dasein.core.track.TrackSettings;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;

/** Changes of the Tracks stage: settings, what is taken out, marks put by hand, masks. */
@Component
public class TrackEdits {
    private static final int MOST_MARKS = 500, MOST_GROUPS = 50;
    /** Ours first; a person may choose any other. */
    private static final List<String> COLOURS =
            List.of("#8fa8b8", "#e0a458", "#9cc48a", "#c79bd6", "#d98880", "#7fc7c4");

    private static final int REGION = 10, SEARCH = 16;

    private final Plates plates;
    private final Results results;

    TrackEdits(Plates plates, Results results) {
        this.plates = plates;
        this.results = results;
    }

    Change apply(Shot s, String action, Form f) {
        if (MaskEdits.knows(action)) return MaskEdits.apply(s, action, f);
        TrackRecipe t = s.tracks();
        return switch (action) {
            case "delete" -> deleted(s, f.ids("ids"));
            case "find" -> new Change(s.with(t.withFile("")), "tracks to be found, not brought in");
            case "restore" ->
                new Change(
                        s.with(t.withDeleted(List.of()).withCuts(List.of()).withJoins(List.of())),
                        "all tracks as they were found");
            case "cut" -> cut(s, f);
            case "join" -> join(s, f.ids("ids"));
            case "tidy" -> tidy(s);
            case "mover-out" -> deleted(s, mover(s, f.whole("group", "the group", 0, 0, 1000)));
            case "mover-group" -> grouped(s, mover(s, f.whole("group", "the group", 0, 0, 1000)), "moving thing", true);
            case "group-add" -> grouped(s, f.ids("ids"), "group", false);
            case "group-set", "group-more", "group-delete" -> groups(s, action, f);
            case "mark-follow" -> follow(s, f);
            case "mark-add", "mark-fix", "mark-aside", "mark-set", "mark-delete" -> marks(s, action, f);
            default -> settings(s, f);
        };
    }

    private static Change settings(Shot s, Form f) {
        TrackRecipe t = s.tracks();
        TrackRecipe next = new TrackRecipe(
                f.whole("count", "the number of marks", t.count(), 20, 3000),
                f.number("threshold", "the threshold", t.threshold(), 0, 1),
                f.whole("region", "the region", t.region(), 4, 25),
                f.number("spacing", "the spacing", t.spacing(), 0, 1000),
                TrackSettings.Quality.valueOf(f.choice("quality", t.quality().name(), "DRAFT", "STANDARD", "THOROUGH")),
                t.mask(),
                t.file(),
                t.deleted(),
                t.cuts(),
                t.joins(),
                t.masks(),
                t.marks(),
                t.groups());
        // Other settings give other tracks with the same numbers: what was taken out no longer means anything.
        return new Change(s.with(next.equals(t) ? t : next.withMasks(t.masks())), "track settings changed");
    }

    /** Without those that are locked; an empty rest is refused. */
    private static List<Integer> free(Shot s, List<Integer> ids) {
        Set<Integer> locked = s.tracks().locked();
        List<Integer> out = ids.stream().filter(i -> !locked.contains(i)).toList();
        if (out.isEmpty())
            throw new BadInput(
                    ids.isEmpty()
                            ? "choose a track first"
                            : ids.size() == 1
                                    ? "that track is in a locked group"
                                    : "the chosen tracks are in a locked group");
        return out;
    }

    private static Change deleted(Shot s, List<Integer> chosen) {
        List<Integer> ids = free(s, chosen);
        TreeSet<Integer> all = new TreeSet<>(s.tracks().deleted());
        List<HandMark> marks =
                s.tracks().marks().stream().filter(m -> !ids.contains(m.id())).toList();
        ids.stream().filter(i -> i < HandMark.FIRST_ID).forEach(all::add);
        int n = ids.size();
        return new Change(
                s.with(s.tracks().withDeleted(List.copyOf(all)).withMarks(marks)),
                n == 1 ? "track " + named(s, ids.get(0)) + " deleted" : n + " tracks deleted");
    }

    private static String named(Shot s, int id) {
        return s.tracks().marks().stream()
                .filter(m -> m.id() == id)
                .map(HandMark::name)
                .findFirst()
                .orElse(Integer.toString(id));
    }

    private Change cut(Shot s, Form f) {
        List<Integer> ids = free(s, f.ids("ids"));
        int from = f.whole("from", "the first frame", 0, -10_000_000, 10_000_000),
                to = f.whole("to", "the last frame", 0, -10_000_000, 10_000_000);
        if (to < from) throw new BadInput("the part to cut ends before it begins");
        List<TrackRecipe.Cut> all = new ArrayList<>(s.tracks().cuts());
        for (int id : ids) all.add(new TrackRecipe.Cut(id, from, to));
        return new Change(
                s.with(s.tracks().withCuts(all)),
                ids.size() == 1 ? "track " + named(s, ids.get(0)) + " cut" : ids.size() + " tracks cut");
    }

    private Change join(Shot s, List<Integer> ids) {
        if (ids.size() != 2 || free(s, ids).size() != 2)
            throw new BadInput("choose the two tracks that are " + "one mark");
        List<TrackRecipe.Join> all = new ArrayList<>(s.tracks().joins());
        all.add(new TrackRecipe.Join(Math.min(ids.get(0), ids.get(1)), Math.max(ids.get(0), ids.get(1))));
        return new Change(s.with(s.tracks().withJoins(all)), "tracks " + ids.get(0) + " and " + ids.get(1) + " joined");
    }

    /** Cuts jumps and takes out what does not look like itself; short tracks stay, they do no harm. */
    private Change tidy(Shot s) {
        JsonNode facts = results.facts("tracks", Prints.tracks(s));
        if (facts == null) throw new BadInput("there are no tracks to tidy yet");
        PlateFacts p = plates.facts(s);
        int last = ShotSteps.last(s.plate(), p), cut = 0, out = 0;
        TreeSet<Integer> deleted = new TreeSet<>(s.tracks().deleted());
        Set<Integer> locked = s.tracks().locked();
        List<TrackRecipe.Cut> cuts = new ArrayList<>(s.tracks().cuts());
        for (JsonNode d : facts.path("doubts")) {
            int id = d.path("track").asInt(), frame = d.path("frame").asInt();
            if (d.path("badness").asDouble() < 1
                    || deleted.contains(id)
                    || locked.contains(id)
                    || cuts.stream().anyMatch(c -> c.track() == id)) continue;
            if (d.path("kind").asString().equals(TrackCheck.Kind.JUMP.name())) {
                cuts.add(new TrackRecipe.Cut(id, frame, last));
                cut++;
            } else {
                deleted.add(id);
                out++;
            }
        }
        if (cut + out == 0) throw new BadInput("there is nothing left that a sensible person would take out");
        return new Change(
                s.with(s.tracks().withDeleted(List.copyOf(deleted)).withCuts(cuts)),
                "tidied: " + cut + " cut at a jump, " + out + " deleted");
    }

    private List<Integer> mover(Shot s, int n) {
        JsonNode facts = results.facts("tracks", Prints.tracks(s)),
                g = facts == null ? null : facts.path("groups").get(n);
        if (g == null) throw new BadInput("there is no such group");
        List<Integer> ids = new ArrayList<>();
        for (JsonNode i : g.path("tracks")) if (!s.tracks().deleted().contains(i.asInt())) ids.add(i.asInt());
        return ids;
    }

    private static Change grouped(Shot s, List<Integer> ids, String name, boolean moving) {
        if (ids.isEmpty()) throw new BadInput("choose the tracks of the group first");
        // A track belongs to one group at most.
        List<TrackRecipe.TrackGroup> all = new ArrayList<>(without(s.tracks().groups(), ids));
        if (all.size() >= MOST_GROUPS) throw new BadInput("more than " + MOST_GROUPS + " groups are not kept");
        int id = all.stream().mapToInt(TrackRecipe.TrackGroup::id).max().orElse(0) + 1;
        all.add(new TrackRecipe.TrackGroup(
                id, name + " " + id, COLOURS.get(id % COLOURS.size()), false, moving, List.copyOf(ids)));
        return new Change(s.with(s.tracks().withGroups(all)), ids.size() + " tracks grouped");
    }

    private static List<TrackRecipe.TrackGroup> without(List<TrackRecipe.TrackGroup> groups, List<Integer> ids) {
        return groups.stream()
                .map(g -> g.locked()
                        ? g
                        : g.withTracks(g.tracks().stream()
                                .filter(t -> !ids.contains(t))
                                .toList()))
                .filter(g -> !g.tracks().isEmpty())
                .toList();
    }

    private static Change groups(Shot s, String action, Form f) {
        List<TrackRecipe.TrackGroup> all = new ArrayList<>(s.tracks().groups());
        int id = f.id();
        TrackRecipe.TrackGroup g = all.stream()
                .filter(k -> k.id() == id)
                .findFirst()
                .orElseThrow(() -> new BadInput("that group is gone"));
        String said = g.name() + " changed";
        if (action.equals("group-delete")) {
            all.remove(g);
            said = g.name() + " dissolved";
        } else if (action.equals("group-more")) {
            List<Integer> more = free(s, f.ids("ids"));
            TreeSet<Integer> tracks = new TreeSet<>(g.tracks());
            tracks.addAll(more);
            all = new ArrayList<>(without(all.stream().filter(k -> k.id() != id).toList(), more));
            all.add(g.withTracks(List.copyOf(tracks)));
        } else {
            all.set(
                    all.indexOf(g),
                    new TrackRecipe.TrackGroup(
                            id,
                            f.name("name", g.name()),
                            f.text("colour", g.colour()),
                            f.tick("locked", g.locked()),
                            f.tick("moving", g.moving()),
                            g.tracks()));
        }
        return new Change(s.with(s.tracks().withGroups(all)), said);
    }

    private Change follow(Shot s, Form f) {
        PlateFacts p = plates.facts(s);
        if (p == null) throw new BadInput("bring in a plate first");
        int first = ShotSteps.first(s.plate(), p), last = ShotSteps.last(s.plate(), p);
        List<Integer> ids = free(s, f.ids("id"));
        String to = f.choice("to", "all", "all", "start", "end", "before", "after");
        List<HandMark> all = s.tracks().marks().stream()
                .map(m -> ids.contains(m.id()) ? follow(m, to, first, last) : m)
                .toList();
        return new Change(
                s.with(s.tracks().withMarks(all)),
                ids.size() == 1 ? named(s, ids.get(0)) + " followed" : ids.size() + " marks followed");
    }

    private Change marks(Shot s, String action, Form f) {
        List<HandMark> all = new ArrayList<>(s.tracks().marks());
        PlateFacts p = plates.facts(s);
        if (p == null) throw new BadInput("bring in a plate first");
        int first = ShotSteps.first(s.plate(), p),
                last = ShotSteps.last(s.plate(), p),
                frame = f.whole("frame", "the frame", first, first, last);
        // Followed beside itself a mark may lie outside the picture.
        double x = f.number("x", "x", 0, -p.width(), 2.0 * p.width()),
                y = f.number("y", "y", 0, -p.height(), 2.0 * p.height());
        if (action.equals("mark-add")) {
            if (all.size() >= MOST_MARKS) throw new BadInput("more than " + MOST_MARKS + " marks by hand are not kept");
            int id = all.stream().mapToInt(HandMark::id).max().orElse(HandMark.FIRST_ID - 1) + 1;
            HandMark m = new HandMark(
                    id,
                    "hand " + (id - HandMark.FIRST_ID + 1),
                    REGION,
                    SEARCH,
                    HandMark.Motion.TURN,
                    List.of(new HandMark.Fix(frame, x, y)),
                    frame,
                    frame);
            all.add(m);
            return new Change(s.with(s.tracks().withMarks(all)), m.name() + " put at frame " + frame);
        }
        int id = f.id(), at = -1;
        for (int i = 0; i < all.size(); i++) if (all.get(i).id() == id) at = i;
        if (at < 0) throw new BadInput("that mark is gone");
        free(s, List.of(id));
        HandMark m = all.get(at);
        switch (action) {
            case "mark-delete" -> {
                all.remove(at);
                return new Change(s.with(s.tracks().withMarks(all)), m.name() + " deleted");
            }
            case "mark-fix" -> all.set(at, m.fixed(frame, x, y));
            case "mark-aside" -> {
                double rx = f.number("rx", "x", x, -p.width(), 2.0 * p.width()),
                        ry = f.number("ry", "y", y, -p.height(), 2.0 * p.height());
                all.set(at, m.fixed(new HandMark.Fix(frame, x, y, rx - x, ry - y)));
            }
            default ->
                all.set(
                        at,
                        new HandMark(
                                id,
                                f.name("name", m.name()),
                                f.whole("region", "the region", m.region(), 4, 60),
                                f.whole("search", "the search area", m.search(), 1, 200),
                                HandMark.Motion.valueOf(f.choice(
                                        "motion", m.motion().name(), "SHIFT", "TURN", "AFFINE", "PERSPECTIVE")),
                                m.fixes(),
                                m.first(),
                                m.last(),
                                f.tick("sameLight", m.sameLight()),
                                f.has("weights") ? weights(f.text("weights", "")) : m.weights()));
        }
        return new Change(
                s.with(s.tracks().withMarks(all)),
                m.name()
                        + (action.equals("mark-fix")
                                ? " put at frame " + frame
                                : action.equals("mark-aside")
                                        ? " followed beside itself from frame " + frame
                                        : " changed"));
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

    private static List<Double> weights(String text) {
        if (text.isEmpty()) return List.of();
        List<Double> out = MaskEdits.points(text);
        if (out.size() != 3)
            throw new BadInput("weights are three numbers for red, green and blue, or nothing for brightness");
        return out;
    }
}

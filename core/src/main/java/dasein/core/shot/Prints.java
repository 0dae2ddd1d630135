package dasein.core.shot;

import dasein.core.cast.PartTurn;
import dasein.core.cast.Performer;
import dasein.core.cast.Tie;
import dasein.core.comp.repair.Repair;
import dasein.core.ground.Piece;
import dasein.core.light.Clues;
import dasein.core.light.LightRecipe;
import dasein.core.light.blocker.Blocker;
import dasein.core.light.lamp.LampRecipe;
import dasein.core.render.Focus;
import dasein.core.render.PassesRecipe;
import dasein.core.render.pass.PassSet;
import dasein.core.track.DrawnMask;
import dasein.core.track.HandMark;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * What each kind of result depends on: the one definition, for the fingerprints of what is stored and for what is kept
 * in memory alike. A result is a pure function of the parts of the shot that are named here; two shots that agree in
 * them have it in common, whatever else differs. What stands at its default is left out, so that a new entry of the
 * document leaves old results fresh.
 */
public final class Prints {
    /**
     * The engine of each kind. It is raised whenever the same recipe would give another result; only results of that
     * kind, and what is computed from them, are then stale.
     */
    static final Map<String, Integer> ENGINE = Map.ofEntries(
            Map.entry("plate", 1),
            Map.entry("health", 2),
            Map.entry("tracks", 1),
            Map.entry("marks", 1),
            Map.entry("planes", 1),
            Map.entry("camera", 3),
            Map.entry("object", 1),
            Map.entry("set", 2),
            Map.entry("colours", 1),
            Map.entry("light", 1),
            Map.entry("blocking", 1),
            Map.entry("passes", 6),
            Map.entry("filtered", 1),
            Map.entry("comp", 2),
            Map.entry("presence", 6),
            Map.entry("standing", 2),
            Map.entry("output", 1));

    private Prints() {}

    /** All of them, as one word that differs where any of them does. */
    public static String engines() {
        return new TreeMap<>(ENGINE).toString();
    }

    private static String of(String kind, Object... parts) {
        Object[] all = new Object[parts.length + 2];
        all[0] = kind;
        all[1] = ENGINE.get(kind);
        System.arraycopy(parts, 0, all, 2, parts.length);
        return ShotJson.fingerprint(all);
    }

    /** The footage as it is read. */
    public static String plate(Shot s) {
        PlateRecipe p = s.plate();
        return of("plate", p.file(), p.encoding(), p.rate(), p.table(), p.conform());
    }

    /** The footage as it is read, and which part of it is worked on. */
    public static String range(Shot s) {
        PlateRecipe p = s.plate();
        return ShotJson.fingerprint(plate(s), p.first(), p.last(), p.handles());
    }

    public static String health(Shot s) {
        return of("health", range(s));
    }

    /** The tracks as they are found or brought in; what a person took out of them is no part of it. */
    public static String tracks(Shot s) {
        TrackRecipe t = s.tracks();
        return of(
                "tracks",
                range(s),
                t.count(),
                t.threshold(),
                t.region(),
                t.spacing(),
                t.quality(),
                t.mask(),
                t.masks().stream()
                        .filter(m -> m.use() == DrawnMask.Use.AWAY)
                        .map(Prints::shape)
                        .toList(),
                maskMarks(s),
                t.file());
    }

    /** What of a mask decides where it lies; its name does not. */
    private static List<Object> shape(DrawnMask m) {
        List<Object> all = List.of(m.id(), m.feather(), m.carry(), m.keys(), m.marks());
        return m.feathers().isEmpty() ? all : List.of(all, m.feathers());
    }

    public static String mark(Shot s, HandMark m) {
        return of(
                "marks",
                range(s),
                m.region(),
                m.search(),
                m.motion(),
                m.fixes(),
                m.first(),
                m.last(),
                m.sameLight(),
                m.weights());
    }

    /** The marks that carry masks. */
    private static List<String> maskMarks(Shot s) {
        Set<Integer> wanted = s.tracks().masks().stream()
                .filter(m -> m.use() == DrawnMask.Use.AWAY)
                .flatMap(m -> m.marks().stream())
                .collect(Collectors.toSet());
        return s.tracks().marks().stream()
                .filter(m -> wanted.contains(m.id()))
                .map(m -> mark(s, m))
                .toList();
    }

    /** The way of the surface under a mask. */
    public static String plane(Shot s, DrawnMask m) {
        List<DrawnMask> covering = s.tracks().masks().stream()
                .filter(k -> k.id() != m.id() && k.use() == DrawnMask.Use.AWAY && k.carry() != DrawnMask.Carry.PLANE)
                .toList();
        return of(
                "planes",
                range(s),
                m.keys().get(0),
                covering.stream().map(Prints::shape).toList(),
                covering.isEmpty() ? List.of() : maskMarks(s));
    }

    /** The solve that counts: the kept one, else that of the present settings. */
    public static String camera(Shot s) {
        return s.camera().use().isEmpty() ? settings(s) : s.camera().use();
    }

    /** What the present settings would give, whichever solve counts. */
    public static String settings(Shot s) {
        CameraRecipe c = s.camera().solving();
        boolean given = !c.focal().equals("unknown") && !(c.focal().equals("auto") && c.locked());
        double focal = given ? s.plate().focalMm() : 0,
                sensor = given ? s.plate().sensorWidthMm() : 0;
        if (c.locked())
            return of(
                    "camera",
                    range(s),
                    c,
                    s.tracks().masks().stream()
                            .filter(m -> m.id() == c.surface())
                            .map(m -> plane(s, m))
                            .toList(),
                    focal,
                    sensor);
        return of(
                "camera",
                c.byHand() ? range(s) : tracks(s),
                edited(s),
                s.tracks().moving(),
                c,
                focal,
                sensor);
    }

    /** What a person did to the tracks, and the marks put by hand. */
    private static List<Object> edited(Shot s) {
        TrackRecipe t = s.tracks();
        return List.of(
                t.deleted(),
                t.cuts(),
                t.joins(),
                t.marks().stream().map(m -> List.of(m.id(), mark(s, m))).toList());
    }

    /** The tracks as a person left them. */
    public static String keptTracks(Shot s) {
        return ShotJson.fingerprint(tracks(s), edited(s));
    }

    /** Everything about how a camera is solved but which tracks it is solved from. */
    private static String method(Shot s) {
        return ShotJson.fingerprint(
                range(s),
                s.camera().solving().goingOn(""),
                s.plate().focalMm(),
                s.plate().sensorWidthMm());
    }

    /**
     * After a change of the tracks alone the next solve goes on from the one that is there, which is far quicker: its
     * print becomes part of the recipe. Any other change makes it begin from the start.
     *
     * @param solved whether the camera of {@code before} is there
     */
    public static Shot goingOn(Shot before, Shot after, boolean solved) {
        CameraRecipe c = after.camera();
        if (!c.use().isEmpty() || c.locked() || !c.file().isEmpty()) return after;
        if (settings(before).equals(settings(after))) return after;
        boolean same =
                method(before).equals(method(after)) && before.camera().use().isEmpty();
        String from = !same ? "" : solved ? settings(before) : c.from();
        return c.from().equals(from) ? after : after.with(c.goingOn(from));
    }

    /** The motion of a thing that moves by itself, in the camera that counts. */
    public static String object(Shot s, CameraRecipe.Moved o) {
        List<Integer> ids = s.tracks().groups().stream()
                .filter(g -> g.id() == o.group())
                .flatMap(g -> g.tracks().stream())
                .toList();
        // Its distance is said in the set's unit, so that the set's size counts.
        return of("object", camera(s), tracks(s), edited(s), ids, o.distance(), o.distance() == 0 ? "" : set(s));
    }

    /** The things that carry set pieces, as they are solved. */
    private static List<String> pieceCarriers(Shot s) {
        return s.camera().objects().stream()
                .filter(o -> s.set().pieces().stream().anyMatch(p -> p.follows() == o.id()))
                .map(o -> object(s, o))
                .toList();
    }

    /** The things and tracks that performers go along with, as they are solved. */
    private static List<String> castCarriers(Shot s) {
        List<Tie> ties = s.performers().stream()
                .map(Performer::tie)
                .filter(t -> t != null)
                .toList();
        List<String> out = new ArrayList<>(s.camera().objects().stream()
                .filter(o -> ties.stream().anyMatch(t -> t.to() == Tie.To.OBJECT && t.id() == o.id()))
                .map(o -> object(s, o))
                .toList());
        if (ties.stream().anyMatch(t -> t.to() == Tie.To.TRACK)) out.add(keptTracks(s));
        return out;
    }

    /** The set's frame: ground, axes, size. */
    public static String set(Shot s) {
        return of("set", camera(s), s.set().framing(), s.plate().cameraHeightMetres());
    }

    /** The triangles of a set piece where it was built. */
    public static String shape(Shot s, Piece p) {
        return ShotJson.fingerprint(set(s), p);
    }

    /** The plate's colours on the set pieces. */
    public static String colours(Shot s) {
        List<Object> all = new ArrayList<>(List.of(set(s), plate(s), pieceCarriers(s), s.set()));
        all.addAll(feeding(s));
        return of("colours", all.toArray());
    }

    /** Sky and sun of a shot, without its lamps. */
    public static String light(Shot s) {
        // Waves run by the plate's rate.
        LightRecipe l = s.light().with(Clues.NONE).withLamps(List.of()).withBlockers(List.of());
        return l.keys().isEmpty() ? of("light", l) : of("light", l, plate(s));
    }

    /** Where performers are in any frame. */
    public static String blocking(Shot s) {
        List<Object> all = new ArrayList<>(List.of(set(s), pieceCarriers(s), castCarriers(s), s.set(), s.performers()));
        // Wheels did not always turn each by its own way, and leave out their clip.
        if (s.performers().stream().anyMatch(p -> p.parts().stream().anyMatch(PartTurn::wheel))) all.add("own ways");
        // Feet slid through blends, and did not find uneven ground.
        if (s.performers().stream().anyMatch(p -> p.route() != null && p.route().steps())) all.add("stepping");
        return of("blocking", all.toArray());
    }

    /** Without their names. */
    private static List<LampRecipe> lamps(Shot s) {
        return s.light().lamps().stream()
                .map(l -> l.as("", l.kind(), l.on(), l.real()))
                .toList();
    }

    private static List<Blocker> blockers(Shot s) {
        return s.light().blockers().stream().map(b -> b.named("")).toList();
    }

    /** All that a frame is rendered from but how well, and which frame. */
    public static String scene(Shot s) {
        List<Object> all = new ArrayList<>(List.of(
                blocking(s),
                plate(s),
                light(s),
                lamps(s),
                blockers(s),
                s.shutter(),
                s.passes().straight()));
        all.addAll(feeding(s));
        // Cards that add light did not always throw it about.
        if (s.performers().stream().map(Performer::card).anyMatch(c -> c != null && c.added() && c.mirrored()))
            all.add("thrown");
        return ShotJson.fingerprint(all.toArray());
    }

    /** The passes of one frame. */
    public static String frame(Shot s, int frame) {
        PassesRecipe p = s.passes();
        return of(
                "passes",
                scene(s),
                p.size(),
                p.minSamples(),
                p.maxSamples(),
                p.noise(),
                p.bounces(),
                p.denoise(),
                p.lights(),
                p.kept(),
                p.contactCm(),
                names(s, p),
                focus(s),
                frame);
    }

    /** A frame filtered over its neighbours. @param frames prints of those, in order; @param at its place among them */
    public static String filtered(List<String> frames, int at) {
        return of("filtered", frames, at);
    }

    /** With what was noted on set, where that counts. */
    private static List<Object> focus(Shot s) {
        Focus f = s.passes().focus();
        if (!f.on()) return List.of(f);
        PlateRecipe p = s.plate();
        return List.of(f, f.fStop() > 0 ? 0 : p.fStop(), f.metres() > 0 ? 0 : p.focusMetres(), p.sensorWidthMm());
    }

    /** Performers are called by their names in mattes alone. */
    private static List<String> names(Shot s, PassesRecipe p) {
        return !p.sets().contains(PassSet.MATTES)
                ? List.of()
                : s.performers().stream().map(Performer::name).toList();
    }

    /** A finished frame. */
    public static String comp(Shot s, int frame) {
        List<Object> drawn = drawn(s, m -> s.comp().uses(m.id()));
        // Performers are told apart by their names where some have numbers of their own.
        if (!s.comp().variants().isEmpty())
            drawn.add(s.performers().stream().map(Performer::name).toList());
        return drawn.isEmpty() && s.comp().repairs().isEmpty()
                ? of("comp", frame(s, frame), s.comp(), s.passes().overFrames())
                : of(
                        "comp",
                        frame(s, frame),
                        s.comp(),
                        s.passes().overFrames(),
                        drawn,
                        covered(s, s.comp().repairs()));
    }

    /** A frame of the plate with what is covered in it. */
    public static String mended(Shot s, int frame) {
        List<Repair> all = s.comp().repairs();
        return ShotJson.fingerprint(
                "mended", range(s), all, drawn(s, m -> s.comp().uses(m.id())), covered(s, all), frame);
    }

    /** What of a frame stands in front. */
    public static String front(Shot s, int frame) {
        return ShotJson.fingerprint("front", mended(s, frame), s.comp().fronts(), s.shutter());
    }

    /** Masks as they lie in the picture, with what carries them. */
    private static List<Object> drawn(Shot s, Predicate<DrawnMask> which) {
        List<Object> out = new ArrayList<>();
        for (DrawnMask m : s.tracks().masks()) {
            if (!which.test(m)) continue;
            out.add(shape(m));
            out.add(
                    switch (m.carry()) {
                        case KEYS -> "";
                        case PLANE -> plane(s, m);
                        case MARKS ->
                            s.tracks().marks().stream()
                                    .filter(k -> m.marks().contains(k.id()))
                                    .map(k -> mark(s, k))
                                    .toList();
                        default -> List.of(set(s), pieceCarriers(s), objects(s));
                    });
            if (m.carry() == DrawnMask.Carry.PERFORMER) out.add(blocking(s));
        }
        return out;
    }

    private static List<String> objects(Shot s) {
        return s.camera().objects().stream().map(o -> object(s, o)).toList();
    }

    /** The tracks that repairs cover, and the ground that some go by. */
    private static List<Object> covered(Shot s, List<Repair> repairs) {
        return List.of(
                repairs.stream().anyMatch(r -> !r.tracks().isEmpty()) ? keptTracks(s) : "",
                repairs.stream().anyMatch(r -> r.moves() == Repair.GROUND) ? set(s) : "");
    }

    /**
     * What of the plate is covered before it is projected, and mirrored; empty where it is as it came. Masks that
     * performers carry would run in a circle: they count by where they were drawn.
     */
    private static List<Object> feeding(Shot s) {
        List<Repair> feeds =
                s.comp().repairs().stream().filter(r -> r.on() && r.feeds()).toList();
        if (feeds.isEmpty()) return List.of();
        List<Object> masks = drawn(
                s,
                m -> m.carry() != DrawnMask.Carry.PERFORMER
                        && feeds.stream().anyMatch(r -> r.mask() == m.id() || r.moves() == m.id()));
        return List.of(feeds, masks, covered(s, feeds));
    }

    /** @param kind what is written, in words that begin with straight for the undistorted plate and its maps */
    public static String output(Shot s, String kind, int first, int last) {
        return kind.startsWith("straight")
                ? of("output", kind, camera(s), plate(s), first, last)
                : of("output", kind, comp(s, first), first, last);
    }

    /** @param frames those that are rendered and looked at; @param filtered those that are filtered over neighbours */
    public static String presence(Shot s, List<Integer> frames, List<Integer> filtered) {
        return of("presence", frames.isEmpty() ? "" : comp(s, frames.get(0)), standing(s), frames, filtered);
    }

    /** How everything stands, with what was noted and marked of the real place. */
    public static String standing(Shot s) {
        Clues c = s.light().clues();
        return of(
                "standing",
                blocking(s),
                light(s),
                range(s),
                List.of(c.shadows(), c.patches(), c.edges()),
                s.plate().focalMm(),
                s.plate().sensorWidthMm());
    }
}

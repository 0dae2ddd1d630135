package dasein.app.stage.comp;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Seen;
import dasein.core.BadInput;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.front.Front;
import dasein.core.comp.repair.Repair;
import dasein.core.shot.Shot;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** Changes of what the comp has as lists: what stands in front, and what of the plate is covered. */
final class CompLists {
    private static final int MOST = 40;

    private CompLists() {}

    static boolean knows(String action) {
        return action.equals("tint-pick") || action.matches("(front|repair|pair|haze)-(add|set|delete)");
    }

    static Change apply(Seen s, String action, Form f) {
        if (action.equals("tint-pick")) return Picks.colour(s, f);
        if (action.startsWith("pair") || action.startsWith("haze")) return Picks.apply(s, action, f);
        return action.startsWith("front") ? front(s.shot(), action, f) : repair(s, action, f);
    }

    private static int mask(Shot s, Form f, String name, int was) {
        int id = f.whole(name, "the mask", was, Repair.GROUND, Integer.MAX_VALUE);
        if (id > 0 && s.tracks().masks().stream().noneMatch(m -> m.id() == id)) throw new BadInput("that mask is gone");
        return id;
    }

    private static String[] named() {
        return Arrays.stream(Front.Key.values()).map(Enum::name).toArray(String[]::new);
    }

    private static Change front(Shot s, String action, Form f) {
        CompRecipe r = s.comp();
        List<Front> all = new ArrayList<>(r.fronts());
        if (action.equals("front-add")) {
            if (all.size() >= MOST) throw new BadInput("more than " + MOST + " things in front are not kept");
            int id = all.stream().mapToInt(Front::id).max().orElse(0) + 1;
            Front.Key key = Front.Key.valueOf(f.choice("key", Front.Key.SHAPE.name(), named()));
            Front n = new Front(
                    id, "front " + id, true, key, mask(s, f, "within", 0), 0, 0, low(key), high(key), List.of(), false);
            all.add(n);
            return new Change(s.with(r.withFronts(all)), n.name() + " added");
        }
        int id = f.id();
        Front old = all.stream()
                .filter(k -> k.id() == id)
                .findFirst()
                .orElseThrow(() -> new BadInput("that is gone already"));
        if (action.equals("front-delete")) {
            all.remove(old);
            return new Change(s.with(r.withFronts(all)), old.name() + " deleted");
        }
        Front.Key key = Front.Key.valueOf(f.choice("key", old.key().name(), named()));
        boolean other = key != old.key();
        Front next = new Front(
                id,
                f.name("name", old.name()),
                f.tick("on", old.on()),
                key,
                mask(s, f, "within", old.within()),
                mask(s, f, "hold", old.hold()),
                mask(s, f, "away", old.away()),
                other ? low(key) : f.number("low", "low", 100 * old.low(), 0, 200) / 100,
                other ? high(key) : f.number("high", "high", 100 * old.high(), 0, 200) / 100,
                f.has("colour") ? colour(f.text("colour", "")) : old.colour(),
                f.tick("turned", old.turned()));
        all.set(all.indexOf(old), next);
        return new Change(s.with(r.withFronts(all)), next.name() + " changed");
    }

    /** Where a key starts before anybody looked. */
    private static double low(Front.Key k) {
        return k == Front.Key.BRIGHT ? 0.6 : k == Front.Key.DARK ? 0.1 : 0.04;
    }

    private static double high(Front.Key k) {
        return k == Front.Key.BRIGHT ? 0.8 : k == Front.Key.DARK ? 0.25 : 0.12;
    }

    /** As #rrggbb. */
    private static List<Double> colour(String text) {
        if (!text.matches("#[0-9a-fA-F]{6}")) throw new BadInput("\"" + text + "\" is not a colour");
        int v = Integer.parseInt(text.substring(1), 16);
        return List.of((v >> 16) / 255.0, (v >> 8 & 255) / 255.0, (v & 255) / 255.0);
    }

    static String hex(List<Double> colour) {
        StringBuilder b = new StringBuilder("#");
        for (double c : colour) b.append(String.format("%02x", Math.round(255 * c)));
        return b.toString();
    }

    private static Change repair(Seen seen, String action, Form f) {
        Shot s = seen.shot();
        CompRecipe r = s.comp();
        List<Repair> all = new ArrayList<>(r.repairs());
        if (action.equals("repair-add")) {
            if (all.size() >= MOST) throw new BadInput("more than " + MOST + " repairs are not kept");
            int id = all.stream().mapToInt(Repair::id).max().orElse(0) + 1;
            int mask = mask(s, f, "mask", 0);
            List<Integer> tracks = mask > 0 ? List.of() : tracks(s, f);
            Repair n = new Repair(
                    id,
                    "repair " + id,
                    true,
                    Repair.Source.BESIDE,
                    Math.max(0, mask),
                    tracks,
                    f.number("radius", "the radius", 8, 1, 500),
                    0,
                    0,
                    Repair.STILL,
                    f.frame(),
                    2,
                    false,
                    false);
            all.add(n);
            return new Change(s.with(r.withRepairs(all)), n.name() + " added");
        }
        int id = f.id();
        Repair old = all.stream()
                .filter(k -> k.id() == id)
                .findFirst()
                .orElseThrow(() -> new BadInput("that repair is gone"));
        if (action.equals("repair-delete")) {
            all.remove(old);
            return new Change(s.with(r.withRepairs(all)), old.name() + " deleted");
        }
        int mask = mask(s, f, "mask", old.mask());
        Repair next = new Repair(
                id,
                f.name("name", old.name()),
                f.tick("on", old.on()),
                Repair.Source.valueOf(f.choice("source", old.source().name(), "BESIDE", "FRAME", "FREE")),
                Math.max(0, mask),
                old.tracks(),
                f.number("radius", "the radius", old.radius(), 1, 500),
                f.number("dx", "across", old.dx(), -5000, 5000),
                f.number("dy", "down", old.dy(), -5000, 5000),
                mask(s, f, "moves", old.moves()),
                f.whole("from", "the frame", old.from(), seen.first(), seen.last()),
                f.number("feather", "the feather", old.feather(), 0, 200),
                f.tick("clean", old.clean()),
                f.tick("feeds", old.feeds()));
        all.set(all.indexOf(old), next);
        return new Change(s.with(r.withRepairs(all)), next.name() + " changed");
    }

    /** All marks by hand, or those of a group: {@code "hand"}, or the group's number. */
    private static List<Integer> tracks(Shot s, Form f) {
        String of = f.text("marks", "");
        List<Integer> ids = of.equals("hand")
                ? s.tracks().marks().stream().map(m -> m.id()).toList()
                : s.tracks().groups().stream()
                        .filter(g -> Integer.toString(g.id()).equals(of))
                        .flatMap(g -> g.tracks().stream())
                        .toList();
        if (ids.isEmpty())
            throw new BadInput("draw a mask over what is to be covered, or put marks on it in Tracks, first");
        return ids;
    }
}

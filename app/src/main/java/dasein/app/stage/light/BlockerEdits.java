package dasein.app.stage.light;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Seen;
import dasein.core.BadInput;
import dasein.core.light.LightRecipe;
import dasein.core.light.blocker.Blocker;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** Flags and leaves of a shot: added, set, taken away. */
final class BlockerEdits {
    private static final int MOST = 24;
    private static final String[] KINDS =
            Arrays.stream(Blocker.Kind.values()).map(Enum::name).toArray(String[]::new);

    private BlockerEdits() {}

    static boolean knows(String action) {
        return action.startsWith("blocker");
    }

    /** @param sun towards it, so that the shadow of a new one falls where it was wanted; null for none */
    static Change apply(Seen s, String action, Form f, Vec3 sun) {
        List<Blocker> all = new ArrayList<>(s.shot().light().blockers());
        if (action.equals("blocker-add")) {
            if (all.size() >= MOST) throw new BadInput("more than " + MOST + " blockers are not rendered");
            int id = all.stream().mapToInt(Blocker::id).max().orElse(0) + 1;
            Blocker b = Blocker.fresh(
                    id,
                    Blocker.Kind.valueOf(f.choice("kind", "LEAVES", KINDS)),
                    f.number("x", "the place", 0, -1e4, 1e4),
                    f.number("z", "the place", -4, -1e4, 1e4));
            // By a sun that is all but down it would stand far out.
            if (sun != null && sun.y() > 0.1)
                b = b.at(b.x() + b.y() * sun.x() / sun.y(), b.y(), b.z() + b.y() * sun.z() / sun.y());
            all.add(b);
            return change(s, all, b.name() + " added");
        }
        int at = -1;
        for (int i = 0; i < all.size(); i++) if (all.get(i).id() == f.id()) at = i;
        if (at < 0) throw new BadInput("that blocker is no longer there");
        Blocker b = all.get(at);
        if (action.equals("blocker-remove")) {
            all.remove(at);
            return change(s, all, b.name() + " taken away");
        }
        all.set(
                at,
                new Blocker(
                        b.id(),
                        f.name("name", b.name()),
                        Blocker.Kind.valueOf(f.choice("kind", b.kind().name(), KINDS)),
                        f.tick("on", b.on()),
                        f.tick("real", b.real()),
                        f.number("x", "the place", b.x(), -1e4, 1e4),
                        f.number("y", "the height", b.y(), -1e4, 1e4),
                        f.number("z", "the place", b.z(), -1e4, 1e4),
                        f.number("heading", "the heading", b.headingDeg(), -3600, 3600),
                        f.number("tilt", "the tilt", b.tiltDeg(), -3600, 3600),
                        f.number("width", "the width", b.width(), 0.02, 200),
                        f.number("height", "the height", b.height(), 0.02, 200),
                        f.number("cover", "the cover", 100 * b.cover(), 5, 95) / 100,
                        f.number("leaf", "a leaf's length", b.leaf(), 0.01, 5),
                        f.number("drift", "the drift", b.drift(), 0, 20),
                        f.number("seconds", "one sway", b.seconds(), 0.1, 1000),
                        f.has("picture") ? "" : b.picture()));
        return change(s, all, all.get(at).name() + " changed");
    }

    /** The picture that cuts a flag out. */
    static LightRecipe cut(LightRecipe l, int id, String picture) {
        if (l.blockers().stream().noneMatch(b -> b.id() == id)) throw new BadInput("that blocker is no longer there");
        return l.withBlockers(l.blockers().stream()
                .map(b -> b.id() == id ? b.cutBy(picture) : b)
                .toList());
    }

    private static Change change(Seen s, List<Blocker> all, String said) {
        return new Change(s.shot().with(s.shot().light().withBlockers(all)), said);
    }
}

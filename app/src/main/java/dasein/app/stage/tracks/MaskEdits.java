package dasein.app.stage.tracks;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.core.BadInput;
import dasein.core.shot.Shot;
import dasein.core.shot.TrackRecipe;
import dasein.core.track.DrawnMask;
import dasein.core.track.HandMark;
import dasein.core.track.StrokeOutline;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;

/** Changes of drawn masks; in Tracks, and in Comp, which uses them. */
public final class MaskEdits {
    private static final int MOST_MASKS = 50;

    private MaskEdits() {}

    public static boolean knows(String action) {
        return action.matches("mask-(add|stroke|key|unkey|corner|feather|set|delete)");
    }

    public static Change apply(Shot s, String action, Form f) {
        List<DrawnMask> all = new ArrayList<>(s.tracks().masks());
        int frame = f.whole("frame", "the frame", 1, -10_000_000, 10_000_000);
        if (action.equals("mask-add") || action.equals("mask-stroke")) {
            if (all.size() >= MOST_MASKS) throw new BadInput("more than " + MOST_MASKS + " masks are not kept");
            int id = all.stream().mapToInt(DrawnMask::id).max().orElse(0) + 1;
            boolean stroke = action.equals("mask-stroke");
            DrawnMask.Use use = use(f, stroke ? DrawnMask.Use.COMP : DrawnMask.Use.AWAY);
            boolean surface = use == DrawnMask.Use.SURFACE;
            String name = (surface ? "surface " : stroke ? "stroke " : "mask ") + id;
            List<Double> xy = points(f.text("xy", ""));
            if (stroke) xy = StrokeOutline.of(xy, f.number("radius", "the brush", 10, 1, 500));
            all.add(new DrawnMask(
                    id,
                    name,
                    0,
                    surface ? DrawnMask.Carry.PLANE : DrawnMask.Carry.KEYS,
                    List.of(new DrawnMask.Key(frame, xy)),
                    use,
                    List.of()));
            return masked(s, all, name + " drawn");
        }
        int id = f.id();
        DrawnMask m =
                all.stream().filter(k -> k.id() == id).findFirst().orElseThrow(() -> new BadInput("that mask is gone"));
        int drawn = m.keys().get(0).frame();
        if (action.equals("mask-key") && m.carry() != DrawnMask.Carry.KEYS && frame != drawn)
            throw new BadInput("this mask is carried; change its shape at frame " + drawn + ", where it was drawn");
        if (action.equals("mask-delete") && s.comp().uses(m.id()))
            throw new BadInput(m.name() + " is used in the comp; take it out there first");
        if (action.equals("mask-delete")) all.remove(m);
        else
            all.set(
                    all.indexOf(m),
                    switch (action) {
                        case "mask-key" -> m.keyed(frame, points(f.text("xy", "")));
                        case "mask-unkey" -> m.unkeyed(frame);
                        case "mask-corner" ->
                            m.cornered(f.index(m.keys().get(0).xy().size() / 2));
                        case "mask-feather" -> feathered(m, f);
                        default -> maskSet(s, m, f);
                    });
        String done =
                switch (action) {
                    case "mask-delete" -> " deleted";
                    case "mask-key" -> " moved at frame " + frame;
                    case "mask-unkey" -> " no longer keyed in frame " + frame;
                    default -> " changed";
                };
        return masked(s, all, m.name() + done);
    }

    private static DrawnMask feathered(DrawnMask m, Form f) {
        int n = m.keys().get(0).xy().size() / 2, at = f.index(n);
        List<Double> all = new ArrayList<>(m.feathers().isEmpty() ? Collections.nCopies(n, m.feather()) : m.feathers());
        all.set(at, f.number("feather", "the feather", 0, 0, 500));
        return with(m, all);
    }

    private static DrawnMask with(DrawnMask m, List<Double> feathers) {
        return new DrawnMask(
                m.id(),
                m.name(),
                m.feather(),
                m.carry(),
                m.keys(),
                m.use(),
                m.marks(),
                List.copyOf(feathers),
                m.corners());
    }

    private static DrawnMask.Use use(Form f, DrawnMask.Use now) {
        return DrawnMask.Use.valueOf(f.choice("use", now.name(), "AWAY", "SURFACE", "COMP"));
    }

    private static DrawnMask maskSet(Shot s, DrawnMask m, Form f) {
        DrawnMask.Use use = use(f, m.use());
        DrawnMask.Carry carry = DrawnMask.Carry.valueOf(f.choice(
                "carry",
                m.carry().name(),
                Arrays.stream(DrawnMask.Carry.values()).map(Enum::name).toArray(String[]::new)));
        double feather = f.number("feather", "the feather", m.feather(), 0, 500);
        return new DrawnMask(
                m.id(),
                f.name("name", m.name()),
                feather,
                carry,
                m.keys(),
                use,
                carriers(s, m, carry, f),
                // One feather that is typed counts all around.
                feather == m.feather() ? m.feathers() : List.of(),
                m.corners());
    }

    /** What carries it, by number: marks, or the one thing or performer. */
    private static List<Integer> carriers(Shot s, DrawnMask m, DrawnMask.Carry carry, Form f) {
        List<Integer> there =
                switch (carry) {
                    case MARKS -> s.tracks().marks().stream().map(HandMark::id).toList();
                    case THING -> s.camera().objects().stream().map(o -> o.id()).toList();
                    case PERFORMER -> s.performers().stream().map(p -> p.id()).toList();
                    default -> List.of();
                };
        if (carry == DrawnMask.Carry.KEYS || carry == DrawnMask.Carry.PLANE || there.isEmpty()) {
            if (carry == DrawnMask.Carry.MARKS) throw new BadInput("put a mark by hand first, and follow it");
            if (carry == DrawnMask.Carry.THING) throw new BadInput("solve a moving thing in Camera first");
            if (carry == DrawnMask.Carry.PERFORMER) throw new BadInput("place a performer in Blocking first");
            return List.of();
        }
        List<Integer> marks = new ArrayList<>(carry == m.carry() ? m.marks() : List.of());
        if (f.has("markA")) marks = new ArrayList<>(List.of(Form.id(f.text("markA", ""))));
        if (f.has("markB")) {
            while (marks.size() > 1) marks.remove(1);
            if (!f.text("markB", "").isEmpty()) marks.add(Form.id(f.text("markB", "")));
        }
        if (marks.isEmpty()) marks.add(there.get(0));
        for (int id : marks) if (!there.contains(id)) throw new BadInput("that mark is gone");
        if (marks.size() == 2 && marks.get(0).equals(marks.get(1))) marks.remove(1);
        return marks;
    }

    /** Only what keeps the finder away makes what was found old. */
    private static Change masked(Shot s, List<DrawnMask> next, String said) {
        TrackRecipe t = s.tracks();
        return new Change(s.with(away(t.masks()).equals(away(next)) ? t.withSurfaces(next) : t.withMasks(next)), said);
    }

    private static List<DrawnMask> away(List<DrawnMask> masks) {
        return masks.stream().filter(m -> m.use() == DrawnMask.Use.AWAY).toList();
    }

    static List<Double> points(String xy) {
        List<Double> out = new ArrayList<>();
        try {
            for (String v : xy.split("[, ]+")) if (!v.isBlank()) out.add(Double.parseDouble(v));
        } catch (NumberFormatException e) {
            throw new BadInput(
                    "\"" + (xy.length() > 40 ? xy.substring(0, 40) + "..." : xy) + "\" is not a list of numbers");
        }
        return out;
    }
}

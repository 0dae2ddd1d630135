package dasein.app.stage.comp;

import dasein.app.scene.Comps;
import dasein.app.stage.Seen;
import dasein.app.store.Held;
import dasein.app.task.Tasks;
import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.comp.Variant;
import dasein.core.comp.front.Front;
import dasein.core.comp.repair.Repair;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.DrawnMask;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;

/** What the panel and the picture show of masks, of what stands in front and of what is covered. */
@Component
class CompBench {
    private static final Map<DrawnMask.Carry, String> CARRIES = new LinkedHashMap<>();

    static {
        CARRIES.put(DrawnMask.Carry.KEYS, "its keys");
        CARRIES.put(DrawnMask.Carry.PLANE, "the surface under it");
        CARRIES.put(DrawnMask.Carry.MARKS, "a mark by hand");
        CARRIES.put(DrawnMask.Carry.GROUND, "the solved ground it lies on");
        CARRIES.put(DrawnMask.Carry.STANDING, "the ground it stands on");
        CARRIES.put(DrawnMask.Carry.THING, "a moving thing");
        CARRIES.put(DrawnMask.Carry.PERFORMER, "a performer");
    }

    private final Tasks tasks;
    private final Held<List<Feet>> feet = new Held<>(
            0.005,
            all -> 64L + all.stream().mapToLong(f -> 48L * f.places().size()).sum());

    CompBench(Tasks tasks) {
        this.tasks = tasks;
    }

    void bench(Model m, Seen s) {
        Shot shot = s.shot();
        List<DrawnMask> all = shot.tracks().masks();
        m.addAttribute("frontKeys", Front.Key.values());
        m.addAttribute("sources", Repair.Source.values());
        m.addAttribute(
                "hex",
                shot.comp().fronts().stream().collect(Collectors.toMap(Front::id, f -> CompLists.hex(f.colour()))));
        m.addAttribute("newest", all.isEmpty() ? 0 : all.get(all.size() - 1).id());
        List<DrawnMask> mine = all.stream()
                .filter(k -> k.use() == DrawnMask.Use.COMP || shot.comp().uses(k.id()))
                .toList();
        m.addAttribute("compMasks", mine);
        m.addAttribute("carries", CARRIES);
        m.addAttribute(
                "variantNumbers",
                shot.comp().variants().stream().collect(Collectors.toMap(Variant::id, VariantEdits::own)));
        m.addAttribute(
                "variantMay",
                shot.comp().variants().stream()
                        .collect(Collectors.toMap(Variant::id, v -> Variant.may(v.part()).stream()
                                .filter(p -> !v.numbers().containsKey(p.name()))
                                .toList())));
        m.addAttribute(
                "carriers",
                mine.stream()
                        .filter(k -> !carriers(shot, k.carry()).isEmpty())
                        .collect(Collectors.toMap(DrawnMask::id, k -> carriers(shot, k.carry()))));
        Map<Integer, ? extends Map<Integer, double[]>> ways = s.desk().comps().ways(shot);
        m.addAttribute("held", mine.stream().collect(Collectors.toMap(DrawnMask::id, k -> held(k, ways.get(k.id())))));
    }

    private static Map<Integer, String> carriers(Shot s, DrawnMask.Carry by) {
        Map<Integer, String> out = new LinkedHashMap<>();
        switch (by) {
            case MARKS -> s.tracks().marks().forEach(k -> out.put(k.id(), k.name()));
            case THING -> s.camera().objects().forEach(o -> out.put(o.id(), o.name()));
            case PERFORMER -> s.performers().forEach(p -> out.put(p.id(), p.name()));
            default -> {}
        }
        return out;
    }

    private static String held(DrawnMask m, Map<Integer, double[]> way) {
        if (m.carry() == DrawnMask.Carry.KEYS)
            return m.keys().size() == 1 ? "stands still" : m.keys().size() + " keys";
        if (way == null) return "being followed";
        if (way.isEmpty()) return "not carried: what carries it is not known where it was drawn";
        return "held " + way.keySet().stream().min(Integer::compare).orElseThrow() + " to "
                + way.keySet().stream().max(Integer::compare).orElseThrow();
    }

    void follow(Seen s) {
        if (s.desk().results().toFollow(s.shot()))
            tasks.startOnceMore(s.id(), s.head().revision().id(), "marks", "Following", "");
    }

    void data(Map<String, Object> m, Seen s) {
        m.put("repairs", s.shot().comp().repairs());
        m.put("fronts", s.shot().comp().fronts());
        m.put("pairs", s.shot().comp().pairs());
        m.put("hazes", s.shot().comp().hazes());
        m.put("plainly", Comps.plainly(s.shot()));
        m.put("feet", feet(s));
    }

    /** @param first frame of the first place; @param places of the feet in pixels of the plate, null out of sight */
    record Feet(int id, String name, int first, List<double[]> places) {}

    /** Where performers stand in the picture, so that it can be held still on them. Every page of the shot asks. */
    private List<Feet> feet(Seen s) {
        SolvedCamera c = s.desk().results().cameraInSet(s.shot());
        return c == null || s.shot().performers().isEmpty()
                ? List.of()
                : feet.get(
                        Prints.blocking(s.shot()),
                        () -> walked(s, c, s.desk().scenes().blocking(s.shot())));
    }

    private static List<Feet> walked(Seen s, SolvedCamera c, Blocking b) {
        List<Feet> out = new ArrayList<>();
        for (Performer p : s.shot().performers()) {
            List<double[]> places = new ArrayList<>();
            for (int f = c.first(); f <= c.last(); f++)
                places.add(c.has(f) ? c.view(f, 0, 1).project(b.foot(p.id(), f)) : null);
            out.add(new Feet(p.id(), p.name(), c.first(), places));
        }
        return out;
    }
}

package dasein.app.stage.comp;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Seen;
import dasein.core.BadInput;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.comp.Variant;
import dasein.core.shot.Shot;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** Changes of numbers that performers, or parts of the picture, have of their own. */
final class VariantEdits {
    private static final int MOST = 20;

    private VariantEdits() {}

    static boolean knows(String action) {
        return action.matches("variant-(add|set|number|less|delete)");
    }

    static Change apply(Seen seen, String action, Form f) {
        Shot s = seen.shot();
        CompRecipe r = s.comp();
        List<Variant> all = new ArrayList<>(r.variants());
        if (action.equals("variant-add")) {
            if (all.size() >= MOST) throw new BadInput("more than " + MOST + " settings of their own are not kept");
            Variant v = made(s, all.stream().mapToInt(Variant::id).max().orElse(0) + 1, f.text("of", ""));
            all.add(v);
            return new Change(s.with(r.withVariants(all)), "settings of its own for " + v.name());
        }
        int id = f.id();
        Variant v = all.stream()
                .filter(k -> k.id() == id)
                .findFirst()
                .orElseThrow(() -> new BadInput("those settings are gone"));
        if (action.equals("variant-delete")) {
            all.remove(v);
            return new Change(s.with(r.withVariants(all)), v.name() + " is as all others");
        }
        Map<String, Double> numbers = new TreeMap<>(v.numbers());
        boolean on = v.on();
        List<Param> may = Variant.may(v.part());
        if (action.equals("variant-number")) {
            String name = f.text("number", "");
            Param p = may.stream()
                    .filter(k -> k.name().equals(name))
                    .findFirst()
                    .orElseThrow(() -> new BadInput("choose a number first"));
            numbers.putIfAbsent(name, r.get(p));
        } else if (action.equals("variant-less")) numbers.remove(f.text("number", ""));
        else {
            on = f.tick("on", on);
            for (Param p : may)
                if (numbers.containsKey(p.name()) && f.has(p.name())) {
                    Param.Range a = p.accepted();
                    numbers.put(p.name(), f.number(p.name(), p.label(), 0, a.least(), a.most()) / p.shown());
                }
        }
        all.set(all.indexOf(v), new Variant(id, v.name(), on, v.performers(), v.mask(), v.piece(), numbers));
        return new Change(s.with(r.withVariants(all)), "settings of " + v.name() + " changed");
    }

    /** @param of "performer 3", "mask 2", "piece 1", "ground" */
    private static Variant made(Shot s, int id, String of) {
        if (of.equals("ground")) return new Variant(id, "ground", true, List.of(), 0, Variant.GROUND, Map.of());
        String[] w = of.split(" ");
        if (w.length == 2 && w[1].matches("\\d{1,9}")) {
            int k = Integer.parseInt(w[1]);
            if (w[0].equals("performer"))
                for (var p : s.performers())
                    if (p.id() == k) return new Variant(id, p.name(), true, List.of(k), 0, 0, Map.of());
            if (w[0].equals("mask"))
                for (var m : s.tracks().masks())
                    if (m.id() == k) return new Variant(id, m.name(), true, List.of(), k, 0, Map.of());
            if (w[0].equals("piece"))
                for (var m : s.set().pieces())
                    if (m.id() == k) return new Variant(id, m.name(), true, List.of(), 0, k, Map.of());
        }
        throw new BadInput("choose a performer, a mask or a piece of the set that is to have settings of its own");
    }

    /** A number of a variant as its slider shows it. */
    record Own(Param param, double value) {}

    static List<Own> own(Variant v) {
        return Variant.may(v.part()).stream()
                .filter(p -> v.numbers().containsKey(p.name()))
                .map(p -> new Own(p, v.numbers().get(p.name()) * p.shown()))
                .toList();
    }
}

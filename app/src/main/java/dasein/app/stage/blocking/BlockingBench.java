package dasein.app.stage.blocking;

import dasein.app.scene.Scenes;
import dasein.app.store.MediaMapper;
import dasein.app.store.ModelShelf;
import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.cast.Footage;
import dasein.core.cast.Look;
import dasein.core.cast.PartTurn;
import dasein.core.cast.Performer;
import dasein.core.cast.Retarget;
import dasein.core.cast.Tie;
import dasein.core.image.Encoding;
import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.Motion;
import dasein.core.model.file.WorkingSize;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Shot;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What the bench of the Blocking stage shows. */
@Component
public class BlockingBench {
    private static final JsonMapper JSON = new JsonMapper();
    private static final int MOST_NODES = 300;

    private final MediaMapper media;
    private final Scenes scenes;
    private final ModelShelf shelfOf;

    BlockingBench(MediaMapper media, Scenes scenes, ModelShelf shelfOf) {
        this.shelfOf = shelfOf;
        this.media = media;
        this.scenes = scenes;
    }

    /** A model on the shelf. */
    record ShelfModel(String hash, String name, JsonNode facts) {
        public String said() {
            int clips = facts.path("clips").size();
            return String.format(
                    Locale.ROOT,
                    "%.2f m high, %.2f m long, %,d triangles%s",
                    facts.path("height").asDouble(),
                    facts.path("length").asDouble(),
                    facts.path("triangles").asInt(),
                    clips == 0 ? "" : clips == 1 ? ", 1 clip" : ", " + clips + " clips");
        }

        /** What was not understood when it was brought in. */
        public List<String> remarks() {
            List<String> out = new ArrayList<>();
            for (JsonNode r : facts.path("remarks")) out.add(r.asString(""));
            return out;
        }

        /** Pictures it lacks. */
        public List<String> missing() {
            List<String> out = new ArrayList<>();
            for (JsonNode r : facts.path("missing")) out.add(r.asString(""));
            return out;
        }

        public String up() {
            return facts.path("up").asString("y");
        }

        public String unit() {
            return text(facts.path("unit").asDouble(1));
        }

        /** Whether its axes and unit can be told: it came in a format without, or one that is often wrong. */
        public boolean told() {
            return facts.path("told").asBoolean(facts.path("source").asBoolean(false));
        }

        /** Whether it came from other files than the one that is kept. */
        public boolean source() {
            return facts.path("source").asBoolean(false);
        }

        /** Whether it is so large that its size may be chosen, or was. */
        public boolean sized() {
            return facts.path("lighter").asBoolean(false)
                    || triangles() != 0
                    || texels() != 0
                    || facts.path("triangles").asInt() > WorkingSize.MANY;
        }

        /** As chosen: 0 for what serves, -1 for all. */
        public int triangles() {
            return chosen("most");
        }

        public int texels() {
            return chosen("texels");
        }

        private int chosen(String key) {
            int v = facts.path(key).asInt(0);
            return v == Integer.MAX_VALUE ? -1 : v;
        }

        public String note() {
            return facts.path("note").asString("");
        }
    }

    /** Footage for cards. */
    record FootageLine(String hash, String name, JsonNode facts) {
        public String said() {
            return String.format(
                    Locale.ROOT,
                    "%d frame%s%s",
                    facts.path("frames").asInt(),
                    facts.path("frames").asInt() == 1 ? "" : "s",
                    facts.path("alpha").asBoolean(false) ? ", with alpha" : "");
        }
    }

    /** @param key as the tie's form sends it */
    record Carrier(String key, String said) {}

    /** A material, with what was changed about it; texts are empty where nothing was. */
    record MaterialLine(
            String name,
            String colour,
            String roughness,
            String modelRoughness,
            String metallic,
            String modelMetallic,
            String opacity,
            boolean textured,
            String brightness,
            String contrast,
            String tint,
            boolean bumpy,
            String normals,
            String emission,
            String level,
            String mask,
            boolean twoSided,
            String scatterMm,
            boolean changed) {}

    record CastLine(
            Performer performer,
            String modelName,
            double length,
            List<Model.Clip> clips,
            String clipsSaid,
            double routeLength,
            int arrives,
            long rolling,
            long steering,
            List<Carrier> carriers,
            String tieKey,
            String tieSaid,
            List<String> nodes,
            List<Kin> kin,
            long waves,
            List<String> channels,
            List<String> joints,
            List<MotionLine> motions,
            List<MaterialLine> materials,
            String cardEnds,
            String room) {}

    /** A performer that cannot be shown, for example since its model is gone, and why. */
    record Lost(Performer performer, String why) {}

    void fill(org.springframework.ui.Model m, Shot s, PlateFacts plate) {
        List<ShelfModel> shelf = media.shelf("model").stream()
                .map(i -> new ShelfModel(i.hash(), i.name(), JSON.readTree(i.facts())))
                .toList();
        m.addAttribute("models", shelf);
        m.addAttribute(
                "footage",
                media.shelf("footage").stream()
                        .map(i -> new FootageLine(i.hash(), i.name(), JSON.readTree(i.facts())))
                        .toList());
        List<CastLine> cast = new ArrayList<>();
        List<Lost> lost = new ArrayList<>();
        for (Performer p : s.performers()) {
            try {
                cast.add(line(s, p, shelf, plate));
            } catch (BadInput e) {
                lost.add(new Lost(p, e.getMessage()));
            }
        }
        m.addAttribute("lost", lost);
        m.addAttribute("cast", cast);
    }

    private CastLine line(Shot s, Performer p, List<ShelfModel> shelf, PlateFacts plate) {
        Model model = scenes.model(p);
        ShelfModel item = shelf.stream()
                .filter(i -> i.hash().equals(p.model()))
                .findFirst()
                .orElse(null);
        double length = item == null
                ? longAgainstHigh(model) * p.heightMetres()
                : item.facts().path("length").asDouble()
                        / Math.max(1e-6, item.facts().path("height").asDouble(1))
                        * p.heightMetres();
        List<String> nodes = model.nodes().stream()
                .map(Model.Node::name)
                .distinct()
                .limit(MOST_NODES)
                .toList();
        List<Carrier> carriers = carriers(s, p);
        Tie t = p.tie();
        String key = t == null ? "" : (t.to().name().toLowerCase(Locale.ROOT) + " " + t.id() + " " + t.node()).trim();
        String said = t == null
                ? "nothing"
                : carriers.stream()
                        .filter(c -> c.key().equals(key))
                        .map(Carrier::said)
                        .findFirst()
                        .orElse("something that is gone");
        return new CastLine(
                p,
                p.card() != null ? "card" : item == null ? model.name() : item.name(),
                length,
                model.clips(),
                p.clips().stream().map(c -> c.clip()).collect(Collectors.joining(", ")),
                p.route() == null ? 0 : p.route().walked().length(),
                p.route() == null || plate == null
                        ? -1
                        : WayEdits.arrives(p.route(), plate.rate().perSecond()),
                p.parts().stream().filter(PartTurn::rolls).count(),
                p.parts().stream().filter(PartTurn::steers).count(),
                carriers,
                key,
                said,
                nodes,
                kin(nodes),
                p.curves().values().stream().mapToLong(c -> c.waves().size()).sum(),
                List.copyOf(p.rests().keySet()),
                joints(model),
                motions(model),
                materials(model, p),
                cardEnds(p, plate),
                room(s, p));
    }

    private String room(Shot s, Performer p) {
        if (p.flock() == null || !p.flock().clear()) return "";
        Blocking b = scenes.blocking(s);
        int found = b == null ? p.flock().count() : b.found(p.id());
        return found == p.flock().count()
                ? ""
                : "There is room for " + found + " of " + p.flock().count() + "; the others are left out.";
    }

    private String cardEnds(Performer p, PlateFacts plate) {
        if (p.card() == null || plate == null) return "";
        Footage f = scenes.footage(p.card().footage());
        return p.card().ends(f.count(), f.rate(), plate.count(), plate.rate().perSecond());
    }

    private static double longAgainstHigh(Model m) {
        float[] b = m.bounds();
        return (b[5] - b[2]) / Math.max(1e-6, b[4] - b[1]);
    }

    /** Nodes that end with the same word, as wheels do: @param key as the form sends it */
    record Kin(String key, String said) {}

    private static List<Kin> kin(List<String> nodes) {
        Map<String, Long> count = nodes.stream()
                .collect(Collectors.groupingBy(ClipEdits::kind, java.util.TreeMap::new, Collectors.counting()));
        return count.entrySet().stream()
                .filter(e -> e.getValue() > 1 && !e.getKey().isEmpty())
                .map(e -> new Kin("*" + e.getKey(), "every " + e.getKey() + " (" + e.getValue() + ")"))
                .toList();
    }

    /** Nodes that skins follow; all of them in a model without skins. */
    private static List<String> joints(Model m) {
        if (m.skins().isEmpty())
            return m.nodes().stream()
                    .map(Model.Node::name)
                    .distinct()
                    .limit(MOST_NODES)
                    .toList();
        return m.skins().stream()
                .flatMap(s -> java.util.Arrays.stream(s.joints())
                        .mapToObj(j -> m.nodes().get(j).name()))
                .distinct()
                .limit(MOST_NODES)
                .toList();
    }

    /** A motion of the shelf with the joints it moves, and which node of a model each would. */
    record MotionLine(String hash, String name, double seconds, List<JointLine> joints) {}

    record JointLine(String joint, String node) {}

    private List<MotionLine> motions(Model model) {
        List<MotionLine> out = new ArrayList<>();
        for (MediaMapper.ShelfItem i : media.shelf("motion")) {
            Motion m = shelfOf.motion(i.hash());
            Map<String, String> guess = Retarget.guess(m, model);
            out.add(new MotionLine(
                    i.hash(),
                    i.name(),
                    m.frames().length * m.frameSeconds(),
                    m.joints().stream()
                            .map(j -> new JointLine(j.name(), guess.getOrDefault(j.name(), "")))
                            .toList()));
        }
        return out;
    }

    private List<Carrier> carriers(Shot s, Performer p) {
        List<Carrier> out = new ArrayList<>();
        for (CameraRecipe.Moved o : s.camera().objects()) out.add(new Carrier("object " + o.id(), o.name()));
        for (var k : s.tracks().marks()) out.add(new Carrier("track " + k.id(), k.name() + ", on the ground"));
        Tie t = p.tie();
        if (t != null && t.to() == Tie.To.TRACK && s.tracks().marks().stream().noneMatch(k -> k.id() == t.id()))
            out.add(new Carrier("track " + t.id(), "track " + t.id() + ", on the ground"));
        out.add(new Carrier("chosen", "the chosen track, on the ground"));
        for (Performer q : s.performers()) {
            if (q.id() == p.id()) continue;
            out.add(new Carrier("performer " + q.id(), q.name()));
            scenes.model(q).nodes().stream()
                    .map(Model.Node::name)
                    .distinct()
                    .limit(MOST_NODES)
                    .forEach(n -> out.add(new Carrier("performer " + q.id() + " " + n, q.name() + ": " + n)));
        }
        return out;
    }

    private static List<MaterialLine> materials(Model model, Performer p) {
        List<MaterialLine> out = new ArrayList<>();
        List<String> seen = new ArrayList<>();
        for (Material m : model.materials()) {
            String name = m.name() == null ? "" : m.name();
            if (seen.contains(name)) continue;
            seen.add(name);
            Look own = p.looks().stream()
                    .filter(l -> l.material().equals(name))
                    .findFirst()
                    .orElse(Look.none(name));
            out.add(new MaterialLine(
                    name.isEmpty() ? "unnamed" : name,
                    hex(own.colour() != null ? own.colour() : list(m.baseColor())),
                    text(own.roughness()),
                    text((double) m.roughness()),
                    text(own.metallic()),
                    text((double) m.metallic()),
                    text(own.opacity()),
                    m.baseTexture() != null,
                    text(own.brightness()),
                    text(own.contrast()),
                    hex(own.tint() == null ? List.of(1.0, 1.0, 1.0) : own.tint()),
                    m.normalTexture() != null,
                    text(own.normals()),
                    hex(glow(own, m).stream()
                            .map(v -> v / Look.level(glow(own, m)))
                            .toList()),
                    text(Look.level(glow(own, m))),
                    own.mask() == null ? "" : own.mask(),
                    own.twoSided() == null ? m.doubleSided() : own.twoSided(),
                    text(own.scatterMm()),
                    !own.empty()));
        }
        return out;
    }

    /** Colour in which it glows, times its level. */
    static List<Double> glow(Look own, Material m) {
        return own.emission() != null ? own.emission() : list(m.emissive());
    }

    private static List<Double> list(float[] c) {
        return List.of((double) c[0], (double) c[1], (double) c[2]);
    }

    private static String text(Double v) {
        return v == null
                ? ""
                : String.format(Locale.ROOT, "%.4f", v).replaceAll("0+$", "").replaceAll("\\.$", "");
    }

    private static String hex(List<Double> linear) {
        StringBuilder b = new StringBuilder("#");
        for (int k = 0; k < 3; k++)
            b.append(String.format(
                    "%02x", Math.max(0, Math.min(255, Math.round(255 * Encoding.SRGB.encode(linear.get(k)))))));
        return b.toString();
    }
}

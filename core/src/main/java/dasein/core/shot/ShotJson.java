package dasein.core.shot;

import dasein.core.BadInput;
import dasein.core.cast.Performer;
import dasein.core.comp.CompRecipe;
import dasein.core.ground.SetRecipe;
import dasein.core.light.LightRecipe;
import dasein.core.plate.Conform;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Set;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.MapperFeature;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The shot document as JSON, and SHA-256 fingerprints of parts of it. What a document leaves out has its default value;
 * what it has that is not known is kept.
 */
public final class ShotJson {
    private static final JsonMapper JSON = JsonMapper.builder()
            .enable(MapperFeature.SORT_PROPERTIES_ALPHABETICALLY)
            .enable(SerializationFeature.ORDER_MAP_ENTRIES_BY_KEYS)
            .build();

    /** Entries of a performer's short form, which reading turns into a clip. */
    private static final Set<String> SHORT_FORM = Set.of("clip", "clipStart", "clipSpeed", "loop");

    private ShotJson() {}

    public static String write(Shot shot) {
        return JSON.writeValueAsString(shot);
    }

    public static String writePretty(Shot shot) {
        return JSON.writerWithDefaultPrettyPrinter().writeValueAsString(shot);
    }

    /**
     * As JSON, with all that stood in an earlier document of the shot and is not known here: another version of this
     * program may have put it there.
     *
     * @param earlier the document that {@code shot} was changed from
     */
    public static String write(Shot shot, String earlier) {
        ObjectNode out = JSON.valueToTree(shot);
        JsonNode before = JSON.readTree(earlier);
        if (before instanceof ObjectNode o) {
            Upgrades.upgrade(o);
            addUnknown(out, o, JSON.valueToTree(read(earlier)));
        }
        return JSON.writeValueAsString(out);
    }

    /** Copies into {@code out} what {@code before} has and {@code known} has not. */
    private static void addUnknown(ObjectNode out, ObjectNode before, ObjectNode known) {
        before.properties().forEach(e -> {
            JsonNode mine = known.get(e.getKey()), to = out.get(e.getKey());
            if (mine == null) {
                if (to == null && !SHORT_FORM.contains(e.getKey())) out.set(e.getKey(), e.getValue());
            } else if (e.getValue() instanceof ObjectNode b
                    && mine instanceof ObjectNode k
                    && to instanceof ObjectNode t) {
                addUnknown(t, b, k);
            } else if (e.getValue().isArray() && mine.isArray() && to != null && to.isArray()) {
                for (JsonNode b : e.getValue())
                    if (b instanceof ObjectNode of
                            && withId(mine, of) instanceof ObjectNode k
                            && withId(to, of) instanceof ObjectNode t) addUnknown(t, of, k);
            }
        });
    }

    private static JsonNode withId(JsonNode list, ObjectNode of) {
        JsonNode id = of.get("id");
        if (id != null) for (JsonNode n : list) if (id.equals(n.get("id"))) return n;
        return null;
    }

    /**
     * What a document has that is not known here, by its path: kept, but without effect.
     *
     * @throws BadInput when it cannot be read
     */
    public static List<String> unknown(String text) {
        List<String> out = new ArrayList<>();
        if (JSON.readTree(text) instanceof ObjectNode o) {
            Upgrades.upgrade(o);
            unknown("", o, JSON.valueToTree(read(text)), out);
        }
        return out;
    }

    private static void unknown(String at, JsonNode given, JsonNode known, List<String> out) {
        given.properties().forEach(e -> {
            JsonNode k = known.get(e.getKey());
            if (k == null) {
                if (!SHORT_FORM.contains(e.getKey())) out.add(at + e.getKey());
            } else if (e.getValue().isObject()) unknown(at + e.getKey() + ".", e.getValue(), k, out);
            else if (e.getValue().isArray()
                    && k.isArray()
                    && k.size() == e.getValue().size())
                for (int i = 0; i < k.size(); i++)
                    if (k.get(i).isObject())
                        unknown(at + e.getKey() + "." + i + ".", e.getValue().get(i), k.get(i), out);
        });
    }

    /** @throws BadInput with what is wrong in a sentence */
    public static Shot read(String text) {
        try {
            if (!(JSON.readTree(text) instanceof ObjectNode given))
                throw new BadInput("this is not a shot document: it must be a JSON object");
            Upgrades.upgrade(given);
            ObjectNode all = JSON.valueToTree(Shot.BLANK);
            merge(all, given);
            if (given.path("performers").isArray()) fillPerformers(all);
            if (given.path("set").path("pieces").isArray()) fillPieces(all);
            return JSON.treeToValue(all, Shot.class);
        } catch (JacksonException e) {
            throw new BadInput("the shot document cannot be read: " + e.getOriginalMessage(), e);
        }
    }

    /** What is not known is left out here; {@link #write(Shot, String)} keeps it in the document. */
    private static void merge(ObjectNode base, ObjectNode given) {
        given.properties().forEach(e -> {
            JsonNode old = base.get(e.getKey());
            if (old == null) return;
            if (old.isObject() && !old.isEmpty() && e.getValue().isObject())
                merge((ObjectNode) old, (ObjectNode) e.getValue());
            else base.set(e.getKey(), e.getValue());
        });
    }

    private static void fillPerformers(ObjectNode all) {
        int id = 1;
        for (JsonNode p : all.path("performers")) {
            if (!(p instanceof ObjectNode o))
                throw new BadInput("a performer in the shot document must be " + "an object");
            ObjectNode full = PERFORMER
                    .deepCopy()
                    .put("id", id++)
                    .put("name", o.path("model").asString("performer"));
            oneClip(o);
            // Documents from before wheels steered of themselves say nothing of it.
            for (JsonNode t : o.path("parts"))
                if (t instanceof ObjectNode part && !part.has("steers")) part.put("steers", false);
            merge(full, o.deepCopy());
            o.setAll(full);
        }
    }

    /** The short form: one clip and how it is played. Documents from before there could be several have only this. */
    private static void oneClip(ObjectNode o) {
        JsonNode clip = o.remove("clip"),
                start = o.remove("clipStart"),
                speed = o.remove("clipSpeed"),
                loop = o.remove("loop");
        if (clip == null || clip.asString("").isEmpty()) return;
        o.putArray("clips")
                .addObject()
                .put("clip", clip.asString(""))
                .put("at", 0)
                .put("from", 0.0)
                .put("to", 0.0)
                .put("offset", start == null ? 0 : start.asDouble(0))
                .put("speed", speed == null ? 1 : speed.asDouble(1))
                .put("repeat", loop == null || loop.asBoolean(true) ? "LOOP" : "HOLD")
                .put("blend", 0.0);
    }

    private static void fillPieces(ObjectNode all) {
        int id = 1;
        for (JsonNode p : all.path("set").path("pieces")) {
            if (!(p instanceof ObjectNode o))
                throw new BadInput("a set piece in the shot document must be " + "an object");
            ObjectNode full = PIECE.deepCopy().put("id", id).put("name", "piece " + id);
            id++;
            merge(full, o.deepCopy());
            o.setAll(full);
        }
    }

    /**
     * SHA-256 of values. What stands at its default does not count, nor do the names that people give: two documents
     * that say the same have the same fingerprint, whether or not they say it in as many words.
     */
    static String fingerprint(Object... parts) {
        try {
            MessageDigest d = MessageDigest.getInstance("SHA-256");
            for (Object p : parts) {
                d.update((byte) 0);
                d.update(JSON.writeValueAsBytes(lean(p)));
            }
            return HexFormat.of().formatHex(d.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    private static JsonNode lean(Object part) {
        JsonNode node = JSON.valueToTree(part), rest = null;
        if (part != null) rest = REST.get(part.getClass());
        return lean(
                node,
                rest,
                part instanceof List<?> l && !l.isEmpty() && l.get(0) instanceof Performer ? PERFORMER : null);
    }

    /** @param rest what it is by default, null where that is nothing; @param element the same of a list's elements */
    private static JsonNode lean(JsonNode node, JsonNode rest, JsonNode element) {
        if (node.isArray()) {
            ArrayNode out = JSON.createArrayNode();
            for (JsonNode e : node) out.add(lean(e, element, null));
            return out;
        }
        if (!node.isObject()) return node;
        ObjectNode out = JSON.createObjectNode();
        node.properties().forEach(e -> {
            JsonNode v = e.getValue(), usual = rest == null ? null : rest.get(e.getKey());
            if (e.getKey().equals("name") || (usual == null ? nothing(v) : v.equals(usual))) return;
            out.set(e.getKey(), lean(v, usual, e.getKey().equals("pieces") ? PIECE : null));
        });
        return out;
    }

    private static boolean nothing(JsonNode v) {
        return v.isNull()
                || v.isContainer() && v.isEmpty()
                || v.isString() && v.asString().isEmpty()
                || v.isNumber() && v.asDouble() == 0
                || v.isBoolean() && !v.asBoolean();
    }

    /** What a performer, and a set piece, is where its document does not say. */
    private static final ObjectNode PERFORMER = performer(), PIECE = piece();

    /** What the parts of a shot are where nothing is said. */
    private static final Map<Class<?>, JsonNode> REST = Map.of(
            CameraRecipe.class, JSON.valueToTree(Shot.BLANK.camera()),
            SetRecipe.class, JSON.valueToTree(SetRecipe.BLANK),
            LightRecipe.class, JSON.valueToTree(LightRecipe.BLANK),
            CompRecipe.class, JSON.valueToTree(CompRecipe.BLANK),
            Conform.class, JSON.valueToTree(Conform.NONE));

    private static ObjectNode performer() {
        ObjectNode o = JSON.createObjectNode()
                .put("model", "")
                .put("x", 0.0)
                .put("y", 0.0)
                .put("z", 0.0)
                .put("headingDeg", 0.0)
                .put("pitchDeg", 0.0)
                .put("rollDeg", 0.0)
                .put("heightMetres", 1.8)
                .put("feet", "REST")
                .put("onGround", false);
        for (String list : new String[] {"clips", "parts", "looks"}) o.putArray(list);
        o.putObject("curves");
        for (String one : new String[] {"route", "tie", "flock", "card"}) o.putNull(one);
        return o;
    }

    private static ObjectNode piece() {
        ObjectNode o = JSON.createObjectNode()
                .put("kind", "BOX")
                .put("x", 0.0)
                .put("y", 0.0)
                .put("z", 0.0)
                .put("headingDeg", 0.0)
                .put("width", 1.0)
                .put("height", 1.0)
                .put("depth", 1.0)
                .put("steps", 0)
                .put("roughness", 0.3)
                .put("strength", 0.5)
                .put("model", "")
                .put("follows", 0)
                .put("builtIn", 0);
        o.putArray("corners");
        o.putArray("keys");
        o.putArray("roles").add("SHADOW").add("BOUNCE").add("HIDE");
        return o;
    }
}

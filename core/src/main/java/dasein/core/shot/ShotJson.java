package dasein.core.shot;

import dasein.core.BadInput;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.MapperFeature;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * The shot document as JSON, and SHA-256 fingerprints of parts of it. What a document leaves out has its default value.
 */
public final class ShotJson {
    /** Changes whenever the same recipe would give another result; old results are then stale. */
    public static final String ENGINE = "2";

    private static final JsonMapper JSON = JsonMapper.builder()
            .enable(MapperFeature.SORT_PROPERTIES_ALPHABETICALLY)
            .enable(SerializationFeature.ORDER_MAP_ENTRIES_BY_KEYS)
            .build();

    private ShotJson() {}

    public static String write(Shot shot) {
        return JSON.writeValueAsString(shot);
    }

    public static String writePretty(Shot shot) {
        return JSON.writerWithDefaultPrettyPrinter().writeValueAsString(shot);
    }

    /** @throws BadInput with what is wrong in a sentence */
    public static Shot read(String text) {
        try {
            JsonNode given = JSON.readTree(text);
            String schema = given.path("schema").asString(Shot.SCHEMA);
            if (!given.isObject() || !schema.equals(Shot.SCHEMA))
                throw new BadInput("this is not a shot document: its schema must be " + Shot.SCHEMA);
            ObjectNode all = JSON.valueToTree(Shot.BLANK);
            merge(all, (ObjectNode) given);
            if (given.path("performers").isArray()) fillPerformers(all);
            if (given.path("set").path("pieces").isArray()) fillPieces(all);
            return JSON.treeToValue(all, Shot.class);
        } catch (JacksonException e) {
            throw new BadInput("the shot document cannot be read: " + e.getOriginalMessage(), e);
        }
    }

    private static void merge(ObjectNode base, ObjectNode given) {
        given.properties().forEach(e -> {
            JsonNode old = base.get(e.getKey());
            if (old == null)
                throw new BadInput("the shot document has an entry " + e.getKey() + " that does not belong there");
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
            ObjectNode full = JSON.createObjectNode()
                    .put("id", id++)
                    .put("name", o.path("model").asString("performer"))
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
            for (String list : new String[] {"clips", "parts", "looks"}) full.putArray(list);
            full.putObject("curves");
            full.putNull("route");
            full.putNull("tie");
            full.putNull("flock");
            full.putNull("card");
            oneClip(o);
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
            ObjectNode full = JSON.createObjectNode()
                    .put("id", id)
                    .put("name", "piece " + id)
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
            full.putArray("corners");
            full.putArray("keys");
            full.putArray("roles").add("SHADOW").add("BOUNCE").add("HIDE");
            id++;
            merge(full, o.deepCopy());
            o.setAll(full);
        }
    }

    /** Hash of the values and the engine's version. */
    public static String fingerprint(Object... parts) {
        try {
            MessageDigest d = MessageDigest.getInstance("SHA-256");
            d.update(ENGINE.getBytes(StandardCharsets.UTF_8));
            for (Object p : parts) {
                d.update((byte) 0);
                d.update(JSON.writeValueAsBytes(p));
            }
            return HexFormat.of().formatHex(d.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}

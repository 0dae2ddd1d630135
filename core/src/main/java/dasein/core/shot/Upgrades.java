package dasein.core.shot;

import dasein.core.BadInput;
import java.util.List;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Shot documents of earlier versions brought to the present one, tree to tree, a step a version. A document that is
 * stored is never written over: it is brought up whenever it is read.
 */
final class Upgrades {
    private static final Pattern SCHEMA = Pattern.compile("dasein-shot/(\\d{1,6})");

    /** The step at place k takes version k + 1 to version k + 2. */
    private static final List<Consumer<ObjectNode>> STEPS =
            List.of(Upgrades::tintsApart, Upgrades::piecesOnCurves, Upgrades::coloursOfShadow, Upgrades::termsAsked);

    private Upgrades() {}

    static int newest() {
        return STEPS.size() + 1;
    }

    /**
     * @param document is changed
     * @throws BadInput when it is no shot document, or one of a version that is not known yet
     */
    static void upgrade(ObjectNode document) {
        JsonNode named = document.path("schema");
        Matcher m = SCHEMA.matcher(named.isMissingNode() ? "dasein-shot/" + newest() : named.asString(""));
        if (!m.matches()) throw new BadInput("this is not a shot document: its schema must be dasein-shot/" + newest());
        int version = Integer.parseInt(m.group(1));
        if (version > newest())
            throw new BadInput("this shot was written by a newer version of Dasein (dasein-shot/" + version
                    + "); this one reads documents up to dasein-shot/" + newest());
        if (version < 1) throw new BadInput("there is no dasein-shot/" + version);
        for (int v = version; v < newest(); v++) STEPS.get(v - 1).accept(document);
        document.put("schema", "dasein-shot/" + newest());
    }

    /**
     * 2 to 3: keys of set pieces, whole places before, are curves as all other keys, straight between them as before.
     */
    private static void piecesOnCurves(ObjectNode document) {
        for (JsonNode node : document.path("set").path("pieces")) {
            if (!(node instanceof ObjectNode piece)) continue;
            JsonNode keys = piece.remove("keys");
            if (keys == null || keys.isEmpty()) continue;
            ObjectNode curves = piece.putObject("curves");
            for (String number : new String[] {"x", "y", "z", "headingDeg"}) {
                ArrayNode all = curves.putObject(number.equals("headingDeg") ? "heading" : number)
                        .putArray("keys");
                for (JsonNode k : keys)
                    all.addObject()
                            .put("frame", k.path("frame").asInt())
                            .put("value", k.path(number).asDouble())
                            .put("ease", "LINEAR")
                            .put("in", 0.0)
                            .put("out", 0.0);
            }
        }
    }

    /** 3 to 4: what was a colour's strength in the shadow is what is left of that colour: one less it. */
    private static void coloursOfShadow(ObjectNode document) {
        if (!(document.path("comp") instanceof ObjectNode comp)) return;
        for (String colour : new String[] {"Red", "Green", "Blue"}) {
            JsonNode tint = comp.remove("tint" + colour);
            if (tint != null && tint.isNumber()) comp.put("shadow" + colour, 1 - tint.asDouble());
            if (!(comp.path("keys") instanceof ObjectNode keys)) continue;
            JsonNode curve = keys.remove("tint" + colour);
            if (curve == null) continue;
            for (JsonNode k : curve.path("keys"))
                if (k instanceof ObjectNode key) {
                    key.put("value", 1 - key.path("value").asDouble());
                    key.put("in", -key.path("in").asDouble())
                            .put("out", -key.path("out").asDouble());
                }
            for (JsonNode w : curve.path("waves"))
                if (w instanceof ObjectNode wave && wave.has("size"))
                    wave.put("size", -wave.path("size").asDouble());
            keys.set("shadow" + colour, curve);
        }
    }

    /**
     * 4 to 5: a term of the lens, ticked or not before, is found, always solved or never. Ticks as they were by
     * themselves, k1 alone, said nothing: all are found.
     */
    private static void termsAsked(ObjectNode document) {
        if (!(document.path("camera") instanceof ObjectNode camera)) return;
        String[] before = {"solveK1", "solveK2", "solveK3", "tangential", "centre"},
                now = {"k1", "k2", "k3", "tangential", "centre"};
        boolean[] ticked = new boolean[before.length];
        boolean told = false;
        for (int k = 0; k < before.length; k++) {
            JsonNode tick = camera.remove(before[k]);
            ticked[k] = tick == null ? k == 0 : tick.asBoolean();
            told |= ticked[k] != (k == 0);
        }
        if (!told) return;
        ObjectNode terms = camera.putObject("terms");
        for (int k = 0; k < now.length; k++) terms.put(now[k], ticked[k] ? "ALWAYS" : "NEVER");
    }

    /** 1 to 2: the shadow's tint, a list before, is a number a colour, as every other number of the comp. */
    private static void tintsApart(ObjectNode document) {
        if (!(document.path("comp") instanceof ObjectNode comp)) return;
        JsonNode tint = comp.remove("shadowTint");
        if (tint == null || !tint.isArray() || tint.size() != 3) return;
        String[] names = {"tintRed", "tintGreen", "tintBlue"};
        for (int c = 0; c < 3; c++) comp.set(names[c], tint.get(c));
    }
}

package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.BadInput;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Changes every leaf of a shot, one at a time, and holds the prints that change against a table of what reads what. A
 * leaf that no print reads stands in the table with its reason.
 */
class PrintsTest {
    private static final JsonMapper JSON = new JsonMapper();

    static String document(String name) throws IOException {
        return Files.readString(Path.of("core/src/test/resources/documents", name));
    }

    /** Everything from the plate on. */
    private static final String ALL = "plate health tracks mark plane settings object set shape colours blocking scene "
            + "frame comp output straight presence";
    /** From the tracks on, without what hand marks and surfaces are. */
    private static final String TRACKS =
            "tracks settings object set shape colours blocking scene frame comp output straight " + "presence";

    private static final String SOLVE =
            "settings object set shape colours blocking scene frame comp output straight presence";
    private static final String SET = "set object shape colours blocking scene frame comp output presence";
    private static final String STANDS = "colours blocking scene frame comp output presence";
    private static final String RENDER = "blocking scene frame comp output presence";
    private static final String FRAME = "frame comp output presence";

    /**
     * What reads a leaf: paths with list places left out, the longest that fits counts. An empty line: nothing does,
     * with the reason behind it.
     */
    private static final String[][] TABLE = {
        {"plate.file", ALL},
        {"plate.encoding", ALL},
        {"plate.rate", ALL},
        {"plate.table", ALL},
        {"plate.conform", ALL},
        {"plate.first", "health mark plane " + TRACKS},
        {"plate.last", "health mark plane " + TRACKS},
        {"plate.handles", "health mark plane " + TRACKS},
        {"plate.sensorWidthMm", SOLVE},
        {"plate.focalMm", SOLVE},
        {"plate.cameraHeightMetres", SET},
        {"plate.shutterDeg", "", "the passes' own shutter stands in its place here"},
        {"plate.notes", "", "for people"},
        {"plate.camera", "", "for people"},
        {"plate.lens", "", "for people"},
        {"plate.fStop", "", "noted; nothing is focused by it yet"},
        {"plate.focusMetres", "", "noted; nothing is focused by it yet"},
        {"plate.timecode", "", "only shown"},
        {"plate.distances", "", "offered as yardsticks, which count by themselves"},
        {"plate.photos", "", "for people"},
        {"tracks", TRACKS},
        {"tracks.deleted", SOLVE},
        {"tracks.cuts", SOLVE},
        {"tracks.joins", SOLVE},
        {"tracks.masks", "plane " + TRACKS},
        {"tracks.masks.name", "", "for people"},
        {"tracks.masks.1.id", "", "a surface is known by its shape; the camera of this shot is not carried by it"},
        {"tracks.masks.1.feather", "", "a surface takes nothing away"},
        {"tracks.masks.1.use", TRACKS},
        {"tracks.masks.1.carry", "plane", "what is carried otherwise has no way of its own"},
        {"tracks.masks.1.keys", "plane"},
        {"tracks.marks", "mark plane " + TRACKS},
        {"tracks.marks.id", "plane " + TRACKS, "a mark is followed the same under another number"},
        {"tracks.marks.name", "", "for people"},
        {"tracks.groups.id", "object colours blocking scene frame comp output presence"},
        {"tracks.groups.name", "", "for people"},
        {"tracks.groups.colour", "", "for people"},
        {"tracks.groups.locked", "", "keeps hands off"},
        {"tracks.groups.moving", SOLVE},
        {"tracks.groups.tracks", SOLVE},
        {"camera", SOLVE},
        {"camera.kept", "", "only offered"},
        {"camera.use", SOLVE.substring("settings ".length())},
        {"camera.objects.name", "", "for people"},
        {"camera.objects.id", STANDS},
        {"camera.objects", "object " + STANDS},
        {"set", SET},
        {"set.yardsticks.name", "", "for people"},
        {"set.points.name", "", "for people"},
        {"set.pieces", "shape " + STANDS},
        {"set.pieces.name", "", "for people"},
        {"set.colours", STANDS},
        {"set.catcher", STANDS},
        {"set.wet", STANDS},
        {"set.wetRoughness", STANDS},
        {"performers", RENDER},
        {"performers.name", "", "for people"},
        {"light", "light scene frame comp output presence"},
        {"light.lamps", "scene frame comp output presence"},
        {"light.lamps.name", "", "for people"},
        {"light.clues.shadows", "presence"},
        {"light.clues.patches", "presence"},
        {"light.clues.edges", "presence"},
        {"light.clues", "", "only offered: what is found by them is set in the recipe"},
        {"passes", FRAME},
        {"passes.overFrames", "filtered comp output presence"},
        {"passes.shutterDeg", "scene " + FRAME},
        {"passes.straight", "scene " + FRAME},
        {"comp", "comp output presence"},
    };

    private static Map<String, String> prints(Shot s) {
        Map<String, String> m = new LinkedHashMap<>();
        m.put("plate", Prints.plate(s));
        m.put("health", Prints.health(s));
        m.put("tracks", Prints.tracks(s));
        m.put(
                "mark",
                String.valueOf(
                        s.tracks().marks().stream().map(k -> Prints.mark(s, k)).toList()));
        m.put(
                "plane",
                String.valueOf(s.tracks().masks().stream()
                        .filter(k -> k.carry() == dasein.core.track.DrawnMask.Carry.PLANE)
                        .map(k -> Prints.plane(s, k))
                        .toList()));
        m.put("settings", Prints.settings(s));
        m.put(
                "object",
                String.valueOf(s.camera().objects().stream()
                        .map(o -> Prints.object(s, o))
                        .toList()));
        m.put("set", Prints.set(s));
        m.put(
                "shape",
                String.valueOf(
                        s.set().pieces().stream().map(p -> Prints.shape(s, p)).toList()));
        m.put("colours", Prints.colours(s));
        m.put("light", Prints.light(s));
        m.put("blocking", Prints.blocking(s));
        m.put("scene", Prints.scene(s));
        m.put("frame", Prints.frame(s, 9));
        int reach = s.passes().overFrames();
        m.put(
                "filtered",
                Prints.filtered(
                        IntStream.rangeClosed(9 - reach, 9 + reach)
                                .mapToObj(f -> Prints.frame(s, f))
                                .toList(),
                        reach));
        m.put("comp", Prints.comp(s, 9));
        m.put("output", Prints.output(s, "movie", 3, 40));
        m.put("straight", Prints.output(s, "straight", 3, 40));
        m.put("presence", Prints.presence(s, List.of(3, 4, 5), List.of(4)));
        return m;
    }

    private record Leaf(List<Object> path) {
        String named(boolean places) {
            List<String> out = new ArrayList<>();
            for (Object o : path) if (places || o instanceof String) out.add(o.toString());
            return String.join(".", out);
        }
    }

    private static void leaves(JsonNode n, List<Object> at, List<Leaf> out) {
        if (n.isObject()) n.properties().forEach(e -> leaves(e.getValue(), plus(at, e.getKey()), out));
        else if (n.isArray()) for (int i = 0; i < n.size(); i++) leaves(n.get(i), plus(at, i), out);
        else if (!n.isNull()) out.add(new Leaf(at));
    }

    private static List<Object> plus(List<Object> at, Object o) {
        List<Object> all = new ArrayList<>(at);
        all.add(o);
        return all;
    }

    private static final List<String> WORDS = List.of(
            "STORED",
            "GREEN",
            "BLUE",
            "BY_TIME",
            "WITHOUT",
            "WHOLE",
            "UPPER",
            "LOWER",
            "DRAFT",
            "STANDARD",
            "THOROUGH",
            "AWAY",
            "SURFACE",
            "KEYS",
            "PLANE",
            "MARKS",
            "SHIFT",
            "TURN",
            "AFFINE",
            "PERSPECTIVE",
            "X",
            "Y",
            "Z",
            "x",
            "y",
            "z",
            "BOX",
            "WALL",
            "STAIRS",
            "SHADOW",
            "HIDE",
            "REST",
            "CLIP",
            "ALWAYS",
            "NEVER",
            "HOLD",
            "LOOP",
            "LINEAR",
            "EASED",
            "FREE",
            "SINE",
            "NOISE",
            "OBJECT",
            "PERFORMER",
            "TRACK",
            "AREA",
            "ROUTE",
            "POINT",
            "SPOT",
            "DISC",
            "STAND",
            "FLY",
            "FALL",
            "NONE",
            "ALPHA",
            "BLACK",
            "moving",
            "nodal",
            "unknown",
            "given",
            "near",
            "zoom",
            "map",
            "own",
            "none",
            "left",
            "SRGB",
            "REC709",
            "#112233",
            "TOGETHER",
            "LIGHTS",
            "01:00:00:05",
            "30/1");

    /** The document with a leaf changed in a way that reads; null when none was found. */
    private static Shot changed(ObjectNode all, String base, Leaf leaf) {
        JsonNode was = at(all, leaf.path);
        List<Object> tries = new ArrayList<>();
        if (was.isBoolean()) tries.add(!was.asBoolean());
        else if (was.isNumber())
            for (double d : new double[] {1, 0.0625, -0.0625, -1, 10}) {
                if (was.isIntegralNumber() && d != Math.rint(d)) continue;
                tries.add(was.isIntegralNumber() ? (Object) (was.asLong() + (long) d) : (Object) (was.asDouble() + d));
            }
        else {
            tries.addAll(WORDS);
            if (was.asString().startsWith("#")) tries.add("#223344");
            tries.add(was.asString() + "q");
        }
        for (Object o : tries) {
            if (o.equals(was.isString() ? was.asString() : was)) continue;
            ObjectNode copy = all.deepCopy();
            set(copy, leaf.path, JSON.valueToTree(o));
            // Words are tried where only words are taken: a free text takes the last.
            if (was.isString() && WORDS.contains(o) && !WORDS.contains(was.asString())) continue;
            try {
                Shot s = ShotJson.read(copy.toString());
                if (ShotJson.write(s).equals(base)) continue;
                return s;
            } catch (BadInput e) {
                // Not this one.
            }
        }
        return null;
    }

    private static JsonNode at(JsonNode n, List<Object> path) {
        for (Object o : path) n = o instanceof Integer i ? n.get(i) : n.get((String) o);
        return n;
    }

    private static void set(JsonNode n, List<Object> path, JsonNode v) {
        JsonNode in = at(n, path.subList(0, path.size() - 1));
        Object last = path.get(path.size() - 1);
        if (last instanceof Integer i) ((ArrayNode) in).set(i, v);
        else ((ObjectNode) in).set((String) last, v);
    }

    private static String[] line(Leaf leaf) {
        String[] best = null;
        for (String[] l : TABLE)
            for (String name : List.of(leaf.named(false), leaf.named(true)))
                if ((name.equals(l[0]) || name.startsWith(l[0] + "."))
                        && (best == null || l[0].length() > best[0].length())) best = l;
        return best;
    }

    @Test
    void everyLeafOfTheDocumentChangesExactlyThePrintsThatReadIt() throws IOException {
        ObjectNode all = (ObjectNode) JSON.readTree(ShotJson.write(ShotJson.read(document("rich-1.json"))));
        Shot base = ShotJson.read(all.toString());
        String written = ShotJson.write(base);
        Map<String, String> before = prints(base);
        List<Leaf> leaves = new ArrayList<>();
        leaves(all, List.of(), leaves);
        Map<String, String> wrong = new ConcurrentSkipListMap<>();
        AtomicInteger checked = new AtomicInteger();
        leaves.parallelStream().filter(l -> !l.named(false).equals("schema")).forEach(leaf -> {
            Shot s = changed(all, written, leaf);
            String[] line = line(leaf);
            if (s == null || line == null) {
                wrong.put(leaf.named(true), s == null ? "could not be changed" : "stands in no line of the table");
                return;
            }
            Set<String> wanted = new TreeSet<>(List.of(line[1].split(" "))), got = new TreeSet<>();
            wanted.remove("");
            // It is made of frames.
            if (wanted.contains("frame")) wanted.add("filtered");
            prints(s).forEach((k, v) -> {
                if (!v.equals(before.get(k))) got.add(k);
            });
            if (!got.equals(wanted)) wrong.put(leaf.named(true), "changed " + got + ", not " + wanted);
            checked.incrementAndGet();
        });
        assertThat(wrong).isEmpty();
        assertThat(checked.get()).isGreaterThan(250);
    }
}

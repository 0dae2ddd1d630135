package dasein.core.render.pass;

import dasein.core.image.Image;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.apache.commons.codec.digest.MurmurHash3;
import tools.jackson.databind.json.JsonMapper;

/**
 * Identity mattes as the Cryptomatte specification 1.2 has them: of each pixel the names that are seen in it and how
 * much of it each covers, the largest first. A name is its MurmurHash3 (32 bits, seed 0) read as a float.
 */
public final class Mattes {
    /** Names a pixel can have. */
    public static final int RANKS = 6;

    private static final JsonMapper JSON = new JsonMapper();

    private Mattes() {}

    public enum Kind {
        PERFORMER("MattePerformer"),
        MATERIAL("MatteMaterial"),
        PART("MattePart");

        /** In the file. */
        final String layer;

        Kind(String layer) {
            this.layer = layer;
        }
    }

    static Pass pass(Kind k) {
        List<String> channels = new ArrayList<>();
        for (int rank = 0; rank < RANKS; rank += 2)
            for (String c : List.of("R", "G", "B", "A")) channels.add(k.layer + "0" + rank / 2 + "." + c);
        String name = "matte_" + k.name().toLowerCase();
        return new Pass(name, channels, true, 0, false, null, p -> picture(p, p.of(name)));
    }

    /** Bits of the float that stands for a name. */
    public static int id(String name) {
        byte[] utf = name.getBytes(StandardCharsets.UTF_8);
        int hash = MurmurHash3.hash32x86(utf, 0, utf.length, 0), exponent = hash >>> 23 & 255;
        // Neither denormal nor infinite nor no number: files and programs would not keep those as they are.
        return exponent == 0 || exponent == 255 ? hash ^ 1 << 23 : hash;
    }

    /** What the head of a file says of them. @param names of each kind, with their ids */
    public static Map<String, String> attributes(Map<Kind, Map<String, Integer>> names) {
        Map<String, String> out = new LinkedHashMap<>();
        names.forEach((k, ids) -> {
            String key = "cryptomatte/" + "%08x".formatted(id(k.layer)).substring(0, 7) + "/";
            Map<String, String> manifest = new LinkedHashMap<>();
            ids.forEach((name, id) -> manifest.put(name, "%08x".formatted(id)));
            out.put(key + "name", k.layer);
            out.put(key + "hash", "MurmurHash3_32");
            out.put(key + "conversion", "uint32_to_float32");
            out.put(key + "manifest", JSON.writeValueAsString(manifest));
        });
        return out;
    }

    /** Samples of each pixel by what they met. What no longer finds room takes the place of the smallest. */
    public static final class Counts {
        private final int[] id, count;

        public Counts(int pixels) {
            id = new int[RANKS * pixels];
            count = new int[RANKS * pixels];
        }

        public void add(int pixel, int name) {
            int from = RANKS * pixel, least = from;
            for (int i = from; i < from + RANKS; i++) {
                if (id[i] == name || count[i] == 0) {
                    id[i] = name;
                    count[i]++;
                    return;
                }
                if (count[i] < count[least]) least = i;
            }
            id[least] = name;
            count[least] = 1;
        }

        /** Into the planes of a pass; {@code part} of it that each sample is. */
        public void resolve(int pixel, float part, float[][] planes) {
            int from = RANKS * pixel;
            for (int rank = 0; rank < RANKS; rank++) {
                int best = from + rank;
                for (int i = best + 1; i < from + RANKS; i++) if (count[i] > count[best]) best = i;
                swap(id, best, from + rank);
                swap(count, best, from + rank);
                if (count[from + rank] == 0) return;
                planes[2 * rank][pixel] = Float.intBitsToFloat(id[from + rank]);
                planes[2 * rank + 1][pixel] = part * count[from + rank];
            }
        }

        private static void swap(int[] v, int a, int b) {
            int t = v[a];
            v[a] = v[b];
            v[b] = t;
        }
    }

    /** Every name in a colour of its own. */
    private static Image picture(Passes p, float[][] planes) {
        float[][] out = new float[3][p.width * p.height];
        for (int i = 0; i < out[0].length; i++) {
            for (int rank = 0; rank < RANKS; rank++) {
                int id = Float.floatToRawIntBits(planes[2 * rank][i]);
                for (int c = 0; c < 3; c++)
                    out[c][i] += planes[2 * rank + 1][i] * (0.1f + 0.9f * (id >>> 8 * c & 255) / 255);
            }
        }
        return new Image(p.width, p.height, out);
    }
}

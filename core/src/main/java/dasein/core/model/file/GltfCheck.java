package dasein.core.model.file;

import dasein.core.BadInput;
import tools.jackson.databind.JsonNode;

/**
 * Whether the numbers of a glTF description fit together, before anything is read by them: sizes before memory, and no
 * node within itself.
 */
final class GltfCheck {
    private static final long MOST_NUMBERS = 400_000_000;
    private static final int MOST_NODES = 200_000;

    private GltfCheck() {}

    /** @param data bytes that buffer 0 really has */
    static void check(String name, JsonNode json, long data) {
        int views = json.path("bufferViews").size(),
                accessors = json.path("accessors").size();
        for (JsonNode v : json.path("bufferViews")) {
            long at = v.path("byteOffset").asLong(0),
                    length = v.path("byteLength").asLong(-1);
            if (v.path("buffer").asInt(-1) != 0 || at < 0 || length < 0 || at + length > data)
                throw damaged(name, "a part of its data lies outside the file");
        }
        long all = 0;
        for (JsonNode a : json.path("accessors")) {
            long count = a.path("count").asLong(-1);
            int wide = width(a.path("type").asString("")),
                    bytes = bytes(a.path("componentType").asInt(0));
            if (count < 0 || wide == 0 || bytes == 0) throw damaged(name, "some of its numbers are of no known kind");
            all += count * wide;
            if (count > MOST_NUMBERS || all > MOST_NUMBERS)
                throw new BadInput(name + " holds more than " + MOST_NUMBERS + " numbers");
            if (!a.has("bufferView")) continue;
            int view = a.path("bufferView").asInt(-1);
            if (view < 0 || view >= views) throw damaged(name, "some of its numbers lie nowhere");
            JsonNode v = json.path("bufferViews").get(view);
            long stride = v.path("byteStride").asLong(0), each = (long) wide * bytes;
            if (stride == 0) stride = each;
            long at = a.path("byteOffset").asLong(0);
            if (stride < 0
                    || stride > 65536
                    || at < 0
                    || count > 0
                            && at + (count - 1) * stride + each
                                    > v.path("byteLength").asLong(0))
                throw damaged(name, "some of its numbers lie outside their part of the data");
        }
        for (JsonNode m : json.path("meshes")) {
            for (JsonNode p : m.path("primitives")) {
                for (JsonNode k : p.path("attributes"))
                    if (k.asInt(-1) < 0 || k.asInt(-1) >= accessors)
                        throw damaged(name, "a mesh names numbers that do not exist");
                if (p.has("indices")
                        && (p.path("indices").asInt(-1) < 0 || p.path("indices").asInt(-1) >= accessors))
                    throw damaged(name, "a mesh names numbers that do not exist");
            }
        }
        nodes(name, json.path("nodes"));
    }

    /** A node has at most one above it, and none lies within itself. */
    private static void nodes(String name, JsonNode nodes) {
        int n = nodes.size();
        if (n > MOST_NODES) throw new BadInput(name + " has more than " + MOST_NODES + " nodes");
        int[] above = new int[n];
        java.util.Arrays.fill(above, -1);
        for (int i = 0; i < n; i++) {
            for (JsonNode c : nodes.get(i).path("children")) {
                int k = c.asInt(-1);
                if (k < 0 || k >= n || above[k] >= 0) throw damaged(name, "its nodes do not form a tree");
                above[k] = i;
            }
        }
        for (int i = 0; i < n; i++) {
            int steps = 0;
            for (int k = i; k >= 0; k = above[k])
                if (++steps > 2000) throw damaged(name, "its nodes do not form a tree, or one deeper than 2000");
        }
    }

    private static BadInput damaged(String name, String why) {
        return new BadInput(name + " is damaged: " + why);
    }

    private static int width(String type) {
        return switch (type) {
            case "SCALAR" -> 1;
            case "VEC2" -> 2;
            case "VEC3" -> 3;
            case "VEC4", "MAT2" -> 4;
            case "MAT3" -> 9;
            case "MAT4" -> 16;
            default -> 0;
        };
    }

    private static int bytes(int component) {
        return switch (component) {
            case 5120, 5121 -> 1;
            case 5122, 5123 -> 2;
            case 5125, 5126 -> 4;
            default -> 0;
        };
    }
}

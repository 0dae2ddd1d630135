package dasein.core.track;

import dasein.core.BadInput;
import dasein.core.format.SafeWrite;
import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.TreeMap;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Tracks as text: a head line, then {@code track,frame,x,y} in continuous pixels from the top-left corner; a fifth
 * column {@code match} may follow. Or as JSON: {@code {"schema": "dasein-tracks/1", "tracks": [{"id": 1, "frames":
 * [..], "x": [..], "y": [..]}]}}, {@code match} optional there, too.
 */
public final class TrackFile {
    private static final String HEAD = "track,frame,x,y", HEAD_MATCH = HEAD + ",match";
    private static final int MOST_LINES = 20_000_000;
    private static final String SCHEMA = "dasein-tracks/1";
    private static final long LARGEST_JSON = 1L << 30;

    private TrackFile() {}

    public static void write(Path path, List<Track> tracks) {
        write(path, tracks, false);
    }

    public static void write(Path path, List<Track> tracks, boolean match) {
        SafeWrite.to(path, tmp -> {
            try (BufferedWriter w = Files.newBufferedWriter(tmp)) {
                lines(w, tracks, match);
            }
        });
    }

    /** The same as text. */
    public static String toCsv(List<Track> tracks) {
        try {
            StringWriter w = new StringWriter();
            lines(w, tracks, false);
            return w.toString();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void lines(Writer w, List<Track> tracks, boolean match) throws IOException {
        w.write((match ? HEAD_MATCH : HEAD) + "\n");
        for (Track t : tracks) {
            for (int i = 0; i < t.length(); i++) {
                w.write(String.format(Locale.ROOT, "%d,%d,%.4f,%.4f", t.id(), t.frames()[i], t.x()[i], t.y()[i]));
                w.write(match ? String.format(Locale.ROOT, ",%.4f%n", t.match()[i]) : "\n");
            }
        }
    }

    public static String toJson(List<Track> tracks) {
        JsonMapper json = new JsonMapper();
        ObjectNode all = json.createObjectNode().put("schema", SCHEMA);
        ArrayNode list = all.putArray("tracks");
        for (Track t : tracks) {
            ObjectNode o = list.addObject().put("id", t.id());
            o.set("frames", json.valueToTree(t.frames()));
            o.set("x", json.valueToTree(t.x()));
            o.set("y", json.valueToTree(t.y()));
            if (!Float.isNaN(t.match()[0])) o.set("match", json.valueToTree(t.match()));
        }
        return json.writeValueAsString(all);
    }

    private static List<Track> readJson(Path path) {
        List<Track> out = new ArrayList<>();
        try {
            if (Files.size(path) > LARGEST_JSON) throw new BadInput(path.getFileName() + " is too large");
            JsonMapper json = new JsonMapper();
            JsonNode all = json.readTree(path);
            if (!all.path("schema").asString("").equals(SCHEMA))
                throw new BadInput(path.getFileName() + " is not a track file: its schema must be " + SCHEMA);
            for (JsonNode o : all.path("tracks")) {
                int[] frames = json.treeToValue(o.path("frames"), int[].class);
                double[] x = json.treeToValue(o.path("x"), double[].class),
                        y = json.treeToValue(o.path("y"), double[].class);
                int id = o.path("id").asInt();
                if (frames.length == 0 || x.length != frames.length || y.length != frames.length)
                    throw new BadInput("track " + id + " has lists of different lengths");
                for (int i = 0; i < frames.length; i++) {
                    if (!Double.isFinite(x[i]) || !Double.isFinite(y[i]) || i > 0 && frames[i] <= frames[i - 1])
                        throw new BadInput(
                                "track " + id + " has frames that do not rise or places that are no numbers");
                }
                float[] match = o.path("match").size() == frames.length
                        ? json.treeToValue(o.path("match"), float[].class)
                        : null;
                out.add(match == null ? new Track(id, frames, x, y) : new Track(id, frames, x, y, match));
            }
        } catch (JacksonException e) {
            throw new BadInput(path.getFileName() + " is not a track file that can be read", e);
        } catch (IOException e) {
            throw new BadInput("the track file " + path + " cannot be read", e);
        }
        return out;
    }

    private static boolean looksLikeJson(Path path) {
        try (BufferedReader r = Files.newBufferedReader(path, java.nio.charset.StandardCharsets.ISO_8859_1)) {
            int c = r.read();
            while (c >= 0 && Character.isWhitespace(c)) c = r.read();
            return c == '{';
        } catch (IOException e) {
            throw new BadInput("the track file " + path + " cannot be read", e);
        }
    }

    /** Either form, told apart by content. */
    public static List<Track> read(Path path) {
        if (looksLikeJson(path)) return readJson(path);
        TreeMap<Integer, TreeMap<Integer, double[]>> rows = new TreeMap<>();
        int line = 1;
        try (BufferedReader r = Files.newBufferedReader(path)) {
            String head = r.readLine();
            boolean match = head != null && head.trim().equals(HEAD_MATCH);
            if (head == null || !match && !head.trim().equals(HEAD))
                throw new BadInput(path.getFileName() + " is not a track file: its first line must be " + HEAD);
            for (String s = r.readLine(); s != null; s = r.readLine()) {
                if (++line > MOST_LINES) throw new BadInput(path.getFileName() + " has too many lines");
                if (s.isBlank()) continue;
                String[] f = s.split(",");
                double x = Double.parseDouble(f[2].trim()), y = Double.parseDouble(f[3].trim());
                if (f.length != (match ? 5 : 4) || !Double.isFinite(x) || !Double.isFinite(y))
                    throw new NumberFormatException();
                rows.computeIfAbsent(Integer.parseInt(f[0].trim()), k -> new TreeMap<>())
                        .put(
                                Integer.parseInt(f[1].trim()),
                                new double[] {x, y, match ? Double.parseDouble(f[4].trim()) : Double.NaN});
            }
        } catch (NumberFormatException | ArrayIndexOutOfBoundsException e) {
            throw new BadInput("line " + line + " of " + path.getFileName() + " is not track,frame,x,y");
        } catch (IOException e) {
            throw new BadInput("the track file " + path + " cannot be read", e);
        }
        List<Track> out = new ArrayList<>();
        rows.forEach((id, m) -> {
            int n = m.size(), i = 0;
            int[] frames = new int[n];
            double[] x = new double[n], y = new double[n];
            float[] how = new float[n];
            for (var e : m.entrySet()) {
                frames[i] = e.getKey();
                x[i] = e.getValue()[0];
                y[i] = e.getValue()[1];
                how[i++] = (float) e.getValue()[2];
            }
            out.add(new Track(id, frames, x, y, how));
        });
        return out;
    }
}

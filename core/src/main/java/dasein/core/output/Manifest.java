package dasein.core.output;

import com.fasterxml.jackson.annotation.JsonPropertyOrder;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.json.JsonMapper;

/**
 * What lies in a zip that is handed over, for machines and, as a note, for people.
 *
 * @param made by whom and from which revision; @param about settings in words
 */
@JsonPropertyOrder({"schema", "shot", "revision", "about", "files"})
public record Manifest(String schema, String shot, long revision, Map<String, String> about, List<Entry> files) {
    public static final String SCHEMA = "dasein-manifest/1", NAME = "manifest.json", NOTE = "README.txt";

    /** @param sha256 in hexadecimal digits */
    public record Entry(String name, long bytes, String sha256) {}

    public static Manifest of(String shot, long revision, Map<String, String> about, List<Entry> files) {
        return new Manifest(SCHEMA, shot, revision, about, List.copyOf(files));
    }

    public String json() {
        return JsonMapper.builder().build().writerWithDefaultPrettyPrinter().writeValueAsString(this) + "\n";
    }

    public static Manifest parse(String json) {
        return JsonMapper.builder().build().readValue(json, Manifest.class);
    }

    public String note() {
        StringBuilder s = new StringBuilder(shot + ", written from revision " + revision + "\n\n");
        about.forEach((k, v) -> s.append(String.format("%-12s %s%n", k, v)));
        long bytes = files.stream().mapToLong(Entry::bytes).sum();
        s.append(String.format(
                "%n%d files, %d bytes. %s lists them with their SHA-256 checksums.%n", files.size(), bytes, NAME));
        return s.toString();
    }
}

package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** Scripts, styles and templates: scripts import downwards and in no ring, lines and files stay short. */
class ScriptsTest {
    private static final Path ROOT = Path.of("app/src/main/resources");
    private static final Pattern IMPORT = Pattern.compile("(?:from|import\\()\\s*['\"](\\.[^'\"]+)['\"]");
    /** Each may use those before it. */
    private static final List<String> LAYERS = List.of("base", "page", "view", "stage");

    private static List<Path> files(String ending) throws IOException {
        try (var s = Files.walk(ROOT)) {
            return s.filter(f -> f.toString().endsWith(ending)).sorted().toList();
        }
    }

    private static Map<Path, Set<Path>> imports() throws IOException {
        Map<Path, Set<Path>> out = new HashMap<>();
        for (Path f : files(".js")) {
            Set<Path> to = out.computeIfAbsent(f, k -> new HashSet<>());
            Matcher m = IMPORT.matcher(Files.readString(f));
            while (m.find()) to.add(f.resolveSibling(m.group(1)).normalize());
        }
        return out;
    }

    @Test
    void scriptsImportDownwards() throws IOException {
        Map<Path, Set<Path>> all = imports();
        assertThat(all.values().stream().mapToInt(Set::size).sum()).isGreaterThan(30);
        List<String> wrong = new ArrayList<>();
        all.forEach((from, to) -> {
            // The page's entry brings the layers together.
            if (from.endsWith("page/shot.js")) return;
            for (Path t : to) {
                int a = LAYERS.indexOf(from.getParent().getFileName().toString()),
                        b = LAYERS.indexOf(t.getParent().getFileName().toString());
                if (b > a || b < 0) wrong.add(from + " imports " + t);
                if (!Files.exists(t)) wrong.add(from + " imports " + t + ", which is not there");
            }
        });
        assertThat(wrong).isEmpty();
    }

    @Test
    void scriptsFormNoRing() throws IOException {
        Map<Path, Set<Path>> all = imports();
        for (Path start : all.keySet()) {
            Set<Path> reached = new HashSet<>();
            List<Path> next = new ArrayList<>(all.get(start));
            while (!next.isEmpty()) {
                Path p = next.remove(next.size() - 1);
                if (reached.add(p)) next.addAll(all.getOrDefault(p, Set.of()));
            }
            assertThat(reached).as("what %s reaches", start).doesNotContain(start);
        }
    }

    @Test
    void filesAreShort() throws IOException {
        List<String> wrong = new ArrayList<>();
        for (String ending : List.of(".js", ".css", ".html")) {
            for (Path f : files(ending)) {
                List<String> lines = Files.readAllLines(f);
                if (lines.size() > 500) wrong.add(f + " has " + lines.size() + " lines");
                int most = ending.equals(".html") ? 140 : 120;
                for (int i = 0; i < lines.size(); i++)
                    if (lines.get(i).length() > most && !oneToken(lines.get(i))) wrong.add(f + ":" + (i + 1));
            }
        }
        assertThat(wrong).isEmpty();
    }

    /** An expression within an attribute cannot be broken by the formatter. */
    private static boolean oneToken(String line) {
        return line.strip().matches("[-\\w:]+=(\"[^\"]*\"|'[^']*')(/?>)?.*");
    }
}

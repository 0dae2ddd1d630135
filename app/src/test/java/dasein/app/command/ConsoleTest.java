package dasein.app.command;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import dasein.core.Progress;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What pipelines type, and what they get to read. */
class ConsoleTest {
    @TempDir
    Path folder;

    private final PrintStream standard = System.err;
    private final ByteArrayOutputStream said = new ByteArrayOutputStream();

    @BeforeEach
    void listen() {
        System.setErr(new PrintStream(said, true, StandardCharsets.UTF_8));
    }

    @AfterEach
    void stop() {
        System.setErr(standard);
    }

    @Test
    void framesAndSizesAreReadAsPeopleWriteThem() {
        assertThat(Console.range("5")).containsExactly(5, 5);
        assertThat(Console.range("1-96")).containsExactly(1, 96);
        assertThat(Console.range(" 7 - 9 ")).containsExactly(7, 9);
        assertThat(Console.size("1280x720", "--size")).containsExactly(1280, 720);
        assertThat(Console.size("64X48", "--size")).containsExactly(64, 48);
        for (String bad : new String[] {"", "one", "9-1", "1-2-3", "1..9", "2147483648"})
            assertThatThrownBy(() -> Console.range(bad))
                    .as(bad)
                    .isInstanceOf(BadInput.class)
                    .hasMessageContaining("--frames");
        for (String bad : new String[] {"", "1280", "0x720", "-1x2", "1x2x3", "axb"})
            assertThatThrownBy(() -> Console.size(bad, "--size"))
                    .as(bad)
                    .isInstanceOf(BadInput.class)
                    .hasMessageContaining("--size");
    }

    /** A line at every twentieth, however often work tells of itself. */
    @Test
    void progressIsTwentyLines() {
        Progress p = Console.progress();
        for (int k = 0; k <= 10_000; k++) p.at(k / 10_000.0, "frame " + k);
        String[] lines = said.toString(StandardCharsets.UTF_8).split("\n");
        assertThat(lines).hasSize(21);
        assertThat(lines[0]).startsWith("  0 %");
        assertThat(lines[20]).startsWith("100 %");
    }

    /** Whatever is wrong with what was typed: exit code 2, one clear line, the usage, and no trace of Java. */
    @Test
    void misuseIsTwoWithTheUsage() {
        for (String[] args : new String[][] {
            {"track"},
            {"track", "--plate"},
            {"fly", "--plate", "x"},
            {"render", "--scene", "s.json", "--frames", "1", "--samples", "many", "--out", "o"},
            {"solve", "--unknown", "1"}
        }) {
            said.reset();
            assertThat(Headless.run(args)).as(String.join(" ", args)).isEqualTo(2);
            assertThat(said.toString(StandardCharsets.UTF_8))
                    .as(String.join(" ", args))
                    .contains("sage")
                    .doesNotContain("\tat ")
                    .doesNotContain("Exception");
        }
    }

    @Test
    void helpOfEveryCommandIsThere() {
        PrintStream out = System.out;
        ByteArrayOutputStream text = new ByteArrayOutputStream();
        System.setOut(new PrintStream(text, true, StandardCharsets.UTF_8));
        try {
            for (String c : new String[] {"track", "solve", "set", "colours", "render", "comp", "lens", "camera"}) {
                text.reset();
                assertThat(Headless.run(new String[] {c, "--help"})).as(c).isZero();
                assertThat(text.toString(StandardCharsets.UTF_8))
                        .as(c)
                        .contains(c)
                        .contains("--");
            }
        } finally {
            System.setOut(out);
        }
    }

    @Test
    void filesThatAreNotThereAreSaidByName() {
        for (String[] args : new String[][] {
            {"render", "--scene", folder.resolve("none.json").toString(), "--frames", "1", "--out", "o"},
            {"comp", "--scene", folder.resolve("none.json").toString(), "--passes", "p", "--out", "o"},
            {"set", "--camera", folder.resolve("none.json").toString(), "--picks", "p.json", "--out", "o.json"},
            {"track", "--plate", folder.resolve("none.json").toString(), "--out", "o.json"}
        }) {
            said.reset();
            assertThat(Headless.run(args)).isEqualTo(2);
            assertThat(said.toString(StandardCharsets.UTF_8))
                    .contains("none.json")
                    .doesNotContain("\tat ");
        }
    }
}

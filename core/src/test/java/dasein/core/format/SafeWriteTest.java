package dasein.core.format;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Nobody ever sees half a file, and what was there stays until the new one is whole. */
class SafeWriteTest {
    @TempDir
    Path folder;

    private List<String> there() throws IOException {
        try (var l = Files.list(folder)) {
            return l.map(p -> p.getFileName().toString()).sorted().toList();
        }
    }

    @Test
    void aFileIsThereWholeOrNotAtAll() throws IOException {
        Path p = folder.resolve("deep/er/a.json");
        SafeWrite.to(p, tmp -> {
            Files.writeString(tmp, "half");
            // While it is written it has another name, but the same ending: writers tell formats by it.
            assertThat(tmp.getFileName().toString()).startsWith(".part-").endsWith(".json");
            assertThat(p).doesNotExist();
            Files.writeString(tmp, "whole");
        });
        assertThat(p).hasContent("whole");
        assertThat(Files.getPosixFilePermissions(p))
                .isEqualTo(java.nio.file.attribute.PosixFilePermissions.fromString("rw-r--r--"));
    }

    @Test
    void whoFailsLeavesWhatWasThere() throws IOException {
        Path p = folder.resolve("a.txt");
        Files.writeString(p, "before");
        assertThatThrownBy(() -> SafeWrite.to(p, tmp -> {
                    Files.writeString(tmp, "half of the n");
                    throw new IOException("No space left on device");
                }))
                .isInstanceOf(UncheckedIOException.class)
                .hasMessageContaining("a.txt")
                .hasMessageContaining("No space left");
        assertThat(p).hasContent("before");
        // Its own words come through as they are.
        assertThatThrownBy(() -> SafeWrite.to(p, tmp -> {
                    throw new BadInput("no frames");
                }))
                .isInstanceOf(BadInput.class);
        assertThat(there()).containsExactly("a.txt");
    }

    @Test
    void smallFilesOfPeopleAreMeasuredBeforeTheyAreRead() throws IOException {
        Path p = folder.resolve("big.json");
        Files.writeString(p, "[" + " ".repeat(2000) + "]");
        assertThat(JsonFile.read(p, 4000, "file of lines").isArray()).isTrue();
        assertThatThrownBy(() -> JsonFile.read(p, 1000, "file of lines"))
                .isInstanceOf(BadInput.class)
                .hasMessage("big.json is too large for a file of lines");
        Files.writeString(p, "[1, 2");
        assertThatThrownBy(() -> JsonFile.read(p, 1000, "file of lines"))
                .isInstanceOf(BadInput.class)
                .hasMessage("big.json is not a file of lines that can be read");
        assertThatThrownBy(() -> JsonFile.read(folder.resolve("none"), 1000, "file of lines"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("cannot be read");
    }
}

package dasein.app.store;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a killed program left half written goes away, what somebody may still write stays. */
class SweepTest {
    @TempDir
    Path root;

    private Path left(String name, Duration ago) throws Exception {
        Path p = root.resolve(name);
        Files.createDirectories(p.getParent());
        Files.writeString(p, "half");
        Files.setLastModifiedTime(p, FileTime.from(Instant.now().minus(ago)));
        return p;
    }

    @Test
    void temporaryFilesGoAfterADayAndUploadsAfterAWeek() throws Exception {
        MediaStore media = new MediaStore(root.toString(), null);
        Path movie = left("out/output/.part-1.mkv", Duration.ofHours(25)),
                now = left("out/output/.part-2.mkv", Duration.ofHours(23)),
                whole = left("out/output/abc.mkv", Duration.ofDays(30)),
                brought = left("in/.part-3.mp4", Duration.ofHours(25)),
                upload = left("in/.part-up-4", Duration.ofDays(6)),
                given = left("in/.part-up-5", Duration.ofDays(8));
        media.sweep();
        assertThat(movie).doesNotExist();
        assertThat(brought).doesNotExist();
        assertThat(given).doesNotExist();
        assertThat(now).exists();
        assertThat(whole).exists();
        assertThat(upload).exists();
    }
}

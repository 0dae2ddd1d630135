package dasein.app.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.File;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** {@code ./dasein backup} and {@code restore}, run as a person would, beside databases of their own. */
class BackupTest {
    private static final String QUERY =
            "psql -tAq -h 127.0.0.1 -p $db_port -U dasein -d dasein -c \"%s\"; code=$?; db_stop; exit $code";

    @TempDir
    Path folder;

    private Path full, empty, kept;

    @BeforeEach
    void openToTheDatabase() throws Exception {
        folder.toFile().setExecutable(true, false);
        folder.toFile().setReadable(true, false);
        full = Files.createDirectories(folder.resolve("full"));
        empty = Files.createDirectories(folder.resolve("empty"));
        kept = folder.resolve("kept.tar");
    }

    private record Said(int code, String text) {}

    private Said run(Path var, String... command) throws Exception {
        ProcessBuilder b = new ProcessBuilder(command).redirectErrorStream(true);
        b.environment().put("DASEIN_VAR", var.toString());
        b.environment().remove("DASEIN_DB_PORT");
        File said = folder.resolve("said").toFile();
        Process p = b.redirectOutput(said).start();
        assertThat(p.waitFor(90, TimeUnit.SECONDS)).isTrue();
        return new Said(p.exitValue(), Files.readString(said.toPath()).strip());
    }

    private Said dasein(Path var, String... args) throws Exception {
        String[] all = new String[args.length + 1];
        all[0] = "./dasein";
        System.arraycopy(args, 0, all, 1, args.length);
        return run(var, all);
    }

    private Said query(Path var, String sql) throws Exception {
        String script = ". ./dasein; db_start \"$var/pg\" 5920; " + String.format(QUERY, sql);
        return run(var, "bash", "-c", script);
    }

    private byte[] fill() throws Exception {
        Said s = query(full, "create table shot as select i, 'shot ' || i as name from generate_series(1, 2000) i");
        assertThat(s.code()).as(s.text()).isZero();
        byte[] plate = new byte[400_000];
        new Random(4).nextBytes(plate);
        Files.createDirectories(full.resolve("media/in/.part-half"));
        Files.write(full.resolve("media/plate"), plate);
        Files.write(full.resolve("media/in/.part-half/x"), new byte[9]);
        return plate;
    }

    /** All that was there is there, but for what was half there; and nothing that stands is written over. */
    @Test
    void whatIsKeptComesBack() throws Exception {
        byte[] plate = fill();
        Said s = dasein(full, "backup", kept.toString());
        assertThat(s.code()).as(s.text()).isZero();
        assertThat(dasein(full, "backup", kept.toString()).text()).contains("is there already");
        s = dasein(empty, "restore", kept.toString());
        assertThat(s.code()).as(s.text()).isZero();
        assertThat(Files.readAllBytes(empty.resolve("media/plate"))).isEqualTo(plate);
        assertThat(empty.resolve("media/in/.part-half")).doesNotExist();
        assertThat(query(empty, "select count(*), sum(i), max(name) from shot").text())
                .isEqualTo("2000|2001000|shot 999");
        s = dasein(full, "restore", kept.toString());
        assertThat(s.code()).isEqualTo(2);
        assertThat(s.text()).contains("holds shots already");
        assertThat(query(full, "select count(*) from shot").text()).isEqualTo("2000");
    }

    @Test
    void whatIsNoBackupLeavesNothing() throws Exception {
        fill();
        assertThat(dasein(full, "backup", kept.toString()).code()).isZero();
        byte[] all = Files.readAllBytes(kept);
        Path half = Files.write(folder.resolve("half.tar"), java.util.Arrays.copyOf(all, all.length / 3));
        Path text = Files.writeString(folder.resolve("text.tar"), "hello");
        for (Path p : new Path[] {half, text, folder.resolve("none.tar")}) {
            Said s = dasein(empty, "restore", p.toString());
            assertThat(s.code()).as(s.text()).isEqualTo(2);
            assertThat(s.text()).contains(p.getFileName().toString());
            assertThat(empty.resolve("media")).doesNotExist();
            assertThat(empty.resolve("pg")).doesNotExist();
        }
        assertThat(dasein(empty, "backup", folder.resolve("b.tar").toString()).text())
                .contains("there is nothing in");
    }
}

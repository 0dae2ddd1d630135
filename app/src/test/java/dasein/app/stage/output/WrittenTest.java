package dasein.app.stage.output;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.app.Await;
import dasein.app.ServerTest;
import dasein.app.command.Headless;
import dasein.app.stage.passes.PassesWork;
import dasein.app.store.Media;
import dasein.core.Progress;
import dasein.core.format.Exr;
import dasein.core.format.MovieReader;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.output.Names;
import dasein.core.shot.Shot;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.zip.ZipInputStream;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.beans.factory.annotation.Autowired;

/** What is written and taken away is what the page shows. */
class WrittenTest extends ServerTest {
    @Autowired
    PassesWork passes;

    @TempDir
    Path folder;

    private Shot edited(Shot s, String stage, String action, String... fields) {
        return edit(s, stage, action, fields).shot();
    }

    /** A crate on the ground before the camera. */
    private Shot crate() {
        Shot s = plated();
        solve(s, "moving");
        s = edited(s, "blocking", "add", "model", model("crate"), "x", "0.2", "z", "-4");
        return edited(s, "passes", "settings", "minSamples", "8", "maxSamples", "8", "noise", "0");
    }

    private void unpack(byte[] zip, Path to) throws Exception {
        try (ZipInputStream in = new ZipInputStream(new ByteArrayInputStream(zip))) {
            for (var e = in.getNextEntry(); e != null; e = in.getNextEntry()) {
                Path p = to.resolve(e.getName());
                Files.createDirectories(p.getParent());
                Files.copy(in, p);
            }
        }
    }

    /** What a frame of a shot is called in a zip. */
    private String file(long id, int frame, String suffix) {
        return Names.frame(shots.head(id).row().name(), frame, "." + suffix);
    }

    private static int run(String... args) {
        return Headless.run(args);
    }

    private byte[] written(long id, String format) throws Exception {
        assertThat(client.post("/shots/" + id + "/output/start", Map.of("format", format, "from", "2", "to", "3"))
                        .statusCode())
                .isEqualTo(200);
        Await.until("written as " + format, () -> tasks.open(id).isEmpty());
        assertThat(tasks.last(id)).allMatch(t -> t.state().equals("done"));
        String page = client.get("/shots/" + id + "/output").body();
        String link = page.replaceAll(
                "(?s).*href=\"(/shots/" + id + "/written/[0-9a-f]+)[?\"][^>]*>[^<]*_" + format + "\\..*", "$1");
        return client.bytes(link).body();
    }

    /** Lit by a lamp with a picture on it, through leaves. */
    private Shot pictured(Shot s) throws Exception {
        BufferedImage halves = new BufferedImage(16, 8, BufferedImage.TYPE_INT_RGB);
        for (int y = 0; y < 8; y++) for (int x = 8; x < 16; x++) halves.setRGB(x, y, 0xffc080);
        ByteArrayOutputStream png = new ByteArrayOutputStream();
        ImageIO.write(halves, "png", png);
        String hash = media.photo(new ByteArrayInputStream(png.toByteArray()), "window.png")
                .hash();
        Shot lamp = edited(s, "light", "lamp-add", "kind", "RECTANGLE", "x", "0.2", "z", "-3");
        lamp = edited(lamp, "light", "blocker-add", "kind", "LEAVES", "x", "0.2", "z", "-4", "frame", "2");
        return lamp.with(lamp.light()
                .withLamps(lamp.light().lamps().stream()
                        .map(k -> k.with(k.shine().showing(hash)))
                        .toList()));
    }

    /** The commands on what was taken away give the very passes, and the very frame, of the page. */
    @Test
    void aSceneThatIsTakenAwayGivesThePagesFrame() throws Exception {
        Shot dark = crate(), lit = pictured(dark);
        long id = make(lit);
        unpack(written(id, "png"), folder.resolve("page"));
        unpack(client.bytes("/shots/" + id + "/take/scene.zip").body(), folder.resolve("scene"));
        String scene = folder.resolve("scene/scene.json").toString(),
                passes = folder.resolve("passes").toString();
        assertThat(run("render", "--scene", scene, "--frames", "2-3", "--out", passes))
                .isZero();
        assertThat(run(
                        "comp",
                        "--scene",
                        scene,
                        "--passes",
                        passes,
                        "--out",
                        folder.resolve("done").toString()))
                .isZero();
        Path exr = folder.resolve("page.exr");
        Files.write(exr, client.bytes("/shots/" + id + "/passes/2.exr").body());
        Exr.Channels ours = Exr.read(exr), theirs = Exr.read(folder.resolve("passes/0002.exr"));
        assertThat(theirs.planes().keySet()).isEqualTo(ours.planes().keySet());
        for (String c : ours.planes().keySet())
            assertThat(theirs.planes().get(c)).as(c).isEqualTo(ours.planes().get(c));
        for (int f : new int[] {2, 3}) {
            Image page = Stills.read(folder.resolve("page").resolve(file(id, f, "png")), Encoding.SRGB),
                    taken = Stills.read(folder.resolve("done").resolve("000" + f + ".png"), Encoding.SRGB);
            for (int c = 0; c < 3; c++)
                assertThat(taken.planes[c]).as("frame " + f).isEqualTo(page.planes[c]);
        }
        // The lamp's picture and the leaves came along: without them the passes are others.
        assertThat(Files.list(folder.resolve("scene/light")).count()).isEqualTo(1);
        long without = make(dark);
        written(without, "png");
        Path bare = folder.resolve("bare.exr");
        Files.write(bare, client.bytes("/shots/" + without + "/passes/2.exr").body());
        assertThat(Exr.read(bare).planes().get("G")).isNotEqualTo(ours.planes().get("G"));
        // And the crate is in it.
        Image plate = desk.plates().need(shots.head(id).shot()).plate().frame(2),
                page = Stills.read(folder.resolve("page/" + file(id, 2, "png")), Encoding.SRGB);
        int other = 0;
        for (int i = 0; i < plate.planes[0].length; i++)
            if (Math.abs(plate.planes[0][i] - page.planes[0][i]) > 0.02) other++;
        assertThat(other).isBetween(50, plate.planes[0].length / 2);
    }

    /** A white card on black is a light: it must be in the draft, the frames, the linear frames and the movie. */
    @Test
    void lightThatIsAddedReachesTheWrittenMovie() throws Exception {
        BufferedImage glow = new BufferedImage(32, 32, BufferedImage.TYPE_INT_RGB);
        for (int y = 8; y < 24; y++) for (int x = 8; x < 24; x++) glow.setRGB(x, y, 0xffffff);
        ByteArrayOutputStream png = new ByteArrayOutputStream();
        ImageIO.write(glow, "png", png);
        Media fire = shelf.footage(new ByteArrayInputStream(png.toByteArray()), "fire.png");
        Shot s = plated();
        solve(s, "moving");
        s = edited(s, "blocking", "card-add", "footage", fire.hash());
        s = edited(s, "blocking", "move", "id", "1", "frame", "2", "x", "0.2", "z", "-4");
        Shot dark = s;
        s = edited(s, "blocking", "card-set", "id", "1", "added", "on", "added_", "1", "lit_", "1", "shadow_", "1");
        s = edited(s, "passes", "settings", "minSamples", "16", "maxSamples", "16", "noise", "0");
        assertThat(s).isNotEqualTo(dark);
        long id = make(s);

        unpack(written(id, "png"), folder.resolve("png"));
        unpack(written(id, "exr"), folder.resolve("exr"));
        Path movie = folder.resolve("done.mp4");
        Files.write(movie, written(id, "h264"));
        Image plate = desk.plates().need(s).plate().frame(2),
                png2 = Stills.read(folder.resolve("png/" + file(id, 2, "png")), Encoding.SRGB),
                exr2 = Stills.read(folder.resolve("exr/" + file(id, 2, "exr")), Encoding.LINEAR);
        int lit = 0;
        for (int i = 0; i < plate.planes[1].length; i++) {
            float added = exr2.planes[1][i] - plate.planes[1][i];
            assertThat(added).as("light is added, never taken").isGreaterThan(-0.002f);
            if (added < 0.3) continue;
            lit++;
            // What is brighter than white is white in 8 bits.
            assertThat(png2.planes[1][i]).isCloseTo(Math.min(1, exr2.planes[1][i]), within(0.02f));
        }
        assertThat(lit).as("pixels that are lit").isGreaterThan(100);
        // It falls on the ground as well, unless that is switched off.
        Shot alone = edited(s, "blocking", "card-set", "id", "1", "mirrored_", "1");
        passes.render(alone, 2, Progress.NONE);
        Image without = desk.comps().frame(alone, 2);
        int thrown = 0, beside = 0;
        for (int i = 0; i < plate.planes[1].length; i++) {
            if (exr2.planes[1][i] - without.planes[1][i] > 0.005) thrown++;
            if (without.planes[1][i] != plate.planes[1][i]) beside++;
        }
        assertThat(thrown).as("pixels of ground that are lit").isGreaterThan(200);
        assertThat(beside).as("else only those of the card").isLessThan(3 * lit);
        double sum = 0, was = 0;
        try (MovieReader m = new MovieReader(movie)) {
            assertThat(m.frameCount).isEqualTo(2);
            Image first = m.read(0, Encoding.SRGB);
            for (int i = 0; i < plate.planes[1].length; i++) {
                if (exr2.planes[1][i] - plate.planes[1][i] < 0.3) continue;
                sum += first.planes[1][i] / lit;
                was += plate.planes[1][i] / lit;
            }
        }
        assertThat(sum).as("in the movie").isGreaterThan(was + 0.25);
    }
}

package dasein.app.stage.output;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.Await;
import dasein.app.ServerTest;
import dasein.core.format.MovieKind;
import dasein.core.format.MovieSpec;
import dasein.core.format.MovieWriter;
import dasein.core.format.Sound;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.Shot;
import java.io.ByteArrayInputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import java.util.zip.ZipInputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** A shot with sound and timecode, and nobody in it, to be written. */
abstract class WrittenShot extends ServerTest {
    static final int W = 320, H = 180, FRAMES = 12, RATE = 24;

    @TempDir
    Path folder;

    long id;

    @BeforeEach
    void bring() throws Exception {
        Path movie = folder.resolve("take.mov");
        float[][] heard = new float[2][FRAMES * Sound.RATE / RATE];
        // A click begins with the seventh frame.
        int at = 6 * Sound.RATE / RATE;
        for (int i = 0; i < 300; i++) for (float[] c : heard) c[at + i] = (float) Math.sin(0.3 * i) * 0.8f;
        try (MovieWriter w = new MovieWriter(
                movie, new MovieSpec(MovieKind.VC3, W, H, RATE, 1, Encoding.REC709, "01:00:00:00", true))) {
            for (int f = 0; f < FRAMES; f++) w.write(picture(f));
            w.write(heard, 0, heard[0].length);
            w.finish();
        }
        String hash = media.plate(new ByteArrayInputStream(Files.readAllBytes(movie)), "take.mov")
                .hash();
        id = make(Shot.BLANK.with(PlateRecipe.BLANK.withFile(hash)));
        // Brightened, so that it is not the plate that comes out.
        shots.change(id, "brighter", s -> s.with(s.comp().with(dasein.core.comp.step.Grade.EXPOSURE, 0.5)));
    }

    static Image picture(int frame) {
        Image im = new Image(W, H, 3);
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++)
                for (int c = 0; c < 3; c++)
                    im.planes[c][y * W + x] = 0.1f + 0.3f * x / W + 0.01f * frame + 0.05f * c * y / H;
        return im;
    }

    /** @return the file, and what came before it: the sentence of its task */
    byte[] written(String format, String... more) throws Exception {
        Map<String, String> form = new HashMap<>(Map.of("format", format, "from", "3", "to", "10"));
        for (int k = 0; k < more.length; k += 2) {
            form.put(more[k], more[k + 1]);
            if (more[k + 1].equals("on")) form.put(more[k] + "_", "1");
        }
        assertThat(client.post("/shots/" + id + "/output/start", form).statusCode())
                .isEqualTo(200);
        Await.until("written as " + format, () -> tasks.open(id).isEmpty());
        var task = tasks.last(id).stream()
                .filter(t -> t.kind().equals("output"))
                .findFirst()
                .orElseThrow();
        assertThat(task.state()).as(format + ": " + task.note()).isEqualTo("done");
        String page = client.get("/shots/" + id + "/output").body();
        String link = page.replaceAll(
                "(?s).*href=\"(/shots/" + id + "/written/[0-9a-f]+)[?\"][^>]*>[^<]*_v\\d+_" + format + "\\..*", "$1");
        return client.bytes(link).body();
    }

    static Map<String, byte[]> unzipped(byte[] zip) throws Exception {
        Map<String, byte[]> out = new HashMap<>();
        try (ZipInputStream in = new ZipInputStream(new ByteArrayInputStream(zip))) {
            for (var e = in.getNextEntry(); e != null; e = in.getNextEntry()) out.put(e.getName(), in.readAllBytes());
        }
        return out;
    }

    static Image bright(int frame) {
        Image im = picture(frame);
        for (float[] p : im.planes) for (int i = 0; i < p.length; i++) p[i] *= (float) Math.sqrt(2);
        return im;
    }
}

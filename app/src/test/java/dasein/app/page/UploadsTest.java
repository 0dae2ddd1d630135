package dasein.app.page;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.ServerTest;
import dasein.core.shot.Shot;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What people and others send: taken when it is what it should be, else refused with a sentence and nothing kept. */
class UploadsTest extends ServerTest {
    @TempDir
    Path folder;

    private HttpResponse<String> light(long id, String name, byte[] content) throws Exception {
        return client.upload("/shots/" + id + "/light/upload", "file", name, content, Map.of());
    }

    private static void said(HttpResponse<String> r, String sentence) {
        assertThat(r.statusCode()).as(r.body()).isEqualTo(422);
        assertThat(r.body()).contains(sentence).doesNotContain("Exception").doesNotContain(".part-");
    }

    private static byte[] png(BufferedImage im) throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ImageIO.write(im, "png", out);
        return out.toByteArray();
    }

    /** Some hundred kilobytes that would be more than a gigabyte of light: refused before a pixel of it is taken. */
    @Test
    void aSmallFileOfAHugePictureIsRefusedAndNobodyElseSuffers() throws Exception {
        long id = make(plated());
        byte[] huge = png(new BufferedImage(24576, 12288, BufferedImage.TYPE_BYTE_BINARY));
        assertThat(huge.length).isLessThan(1 << 20);
        long before = System.nanoTime();
        said(light(id, "sky.png", huge), "sky.png");
        assertThat((System.nanoTime() - before) / 1e9).as("seconds").isLessThan(20);
        assertThat(shots.head(id).shot().light().environment()).isEmpty();
        // The same as a plate, as a photo of the set and as footage.
        said(client.upload("/shots", "plate", "sky.png", huge, Map.of("show", "Low Water", "name", "huge")), "sky.png");
        assertThat(client.get("/shots/" + id + "/plate").statusCode()).isEqualTo(200);
    }

    /** A list of other files must not make this machine open them. */
    @Test
    void aPlaylistIsNoPlate() throws Exception {
        Path secret = folder.resolve("secret.mp4");
        Files.copy(Path.of("demo/LW_040.mp4"), secret);
        String m3u = "#EXTM3U\n#EXT-X-TARGETDURATION:10\n#EXTINF:10,\n" + secret + "\n#EXT-X-ENDLIST\n",
                concat = "ffconcat version 1.0\nfile '" + secret + "'\n",
                sdp = "v=0\no=- 0 0 IN IP4 127.0.0.1\ns=x\nc=IN IP4 127.0.0.1\nm=video 5004 RTP/AVP 96\n";
        for (String text : new String[] {m3u, concat, sdp})
            for (String name : new String[] {"take.mp4", "take.m3u8", "take.txt", "take.mov"})
                said(
                        client.upload(
                                "/shots",
                                "plate",
                                name,
                                text.getBytes(StandardCharsets.UTF_8),
                                Map.of("show", "Low Water", "name", "list")),
                        name);
    }

    /** A moving model as a folder of files, one a frame, as simulations write them. */
    @Test
    void fourThousandFilesOfAMovingModelGo() throws Exception {
        long id = make(plated());
        Map<String, byte[]> files = new LinkedHashMap<>();
        int n = 4000;
        for (int f = 1; f <= n; f++)
            files.put(
                    String.format("kelp.%04d.obj", f),
                    String.format(Locale.ROOT, "v 0 0 0\nv 1 0 0\nv 0 %.4f 0\nf 1 2 3\n", 1 + f / 4000.0)
                            .getBytes(StandardCharsets.UTF_8));
        HttpResponse<String> r = client.upload("/shots/" + id + "/blocking/upload", "file", files, Map.of());
        assertThat(r.statusCode()).as(r.body()).isEqualTo(302);
        String page = client.get("/shots/" + id + "/blocking").body();
        assertThat(page).contains("data-add=\"kelp\"");
    }

    @Test
    void aModelThatIsNoneIsRefused() throws Exception {
        long id = make(plated());
        for (String name : new String[] {"thing.glb", "thing.obj", "thing.ply", "thing.stl", "thing.gltf"})
            said(
                    client.upload(
                            "/shots/" + id + "/blocking/upload",
                            "file",
                            name,
                            "no model at all".getBytes(StandardCharsets.UTF_8),
                            Map.of()),
                    name);
        assertThat(client.upload("/shots/" + id + "/blocking/upload", "file", "empty.glb", new byte[0], Map.of())
                        .statusCode())
                .isEqualTo(422);
    }

    /** Paths in a zip lead nowhere but into it. */
    @Test
    void aZipReachesNothingOutsideItself() throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream z = new ZipOutputStream(out)) {
            for (String name :
                    new String[] {"../../../escape.0001.png", "/tmp/escape.0002.png", "a/../../escape.0003.png"}) {
                z.putNextEntry(new ZipEntry(name));
                z.write(png(new BufferedImage(32, 24, BufferedImage.TYPE_INT_RGB)));
                z.closeEntry();
            }
        }
        HttpResponse<String> r = client.upload(
                "/shots", "plate", "take.zip", out.toByteArray(), Map.of("show", "Low Water", "name", "zip" + folder));
        assertThat(Files.exists(Path.of("/tmp/escape.0002.png"))).isFalse();
        try (var all = Files.walk(folder.getParent(), 2)) {
            assertThat(all.filter(p -> p.getFileName().toString().startsWith("escape")))
                    .isEmpty();
        }
        assertThat(r.statusCode()).isIn(302, 422);
    }

    /** What was brought in as one thing is not taken for another without being looked at as that. */
    @Test
    void aKnownFileIsLookedAtAgainAsWhatItIsToBe() throws Exception {
        Shot s = plated();
        long id = make(s);
        byte[] square = png(new BufferedImage(64, 64, BufferedImage.TYPE_INT_RGB));
        said(light(id, "set.png", square), "set.png");
        HttpResponse<String> photo =
                client.upload("/shots/" + id + "/plate/upload", "file", "set.png", square, Map.of("as", "photo"));
        assertThat(photo.statusCode()).as(photo.body()).isEqualTo(302);
        said(light(id, "set.png", square), "set.png");
    }

    @Test
    void whatIsNotThereIsSaidAsSuch() throws Exception {
        for (String path : new String[] {
            "/shots/999999/plate",
            "/shots/999999/data.json",
            "/shelf/" + "a".repeat(64) + ".glb",
            "/shelf/" + "a".repeat(64) + ".png"
        }) {
            HttpResponse<String> r = client.get(path);
            assertThat(r.statusCode()).as(path).isEqualTo(404);
            assertThat(r.body()).as(path).doesNotContain("Exception").doesNotContain("\tat ");
        }
        long id = make(plated());
        for (String path : new String[] {
            "moon", "written/" + "b".repeat(64), "take/camera.json", "take/tracks.csv", "take/set.glb", "passes/1.exr"
        })
            assertThat(client.get("/shots/" + id + "/" + path).statusCode())
                    .as(path)
                    .isEqualTo(404);
        assertThat(client.get("/shots/" + id + "/take/scene.zip").statusCode()).isEqualTo(422);
    }
}

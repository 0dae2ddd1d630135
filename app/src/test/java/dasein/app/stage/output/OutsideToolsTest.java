package dasein.app.stage.output;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dasein.core.cast.Performer;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.output.Format;
import dasein.core.shot.Shot;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/**
 * What we wrote, opened by programs of others that read the same open formats: OpenEXR's and OpenImageIO's tools,
 * FFmpeg's, poppler's and the Khronos validator of glTF. {@code ./dasein test outside} fetches them; where one is not
 * there, its test is left out.
 */
class OutsideToolsTest extends WrittenShot {
    private static final Pattern MEAN = Pattern.compile("Stats Avg: ([0-9.]+) ([0-9.]+) ([0-9.]+)");

    private static String said(String... command) throws Exception {
        Process p = new ProcessBuilder(command).redirectErrorStream(true).start();
        String out = new String(p.getInputStream().readAllBytes());
        assertThat(p.waitFor()).as(String.join(" ", command) + ": " + out).isZero();
        return out;
    }

    private static void needs(String tool) {
        assumeTrue(
                List.of(System.getenv("PATH").split(":")).stream().anyMatch(p -> Files.isExecutable(Path.of(p, tool))),
                tool + " is not there; ./dasein test outside fetches it");
    }

    private Path frame(Format k) throws Exception {
        String name = shots.head(id).row().name();
        Map<String, byte[]> files = unzipped(written(k.key));
        assertThat(files).containsKey(name + ".0010" + k.suffix);
        return Files.write(folder.resolve(k.key + k.suffix), files.get(name + ".0010" + k.suffix));
    }

    /** Means of what another reader finds in a picture, of 0 to 1. */
    @Test
    void framesAreReadWithTheirValues() throws Exception {
        needs("oiiotool");
        Image is = bright(9);
        for (Format k : Format.values()) {
            if (k.movie != null || !k.finished()) continue;
            String out = said("oiiotool", "-d", "float", "--stats", frame(k).toString());
            assertThat(out).as(k.label).containsPattern(W + " x +" + H);
            Matcher m = MEAN.matcher(out);
            assertThat(m.find()).as(k.label + ": " + out).isTrue();
            double most = k.light() || !out.contains("(of ") ? 1 : most(out);
            for (int c = 0; c < 3; c++) {
                double sum = 0;
                for (float v : is.planes[c]) sum += k.light() ? v : Encoding.REC709.encode(v);
                assertThat(Double.parseDouble(m.group(c + 1)) / most)
                        .as(k.label)
                        .isCloseTo(sum / is.planes[c].length, within(0.004));
            }
        }
    }

    /** "Stats Avg: 98.1 97.0 96.2 (of 255)". */
    private static double most(String out) {
        Matcher m = Pattern.compile("Stats Avg: .*\\(of (\\d+)\\)").matcher(out);
        return m.find() ? Double.parseDouble(m.group(1)) : 1;
    }

    @Test
    void exrHeadsSayTimeAndColours() throws Exception {
        needs("exrheader");
        String head = said("exrheader", frame(Format.EXR).toString());
        assertThat(head)
                .contains("timeCode", "01:00:00:09", "chromaticities", "16-bit floating-point")
                .contains("displayWindow");
        assertThat(said("exrheader", frame(Format.EXR32).toString())).contains("32-bit floating-point");
    }

    @Test
    void moviesAreReadToTheirLastFrame() throws Exception {
        needs("ffprobe");
        Map<String, String> codecs =
                Map.of("h264", "h264", "av1", "av1", "webm", "vp9", "vc3", "dnxhd", "ffv1", "ffv1");
        for (Format k : Format.values()) {
            if (k.movie == null) continue;
            Path p = Files.write(folder.resolve("movie" + k.suffix), written(k.key, "sound", "on"));
            String out = said(
                    "ffprobe",
                    "-v",
                    "error",
                    "-count_frames",
                    "-select_streams",
                    "v:0",
                    "-show_entries",
                    "stream=codec_name,width,height,r_frame_rate,nb_read_frames,color_primaries",
                    "-of",
                    "default=noprint_wrappers=1",
                    p.toString());
            assertThat(out)
                    .as(k.label)
                    .contains("codec_name=" + codecs.get(k.key), "width=" + W, "height=" + H, "r_frame_rate=24/1")
                    .contains("nb_read_frames=8", "color_primaries=bt709");
            assertThat(said("ffmpeg", "-v", "error", "-i", p.toString(), "-f", "null", "-"))
                    .as(k.label + ", decoded to its end")
                    .isEmpty();
        }
    }

    @Test
    void theReportIsAPictureOfOneToThreePages() throws Exception {
        needs("pdftoppm");
        Path p = Files.write(
                folder.resolve("report.pdf"),
                client.bytes("/shots/" + id + "/take/report.pdf").body());
        said(
                "pdftoppm",
                "-r",
                "40",
                "-png",
                p.toString(),
                folder.resolve("page").toString());
        List<Path> pages = new ArrayList<>();
        try (var all = Files.newDirectoryStream(folder, "page*.png")) {
            all.forEach(pages::add);
        }
        assertThat(pages).hasSizeBetween(1, 3);
        assertThat(said("pdftotext", p.toString(), "-")).contains("Low Water");
    }

    /** No error, by the validator of those who wrote the standard. */
    @Test
    void theSceneIsValidGltf() throws Exception {
        String check = System.getenv("DASEIN_GLTF_CHECK");
        assumeTrue(check != null, "the validator is not there; ./dasein test outside fetches it");
        Performer walks = new Performer(1, "walks", model("strider"), 0.5, 0, -4, 30, 2, "walk", 0.2, 1.3, true);
        Shot staged = plated().with(List.of(walks));
        solve(staged, "moving");
        long other = make(staged);
        Path p = Files.write(
                folder.resolve("scene.glb"),
                client.bytes("/shots/" + other + "/take/scene.glb").body());
        assertThat(said("node", check, p.toString())).startsWith("0 errors");
    }
}

package dasein.app.stage.output;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.app.task.Task;
import dasein.core.format.Exr;
import dasein.core.format.MovieReader;
import dasein.core.format.Sound;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.output.Format;
import dasein.core.output.Manifest;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.track.DrawnMask;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.apache.commons.codec.digest.DigestUtils;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** A shot written in every way there is. */
class DeliveryTest extends WrittenShot {
    @Autowired
    OutputWork work;

    private static double off(Image a, Image b, Encoding e) {
        double sum = 0;
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < a.planes[c].length; i++)
                sum += Math.abs(e.encode(Math.min(1, a.planes[c][i])) - e.encode(b.planes[c][i]));
        return sum / (3 * a.planes[0].length);
    }

    @Test
    void moviesComeWithSoundTimecodeAndSlate() throws Exception {
        for (Format k : Format.values()) {
            if (k.movie == null) continue;
            Path p = folder.resolve("out" + k.suffix);
            Files.write(p, written(k.key, "slate", "on", "sound", "on", "version", "4"));
            try (MovieReader r = new MovieReader(p)) {
                assertThat(r.frameCount).as(k.label).isEqualTo(9);
                // The slate stands one frame before the third of the plate, which is number 2 from 0.
                if (k != Format.WEBM) assertThat(r.facts.timecode()).as(k.label).isEqualTo("01:00:00:01");
                assertThat(off(bright(2), r.read(1, Encoding.REC709), Encoding.REC709))
                        .as(k.label)
                        .isLessThan(0.01);
                assertThat(off(bright(9), r.read(8, Encoding.REC709), Encoding.REC709))
                        .as(k.label)
                        .isLessThan(0.01);
                assertThat(r.read(0, Encoding.REC709).get(2, 2, 1)).as("slate").isLessThan(0.05f);
            }
            float[][] s = Sound.of(p, 0, 9.0 / RATE);
            int at = 0;
            while (at < s[0].length && Math.abs(s[0][at]) < 0.2) at++;
            // Frame 7 of the plate is the fifth of those from 3 on, after the slate.
            assertThat(at).as(k.label).isCloseTo(5 * Sound.RATE / RATE, within(Sound.RATE / RATE / 4));
        }
        assertThat(tasks.last(id).get(0).note()).contains("read again");
    }

    @Test
    void framesComeInEveryKindWithAManifest() throws Exception {
        String name = shots.head(id).row().name();
        for (Format k : Format.values()) {
            if (k.movie != null || !k.finished()) continue;
            Map<String, byte[]> files = unzipped(written(k.key));
            String last = name + ".0010" + k.suffix;
            assertThat(files).as(k.label).hasSize(10).containsKeys(last, Manifest.NAME, Manifest.NOTE);
            Manifest m = Manifest.parse(new String(files.get(Manifest.NAME)));
            assertThat(m.files()).hasSize(8);
            for (Manifest.Entry e : m.files())
                assertThat(DigestUtils.sha256Hex(files.get(e.name()))).isEqualTo(e.sha256());
            assertThat(m.about()).containsEntry("timecode", "from 01:00:00:02");
            Path p = folder.resolve("f" + k.suffix);
            Files.write(p, files.get(last));
            Encoding e = k.light() ? Encoding.LINEAR : Encoding.REC709;
            assertThat(off(bright(9), Stills.read(p, e), Encoding.REC709))
                    .as(k.label)
                    .isLessThan(0.006);
        }
        Path p = folder.resolve("half.exr");
        Files.write(p, unzipped(written("exr")).get(name + ".0010.exr"));
        // Eight digits of the timecode, four bits each (SMPTE ST 12-1).
        byte[] head = Files.readAllBytes(p);
        assertThat(new String(head, 0, 2000, java.nio.charset.StandardCharsets.ISO_8859_1))
                .contains("timeCode\0timecode\0\b\0\0\0\t\0\0\1");
        assertThat(Exr.read(p).planes()).containsOnlyKeys("R", "G", "B");
    }

    /** Two shots may be alike in all but their name, which stands on their frames. */
    @Test
    void aShotLikeAnotherHasItsOwnNames() throws Exception {
        written("png");
        long first = id;
        id = make(shots.head(first).shot());
        assertThat(unzipped(written("png")))
                .containsKey(shots.head(id).row().name() + ".0010.png")
                .doesNotContainKey(shots.head(first).row().name() + ".0010.png");
    }

    /** A mask about the upper left quarter of the picture. */
    @Test
    void masksComeAsCoverageByTheirNames() throws Exception {
        double w = W / 2.0, h = H / 2.0;
        DrawnMask quarter = new DrawnMask(
                1,
                "upper quarter",
                0,
                DrawnMask.Carry.KEYS,
                List.of(new DrawnMask.Key(1, List.of(0.0, 0.0, w, 0.0, w, h, 0.0, h))),
                DrawnMask.Use.COMP,
                List.of());
        assertThat(client.post("/shots/" + id + "/output/start", Map.of("format", "mattes"))
                        .body())
                .contains("othing is masked");
        shots.change(id, "mask drawn", s -> s.with(s.tracks().withSurfaces(List.of(quarter))));
        Path p = folder.resolve("mattes.exr");
        String name = shots.head(id).row().name();
        Files.write(p, unzipped(written(Format.MATTES.key)).get(name + "_mattes.0010.exr"));
        float[] on = Exr.read(p).plane("mask_upper_quarter.A");
        // Its outline runs smoothly through its points, so that only the middles of quarters are sure.
        assertThat(on[H / 4 * W + W / 4]).isEqualTo(1);
        assertThat(on[H / 4 * W + 3 * W / 4]).isZero();
        assertThat(on[3 * H / 4 * W + W / 4]).isZero();
        assertThat(on[on.length - 1]).isZero();
        assertThat(client.get("/shots/" + id + "/output").body())
                .as("the form stands as it was sent")
                .containsPattern("value=\"mattes\"\\s+selected");
    }

    @Test
    void aShapeOfItsOwnAndLettersReachTheFile() throws Exception {
        Map<String, byte[]> files = unzipped(
                written("png", "shape", "1:1", "across", "100", "width", "200", "burnIn", "on", "encoding", "SRGB"));
        Path p = folder.resolve("square.png");
        Files.write(p, files.get(shots.head(id).row().name() + ".0005.png"));
        Image im = Stills.read(p, Encoding.SRGB);
        assertThat(new int[] {im.width, im.height}).containsExactly(200, 200);
        // Its right edge is that of the plate.
        assertThat(im.get(198, 60, 0)).isCloseTo(bright(4).get(318, 54, 0), within(0.02f));
        int white = 0;
        for (int y = 175; y < 192; y++) for (int x = 0; x < 200; x++) if (im.get(x, y, 1) > 0.8) white++;
        assertThat(white).as("letters").isGreaterThan(9);
        assertThat(client.get("/shots/" + id + "/output").body()).contains("200 x 200, sRGB, burn-in");
    }

    /** Whatever ends it in the middle, nothing of it is left under a name that somebody would trust. */
    @Test
    void whatIsStoppedLeavesNothing() throws Exception {
        long revision = shots.head(id).revision().id();
        for (String format : new String[] {"h264", "png", "ffv1"})
            for (RuntimeException end : new RuntimeException[] {
                new java.util.concurrent.CancellationException(),
                new java.io.UncheckedIOException(new java.io.IOException("No space left on device"))
            }) {
                Writing w = Writing.plain(format, 1, 12);
                Task t = new Task(
                        1,
                        id,
                        revision,
                        "output",
                        "Output",
                        w.settings(),
                        "running",
                        0,
                        "",
                        null,
                        null,
                        null,
                        false,
                        null);
                int[] told = {0};
                assertThatThrownBy(() -> work.run(t, (done, what) -> {
                            if (++told[0] == 6) throw end;
                        }))
                        .isSameAs(end);
                Shot s = shots.document(revision);
                String print = Prints.output(
                        s, w.print("Low Water", shots.head(id).row().name()), 1, 12);
                assertThat(desk.results().find("output", print)).as(format).isNull();
                Path there =
                        desk.media().result("output", print + w.kind().file()).getParent();
                try (var files = Files.list(there)) {
                    assertThat(files.filter(f -> f.getFileName().toString().startsWith(print)
                                    || f.getFileName().toString().startsWith(".part-")))
                            .as(format)
                            .isEmpty();
                }
            }
    }

    /** Even of a shot in which little is done yet. */
    @Test
    void aReportSaysHowItStands() throws Exception {
        var a = client.bytes("/shots/" + id + "/take/report.pdf");
        assertThat(a.statusCode()).isEqualTo(200);
        try (var d = org.apache.pdfbox.Loader.loadPDF(a.body())) {
            String text = new org.apache.pdfbox.text.PDFTextStripper().getText(d);
            assertThat(text)
                    .startsWith(shots.head(id).row().name())
                    .contains("Low Water", "1 to 12 at 24 a second", "320 x 180", "Not looked at yet");
        }
        long empty = make(Shot.BLANK);
        assertThat(client.bytes("/shots/" + empty + "/take/report.pdf").statusCode())
                .isEqualTo(200);
    }

    @Test
    void whatCannotBeWrittenIsSaid() throws Exception {
        List<Map<String, String>> bad = new ArrayList<>();
        bad.add(Map.of("format", "betamax"));
        bad.add(Map.of("format", "h264", "from", "10", "to", "3"));
        bad.add(Map.of("format", "h264", "width", "20"));
        bad.add(Map.of("format", "vc3", "width", "100"));
        bad.add(Map.of("format", "passes"));
        bad.add(Map.of("format", "png", "shape", "3:7"));
        bad.add(Map.of("format", "png", "encoding", "none"));
        for (Map<String, String> form : bad) {
            var a = client.post("/shots/" + id + "/output/start", form);
            assertThat(a.statusCode()).as(form.toString()).isEqualTo(422);
            assertThat(a.body()).as(form.toString()).isNotBlank();
        }
        assertThat(tasks.last(id)).noneMatch(t -> t.kind().equals("output"));
    }
}

package dasein.app.stage.output;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.app.ServerTest;
import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.model.Model;
import dasein.core.model.file.ModelReader;
import dasein.core.output.Manifest;
import dasein.core.shot.Shot;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Random;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import java.util.zip.ZipOutputStream;
import org.apache.commons.codec.digest.DigestUtils;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.beans.factory.annotation.Autowired;

/** A shot goes away as a zip and comes back as it was. */
class HandedOverTest extends ServerTest {
    @Autowired
    HandedOver handedOver;

    private byte[] taken() {
        try {
            Shot s = plated();
            solve(s, "moving");
            s = edit(s, "blocking", "add", "model", model("crate"), "x", "0.2", "z", "-4")
                    .shot();
            return client.bytes("/shots/" + make(s) + "/take/scene.zip").body();
        } catch (Exception e) {
            throw new IllegalStateException(e);
        }
    }

    private static Map<String, byte[]> unzipped(byte[] zip) throws Exception {
        Map<String, byte[]> out = new LinkedHashMap<>();
        try (ZipInputStream in = new ZipInputStream(new ByteArrayInputStream(zip))) {
            for (var e = in.getNextEntry(); e != null; e = in.getNextEntry()) out.put(e.getName(), in.readAllBytes());
        }
        return out;
    }

    private static byte[] zipped(Map<String, byte[]> files) throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream z = new ZipOutputStream(out)) {
            for (var e : files.entrySet()) {
                z.putNextEntry(new ZipEntry(e.getKey()));
                z.write(e.getValue());
            }
        }
        return out.toByteArray();
    }

    @TempDir
    Path folder;

    private long bring(byte[] zip) {
        return handedOver.bring(new ByteArrayInputStream(zip), "Low Water", "HO_" + System.nanoTime());
    }

    @Test
    void itComesBackAsItWas() throws Exception {
        byte[] zip = taken();
        Map<String, byte[]> files = unzipped(zip);
        Manifest m = Manifest.parse(new String(files.get(Manifest.NAME)));
        assertThat(m.files()).hasSize(files.size() - 2);
        for (Manifest.Entry e : m.files())
            assertThat(DigestUtils.sha256Hex(files.get(e.name()))).as(e.name()).isEqualTo(e.sha256());
        assertThat(files).containsKeys("exchange/camera.glb", "exchange/camera.usda", "exchange/camera.csv");
        Path scene = Files.write(folder.resolve("scene.glb"), files.get("exchange/scene.glb"));
        assertThat(ModelReader.read(scene).nodes()).extracting(Model.Node::name).contains("ground", "camera");
        assertThat(new String(files.get("exchange/camera.usda"))).startsWith("#usda 1.0");
        assertThat(new String(files.get(Manifest.NOTE))).contains("scene.json", "document.json");
        Shot back = shots.head(bring(zip)).shot();
        Shot was = dasein.core.shot.ShotJson.read(new String(files.get("document.json")));
        // What was computed came along, under prints of its own: its frames were packed anew.
        assertThat(back.plate().file()).isNotEqualTo(was.plate().file());
        assertThat(desk.results().camera(back).frames())
                .hasSameSizeAs(desk.results().camera(was).frames())
                .allSatisfy(f -> assertThat(f.pose()
                                .position()
                                .distance(desk.results()
                                        .camera(was)
                                        .frame(f.frame())
                                        .pose()
                                        .position()))
                        .isLessThan(1e-9));
        // All but their hash is the same.
        assertThat(back.with(was.plate())).isEqualTo(was);
        Image a = desk.plates().need(was).plate().frame(3),
                b = desk.plates().need(back).plate().frame(3);
        for (int c = 0; c < 3; c++) assertThat(b.planes[c]).isEqualTo(a.planes[c]);
    }

    @Test
    void whatIsNoSuchZipIsSaid() throws Exception {
        assertThatThrownBy(() -> bring(new byte[] {1, 2, 3}))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("zip");
        assertThatThrownBy(() -> bring(zipped(Map.of("a.txt", new byte[4]))))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("document.json");
        byte[] zip = taken();
        Map<String, byte[]> files = unzipped(zip);
        String model = files.keySet().stream()
                .filter(n -> n.endsWith(".glb") && n.startsWith("models/"))
                .findFirst()
                .orElseThrow();
        Map<String, byte[]> damaged = new LinkedHashMap<>(files), missing = new LinkedHashMap<>(files);
        byte[] other = files.get(model).clone();
        other[other.length / 2] ^= 1;
        damaged.put(model, other);
        missing.remove(model);
        assertThatThrownBy(() -> bring(zipped(damaged)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("damaged");
        assertThatThrownBy(() -> bring(zipped(missing)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("missing");
        Map<String, byte[]> longer = new LinkedHashMap<>(files);
        longer.put(model, Arrays.copyOf(files.get(model), files.get(model).length + 9));
        assertThatThrownBy(() -> bring(zipped(longer)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("longer");
        // Cut short anywhere: a sentence, and no shot.
        Random r = new Random(3);
        for (int k = 0; k < 12; k++) {
            byte[] cut = Arrays.copyOf(zip, r.nextInt(zip.length));
            assertThatThrownBy(() -> bring(cut)).isInstanceOf(BadInput.class);
        }
    }
}

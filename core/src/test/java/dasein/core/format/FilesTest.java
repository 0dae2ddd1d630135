package dasein.core.format;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.render.pass.Passes;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import dasein.core.solve.file.CameraGltf;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import de.javagl.jgltf.model.io.GltfModelReader;
import java.awt.image.BufferedImage;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What we write is read back by readers that are not ours (tinyexr, jgltf), or by our own where the format is ours. */
class FilesTest {
    @TempDir
    Path folder;

    @Test
    void passesComeBackThroughTinyExr() throws IOException {
        Passes p = new Passes(70, 37);
        Random r = new Random(4);
        for (int i = 0; i < 70 * 37; i++) {
            p.alpha[i] = r.nextFloat();
            p.beauty[2][i] = 10 * r.nextFloat();
            p.shadow[0][i] = i % 3 == 0 ? 1 : r.nextFloat();
            p.depth[i] = i % 5 == 0 ? Float.POSITIVE_INFINITY : 1000 * r.nextFloat();
            p.id[i] = i % 4;
        }
        p.noise = 0.0125f;
        p.attributes.put(Exr.RATE, "24000/1001");
        p.attributes.put(Exr.COUNTER, "48");
        p.attributes.put("shot", "LW_010");
        Path f = folder.resolve("p.exr");
        p.write(f);
        // OpenEXR File Layout: name, type, size, value; a rational is two integers, all little-endian.
        String head = new String(Files.readAllBytes(f), StandardCharsets.ISO_8859_1);
        assertThat(head)
                .contains("framesPerSecond\0rational\0\10\0\0\0\300\135\0\0\351\3\0\0")
                .contains("imageCounter\0int\0\4\0\0\0\60\0\0\0")
                .contains("shot\0string\0\6\0\0\0LW_010");
        Passes q = Passes.read(f);
        // Halves keep eleven bits; depth and identity are stored in full.
        for (int i = 0; i < 70 * 37; i++) {
            assertThat(q.beauty[2][i]).isCloseTo(p.beauty[2][i], within(10f / 2048));
            assertThat(q.shadow[0][i] == 1)
                    .isEqualTo(p.shadow[0][i] == 1 || Half.toFloat(Half.of(p.shadow[0][i])) == 1);
            assertThat(q.depth[i]).isEqualTo(p.depth[i]);
            assertThat(q.id[i]).isEqualTo(p.id[i]);
        }
    }

    /** IEEE 754-2008 binary16: values from the standard's tables. */
    @Test
    void halvesAreTheStandards() {
        assertThat(Half.of(1)).isEqualTo(0x3c00);
        assertThat(Half.of(65504)).isEqualTo(0x7bff);
        assertThat(Half.of(-2)).isEqualTo(0xc000);
        assertThat(Half.of(0x1p-24f)).isEqualTo(1);
        for (int h = 0; h < 0x7c00; h++) assertThat(Half.of(Half.toFloat(h))).isEqualTo(h);
    }

    private static SolvedCamera camera() {
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int f = 5; f < 9; f++)
            frames.add(new SolvedCamera.Frame(
                    f, Pose.lookAt(new Vec3(0.1 * f, 1.5, 3), new Vec3(0, 1, -4), Vec3.Y), 1400.5, 0.3, 200));
        return new SolvedCamera(
                1280,
                720,
                new Rate(24000, 1001),
                "moving",
                0.31,
                12,
                new Lens(frames.get(0).focalPx(), 641, 359, -0.08, 0.01, 0.002, 0.001, -0.0005),
                frames,
                List.of(new SolvedCamera.Point(7, new Vec3(1, 2, -3), 0.4)));
    }

    @Test
    void cameraFilesComeBackTheSame() {
        SolvedCamera c = camera(), back = CameraFile.fromJson(CameraFile.toJson(c));
        assertThat(back.rate()).isEqualTo(c.rate());
        assertThat(back.k1()).isEqualTo(c.k1());
        assertThat(back.points()).isEqualTo(c.points());
        for (int k = 0; k < 4; k++)
            assertThat(back.frames()
                            .get(k)
                            .pose()
                            .rotation()
                            .angleTo(c.frames().get(k).pose().rotation()))
                    .isLessThan(1e-9);
        assertThatThrownBy(() -> CameraFile.fromJson("{\"schema\":\"x\"}")).isInstanceOf(BadInput.class);
        assertThatThrownBy(() -> CameraFile.fromJson("{broken"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("damaged");
    }

    @Test
    void theCameraAsGltfIsReadByAnotherLibrary() throws Exception {
        Path f = folder.resolve("c.glb");
        Files.write(f, CameraGltf.of(camera()));
        var m = new GltfModelReader().read(f);
        assertThat(m.getCameraModels()).hasSize(1);
        assertThat(m.getAnimationModels().get(0).getChannels()).hasSize(2);
        assertThat(m.getNodeModels().get(0).getTranslation()[1]).isEqualTo(1.5f);
        assertThat(m.getCameraModels().get(0).getCameraPerspectiveModel().getYfov())
                .isCloseTo((float) (2 * Math.atan(360 / 1400.5)), within(1e-6f));
    }

    @Test
    void tracksComeBackAndABadLineIsNamed() throws Exception {
        List<Track> t =
                List.of(new Track(3, new int[] {4, 5, 6}, new double[] {1.25, 2.5, 3.75}, new double[] {9, 8, 7}));
        TrackFile.write(folder.resolve("t.csv"), t);
        Track back = TrackFile.read(folder.resolve("t.csv")).get(0);
        assertThat(back.frames()).containsExactly(4, 5, 6);
        assertThat(back.x()).containsExactly(1.25, 2.5, 3.75);
        Files.writeString(folder.resolve("t.json"), TrackFile.toJson(t));
        assertThat(TrackFile.read(folder.resolve("t.json")).get(0).y()).containsExactly(9, 8, 7);
        Files.writeString(
                folder.resolve("bad.json"),
                "{\"schema\": \"dasein-tracks/1\", \"tracks\": [{\"id\": 5, \"frames\": [2, 1], \"x\": [1, "
                        + "1], \"y\": [1, 1]}]}");
        assertThatThrownBy(() -> TrackFile.read(folder.resolve("bad.json")))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("track 5");
        Files.writeString(folder.resolve("bad.csv"), "track,frame,x,y\n1,1,5,5\n1,two,5,5\n");
        assertThatThrownBy(() -> TrackFile.read(folder.resolve("bad.csv")))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("line 3");
    }

    /** A film scan's codes come through exactly; the picture says its size before it is read. */
    @Test
    void tenBitDensityFramesAreRead() throws Exception {
        Path p = folder.resolve("a0001.dpx");
        Files.write(p, DamagedFilesTest.dpx(48, 32));
        Image im = Stills.read(p, Encoding.DENSITY);
        assertThat(Stills.size(p)).containsExactly(48, 32);
        for (int x : new int[] {0, 7, 40}) {
            assertThat(1023 * Encoding.DENSITY.encode(im.get(x, 9, 0))).isCloseTo(95 + 10 * x, within(0.1));
            assertThat(1023 * Encoding.DENSITY.encode(im.get(x, 9, 1))).isCloseTo(185, within(0.1));
            assertThat(1023 * Encoding.DENSITY.encode(im.get(x, 9, 2))).isCloseTo(95 + 5 * x + 45, within(0.1));
        }
    }

    @Test
    void deepTiffFramesAreRead() throws Exception {
        BufferedImage deep = new BufferedImage(20, 18, BufferedImage.TYPE_USHORT_GRAY);
        for (int y = 0; y < 18; y++)
            for (int x = 0; x < 20; x++) deep.getRaster().setSample(x, y, 0, 1000 * x + 37 * y);
        Path p = folder.resolve("a1.tif");
        assertThat(javax.imageio.ImageIO.write(deep, "tiff", p.toFile())).isTrue();
        Image im = Stills.read(p, Encoding.LINEAR);
        assertThat(im.get(7, 5, 1) * 65535).isCloseTo(7185, within(0.01f));
        // Float light, baseline TIFF 6.0 with SampleFormat 3, laid out by hand: Java's own writer knows no such
        // picture.
        int w = 20, h = 18, bytes = w * h * 12, tags = 11;
        java.nio.ByteBuffer t = java.nio.ByteBuffer.allocate(8 + bytes + 2 + 12 * tags + 4 + 12)
                .order(java.nio.ByteOrder.LITTLE_ENDIAN);
        t.putShort((short) 0x4949).putShort((short) 42).putInt(8 + bytes);
        for (int i = 0; i < w * h; i++) for (int c = 0; c < 3; c++) t.putFloat(i == 4 * w + 3 && c == 1 ? 7.25f : 0.5f);
        int extra = 8 + bytes + 2 + 12 * tags + 4;
        t.putShort((short) tags);
        for (int[] tag : new int[][] {
            {256, 3, 1, w},
            {257, 3, 1, h},
            {258, 3, 3, extra},
            {259, 3, 1, 1},
            {262, 3, 1, 2},
            {273, 4, 1, 8},
            {277, 3, 1, 3},
            {278, 3, 1, h},
            {279, 4, 1, bytes},
            {284, 3, 1, 1},
            {339, 3, 3, extra + 6}
        }) {
            t.putShort((short) tag[0]).putShort((short) tag[1]).putInt(tag[2]).putInt(tag[3]);
        }
        t.putInt(0)
                .putShort((short) 32)
                .putShort((short) 32)
                .putShort((short) 32)
                .putShort((short) 3)
                .putShort((short) 3)
                .putShort((short) 3);
        Files.write(p, t.array());
        assertThat(Stills.read(p, Encoding.SRGB).get(3, 4, 1)).isEqualTo(7.25f);
        assertThat(Stills.read(p, Encoding.SRGB).get(9, 4, 1)).isEqualTo(0.5f);
    }

    /**
     * What is seen is the display window; the data window says where there is data (OpenEXR technical introduction).
     */
    @Test
    void exrDataWindowIsPlacedInTheDisplayWindow() throws Exception {
        Path p = folder.resolve("w.exr");
        Image im = new Image(24, 20, 3);
        im.planes[0][3 * 24 + 2] = 5;
        Exr.writeColour(p, im);
        byte[] b = Files.readAllBytes(p);
        int at = new String(b, java.nio.charset.StandardCharsets.ISO_8859_1).indexOf("displayWindow")
                + "displayWindow".length()
                + 1
                + "box2i".length()
                + 1
                + 4;
        java.nio.ByteBuffer.wrap(b)
                .order(java.nio.ByteOrder.LITTLE_ENDIAN)
                .putInt(at, -10)
                .putInt(at + 4, 1)
                .putInt(at + 8, 19)
                .putInt(at + 12, 30);
        Files.write(p, b);
        Image seen = Stills.read(p, Encoding.LINEAR);
        assertThat(seen.width).isEqualTo(30);
        assertThat(seen.height).isEqualTo(30);
        assertThat(seen.get(12, 2, 0)).isEqualTo(5);
        assertThat(Exr.size(p)).containsExactly(30, 30);
    }
}

package dasein.core.model.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.PosedBox;
import java.awt.image.BufferedImage;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A flag of half a metre by two, in centimetres with Z up, whose upper half bends at a joint: written by the text of
 * the COLLADA 1.4.1 specification (5, 6), what it must be worked out by hand.
 */
class ColladaTest {
    @TempDir
    Path folder;

    private static byte[] text() throws Exception {
        return Files.readAllBytes(
                Path.of(ColladaTest.class.getResource("/jointed.dae").toURI()));
    }

    private Path file() throws Exception {
        return Files.write(folder.resolve("flag.dae"), text());
    }

    @Test
    void isMetresAndUprightAndMoves() throws Exception {
        ModelFile.Read r = ModelFile.read(List.of(file()), ModelFile.Reading.GUESS);
        Model m = r.imported().model();
        assertThat(m.triangles()).isEqualTo(4);
        assertThat(r.imported().missing()).containsExactly("flag red.png");
        assertThat(m.bounds()).usingComparatorWithPrecision(1e-5f).containsExactly(0, 0, 0, 0.5f, 2, 0);
        assertThat(m.clips()).hasSize(1);
        assertThat(m.clips().get(0).seconds()).isCloseTo(2, within(1e-6));
        // About X by a right angle what stood up lies along -Y, which Y up makes +Z; the middle, half and half, stays.
        assertThat(PosedBox.of(m, 2)).usingComparatorWithPrecision(1e-4f).containsExactly(0, 0, 0, 0.5f, 1, 1);
        float h = (float) Math.sqrt(0.5);
        assertThat(PosedBox.of(m, 1)).usingComparatorWithPrecision(1e-3f).containsExactly(0, 0, 0, 0.5f, 1 + h, h);
        // What is kept of it is the same.
        Path glb = Files.write(folder.resolve("kept.glb"), ModelFile.glb(List.of(folder.resolve("flag.dae")), r));
        assertThat(PosedBox.of(ModelReader.read(glb), 2)).containsExactly(PosedBox.of(m, 2));
    }

    @Test
    void itsMaterialAndPictureAreThere() throws Exception {
        BufferedImage half = new BufferedImage(2, 2, BufferedImage.TYPE_INT_RGB);
        half.setRGB(0, 0, 0xff0000);
        half.setRGB(1, 0, 0xff0000);
        half.setRGB(0, 1, 0x0000ff);
        half.setRGB(1, 1, 0x0000ff);
        Path png = folder.resolve("flag red.png");
        ImageIO.write(half, "png", png.toFile());
        Imported i =
                ModelFile.read(List.of(file(), png), ModelFile.Reading.GUESS).imported();
        assertThat(i.missing()).isEmpty();
        Material k = i.model().materials()[i.model().parts().get(0).material()];
        assertThat(k.name()).isEqualTo("cloth");
        assertThat(k.metallic()).isZero();
        // alpha = sqrt(2 / 32) = 1/4, roughness its root.
        assertThat(k.roughness()).isCloseTo(0.5f, within(1e-4f));
        assertThat(k.emissive()).containsExactly(0, 0.25f, 0);
        // The picture's upper row lies at the flag's upper end, where T is 1.
        Model.Part p = i.model().parts().get(0);
        float[] out = new float[4];
        for (int v = 0; v < p.vertices(); v++) {
            boolean top = p.position()[3 * v + 2] > 150;
            if (p.position()[3 * v + 2] > 50 && !top) continue;
            k.baseTexture().sample(0.5f, p.uv()[2 * v + 1] * 0.5f + 0.25f, out);
            assertThat(out[top ? 0 : 2]).isCloseTo(1, within(1e-3f));
        }
    }

    /** Truevision TGA, as many DAE name: 24 bits, from the bottom row up (TGA 2.0 specification, C.1). */
    @Test
    void picturesMayBeTga() throws Exception {
        int side = 8, half = 3 * side * side / 2;
        byte[] tga = new byte[18 + 2 * half];
        tga[2] = 2;
        tga[12] = tga[14] = (byte) side;
        tga[16] = 24;
        for (int i = 0; i < half; i += 3) {
            tga[18 + i] = (byte) 255;
            tga[18 + half + i + 2] = (byte) 255;
        }
        Path picture = Files.write(folder.resolve("flag red.tga"), tga);
        Path dae = Files.writeString(
                folder.resolve("flag.dae"),
                new String(text(), StandardCharsets.UTF_8).replace("flag%20red.png", "flag%20red.tga"));
        Imported i =
                ModelFile.read(List.of(dae, picture), ModelFile.Reading.GUESS).imported();
        assertThat(i.missing()).isEmpty();
        float[] top = new float[4], low = new float[4];
        Material k = i.model().materials()[i.model().parts().get(0).material()];
        k.baseTexture().sample(0.5f, 0.25f, top);
        k.baseTexture().sample(0.5f, 0.75f, low);
        assertThat(top).usingComparatorWithPrecision(1e-3f).containsExactly(1, 0, 0, 1);
        assertThat(low).usingComparatorWithPrecision(1e-3f).containsExactly(0, 0, 1, 1);
    }

    @Test
    void numbersAndAxesCanBeToldOtherwise() throws Exception {
        Model m = ModelFile.read(List.of(file()), new ModelFile.Reading("z", 0.001, 24))
                .imported()
                .model();
        assertThat(m.bounds()).usingComparatorWithPrecision(1e-5f).containsExactly(0, 0, 0, 0.05f, 0.2f, 0);
    }

    @Test
    void whatIsNoneIsRefusedWithItsName() throws Exception {
        for (String text : List.of("", "<COLLADA/>", "<x>", "no xml at all", "<?xml version=\"1.0\"?><COLLADA>"))
            assertThatThrownBy(() -> ModelFile.read(
                            List.of(Files.writeString(folder.resolve("none.dae"), text)), ModelFile.Reading.GUESS))
                    .isInstanceOf(BadInput.class)
                    .hasMessageStartingWith("none.dae");
    }

    /** Entities that name each other grow a short file to gigabytes in readers that write them out. */
    @Test
    void entitiesDoNotGrow() throws Exception {
        StringBuilder s = new StringBuilder("<?xml version=\"1.0\"?><!DOCTYPE c [<!ENTITY a0 \"lots\">");
        for (int i = 1; i < 12; i++)
            s.append("<!ENTITY a")
                    .append(i)
                    .append(" \"")
                    .append(("&a" + (i - 1) + ";").repeat(10))
                    .append("\">");
        String text = s + "]>"
                + new String(text(), StandardCharsets.UTF_8)
                        .substring(39)
                        .replace("scene\" name=\"scene", "scene\" name=\"&a11;");
        assertThatThrownByOrRead(text);
    }

    private void assertThatThrownByOrRead(String text) throws Exception {
        try {
            List<String> said = new ArrayList<>();
            assertThat(Collada.glb(text.getBytes(StandardCharsets.UTF_8), "grown.dae", false, said).length)
                    .isLessThan(100_000);
        } catch (BadInput e) {
            assertThat(e.getMessage()).startsWith("grown.dae");
        }
    }

    /** In a process apart, as they come in; most are read all the same, as a number more or less is. */
    @Test
    void damagedOnesAreReadOrRefused() throws Exception {
        byte[] whole = text();
        Random r = new Random(5);
        int refused = 0;
        for (int k = 0; k < 6; k++) {
            byte[] b = java.util.Arrays.copyOf(whole, k % 2 == 0 ? whole.length : 400 + r.nextInt(whole.length - 400));
            for (int i = 0; i < 6; i++) b[300 + r.nextInt(b.length - 300)] = (byte) r.nextInt();
            try {
                ModelFile.read(List.of(Files.write(folder.resolve("d.dae"), b)), ModelFile.Reading.GUESS);
            } catch (BadInput e) {
                assertThat(e.getMessage()).startsWith("d.dae");
                refused++;
            }
        }
        assertThat(refused).isGreaterThan(2);
    }
}

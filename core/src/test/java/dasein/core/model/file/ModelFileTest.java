package dasein.core.model.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.Posing;
import java.awt.image.BufferedImage;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The same things written in every format that is read: their volumes and areas are known. */
class ModelFileTest {
    @TempDir
    Path folder;

    private static final String CUBE =
            "v 0 0 0\nv 2 0 0\nv 2 2 0\nv 0 2 0\nv 0 0 2\nv 2 0 2\nv 2 2 2\nv 0 2 2\nvt 0 0\nvt 1 0.25\n";
    private static final int[][] FACES = {
        {4, 3, 2, 1}, {5, 6, 7, 8}, {1, 2, 6, 5}, {3, 4, 8, 7}, {2, 3, 7, 6}, {1, 5, 8, 4}
    };

    private Path text(String name, String s) throws IOException {
        Path p = folder.resolve(name);
        Files.write(p, s.getBytes(StandardCharsets.ISO_8859_1));
        return p;
    }

    private static Imported read(Path... p) {
        return ModelFile.read(List.of(p), new ModelFile.Reading("y", 1, 24)).imported();
    }

    /** Signed volume (divergence theorem): right only when all faces look outwards. */
    private static double volume(Model m) {
        double v = 0;
        for (Model.Part p : m.parts()) {
            float[] x = new float[p.position().length];
            new Posing(m).place(p, x, null);
            for (int t = 0; t < p.index().length; t += 3) {
                int a = 3 * p.index()[t], b = 3 * p.index()[t + 1], c = 3 * p.index()[t + 2];
                v += (x[a] * (x[b + 1] * x[c + 2] - x[b + 2] * x[c + 1])
                                - x[a + 1] * (x[b] * x[c + 2] - x[b + 2] * x[c])
                                + x[a + 2] * (x[b] * x[c + 1] - x[b + 1] * x[c]))
                        / 6;
            }
        }
        return v;
    }

    private static String obj(int from, String between) {
        StringBuilder b = new StringBuilder(CUBE);
        for (int[] f : FACES) {
            b.append("f");
            for (int i : f) b.append(' ').append(from < 0 ? i - 9 : i).append(between);
            b.append('\n');
        }
        return b.toString();
    }

    @Test
    void objWithItsMaterials() throws Exception {
        assertThat(volume(read(text("plain.obj", obj(1, ""))).model())).isCloseTo(8, within(1e-5));
        assertThat(volume(read(text("back.obj", obj(-1, ""))).model())).isCloseTo(8, within(1e-5));
        BufferedImage red = new BufferedImage(2, 2, BufferedImage.TYPE_INT_RGB);
        for (int i = 0; i < 4; i++) red.setRGB(i % 2, i / 2, 0xff0000);
        Path picture = folder.resolve("hull paint.png");
        ImageIO.write(red, "png", picture.toFile());
        Path mtl = text(
                "boat.mtl",
                "newmtl hull\nKd 0.5 0.5 0.5\nNs 198\nd 0.5\nmap_Kd -s 1 1 1 C:\\work\\Hull "
                        + "Paint.png\nnewmtl rim\nPr 0.3\nPm 1\n");
        Path boat = text("boat.obj", "mtllib boat.mtl\nusemtl hull\n" + obj(1, "/2") + "usemtl rim\nf 1 2 3\n");
        Imported i = read(boat, mtl, picture);
        assertThat(i.missing()).isEmpty();
        Material hull = i.model().materials()[0];
        // sqrt of sqrt(2 / (198 + 2)).
        assertThat(hull.roughness()).isCloseTo(0.3162f, within(1e-3f));
        assertThat(hull.blend()).isTrue();
        float[] c = new float[4];
        hull.baseTexture().sample(0.5f, 0.5f, c);
        assertThat(c[0]).isCloseTo(1, within(1e-4f));
        assertThat(c[1]).isZero();
        assertThat(i.model().parts().get(0).uv()[1]).isEqualTo(0.75f);
        assertThat(i.model().materials()[1].metallic()).isEqualTo(1);
        assertThat(read(boat, mtl).missing()).containsExactly("Hull Paint.png");
        assertThat(read(boat).missing()).containsExactly("boat.mtl");
        assertThatThrownBy(() -> read(text("bad.obj", CUBE + "f 1 2 99\n")))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("line 11");
        // A hollow outline: an L of area 3.
        Model l = read(text("l.obj", "v 0 0 0\nv 2 0 0\nv 2 1 0\nv 1 1 0\nv 1 2 0\nv 0 2 0\nf 1 2 3 4 5 6\n"))
                .model();
        double area = 0;
        float[] x = l.parts().get(0).position();
        int[] t = l.parts().get(0).index();
        for (int k = 0; k < t.length; k += 3) {
            double a = 0.5
                    * ((x[3 * t[k + 1]] - x[3 * t[k]]) * (x[3 * t[k + 2] + 1] - x[3 * t[k] + 1])
                            - (x[3 * t[k + 1] + 1] - x[3 * t[k] + 1]) * (x[3 * t[k + 2]] - x[3 * t[k]]));
            assertThat(a).isPositive();
            area += a;
        }
        assertThat(area).isCloseTo(3, within(1e-5));
    }

    /** Which of the cube's lines vertex i is. */
    private static int corner(String[] lines, float[] p, int i) {
        for (int k = 0; k < 8; k++) {
            String[] v = lines[k].split(" ");
            if (Float.parseFloat(v[1]) == p[3 * i]
                    && Float.parseFloat(v[2]) == p[3 * i + 1]
                    && Float.parseFloat(v[3]) == p[3 * i + 2]) return k;
        }
        throw new AssertionError("no such corner");
    }

    /** The cube with four corners of one colour and four of another. */
    private static String asPly() {
        StringBuilder b = new StringBuilder(
                "ply\nformat ascii 1.0\ncomment made here\nelement vertex 8\nproperty float x\nproperty "
                        + "float y\nproperty float z\nproperty uchar red\nproperty uchar green\nproperty "
                        + "uchar blue\nelement face 6\nproperty list uchar int vertex_indices\nend_header\n");
        String[] lines = CUBE.split("\n");
        for (int i = 0; i < 8; i++) b.append(lines[i].substring(2)).append(i < 4 ? " 188 0 255\n" : " 0 188 255\n");
        for (int[] f : FACES)
            b.append("4 ")
                    .append(f[0] - 1)
                    .append(' ')
                    .append(f[1] - 1)
                    .append(' ')
                    .append(f[2] - 1)
                    .append(' ')
                    .append(f[3] - 1)
                    .append('\n');
        return b.toString();
    }

    @Test
    void plyAsTextAndBinary() throws Exception {
        String[] lines = CUBE.split("\n");
        Imported ply = read(text("cube.ply", asPly()));
        assertThat(volume(ply.model())).isCloseTo(8, within(1e-5));
        // Colours of its vertices: codes of sRGB, and kept in what is written.
        Path kept = folder.resolve("kept.glb");
        ModelGlb.write(kept, ply.model());
        for (Model of : List.of(ply.model(), ModelReader.read(kept))) {
            float[] c = of.parts().get(0).colour(), p = of.parts().get(0).position();
            for (int i = 0; i < p.length / 3; i++) {
                boolean first = corner(lines, p, i) < 4;
                assertThat(c[4 * i]).isCloseTo(first ? 0.503f : 0, within(1e-3f));
                assertThat(c[4 * i + 1]).isCloseTo(first ? 0 : 0.503f, within(1e-3f));
                assertThat(c[4 * i + 2]).isEqualTo(1);
            }
            assertThat(of.materials()[0].baseColor()).containsExactly(1, 1, 1, 1);
        }
        for (ByteOrder o : List.of(ByteOrder.LITTLE_ENDIAN, ByteOrder.BIG_ENDIAN)) {
            byte[] head = ("ply\nformat binary_" + (o == ByteOrder.LITTLE_ENDIAN ? "little" : "big")
                            + "_endian 1.0\nelement vertex 8\nproperty double x\nproperty float y\nproperty "
                            + "short z\nelement face 6\nproperty list uchar uint vertex_index\nend_header\n")
                    .getBytes(StandardCharsets.US_ASCII);
            ByteBuffer d =
                    ByteBuffer.allocate(head.length + 8 * 14 + 6 * 17).order(o).put(head);
            for (int i = 0; i < 8; i++) {
                String[] v = lines[i].split(" ");
                d.putDouble(Double.parseDouble(v[1]))
                        .putFloat(Float.parseFloat(v[2]))
                        .putShort(Short.parseShort(v[3]));
            }
            for (int[] f : FACES) {
                d.put((byte) 4);
                for (int i : f) d.putInt(i - 1);
            }
            Path p = folder.resolve("binary.ply");
            Files.write(p, d.array());
            assertThat(volume(read(p).model())).isCloseTo(8, within(1e-5));
            Files.write(p, java.util.Arrays.copyOf(d.array(), d.capacity() - 9));
            assertThatThrownBy(() -> read(p)).isInstanceOf(BadInput.class).hasMessageContaining("cut short");
        }
    }

    @Test
    void stlAsTextAndBinary() throws Exception {
        Model m = read(text("cube.ply", asPly())).model();
        StringBuilder s = new StringBuilder("solid cube\n");
        int n = m.triangles();
        ByteBuffer d = ByteBuffer.allocate(84 + 50 * n).order(ByteOrder.LITTLE_ENDIAN);
        // Binary files that begin like a text one are common.
        d.put("solid cube".getBytes(StandardCharsets.US_ASCII)).putInt(80, n).position(84);
        for (int t = 0; t < n; t++) {
            s.append("facet normal 0 0 0\nouter loop\n");
            d.position(84 + 50 * t + 12);
            for (int k = 0; k < 3; k++) {
                int i = 3 * m.parts().get(0).index()[3 * t + k];
                float[] x = m.parts().get(0).position();
                s.append("vertex ")
                        .append(x[i])
                        .append(' ')
                        .append(x[i + 1])
                        .append(' ')
                        .append(x[i + 2])
                        .append('\n');
                for (int a = 0; a < 3; a++) d.putFloat(x[i + a]);
            }
            s.append("endloop\nendfacet\n");
        }
        Path stl = folder.resolve("binary.stl");
        Files.write(stl, d.array());
        assertThat(volume(read(stl).model())).isCloseTo(8, within(1e-5));
        assertThat(volume(read(text("text.stl", s + "endsolid\n")).model())).isCloseTo(8, within(1e-5));
        // As drawn, z upwards and a side of 2000: millimetres; what stood 2 high along z stands 2 m high along y.
        Path large =
                text("large.stl", s.toString().replaceAll("(vertex|(?<=\\G| ))(\\d)\\.0", "$1$2000.0") + "endsolid\n");
        ModelFile.Read guess = ModelFile.read(List.of(large), ModelFile.Reading.GUESS);
        assertThat(guess.up()).isEqualTo("z");
        assertThat(guess.unit()).isEqualTo(0.001);
        assertThat(guess.imported().remarks()).contains("Guessed: Z up, numbers in millimetres.");
        assertThat(guess.imported().model().bounds())
                .usingComparatorWithPrecision(1e-4f)
                .containsExactly(0, 0, -2, 2, 2, 0);
    }

    /** Every place goes straight from frame to frame; written as GLB and read again it does the same. */
    @Test
    void aSequenceMovesBetweenItsFrames() throws Exception {
        for (int f = 0; f < 3; f++)
            text("wave_" + (8 + f) + ".obj", obj(1, "").replace("v 2 2 2", "v 2 " + (2 + f * f) + " 2") + "s 1\n");
        List<Path> files = ModelFile.in(folder);
        Model m = ModelFile.read(files, new ModelFile.Reading("y", 1, 10))
                .imported()
                .model();
        Path glb = folder.resolve("wave.glb");
        ModelGlb.write(glb, m);
        for (Model k : List.of(m, ModelReader.read(glb))) {
            Posing p = new Posing(k);
            for (double[] at : new double[][] {{0, 2}, {0.05, 2.5}, {0.1, 3}, {0.15, 4.5}, {0.2, 6}, {5, 6}}) {
                p.at(k.clips().get(0), at[0]);
                float[] x = new float[k.parts().get(0).position().length];
                p.place(k.parts().get(0), x, null);
                float top = 0;
                for (int i = 1; i < x.length; i += 3) top = Math.max(top, x[i]);
                assertThat(top).isCloseTo((float) at[1], within(1e-4f));
            }
        }
        text("wave_11.obj", CUBE + "v 0 0 9\nf 1 2 3\n");
        assertThatThrownBy(() -> ModelFile.read(
                        ModelFile.in(folder).stream()
                                .filter(p -> p.toString().endsWith("obj"))
                                .toList(),
                        ModelFile.Reading.GUESS))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("wave_11.obj");
    }
}

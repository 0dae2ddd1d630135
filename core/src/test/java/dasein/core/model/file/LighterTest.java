package dasein.core.model.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.PosedBox;
import dasein.core.model.Texture;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Balls of many triangles are brought to few: they are still balls, to the error that is said. */
class LighterTest {
    @TempDir
    Path folder;

    private static final Model.Node ROOT =
            new Model.Node("ball", -1, new float[3], new float[] {0, 0, 0, 1}, new float[] {1, 1, 1}, new float[0]);

    /** By longitude and latitude, one seam, its colour as its height. */
    private static Model.Part ball(int n, double radius, double x, boolean apart) {
        int wide = 2 * n + 1;
        float[] p = new float[3 * wide * (n + 1)], q = p.clone(), uv = new float[2 * wide * (n + 1)];
        float[] colour = new float[4 * wide * (n + 1)];
        for (int j = 0; j <= n; j++)
            for (int i = 0; i < wide; i++) {
                double a = Math.PI * i / n, b = Math.PI * j / n - Math.PI / 2;
                int v = j * wide + i;
                // The seam's two ends lie in one place to the bit.
                double[] d = {
                    Math.cos(i == 2 * n ? 0 : a) * Math.cos(b), Math.sin(b), Math.sin(i == 2 * n ? 0 : a) * Math.cos(b)
                };
                for (int k = 0; k < 3; k++) {
                    p[3 * v + k] = (float) (radius * d[k] + (k == 0 ? x : 0));
                    q[3 * v + k] = (float) d[k];
                }
                uv[2 * v] = i / (2f * n);
                uv[2 * v + 1] = 1 - j / (float) n;
                for (int k = 0; k < 4; k++) colour[4 * v + k] = k == 3 ? 1 : j / (float) n;
            }
        int[] index = new int[6 * 2 * n * n];
        int at = 0;
        for (int j = 0; j < n; j++)
            for (int i = 0; i < 2 * n; i++) {
                int v = j * wide + i;
                for (int k : new int[] {v, v + wide, v + 1, v + 1, v + wide, v + wide + 1}) index[at++] = k;
            }
        if (apart) {
            // Every triangle with corners and a normal of its own, as many programs write what is flat.
            float[] fp = new float[3 * index.length], fq = new float[3 * index.length];
            int[] first = index.clone();
            for (int i = 0; i < index.length; i++) {
                System.arraycopy(p, 3 * index[i], fp, 3 * i, 3);
                System.arraycopy(q, 3 * first[i - i % 3], fq, 3 * i, 3);
                index[i] = i;
            }
            return new Model.Part(
                    0,
                    -1,
                    fp,
                    fq,
                    new float[2 * index.length],
                    index,
                    0,
                    new int[0],
                    new float[0],
                    new float[0][],
                    new float[0][]);
        }
        return new Model.Part(
                0, -1, p, q, uv, index, 0, new int[0], new float[0], new float[0][], new float[0][], colour);
    }

    private static Model model(Model.Part... parts) {
        return new Model(
                "ball", List.of(ROOT), List.of(parts), List.of(), List.of(), new Material[] {Material.matt(1, 1, 1)});
    }

    private static double volume(Model.Part p) {
        double v = 0;
        float[] x = p.position();
        for (int t = 0; t < p.index().length; t += 3) {
            int a = 3 * p.index()[t], b = 3 * p.index()[t + 1], c = 3 * p.index()[t + 2];
            v += x[a] * (x[b + 1] * x[c + 2] - x[b + 2] * x[c + 1])
                    + x[a + 1] * (x[b + 2] * x[c] - x[b] * x[c + 2])
                    + x[a + 2] * (x[b] * x[c + 1] - x[b + 1] * x[c]);
        }
        return Math.abs(v) / 6;
    }

    @Test
    void aBallIsStillABall() {
        List<String> said = new ArrayList<>();
        Model was = model(ball(200, 1, 0, false)), m = Lighter.of(was, 10_000, said);
        assertThat(was.triangles()).isEqualTo(160_000);
        assertThat(m.triangles()).isBetween(9_000, 10_000);
        assertThat(said).singleElement().asString().contains("of its 160,000 triangles");
        Model.Part p = m.parts().get(0);
        // No hole: what closed it closes it, to a hundredth of a ball.
        assertThat(volume(p)).isCloseTo(4.0 / 3 * Math.PI, within(0.005 * 4.19));
        for (int v = 0; v < p.vertices(); v++) {
            float[] x = p.position();
            assertThat(Math.sqrt(x[3 * v] * x[3 * v] + x[3 * v + 1] * x[3 * v + 1] + x[3 * v + 2] * x[3 * v + 2]))
                    .isCloseTo(1, within(1e-5));
            // Vertices keep what is theirs: normal, place in the picture, colour.
            double height = Math.sin(Math.PI * (1 - p.uv()[2 * v + 1]) - Math.PI / 2);
            assertThat(p.normal()[3 * v + 1]).isCloseTo(x[3 * v + 1], within(1e-5f));
            assertThat(height).isCloseTo(x[3 * v + 1], within(1e-4));
            assertThat(p.colour()[4 * v]).isCloseTo(1 - p.uv()[2 * v + 1], within(1e-5f));
        }
    }

    /** The same error everywhere: a ball of a tenth needs far fewer for it than one of a metre. */
    @Test
    void smallDensePartsGiveMore() {
        Model m = Lighter.of(model(ball(120, 1, 0, false), ball(120, 0.1, 3, false)), 12_000, new ArrayList<>());
        assertThat(m.triangles()).isLessThanOrEqualTo(12_000);
        int large = m.parts().get(0).index().length, small = m.parts().get(1).index().length;
        assertThat(small).isLessThan(large / 2);
        assertThat(volume(m.parts().get(0))).isCloseTo(4.0 / 3 * Math.PI, within(0.04));
    }

    @Test
    void trianglesThatShareNothingAreBroughtTogether() {
        Model m = Lighter.of(model(ball(150, 1, 0, true)), 9_000, new ArrayList<>());
        assertThat(m.triangles()).isBetween(3_000, 9_000);
        assertThat(volume(m.parts().get(0))).isCloseTo(4.0 / 3 * Math.PI, within(0.05));
    }

    @Test
    void whatIsFewEnoughIsLeftAlone() {
        Model was = model(ball(20, 1, 0, false));
        List<String> said = new ArrayList<>();
        assertThat(Lighter.of(was, 2_000, said)).isSameAs(was);
        assertThat(said).isEmpty();
    }

    /** Of a skinned, moving model: half way through its clip it is where it was. */
    @Test
    void whatMovesMovesAsItDid() {
        Model was = ModelReader.read(Path.of("demo/models/skimmer.glb"));
        Model m = Lighter.of(was, was.triangles() / 3, new ArrayList<>());
        assertThat(m.triangles()).isLessThanOrEqualTo(was.triangles() / 3);
        float[] a = PosedBox.of(was, 0.37), b = PosedBox.of(m, 0.37);
        double size = a[3] - a[0];
        for (int k = 0; k < 6; k++) assertThat(b[k]).isCloseTo(a[k], within((float) (0.03 * size)));
    }

    @Test
    void picturesAndTrianglesAreBroughtToTheSizeThatIsTold() throws Exception {
        Model plain = model(ball(100, 1, 0, false));
        Material k = new Material(
                "paint",
                new float[] {1, 1, 1, 1},
                new Texture(512, 256, new int[512 * 256], true, false),
                0,
                1,
                null,
                null,
                1,
                new float[3],
                null,
                0,
                false,
                false);
        Path glb = folder.resolve("ball.glb");
        ModelGlb.write(glb, new Model("ball", plain.nodes(), plain.parts(), List.of(), List.of(), new Material[] {k}));
        ModelFile.Read whole = ModelFile.read(List.of(glb), ModelFile.Reading.GUESS);
        assertThat(whole.lighter()).isFalse();
        assertThat(ModelFile.glb(List.of(glb), whole)).isEqualTo(Files.readAllBytes(glb));
        ModelFile.Read r = ModelFile.read(List.of(glb), new ModelFile.Reading("", 0, 24, new WorkingSize(5_000, 128)));
        assertThat(r.lighter()).isTrue();
        assertThat(r.imported().remarks()).anyMatch(s -> s.contains("5")).anyMatch(s -> s.contains("512 texels"));
        Path small = Files.write(folder.resolve("small.glb"), ModelFile.glb(List.of(glb), r));
        Model m = ModelReader.read(small);
        assertThat(m.triangles()).isBetween(4_000, 5_000);
        assertThat(m.materials()[0].baseTexture().width()).isEqualTo(128);
        assertThat(m.materials()[0].baseTexture().height()).isEqualTo(64);
    }

    @Test
    void aMillionIsBroughtToWhatServes() {
        assertThat(WorkingSize.SERVES.most(1_000_000)).isEqualTo(WorkingSize.MANY);
        assertThat(WorkingSize.SERVES.most(350_000)).isEqualTo(350_000);
        assertThat(WorkingSize.WHOLE.most(5_000_000)).isGreaterThan(5_000_000);
        Texture large = new Texture(8192, 16, new int[8192 * 16], true, true);
        assertThat(WorkingSize.SERVES.within(large).width()).isEqualTo(WorkingSize.LARGE);
        assertThat(WorkingSize.WHOLE.within(large)).isSameAs(large);
    }
}

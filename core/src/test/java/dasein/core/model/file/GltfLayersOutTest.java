package dasein.core.model.file;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.Texture;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is written is read as it was; the reader is held against the published formulas elsewhere. */
class GltfLayersOutTest {
    @TempDir
    Path folder;

    private Material again(Material m) {
        Model.Node root =
                new Model.Node("n", -1, new float[3], new float[] {0, 0, 0, 1}, new float[] {1, 1, 1}, new float[0]);
        float[] tri = {0, 0, 0, 1, 0, 0, 0, 1, 0};
        Model.Part p = new Model.Part(
                0,
                -1,
                tri,
                new float[9],
                new float[12],
                new int[] {0, 1, 2},
                0,
                new int[0],
                new float[0],
                new float[0][],
                new float[0][]);
        Path file = folder.resolve("m.glb");
        ModelGlb.write(file, new Model("m", List.of(root), List.of(p), List.of(), List.of(), new Material[] {m}));
        return ModelReader.read(file).materials()[0];
    }

    private static Material of(float[] glow, Material.Layers l) {
        float[] colour = {0.5f, 0.4f, 0.3f, 1};
        return new Material("matt", colour, null, 0, 0.5f, null, null, 1, glow, null, 0, false, true, l);
    }

    private void same(Material m) {
        assertThat(again(m))
                .usingRecursiveComparison()
                .withComparatorForType((a, b) -> Math.abs(a - b) < 2e-5f * (1 + Math.abs(a)) ? 0 : 1, Float.class)
                .ignoringFieldsMatchingRegexes(".*\\.smaller")
                .isEqualTo(m);
    }

    private static Material.Layers layers(float[] f0, Material.Sheen sheen, Material.Glass glass, Material.Fine fine) {
        return new Material.Layers(f0, 0.75f, 0.3f, 0.5f, false, 0, sheen, glass, fine, null);
    }

    @Test
    void everyLayerComesBack() {
        same(of(new float[3], Material.Layers.PLAIN));
        Material.Layers lit = new Material.Layers(new float[] {0.08f, 0.08f, 0.08f}, 0, 0.02f, 0, false);
        same(of(new float[] {6, 3, 1.5f}, lit));
        same(of(new float[3], new Material.Layers(new float[] {0.04f, 0.04f, 0.04f}, 0, 0.02f, 0, true)));
        same(of(
                new float[3],
                layers(
                        new float[] {0.12f, 0.06f, 0},
                        new Material.Sheen(new float[] {0.5f, 0.25f, 1}, 0.4f),
                        null,
                        new Material.Fine(
                                new Material.Brushed(0.5f, 1.2f),
                                new Material.Iridescent(0.8f, 1.4f, 120, 480),
                                new Material.Leaf(0.6f, new float[] {1, 0.5f, 0.25f}),
                                false))));
        same(of(new float[3], layers(new float[] {1, 1, 1}, null, null, Material.Fine.NONE)));
        same(of(new float[3], layers(new float[] {0, 0, 0}, null, null, Material.Fine.NONE)));
        float f = (0.33f / 2.33f) * (0.33f / 2.33f);
        same(of(
                new float[3],
                layers(
                        new float[] {f, f, f / 2},
                        null,
                        new Material.Glass(1.33f, new float[] {0.5f, 2, 0}),
                        Material.Fine.NONE)));
    }

    @Test
    void picturesLieAsTheyLay() {
        Texture t = new Texture(4, 2, new int[] {1, 2, 3, 4, 5, 6, 7, 0xff00ff00}, false, true);
        float[] map = {
            1.5f * (float) Math.cos(0.3),
            -2 * (float) Math.sin(0.3),
            0.25f,
            -1.5f * (float) Math.sin(0.3),
            -2 * (float) Math.cos(0.3),
            0.5f
        };
        Material.Pictures p = new Material.Pictures(
                t, t.placed(1, null), null, null, null, null, t.placed(0, map), null, null, null, null, null);
        Material back = again(of(
                new float[3],
                new Material.Layers(
                        new float[] {0.04f, 0.04f, 0.04f}, 1, 0.5f, 1, false, 0, null, null, Material.Fine.NONE, p)));
        Material.Pictures q = back.layers().pictures();
        assertThat(q.coat().set()).isZero();
        assertThat(q.coat().map()).isNull();
        assertThat(q.coatRoughness().set()).isEqualTo(1);
        assertThat(q.clear().map()).usingComparatorWithPrecision(1e-5f).containsExactly(map);
        assertThat(q.clear().codes()).isEqualTo(t.codes());
        assertThat(q.clear().clamp()).isTrue();
        assertThat(q.sheen()).isNull();
    }
}

package dasein.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Encoding;
import dasein.core.light.Lighting;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Texture;
import dasein.core.model.TexturePlace;
import dasein.core.render.pass.Passes;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Factors of layers by their pictures, whose channels are those of glTF's extensions. */
class LayerLookTest {
    /** Left one colour, right another. */
    private static Texture halves(int left, int right, boolean colour) {
        int[] argb = new int[16 * 4];
        for (int i = 0; i < argb.length; i++) argb[i] = i % 16 < 8 ? left : right;
        return new Texture(16, 4, argb, colour, true);
    }

    private static TexturePlace place(float u) {
        float[] p = {0, 0, 0, 1, 0, 0, 0, 1, 0};
        Material[] none = {Material.matt(1, 1, 1)};
        Mesh m = new Mesh(
                p,
                p,
                null,
                null,
                new float[] {u, 0.5f, u, 0.5f, u, 0.5f},
                new int[] {0, 1, 2},
                new int[1],
                none,
                1,
                Mesh.Role.PERFORMER);
        TexturePlace at = new TexturePlace();
        at.at(m, 0, 0.3f, 0.3f);
        return at;
    }

    @Test
    void eachChannelIsWhatItsExtensionSays() {
        Material.Pictures p = new Material.Pictures(
                halves(0xffff0000, 0xff000000, false),
                halves(0xff00ff00, 0xff008000, false),
                halves(0xffffffff, 0xff808080, true),
                halves(0xff000000, 0x80000000, false),
                halves(0xffffffff, 0x40ffffff, false),
                halves(0xffffffff, 0xffff0000, true),
                halves(0xffff0000, 0xff330000, false),
                // To the right, and up, half as strong.
                halves(0xffff80ff, 0xff80ff80, false),
                halves(0xffff0000, 0xff800000, false),
                halves(0xff000000, 0xff00ff00, false),
                halves(0xff000000, 0x33000000, false),
                halves(0xffffffff, 0xff00ff00, true));
        Material.Layers l = new Material.Layers(
                new float[] {0.04f, 0.04f, 0.04f},
                0.8f,
                0.5f,
                1,
                false,
                0,
                new Material.Sheen(new float[] {1, 0.5f, 0}, 0.6f),
                null,
                new Material.Fine(
                        new Material.Brushed(0.8f, 0),
                        new Material.Iridescent(1, 1.3f, 100, 500),
                        new Material.Leaf(1, new float[] {1, 1, 1}),
                        false),
                p);
        LayerLook at = new LayerLook();
        at.at(l, place(0.2f));
        assertThat(new float[] {at.coat, at.coatRoughness, at.clear, at.sheenRoughness})
                .usingComparatorWithPrecision(1e-5f)
                .containsExactly(0.8f, 0.5f, 1, 0.6f);
        assertThat(new float[] {at.brushed, at.alongU, at.alongV, at.film, at.filmThickness, at.leaf})
                .usingComparatorWithPrecision(0.005f)
                .containsExactly(0.8f, 1, 0, 1, 100, 1);
        at.at(l, place(0.8f));
        assertThat(new float[] {at.brushed, at.alongU, at.alongV, at.film, at.filmThickness, at.leaf})
                .usingComparatorWithPrecision(0.005f)
                .containsExactly(0.4f, 0, 1, 0.5f, 500, 0.2f);
        assertThat(at.leafColour).usingComparatorWithPrecision(1e-5f).containsExactly(0, 1, 0);
        float half = 128 / 255f;
        assertThat(new float[] {at.coat, at.coatRoughness, at.clear, at.sheenRoughness})
                .usingComparatorWithPrecision(1e-5f)
                .containsExactly(0, 0.5f * half, 0.2f, 0.6f * half);
        // Colours are decoded, strengths are not.
        assertThat(at.sheen[0]).isCloseTo(Encoding.SRGB.decode8(128), within(1e-5f));
        assertThat(at.f0).usingComparatorWithPrecision(1e-5f).containsExactly(0.04f * 64 / 255, 0, 0);
        // Without places in a texture the factors alone count.
        at.at(l, null);
        assertThat(at.coat).isEqualTo(0.8f);
        assertThat(at.sheen[1]).isEqualTo(0.5f);
    }

    /** Thin glass that a picture makes clear on one side only: there what is behind is seen, on the other not. */
    @Test
    void aPictureSaysWhatIsClear() {
        float[] p = {-2, 0, 0, 2, 0, 0, 2, 3, 0, -2, 3, 0}, n = {0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1};
        Material glass = Shapes.of(
                0,
                new Material.Layers(
                        new float[3],
                        0,
                        0,
                        1,
                        false,
                        0,
                        null,
                        null,
                        Material.Fine.NONE,
                        Material.Pictures.clear(halves(0xff000000, 0xffff0000, false))));
        Mesh pane = new Mesh(
                p,
                p,
                n,
                n,
                new float[] {0, 1, 1, 1, 1, 0, 0, 0},
                new int[] {0, 1, 2, 0, 2, 3},
                new int[2],
                new Material[] {glass},
                1,
                Mesh.Role.PERFORMER);
        Passes seen = Shapes.render(
                List.of(pane),
                new Lighting(Shapes.even(1), List.of()),
                Pose.lookAt(new Vec3(0, 1.5, 4), new Vec3(0, 1.5, 0), Vec3.Y),
                16,
                1,
                false,
                null);
        assertThat(seen.alpha[30 * 80 + 20]).isEqualTo(1);
        assertThat(seen.alpha[30 * 80 + 60]).isEqualTo(0);
    }
}

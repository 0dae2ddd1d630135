package dasein.core.image;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class CubeTest {
    @TempDir
    Path folder;

    private Cube cube(String text) throws IOException {
        return Cube.read(Files.writeString(folder.resolve("t.cube"), text));
    }

    /** A lattice filled with an affine map gives that map everywhere: tetrahedral interpolation is exact for it. */
    @Test
    void anAffineMapComesThroughALatticeExactly() throws IOException {
        int n = 5;
        StringBuilder b =
                new StringBuilder("TITLE \"test\"\n# comment\nLUT_3D_SIZE 5\nDOMAIN_MIN -1 0 0\nDOMAIN_MAX 1 1 2\n");
        for (int k = 0; k < n; k++)
            for (int j = 0; j < n; j++)
                for (int i = 0; i < n; i++) {
                    double r = -1 + 2.0 * i / 4, g = j / 4.0, l = 2.0 * k / 4;
                    b.append(0.2 + 0.5 * r - 0.1 * g)
                            .append(' ')
                            .append(0.3 * l + g)
                            .append(' ')
                            .append(r + g + l)
                            .append('\n');
                }
        Cube c = cube(b.toString());
        Random rnd = new Random(6);
        float[] out = new float[3];
        for (int t = 0; t < 500; t++) {
            float r = -1 + 2 * rnd.nextFloat(), g = rnd.nextFloat(), l = 2 * rnd.nextFloat();
            c.at(r, g, l, out);
            assertThat(out[0]).isCloseTo(0.2f + 0.5f * r - 0.1f * g, within(1e-5f));
            assertThat(out[1]).isCloseTo(0.3f * l + g, within(1e-5f));
            assertThat(out[2]).isCloseTo(r + g + l, within(1e-5f));
        }
        c.at(-9, 9, 9, out);
        assertThat(out[2]).isCloseTo(2, within(1e-5f));
    }

    @Test
    void curvesGoChannelByChannel() throws IOException {
        float[] out = new float[3];
        cube("LUT_1D_SIZE 3\n0 0 1\n0.25 1 0.5\n1 2 0\n").at(0.75f, 0.25f, 0.5f, out);
        assertThat(out).containsExactly(0.625f, 0.5f, 0.5f);
    }

    @Test
    void whatIsNoTableIsSaid() {
        assertThatThrownBy(() -> cube("LUT_3D_SIZE 2\n0 0 0\n"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("1 of 8 entries");
        assertThatThrownBy(() -> cube("LUT_3D_SIZE 2000\n"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("size 2000");
        assertThatThrownBy(() -> cube("LUT_1D_SIZE 2\n0 0 0\n0 nan 1\n"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("line 3");
        assertThatThrownBy(() -> cube("hello\n")).isInstanceOf(BadInput.class).hasMessageContaining("line 1");
        assertThatThrownBy(() -> cube("")).isInstanceOf(BadInput.class).hasMessageContaining("no colour table");
    }
}

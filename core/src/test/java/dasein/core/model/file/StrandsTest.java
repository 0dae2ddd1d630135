package dasein.core.model.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.format.Glb;
import dasein.core.model.Model;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.node.ObjectNode;

/** Lines of a model as strands, strips and fans as triangles (glTF 2.0, 3.7.2.1). */
class StrandsTest {
    @TempDir
    Path folder;

    @Test
    void cornersInARowMakeTrianglesAndLines() {
        assertThat(Primitives.triangles(new int[] {0, 1, 2, 3, 4}, 5)).containsExactly(0, 1, 2, 1, 3, 2, 2, 3, 4);
        assertThat(Primitives.triangles(new int[] {7, 1, 2, 3}, 6)).containsExactly(7, 1, 2, 7, 2, 3);
        assertThat(Primitives.triangles(new int[] {0, 1, 2, 3}, 4)).containsExactly(0, 1, 2);
        assertThat(Primitives.lines(new int[] {0, 1, 1, 2, 5, 6}, 1))
                .containsExactly(new int[] {0, 1, 2}, new int[] {5, 6});
        assertThat(Primitives.lines(new int[] {0, 1, 2}, 2)).containsExactly(new int[] {0, 1, 2, 0});
        assertThat(Primitives.lines(new int[] {4}, 3)).isEmpty();
    }

    private Imported read(float[] radius) {
        Glb g = new Glb();
        ObjectNode mesh = g.object();
        ObjectNode prim = mesh.putArray("primitives").addObject(), at = prim.putObject("attributes");
        at.put("POSITION", g.floats(new float[] {0, 0, 0, 0, 1, 0, 0, 2, 0, 1, 2, 0}, "VEC3", 34962));
        at.put("TEXCOORD_0", g.floats(new float[] {0.1f, 0.2f, 0.3f, 0.4f, 0.5f, 0.6f, 0.7f, 0.8f}, "VEC2", 34962));
        if (radius != null) at.put("_RADIUS", g.floats(radius, "SCALAR", 34962));
        prim.put("mode", 3);
        g.add("meshes", mesh);
        g.add("nodes", g.object().put("mesh", 0));
        ObjectNode scene = g.object();
        scene.putArray("nodes").add(0);
        g.add("scenes", scene);
        Path p = folder.resolve("mane.glb");
        g.write(p);
        return ModelFile.read(java.util.List.of(p), ModelFile.Reading.GUESS).imported();
    }

    @Test
    void aLineIsATubeRoundIt() {
        Imported i = read(new float[] {0.01f, 0.01f, 0.01f, 0.002f});
        Model.Part p = i.model().parts().get(0);
        // Three lengths of three sides, two triangles each.
        assertThat(p.index()).hasSize(3 * 3 * 3 * 2);
        float[][] line = {{0, 0, 0}, {0, 1, 0}, {0, 2, 0}, {1, 2, 0}};
        for (int v = 0; v < p.vertices(); v++) {
            float[] on = line[v / 4];
            double x = p.position()[3 * v] - on[0],
                    y = p.position()[3 * v + 1] - on[1],
                    z = p.position()[3 * v + 2] - on[2];
            double r = Math.sqrt(x * x + y * y + z * z);
            assertThat(r).isCloseTo(v / 4 == 3 ? 0.002 : 0.01, within(1e-6));
            assertThat((x * p.normal()[3 * v] + y * p.normal()[3 * v + 1] + z * p.normal()[3 * v + 2]) / r)
                    .isCloseTo(1, within(1e-5));
            // Of the line in pictures, and along it by the second set.
            assertThat(p.uv()[2 * v]).isCloseTo(0.1f + v / 4 * 0.2f, within(1e-6f));
            assertThat(p.uv()[2 * p.vertices() + 2 * v + 1]).isCloseTo(v / 4 / 3f, within(1e-6f));
        }
        // Facets look outwards: with their corners counter-clockwise the normal agrees.
        for (int t = 0; t < p.index().length; t += 3) {
            float[] q = p.position();
            int a = 3 * p.index()[t], b = 3 * p.index()[t + 1], c = 3 * p.index()[t + 2];
            float ux = q[b] - q[a], uy = q[b + 1] - q[a + 1], uz = q[b + 2] - q[a + 2];
            float vx = q[c] - q[a], vy = q[c + 1] - q[a + 1], vz = q[c + 2] - q[a + 2];
            float d = 0;
            for (int k : new int[] {a, b, c})
                d += (uy * vz - uz * vy) * p.normal()[k]
                        + (uz * vx - ux * vz) * p.normal()[k + 1]
                        + (ux * vy - uy * vx) * p.normal()[k + 2];
            assertThat(d).isPositive();
        }
        assertThat(i.model().materials()[p.material()].layers().fine().strand()).isTrue();
        assertThat(i.remarks()).anyMatch(r -> r.contains("strands of hair"));
    }

    @Test
    void withoutARadiusItIsFineAndThinnerAtItsTip() {
        Model.Part p = read(null).model().parts().get(0);
        float[] q = p.position();
        assertThat(Math.hypot(q[0], q[2])).isCloseTo(1e-4, within(1e-7));
        int tip = 3 * (p.vertices() - 1);
        assertThat(Math.sqrt(Math.pow(q[tip] - 1, 2) + Math.pow(q[tip + 1] - 2, 2) + q[tip + 2] * q[tip + 2]))
                .isCloseTo(0.25e-4, within(1e-7));
    }

    @Test
    void radiiThatDoNotFitAreRefused() {
        assertThatThrownBy(() -> read(new float[] {0.01f, 0.01f}))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("radii");
    }
}

package dasein.core.model.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import java.util.Random;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** Outlines cut into triangles, and vertices gathered from corners with numbers of their own. */
class OutlineTest {
    /** Twice the area of an outline in the plane (the shoelace formula). */
    private static double twice(double[][] p) {
        double s = 0;
        for (int i = 0; i < p.length; i++) {
            double[] a = p[i], b = p[(i + 1) % p.length];
            s += a[0] * b[1] - b[0] * a[1];
        }
        return s;
    }

    private static void covers(double[][] outline, Quat turn) {
        int n = outline.length;
        float[] xyz = new float[3 * n];
        for (int i = 0; i < n; i++) {
            Vec3 p = turn.rotate(new Vec3(outline[i][0], outline[i][1], 0));
            xyz[3 * i] = (float) p.x();
            xyz[3 * i + 1] = (float) p.y();
            xyz[3 * i + 2] = (float) p.z();
        }
        int[] tri = Outline.triangles(xyz, IntStream.range(0, n).toArray());
        assertThat(tri.length).isEqualTo(3 * (n - 2));
        double sum = 0;
        for (int t = 0; t < tri.length; t += 3) {
            double one = twice(new double[][] {outline[tri[t]], outline[tri[t + 1]], outline[tri[t + 2]]});
            // None is turned over: together they cover the outline once, and nothing beside it.
            assertThat(one * Math.signum(twice(outline))).isGreaterThanOrEqualTo(-1e-9);
            sum += one;
        }
        assertThat(sum).isCloseTo(twice(outline), within(1e-6));
    }

    @Test
    void hollowOutlinesAreCoveredOnce() {
        double[][] arrow = {{0, 0}, {4, 0}, {4, 3}, {2, 1}, {0, 3}},
                comb = {{0, 0}, {7, 0}, {7, 4}, {6, 4}, {6, 1}, {4, 1}, {4, 4}, {3, 4}, {3, 1}, {1, 1}, {1, 4}, {0, 4}};
        for (Quat q : new Quat[] {
            Quat.IDENTITY,
            Quat.axisAngle(Vec3.X, 1.2),
            Quat.axisAngle(Vec3.Y, -1.4),
            Quat.axisAngle(new Vec3(1, 1, 1), 2)
        }) for (double[][] o : new double[][][] {arrow, comb, reversed(comb)}) covers(o, q);
    }

    private static double[][] reversed(double[][] p) {
        return IntStream.range(0, p.length).mapToObj(i -> p[p.length - 1 - i]).toArray(double[][]::new);
    }

    /** Stars about a middle are simple outlines, however ragged. */
    @Test
    void raggedOutlinesAreCoveredOnce() {
        Random r = new Random(8);
        for (int k = 0; k < 60; k++) {
            int n = 4 + r.nextInt(20);
            double[][] p = new double[n][];
            for (int i = 0; i < n; i++) {
                double a = 2 * Math.PI * i / n, far = 0.5 + 3 * r.nextDouble();
                p[i] = new double[] {far * Math.cos(a), far * Math.sin(a)};
            }
            covers(
                    p,
                    Quat.axisAngle(new Vec3(r.nextGaussian(), r.nextGaussian(), r.nextGaussian()), 3 * r.nextDouble()));
        }
    }

    @Test
    void anOutlineThatCrossesItselfStillEnds() {
        float[] bow = {0, 0, 0, 2, 2, 0, 2, 0, 0, 0, 2, 0};
        assertThat(Outline.triangles(bow, new int[] {0, 1, 2, 3})).hasSize(6);
        float[] point = new float[15];
        assertThat(Outline.triangles(point, new int[] {0, 1, 2, 3, 4})).hasSize(9);
    }

    /** Corners that agree in all three numbers are one vertex; those with another texture place are two. */
    @Test
    void cornersThatAgreeAreOneVertex() {
        MeshBuilder b = new MeshBuilder();
        assertThat(b.empty()).isTrue();
        int[][] corners = {{0, 0, -1}, {1, 0, -1}, {2, 0, -1}, {2, 1, -1}, {3, 0, -1}, {1, 0, -1}};
        for (int[] c : corners) b.add(c[0], c[1], c[2]);
        assertThat(b.places()).containsExactly(0, 1, 2, 2, 3);
        float[] xyz = {0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0}, uv = {0.1f, 0.2f, 0.7f, 0.8f};
        Model.Part p = b.part(0, 0, xyz, uv, new float[0], true);
        assertThat(p.vertices()).isEqualTo(5);
        assertThat(p.index()).containsExactly(0, 1, 2, 3, 4, 1);
        assertThat(p.uv()).startsWith(0.1f, 0.2f).contains(0.7f, 0.8f);
        // Two faces of one plane, one turned over: each of its own vertices has its face's normal.
        assertThat(p.normal()[2]).isEqualTo(1);
        assertThat(p.normal()[3 * 4 + 2]).isEqualTo(-1);
    }

    /** Normals weigh faces by their area: at a box's corner cut unevenly they still point outwards evenly. */
    @Test
    void smoothNormalsAreThoseOfTheFacesByArea() {
        float[] roof = {-1, 0, 0, -1, 0, 4, 0, 1, 0, 0, 1, 4, 1, 0, 0, 1, 0, 4};
        float[] n = MeshBuilder.smooth(roof, new int[] {0, 1, 2, 2, 1, 3, 2, 3, 4, 4, 3, 5});
        // Along the ridge they point straight up, since both sides are equal.
        for (int i : new int[] {2, 3}) {
            assertThat(n[3 * i]).isCloseTo(0, within(0.35f));
            assertThat(n[3 * i + 1]).isGreaterThan(0.9f);
        }
        double s = Math.sqrt(0.5);
        assertThat(n[0]).isCloseTo((float) -s, within(1e-6f));
        assertThat(n[1]).isCloseTo((float) s, within(1e-6f));
    }
}

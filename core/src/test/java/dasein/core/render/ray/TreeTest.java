package dasein.core.render.ray;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dasein.core.model.Material;
import dasein.core.model.Mesh;
import java.lang.management.ManagementFactory;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Trees against what every single triangle says. */
class TreeTest {
    private static final int RAYS = 4000;

    /** Triangles of all sizes in a cube of ten metres, some in one plane, some of no area; half of them may move. */
    private static Mesh soup(int n, boolean moves, long seed) {
        Random r = new Random(seed);
        float[] p = new float[9 * n], q = new float[9 * n];
        int[] index = new int[3 * n];
        for (int t = 0; t < n; t++) {
            double size = 0.1 * Math.pow(40, r.nextDouble());
            double[] middle = {10 * r.nextDouble() - 5, 10 * r.nextDouble() - 5, 10 * r.nextDouble() - 5};
            if (t % 7 == 0) middle[1] = -3;
            for (int k = 0; k < 9; k++) {
                p[9 * t + k] = (float) (middle[k % 3] + (t % 7 == 0 && k % 3 == 1 ? 0 : size * (r.nextDouble() - 0.5)));
                if (t % 31 == 0) p[9 * t + k] = (float) middle[k % 3];
                q[9 * t + k] = p[9 * t + k] + (k % 3 == 0 ? 0.3f : 0) + (float) (0.1 * r.nextDouble());
                index[k / 3 + 3 * t] = 3 * t + k / 3;
            }
        }
        return mesh(p, moves ? q : p, index);
    }

    private static Mesh mesh(float[] open, float[] close, int[] index) {
        float[] flat = new float[open.length];
        return new Mesh(
                open,
                close,
                flat,
                flat,
                new float[2 * open.length / 3],
                index,
                new int[index.length / 3],
                new Material[] {Material.matt(0.5f, 0.5f, 0.5f)},
                1,
                Mesh.Role.PERFORMER);
    }

    private static float[][] rays(int n, long seed) {
        Random r = new Random(seed);
        float[][] out = new float[n][6];
        for (float[] f : out) {
            for (int k = 0; k < 3; k++) {
                f[k] = (float) (14 * r.nextDouble() - 7);
                f[3 + k] = (float) r.nextGaussian();
            }
            // Along an axis, and within the plane of many triangles.
            if (r.nextInt(10) == 0) f[3] = f[5] = 0;
            if (r.nextInt(10) == 0) f[4] = 0;
        }
        return out;
    }

    /** The nearest by the definition: Möller and Trumbore over all, in double precision. */
    private static double nearest(Mesh m, float[] ray, double s) {
        double best = Double.POSITIVE_INFINITY;
        for (int t = 0; t < m.triangles(); t++) {
            double[] a = new double[9];
            for (int k = 0; k < 9; k++) {
                int i = 3 * m.index()[3 * t + k / 3] + k % 3;
                a[k] = m.position0()[i] + s * (m.position1()[i] - (double) m.position0()[i]);
            }
            double[] e = {a[3] - a[0], a[4] - a[1], a[5] - a[2]}, f = {a[6] - a[0], a[7] - a[1], a[8] - a[2]};
            double px = ray[4] * f[2] - ray[5] * f[1],
                    py = ray[5] * f[0] - ray[3] * f[2],
                    pz = ray[3] * f[1] - ray[4] * f[0];
            double det = e[0] * px + e[1] * py + e[2] * pz;
            if (det == 0) continue;
            double tx = ray[0] - a[0], ty = ray[1] - a[1], tz = ray[2] - a[2];
            double u = (tx * px + ty * py + tz * pz) / det;
            double qx = ty * e[2] - tz * e[1], qy = tz * e[0] - tx * e[2], qz = tx * e[1] - ty * e[0];
            double v = (ray[3] * qx + ray[4] * qy + ray[5] * qz) / det, d = (f[0] * qx + f[1] * qy + f[2] * qz) / det;
            if (u >= 0 && v >= 0 && u + v <= 1 && d > 0 && d < best) best = d;
        }
        return best;
    }

    private static boolean hit(Tracer t, float[] r, float s) {
        return t.nearest(r[0], r[1], r[2], r[3], r[4], r[5], 1e30f, s, 0.5f);
    }

    private static List<Boolean> kinds() {
        return Vectors.THERE ? List.of(true, false) : List.of(false);
    }

    @Test
    void everyRayFindsWhatAllTrianglesSay() {
        for (boolean vectors : kinds())
            for (boolean moves : new boolean[] {false, true}) {
                Mesh m = soup(600, moves, 3);
                Tracer t = Tracer.of(List.of(m), vectors);
                int off = 0, hits = 0;
                for (float[] r : rays(RAYS, 4)) {
                    float s = moves ? 0.37f : 0;
                    double want = nearest(m, r, s);
                    boolean hit = hit(t, r, s);
                    if (hit) hits++;
                    boolean same = hit ? Math.abs(t.t - want) < 1e-4 * Math.max(1, want) : Double.isInfinite(want);
                    // Edges are met or missed by the last bit.
                    if (!same) off++;
                    assertThat(t.blocked(r[0], r[1], r[2], r[3], r[4], r[5], 1e30f, s, 0.5f, null))
                            .isEqualTo(hit);
                }
                assertThat(hits).isBetween(RAYS / 8, RAYS - 50);
                assertThat(off).as("vectors %s, moves %s", vectors, moves).isLessThanOrEqualTo(1);
            }
    }

    /** Neither lets a ray through that the other stops, and both name the same triangle. */
    @Test
    void withAndWithoutVectorsTheSameIsHit() {
        assumeTrue(Vectors.THERE, "this Java has no vectors");
        Random r = new Random(8);
        Mesh still = soup(3000, false, 5), moving = soup(500, true, 6);
        float[] open = new float[12 * 40], close = new float[12 * 40];
        for (int i = 0; i < 40; i++)
            for (int k = 0; k < 3; k++) {
                open[12 * i + 5 * k] = close[12 * i + 5 * k] = 0.2f;
                open[12 * i + 4 * k + 3] = (float) (12 * r.nextDouble() - 6);
                close[12 * i + 4 * k + 3] = open[12 * i + 4 * k + 3] + 0.1f;
            }
        List<Mesh> all = List.of(still, moving, soup(200, false, 7).with(new Mesh.Copies(open, close, new int[40])));
        Tracer a = Tracer.of(all, true), b = Tracer.of(all, false);
        int hits = 0, copies = 0, other = 0;
        for (float[] ray : rays(20000, 9)) {
            float s = r.nextFloat();
            boolean x = hit(a, ray, s), y = hit(b, ray, s);
            if (x != y || x && (a.mesh != b.mesh || a.copy != b.copy || a.triangle != b.triangle)) other++;
            else if (x) assertThat(a.t).isCloseTo(b.t, within(1e-4f * Math.max(1, b.t)));
            if (x) hits++;
            if (x && a.mesh == 2) copies++;
            assertThat(a.blocked(ray[0], ray[1], ray[2], ray[3], ray[4], ray[5], 3, s, 0.5f, null))
                    .isEqualTo(b.blocked(ray[0], ray[1], ray[2], ray[3], ray[4], ray[5], 3, s, 0.5f, null));
        }
        assertThat(hits).isGreaterThan(5000);
        assertThat(copies).isGreaterThan(300);
        // Two at one distance, to the bit.
        assertThat(other).isLessThan(5);
    }

    /** A grid seen along its seams: the triangle test loses one in thousands there, boxes lose no more. */
    @Test
    void noRayPassesThroughASeam() {
        int n = 24;
        float[] p = new float[3 * (n + 1) * (n + 1)];
        for (int i = 0; i <= n; i++)
            for (int j = 0; j <= n; j++) {
                p[3 * (i * (n + 1) + j)] = (i - n / 2) * 1.37f;
                p[3 * (i * (n + 1) + j) + 1] = (float) (0.3 * Math.sin(i) * Math.cos(j));
                p[3 * (i * (n + 1) + j) + 2] = (j - n / 2) * 1.37f;
            }
        List<Integer> f = new ArrayList<>();
        for (int i = 0; i < n; i++)
            for (int j = 0; j < n; j++) {
                int a = i * (n + 1) + j, b = a + 1, c = a + n + 1, d = c + 1;
                f.addAll(List.of(a, b, c, b, d, c));
            }
        Mesh grid = mesh(p, p, f.stream().mapToInt(Integer::intValue).toArray());
        for (boolean vectors : kinds()) {
            Tracer t = Tracer.of(List.of(grid), vectors);
            Random r = new Random(2);
            int through = 0;
            for (int k = 0; k < 20000; k++) {
                // Over a corner or an edge of the grid.
                float x = (r.nextInt(n - 2) + 1 - n / 2) * 1.37f,
                        z =
                                r.nextBoolean()
                                        ? (r.nextInt(n - 2) + 1 - n / 2) * 1.37f
                                        : (float) ((r.nextDouble() - 0.5) * (n - 2) * 1.37);
                float ox = (float) (20 * r.nextGaussian()), oz = (float) (20 * r.nextGaussian());
                if (!t.nearest(ox, 30, oz, x - ox, -30, z - oz, 1e30f, 0, 0.5f)) through++;
            }
            assertThat(through).as("vectors %s", vectors).isLessThan(10);
        }
    }

    /** A tree that moved along with its triangles finds what one built anew finds. */
    @Test
    void aDeformedMeshIsFoundWhereItIs() {
        Mesh was = soup(2000, false, 11);
        float[] p = was.position0().clone();
        for (int i = 0; i < p.length; i += 3) {
            double turn = 0.3 * p[i + 1], x = p[i], z = p[i + 2];
            p[i] = (float) (x * Math.cos(turn) - z * Math.sin(turn));
            p[i + 2] = (float) (x * Math.sin(turn) + z * Math.cos(turn));
        }
        float[] close = p.clone();
        for (int i = 0; i < p.length; i += 3) close[i + 1] += 0.05f;
        Mesh now = mesh(p, close, was.index());
        Tree refitted = Tree.of(was, Vectors.THERE).moved(now);
        assertThat(refitted).isNotNull();
        Tracer.of(List.of(was));
        Tracer t = Tracer.of(List.of(now));
        int off = 0;
        for (float[] r : rays(RAYS, 12)) {
            double want = nearest(now, r, 0.8);
            boolean hit = hit(t, r, 0.8f);
            if (hit ? Math.abs(t.t - want) > 1e-4 * Math.max(1, want) : !Double.isInfinite(want)) off++;
        }
        assertThat(off).isLessThanOrEqualTo(1);
        // Torn apart: no tree of where it was helps.
        float[] torn = p.clone();
        Random r = new Random(4);
        for (int i = 0; i < torn.length; i += 9) {
            float by = 40 * r.nextFloat();
            for (int k = 0; k < 9; k++) torn[i + k] += by;
        }
        Mesh apart = mesh(torn, torn, was.index());
        assertThat(Tree.of(was, Vectors.THERE).moved(apart)).isNull();
    }

    @Test
    void nothingAndOneAreTreesToo() {
        for (boolean vectors : kinds())
            for (int n : new int[] {0, 1, 8, 9}) {
                Mesh m = soup(n, false, 13);
                Tracer t = Tracer.of(List.of(m), vectors);
                for (float[] r : rays(200, 14))
                    assertThat(hit(t, r, 0)).isEqualTo(!Double.isInfinite(nearest(m, r, 0)));
            }
    }

    /** Ever smaller steps towards a corner make no tree that is too deep to walk. */
    @Test
    void aRopeOfTrianglesIsWalked() {
        int n = 4000;
        float[] p = new float[9 * n];
        int[] index = new int[3 * n];
        for (int t = 0; t < n; t++) {
            float x = (float) Math.pow(0.99, t);
            float[] c = {x, 0, 0, x, 0.01f, 0, x, 0, 0.01f};
            System.arraycopy(c, 0, p, 9 * t, 9);
            for (int k = 0; k < 3; k++) index[3 * t + k] = 3 * t + k;
        }
        Mesh m = mesh(p, p, index);
        for (boolean vectors : kinds()) {
            Tracer t = Tracer.of(List.of(m), vectors);
            assertThat(t.nearest(-1, 0.002f, 0.002f, 1, 0, 0, 1e30f, 0, 0.5f)).isTrue();
            assertThat(t.nearest(2, 0.002f, 0.002f, -1, 0, 0, 1e30f, 0, 0.5f)).isTrue();
            assertThat(t.t).isCloseTo(1, within(1e-5f));
        }
    }

    /**
     * Once compiled, a ray leaves nothing on the heap; in a Java of its own, as it renders: where trees of both kinds
     * are walked side by side, Java 17 gives up on vectors. Its compiler does so by chance, too, in one start of six
     * here (some 450 bytes a ray); a newer one in none of dozens.
     */
    @Test
    void aRayTakesNoMemory() throws Exception {
        double bytes = alone();
        for (int again = 0; again < 3 && bytes > 0.1 && Runtime.version().feature() < 21; again++)
            bytes = Math.min(bytes, alone());
        // The measuring itself takes some hundred bytes.
        assertThat(bytes).as("bytes a ray").isLessThan(0.1);
    }

    private static double alone() throws Exception {
        List<String> command =
                new ArrayList<>(List.of(System.getProperty("java.home") + "/bin/java", "-XX:+UseParallelGC"));
        if (Vectors.THERE) command.addAll(List.of("--add-modules", "jdk.incubator.vector"));
        command.addAll(List.of("-cp", System.getProperty("java.class.path"), Alone.class.getName()));
        Process p = new ProcessBuilder(command).start();
        String said = new String(p.getInputStream().readAllBytes());
        assertThat(p.waitFor()).isZero();
        return Double.parseDouble(said.trim());
    }

    /** Prints bytes a ray. */
    static final class Alone {
        public static void main(String[] args) {
            Tracer t = Tracer.of(List.of(soup(2000, false, 21), soup(500, true, 22)));
            float[][] rays = rays(20000, 23);
            var threads = (com.sun.management.ThreadMXBean) ManagementFactory.getThreadMXBean();
            long me = Thread.currentThread().getId(), least = Long.MAX_VALUE;
            for (int round = 0; round < 40; round++) {
                long before = threads.getThreadAllocatedBytes(me);
                for (float[] r : rays) {
                    hit(t, r, 0.4f);
                    t.blocked(r[0], r[1], r[2], r[3], r[4], r[5], 5, 0.4f, 0.5f, null);
                }
                least = Math.min(least, threads.getThreadAllocatedBytes(me) - before);
            }
            System.out.println((double) least / rays.length);
        }
    }
}

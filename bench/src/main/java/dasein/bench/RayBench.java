package dasein.bench;

import dasein.core.math.Sobol;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;
import java.io.BufferedReader;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.ForkJoinPool;

/**
 * Single rays on one thread, and the trees they need, over a million triangles: a terrain with boulders. Rays of a
 * camera, one bounce of each, and one to a sun. The same rays through Embree, when its bench could be built.
 */
final class RayBench {
    private static final int GRID = 512, BOULDERS = 320, WIDE = 1280, HIGH = 720;
    private static final float[] SUN = {0.67f, 0.61f, 0.43f};

    private final float[] v;
    private final int[] index;
    private final Map<String, float[]> rays = new HashMap<>();

    /** @param peer the other's program; null to measure ours alone */
    static void run(Path peer) throws Exception {
        RayBench b = new RayBench();
        Map<String, double[]> theirs = peer == null ? Map.of() : b.theirs(peer);
        double[] built = b.builds();
        System.out.printf("%,d triangles%n", b.index.length / 3);
        line("tree, one thread, s", built[0], theirs.get("build1"), false);
        line("tree, two threads, s", built[1], theirs.get("build2"), false);
        System.out.printf("moved along by 1 cm, a triangle in ten: %.1f ms a 100,000 triangles%n", 1e3 * built[2]);
        Tracer t = Tracer.of(List.of(b.mesh(b.v)));
        for (String set : List.of("primary", "bounce", "shadow")) {
            double[] mine = cast(t, b.rays.get(set), set.equals("shadow"));
            double[] other = theirs.get(set);
            line(set + ", million rays a second", mine[0], other, true);
            if (other != null && Math.abs(other[1] - mine[1]) > 1e-4 * other[1] + 2)
                System.out.printf("  hits differ: %.0f against %.0f%n", mine[1], other[1]);
        }
    }

    private static void line(String what, double mine, double[] other, boolean rate) {
        if (other == null) System.out.printf("%-32s %.3f%n", what, mine);
        else
            System.out.printf(
                    "%-32s %.3f   Embree %.3f   %s %.2f%n",
                    what, mine, other[0], rate ? "ratio" : "times", mine / other[0]);
    }

    private RayBench() {
        List<float[]> parts = new ArrayList<>();
        List<int[]> faces = new ArrayList<>();
        float[] ground = new float[3 * (GRID + 1) * (GRID + 1)];
        for (int i = 0; i <= GRID; i++)
            for (int j = 0; j <= GRID; j++) {
                int at = 3 * (i * (GRID + 1) + j);
                float x = 100f * j / GRID - 50, z = 100f * i / GRID - 50;
                ground[at] = x;
                ground[at + 1] = height(x, z);
                ground[at + 2] = z;
            }
        parts.add(ground);
        faces.add(grid(GRID, GRID));
        Random r = new Random(11);
        for (int k = 0; k < BOULDERS; k++) boulder(r, k < 20 ? 64 : 28, parts, faces);
        int nv = 0, nf = 0, atV = 0, atF = 0;
        for (float[] p : parts) nv += p.length;
        for (int[] f : faces) nf += f.length;
        v = new float[nv];
        index = new int[nf];
        for (int k = 0; k < parts.size(); k++) {
            int base = atV / 3;
            System.arraycopy(parts.get(k), 0, v, atV, parts.get(k).length);
            atV += parts.get(k).length;
            for (int f : faces.get(k)) index[atF++] = base + f;
        }
        cameras();
    }

    private static float height(double x, double z) {
        double h = 0, a = 3.2, f = 0.09;
        for (int o = 0; o < 7; o++) {
            h += a * Math.sin(f * x + 1.7 * o) * Math.cos(f * z * 1.13 - 0.9 * o);
            a *= 0.5;
            f *= 2.03;
        }
        return (float) h;
    }

    private static int[] grid(int rows, int columns) {
        int[] out = new int[6 * rows * columns];
        int at = 0;
        for (int i = 0; i < rows; i++)
            for (int j = 0; j < columns; j++) {
                int a = i * (columns + 1) + j, b = a + 1, c = a + columns + 1;
                for (int k : new int[] {a, c, b, b, c, c + 1}) out[at++] = k;
            }
        return out;
    }

    private static void boulder(Random r, int n, List<float[]> parts, List<int[]> faces) {
        double x = 92 * r.nextDouble() - 46,
                z = 92 * r.nextDouble() - 46,
                size = 0.3 + 1.6 * r.nextDouble() * r.nextDouble(),
                y = height(x, z) + 0.5 * size,
                p0 = 6 * r.nextDouble(),
                p1 = 6 * r.nextDouble();
        float[] p = new float[3 * (n + 1) * (n + 1)];
        for (int i = 0; i <= n; i++)
            for (int j = 0; j <= n; j++) {
                double a = Math.PI * i / n, b = 2 * Math.PI * j / n;
                double dx = Math.sin(a) * Math.cos(b), dy = Math.cos(a), dz = Math.sin(a) * Math.sin(b);
                double d = size * (1 + 0.15 * Math.sin(5 * dx + p0) * Math.sin(5 * dy + p1) + 0.1 * Math.sin(9 * dz));
                int at = 3 * (i * (n + 1) + j);
                p[at] = (float) (x + d * dx);
                p[at + 1] = (float) (y + d * dy);
                p[at + 2] = (float) (z + d * dz);
            }
        parts.add(p);
        faces.add(grid(n, n));
    }

    private Mesh mesh(float[] at) {
        float[] flat = new float[at.length];
        return new Mesh(
                at,
                at,
                flat,
                flat,
                new float[2 * at.length / 3],
                index,
                new int[index.length / 3],
                new Material[] {Material.matt(0.5f, 0.5f, 0.5f)},
                1,
                Mesh.Role.PERFORMER);
    }

    private void cameras() {
        Tracer t = Tracer.of(List.of(mesh(v)));
        float[] primary = new float[8 * WIDE * HIGH], bounce = primary.clone(), shadow = primary.clone();
        float ex = 4, ey = height(4, 47) + 4.5f, ez = 47;
        Sobol rnd = new Sobol();
        int n = 0;
        for (int i = 0; i < WIDE * HIGH; i++) {
            float x = (i % WIDE + 0.5f - WIDE / 2f) / (HIGH * 1.2f),
                    y = (HIGH / 2f - i / WIDE - 0.5f) / (HIGH * 1.2f) - 0.25f,
                    l = (float) Math.sqrt(x * x + y * y + 1);
            float[] d = {x / l, y / l, -1 / l};
            put(primary, i, ex, ey, ez, d);
            if (!t.nearest(ex, ey, ez, d[0], d[1], d[2], 1e30f, 0, 0)) continue;
            float[] normal = normal(t.triangle);
            float side = normal[0] * d[0] + normal[1] * d[1] + normal[2] * d[2] > 0 ? -1 : 1;
            for (int k = 0; k < 3; k++) normal[k] *= side;
            float px = ex + t.t * d[0] + 2e-3f * normal[0],
                    py = ey + t.t * d[1] + 2e-3f * normal[1],
                    pz = ez + t.t * d[2] + 2e-3f * normal[2];
            put(shadow, n, px, py, pz, SUN);
            rnd.start(i, 3);
            rnd.next();
            // The normal and a point on the unit sphere: a cosine lobe.
            double z = 2 * rnd.u - 1, round = 2 * Math.PI * rnd.v, flat = Math.sqrt(1 - z * z);
            double[] m = {normal[0] + flat * Math.cos(round), normal[1] + flat * Math.sin(round), normal[2] + z};
            double len = Math.max(1e-6, Math.sqrt(m[0] * m[0] + m[1] * m[1] + m[2] * m[2]));
            put(bounce, n++, px, py, pz, new float[] {(float) (m[0] / len), (float) (m[1] / len), (float) (m[2] / len)
            });
        }
        rays.put("primary", primary);
        rays.put("bounce", java.util.Arrays.copyOf(bounce, 8 * n));
        rays.put("shadow", java.util.Arrays.copyOf(shadow, 8 * n));
    }

    private static void put(float[] to, int i, float x, float y, float z, float[] d) {
        float[] r = {x, y, z, 0, d[0], d[1], d[2], 1e30f};
        System.arraycopy(r, 0, to, 8 * i, 8);
    }

    private float[] normal(int t) {
        int a = 3 * index[3 * t], b = 3 * index[3 * t + 1], c = 3 * index[3 * t + 2];
        float[] e = new float[3], f = new float[3];
        for (int k = 0; k < 3; k++) {
            e[k] = v[b + k] - v[a + k];
            f[k] = v[c + k] - v[a + k];
        }
        float[] n = {e[1] * f[2] - e[2] * f[1], e[2] * f[0] - e[0] * f[2], e[0] * f[1] - e[1] * f[0]};
        float l = (float) Math.max(1e-20, Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]));
        for (int k = 0; k < 3; k++) n[k] /= l;
        return n;
    }

    /** Million rays a second, and hits; the best of ten. */
    private static double[] cast(Tracer t, float[] r, boolean any) {
        double best = 0;
        int hits = 0;
        for (int k = 0; k < 10; k++) {
            hits = 0;
            long from = System.nanoTime();
            for (int i = 0; i < r.length; i += 8) {
                boolean hit = any
                        ? t.blocked(r[i], r[i + 1], r[i + 2], r[i + 4], r[i + 5], r[i + 6], 1e30f, 0, 0, null)
                        : t.nearest(r[i], r[i + 1], r[i + 2], r[i + 4], r[i + 5], r[i + 6], 1e30f, 0, 0);
                if (hit) hits++;
            }
            best = Math.max(best, r.length / 8 * 1e3 / (System.nanoTime() - from));
        }
        return new double[] {best, hits};
    }

    /** Seconds for a tree on one thread and on all; seconds to move one of 100,000 triangles along. */
    private double[] builds() throws Exception {
        double one = 1e9, all = 1e9, moved = 1e9;
        ForkJoinPool alone = new ForkJoinPool(1);
        for (int k = 0; k < 8; k++) {
            // Neither places nor triangles are known: built from nothing.
            RayBench again = new RayBench(v.clone(), index.clone());
            long t = System.nanoTime();
            Tracer.of(List.of(again.mesh(again.v)));
            all = Math.min(all, (System.nanoTime() - t) / 1e9);
            RayBench third = new RayBench(v.clone(), index.clone());
            t = System.nanoTime();
            alone.submit(() -> Tracer.of(List.of(third.mesh(third.v)))).get();
            one = Math.min(one, (System.nanoTime() - t) / 1e9);
            float[] on = v.clone();
            for (int i = 0; i < on.length; i += 30) on[i] += 0.01f;
            t = System.nanoTime();
            Tracer.of(List.of(again.mesh(on)));
            moved = Math.min(moved, (System.nanoTime() - t) / 1e9 * 300_000 / index.length);
        }
        alone.shutdown();
        return new double[] {one, all, moved};
    }

    private RayBench(float[] v, int[] index) {
        this.v = v;
        this.index = index;
    }

    private Map<String, double[]> theirs(Path program) throws IOException, InterruptedException {
        Path dir = Files.createTempDirectory("rays");
        ByteBuffer b = ByteBuffer.allocate(4 * v.length).order(ByteOrder.LITTLE_ENDIAN);
        b.asFloatBuffer().put(v);
        Files.write(dir.resolve("vertices.bin"), b.array());
        b = ByteBuffer.allocate(4 * index.length).order(ByteOrder.LITTLE_ENDIAN);
        b.asIntBuffer().put(index);
        Files.write(dir.resolve("index.bin"), b.array());
        for (Map.Entry<String, float[]> r : rays.entrySet()) {
            b = ByteBuffer.allocate(4 * r.getValue().length).order(ByteOrder.LITTLE_ENDIAN);
            b.asFloatBuffer().put(r.getValue());
            Files.write(dir.resolve(r.getKey() + ".bin"), b.array());
        }
        Process p = new ProcessBuilder(program.toString(), dir.toString())
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
        Map<String, double[]> out = new HashMap<>();
        try (BufferedReader in = p.inputReader()) {
            in.lines()
                    .map(l -> l.split(" "))
                    .forEach(l -> out.put(l[0], new double[] {Double.parseDouble(l[1]), Double.parseDouble(l[2])}));
        }
        if (p.waitFor() != 0) throw new IOException("the other bench ended with " + p.exitValue());
        try (var files = Files.list(dir)) {
            for (Path f : files.toList()) Files.delete(f);
        }
        Files.delete(dir);
        return out;
    }
}

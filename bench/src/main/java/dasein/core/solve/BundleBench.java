package dasein.core.solve;

import dasein.core.lens.Lens;
import dasein.core.math.Quat;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;

/**
 * Bundle adjustment beside a general least-squares library, on problems of known truth laid out as those of Agarwal et
 * al. (2010) but for the lens, which all cameras of a shot share: a camera that walks past a cloud of points, noise of
 * half a pixel, squared error, the same disturbed start, two threads.
 */
public final class BundleBench {
    private static final double FOCAL = 1500, K1 = -0.05, NOISE = 0.5;
    /** So wide that the robust loss is the squared error to eight digits. */
    private static final double SQUARED = 1e5;

    private BundleBench() {}

    private record Problem(Rigid[] cams, double[][] points, int[] cam, int[] point, double[] x, double[] y) {}

    /** @param library the compiled bench of the library, or null where it is not there */
    public static void run(Path library) throws IOException, InterruptedException {
        System.out.println("\nBundle adjustment, seconds; final cost is the sum of squared errors");
        for (int[] size : new int[][] {{150, 2_000, 40}, {150, 10_000, 30}, {500, 20_000, 40}}) {
            Problem p = problem(size[0], size[1], size[2]);
            System.out.printf(
                    "%d cameras, %,d points, %,d observations%n", p.cams.length, p.points.length, p.cam.length);
            for (int run = 0; run < 2; run++) ours(p, run == 0 ? "Dasein, cold" : "Dasein, warm");
            if (library != null) theirs(p, library);
        }
    }

    private static void ours(Problem p, String name) {
        Rigid[] cams = p.cams.clone();
        double[][] points = new double[p.points.length][];
        for (int i = 0; i < points.length; i++) points[i] = unit(p.points[i]);
        Bundle b = new Bundle(
                cams,
                points,
                new Lens(0.97 * FOCAL, 0, 0, 0, 0),
                p.cam,
                p.point,
                p.x,
                p.y,
                Bundle.Free.of(Bundle.FOCAL, Bundle.K1));
        long t = System.nanoTime();
        double cost = b.solve(60, SQUARED, 1e-6);
        System.out.printf("  %-18s %7.2f   cost %.2f%n", name, (System.nanoTime() - t) / 1e9, cost);
    }

    private static void theirs(Problem p, Path library) throws IOException, InterruptedException {
        Path file = Files.createTempFile("bundle", ".txt");
        try {
            try (PrintWriter w = new PrintWriter(Files.newBufferedWriter(file))) {
                w.printf("%d %d %d%n", p.cams.length, p.points.length, p.cam.length);
                for (int i = 0; i < p.cam.length; i++)
                    w.printf(Locale.ROOT, "%d %d %.17g %.17g%n", p.cam[i], p.point[i], p.x[i], p.y[i]);
                for (Rigid c : p.cams) {
                    Quat q = Quat.fromMatrix(c.r);
                    double n = Math.sqrt(q.x() * q.x() + q.y() * q.y() + q.z() * q.z()),
                            k = n < 1e-12 ? 2 : 2 * Math.atan2(n, q.w()) / n;
                    double[] t = Rigid.apply(c.r, -c.c[0], -c.c[1], -c.c[2]);
                    w.printf(
                            Locale.ROOT,
                            "%.17g %.17g %.17g %.17g %.17g %.17g%n",
                            k * q.x(),
                            k * q.y(),
                            k * q.z(),
                            t[0],
                            t[1],
                            t[2]);
                }
                w.printf(Locale.ROOT, "%.17g 0%n", 0.97 * FOCAL);
                for (double[] q : p.points) w.printf(Locale.ROOT, "%.17g %.17g %.17g%n", q[0], q[1], q[2]);
            }
            Process run = new ProcessBuilder(library.toString(), file.toString())
                    .redirectError(ProcessBuilder.Redirect.DISCARD)
                    .start();
            try (BufferedReader r = new BufferedReader(new InputStreamReader(run.getInputStream()))) {
                for (String line; (line = r.readLine()) != null; ) {
                    String[] s = line.split(";");
                    System.out.printf(
                            "  %-18s %7.2f   cost %s, %s steps%n", s[0], Double.parseDouble(s[1]), s[3], s[2]);
                }
            }
            run.waitFor();
        } finally {
            Files.deleteIfExists(file);
        }
    }

    /** @param seen frames through which the median point stays in view */
    private static Problem problem(int frames, int count, int seen) {
        Random random = new Random(7);
        Rigid[] truth = new Rigid[frames];
        for (int f = 0; f < frames; f++)
            truth[f] = Rigid.identity()
                    .moved(
                            0.02 * Math.sin(0.09 * f),
                            0.06 * Math.sin(0.04 * f),
                            0.01 * Math.sin(0.2 * f),
                            0.05 * f,
                            0.02 * Math.sin(0.3 * f),
                            0.01 * f);
        List<int[]> at = new ArrayList<>();
        List<double[]> pixel = new ArrayList<>(), points = new ArrayList<>();
        while (points.size() < count) {
            int middle = random.nextInt(frames), half = seen / 2 + random.nextInt(seen / 2 + 1);
            double z = 4 + 12 * random.nextDouble(),
                    x = (random.nextDouble() - 0.5) * z,
                    y = (random.nextDouble() - 0.5) * 0.6 * z;
            double[] c = truth[middle].c, p = {c[0] + x, c[1] + y, c[2] + z, 1};
            List<int[]> a = new ArrayList<>();
            List<double[]> e = new ArrayList<>();
            for (int f = Math.max(0, middle - half); f <= Math.min(frames - 1, middle + half); f++) {
                double[] q = truth[f].toCamera(p);
                double u = q[0] / q[2], v = q[1] / q[2], d = 1 + K1 * (u * u + v * v);
                if (q[2] < 0.5 || Math.abs(u) > 0.64 || Math.abs(v) > 0.36) continue;
                a.add(new int[] {f, points.size()});
                e.add(new double[] {
                    FOCAL * d * u + NOISE * random.nextGaussian(), FOCAL * d * v + NOISE * random.nextGaussian()
                });
            }
            if (a.size() < 4) continue;
            at.addAll(a);
            pixel.addAll(e);
            points.add(p);
        }
        Rigid[] start = new Rigid[frames];
        for (int f = 0; f < frames; f++)
            start[f] = truth[f].moved(
                    g(random, 0.003),
                    g(random, 0.003),
                    g(random, 0.003),
                    g(random, 0.02),
                    g(random, 0.02),
                    g(random, 0.02));
        double[][] first = points.stream()
                .map(p -> new double[] {p[0] + g(random, 0.1), p[1] + g(random, 0.1), p[2] + g(random, 0.3), 1})
                .toArray(double[][]::new);
        return new Problem(
                start,
                first,
                at.stream().mapToInt(a -> a[0]).toArray(),
                at.stream().mapToInt(a -> a[1]).toArray(),
                pixel.stream().mapToDouble(e -> e[0]).toArray(),
                pixel.stream().mapToDouble(e -> e[1]).toArray());
    }

    private static double g(Random r, double deviation) {
        return deviation * r.nextGaussian();
    }

    private static double[] unit(double[] p) {
        double n = Math.sqrt(p[0] * p[0] + p[1] * p[1] + p[2] * p[2] + p[3] * p[3]);
        return new double[] {p[0] / n, p[1] / n, p[2] / n, p[3] / n};
    }
}

package dasein.bench;

import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.lens.RayGrid;
import dasein.core.lens.View;
import dasein.core.math.Vec3;
import dasein.core.plate.Plate;
import dasein.core.render.PassesRecipe;
import dasein.core.render.Quality;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.IntStream;

/**
 * The filter over frames: its time, the error it leaves against very many samples, and how much what is rendered
 * flickers on the ground beside the plate's own grain.
 */
final class OverBench {
    private static final double SIZE = 0.7;
    private static final int REFERENCE = 1024, LOOKED_AT = 5, REACH = 2;

    private OverBench() {}

    static void run(ShotScene scene, Shot shot, Plate plate, int middle) throws Exception {
        PassesRecipe r = shot.passes();
        Quality q = r.quality();
        int first = middle - LOOKED_AT / 2 - REACH, last = middle + LOOKED_AT / 2 + REACH;
        Map<Integer, Passes> one = new TreeMap<>(), over = new TreeMap<>(), raw = new HashMap<>();
        // The compiler has its time before anything is counted.
        scene.render(shot, middle, plate.frame(middle), SIZE, q, Progress.NONE);
        long t = System.nanoTime();
        for (int f = first; f <= last; f++) {
            Passes p = scene.render(shot, f, plate.frame(f), SIZE, q, Progress.NONE);
            one.put(f, p);
            raw.put(f, p.raw);
        }
        double rendering = (System.nanoTime() - t) / 1e9 / one.size();
        filtered(scene, shot, middle, REACH, raw);
        t = System.nanoTime();
        for (int f = first + REACH; f <= last - REACH; f++) over.put(f, filtered(scene, shot, f, REACH, raw));
        double filtering = (System.nanoTime() - t) / 1e9 / over.size();
        Passes any = one.get(middle);
        System.out.printf(
                "%d x %d, %d to %d samples, noise %.0f %%: %.2f s a frame, filtered over %d frames in %.2f s%n",
                any.width,
                any.height,
                q.minSamples(),
                q.maxSamples(),
                100 * q.noise(),
                rendering,
                2 * REACH + 1,
                filtering);
        Passes truth = scene.render(
                shot,
                middle,
                plate.frame(middle),
                SIZE,
                new Quality(REFERENCE, REFERENCE, 0, r.bounces(), false),
                Progress.NONE);
        System.out.printf(
                "%-28s %10s %8s %8s %8s%n", "error against " + REFERENCE, "performer", "edge", "shadow", "given");
        line("one frame", any, truth);
        for (int reach = 1; reach <= REACH; reach++)
            line("over " + (2 * reach + 1) + " frames", filtered(scene, shot, middle, reach, raw), truth);
        flicker(scene, plate, middle, one, over);
    }

    private static Passes filtered(ShotScene scene, Shot shot, int f, int reach, Map<Integer, Passes> raw) {
        List<Integer> window =
                IntStream.rangeClosed(f - reach, f + reach).boxed().toList();
        return scene.filtered(shot, f, window, raw::get, SIZE, Progress.NONE);
    }

    private static void line(String name, Passes p, Passes truth) {
        double[] e = CurveBench.errors(p, truth);
        System.out.printf("%-28s %10.4f %8.4f %8.4f %8.4f%n", name, e[0], e[1], e[2], e[3]);
    }

    /**
     * What is rendered of shadow on places of the ground, and the plate there, followed through the frames: second
     * differences over the root of six are the deviation of what moves evenly else.
     */
    private static void flicker(
            ShotScene scene, Plate plate, int middle, Map<Integer, Passes> one, Map<Integer, Passes> over) {
        Passes at = one.get(middle);
        float[] depth = at.raw.of(PassList.GROUND)[0];
        View v = scene.view(middle, SIZE);
        RayGrid rays = new RayGrid(v.lens(), at.width, at.height);
        Map<Integer, Image> plates = new HashMap<>();
        for (int f : over.keySet()) plates.put(f, plate.frame(f).resize(at.width, at.height));
        List<Double> grain = new ArrayList<>(), alone = new ArrayList<>(), with = new ArrayList<>();
        float[] looks = new float[6];
        for (int i = 0; i < depth.length; i += 3) {
            if (!(depth[i] > 0) || at.shadow[1][i] > 0.98) continue;
            rays.at(i % at.width + 0.5f, i / at.width + 0.5f, looks);
            Vec3 place = v.at(0.5).toWorld(new Vec3(looks[0] * depth[i], looks[1] * depth[i], -(double) depth[i]));
            double level = plates.get(middle).planes[1][i];
            double[] s = new double[3];
            int n = 0;
            for (int f = middle - 1; f <= middle + 1; f++, n++) {
                double[] p = scene.view(f, SIZE).project(place);
                if (p == null || p[0] < 1 || p[1] < 1 || p[0] > at.width - 1 || p[1] > at.height - 1) break;
                double k = n == 1 ? -2 : 1;
                if (new Image(at.width, at.height, one.get(f).alpha).sample(p[0], p[1], 0) > 0) break;
                s[0] += k * plates.get(f).sample(p[0], p[1], 1);
                s[1] += k * level * new Image(at.width, at.height, one.get(f).shadow).sample(p[0], p[1], 1);
                s[2] += k * level * new Image(at.width, at.height, over.get(f).shadow).sample(p[0], p[1], 1);
            }
            if (n < 3) continue;
            grain.add(s[0]);
            alone.add(s[1]);
            with.add(s[2]);
        }
        double g = spread(grain);
        System.out.printf(
                "flicker of shadow on %,d places of the ground, of the plate's grain (%.4f of linear light): one frame "
                        + "%.2f, over frames %.2f; median of all places %.2f and %.2f%n",
                grain.size(),
                g,
                spread(alone) / g,
                spread(with) / g,
                median(alone) / median(grain),
                median(with) / median(grain));
    }

    private static double spread(List<Double> v) {
        return Math.sqrt(v.stream().mapToDouble(x -> x * x).average().orElse(0) / 6);
    }

    private static double median(List<Double> v) {
        double[] a = v.stream().mapToDouble(Math::abs).sorted().toArray();
        return a.length == 0 ? 0 : a[a.length / 2];
    }
}

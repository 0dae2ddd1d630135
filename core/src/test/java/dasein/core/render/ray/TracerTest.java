package dasein.core.render.ray;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.math.Sobol;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Rays against what can be counted without a tree, and against the product of what layers let through. */
class TracerTest {
    private static final int RAYS = 40_000;

    private static Mesh sheet(double z, float alpha) {
        float h = 5, at = (float) z;
        float[] p = {-h, -h, at, h, -h, at, h, h, at, -h, h, at}, n = {0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1};
        return new Mesh(
                p,
                p,
                n,
                n,
                new float[8],
                new int[] {0, 1, 2, 0, 2, 3},
                new int[2],
                new Material[] {clear(alpha)},
                1,
                Mesh.Role.PERFORMER);
    }

    static Material clear(float alpha) {
        return new Material(
                "clear", new float[] {1, 1, 1, alpha}, null, 0, 1, null, null, 1, new float[3], null, 0, true, true);
    }

    /** Light through one layer after the other is the product of what each lets through (Beer's law of thin layers). */
    @Test
    void layersLetThroughTheProductOfWhatEachDoes() {
        for (float[] alphas : new float[][] {{0.5f}, {0.5f, 0.5f}, {0.3f, 0.5f, 0.2f}, {0.5f, 0.5f, 0.5f, 0.5f}}) {
            List<Mesh> all = new ArrayList<>();
            double through = 1;
            for (int i = 0; i < alphas.length; i++) {
                all.add(sheet(-1 - i, alphas[i]));
                through *= 1 - alphas[i];
            }
            Tracer t = Tracer.of(all);
            Sobol rnd = new Sobol();
            int left = 0;
            for (int i = 0; i < RAYS; i++) {
                rnd.start(i, 11);
                rnd.next();
                float x = 4 * rnd.u - 2, y = 4 * rnd.v - 2;
                rnd.next();
                if (!t.blocked(x, y, 0, 0, 0, -1, 100, 0, rnd.v, null)) left++;
            }
            assertThat((double) left / RAYS).as("%d layers", alphas.length).isCloseTo(through, within(0.01));
        }
    }

    /** What lets a ray through must not tell whether it goes on: roulette uses the same number. */
    @Test
    void aLayerKnowsNothingOfTheNumberItIsAskedWith() {
        Tracer t = Tracer.of(List.of(sheet(-1, 0.5f)));
        Random r = new Random(3);
        int low = 0, lowThrough = 0;
        for (int i = 0; i < RAYS; i++) {
            float chance = r.nextFloat();
            if (chance >= 0.25f) continue;
            low++;
            if (!t.blocked(1, 0.5f, 0, 0, 0, -1, 100, 0, chance, null)) lowThrough++;
        }
        assertThat((double) lowThrough / low).isCloseTo(0.5, within(0.02));
    }

    @Test
    void theTreeFindsWhatLookingAtEveryTriangleFinds() {
        Random r = new Random(8);
        int n = 600;
        float[] p = new float[9 * n];
        int[] index = new int[3 * n];
        for (int i = 0; i < n; i++) {
            float[] c = {4 * r.nextFloat() - 2, 4 * r.nextFloat() - 2, 4 * r.nextFloat() - 2};
            for (int k = 0; k < 9; k++) p[9 * i + k] = c[k % 3] + 0.6f * (r.nextFloat() - 0.5f);
            for (int k = 0; k < 3; k++) index[3 * i + k] = 3 * i + k;
        }
        Mesh m = new Mesh(
                p,
                p,
                new float[9 * n],
                new float[9 * n],
                new float[6 * n],
                index,
                new int[n],
                new Material[] {Material.matt(0.5f, 0.5f, 0.5f)},
                1,
                Mesh.Role.PERFORMER);
        Tracer t = Tracer.of(List.of(m));
        int hits = 0, grazed = 0;
        for (int k = 0; k < 2000; k++) {
            Vec3 o = new Vec3(6 * r.nextDouble() - 3, 6 * r.nextDouble() - 3, 6 * r.nextDouble() - 3),
                    d = new Vec3(r.nextGaussian(), r.nextGaussian(), r.nextGaussian()).unit();
            double nearest = Double.POSITIVE_INFINITY;
            for (int i = 0; i < n; i++) nearest = Math.min(nearest, meets(o, d, p, 9 * i));
            boolean hit = t.nearest(
                    (float) o.x(),
                    (float) o.y(),
                    (float) o.z(),
                    (float) d.x(),
                    (float) d.y(),
                    (float) d.z(),
                    1e30f,
                    0,
                    0);
            // A ray through an edge may fall on either side in single precision.
            if (hit != Double.isFinite(nearest)) {
                grazed++;
                continue;
            }
            if (!hit) continue;
            hits++;
            assertThat((double) t.t).isCloseTo(nearest, within(1e-3 * Math.max(1, nearest)));
        }
        assertThat(hits).isGreaterThan(300);
        assertThat(grazed).isLessThan(4);
    }

    /** Plane, then inside of it by the three edges: not the test the tracer uses. */
    private static double meets(Vec3 o, Vec3 d, float[] p, int at) {
        Vec3 a = new Vec3(p[at], p[at + 1], p[at + 2]),
                b = new Vec3(p[at + 3], p[at + 4], p[at + 5]),
                c = new Vec3(p[at + 6], p[at + 7], p[at + 8]),
                n = b.minus(a).cross(c.minus(a));
        double t = n.dot(a.minus(o)) / n.dot(d);
        if (!(t > 0)) return Double.POSITIVE_INFINITY;
        Vec3 q = o.plus(d.times(t));
        boolean in = b.minus(a).cross(q.minus(a)).dot(n) >= 0
                && c.minus(b).cross(q.minus(b)).dot(n) >= 0
                && a.minus(c).cross(q.minus(c)).dot(n) >= 0;
        return in ? t : Double.POSITIVE_INFINITY;
    }
}

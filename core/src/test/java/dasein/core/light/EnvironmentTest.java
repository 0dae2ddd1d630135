package dasein.core.light;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Image;
import dasein.core.math.Vec3;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** A map as a light, against closed forms of the light of even skies. */
class EnvironmentTest {
    private static Image even(float v) {
        Image m = new Image(64, 32, 3);
        for (float[] p : m.planes) java.util.Arrays.fill(p, v);
        return m;
    }

    private static Image random() {
        Image m = new Image(64, 32, 3);
        Random r = new Random(3);
        for (float[] p : m.planes) for (int i = 0; i < p.length; i++) p[i] = r.nextFloat() * r.nextFloat();
        // A small sun.
        for (float[] p : m.planes) p[8 * 64 + 20] = 200;
        return m;
    }

    private static Vec3 direction(Random r) {
        return new Vec3(r.nextGaussian(), r.nextGaussian(), r.nextGaussian()).unit();
    }

    /** Under an even sky of radiance L every surface gets pi L; under its upper half a wall gets half of that. */
    @Test
    void evenSkiesGiveWhatTheyMust() {
        Environment whole = new Environment(even(0.5f), 0, 2);
        for (Vec3 n : new Vec3[] {Vec3.Y, Vec3.X, Vec3.Z, new Vec3(1, -2, 0.5).unit()})
            assertThat(whole.irradiance(n)[1]).isCloseTo((float) Math.PI, within(0.01f));
        Image half = even(1);
        for (float[] p : half.planes) for (int i = 16 * 64; i < p.length; i++) p[i] = 0;
        Environment upper = new Environment(half, 0, 1);
        assertThat(upper.irradiance(Vec3.Y)[0]).isCloseTo((float) Math.PI, within(0.02f));
        assertThat(upper.irradiance(Vec3.X)[0]).isCloseTo((float) Math.PI / 2, within(0.02f));
        assertThat(upper.irradiance(Vec3.Y.times(-1))[0]).isCloseTo(0, within(1e-4f));
    }

    @Test
    void itsDensityIsOne() {
        for (Image m : new Image[] {even(1), random()}) {
            Environment e = new Environment(m, 0.7, 1);
            double sum = 0;
            int n = 400;
            for (int j = 0; j < n; j++)
                for (int i = 0; i < 2 * n; i++) {
                    Vec3 d = Environment.fromUv((i + 0.5) / (2 * n), (j + 0.5) / n);
                    double solid = (Math.cos(Math.PI * j / n) - Math.cos(Math.PI * (j + 1) / n)) * Math.PI / n;
                    sum += e.density((float) d.x(), (float) d.y(), (float) d.z()) * solid;
                }
            assertThat(sum).isCloseTo(1, within(0.003));
        }
    }

    /** Directions come with the density that they are asked for by, and estimate the sky's light without bias. */
    @Test
    void drawnDirectionsEstimateTheWhole() {
        Image m = random();
        Environment e = new Environment(m, -0.4, 1.5);
        Random r = new Random(9);
        float[] d = new float[6], l = new float[3];
        double sum = 0;
        int n = 60_000;
        for (int k = 0; k < n; k++) {
            e.sample(r.nextFloat(), r.nextFloat(), d);
            assertThat(Math.abs(d[0] * d[0] + d[1] * d[1] + d[2] * d[2] - 1)).isLessThan(1e-4f);
            if (k % 97 == 0) assertThat(e.density(d[0], d[1], d[2])).isCloseTo(d[3], within(0.2f * d[3]));
            e.radiance(d[0], d[1], d[2], l);
            if (d[1] > 0) sum += l[1] * d[1] / d[3] / n;
        }
        // By summing over the map, bilinearly, as radiance reads it.
        double want = 0;
        int h = 512;
        for (int j = 0; j < h / 2; j++)
            for (int i = 0; i < 2 * h; i++) {
                Vec3 v = Environment.fromUv((i + 0.5) / (2 * h), (j + 0.5) / h);
                double solid = (Math.cos(Math.PI * j / h) - Math.cos(Math.PI * (j + 1) / h)) * Math.PI / h;
                e.radiance((float) v.x(), (float) v.y(), (float) v.z(), l);
                want += l[1] * v.y() * solid;
            }
        assertThat(sum).isCloseTo(want, within(0.02 * want));
    }

    @Test
    void placesOnTheMapAndDirectionsAreTheSame() {
        Random r = new Random(2);
        for (int k = 0; k < 200; k++) {
            Vec3 d = direction(r);
            double[] uv = Environment.toUv(d);
            assertThat(Environment.fromUv(uv[0], uv[1]).distance(d)).isLessThan(1e-9);
        }
        // The middle column is straight ahead, -Z; a quarter to the right of it is +X.
        assertThat(Environment.fromUv(0.5, 0.5).distance(Vec3.Z.times(-1))).isLessThan(1e-12);
        assertThat(Environment.fromUv(0.75, 0.5).distance(Vec3.X)).isLessThan(1e-12);
    }

    /** Turned by a quarter, what was ahead comes from +X; the level is a factor. */
    @Test
    void aTurnMovesTheMapAndTheLevelScalesIt() {
        Image m = even(0);
        for (float[] p : m.planes) for (int y = 14; y < 18; y++) for (int x = 31; x < 33; x++) p[y * 64 + x] = 5;
        float[] a = new float[3], b = new float[3];
        new Environment(m, 0, 1).radiance(0, 0, -1, a);
        new Environment(m, Math.PI / 2, 3).radiance(1, 0, 0, b);
        assertThat(a[0]).isCloseTo(5, within(1e-3f));
        assertThat(b[0]).isCloseTo(15, within(1e-2f));
        new Environment(m, Math.PI / 2, 3).radiance(0, 0, -1, b);
        assertThat(b[0]).isCloseTo(0, within(1e-3f));
    }

    @Test
    void aBlackMapIsNoLightAndBreaksNothing() {
        Environment e = new Environment(even(0), 0, 1);
        float[] d = new float[6];
        e.sample(0.3f, 0.6f, d);
        for (float v : d) assertThat(v).isFinite();
        assertThat(e.irradiance(Vec3.Y)[0]).isZero();
    }
}

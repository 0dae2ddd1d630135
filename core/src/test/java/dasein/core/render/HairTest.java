package dasein.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.math.Sobol;
import dasein.core.math.Vec3;
import org.junit.jupiter.api.Test;

/** What a strand does with light: what must be conserved, and where its lobes lie. */
class HairTest {
    private static final float[] WHITE = {0.9999f, 0.9999f, 0.9999f};

    private static Vec3 view(double along, double round) {
        double flat = Math.sqrt(1 - along * along);
        return new Vec3(along, flat * Math.cos(round), flat * Math.sin(round));
    }

    private static Hair at(Vec3 v, double roughness, float[] colour) {
        Hair h = new Hair();
        double flat = Math.hypot(v.y(), v.z());
        h.at((float) v.x(), (float) v.y(), (float) v.z(), (float) (v.z() / flat), (float) roughness, colour);
        return h;
    }

    /** All light that falls in comes out again (white furnace, Pharr et al.; within 5 % there), at ten roughnesses. */
    @Test
    void furnace() {
        Sobol random = new Sobol();
        for (int k = 1; k <= 10; k++) {
            double sum = 0, even = 0, density = 0;
            int n = 4000;
            for (int i = 0; i < n; i++) {
                random.start(i, 17);
                random.next();
                // The strand is seen from everywhere across it, so that all of its width counts.
                Hair h = at(view(1.2 * random.u - 0.6, Math.asin(1.98 * random.v - 0.99)), k / 10.0, WHITE);
                random.next();
                float u = random.u, v = random.v;
                random.next();
                h.sample(u, v, random.u);
                sum += h.f[1] / h.pdf;
                double z = 1 - 2 * random.v, flat = Math.sqrt(1 - z * z), phi = 2 * Math.PI * u;
                h.evaluate((float) z, (float) (flat * Math.cos(phi)), (float) (flat * Math.sin(phi)));
                even += h.f[1] * 4 * Math.PI;
                density += h.pdf * 4 * Math.PI;
            }
            assertThat(sum / n).as("drawn, at %.1f", k / 10.0).isCloseTo(1, within(0.03));
            if (k < 3) continue;
            assertThat(even / n).as("by even directions, at %.1f", k / 10.0).isCloseTo(1, within(0.08));
            assertThat(density / n).as("density, at %.1f", k / 10.0).isCloseTo(1, within(0.08));
        }
    }

    /** Seen along its middle, light from behind comes straight through, and light from the side of the viewer back. */
    @Test
    void lobesLieWhereTheyShould() {
        Hair h = at(view(0, 0), 0.2, new float[] {0.8f, 0.5f, 0.3f});
        h.evaluate(0, -1, 0);
        float through = h.f[0], blue = h.f[2];
        h.evaluate(0, 0, 1);
        float aside = h.f[0];
        float lean = (float) Math.sin(2 * Math.toRadians(2));
        h.evaluate(lean, 1, 0);
        float tip = h.f[0] - h.fInner[0];
        h.evaluate(-lean, 1, 0);
        float root = h.f[0] - h.fInner[0];
        assertThat(through).isGreaterThan(5 * aside);
        // What has been within is coloured, what the surface throws back is not.
        assertThat(blue).isLessThan(0.97f * through);
        assertThat(h.f[2] - h.fInner[2]).isCloseTo(root, within(1e-4f));
        // Scales lie like tiles, edges towards the tip (Marschner et al. 2003): what they throw back leans to the root.
        assertThat(root).isGreaterThan(1.1f * tip);
    }

    /** Swallowing what the colour says: more in a dark strand, by colour, and never more than came in. */
    @Test
    void coloursAreKept() {
        Sobol random = new Sobol();
        double[] sum = new double[3];
        for (int i = 0; i < 4000; i++) {
            random.start(i, 3);
            random.next();
            Hair h = at(view(0.2, Math.asin(1.98 * random.v - 0.99)), 0.3, new float[] {0.7f, 0.3f, 0.05f});
            random.next();
            float u = random.u, v = random.v;
            random.next();
            h.sample(u, v, random.u);
            for (int c = 0; c < 3; c++) sum[c] += h.f[c] / h.pdf / 4000;
        }
        assertThat(sum[0]).isLessThan(1).isGreaterThan(sum[1]);
        assertThat(sum[1]).isGreaterThan(sum[2]);
    }
}

package dasein.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.junit.jupiter.api.Test;

/** The microfacet model against integrals that any such model must meet (Heitz 2014, sections 2 and 5). */
class GgxTest {
    private static final float[] ALPHAS = {0.05f, 0.2f, 0.5f, 1};
    private static final int STEPS = 600;

    private interface Of {
        double at(double z, double phi);
    }

    /**
     * Over the upper hemisphere, midpoint rule in z and phi; finer near the pole, where a smooth surface has its peak.
     */
    private static double hemisphere(Of f) {
        double sum = 0;
        int around = 96;
        for (int i = 0; i < STEPS; i++) {
            // z = 1 - t^3 puts most of the steps beside the normal; dz = 3 t^2 dt.
            double t = (i + 0.5) / STEPS, z = 1 - t * t * t, dz = 3 * t * t / STEPS;
            for (int k = 0; k < around; k++)
                sum += f.at(z, 2 * Math.PI * (k + 0.5) / around) * dz * 2 * Math.PI / around;
        }
        return sum;
    }

    /** Microfacets, seen from straight above, cover their ground once. */
    @Test
    void facetsCoverTheirGround() {
        for (float alpha : ALPHAS)
            assertThat(hemisphere((z, phi) -> Ggx.distribution((float) z, alpha) * z))
                    .as("alpha " + alpha)
                    .isCloseTo(1, within(0.005));
    }

    /** Seen from aside, the facets that are visible cover what the surface itself covers: cos of the view. */
    @Test
    void visibleFacetsCoverWhatTheSurfaceDoes() {
        for (float alpha : ALPHAS) {
            for (float vz : new float[] {0.95f, 0.6f, 0.25f}) {
                double vx = Math.sqrt(1 - vz * vz);
                double covered = hemisphere((z, phi) -> {
                    double s = Math.sqrt(1 - z * z), vh = vx * s * Math.cos(phi) + vz * z;
                    return Ggx.distribution((float) z, alpha) * Ggx.g1(vz, alpha) * Math.max(0, vh);
                });
                assertThat(covered).as("alpha " + alpha + ", view " + vz).isCloseTo(vz, within(0.01));
            }
        }
    }

    /** A histogram of sampled normals is the density of visible ones: D(h) G1 max(v.h, 0) / v.z. */
    @Test
    void normalsAreDrawnAsTheyAreSeen() {
        float alpha = 0.45f, vz = 0.5f, vx = (float) Math.sqrt(1 - vz * vz);
        int n = 400_000, bins = 8;
        double[] drawn = new double[bins], want = new double[bins];
        Random r = new Random(3);
        float[] h = new float[3];
        for (int k = 0; k < n; k++) {
            Ggx.visibleNormal(vx, 0, vz, alpha, alpha, r.nextFloat(), r.nextFloat(), h);
            assertThat((double) h[0] * h[0] + h[1] * h[1] + h[2] * h[2]).isCloseTo(1, within(1e-4));
            drawn[Math.min(bins - 1, (int) (bins * h[2]))] += 1.0 / n;
        }
        hemisphere((z, phi) -> {
            double s = Math.sqrt(1 - z * z), vh = vx * s * Math.cos(phi) + vz * z, t = Math.cbrt(1 - z);
            want[Math.min(bins - 1, (int) (bins * z))] += Ggx.distribution((float) z, alpha)
                    * Ggx.g1(vz, alpha)
                    * Math.max(0, vh)
                    / vz
                    * 3
                    * t
                    * t
                    / STEPS
                    * 2
                    * Math.PI
                    / 96;
            return 0;
        });
        for (int i = 0; i < bins; i++) assertThat(drawn[i]).as("bin " + i).isCloseTo(want[i], within(0.004));
    }

    /** Smith's masking: 1 straight above, 0 at the horizon, falling between; both together never more than either. */
    @Test
    void maskingFallsTowardsTheHorizon() {
        for (float alpha : ALPHAS) {
            assertThat(Ggx.g1(1, alpha)).isCloseTo(1, within(1e-6f));
            assertThat(Ggx.g1(1e-4f, alpha)).isLessThan(0.01f);
            float last = 0;
            for (float z = 0.02f; z <= 1; z += 0.02f) {
                float g = Ggx.g1(z, alpha);
                assertThat(g).isGreaterThanOrEqualTo(last);
                last = g;
                for (float y = 0.1f; y <= 1; y += 0.3f) {
                    assertThat(Ggx.g2(z, y, alpha)).isLessThanOrEqualTo(Math.min(g, Ggx.g1(y, alpha)) + 1e-6f);
                    assertThat(Ggx.g2(z, y, alpha)).isCloseTo(Ggx.g2(y, z, alpha), within(1e-6f));
                }
            }
        }
    }

    /** The albedo table against the integral it stands for, by another way of summing: over directions of light. */
    @Test
    void theTableIsTheAlbedoOfOneScattering() {
        for (float roughness : new float[] {0.3f, 0.55f, 0.8f}) {
            for (float vz : new float[] {0.9f, 0.5f, 0.2f}) {
                float alpha = Ggx.alphaOf(roughness);
                double vx = Math.sqrt(1 - vz * vz);
                double f0 = 0.04;
                double want = hemisphere((z, phi) -> {
                    // Over half vectors: dl = 4 (v.h) dh.
                    double s = Math.sqrt(1 - z * z), vh = vx * s * Math.cos(phi) + vz * z, lz = 2 * vh * z - vz;
                    if (vh <= 0 || lz <= 0) return 0;
                    double f = f0 + (1 - f0) * Math.pow(1 - vh, 5);
                    return Ggx.distribution((float) z, alpha) * Ggx.g2(vz, (float) lz, alpha) * f * vh / vz;
                });
                double table = f0 * Ggx.scale(vz, roughness) + Ggx.bias(vz, roughness);
                assertThat(table).as("roughness " + roughness + ", view " + vz).isCloseTo(want, within(0.006));
            }
        }
    }

    /** One scattering loses energy and never makes any; a smooth surface loses next to none. */
    @Test
    void albedoIsAtMostOne() {
        for (float roughness = 0.05f; roughness <= 1; roughness += 0.05f)
            for (float vz = 0.05f; vz <= 1; vz += 0.05f)
                assertThat(Ggx.scale(vz, roughness) + Ggx.bias(vz, roughness)).isBetween(0.3f, 1.0005f);
        assertThat(Ggx.scale(0.8f, 0.05f) + Ggx.bias(0.8f, 0.05f)).isGreaterThan(0.98f);
        assertThat(Ggx.scale(0.8f, 1) + Ggx.bias(0.8f, 1)).isLessThan(0.75f);
    }
}

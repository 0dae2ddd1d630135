package dasein.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.junit.jupiter.api.Test;

/** Cloth's edge of light (Estevez and Kulla 2017), against its own integrals by another way of summing. */
class SheenTest {
    private static float half(double vx, double vz, double lx, double ly, double lz) {
        double hx = vx + lx, hz = vz + lz;
        return (float) (hz / Math.sqrt(hx * hx + ly * ly + hz * hz));
    }

    /** The distribution covers the ground of its fibres once: its integral times the cosine is 1. */
    @Test
    void fibresCoverTheirGround() {
        for (float roughness : new float[] {0.3f, 0.6f, 1}) {
            double sum = 0, inv = 1 / (roughness * roughness);
            int n = 4000;
            for (int i = 0; i < n; i++) {
                double z = (i + 0.5) / n, sin = Math.sqrt(1 - z * z);
                // D = (2 + 1/a) sin^(1/a) / 2 pi, as the paper gives it.
                sum += (2 + inv) * Math.pow(sin, inv) / (2 * Math.PI) * z * 2 * Math.PI / n;
            }
            assertThat(sum).isCloseTo(1, within(1e-3));
            // The same density is in what we use: value times its visibility's denominator.
            float vz = 0.6f, lz = 0.5f, hz = 0.7f;
            double d = (2 + inv) * Math.pow(Math.sqrt(1 - hz * hz), inv) / (2 * Math.PI);
            assertThat(Sheen.value(hz, vz, lz, roughness) * 4 * (lz + vz - lz * vz))
                    .isCloseTo((float) d, within(1e-4f));
        }
    }

    /** By random directions, evenly over the hemisphere. */
    @Test
    void theTableIsWhatComesBackOfEvenLight() {
        Random r = new Random(5);
        for (float roughness : new float[] {0.34f, 0.59f, 0.84f}) {
            for (float vz : new float[] {0.28f, 0.53f, 0.91f}) {
                double vx = Math.sqrt(1 - vz * vz), sum = 0;
                int n = 400_000;
                for (int k = 0; k < n; k++) {
                    double lz = r.nextDouble(), phi = 2 * Math.PI * r.nextDouble(), s = Math.sqrt(1 - lz * lz);
                    sum += Sheen.value(
                                    half(vx, vz, s * Math.cos(phi), s * Math.sin(phi), lz), vz, (float) lz, roughness)
                            * lz
                            * 2
                            * Math.PI
                            / n;
                }
                assertThat(Sheen.albedo(vz, roughness))
                        .as("roughness " + roughness + ", view " + vz)
                        .isCloseTo((float) sum, within(0.03f));
            }
        }
    }

    /** Light is the same both ways, brightest at the edge, and never more than comes in. */
    @Test
    void itIsAnEdgeAndMakesNoLight() {
        for (float roughness = 0.1f; roughness <= 1; roughness += 0.15f) {
            float last = 2;
            for (float vz = 0.1f; vz <= 1; vz += 0.15f) {
                float a = Sheen.albedo(vz, roughness);
                assertThat(a).isBetween(0f, 1f);
                assertThat(a).as("towards the middle it fades").isLessThanOrEqualTo(last + 0.02f);
                last = a;
            }
            assertThat(Sheen.value(0.8f, 0.3f, 0.7f, roughness))
                    .isCloseTo(Sheen.value(0.8f, 0.7f, 0.3f, roughness), within(1e-5f));
        }
    }
}

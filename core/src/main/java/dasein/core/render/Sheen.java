package dasein.core.render;

/**
 * Cloth's edge of light in a local frame with the normal along z: the "Charlie" distribution (Estevez and Kulla 2017)
 * with the visibility that KHR_materials_sheen allows, and a table of how much of even light it returns.
 */
final class Sheen {
    private static final int N = 16, RINGS = 64, SPOKES = 64;
    private static final float LEAST = 0.07f;
    private static final float[] ALBEDO = new float[N * N];

    static {
        for (int j = 0; j < N; j++) {
            for (int i = 0; i < N; i++) {
                float vz = (i + 0.5f) / N, vx = (float) Math.sqrt(1 - vz * vz);
                double sum = 0;
                for (int a = 0; a < RINGS; a++) {
                    // Even in z, so each direction stands for the same solid angle.
                    float lz = (a + 0.5f) / RINGS, flat = (float) Math.sqrt(1 - lz * lz);
                    for (int b = 0; b < SPOKES; b++) {
                        float lx = flat * (float) Math.cos(Math.PI * (b + 0.5) / SPOKES),
                                ly = flat * (float) Math.sin(Math.PI * (b + 0.5) / SPOKES);
                        float hx = lx + vx, hz = lz + vz;
                        sum += value(hz / (float) Math.sqrt(hx * hx + ly * ly + hz * hz), vz, lz, (j + 0.5f) / N) * lz;
                    }
                }
                ALBEDO[j * N + i] = (float) Math.min(1, 2 * Math.PI * sum / (RINGS * SPOKES));
            }
        }
    }

    private Sheen() {}

    /** Of a sheen of colour 1, without the cosine. */
    static float value(float hz, float vz, float lz, float roughness) {
        float inv = 1 / Math.max(LEAST * LEAST, roughness * roughness),
                sin = (float) Math.sqrt(Math.max(0, 1 - hz * hz));
        float d = (2 + inv) * (float) Math.pow(sin, inv) / (float) (2 * Math.PI);
        return d / (4 * (lz + vz - lz * vz));
    }

    static float albedo(float cos, float roughness) {
        return Ggx.look(ALBEDO, N, cos, roughness);
    }
}

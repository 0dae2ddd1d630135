package dasein.core.render;

/**
 * GGX microfacets in a local frame with the normal along z. Smith height-correlated masking (Heitz 2014), visible
 * normals by spherical caps (Dupuy and Benyoub 2023, equivalent to Heitz 2018), and tables of directional albedo for
 * the energy that single scattering loses (Turquin 2019).
 */
final class Ggx {
    private static final int N = 32;
    private static final int SAMPLES = 512;
    /** Schlick's split of the albedo: F0 * A + B, by view cosine and roughness. */
    private static final float[] A = new float[N * N];

    private static final float[] B = new float[N * N];

    static {
        float[] h = new float[3];
        for (int j = 0; j < N; j++) {
            float alpha = alphaOf((j + 0.5f) / N);
            for (int i = 0; i < N; i++) {
                float vz = (i + 0.5f) / N, vx = (float) Math.sqrt(1 - vz * vz);
                double a = 0, b = 0;
                for (int k = 0; k < SAMPLES; k++) {
                    visibleNormal(vx, 0, vz, alpha, alpha, (k + 0.5f) / SAMPLES, radicalInverse(k), h);
                    float vh = vx * h[0] + vz * h[2], lz = 2 * vh * h[2] - vz;
                    if (lz <= 0) continue;
                    double g = g2(vz, lz, alpha) / g1(vz, alpha), f = Math.pow(1 - vh, 5);
                    a += g * (1 - f);
                    b += g * f;
                }
                A[j * N + i] = (float) (a / SAMPLES);
                B[j * N + i] = (float) (b / SAMPLES);
            }
        }
    }

    private Ggx() {}

    private static float radicalInverse(int k) {
        return (Integer.reverse(k) >>> 8) * 0x1p-24f;
    }

    static float alphaOf(float roughness) {
        return Math.max(roughness * roughness, 1e-3f);
    }

    static float distribution(float hz, float alpha) {
        float a2 = alpha * alpha, d = hz * hz * (a2 - 1) + 1;
        return a2 / ((float) Math.PI * d * d);
    }

    /** Of facets that are as wide as ax along x, ay along y. */
    static float distribution(float hx, float hy, float hz, float ax, float ay) {
        float x = hx / ax, y = hy / ay, d = x * x + y * y + hz * hz;
        return 1 / ((float) Math.PI * ax * ay * d * d);
    }

    static float lambda(float x, float y, float z, float ax, float ay) {
        return 0.5f * ((float) Math.sqrt(1 + (ax * ax * x * x + ay * ay * y * y) / (z * z)) - 1);
    }

    static float lambda(float z, float alpha) {
        float z2 = z * z;
        return 0.5f * ((float) Math.sqrt(1 + alpha * alpha * (1 - z2) / z2) - 1);
    }

    static float g1(float vz, float alpha) {
        return 1 / (1 + lambda(vz, alpha));
    }

    static float g2(float vz, float lz, float alpha) {
        return 1 / (1 + lambda(vz, alpha) + lambda(lz, alpha));
    }

    static void visibleNormal(float vx, float vy, float vz, float ax, float ay, float u, float v, float[] h) {
        float sx = ax * vx, sy = ay * vy, inv = 1 / (float) Math.sqrt(sx * sx + sy * sy + vz * vz);
        sx *= inv;
        sy *= inv;
        float sz = vz * inv,
                z = (1 - v) * (1 + sz) - sz,
                sin = (float) Math.sqrt(Math.max(0, 1 - z * z)),
                phi = (float) (2 * Math.PI) * u;
        float hx = (sin * (float) Math.cos(phi) + sx) * ax,
                hy = (sin * (float) Math.sin(phi) + sy) * ay,
                hz = Math.max(z + sz, 1e-6f);
        inv = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
        h[0] = hx * inv;
        h[1] = hy * inv;
        h[2] = hz * inv;
    }

    /** Between the entries of a table of n by n, whose rows are roughnesses. */
    static float look(float[] table, int n, float cos, float roughness) {
        float x = Math.max(0, Math.min(n - 1.001f, cos * n - 0.5f)),
                y = Math.max(0, Math.min(n - 1.001f, roughness * n - 0.5f));
        int i = (int) x, j = (int) y;
        float a = x - i, b = y - j;
        int p = j * n + i;
        return (table[p] * (1 - a) + table[p + 1] * a) * (1 - b) + (table[p + n] * (1 - a) + table[p + n + 1] * a) * b;
    }

    static float scale(float cos, float roughness) {
        return look(A, N, cos, roughness);
    }

    static float bias(float cos, float roughness) {
        return look(B, N, cos, roughness);
    }
}

package dasein.shoot;

import dasein.core.math.Sobol;

/**
 * Seeded gradient-free noise for painting: value noise, its octaves, ridges and cells. All results roughly in [0, 1].
 */
final class Noise {
    private Noise() {}

    static float hash(int x, int y, int seed) {
        return (Sobol.hash(x * 0x9e3779b1 ^ Sobol.hash(y * 0x85ebca77 + seed)) >>> 8) * 0x1p-24f;
    }

    /** Smooth value noise; repeats every {@code period} cells. */
    static float value(double x, double y, int period, int seed) {
        int x0 = (int) Math.floor(x), y0 = (int) Math.floor(y);
        float a = (float) (x - x0), b = (float) (y - y0);
        a = a * a * a * (a * (a * 6 - 15) + 10);
        b = b * b * b * (b * (b * 6 - 15) + 10);
        int xa = Math.floorMod(x0, period),
                xb = Math.floorMod(x0 + 1, period),
                ya = Math.floorMod(y0, period),
                yb = Math.floorMod(y0 + 1, period);
        float p = hash(xa, ya, seed), q = hash(xb, ya, seed), r = hash(xa, yb, seed), s = hash(xb, yb, seed);
        return (p + (q - p) * a) * (1 - b) + (r + (s - r) * a) * b;
    }

    /** Sum of octaves from {@code cells} upwards over the unit square, tiling. */
    static float octaves(double u, double v, int cells, int n, int seed) {
        float sum = 0, amp = 0.5f, total = 0;
        for (int i = 0; i < n; i++, cells *= 2, amp *= 0.55f) {
            sum += amp * value(u * cells, v * cells, cells, seed + i * 101);
            total += amp;
        }
        return sum / total;
    }

    /** Thin bright lines where the noise crosses its middle. */
    static float ridges(double u, double v, int cells, int n, int seed) {
        return 1 - Math.abs(2 * octaves(u, v, cells, n, seed) - 1);
    }

    /**
     * Distance to the nearest and second nearest of jittered cell points (Worley 1996): {d1, d2, cell id in [0, 1)}.
     */
    static void cells(double u, double v, int cells, int seed, float[] out) {
        double x = u * cells, y = v * cells;
        int cx = (int) Math.floor(x), cy = (int) Math.floor(y);
        double d1 = 9, d2 = 9;
        float id = 0;
        for (int j = -1; j <= 1; j++) {
            for (int i = -1; i <= 1; i++) {
                int gx = Math.floorMod(cx + i, cells), gy = Math.floorMod(cy + j, cells);
                double dx = cx + i + hash(gx, gy, seed) - x,
                        dy = cy + j + hash(gx, gy, seed + 7) - y,
                        d = Math.sqrt(dx * dx + dy * dy);
                if (d < d1) {
                    d2 = d1;
                    d1 = d;
                    id = hash(gx, gy, seed + 13);
                } else if (d < d2) {
                    d2 = d;
                }
            }
        }
        out[0] = (float) d1;
        out[1] = (float) d2;
        out[2] = id;
    }

    static float smooth(float lo, float hi, float v) {
        float t = Math.max(0, Math.min(1, (v - lo) / (hi - lo)));
        return t * t * (3 - 2 * t);
    }
}

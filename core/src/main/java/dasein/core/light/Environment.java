package dasein.core.light;

import dasein.core.image.Image;
import dasein.core.math.Vec3;
import java.util.stream.IntStream;

/**
 * A lat-long HDR map as a light: bilinear radiance for any direction, and directions drawn in proportion to luminance
 * times solid angle (Pharr et al., 2D piecewise-constant distribution). The table holds each texel's 3x3 maximum, so
 * that its density is never zero where the bilinear map is not: the estimates are unbiased at the horizon and around
 * the sun. Immutable after construction.
 */
public final class Environment {
    private static final float TWO_PI = (float) (2 * Math.PI);

    private final Image map;
    private final float turn;
    private final float level;
    private final float[] rowCdf;
    private final float[] colCdf;
    private final float[] density;

    /** @param turnRadians turns the map about +Y; positive moves what was at the middle column from -Z towards +X */
    public Environment(Image map, double turnRadians, double level) {
        this.map = map;
        this.turn = (float) (turnRadians / (2 * Math.PI));
        this.level = (float) level;
        int w = map.width, h = map.height;
        float[] lum = map.luminance();
        float[] weight = new float[w * h];
        double mean = 0;
        for (float v : lum) mean += Math.max(v, 0);
        float floor = (float) (0.02 * mean / lum.length) + 1e-9f;
        for (int y = 0; y < h; y++) {
            double solid = rowSolid(y, h);
            for (int x = 0; x < w; x++) {
                float m = floor;
                for (int j = Math.max(y - 1, 0); j <= Math.min(y + 1, h - 1); j++) {
                    for (int i = -1; i <= 1; i++) m = Math.max(m, lum[j * w + Math.floorMod(x + i, w)]);
                }
                weight[y * w + x] = (float) (m * solid);
            }
        }
        rowCdf = new float[h + 1];
        colCdf = new float[h * (w + 1)];
        density = weight;
        double total = 0;
        double[] rowSum = new double[h];
        for (int y = 0; y < h; y++) {
            double sum = 0;
            for (int x = 0; x < w; x++) {
                sum += weight[y * w + x];
                colCdf[y * (w + 1) + x + 1] = (float) sum;
            }
            for (int x = 1; x <= w; x++) colCdf[y * (w + 1) + x] /= (float) sum;
            rowSum[y] = sum;
            total += sum;
        }
        double acc = 0;
        for (int y = 0; y < h; y++) {
            acc += rowSum[y];
            rowCdf[y + 1] = (float) (acc / total);
        }
        // Probability of the texel over the solid angle it covers.
        for (int y = 0; y < h; y++) {
            double k = w / (total * 2 * Math.PI * rowSolid(y, h));
            for (int x = 0; x < w; x++) density[y * w + x] *= (float) k;
        }
    }

    private Environment(Environment other, double turnRadians, double level) {
        map = other.map;
        turn = (float) (turnRadians / (2 * Math.PI));
        this.level = (float) level;
        rowCdf = other.rowCdf;
        colCdf = other.colCdf;
        density = other.density;
    }

    /** The same map otherwise turned and of another level, counted from the map itself; its tables are shared. */
    public Environment turned(double turnRadians, double newLevel) {
        return new Environment(this, turnRadians, newLevel);
    }

    /** Height of a row's zone on the unit sphere; times 2 pi it is the row's solid angle. */
    private static double rowSolid(int y, int h) {
        return Math.cos(Math.PI * y / h) - Math.cos(Math.PI * (y + 1) / h);
    }

    public Image map() {
        return map;
    }

    /** Solid angle of a texel in row y of a lat-long map. */
    public static double solid(int y, int width, int height) {
        return rowSolid(y, height) * 2 * Math.PI / width;
    }

    /** Part of all directions that marked texels of a lat-long map make up. */
    public static double part(boolean[] marked, int width) {
        int h = marked.length / width;
        double sum = 0;
        for (int y = 0; y < h; y++) {
            double one = solid(y, width, h) / (4 * Math.PI);
            for (int x = 0; x < width; x++) if (marked[y * width + x]) sum += one;
        }
        return sum;
    }

    /** Radiance that arrives from the unit direction (x, y, z). */
    public void radiance(float x, float y, float z, float[] out) {
        float u = column(x, z) * map.width - 0.5f;
        float v = (float) (Math.acos(Math.max(-1, Math.min(1, y))) / Math.PI) * map.height - 0.5f;
        int x0 = (int) Math.floor(u), y0 = (int) Math.floor(v), w = map.width;
        float a = u - x0, b = v - y0;
        int xa = Math.floorMod(x0, w), xb = Math.floorMod(x0 + 1, w);
        int ya = Math.max(y0, 0) * w, yb = Math.min(y0 + 1, map.height - 1) * w;
        float wa = (1 - a) * (1 - b) * level, wb = a * (1 - b) * level, wc = (1 - a) * b * level, wd = a * b * level;
        for (int c = 0; c < 3; c++) {
            float[] p = map.planes[c];
            out[c] = p[ya + xa] * wa + p[ya + xb] * wb + p[yb + xa] * wc + p[yb + xb] * wd;
        }
    }

    private float column(float x, float z) {
        float u = (float) Math.atan2(x, -z) / TWO_PI + 0.5f - turn;
        return u - (float) Math.floor(u);
    }

    /** Density for each unit of solid angle with which {@link #sample} finds this direction. */
    public float density(float x, float y, float z) {
        int i = Math.min((int) (column(x, z) * map.width), map.width - 1);
        int j = Math.min((int) (Math.acos(Math.max(-1, Math.min(1, y))) / Math.PI * map.height), map.height - 1);
        return density[j * map.width + i];
    }

    /** Draws a direction from two numbers in [0, 1): out = x, y, z, density. */
    public void sample(float u, float v, float[] out) {
        int w = map.width, h = map.height;
        int row = find(rowCdf, 0, h, v);
        float r0 = rowCdf[row], fy = (v - r0) / Math.max(rowCdf[row + 1] - r0, 1e-12f);
        int base = row * (w + 1), col = find(colCdf, base, w, u);
        float c0 = colCdf[base + col], fx = (u - c0) / Math.max(colCdf[base + col + 1] - c0, 1e-12f);
        // Inside a row the directions are spread evenly over solid angle, that is, over cos(theta).
        double c1 = Math.cos(Math.PI * row / h), c2 = Math.cos(Math.PI * (row + 1) / h), cos = c1 + (c2 - c1) * fy;
        double phi = ((col + fx) / w + turn - 0.5) * 2 * Math.PI, sin = Math.sqrt(Math.max(0, 1 - cos * cos));
        out[0] = (float) (sin * Math.sin(phi));
        out[1] = (float) cos;
        out[2] = (float) (-sin * Math.cos(phi));
        out[3] = density[row * w + col];
    }

    private static int find(float[] cdf, int base, int n, float v) {
        int lo = 0, hi = n - 1;
        while (lo < hi) {
            int mid = (lo + hi) >>> 1;
            if (cdf[base + mid + 1] > v) hi = mid;
            else lo = mid + 1;
        }
        return lo;
    }

    /** Irradiance (three colours) on a surface with unit normal n that sees the whole hemisphere. */
    public float[] irradiance(Vec3 n) {
        int w = map.width, h = map.height;
        double[][] rows = new double[h][3];
        IntStream.range(0, h).parallel().forEach(y -> {
            double t0 = Math.PI * y / h,
                    t1 = Math.PI * (y + 1) / h,
                    solid = (Math.cos(t0) - Math.cos(t1)) * 2 * Math.PI / w;
            double cos = Math.cos((t0 + t1) / 2), sin = Math.sin((t0 + t1) / 2);
            for (int x = 0; x < w; x++) {
                double phi = ((x + 0.5) / w + turn - 0.5) * 2 * Math.PI;
                double d = n.x() * sin * Math.sin(phi) + n.y() * cos - n.z() * sin * Math.cos(phi);
                if (d > 0) for (int c = 0; c < 3; c++) rows[y][c] += map.planes[c][y * w + x] * d * solid * level;
            }
        });
        float[] e = new float[3];
        for (int c = 0; c < 3; c++) {
            double s = 0;
            for (double[] r : rows) s += r[c];
            e[c] = (float) s;
        }
        return e;
    }

    /** Texture coordinate (u to the right, v down, both in [0, 1)) at which a direction lies on the unturned map. */
    public static double[] toUv(Vec3 d) {
        return new double[] {
            Math.atan2(d.x(), -d.z()) / (2 * Math.PI) + 0.5,
            Math.acos(Math.max(-1, Math.min(1, d.y() / d.length()))) / Math.PI
        };
    }

    public static Vec3 fromUv(double u, double v) {
        double phi = (u - 0.5) * 2 * Math.PI, th = v * Math.PI;
        return new Vec3(Math.sin(th) * Math.sin(phi), Math.cos(th), -Math.sin(th) * Math.cos(phi));
    }
}

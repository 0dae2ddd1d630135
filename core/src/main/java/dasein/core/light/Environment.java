package dasein.core.light;

import dasein.core.image.Image;
import dasein.core.math.Angles;
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

    /** Columns of the table that directions are drawn by: it must lie in the processor's nearer memory. */
    private static final int CELLS = 512;
    /** Widest map whose texels are kept once more in another order. */
    private static final int MOST = 4096;

    private final Image map;
    private final float[] rgb;
    /** Texels of a cell's side, and cells. */
    private final int by, cellsX, cellsY;

    private final float turn;
    private final float level;
    private final float[] rowCdf;
    private final float[] colCdf;
    private final float[] density;
    /** At which row, and at which column of a row, the search for a number begins. */
    private final char[] rowGuide, colGuide;
    /** Cosine of the angle from straight up at each row's upper edge; sine and cosine of each column's left edge. */
    private final float[] rowCos, colSin, colCos;
    /** Of the turn. */
    private final float turnSin, turnCos;

    /** @param turnRadians turns the map about +Y; positive moves what was at the middle column from -Z towards +X */
    public Environment(Image map, double turnRadians, double level) {
        this.map = map;
        this.turn = (float) (turnRadians / (2 * Math.PI));
        this.level = (float) level;
        turnSin = (float) Math.sin(turnRadians);
        turnCos = (float) Math.cos(turnRadians);
        rgb = together(map);
        int by = Math.max(1, Math.min(map.width / CELLS, map.height / (CELLS / 2)));
        int w = cellsX = (map.width + by - 1) / by, h = cellsY = (map.height + by - 1) / by;
        this.by = by;
        float[] weight = weights(map, by, w, h);
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
        rowCos = new float[h + 1];
        for (int y = 0; y <= h; y++) rowCos[y] = (float) Math.cos(Math.PI * Math.min(1, (double) y * by / map.height));
        double acc = 0;
        for (int y = 0; y < h; y++) {
            acc += rowSum[y];
            rowCdf[y + 1] = (float) (acc / total);
        }
        // Probability of the cell over the solid angle it covers.
        for (int y = 0; y < h; y++)
            for (int x = 0; x < w; x++) density[y * w + x] /= (float) (total * (rowCos[y] - rowCos[y + 1]) * across(x));
        rowGuide = new char[h];
        colGuide = new char[w * h];
        guide(rowCdf, 0, h, rowGuide, 0);
        for (int y = 0; y < h; y++) guide(colCdf, y * (w + 1), w, colGuide, y * w);
        colSin = new float[w];
        colCos = new float[w];
        for (int x = 0; x < w; x++) {
            colSin[x] = (float) Math.sin(((double) x * by / map.width - 0.5) * 2 * Math.PI);
            colCos[x] = (float) Math.cos(((double) x * by / map.width - 0.5) * 2 * Math.PI);
        }
    }

    /** Of a cell of column x; the last one may be narrower. */
    private float across(int x) {
        return TWO_PI * (Math.min(map.width, (x + 1) * by) - x * by) / map.width;
    }

    /** Luminance times solid angle by cell: of each texel that of the brightest beside it. */
    private static float[] weights(Image map, int by, int w, int h) {
        float[] lum = map.luminance(), out = new float[w * h];
        int wide = map.width, high = map.height;
        double mean = 0;
        for (float v : lum) mean += Math.max(v, 0);
        float floor = (float) (0.02 * mean / lum.length) + 1e-9f;
        Image.rows(h, cell -> {
            for (int y = cell * by; y < Math.min(high, (cell + 1) * by); y++) {
                float solid = (float) rowSolid(y, high);
                for (int x = 0; x < wide; x++) {
                    float m = floor;
                    for (int j = Math.max(y - 1, 0); j <= Math.min(y + 1, high - 1); j++) {
                        m = Math.max(m, lum[j * wide + (x == 0 ? wide - 1 : x - 1)]);
                        m = Math.max(m, lum[j * wide + x]);
                        m = Math.max(m, lum[j * wide + (x == wide - 1 ? 0 : x + 1)]);
                    }
                    out[cell * w + x / by] += m * solid;
                }
            }
        });
        return out;
    }

    /** The three colours of a texel side by side: a direction's light is then read from two places, not from twelve. */
    private static float[] together(Image map) {
        if (map.width > MOST) return null;
        float[] out = new float[3 * map.width * map.height];
        Image.rows(map.height, y -> {
            for (int i = y * map.width; i < (y + 1) * map.width; i++)
                for (int c = 0; c < 3; c++) out[3 * i + c] = map.planes[c][i];
        });
        return out;
    }

    /** For each n-th part of the numbers where the first of it lies (Chen and Asau 1974). */
    private static void guide(float[] cdf, int base, int n, char[] out, int at) {
        int i = 0;
        for (int k = 0; k < n; k++) {
            while (i < n - 1 && cdf[base + i + 1] <= (float) k / n) i++;
            out[at + k] = (char) i;
        }
    }

    private Environment(Environment other, double turnRadians, double level) {
        map = other.map;
        rgb = other.rgb;
        by = other.by;
        cellsX = other.cellsX;
        cellsY = other.cellsY;
        turn = (float) (turnRadians / (2 * Math.PI));
        this.level = (float) level;
        rowCdf = other.rowCdf;
        colCdf = other.colCdf;
        density = other.density;
        rowGuide = other.rowGuide;
        colGuide = other.colGuide;
        rowCos = other.rowCos;
        colSin = other.colSin;
        colCos = other.colCos;
        turnSin = (float) Math.sin(turnRadians);
        turnCos = (float) Math.cos(turnRadians);
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
        texel(column(x, z) * map.width, row(y) * map.height, out);
    }

    /** The same, and the density with which {@link #sample} finds this direction. */
    public float radianceAndDensity(float x, float y, float z, float[] out) {
        float u = column(x, z) * map.width, v = row(y) * map.height;
        texel(u, v, out);
        return density[Math.min((int) v / by, cellsY - 1) * cellsX + Math.min((int) u / by, cellsX - 1)];
    }

    private void texel(float u, float v, float[] out) {
        u -= 0.5f;
        v -= 0.5f;
        int x0 = (int) Math.floor(u), y0 = (int) Math.floor(v), w = map.width;
        float a = u - x0, b = v - y0;
        // One beside the map at most.
        int xa = x0 < 0 ? x0 + w : x0, xb = x0 + 1 == w ? 0 : x0 + 1;
        int ya = Math.max(y0, 0) * w, yb = Math.min(y0 + 1, map.height - 1) * w;
        float wa = (1 - a) * (1 - b) * level, wb = a * (1 - b) * level, wc = (1 - a) * b * level, wd = a * b * level;
        if (rgb == null) {
            for (int c = 0; c < 3; c++) {
                float[] p = map.planes[c];
                out[c] = p[ya + xa] * wa + p[ya + xb] * wb + p[yb + xa] * wc + p[yb + xb] * wd;
            }
            return;
        }
        int pa = 3 * (ya + xa), pb = 3 * (ya + xb), pc = 3 * (yb + xa), pd = 3 * (yb + xb);
        for (int c = 0; c < 3; c++) out[c] = rgb[pa + c] * wa + rgb[pb + c] * wb + rgb[pc + c] * wc + rgb[pd + c] * wd;
    }

    private float column(float x, float z) {
        float u = Angles.atan2(x, -z) / TWO_PI + 0.5f - turn;
        u -= (float) Math.floor(u);
        return u < 1 ? u : 0;
    }

    private static float row(float y) {
        return Angles.acos(y) / (float) Math.PI;
    }

    /** Density for each unit of solid angle with which {@link #sample} finds this direction. */
    public float density(float x, float y, float z) {
        int i = Math.min((int) (column(x, z) * map.width) / by, cellsX - 1),
                j = Math.min((int) (row(y) * map.height) / by, cellsY - 1);
        return density[j * cellsX + i];
    }

    /**
     * Draws a direction from two numbers in [0, 1): out = x, y, z, density, and where on the map it lies, by which
     * {@link #radiance(float[], float[])} finds its light.
     */
    public void sample(float u, float v, float[] out) {
        int w = cellsX, h = cellsY;
        int row = find(rowCdf, 0, h, v, rowGuide, 0);
        float r0 = rowCdf[row], fy = (v - r0) / Math.max(rowCdf[row + 1] - r0, 1e-12f);
        int base = row * (w + 1), col = find(colCdf, base, w, u, colGuide, row * w);
        float c0 = colCdf[base + col], fx = (u - c0) / Math.max(colCdf[base + col + 1] - c0, 1e-12f);
        // Inside a cell the directions are spread evenly over solid angle, that is, over cos(theta).
        float cos = rowCos[row] + (rowCos[row + 1] - rowCos[row]) * fy,
                sin = (float) Math.sqrt(Math.max(0, 1 - cos * cos));
        // The column's edge, turned on by a part of a column: a small angle.
        float d = fx * across(col), d2 = d * d;
        float sd = d * (1 - d2 / 6 * (1 - d2 / 20)), cd = 1 - d2 / 2 * (1 - d2 / 12 * (1 - d2 / 30));
        float s1 = colSin[col] * cd + colCos[col] * sd, c1 = colCos[col] * cd - colSin[col] * sd;
        out[0] = sin * (s1 * turnCos + c1 * turnSin);
        out[1] = cos;
        out[2] = -sin * (c1 * turnCos - s1 * turnSin);
        out[3] = density[row * w + col];
        out[4] = Math.min(col * by + fx * across(col) / TWO_PI * map.width, map.width);
        out[5] = row(cos) * map.height;
    }

    /** Radiance of a direction that was drawn. @param drawn as {@link #sample} left it */
    public void radiance(float[] drawn, float[] out) {
        texel(drawn[4], drawn[5], out);
    }

    private static int find(float[] cdf, int base, int n, float v, char[] guide, int at) {
        int i = guide[at + Math.min(n - 1, (int) (v * n))];
        while (i < n - 1 && cdf[base + i + 1] <= v) i++;
        return i;
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

package dasein.core.render;

import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.TexturePlace;
import java.util.List;

/**
 * Glowing triangles of performers, to be sampled as lights: each in proportion to what it gives off. What is not in
 * here (copies, cards) is still found by chance. Immutable; shared by all workers.
 */
final class Glow {
    /**
     * A texture may be dark in a triangle's middle and bright in its corner: so much of its full power it has at least.
     */
    private static final float TEXTURED = 0.1f;

    private static final double ROUGH = 16;

    final int count;
    private final int[] mesh, triangle;
    private final float[] cumulative;
    /** By mesh and triangle: how often it is taken; null for meshes that do not glow. */
    private final float[][] chance;

    /** All it gives off, and the box around it while the shutter is open: least corner, greatest corner. */
    private final float total;

    private final float[] box;

    private Glow(
            int count, int[] mesh, int[] triangle, float[] cumulative, float[][] chance, float total, float[] box) {
        this.total = total;
        this.box = box;
        this.count = count;
        this.mesh = mesh;
        this.triangle = triangle;
        this.cumulative = cumulative;
        this.chance = chance;
    }

    static Glow of(List<Mesh> meshes) {
        int n = 0;
        float[][] power = new float[meshes.size()][];
        double total = 0;
        for (int m = 0; m < power.length; m++) {
            Mesh k = meshes.get(m);
            if (!shines(k)) continue;
            power[m] = new float[k.index().length / 3];
            for (int t = 0; t < power[m].length; t++) {
                power[m][t] = power(k, t);
                if (power[m][t] > 0) n++;
                total += power[m][t];
            }
        }
        int[] mesh = new int[n], triangle = new int[n];
        float[] cumulative = new float[n];
        double sum = 0;
        int at = 0;
        float[] box = {1e30f, 1e30f, 1e30f, -1e30f, -1e30f, -1e30f};
        for (int m = 0; m < power.length; m++) {
            if (power[m] == null) continue;
            for (int t = 0; t < power[m].length; t++) {
                power[m][t] /= (float) total;
                if (power[m][t] <= 0) continue;
                sum += power[m][t];
                around(box, meshes.get(m), t);
                mesh[at] = m;
                triangle[at] = t;
                cumulative[at++] = (float) sum;
            }
        }
        return new Glow(n, mesh, triangle, cumulative, power, (float) total, box);
    }

    private static boolean shines(Mesh k) {
        if (k.role() != Mesh.Role.PERFORMER
                || k.copies() != null
                || k.shows() != null && (!k.shows().mirrored() || k.shows().added())) return false;
        for (Material m : k.materials()) if (luminance(m) > 0) return true;
        return false;
    }

    private static float luminance(Material m) {
        float[] e = m.emissive();
        return m.layers().unlit() ? 0 : Film.luminance(e[0], e[1], e[2]);
    }

    private static float power(Mesh k, int t) {
        Material m = k.materials()[k.materialOf()[t]];
        float l = luminance(m);
        if (!(l > 0)) return 0;
        if (m.emissiveTexture() != null) {
            TexturePlace middle = new TexturePlace();
            middle.at(k, t, 1 / 3f, 1 / 3f);
            float[] texel = new float[4];
            middle.read(m.emissiveTexture(), texel);
            l *= Math.max(TEXTURED, Film.luminance(texel[0], texel[1], texel[2]));
        }
        return l * area(k, t);
    }

    /** Square metres, when the shutter opens. */
    private static float area(Mesh k, int t) {
        int a = 3 * k.index()[3 * t], b = 3 * k.index()[3 * t + 1], c = 3 * k.index()[3 * t + 2];
        float[] p = k.position0();
        double ux = p[b] - p[a], uy = p[b + 1] - p[a + 1], uz = p[b + 2] - p[a + 2];
        double vx = p[c] - p[a], vy = p[c + 1] - p[a + 1], vz = p[c + 2] - p[a + 2];
        double x = uy * vz - uz * vy, y = uz * vx - ux * vz, z = ux * vy - uy * vx;
        return (float) (Math.sqrt(x * x + y * y + z * z) / 2);
    }

    private static void around(float[] box, Mesh k, int t) {
        for (int c = 0; c < 9; c++) {
            int at = 3 * k.index()[3 * t + c / 3] + c % 3, a = c % 3;
            box[a] = Math.min(box[a], Math.min(k.position0()[at], k.position1()[at]));
            box[3 + a] = Math.max(box[3 + a], Math.max(k.position0()[at], k.position1()[at]));
        }
    }

    /**
     * The sky's irradiance, rounded down so that it is a power of {@link #ROUGH} off what glows: a little brighter or
     * darker, the same.
     */
    float roughly(float sky) {
        if (!(sky > 0 && total > 0)) return 0;
        return (float) (total / Math.pow(ROUGH, Math.ceil(Math.log(total / sky) / Math.log(ROUGH))));
    }

    /** More irradiance than all of it can give there, luminance. */
    float most(float x, float y, float z) {
        float a = Math.max(0, Math.max(box[0] - x, x - box[3])),
                b = Math.max(0, Math.max(box[1] - y, y - box[4])),
                c = Math.max(0, Math.max(box[2] - z, z - box[5]));
        return total / Math.max(1e-9f, a * a + b * b + c * c);
    }

    /** Place in the list for a number in [0, 1). */
    int pick(float u) {
        int lo = 0, hi = count - 1;
        while (lo < hi) {
            int mid = (lo + hi) >>> 1;
            if (cumulative[mid] > u) hi = mid;
            else lo = mid + 1;
        }
        return lo;
    }

    int mesh(int at) {
        return mesh[at];
    }

    int triangle(int at) {
        return triangle[at];
    }

    /** How often a triangle is taken; 0 where it is none of these. */
    float chance(int m, int t) {
        return count == 0 || chance[m] == null ? 0 : chance[m][t];
    }
}

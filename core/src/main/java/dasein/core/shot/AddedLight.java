package dasein.core.shot;

import dasein.core.light.lamp.Lamp;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.TexturePlace;
import java.util.List;

/**
 * The light that a card with fire, sparks or a flash on it throws about: as a lamp where the card's light lies, as
 * large as that is, and as strong as the card is bright in that frame. What burns is no flat panel, so it shines to all
 * sides as it does to its front: radiance times area.
 */
final class AddedLight {
    /** Samples along a triangle's side, of a flat card. */
    private static final int FINE = 24;

    private static final double LEAST_METRES = 0.02;
    private static final float DARK = 1e-4f;

    private AddedLight() {}

    /** Lamps of those of these meshes that add light and may give it to others. */
    static List<Lamp> of(List<Mesh> meshes) {
        return meshes.stream()
                .filter(m -> m.shows() != null && m.shows().added() && m.shows().mirrored())
                .map(AddedLight::of)
                .filter(l -> l != null)
                .toList();
    }

    /** @return null where it is dark */
    private static Lamp of(Mesh m) {
        int triangles = m.index().length / 3, n = (int) Math.max(3, Math.round(FINE / Math.sqrt(triangles / 2.0)));
        double[] sum = new double[3], at = new double[3];
        double all = 0, squares = 0;
        TexturePlace place = new TexturePlace();
        float[] texel = new float[4];
        for (int t = 0; t < triangles; t++) {
            Vec3 a = corner(m, t, 0),
                    u = corner(m, t, 1).minus(a),
                    v = corner(m, t, 2).minus(a);
            double each = u.cross(v).length() / 2 / (n * n);
            Material k = m.materials()[m.materialOf()[t]];
            // Middles of n x n small triangles: those that stand, and those that hang between them.
            for (int i = 0; i < n; i++)
                for (int j = 0; i + j < n; j++)
                    for (int up = 0; up < (i + j < n - 1 ? 2 : 1); up++) {
                        double x = (i + (1 + up) / 3.0) / n, y = (j + (1 + up) / 3.0) / n;
                        java.util.Arrays.fill(texel, 1);
                        if (k.baseTexture() != null) {
                            place.at(m, t, (float) x, (float) y);
                            place.read(k.baseTexture(), texel);
                        }
                        double[] light = new double[3];
                        for (int c = 0; c < 3; c++) sum[c] += light[c] = each * k.baseColor()[c] * texel[c];
                        double luma = 0.2126 * light[0] + 0.7152 * light[1] + 0.0722 * light[2];
                        Vec3 p = a.plus(u.times(x)).plus(v.times(y));
                        all += luma;
                        squares += luma * p.dot(p);
                        at[0] += luma * p.x();
                        at[1] += luma * p.y();
                        at[2] += luma * p.z();
                    }
        }
        if (!(all > DARK)) return null;
        Vec3 middle = new Vec3(at[0] / all, at[1] / all, at[2] / all);
        // An even disc's points lie, squared and in the mean, half of its radius squared from its middle.
        double spread = Math.sqrt(Math.max(0, squares / all - middle.dot(middle))) * Math.sqrt(2);
        return new Lamp(
                Lamp.Kind.SPHERE,
                middle,
                Vec3.Y,
                new Vec3(1, 0, 0),
                Math.max(LEAST_METRES, 2 * spread),
                0,
                -1,
                -1,
                new float[] {(float) sum[0], (float) sum[1], (float) sum[2]},
                false);
    }

    private static Vec3 corner(Mesh m, int triangle, int k) {
        int i = 3 * m.index()[3 * triangle + k];
        float[] p = m.position0(), q = m.position1();
        return new Vec3((p[i] + q[i]) / 2, (p[i + 1] + q[i + 1]) / 2, (p[i + 2] + q[i + 2]) / 2);
    }
}

package dasein.core.model;

/** Reads pictures at one place of a mesh, each by its own set of places and its own map. Mutable and reused. */
public final class TexturePlace {
    private Mesh mesh;
    private int a, b, c;
    private float k0, k1, k2, wide;
    private int set;
    private float[] map;
    private float u, v, across;
    /** By how much the picture's place differs along the triangle's first and second edge. */
    public float du1, dv1, du2, dv2;

    /** @param b1, b2 barycentrics of the second and third corner */
    public void at(Mesh m, int triangle, float b1, float b2) {
        at(m, triangle, b1, b2, 0);
    }

    /**
     * @param wide the width of what is seen, as it lies on the surface, over the root of twice the triangle's area: the
     *     triangle's picture is seen through a square of this share of it
     */
    public void at(Mesh m, int triangle, float b1, float b2, float wide) {
        mesh = m;
        int[] i = m.index();
        a = i[3 * triangle];
        b = i[3 * triangle + 1];
        c = i[3 * triangle + 2];
        k0 = 1 - b1 - b2;
        k1 = b1;
        k2 = b2;
        this.wide = wide;
        set = -1;
    }

    /** Red, green, blue and alpha into {@code out}, four numbers. The mesh must have places. */
    public void read(Texture t, float[] out) {
        find(t);
        t.sample(u, v, across, out);
    }

    /** Sets {@link #du1} and the others for a picture. */
    public void find(Texture t) {
        find(t.set(), t.map());
    }

    /** The same for a set of places as they are. */
    public void find(int set, float[] map) {
        if (set == this.set && map == this.map) return;
        this.set = set;
        this.map = map;
        float[] uv = mesh.uv();
        // A picture that asks for a second set where there is none takes the first.
        int o = set == 1 && uv.length > 2 * mesh.vertices() ? 2 * mesh.vertices() : 0;
        float ua = uv[o + 2 * a], va = uv[o + 2 * a + 1], ub = uv[o + 2 * b], vb = uv[o + 2 * b + 1];
        float uc = uv[o + 2 * c], vc = uv[o + 2 * c + 1];
        u = k0 * ua + k1 * ub + k2 * uc;
        v = k0 * va + k1 * vb + k2 * vc;
        du1 = ub - ua;
        dv1 = vb - va;
        du2 = uc - ua;
        dv2 = vc - va;
        if (map != null) {
            float x = u, y = v;
            u = map[0] * x + map[1] * y + map[2];
            v = map[3] * x + map[4] * y + map[5];
            x = du1;
            y = dv1;
            du1 = map[0] * x + map[1] * y;
            dv1 = map[3] * x + map[4] * y;
            x = du2;
            y = dv2;
            du2 = map[0] * x + map[1] * y;
            dv2 = map[3] * x + map[4] * y;
        }
        // A square as large as what the ray's cone covers (Akenine-Möller et al. 2021; there the longer side counts,
        // which blurs what is seen at a slant).
        across = wide == 0 ? 0 : wide * (float) Math.sqrt(Math.abs(du1 * dv2 - du2 * dv1));
    }
}

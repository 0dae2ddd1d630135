package dasein.core.render.ray;

/**
 * A ray, and its tests against eight boxes, or the triangles of a block, of a {@link Tree} at a time. What is found is
 * left in arrays, so nothing is allocated.
 */
abstract class Lanes {
    /** Steps of a float by which a box reaches farther than it is, so that rounding lets no ray through a seam. */
    static final int SLACK = 8;

    private static final float SMALLEST = 1e-18f;

    float ox, oy, oz, dx, dy, dz;
    /** One over the direction, and the origin times that, below zero. */
    float ix, iy, iz, mx, my, mz;
    /** Which of a node's rows are met first, and which last, by the direction's signs. */
    int nearX, nearY, nearZ, farX, farY, farZ;

    /**
     * Where each box of the last node begins along the ray, as bits of floats that are not negative: in their order.
     */
    final int[] near = new int[Tree.WIDE];
    /** Of each triangle of the last leaf: distance and barycentrics of second and third corner. */
    final float[] t = new float[Tree.BLOCK], u = new float[Tree.BLOCK], v = new float[Tree.BLOCK];

    final void ray(float ox, float oy, float oz, float dx, float dy, float dz) {
        this.ox = ox;
        this.oy = oy;
        this.oz = oz;
        this.dx = dx;
        this.dy = dy;
        this.dz = dz;
        ix = inverse(dx);
        iy = inverse(dy);
        iz = inverse(dz);
        mx = -ox * ix;
        my = -oy * iy;
        mz = -oz * iz;
        int w = Tree.WIDE;
        nearX = ix >= 0 ? 0 : w;
        nearY = iy >= 0 ? 2 * w : 3 * w;
        nearZ = iz >= 0 ? 4 * w : 5 * w;
        farX = w - nearX;
        farY = 5 * w - nearY;
        farZ = 9 * w - nearZ;
    }

    private static float inverse(float d) {
        return Math.abs(d) < SMALLEST ? Math.copySign(1 / SMALLEST, d) : 1 / d;
    }

    /** Bits of the boxes that the ray meets before {@code far}. @param at where the node's rows begin in {@code box} */
    abstract int node(float[] box, int at, float far);

    /** Bits of the triangles that are met in (0, far). @param at where the block begins in {@code tri} */
    abstract int leaf(float[] tri, int at, float far);

    /** The same of triangles that move, at shutter time s. */
    abstract int leafMoving(float[] tri, int at, float s, float far);

    /** The same by what the last leaf left. */
    final int met(float far) {
        int bits = 0;
        for (int i = 0; i < Tree.BLOCK; i++)
            if (t[i] > 0 && t[i] < far && u[i] >= 0 && v[i] >= 0 && u[i] + v[i] <= 1) bits |= 1 << i;
        return bits;
    }
}

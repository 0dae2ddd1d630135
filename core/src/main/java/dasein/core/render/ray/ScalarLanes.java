package dasein.core.render.ray;

/** One after the other, for a Java without vectors. */
final class ScalarLanes extends Lanes {
    @Override
    int node(float[] box, int at, float far) {
        int bits = 0;
        for (int i = 0; i < Tree.WIDE; i++) {
            int k = at + i;
            float n = 0, f = far, a;
            a = (box[k + nearX] - ox) * ix;
            if (a > n) n = a;
            a = (box[k + nearY] - oy) * iy;
            if (a > n) n = a;
            a = (box[k + nearZ] - oz) * iz;
            if (a > n) n = a;
            a = (box[k + farX] - ox) * ix;
            if (a < f) f = a;
            a = (box[k + farY] - oy) * iy;
            if (a < f) f = a;
            a = (box[k + farZ] - oz) * iz;
            if (a < f) f = a;
            int begins = Float.floatToRawIntBits(n);
            near[i] = begins;
            if (begins <= Float.floatToRawIntBits(f) + SLACK) bits |= 1 << i;
        }
        return bits;
    }

    @Override
    int leaf(float[] tri, int at, float far) {
        int w = Tree.BLOCK;
        for (int i = at; i < at + w; i++)
            triangle(
                    i - at,
                    tri[i],
                    tri[i + w],
                    tri[i + 2 * w],
                    tri[i + 3 * w],
                    tri[i + 4 * w],
                    tri[i + 5 * w],
                    tri[i + 6 * w],
                    tri[i + 7 * w],
                    tri[i + 8 * w]);
        return met(far);
    }

    @Override
    int leafMoving(float[] tri, int at, float s, float far) {
        int w = Tree.BLOCK;
        for (int i = at; i < at + w; i++)
            triangle(
                    i - at,
                    at(tri, i, s),
                    at(tri, i + w, s),
                    at(tri, i + 2 * w, s),
                    at(tri, i + 3 * w, s),
                    at(tri, i + 4 * w, s),
                    at(tri, i + 5 * w, s),
                    at(tri, i + 6 * w, s),
                    at(tri, i + 7 * w, s),
                    at(tri, i + 8 * w, s));
        return met(far);
    }

    private static float at(float[] tri, int i, float s) {
        return tri[i] + s * (tri[i + 9 * Tree.BLOCK] - tri[i]);
    }

    private void triangle(
            int lane, float ax, float ay, float az, float ux, float uy, float uz, float wx, float wy, float wz) {
        float px = wz * dy - wy * dz, py = wx * dz - wz * dx, pz = wy * dx - wx * dy;
        float inv = 1 / (ux * px + uy * py + uz * pz), tx = ox - ax, ty = oy - ay, tz = oz - az;
        u[lane] = (tx * px + ty * py + tz * pz) * inv;
        float qx = ty * uz - tz * uy, qy = tz * ux - tx * uz, qz = tx * uy - ty * ux;
        v[lane] = (qx * dx + qy * dy + qz * dz) * inv;
        t[lane] = (wx * qx + wy * qy + wz * qz) * inv;
    }
}

package dasein.core.render;

import dasein.core.model.Mesh;

/**
 * Lifts a place off its facet to where the smooth surface that the normals tell of would be (Hanika 2021, "Hacking the
 * Shadow Terminator"), so that coarse meshes do not shade themselves in steps.
 */
final class Lift {
    /** Of a facet's longer edge: a lift this small, squared, is none; this large is the most. */
    private static final float FLAT = 1e-8f, MOST = 0.12f;

    /** How far the last place was lifted. */
    float x, y, z;

    /**
     * @param at the place, with its geometric normal; @param a, b, c corners of its triangle, k0, k1, k2 their shares;
     * @param s shutter time
     * @return whether it is lifted
     */
    boolean at(HitPoint at, Mesh m, int a, int b, int c, float k0, float k1, float k2, float s) {
        x = y = z = 0;
        float edge = Math.max(apart(m, a, b, s), apart(m, a, c, s));
        off(at, m, a, s, k0);
        off(at, m, b, s, k1);
        off(at, m, c, s, k2);
        float far = x * x + y * y + z * z;
        if (!(far > FLAT * edge)) return false;
        // Normals that disagree this much mean an edge, not a curve.
        float most = MOST * MOST * edge;
        if (far > most) {
            float k = (float) Math.sqrt(most / far);
            x *= k;
            y *= k;
            z *= k;
        }
        return true;
    }

    /** How far the place lies below the plane of a corner and its normal, on the side that is seen. */
    private void off(HitPoint at, Mesh m, int corner, float s, float share) {
        float[] p = m.position0(), q = m.position1(), n0 = m.normal0(), n1 = m.normal1();
        int i = 3 * corner;
        float a = HitPoint.lerp(n0, n1, i, s), b = HitPoint.lerp(n0, n1, i + 1, s), c = HitPoint.lerp(n0, n1, i + 2, s);
        float side = a * at.gx + b * at.gy + c * at.gz < 0 ? -1 : 1,
                below =
                        side
                                * ((at.px - HitPoint.lerp(p, q, i, s)) * a
                                        + (at.py - HitPoint.lerp(p, q, i + 1, s)) * b
                                        + (at.pz - HitPoint.lerp(p, q, i + 2, s)) * c);
        if (!(below < 0)) return;
        float k = -share * below * side;
        x += k * a;
        y += k * b;
        z += k * c;
    }

    /** Squared. */
    private static float apart(Mesh m, int a, int b, float s) {
        float[] p = m.position0(), q = m.position1();
        float sum = 0;
        for (int k = 0; k < 3; k++) {
            float d = HitPoint.lerp(p, q, 3 * b + k, s) - HitPoint.lerp(p, q, 3 * a + k, s);
            sum += d * d;
        }
        return sum;
    }
}

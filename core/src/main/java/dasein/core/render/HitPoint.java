package dasein.core.render;

import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.TexturePlace;
import dasein.core.render.ray.Tracer;

/** Where a ray has met a mesh: the place, its normals and its places in pictures. Mutable and reused. */
abstract class HitPoint {
    /** Cosine at which a surface is seen at so sharp a slant that no texture is told from it. */
    private static final float SLANT = 0.02f;
    /** A strand's surface round it, over its radius: it has three sides. */
    private static final float ROUND = (float) (3 * Math.sqrt(3));

    float px, py, pz;
    /** Which of the tracer's meshes, and which copy of it, it belongs to. */
    int mesh, copy;
    /** Geometric normal on the side the ray came from. */
    float gx, gy, gz;

    float nx, ny, nz;
    /** Where rays begin: the place, lifted off a coarse mesh's facet; whether it is. */
    float lx, ly, lz;

    boolean smooth;
    /** How wide the ray is where it begins, and how much wider it gets a metre; metres. */
    float begins, widens;
    /** How wide it was where it met this. */
    float wide;

    final TexturePlace place = new TexturePlace();
    /** The triangle's first two edges. */
    private float e1x, e1y, e1z, e2x, e2y, e2z;
    /** A way along the surface, and across it (unit length). */
    float alongX, alongY, alongZ, acrossX, acrossY, acrossZ;
    /** Of a strand. */
    float radius;

    private final Lift lift = new Lift();
    private final float[] texel = new float[4];

    /**
     * Fills in the hit that {@code t} found with a ray of direction d at shutter time s.
     *
     * @return the triangle's area, twice
     */
    final float met(Tracer t, Mesh m, float ox, float oy, float oz, float dx, float dy, float dz, float s) {
        mesh = t.mesh;
        copy = t.copy;
        int[] idx = m.index();
        int a = idx[3 * t.triangle], b = idx[3 * t.triangle + 1], c = idx[3 * t.triangle + 2];
        float k2 = t.b2, k1 = t.b1, k0 = 1 - k1 - k2;
        wide = begins + widens * t.t;
        px = ox + t.t * dx;
        py = oy + t.t * dy;
        pz = oz + t.t * dz;
        float[] p = m.position0(), q = m.position1();
        float ax = lerp(p, q, 3 * a, s), ay = lerp(p, q, 3 * a + 1, s), az = lerp(p, q, 3 * a + 2, s);
        e1x = lerp(p, q, 3 * b, s) - ax;
        e1y = lerp(p, q, 3 * b + 1, s) - ay;
        e1z = lerp(p, q, 3 * b + 2, s) - az;
        e2x = lerp(p, q, 3 * c, s) - ax;
        e2y = lerp(p, q, 3 * c + 1, s) - ay;
        e2z = lerp(p, q, 3 * c + 2, s) - az;
        Mesh.Copies copies = m.copies();
        int o = 12 * t.copy;
        if (copies != null) {
            float x = e1x, y = e1y, z = e1z;
            e1x = row(copies, o, s, x, y, z);
            e1y = row(copies, o + 4, s, x, y, z);
            e1z = row(copies, o + 8, s, x, y, z);
            x = e2x;
            y = e2y;
            z = e2z;
            e2x = row(copies, o, s, x, y, z);
            e2y = row(copies, o + 4, s, x, y, z);
            e2z = row(copies, o + 8, s, x, y, z);
        }
        gx = e1y * e2z - e1z * e2y;
        gy = e1z * e2x - e1x * e2z;
        gz = e1x * e2y - e1y * e2x;
        float area = (float) Math.sqrt(gx * gx + gy * gy + gz * gz), inv = 1 / area;
        gx *= inv;
        gy *= inv;
        gz *= inv;
        float[] n0 = m.normal0(), n1 = m.normal1();
        if (n0 != null) {
            nx = k0 * lerp(n0, n1, 3 * a, s) + k1 * lerp(n0, n1, 3 * b, s) + k2 * lerp(n0, n1, 3 * c, s);
            ny = k0 * lerp(n0, n1, 3 * a + 1, s) + k1 * lerp(n0, n1, 3 * b + 1, s) + k2 * lerp(n0, n1, 3 * c + 1, s);
            nz = k0 * lerp(n0, n1, 3 * a + 2, s) + k1 * lerp(n0, n1, 3 * b + 2, s) + k2 * lerp(n0, n1, 3 * c + 2, s);
            if (copies != null) {
                float x = nx, y = ny, z = nz;
                nx = row(copies, o, s, x, y, z);
                ny = row(copies, o + 4, s, x, y, z);
                nz = row(copies, o + 8, s, x, y, z);
            }
            float len = (float) Math.sqrt(nx * nx + ny * ny + nz * nz);
            if (len > 1e-6f) {
                nx /= len;
                ny /= len;
                nz /= len;
            } else {
                nx = gx;
                ny = gy;
                nz = gz;
            }
        } else {
            nx = gx;
            ny = gy;
            nz = gz;
        }
        return area;
    }

    /** Finds the place in pictures. @param area of the triangle, twice */
    final void pictured(Tracer t, Mesh m, float area, float dx, float dy, float dz) {
        float cos = Math.max(Math.abs(gx * dx + gy * dy + gz * dz), SLANT);
        place.at(m, t.triangle, t.b1, t.b2, wide / (float) Math.sqrt(area * cos));
    }

    /** The place and its normals alone: all that there is to know of a catcher. */
    final void placed(Tracer t, Mesh m, float ox, float oy, float oz, float dx, float dy, float dz, float s) {
        met(t, m, ox, oy, oz, dx, dy, dz, s);
        turnTo(dx, dy, dz);
    }

    /** Finds where rays begin; the normals must be on the side the ray came from. */
    final void lift(Tracer t, Mesh m, float s) {
        int a = m.index()[3 * t.triangle], b = m.index()[3 * t.triangle + 1], c = m.index()[3 * t.triangle + 2];
        smooth = m.normal0() != null && m.copies() == null && lift.at(this, m, a, b, c, 1 - t.b1 - t.b2, t.b1, t.b2, s);
        lx = px + (smooth ? lift.x : 0);
        ly = py + (smooth ? lift.y : 0);
        lz = pz + (smooth ? lift.z : 0);
    }

    /** Both normals to the side that a ray of direction d comes from. */
    final void turnTo(float dx, float dy, float dz) {
        if (gx * dx + gy * dy + gz * dz > 0) {
            gx = -gx;
            gy = -gy;
            gz = -gz;
        }
        if (nx * gx + ny * gy + nz * gz < 0) {
            nx = -nx;
            ny = -ny;
            nz = -nz;
        }
        // A bent normal that looks away from the viewer is lifted until it is seen at a grazing angle.
        float facing = -(nx * dx + ny * dy + nz * dz);
        if (facing < 0.01f) {
            float lift = 0.01f - facing;
            nx -= lift * dx;
            ny -= lift * dy;
            nz -= lift * dz;
            float inv = 1 / (float) Math.sqrt(nx * nx + ny * ny + nz * nz);
            nx *= inv;
            ny *= inv;
            nz *= inv;
        }
    }

    /** One row of a copy's map, on a direction. */
    private static float row(Mesh.Copies c, int i, float s, float x, float y, float z) {
        return lerp(c.open(), c.close(), i, s) * x
                + lerp(c.open(), c.close(), i + 1, s) * y
                + lerp(c.open(), c.close(), i + 2, s) * z;
    }

    static float lerp(float[] p, float[] q, int i, float s) {
        return p == q ? p[i] : p[i] + s * (q[i] - p[i]);
    }

    /**
     * Along where u of the place that was last found grows, and across it, where +Y of the normal map points (v runs
     * down the texture; glTF); false where the texture has no size.
     */
    final boolean along() {
        float det = place.du1 * place.dv2 - place.du2 * place.dv1;
        if (Math.abs(det) < 1e-14f) return false;
        float r = 1 / det;
        float sx = (e1x * place.dv2 - e2x * place.dv1) * r,
                sy = (e1y * place.dv2 - e2y * place.dv1) * r,
                sz = (e1z * place.dv2 - e2z * place.dv1) * r;
        float d = sx * nx + sy * ny + sz * nz;
        sx -= d * nx;
        sy -= d * ny;
        sz -= d * nz;
        float len = (float) Math.sqrt(sx * sx + sy * sy + sz * sz);
        if (len < 1e-9f) return false;
        radius = len / ROUND;
        alongX = sx / len;
        alongY = sy / len;
        alongZ = sz / len;
        float hand = det > 0 ? -1 : 1;
        acrossX = hand * (ny * alongZ - nz * alongY);
        acrossY = hand * (nz * alongX - nx * alongZ);
        acrossZ = hand * (nx * alongY - ny * alongX);
        return true;
    }

    /** Tangent-space normal map. */
    final void bend(Material mat) {
        place.read(mat.normalTexture(), texel);
        if (along()) {
            float x = (texel[0] * 2 - 1) * mat.normalScale(),
                    y = (texel[1] * 2 - 1) * mat.normalScale(),
                    z = texel[2] * 2 - 1;
            float rx = x * alongX + y * acrossX + z * nx,
                    ry = x * alongY + y * acrossY + z * ny,
                    rz = x * alongZ + y * acrossZ + z * nz;
            float len = 1 / (float) Math.sqrt(rx * rx + ry * ry + rz * rz);
            nx = rx * len;
            ny = ry * len;
            nz = rz * len;
        }
    }

    /** Finds the way from a strand's root to its tip: its second set of places runs round it and along it. */
    final boolean alongStrand() {
        place.find(1, null);
        if (!along()) return false;
        // v grows towards the tip, and across points the other way.
        alongX = -acrossX;
        alongY = -acrossY;
        alongZ = -acrossZ;
        return true;
    }
}

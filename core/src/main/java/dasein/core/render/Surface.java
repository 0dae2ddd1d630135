package dasein.core.render;

import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;

/**
 * The point a ray has hit, ready to be shaded: position, frame, and the metal-rough material evaluated there. Mutable
 * and reused by one worker. Directions given to {@link #evaluate} and found by {@link #sample} are in world space and
 * unit length.
 */
final class Surface {
    /** Of a coat of index 1.5. */
    private static final float COAT_F0 = 0.04f;
    /** Cosine at which a surface is seen at so sharp a slant that no texture is told from it. */
    private static final float SLANT = 0.02f;

    private static final float[] WHITE = {1, 1, 1};

    float px, py, pz;
    /** Which of the tracer's meshes, and which copy of it, it belongs to. */
    int mesh, copy;
    /** Geometric normal on the side the ray came from. */
    float gx, gy, gz;

    float nx, ny, nz;
    private float tx, ty, tz, bx, by, bz;
    private float vx, vy, vz;
    float roughness, alpha;
    final float[] base = new float[3];
    final float[] emission = new float[3];
    private final float[] diffuse = new float[3];
    private final float[] f0 = new float[3];
    private final float[] boost = new float[3];
    private float specularChance;
    /**
     * What goes into it and comes out elsewhere: how far between two scatterings, metres, the colour, and how often
     * that is followed.
     */
    float scatter, scatterChance;

    final float[] inner = new float[3];
    /** A clear coat over it: strength, width, what it mirrors towards the viewer, and how often it is chosen. */
    private float coat, coatAlpha, coatMirrors, coatChance;
    /** Sheen: whether there is any, its colour and roughness. */
    private boolean cloth;

    private final float[] sheen = new float[3];
    private float sheenRoughness;
    private final LayerLook layers = new LayerLook();
    /** A body that light goes through: null for none; how often that is followed and what it is multiplied by. */
    Material.Glass glass;

    float glassChance;
    final float[] through = new float[3];
    private float clear, metal;
    /** Where rays begin: the place, lifted off a coarse mesh's facet; whether it is. */
    float lx, ly, lz;

    private boolean smooth;
    /** How wide the ray is where it begins, and how much wider it gets a metre; metres. */
    float begins, widens;
    /** How wide it was where it met this, and what that is of a texture. */
    float wide;

    private float across;
    private final Lift lift = new Lift();
    private final float[] texel = new float[4];
    private final float[] half = new float[3], vertex = new float[3];

    /** BSDF times cosine for the last evaluated or sampled direction, of that what scatters evenly, and its density. */
    final float[] f = new float[3], fMatt = new float[3];

    float pdf;
    float wx, wy, wz;

    /** Fills in the hit that {@code t} found with a ray of direction d at shutter time s. */
    void at(Tracer t, Mesh m, float ox, float oy, float oz, float dx, float dy, float dz, float s) {
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
        float e1x = lerp(p, q, 3 * b, s) - ax, e1y = lerp(p, q, 3 * b + 1, s) - ay, e1z = lerp(p, q, 3 * b + 2, s) - az;
        float e2x = lerp(p, q, 3 * c, s) - ax, e2y = lerp(p, q, 3 * c + 1, s) - ay, e2z = lerp(p, q, 3 * c + 2, s) - az;
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
        Material mat = m.material(t.triangle, t.copy);
        float u = 0, v = 0;
        boolean textured = m.uv() != null && textured(mat);
        if (textured) {
            float[] uv = m.uv();
            u = k0 * uv[2 * a] + k1 * uv[2 * b] + k2 * uv[2 * c];
            v = k0 * uv[2 * a + 1] + k1 * uv[2 * b + 1] + k2 * uv[2 * c + 1];
            across = across(uv, a, b, c, area, Math.abs(gx * dx + gy * dy + gz * dz));
            if (mat.normalTexture() != null) bend(mat, uv, a, b, c, u, v, e1x, e1y, e1z, e2x, e2y, e2z);
        }
        turnTo(dx, dy, dz);
        smooth = n0 != null && copies == null && lift.at(this, m, a, b, c, k0, k1, k2, s);
        lx = px + (smooth ? lift.x : 0);
        ly = py + (smooth ? lift.y : 0);
        lz = pz + (smooth ? lift.z : 0);
        if (m.colour() != null)
            for (int k = 0; k < 3; k++)
                vertex[k] = k0 * m.colour()[4 * a + k] + k1 * m.colour()[4 * b + k] + k2 * m.colour()[4 * c + k];
        else vertex[0] = vertex[1] = vertex[2] = 1;
        look(mat, u, v, textured);
        face(-dx, -dy, -dz);
    }

    /**
     * What the ray's cone covers of the texture: the side of a square as large (Akenine-Möller et al. 2021; there the
     * longer side counts, which blurs what is seen at a slant). @param area of the triangle, twice
     */
    private float across(float[] uv, int a, int b, int c, float area, float cos) {
        float of = (uv[2 * b] - uv[2 * a]) * (uv[2 * c + 1] - uv[2 * a + 1])
                - (uv[2 * c] - uv[2 * a]) * (uv[2 * b + 1] - uv[2 * a + 1]);
        return wide * (float) Math.sqrt(Math.abs(of) / (area * Math.max(cos, SLANT)));
    }

    private static boolean textured(Material m) {
        return m.baseTexture() != null
                || m.metalRoughTexture() != null
                || m.normalTexture() != null
                || m.emissiveTexture() != null
                || m.layers().pictures() != null;
    }

    /** Both normals to the side that a ray of direction d comes from. */
    private void turnTo(float dx, float dy, float dz) {
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

    /** Tangent-space normal map; the frame comes from the uv derivatives of the triangle. */
    private void bend(
            Material mat,
            float[] uv,
            int a,
            int b,
            int c,
            float u,
            float v,
            float e1x,
            float e1y,
            float e1z,
            float e2x,
            float e2y,
            float e2z) {
        float du1 = uv[2 * b] - uv[2 * a],
                dv1 = uv[2 * b + 1] - uv[2 * a + 1],
                du2 = uv[2 * c] - uv[2 * a],
                dv2 = uv[2 * c + 1] - uv[2 * a + 1];
        float det = du1 * dv2 - du2 * dv1;
        if (Math.abs(det) < 1e-14f) return;
        mat.normalTexture().sample(u, v, across, texel);
        float x = (texel[0] * 2 - 1) * mat.normalScale(),
                y = (texel[1] * 2 - 1) * mat.normalScale(),
                z = texel[2] * 2 - 1,
                r = 1 / det;
        float sx = (e1x * dv2 - e2x * dv1) * r, sy = (e1y * dv2 - e2y * dv1) * r, sz = (e1z * dv2 - e2z * dv1) * r;
        float d = sx * nx + sy * ny + sz * nz;
        sx -= d * nx;
        sy -= d * ny;
        sz -= d * nz;
        float len = (float) Math.sqrt(sx * sx + sy * sy + sz * sz);
        if (len < 1e-9f) return;
        sx /= len;
        sy /= len;
        sz /= len;
        float hand = det > 0 ? -1 : 1; // v runs down the texture, +Y of the normal map up (glTF)
        float cx = hand * (ny * sz - nz * sy), cy = hand * (nz * sx - nx * sz), cz = hand * (nx * sy - ny * sx);
        float rx = x * sx + y * cx + z * nx, ry = x * sy + y * cy + z * ny, rz = x * sz + y * cz + z * nz;
        len = 1 / (float) Math.sqrt(rx * rx + ry * ry + rz * rz);
        nx = rx * len;
        ny = ry * len;
        nz = rz * len;
    }

    private void look(Material mat, float u, float v, boolean textured) {
        metal = mat.metallic();
        roughness = mat.roughness();
        for (int c = 0; c < 3; c++) {
            base[c] = mat.baseColor()[c] * vertex[c];
            emission[c] = mat.emissive()[c];
        }
        if (textured && mat.baseTexture() != null) {
            mat.baseTexture().sample(u, v, across, texel);
            for (int c = 0; c < 3; c++) base[c] *= texel[c];
        }
        if (textured && mat.metalRoughTexture() != null) {
            mat.metalRoughTexture().sample(u, v, across, texel);
            roughness *= texel[1];
            metal *= texel[2];
        }
        if (textured && mat.emissiveTexture() != null) {
            mat.emissiveTexture().sample(u, v, across, texel);
            for (int c = 0; c < 3; c++) emission[c] *= texel[c];
        }
        Material.Layers l = mat.layers();
        layers.at(l, u, v, across, textured);
        coat = layers.coat;
        scatter = l.scatter();
        coatAlpha = coat > 0 ? Ggx.alphaOf(layers.coatRoughness) : 0;
        cloth = l.sheen() != null;
        sheenRoughness = layers.sheenRoughness;
        System.arraycopy(layers.sheen, 0, sheen, 0, 3);
        glass = l.clear() > 0 && l.scatter() == 0 ? l.glass() : null;
        clear = glass == null ? 0 : layers.clear;
        for (int c = 0; c < 3; c++) {
            diffuse[c] = base[c] * (1 - metal) * (1 - clear);
            f0[c] = layers.f0[c] * (1 - metal) + base[c] * metal;
            if (!l.unlit()) continue;
            emission[c] = base[c];
            diffuse[c] = f0[c] = 0;
        }
    }

    /** Where light comes out again that went in elsewhere: white and matt, turned to the outside. */
    void outlet() {
        gx = -gx;
        gy = -gy;
        gz = -gz;
        matt(WHITE, -gx, -gy, -gz);
    }

    /** A matt surface of the given albedo facing up the geometric normal: how a catcher looks to other rays. */
    void matt(float[] albedo, float dx, float dy, float dz) {
        nx = gx;
        ny = gy;
        nz = gz;
        lx = px;
        ly = py;
        lz = pz;
        smooth = false;
        roughness = 1;
        coat = scatter = 0;
        cloth = false;
        glass = null;
        for (int c = 0; c < 3; c++) {
            base[c] = diffuse[c] = albedo[c];
            f0[c] = 0;
            emission[c] = 0;
        }
        face(-dx, -dy, -dz);
        specularChance = 0;
    }

    private void face(float x, float y, float z) {
        // Frame around n without a branch on its length (Duff et al. 2017).
        float sign = Math.copySign(1f, nz), a = -1 / (sign + nz), b = nx * ny * a;
        tx = 1 + sign * nx * nx * a;
        ty = sign * b;
        tz = -sign * nx;
        bx = b;
        by = sign + ny * ny * a;
        bz = -ny;
        vx = x * tx + y * ty + z * tz;
        vy = x * bx + y * by + z * bz;
        vz = Math.max(x * nx + y * ny + z * nz, 1e-3f);
        alpha = Ggx.alphaOf(roughness);
        float sa = Ggx.scale(vz, roughness), sb = Ggx.bias(vz, roughness), lost = 1 / Math.max(sa + sb, 0.05f) - 1;
        float spec = 0, diff = 0, out = 0;
        // What the sheen returns does not reach what lies under it (KHR_materials_sheen).
        float under = 1, returned = 0;
        if (cloth) {
            returned = Sheen.albedo(vz, sheenRoughness);
            under = 1 - Math.max(sheen[0], Math.max(sheen[1], sheen[2])) * returned;
        }
        for (int c = 0; c < 3; c++) {
            boolean any = f0[c] > 0;
            boost[c] = any ? 1 + f0[c] * lost : 0;
            float e = any ? Math.min((f0[c] * sa + sb) * boost[c], 1) : 0;
            diffuse[c] *= under * (1 - e);
            boost[c] *= under;
            spec += under * e;
            diff += diffuse[c];
            through[c] = glass == null ? 0 : clear * base[c] * (1 - metal) * under * (1 - e);
            out += through[c];
        }
        scatterChance = 0;
        if (scatter > 0 && diff > 0) {
            for (int c = 0; c < 3; c++) {
                inner[c] = diffuse[c];
                diffuse[c] = 0;
            }
            scatterChance = Math.min(Math.max(diff / (spec + diff), 0.1f), spec <= 0 ? 1 : 0.9f);
            diff = 0;
        }
        if (cloth) for (int c = 0; c < 3; c++) diff += sheen[c] * returned;
        glassChance = out <= 0 ? 0 : Math.max(0.05f, Math.min(spec + diff <= 0 ? 1 : 0.95f, out / (out + spec + diff)));
        coatMirrors = coat * (COAT_F0 + (1 - COAT_F0) * fifth(1 - vz));
        coatChance =
                coat == 0 ? 0 : Math.min(0.5f, Math.max(0.1f, coatMirrors / (coatMirrors + (spec + diff) / 3 + 1e-6f)));
        specularChance = spec + diff <= 0 ? 0 : Math.min(Math.max(spec / (spec + diff), 0.1f), diff <= 0 ? 1 : 0.9f);
    }

    private static float fifth(float k) {
        return k * k * k * k * k;
    }

    /** Sets {@link #f} (BSDF times cosine) and {@link #pdf} for light from direction w. Zero below the surface. */
    void evaluate(float x, float y, float z) {
        f[0] = f[1] = f[2] = pdf = 0;
        if (!smooth && x * gx + y * gy + z * gz <= 0) return;
        local(x * tx + y * ty + z * tz, x * bx + y * by + z * bz, x * nx + y * ny + z * nz);
    }

    private void local(float lx, float ly, float lz) {
        if (lz <= 0) {
            f[0] = f[1] = f[2] = pdf = 0;
            return;
        }
        float cosine = lz * (float) (1 / Math.PI);
        pdf = (1 - specularChance) * cosine;
        f[0] = fMatt[0] = diffuse[0] * cosine;
        f[1] = fMatt[1] = diffuse[1] * cosine;
        f[2] = fMatt[2] = diffuse[2] * cosine;
        if (specularChance == 0 && coat == 0 && !cloth) return;
        float hx = lx + vx, hy = ly + vy, hz = lz + vz, inv = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
        hx *= inv;
        hy *= inv;
        hz *= inv;
        float vh = Math.min(1, Math.max(0, vx * hx + vy * hy + vz * hz)), k = 1 - vh, k5 = k * k * k * k * k;
        if (specularChance > 0) {
            float d = Ggx.distribution(hz, alpha) / (4 * vz), lv = Ggx.lambda(vz, alpha);
            float g = d / (1 + lv + Ggx.lambda(lz, alpha));
            pdf += specularChance * d / (1 + lv);
            for (int c = 0; c < 3; c++) f[c] += (f0[c] + (1 - f0[c]) * k5) * g * boost[c];
        }
        if (cloth) {
            float k1 = Sheen.value(hz, vz, lz, sheenRoughness) * lz;
            for (int c = 0; c < 3; c++) f[c] += sheen[c] * k1;
        }
        if (coat == 0) return;
        // What the coat mirrors away does not reach what lies under it (KHR_materials_clearcoat).
        float d = Ggx.distribution(hz, coatAlpha) / (4 * vz), lv = Ggx.lambda(vz, coatAlpha);
        pdf = (1 - coatChance) * pdf + coatChance * d / (1 + lv);
        float top = coat * (COAT_F0 + (1 - COAT_F0) * k5) * d / (1 + lv + Ggx.lambda(lz, coatAlpha));
        for (int c = 0; c < 3; c++) {
            fMatt[c] *= 1 - coatMirrors;
            f[c] = f[c] * (1 - coatMirrors) + top;
        }
    }

    /** Draws a direction; false when it falls below the surface. On true wx, wy, wz, f and pdf are set. */
    boolean sample(float u, float v, float choice) {
        float lx, ly, lz;
        boolean onCoat = choice < coatChance;
        if (onCoat || (choice - coatChance) < specularChance * (1 - coatChance)) {
            Ggx.visibleNormal(vx, vy, vz, onCoat ? coatAlpha : alpha, u, v, half);
            float vh = vx * half[0] + vy * half[1] + vz * half[2];
            lx = 2 * vh * half[0] - vx;
            ly = 2 * vh * half[1] - vy;
            lz = 2 * vh * half[2] - vz;
        } else {
            float r = (float) Math.sqrt(u), phi = (float) (2 * Math.PI) * v;
            lx = r * (float) Math.cos(phi);
            ly = r * (float) Math.sin(phi);
            lz = (float) Math.sqrt(Math.max(0, 1 - u));
        }
        local(lx, ly, lz);
        world(lx, ly, lz);
        return pdf > 1e-9f && (smooth || wx * gx + wy * gy + wz * gz > 0);
    }

    /** Chooses a facet of the surface; how steeply the viewer looks at it. */
    float facet(float u, float v) {
        Ggx.visibleNormal(vx, vy, vz, alpha, u, v, half);
        return Math.min(1, vx * half[0] + vy * half[1] + vz * half[2]);
    }

    /**
     * The ray from the viewer goes on behind that facet, bent: w is set. False where all of it is thrown back. @param
     * eta index on the viewer's side over that behind
     */
    boolean bend(float cos, float eta) {
        float sin2 = eta * eta * (1 - cos * cos);
        if (sin2 >= 1) return false;
        float k = eta * cos - (float) Math.sqrt(1 - sin2);
        world(k * half[0] - eta * vx, k * half[1] - eta * vy, k * half[2] - eta * vz);
        return true;
    }

    /** The ray from the viewer goes on mirrored by that facet: w is set. */
    void mirror(float cos) {
        world(2 * cos * half[0] - vx, 2 * cos * half[1] - vy, 2 * cos * half[2] - vz);
    }

    private void world(float lx, float ly, float lz) {
        wx = lx * tx + ly * bx + lz * nx;
        wy = lx * ty + ly * by + lz * ny;
        wz = lx * tz + ly * bz + lz * nz;
    }

    /**
     * Part of the light that a clear surface throws back (Fresnel). @param eta index on the viewer's side over that
     * behind
     */
    static float thrownBack(float cos, float eta) {
        float sin2 = eta * eta * (1 - cos * cos);
        if (sin2 >= 1) return 1;
        float behind = (float) Math.sqrt(1 - sin2),
                s = (eta * cos - behind) / (eta * cos + behind),
                p = (cos - eta * behind) / (cos + eta * behind);
        return 0.5f * (s * s + p * p);
    }

    /** Albedo for the denoiser: what the surface would return of white light, roughly. */
    float albedo(int c) {
        return Math.min(1, diffuse[c] + f0[c] + through[c] + (cloth ? sheen[c] * 0.3f : 0));
    }
}

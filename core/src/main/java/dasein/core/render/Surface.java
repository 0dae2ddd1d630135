package dasein.core.render;

import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;

/**
 * The point a ray has hit, ready to be shaded: position, frame, and the metal-rough material evaluated there. Mutable
 * and reused by one worker. Directions given to {@link #evaluate} and found by {@link #sample} are in world space and
 * unit length.
 */
final class Surface extends HitPoint {
    /** Of a coat of index 1.5. */
    private static final float COAT_F0 = 0.04f;

    private static final float[] WHITE = {1, 1, 1};
    /** Roughness of a strand that is seen by a ray which gets wider by so much a metre, at most. */
    private static final float WIDENED = 4, MOST_WIDENED = 0.6f;
    /** How far off a surface rays begin, metres; off a strand. */
    static final float EPS = 2e-4f, OFF_STRAND = 1e-5f;

    private float tx, ty, tz, bx, by, bz;
    private float fx, fy, fz, vx, vy, vz;
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
    /** Whether facets are wider along one way than across it, and how wide. */
    private boolean brushed;

    private float alphaT, alphaB;
    /** Light that comes out on the other side, and how often that is followed. */
    private final float[] leaf = new float[3];

    private float leafChance;
    /** A strand, which light leaves to all sides. */
    private boolean strand;

    private final Hair hair = new Hair();
    /** Where a ray begins, see {@link #leave}. */
    float ox, oy, oz;

    private final float[] texel = new float[4];
    private final float[] half = new float[3], vertex = new float[3];

    /** BSDF times cosine for the last evaluated or sampled direction, of that what scatters evenly, and its density. */
    final float[] f = new float[3], fMatt = new float[3];

    float pdf;
    float wx, wy, wz;

    /** Fills in the hit that {@code t} found with a ray of direction d at shutter time s. */
    void at(Tracer t, Mesh m, float ox, float oy, float oz, float dx, float dy, float dz, float s) {
        float area = met(t, m, ox, oy, oz, dx, dy, dz, s);
        Material mat = m.material(t.triangle, t.copy);
        boolean textured = m.uv() != null && textured(mat);
        if (textured) pictured(t, m, area, dx, dy, dz);
        layers.at(mat.layers(), textured ? place : null);
        strand = textured && mat.layers().fine().strand() && alongStrand();
        if (textured && mat.normalTexture() != null && !strand) bend(mat);
        brushed = textured && layers.brushed > 0 && brush(mat.layers());
        turnTo(dx, dy, dz);
        lift(t, m, s);
        colour(m, t);
        look(mat, textured);
        face(-dx, -dy, -dz);
    }

    /** Of the vertices, between them. */
    private void colour(Mesh m, Tracer t) {
        float[] of = m.colour();
        int a = m.index()[3 * t.triangle], b = m.index()[3 * t.triangle + 1], c = m.index()[3 * t.triangle + 2];
        for (int k = 0; k < 3; k++)
            vertex[k] =
                    of == null ? 1 : (1 - t.b1 - t.b2) * of[4 * a + k] + t.b1 * of[4 * b + k] + t.b2 * of[4 * c + k];
    }

    private static boolean textured(Material m) {
        return m.baseTexture() != null
                || m.metalRoughTexture() != null
                || m.normalTexture() != null
                || m.emissiveTexture() != null
                || m.layers().pictures() != null
                || m.layers().fine() != Material.Fine.NONE;
    }

    /** Finds the way along which it is brushed. */
    private boolean brush(Material.Layers l) {
        if (l.pictures() != null && l.pictures().brushed() != null)
            place.find(l.pictures().brushed());
        else place.find(0, null);
        if (!along()) return false;
        float u = layers.alongU, v = layers.alongV;
        alongX = u * alongX + v * acrossX;
        alongY = u * alongY + v * acrossY;
        alongZ = u * alongZ + v * acrossZ;
        return true;
    }

    private void look(Material mat, boolean textured) {
        metal = mat.metallic();
        roughness = mat.roughness();
        for (int c = 0; c < 3; c++) {
            base[c] = mat.baseColor()[c] * vertex[c];
            emission[c] = mat.emissive()[c];
        }
        if (textured && mat.baseTexture() != null) {
            place.read(mat.baseTexture(), texel);
            for (int c = 0; c < 3; c++) base[c] *= texel[c];
        }
        if (textured && mat.metalRoughTexture() != null) {
            place.read(mat.metalRoughTexture(), texel);
            roughness *= texel[1];
            metal *= texel[2];
        }
        if (textured && mat.emissiveTexture() != null) {
            place.read(mat.emissiveTexture(), texel);
            for (int c = 0; c < 3; c++) emission[c] *= texel[c];
        }
        Material.Layers l = mat.layers();
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
            leaf[c] = layers.leaf * layers.leafColour[c] * (1 - metal) * (1 - clear);
            diffuse[c] *= 1 - layers.leaf;
            f0[c] = layers.f0[c] * (1 - metal) + base[c] * metal;
            if (!l.unlit()) continue;
            emission[c] = base[c];
            diffuse[c] = f0[c] = leaf[c] = 0;
        }
        // What glows alone is no strand.
        strand &= !l.unlit();
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
        cloth = brushed = strand = false;
        glass = null;
        layers.film = 0;
        for (int c = 0; c < 3; c++) {
            base[c] = diffuse[c] = albedo[c];
            f0[c] = leaf[c] = 0;
            emission[c] = 0;
        }
        face(-dx, -dy, -dz);
        specularChance = 0;
    }

    private void face(float x, float y, float z) {
        if (strand) {
            faceStrand(x, y, z);
            return;
        }
        // Frame around n without a branch on its length (Duff et al. 2017).
        float sign = Math.copySign(1f, nz), a = -1 / (sign + nz), b = nx * ny * a;
        tx = 1 + sign * nx * nx * a;
        ty = sign * b;
        tz = -sign * nx;
        bx = b;
        by = sign + ny * ny * a;
        bz = -ny;
        alpha = alphaT = alphaB = Ggx.alphaOf(roughness);
        if (brushed) turnAlong();
        vx = x * tx + y * ty + z * tz;
        vy = x * bx + y * by + z * bz;
        vz = Math.max(x * nx + y * ny + z * nz, 1e-3f);
        if (layers.film > 0) ThinFilm.on(f0, Math.min(1, vz), layers.film, layers.filmIor, layers.filmThickness);
        float sa = Ggx.scale(vz, roughness), sb = Ggx.bias(vz, roughness), lost = 1 / Math.max(sa + sb, 0.05f) - 1;
        float spec = 0, diff = 0, out = 0, other = 0;
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
            leaf[c] *= under * (1 - e);
            other += leaf[c];
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
        leafChance =
                other <= 0 ? 0 : Math.max(0.05f, Math.min(spec + diff <= 0 ? 1 : 0.95f, other / (other + spec + diff)));
        glassChance = out <= 0 ? 0 : Math.max(0.05f, Math.min(spec + diff <= 0 ? 1 : 0.95f, out / (out + spec + diff)));
        coatMirrors = coat * (COAT_F0 + (1 - COAT_F0) * fifth(1 - vz));
        coatChance =
                coat == 0 ? 0 : Math.min(0.5f, Math.max(0.1f, coatMirrors / (coatMirrors + (spec + diff) / 3 + 1e-6f)));
        specularChance = spec + diff <= 0 ? 0 : Math.min(Math.max(spec / (spec + diff), 0.1f), diff <= 0 ? 1 : 0.9f);
    }

    /** The frame, and how wide facets are in it, by the way it is brushed (KHR_materials_anisotropy). */
    private void turnAlong() {
        float d = alongX * nx + alongY * ny + alongZ * nz,
                x = alongX - d * nx,
                y = alongY - d * ny,
                z = alongZ - d * nz;
        float len = (float) Math.sqrt(x * x + y * y + z * z);
        if (len < 1e-6f) {
            brushed = false;
            return;
        }
        tx = x / len;
        ty = y / len;
        tz = z / len;
        bx = ny * tz - nz * ty;
        by = nz * tx - nx * tz;
        bz = nx * ty - ny * tx;
        alphaT = alpha + (1 - alpha) * layers.brushed * layers.brushed;
        // Single scattering loses as much as of facets of the root mean square width (tried: within 0.03 of the
        // albedo).
        roughness = (float) Math.sqrt(Math.sqrt((alphaT * alphaT + alphaB * alphaB) / 2));
    }

    /** x of the frame along the strand. */
    private void faceStrand(float x, float y, float z) {
        tx = alongX;
        ty = alongY;
        tz = alongZ;
        float d = nx * tx + ny * ty + nz * tz, a = nx - d * tx, b = ny - d * ty, c = nz - d * tz;
        float len = 1 / (float) Math.sqrt(a * a + b * b + c * c);
        bx = a * len;
        by = b * len;
        bz = c * len;
        // The third, into n's place of the frame: the normal is the second.
        fx = ty * bz - tz * by;
        fy = tz * bx - tx * bz;
        fz = tx * by - ty * bx;
        vx = x * tx + y * ty + z * tz;
        vy = x * bx + y * by + z * bz;
        vz = x * fx + y * fy + z * fz;
        alpha = 1;
        scatterChance = glassChance = coatChance = specularChance = leafChance = 0;
        coat = 0;
        cloth = false;
        float flat = (float) Math.sqrt(vy * vy + vz * vz);
        // Seen by a wide ray its lobes are wider too: what finds them by chance would sparkle.
        float least = Math.min(MOST_WIDENED, WIDENED * widens);
        hair.at(vx, vy, vz, flat > 1e-6f ? vz / flat : 0, Math.max(roughness, least), base);
    }

    /** Where a ray that leaves in a direction begins, into {@link #ox}, oy, oz: on the side it goes to. */
    void leave(float x, float y, float z) {
        if (strand) {
            // Through it, where the ray goes into it.
            float d = x * tx + y * ty + z * tz, a = x - d * tx, b = y - d * ty, c = z - d * tz;
            float flat = a * a + b * b + c * c, into = a * bx + b * by + c * bz;
            float chord = into < 0 && flat > 1e-4f ? -2.2f * radius * into / flat : 0;
            ox = px + chord * x + OFF_STRAND * gx;
            oy = py + chord * y + OFF_STRAND * gy;
            oz = pz + chord * z + OFF_STRAND * gz;
            return;
        }
        boolean behind = leafChance > 0 && x * gx + y * gy + z * gz < 0;
        float off = behind ? -EPS : EPS;
        ox = (behind ? px : lx) + off * gx;
        oy = (behind ? py : ly) + off * gy;
        oz = (behind ? pz : lz) + off * gz;
    }

    private static float fifth(float k) {
        return k * k * k * k * k;
    }

    /** Sets {@link #f} (BSDF times cosine) and {@link #pdf} for light from direction w. Zero below the surface. */
    void evaluate(float x, float y, float z) {
        f[0] = f[1] = f[2] = pdf = 0;
        if (strand) {
            hair.evaluate(x * tx + y * ty + z * tz, x * bx + y * by + z * bz, x * fx + y * fy + z * fz);
            strands();
            return;
        }
        if (leafChance > 0 && x * gx + y * gy + z * gz < 0) {
            otherSide(-(x * nx + y * ny + z * nz));
            return;
        }
        if (!smooth && x * gx + y * gy + z * gz <= 0) return;
        local(x * tx + y * ty + z * tz, x * bx + y * by + z * bz, x * nx + y * ny + z * nz);
    }

    private void strands() {
        System.arraycopy(hair.f, 0, f, 0, 3);
        System.arraycopy(hair.fInner, 0, fMatt, 0, 3);
        pdf = hair.pdf;
    }

    /** Light from the other side. @param cos below the surface */
    private void otherSide(float cos) {
        float k = cos <= 0 ? 0 : cos * (float) (1 / Math.PI);
        pdf = leafChance * k;
        for (int c = 0; c < 3; c++) f[c] = fMatt[c] = leaf[c] * k * (1 - coatMirrors);
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
        if (specularChance > 0 || coat > 0 || cloth) mirrored(lx, ly, lz);
        pdf *= 1 - leafChance;
    }

    private void mirrored(float lx, float ly, float lz) {
        float hx = lx + vx, hy = ly + vy, hz = lz + vz, inv = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
        hx *= inv;
        hy *= inv;
        hz *= inv;
        float vh = Math.min(1, Math.max(0, vx * hx + vy * hy + vz * hz)), k = 1 - vh, k5 = k * k * k * k * k;
        if (specularChance > 0) {
            float d, lv, ll;
            if (brushed) {
                d = Ggx.distribution(hx, hy, hz, alphaT, alphaB) / (4 * vz);
                lv = Ggx.lambda(vx, vy, vz, alphaT, alphaB);
                ll = Ggx.lambda(lx, ly, lz, alphaT, alphaB);
            } else {
                d = Ggx.distribution(hz, alpha) / (4 * vz);
                lv = Ggx.lambda(vz, alpha);
                ll = Ggx.lambda(lz, alpha);
            }
            float g = d / (1 + lv + ll);
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
        if (strand) {
            hair.sample(u, v, choice);
            strands();
            wx = hair.x * tx + hair.y * bx + hair.z * fx;
            wy = hair.x * ty + hair.y * by + hair.z * fy;
            wz = hair.x * tz + hair.y * bz + hair.z * fz;
            return pdf > 1e-9f;
        }
        boolean behind = choice < leafChance;
        if (leafChance > 0 && !behind) choice = (choice - leafChance) / (1 - leafChance);
        float lx, ly, lz;
        boolean onCoat = !behind && choice < coatChance;
        if (!behind && (onCoat || (choice - coatChance) < specularChance * (1 - coatChance))) {
            Ggx.visibleNormal(vx, vy, vz, onCoat ? coatAlpha : alphaT, onCoat ? coatAlpha : alphaB, u, v, half);
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
        if (behind) {
            otherSide(lz);
            world(lx, ly, -lz);
            return pdf > 1e-9f && wx * gx + wy * gy + wz * gz < 0;
        }
        local(lx, ly, lz);
        world(lx, ly, lz);
        return pdf > 1e-9f && (smooth || wx * gx + wy * gy + wz * gz > 0);
    }

    /** Chooses a facet of the surface; how steeply the viewer looks at it. */
    float facet(float u, float v) {
        Ggx.visibleNormal(vx, vy, vz, alphaT, alphaB, u, v, half);
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
        return strand
                ? base[c]
                : Math.min(1, diffuse[c] + leaf[c] + f0[c] + through[c] + (cloth ? sheen[c] * 0.3f : 0));
    }
}

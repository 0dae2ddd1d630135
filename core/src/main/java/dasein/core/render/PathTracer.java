package dasein.core.render;

import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.math.Sobol;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;

/**
 * Light along a path: at every hit the suns and the environment are sampled, and the BSDF's own direction sees them
 * too; the two are weighed by the power heuristic (Veach 1997). One for each worker thread.
 */
final class PathTracer {
    private static final float EPS = 2e-4f;
    private static final int ROULETTE_AFTER = 2, MOST_SCATTERINGS = 256, MOST_OUTLETS = 3, MOST_WITHIN = 16;
    /** Density of a direction that is the only one: no light sample could have found it. */
    private static final float ALONE = 1e15f, SHARP = 0.05f;

    final Tracer tracer;
    final Mesh[] meshes;
    final Sobol random = new Sobol();
    final Surface surface = new Surface();
    private final Environment env;
    private final Sun[] suns;
    private final float[][] sunFrame;
    final Lamps lamps;
    private final Glow glow;
    private final Surface shining;
    /** Of the last sample of what glows: direction, metres, density for each unit of solid angle. */
    float glowX, glowY, glowZ, glowFar, glowDensity;

    private final int maxBounces;
    private final Ground ground;
    private final float[] tmp = new float[4];
    private final float[] colour = new float[3], inner = new float[3], walked = new float[3];
    private boolean lastBounce;
    /** Whether the path is on a catcher whose radiance the plate tells. */
    private boolean onPlate;

    private final float[] told = new float[3];
    /** Radiance found by the last call. */
    final float[] out = new float[3];

    PathTracer(Tracer tracer, Mesh[] meshes, Lighting lighting, Glow glow, Ground ground, int maxBounces) {
        this.glow = glow;
        this.tracer = tracer;
        this.meshes = meshes;
        this.env = lighting.environment();
        this.suns = lighting.suns().toArray(Sun[]::new);
        this.ground = ground;
        this.maxBounces = maxBounces;
        shining = glow.count > 0 ? new Surface() : null;
        lamps = new Lamps(lighting.lamps());
        sunFrame = new float[suns.length][];
        for (int i = 0; i < suns.length; i++) {
            Vec3 w = suns[i].towards(), t = w.anyPerpendicular(), b = w.cross(t);
            sunFrame[i] = new float[] {
                (float) t.x(),
                (float) t.y(),
                (float) t.z(),
                (float) b.x(),
                (float) b.y(),
                (float) b.z(),
                (float) w.x(),
                (float) w.y(),
                (float) w.z(),
                (float) suns[i].cosHalf(),
                (float) (1 / suns[i].solidAngle())
            };
        }
    }

    boolean glows() {
        return glow.count > 0;
    }

    /** Radiance of the last sample of what glows. */
    float[] glowLight() {
        return shining.emission;
    }

    /** A place of what glows, and the way there; false when it is seen edge on. The tracer's hit is lost. */
    boolean sampleGlow(float ox, float oy, float oz, float s) {
        random.next();
        int at = glow.pick(random.u), m = glow.mesh(at), t = glow.triangle(at);
        random.next();
        float root = (float) Math.sqrt(random.u), b1 = root * (1 - random.v), b2 = root * random.v;
        Mesh k = meshes[m];
        int[] i = k.index();
        glowX = corner(k, i, t, 0, b1, b2, s) - ox;
        glowY = corner(k, i, t, 1, b1, b2, s) - oy;
        glowZ = corner(k, i, t, 2, b1, b2, s) - oz;
        glowFar = (float) Math.sqrt(glowX * glowX + glowY * glowY + glowZ * glowZ);
        if (!(glowFar > 1e-5f)) return false;
        glowX /= glowFar;
        glowY /= glowFar;
        glowZ /= glowFar;
        tracer.mesh = m;
        tracer.copy = 0;
        tracer.triangle = t;
        tracer.b1 = b1;
        tracer.b2 = b2;
        tracer.t = glowFar;
        shining.at(tracer, k, ox, oy, oz, glowX, glowY, glowZ, s);
        glowDensity = glowDensity(m, t, shining, glowX, glowY, glowZ, glowFar, s);
        return glowDensity > 0;
    }

    private static float corner(Mesh k, int[] i, int t, int axis, float b1, float b2, float s) {
        float a = moved(k, 3 * i[3 * t] + axis, s),
                b = moved(k, 3 * i[3 * t + 1] + axis, s),
                c = moved(k, 3 * i[3 * t + 2] + axis, s);
        return (1 - b1 - b2) * a + b1 * b + b2 * c;
    }

    private static float moved(Mesh k, int at, float s) {
        return k.position0()[at] + s * (k.position1()[at] - k.position0()[at]);
    }

    /**
     * With which light samples find a place on a glowing triangle, for each unit of solid angle: 0 where they do not.
     *
     * @param on the place; x, y, z the way there, {@code far} metres
     */
    float glowDensity(int m, int t, Surface on, float x, float y, float z, float far, float s) {
        float chance = glow.chance(m, t);
        if (!(chance > 0)) return 0;
        float cos = Math.abs(x * on.gx + y * on.gy + z * on.gz);
        if (!(cos > 1e-4f)) return 0;
        return chance * far * far / (cos * area(meshes[m], t, s));
    }

    private static float area(Mesh k, int t, float s) {
        int[] i = k.index();
        float ux = corner(k, i, t, 0, 1, 0, s) - corner(k, i, t, 0, 0, 0, s),
                uy = corner(k, i, t, 1, 1, 0, s) - corner(k, i, t, 1, 0, 0, s),
                uz = corner(k, i, t, 2, 1, 0, s) - corner(k, i, t, 2, 0, 0, s),
                vx = corner(k, i, t, 0, 0, 1, s) - corner(k, i, t, 0, 0, 0, s),
                vy = corner(k, i, t, 1, 0, 1, s) - corner(k, i, t, 1, 0, 0, s),
                vz = corner(k, i, t, 2, 0, 1, s) - corner(k, i, t, 2, 0, 0, s);
        float a = uy * vz - uz * vy, b = uz * vx - ux * vz, c = ux * vy - uy * vx;
        return Math.max(1e-12f, (float) Math.sqrt(a * a + b * b + c * c) / 2);
    }

    boolean lampsReal() {
        for (int i = 0; i < lamps.count(); i++) if (lamps.real(i)) return true;
        return false;
    }

    int sunCount() {
        return suns.length;
    }

    float[] sunIrradiance(int i) {
        return suns[i].irradiance();
    }

    /** Direction within sun i's disc, into tmp-like array d. */
    void sunDirection(int i, float u, float v, float[] d) {
        float[] f = sunFrame[i];
        float cos = 1 - u * (1 - f[9]),
                sin = (float) Math.sqrt(Math.max(0, 1 - cos * cos)),
                phi = (float) (2 * Math.PI) * v;
        float a = sin * (float) Math.cos(phi), b = sin * (float) Math.sin(phi);
        for (int k = 0; k < 3; k++) d[k] = a * f[k] + b * f[3 + k] + cos * f[6 + k];
    }

    Environment environment() {
        return env;
    }

    /** Radiance of the sky (environment, and suns if asked) in a direction, into c. */
    void sky(float x, float y, float z, boolean withSuns, float[] c) {
        if (env == null) c[0] = c[1] = c[2] = 0;
        else env.radiance(x, y, z, c);
        if (!withSuns) return;
        for (int i = 0; i < suns.length; i++) {
            float[] f = sunFrame[i];
            if (x * f[6] + y * f[7] + z * f[8] >= f[9])
                for (int k = 0; k < 3; k++) c[k] += suns[i].irradiance()[k] * f[10];
        }
    }

    /**
     * Radiance that leaves the hit which the tracer holds (found with direction d at shutter time s) towards the ray's
     * origin; {@link #surface} must have been filled in for it. The result is in {@link #out}.
     */
    void fromHit(float s) {
        float tr = 1, tg = 1, tb = 1;
        int outlets = 0;
        boolean sharp = true;
        onPlate = false;
        System.arraycopy(surface.emission, 0, out, 0, 3);
        for (int bounce = 0; ; bounce++) {
            lastBounce = bounce >= maxBounces;
            if (onPlate) plate(tr, tg, tb, s);
            else direct(tr, tg, tb, s, bounce == 0);
            if (lastBounce) return;
            random.next();
            float u = random.u, v = random.v;
            random.next();
            float inside = surface.scatterChance, choice = random.u;
            if (inside > 0 && choice < inside) {
                if (!within(u, v, s)) return;
                tr *= walked[0] / inside;
                tg *= walked[1] / inside;
                tb *= walked[2] / inside;
                // Coming out is no further bounce; but nobody follows light in and out for ever.
                if (++outlets <= MOST_OUTLETS) bounce--;
                continue;
            }
            if (inside > 0) {
                choice = (choice - inside) / (1 - inside);
                tr /= 1 - inside;
                tg /= 1 - inside;
                tb /= 1 - inside;
            }
            float enters = surface.glassChance, pdf, ox, oy, oz;
            boolean met = false;
            if (enters > 0 && choice < enters) {
                for (int c = 0; c < 3; c++) walked[c] = surface.through[c];
                Way way = through(u, v, s);
                if (way == Way.LOST) return;
                met = way == Way.MET;
                tr *= walked[0] / enters;
                tg *= walked[1] / enters;
                tb *= walked[2] / enters;
                if (++outlets <= MOST_OUTLETS) bounce--;
                pdf = ALONE;
                ox = rayX;
                oy = rayY;
                oz = rayZ;
            } else {
                if (enters > 0) {
                    choice = (choice - enters) / (1 - enters);
                    tr /= 1 - enters;
                    tg /= 1 - enters;
                    tb /= 1 - enters;
                }
                if (!surface.sample(u, v, choice)) return;
                float inv = 1 / surface.pdf;
                tr *= surface.f[0] * inv;
                tg *= surface.f[1] * inv;
                tb *= surface.f[2] * inv;
                pdf = surface.pdf;
                sharp &= surface.alpha < SHARP;
                ox = surface.px + EPS * surface.gx;
                oy = surface.py + EPS * surface.gy;
                oz = surface.pz + EPS * surface.gz;
            }
            float dx = surface.wx, dy = surface.wy, dz = surface.wz;
            if (bounce >= ROULETTE_AFTER) {
                float q = Math.min(0.95f, Math.max(tr, Math.max(tg, tb)));
                if (random.v >= q) return;
                tr /= q;
                tg /= q;
                tb /= q;
            }
            boolean on = met || tracer.nearest(ox, oy, oz, dx, dy, dz, 1e30f, s, random.v, Tracer.LIT, sharp);
            for (int i = 0; i < lamps.count() && !onPlate; i++) {
                // A lamp itself is not there: it is seen by what mirrors it, and in nobody's way.
                if (!lamps.met(i, ox, oy, oz, dx, dy, dz, on ? tracer.t : 1e30f)) continue;
                float w = power(pdf, lamps.density);
                out[0] += tr * lamps.light[0] * w;
                out[1] += tg * lamps.light[1] * w;
                out[2] += tb * lamps.light[2] * w;
            }
            if (onPlate) {
                // The plate shows already what sky and other pieces give; a performer keeps that away.
                if (!on || meshes[tracer.mesh].role() == Mesh.Role.CATCHER) return;
                escape(dx, dy, dz, pdf, -tr, -tg, -tb);
            } else if (!on) {
                escape(dx, dy, dz, pdf, tr, tg, tb);
                return;
            }
            int hit = tracer.mesh, triangle = tracer.triangle;
            float far = tracer.t;
            land(ox, oy, oz, dx, dy, dz, s);
            // Where light samples could have found it too, both share.
            float found = glow.count == 0 || met ? 0 : glowDensity(hit, triangle, surface, dx, dy, dz, far, s);
            float w = found > 0 ? power(pdf, found) : 1;
            out[0] += tr * surface.emission[0] * w;
            out[1] += tg * surface.emission[1] * w;
            out[2] += tb * surface.emission[2] * w;
        }
    }

    /** Fills in the surface that the tracer's ray has met; a catcher has the plate's colour. */
    private void land(float ox, float oy, float oz, float dx, float dy, float dz, float s) {
        Mesh m = meshes[tracer.mesh];
        surface.at(tracer, m, ox, oy, oz, dx, dy, dz, s);
        onPlate = false;
        if (m.role() != Mesh.Role.CATCHER) return;
        onPlate = ground.radiance(surface.px, surface.py, surface.pz, surface.gx, surface.gy, surface.gz, told);
        ground.albedo(surface.px, surface.py, surface.pz, surface.gx, surface.gy, surface.gz, colour);
        surface.matt(colour, dx, dy, dz);
    }

    /**
     * Light's way within a body, backwards: scattered evenly to all sides, some of it lost each time, until it comes
     * out; what is left of it is in {@link #walked}, and {@link #surface} is where it came out. How much is lost
     * follows from the colour the body is to have (Chiang, Kutz and Burley 2016; its numbers from memory, checked by
     * what comes out).
     */
    private boolean within(float u, float v, float s) {
        float mean = surface.scatter;
        int body = surface.mesh, copy = surface.copy;
        float[] a = inner;
        for (int c = 0; c < 3; c++) {
            float k = Math.min(0.999f, surface.inner[c]);
            a[c] = 1 - (float) Math.exp(k * (-5.09406f + k * (2.61188f - 4.31805f * k)));
            walked[c] = 1;
        }
        Vec3 n = new Vec3(-surface.gx, -surface.gy, -surface.gz), t = n.anyPerpendicular(), b = n.cross(t);
        double r = Math.sqrt(u), phi = 2 * Math.PI * v, z = Math.sqrt(1 - u);
        Vec3 d = t.times(r * Math.cos(phi)).plus(b.times(r * Math.sin(phi))).plus(n.times(z));
        float dx = (float) d.x(),
                dy = (float) d.y(),
                dz = (float) d.z(),
                px = surface.px - EPS * surface.gx,
                py = surface.py - EPS * surface.gy,
                pz = surface.pz - EPS * surface.gz;
        for (int k = 0; k < MOST_SCATTERINGS; k++) {
            random.next();
            float way = -mean * (float) Math.log(1 - Math.min(random.u, 0.999999f)), keep = random.v;
            if (tracer.nearest(px, py, pz, dx, dy, dz, way, s, Tracer.NEVER, Tracer.ALL, false)) {
                // Another thing within it swallows it.
                if (tracer.mesh != body || tracer.copy != copy) return false;
                surface.at(tracer, meshes[body], px, py, pz, dx, dy, dz, s);
                surface.outlet();
                return true;
            }
            for (int c = 0; c < 3; c++) walked[c] *= a[c];
            if (k >= ROULETTE_AFTER) {
                float q = Math.min(0.999f, Math.max(walked[0], Math.max(walked[1], walked[2])));
                if (keep >= q) return false;
                for (int c = 0; c < 3; c++) walked[c] /= q;
            }
            px += way * dx;
            py += way * dy;
            pz += way * dz;
            random.next();
            dz = 1 - 2 * random.u;
            float flat = (float) Math.sqrt(Math.max(0, 1 - dz * dz)), round = (float) (2 * Math.PI) * random.v;
            dx = flat * (float) Math.cos(round);
            dy = flat * (float) Math.sin(round);
        }
        return false;
    }

    private enum Way {
        LOST,
        LEFT,
        MET
    }

    /** Where light goes on after a body of glass; its direction is the surface's w. */
    private float rayX, rayY, rayZ;

    /**
     * The path through a body of glass: in by a bent facet, thrown back within as often as its surface says, out by
     * another. What is left of it is in {@link #walked}. MET: it came to something within, which the tracer holds.
     */
    private Way through(float u, float v, float s) {
        Material.Glass glass = surface.glass;
        int body = surface.mesh, copy = surface.copy;
        if (!surface.bend(surface.facet(u, v), 1 / glass.ior())) return Way.LOST;
        for (int k = 0; k < MOST_WITHIN; k++) {
            float side = k == 0 ? -EPS : EPS, dx = surface.wx, dy = surface.wy, dz = surface.wz;
            rayX = surface.px + side * surface.gx;
            rayY = surface.py + side * surface.gy;
            rayZ = surface.pz + side * surface.gz;
            // A shell that is open has no other side.
            if (!tracer.nearest(rayX, rayY, rayZ, dx, dy, dz, 1e30f, s, random.v, Tracer.ALL, true)) return Way.LEFT;
            for (int c = 0; c < 3; c++) walked[c] *= (float) Math.exp(-glass.absorbs()[c] * tracer.t);
            if (tracer.mesh != body || tracer.copy != copy) return Way.MET;
            surface.at(tracer, meshes[body], rayX, rayY, rayZ, dx, dy, dz, s);
            random.next();
            float cos = surface.facet(random.u, random.v);
            random.next();
            if (random.u < Surface.thrownBack(cos, glass.ior()) || !surface.bend(cos, glass.ior())) {
                surface.mirror(cos);
                continue;
            }
            rayX = surface.px - EPS * surface.gx;
            rayY = surface.py - EPS * surface.gy;
            rayZ = surface.pz - EPS * surface.gz;
            return Way.LEFT;
        }
        return Way.LOST;
    }

    /**
     * Light seen by a BSDF direction that left the scene, weighed against the light samples that could have found it.
     */
    private void escape(float dx, float dy, float dz, float pdf, float tr, float tg, float tb) {
        if (env != null) {
            float w = power(pdf, env.radianceAndDensity(dx, dy, dz, colour));
            out[0] += tr * colour[0] * w;
            out[1] += tg * colour[1] * w;
            out[2] += tb * colour[2] * w;
        }
        for (int i = 0; i < suns.length; i++) {
            float[] f = sunFrame[i];
            if (dx * f[6] + dy * f[7] + dz * f[8] < f[9]) continue;
            float w = power(pdf, f[10]) * f[10];
            out[0] += tr * suns[i].irradiance()[0] * w;
            out[1] += tg * suns[i].irradiance()[1] * w;
            out[2] += tb * suns[i].irradiance()[2] * w;
        }
    }

    static float power(float a, float b) {
        return a * a / (a * a + b * b);
    }

    private void direct(float tr, float tg, float tb, float s, boolean all) {
        int first = suns.length + (env == null ? 0 : 1),
                glowing = first + lamps.count(),
                lights = glowing + (glow.count > 0 ? 1 : 0);
        if (lights == 0) return;
        random.next();
        float pick = random.u, chance = random.v;
        // Behind the first hit one light is picked at random: noise there is averaged by the bounce anyway.
        int only = all ? -1 : Math.min((int) (pick * lights), lights - 1);
        float weight = all ? 1 : lights;
        float ox = surface.px + EPS * surface.gx,
                oy = surface.py + EPS * surface.gy,
                oz = surface.pz + EPS * surface.gz;
        for (int i = 0; i < suns.length; i++) {
            if (only >= 0 && only != i) continue;
            random.next();
            sunDirection(i, random.u, random.v, tmp);
            surface.evaluate(tmp[0], tmp[1], tmp[2]);
            if (surface.pdf <= 0 || tracer.blocked(ox, oy, oz, tmp[0], tmp[1], tmp[2], 1e30f, s, chance, null))
                continue;
            float w = weight * power(sunFrame[i][10], bounceable(surface.pdf));
            float[] e = suns[i].irradiance();
            out[0] += tr * surface.f[0] * e[0] * w;
            out[1] += tg * surface.f[1] * e[1] * w;
            out[2] += tb * surface.f[2] * e[2] * w;
        }
        if (env != null && (only < 0 || only == suns.length)) {
            random.next();
            env.sample(random.u, random.v, tmp, colour);
            surface.evaluate(tmp[0], tmp[1], tmp[2]);
            if (surface.pdf > 0 && !tracer.blocked(ox, oy, oz, tmp[0], tmp[1], tmp[2], 1e30f, s, chance, null)) {
                float w = weight * power(tmp[3], bounceable(surface.pdf)) / tmp[3];
                out[0] += tr * surface.f[0] * colour[0] * w;
                out[1] += tg * surface.f[1] * colour[1] * w;
                out[2] += tb * surface.f[2] * colour[2] * w;
            }
        }
        for (int i = 0; i < lamps.count(); i++) {
            if (only >= 0 && only != first + i) continue;
            random.next();
            if (!lamps.sample(i, ox, oy, oz, random.u, random.v)) continue;
            float x = lamps.dx, y = lamps.dy, z = lamps.dz;
            surface.evaluate(x, y, z);
            if (surface.pdf <= 0 || tracer.blocked(ox, oy, oz, x, y, z, lamps.far, s, chance, null)) continue;
            float w = weight * (lamps.density > 0 ? power(lamps.density, bounceable(surface.pdf)) : 1);
            out[0] += tr * surface.f[0] * lamps.light[0] * w;
            out[1] += tg * surface.f[1] * lamps.light[1] * w;
            out[2] += tb * surface.f[2] * lamps.light[2] * w;
        }
        if (lights > glowing && (only < 0 || only == glowing)) glow(ox, oy, oz, tr, tg, tb, weight, s, chance);
    }

    /**
     * Light of a catcher whose radiance the plate tells: that, less what performers take away, and what lamps that were
     * not there give. It differs from {@link #direct} in the variance alone (a control variate): where no performer is
     * near there is none.
     */
    private void plate(float tr, float tg, float tb, float s) {
        out[0] += tr * told[0];
        out[1] += tg * told[1];
        out[2] += tb * told[2];
        int first = suns.length + (env == null ? 0 : 1),
                glowing = first + lamps.count(),
                lights = glowing + (glow.count > 0 ? 1 : 0);
        if (lights == 0) return;
        random.next();
        int i = Math.min((int) (random.u * lights), lights - 1);
        float chance = random.v;
        float ox = surface.px + EPS * surface.gx,
                oy = surface.py + EPS * surface.gy,
                oz = surface.pz + EPS * surface.gz;
        if (i == glowing) {
            glow(ox, oy, oz, tr, tg, tb, lights, s, chance);
            return;
        }
        random.next();
        float x, y, z, far = 1e30f, w = -lights;
        float[] e = colour;
        if (i < suns.length) {
            sunDirection(i, random.u, random.v, tmp);
            e = suns[i].irradiance();
        } else if (i < first) {
            env.sample(random.u, random.v, tmp, colour);
        } else {
            if (!lamps.sample(i - first, ox, oy, oz, random.u, random.v)) return;
            tmp[0] = lamps.dx;
            tmp[1] = lamps.dy;
            tmp[2] = lamps.dz;
            far = lamps.far;
            e = lamps.light;
        }
        x = tmp[0];
        y = tmp[1];
        z = tmp[2];
        surface.evaluate(x, y, z);
        if (surface.pdf <= 0) return;
        boolean added = i >= first && !lamps.real(i - first);
        if (tracer.blocked(ox, oy, oz, x, y, z, far, s, chance, added ? null : Mesh.Role.PERFORMER) == added) return;
        if (added) w = lights;
        else if (i < suns.length) w *= power(sunFrame[i][10], bounceable(surface.pdf));
        else if (i < first) w *= power(tmp[3], bounceable(surface.pdf)) / tmp[3];
        out[0] += tr * surface.f[0] * e[0] * w;
        out[1] += tg * surface.f[1] * e[1] * w;
        out[2] += tb * surface.f[2] * e[2] * w;
    }

    /** What glows, as one more light. */
    private void glow(float ox, float oy, float oz, float tr, float tg, float tb, float weight, float s, float chance) {
        if (!sampleGlow(ox, oy, oz, s)) return;
        surface.evaluate(glowX, glowY, glowZ);
        if (surface.pdf <= 0 || tracer.blocked(ox, oy, oz, glowX, glowY, glowZ, 0.999f * glowFar, s, chance, null))
            return;
        float w = weight * power(glowDensity, bounceable(surface.pdf)) / glowDensity;
        float[] e = shining.emission;
        out[0] += tr * surface.f[0] * e[0] * w;
        out[1] += tg * surface.f[1] * e[1] * w;
        out[2] += tb * surface.f[2] * e[2] * w;
    }

    /** With no bounce to follow, the light sample is alone and takes the whole weight. */
    private float bounceable(float pdf) {
        return lastBounce ? 0 : pdf;
    }
}

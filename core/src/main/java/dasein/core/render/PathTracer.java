package dasein.core.render;

import dasein.core.light.Environment;
import dasein.core.light.Lighting;
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
    final Lights lights;

    private final int maxBounces;
    private final Ground ground;
    private final float[] colour = new float[3], inner = new float[3], walked = new float[3];
    private boolean lastBounce;
    /** Whether the path is on a catcher whose radiance the plate tells. */
    private boolean onPlate;

    private final float[] told = new float[3], chosen;
    /** Radiance found by the last call. */
    final float[] out = new float[3];

    /** @param scale as of {@link Lights} */
    PathTracer(Tracer tracer, Mesh[] meshes, Lighting lighting, Glow glow, float scale, Ground ground, int maxBounces) {
        this.tracer = tracer;
        this.meshes = meshes;
        this.ground = ground;
        this.maxBounces = maxBounces;
        lights = new Lights(lighting, glow, tracer, meshes, random, scale);
        chosen = new float[7];
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
            for (int i = 0; i < lights.lamps.count() && !onPlate; i++) {
                // A lamp itself is not there: it is seen by what mirrors it, and in nobody's way.
                if (!lights.lamps.met(i, ox, oy, oz, dx, dy, dz, on ? tracer.t : 1e30f)) continue;
                float w = power(pdf, lights.lamps.density);
                out[0] += tr * lights.lamps.light[0] * w;
                out[1] += tg * lights.lamps.light[1] * w;
                out[2] += tb * lights.lamps.light[2] * w;
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
            float found = !lights.glows() || met ? 0 : lights.glowDensity(hit, triangle, surface, dx, dy, dz, far, s);
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
        Environment env = lights.environment;
        if (env != null) {
            float w = power(pdf, env.radianceAndDensity(dx, dy, dz, colour));
            out[0] += tr * colour[0] * w;
            out[1] += tg * colour[1] * w;
            out[2] += tb * colour[2] * w;
        }
        for (int i = 0; i < lights.suns.length; i++) {
            float density = lights.sunSeen(i, dx, dy, dz);
            if (density == 0) continue;
            float w = power(pdf, density) * density;
            float[] e = lights.suns[i].irradiance();
            out[0] += tr * e[0] * w;
            out[1] += tg * e[1] * w;
            out[2] += tb * e[2] * w;
        }
    }

    static float power(float a, float b) {
        return a * a / (a * a + b * b);
    }

    /**
     * Light that comes straight to the surface. At the first hit every light is asked; behind it one: each proposes a
     * direction, and one of these is taken in proportion to what it would give if nothing stood in its way, so that one
     * ray to a light is enough (resampled importance sampling, Talbot, Cline and Egbert 2005).
     */
    private void direct(float tr, float tg, float tb, float s, boolean all) {
        float ox = surface.px + EPS * surface.gx,
                oy = surface.py + EPS * surface.gy,
                oz = surface.pz + EPS * surface.gz;
        if (!all) {
            int i = pick(ox, oy, oz, s);
            if (i >= 0 && !tracer.blocked(ox, oy, oz, chosen[0], chosen[1], chosen[2], chosen[3], s, random.u, null))
                add(tr, tg, tb, 1);
            return;
        }
        random.next();
        float chance = random.v;
        for (int i = 0; i < lights.count; i++) {
            if (!proposed(i, ox, oy, oz, s)) continue;
            if (tracer.blocked(ox, oy, oz, lights.dx, lights.dy, lights.dz, lights.far, s, chance, null)) continue;
            out[0] += tr * lights.light[0] * surface.f[0];
            out[1] += tg * lights.light[1] * surface.f[1];
            out[2] += tb * lights.light[2] * surface.f[2];
        }
    }

    /** The light's own sample, weighed against the bounce; its light times the surface's f is the estimate. */
    private boolean proposed(int i, float ox, float oy, float oz, float s) {
        if (!lights.sample(i, ox, oy, oz, s)) return false;
        surface.evaluate(lights.dx, lights.dy, lights.dz);
        if (surface.pdf <= 0) return false;
        if (lights.density > 0 && !(onPlate && lights.lamp(i))) {
            float w = power(lights.density, bounceable(surface.pdf));
            for (int c = 0; c < 3; c++) lights.light[c] *= w;
        }
        return true;
    }

    /** One light's proposal into {@link #chosen}: direction, metres, three colours; -1 when none gives anything. */
    private int pick(float ox, float oy, float oz, float s) {
        int picked = -1;
        float sum = 0, mine = 0;
        for (int i = 0; i < lights.count; i++) {
            if (!proposed(i, ox, oy, oz, s)) continue;
            float r = lights.light[0] * surface.f[0],
                    g = lights.light[1] * surface.f[1],
                    b = lights.light[2] * surface.f[2];
            float worth = Film.luminance(r, g, b);
            if (!(worth > 0)) continue;
            sum += worth;
            random.next();
            if (random.u * sum >= worth) continue;
            picked = i;
            mine = worth;
            chosen[0] = lights.dx;
            chosen[1] = lights.dy;
            chosen[2] = lights.dz;
            chosen[3] = lights.far;
            chosen[4] = r;
            chosen[5] = g;
            chosen[6] = b;
        }
        if (picked < 0) return -1;
        for (int c = 4; c < 7; c++) chosen[c] *= sum / mine;
        random.next();
        return picked;
    }

    private void add(float tr, float tg, float tb, float sign) {
        out[0] += sign * tr * chosen[4];
        out[1] += sign * tg * chosen[5];
        out[2] += sign * tb * chosen[6];
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
        float ox = surface.px + EPS * surface.gx,
                oy = surface.py + EPS * surface.gy,
                oz = surface.pz + EPS * surface.gz;
        int i = pick(ox, oy, oz, s);
        if (i < 0) return;
        boolean added = !lights.shownByPlate(i);
        if (tracer.blocked(
                        ox,
                        oy,
                        oz,
                        chosen[0],
                        chosen[1],
                        chosen[2],
                        chosen[3],
                        s,
                        random.u,
                        added ? null : Mesh.Role.PERFORMER)
                != added) add(tr, tg, tb, added ? 1 : -1);
    }

    /** With no bounce to follow, the light sample is alone and takes the whole weight. */
    private float bounceable(float pdf) {
        return lastBounce ? 0 : pdf;
    }
}

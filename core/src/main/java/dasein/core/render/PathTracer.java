package dasein.core.render;

import dasein.core.light.Environment;
import dasein.core.math.Sobol;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;
import java.util.Arrays;

/**
 * Light along a path: at every hit the suns and the environment are sampled, and the BSDF's own direction sees them
 * too; the two are weighed by the power heuristic (Veach 1997). One for each worker thread.
 */
final class PathTracer {
    private static final float EPS = Surface.EPS;
    private static final int ROULETTE_AFTER = 2, MOST_SCATTERINGS = 256, MOST_OUTLETS = 3, MOST_WITHIN = 16;
    /** Where each stands among {@link #lobes}; one that is none of them. */
    static final int DIFFUSE = 0, SPECULAR = 3, TRANSMISSION = 6, SUBSURFACE = 9, EMISSION = 12, NO_LOBE = -1;
    /** Part of the angle of a cone, of the solid angle that a direction stands for, by which a ray gets wider. */
    static final float SPREAD = 0.1f;

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

    private final float[] chosen;
    /** Radiance found by the last call, three colours for each slot of the light groups. */
    final float[] out;
    /** Where light of a light's slot goes by now: 0, or three a step further once it comes by way of something else. */
    private int late;
    /** Of the last call, by what the first surface did with light, as the passes stand; null when nobody asks. */
    final float[] lobes;

    private final float[] share = new float[3];
    private int lobe;
    final PlateLight plate;

    /** @param scale as of {@link Lights}; @param open needed where light is kept apart; @param byLobe keep those too */
    PathTracer(
            Tracer tracer,
            Mesh[] meshes,
            Lights.Of lighting,
            float scale,
            Ground ground,
            int maxBounces,
            OpenLight open,
            boolean byLobe) {
        this.tracer = tracer;
        this.meshes = meshes;
        this.ground = ground;
        this.maxBounces = maxBounces;
        lights = new Lights(lighting, tracer, meshes, random, scale);
        plate = new PlateLight(ground, lights.groups.apart() ? open : null);
        chosen = new float[7];
        out = new float[3 * lights.groups.count()];
        lobes = byLobe ? new float[Film.LOBES] : null;
    }

    /**
     * Radiance that leaves the hit which the tracer holds (found with direction d at shutter time s) towards the ray's
     * origin; {@link #surface} must have been filled in for it. The result is in {@link #out}.
     */
    void fromHit(float s) {
        Arrays.fill(out, 0);
        late = 0;
        add(lights.groups.glow(), surface.emission, 1, 1, 1);
        if (lobes == null) {
            walk(s);
            return;
        }
        Arrays.fill(lobes, 0);
        System.arraycopy(surface.emission, 0, lobes, EMISSION, 3);
        lobe = NO_LOBE;
        walk(s);
        // What the way behind the first hit brought is all that has not been counted by then.
        for (int c = 0; c < 3; c++) {
            float rest = sum(c) - lobes[DIFFUSE + c] - lobes[SPECULAR + c] - lobes[EMISSION + c];
            if (lobe == SPECULAR) {
                lobes[DIFFUSE + c] += share[c] * rest;
                lobes[SPECULAR + c] += (1 - share[c]) * rest;
            } else if (lobe != NO_LOBE) lobes[lobe + c] += rest;
        }
    }

    private float sum(int c) {
        float v = 0;
        for (int k = c; k < out.length; k += 3) v += out[k];
        return v;
    }

    /** Scales what was found down to a radiance; what is no number (a degenerate triangle has no normal) is dark. */
    void clamp(float brightest) {
        float m = Math.max(sum(0), Math.max(sum(1), sum(2)));
        float k = !(m < Float.POSITIVE_INFINITY) ? 0 : m > brightest ? brightest / m : 1;
        if (k == 1) return;
        for (int i = 0; i < out.length; i++) out[i] = k == 0 ? 0 : k * out[i];
        if (lobes != null) for (int i = 0; i < lobes.length; i++) lobes[i] = k == 0 ? 0 : k * lobes[i];
    }

    private void walk(float s) {
        float tr = 1, tg = 1, tb = 1;
        int outlets = 0;
        boolean sharp = true;
        onPlate = false;
        for (int bounce = 0; ; bounce++) {
            lastBounce = bounce >= maxBounces;
            if (bounce > 0) late = 3 * lights.groups.step();
            if (onPlate) plate(tr, tg, tb, s);
            else direct(tr, tg, tb, s, bounce == 0);
            if (lastBounce) return;
            random.next();
            float u = random.u, v = random.v;
            random.next();
            float inside = surface.scatterChance, choice = random.u;
            if (inside > 0 && choice < inside) {
                decide(SUBSURFACE);
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
                decide(TRANSMISSION);
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
                decide(SPECULAR);
                float inv = 1 / surface.pdf;
                tr *= surface.f[0] * inv;
                tg *= surface.f[1] * inv;
                tb *= surface.f[2] * inv;
                pdf = surface.pdf;
                sharp &= surface.alpha < SHARP;
                surface.leave(surface.wx, surface.wy, surface.wz);
                ox = surface.ox;
                oy = surface.oy;
                oz = surface.oz;
            }
            float dx = surface.wx, dy = surface.wy, dz = surface.wz;
            surface.begins = surface.wide;
            surface.widens += SPREAD / (float) Math.sqrt(pdf);
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
                add(lights.groups.lamp(i), lights.lamps.light, tr * w, tg * w, tb * w);
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
            add(lights.groups.glow(), surface.emission, tr * w, tg * w, tb * w);
        }
    }

    /** Light of a slot that comes this way. */
    private void add(int slot, float[] light, float tr, float tg, float tb) {
        int at = 3 * slot + late;
        out[at] += tr * light[0];
        out[at + 1] += tg * light[1];
        out[at + 2] += tb * light[2];
    }

    /** What the first surface does with the light of the way that is followed. */
    private void decide(int does) {
        if (lobes == null || lobe != NO_LOBE) return;
        lobe = does;
        if (does != SPECULAR) return;
        for (int c = 0; c < 3; c++) share[c] = surface.f[c] > 0 ? surface.fMatt[c] / surface.f[c] : 0;
    }

    /** Fills in the surface that the tracer's ray has met; a catcher has the plate's colour. */
    private void land(float ox, float oy, float oz, float dx, float dy, float dz, float s) {
        Mesh m = meshes[tracer.mesh];
        onPlate = false;
        if (m.role() != Mesh.Role.CATCHER) {
            surface.at(tracer, m, ox, oy, oz, dx, dy, dz, s);
            return;
        }
        surface.placed(tracer, m, ox, oy, oz, dx, dy, dz, s);
        onPlate = plate.at(surface);
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
            add(lights.groups.map(), colour, tr * w, tg * w, tb * w);
        }
        for (int i = 0; i < lights.suns.length; i++) {
            float density = lights.sunSeen(i, dx, dy, dz);
            if (density == 0) continue;
            float w = power(pdf, density) * density;
            add(lights.groups.sun(), lights.suns[i].irradiance(), tr * w, tg * w, tb * w);
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
        float ox = surface.lx + EPS * surface.gx,
                oy = surface.ly + EPS * surface.gy,
                oz = surface.lz + EPS * surface.gz;
        // Kept apart, every light is asked everywhere: which one was taken must not depend on how bright they are.
        if (!all && !lights.groups.apart()) {
            int i = pick(ox, oy, oz, s);
            if (i >= 0 && !blocked(chosen[0], chosen[1], chosen[2], chosen[3], s, random.u, null)) add(tr, tg, tb, 1);
            return;
        }
        boolean first = lobes != null && lobe == NO_LOBE;
        random.next();
        float chance = random.v;
        for (int i = 0; i < lights.count; i++) {
            if (!proposed(i, ox, oy, oz, s)) continue;
            if (blocked(lights.dx, lights.dy, lights.dz, lights.far, s, chance, null)) continue;
            float[] f = surface.f, l = lights.light, matt = surface.fMatt;
            add(lights.slot(i), l, tr * f[0], tg * f[1], tb * f[2]);
            for (int c = 0; c < 3 && first; c++) {
                lobes[DIFFUSE + c] += l[c] * matt[c];
                lobes[SPECULAR + c] += l[c] * (f[c] - matt[c]);
            }
        }
    }

    /** Whether something stands between the surface and a light. */
    private boolean blocked(float dx, float dy, float dz, float far, float s, float chance, Mesh.Role by) {
        surface.leave(dx, dy, dz);
        return tracer.blocked(surface.ox, surface.oy, surface.oz, dx, dy, dz, far, s, chance, by);
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
        add(lights.groups.map(), plate.byMap, tr, tg, tb);
        if (lights.groups.apart()) add(lights.groups.sun(), plate.bySun, tr, tg, tb);
        float ox = surface.lx + EPS * surface.gx,
                oy = surface.ly + EPS * surface.gy,
                oz = surface.lz + EPS * surface.gz;
        if (lights.groups.apart()) {
            random.next();
            float chance = random.v;
            for (int i = 0; i < lights.count; i++) {
                if (!proposed(i, ox, oy, oz, s)) continue;
                boolean added = !lights.shownByPlate(i);
                Mesh.Role by = added ? null : Mesh.Role.PERFORMER;
                if (blocked(lights.dx, lights.dy, lights.dz, lights.far, s, chance, by) == added) continue;
                float sign = added ? 1 : -1;
                add(
                        lights.slot(i),
                        lights.light,
                        sign * tr * surface.f[0],
                        sign * tg * surface.f[1],
                        sign * tb * surface.f[2]);
            }
            return;
        }
        int i = pick(ox, oy, oz, s);
        if (i < 0) return;
        boolean added = !lights.shownByPlate(i);
        Mesh.Role by = added ? null : Mesh.Role.PERFORMER;
        if (blocked(chosen[0], chosen[1], chosen[2], chosen[3], s, random.u, by) != added)
            add(tr, tg, tb, added ? 1 : -1);
    }

    /** With no bounce to follow, the light sample is alone and takes the whole weight. */
    private float bounceable(float pdf) {
        return lastBounce ? 0 : pdf;
    }
}

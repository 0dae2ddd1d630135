package dasein.core.render;

import dasein.core.light.Environment;
import dasein.core.math.Sobol;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;
import java.util.List;

/**
 * Takes samples of what stands in for the plate's own things. Light with and without performers is found from the same
 * random directions (differential rendering, Debevec 1998): only what performers block, return or mirror is summed, so
 * a pixel that no performer can reach stays exactly untouched. Catchers are taken to be convex: they do not shade
 * themselves.
 */
final class CatcherSampler {
    private static final float EPS = PixelSampler.EPS;

    private final PathTracer path;
    private final Film film;
    private final Ground ground;
    private final CatcherLook look;
    private final float contact;
    /** Whether what catches is not one flat ground, so that a part of it may keep light from another. */
    private final boolean pieces;
    /** Whether the light that arrives is not the same everywhere, so that it must be sampled too. */
    private final boolean uneven;
    /** Of the ground, which is the first catcher and mirrors as the shot says. */
    private final Mesh.Catch groundCatch;

    private final float[] d = new float[6];
    private final float[] blocked = new float[3];
    private final float[] c = new float[3];
    private final float[] albedo = new float[3];
    /** The place, and a little above it; its normal; pixel and shutter time. */
    private float px, py, pz, ox, oy, oz, nx, ny, nz, s;

    private int p;

    /** @param contact metres */
    CatcherSampler(PathTracer path, Film film, Ground ground, CatcherLook look, float contact) {
        this.path = path;
        this.film = film;
        this.ground = ground;
        this.look = look;
        this.contact = contact;
        Catchers catchers = Catchers.among(List.of(path.meshes));
        pieces = !catchers.flat();
        uneven = pieces || path.lights.lampsReal();
        groundCatch = catchers.ground();
    }

    /** The place that the path's surface holds, seen along d at pixel p, {@code along} metres deep. */
    void take(int p, float s, float dx, float dy, float dz, float along, Mesh.Catch does) {
        if (!does.shadow() && !(strength(does) > 0)) return;
        this.p = p;
        this.s = s;
        Surface at = path.surface;
        px = at.px;
        py = at.py;
        pz = at.pz;
        nx = at.gx;
        ny = at.gy;
        nz = at.gz;
        ox = px + EPS * nx;
        oy = py + EPS * ny;
        oz = pz + EPS * nz;
        film.sum[Film.CATCHER_DEPTH][p] += along;
        film.sum[Film.CATCHER][p]++;
        Sobol rnd = path.random;
        if (does.shadow()) lit();
        rnd.next();
        if (strength(does) > 0) mirrored(dx, dy, dz, rnd.u, rnd.v, does);
    }

    /** How strongly a stand-in mirrors; the flat ground as the shot says. */
    private double strength(Mesh.Catch c) {
        return Math.max(c.strength(), c == groundCatch ? look.strength() : 0);
    }

    /** Light that arrives without performers, and what of it they take away and give, from the same samples. */
    private void lit() {
        blocked[0] = blocked[1] = blocked[2] = 0;
        suns();
        map();
        for (int i = 0; i < path.lights.lamps.count(); i++) lamp(i);
        if (path.lights.glows()) glow();
        around();
        for (int k = 0; k < 3; k++) film.sum[Film.BLOCKED + k][p] += blocked[k];
    }

    private void suns() {
        Sobol rnd = path.random;
        int slot = path.lights.groups.sun();
        for (int i = 0; i < path.lights.suns.length; i++) {
            rnd.next();
            path.lights.sunDirection(i, rnd.u, rnd.v, d);
            float cos = d[0] * nx + d[1] * ny + d[2] * nz;
            if (!(cos > 0) || shaded(d[0], d[1], d[2], 1e30f)) continue;
            float[] e = path.lights.suns[i].irradiance();
            light(slot, e, cos);
            if (taken(d[0], d[1], d[2], 1e30f, rnd.v)) take(slot, e, cos);
        }
    }

    private void map() {
        Sobol rnd = path.random;
        Environment map = path.lights.environment;
        rnd.next();
        if (map == null) return;
        int slot = path.lights.groups.map();
        map.sample(rnd.u, rnd.v, d);
        float cos = d[0] * nx + d[1] * ny + d[2] * nz;
        if (!(cos > 0) || shaded(d[0], d[1], d[2], 1e30f)) return;
        float w = cos / d[3] * PathTracer.power(d[3], cos / (float) Math.PI);
        boolean taken = taken(d[0], d[1], d[2], 1e30f, rnd.v);
        if (!taken && !uneven) return;
        map.radiance(d, c);
        light(slot, c, w);
        if (taken) take(slot, c, w);
    }

    /** A lamp of the set is light that performers take away; one that is added gives the ground more than it had. */
    private void lamp(int i) {
        Lamps lamps = path.lights.lamps;
        path.random.next();
        if (!lamps.sample(i, ox, oy, oz, path.random.u, path.random.v)) return;
        float x = lamps.dx, y = lamps.dy, z = lamps.dz, cos = x * nx + y * ny + z * nz, far = lamps.far;
        if (!(cos > 0) || shaded(x, y, z, far)) return;
        float chance = path.random.v;
        System.arraycopy(lamps.light, 0, c, 0, 3);
        boolean taken = taken(x, y, z, far, chance);
        int slot = path.lights.groups.lamp(i);
        if (lamps.real(i)) {
            light(slot, c, cos);
            if (taken) take(slot, c, cos);
        } else if (!taken) give(slot, c, cos / (float) Math.PI);
    }

    /** What glows lights the ground: one light sample for it. */
    private void glow() {
        Lights l = path.lights;
        if (!l.glow(ox, oy, oz, s)) return;
        float x = l.dx, y = l.dy, z = l.dz, cos = x * nx + y * ny + z * nz, far = l.far, chance = path.random.u;
        if (!(cos > 0)) return;
        float w = PathTracer.power(l.density, cos / (float) Math.PI) * cos / (float) Math.PI;
        System.arraycopy(l.light, 0, c, 0, 3);
        if (!shaded(x, y, z, far) && !taken(x, y, z, far, chance)) give(l.groups.glow(), c, w);
    }

    /** A direction by the cosine: blocks sky, brings the performer's own light, and tells the openness. */
    private void around() {
        Sobol rnd = path.random;
        rnd.next();
        float r = (float) Math.sqrt(rnd.u), phi = (float) (2 * Math.PI) * rnd.v, z = (float) Math.sqrt(1 - rnd.u);
        Vec3 n = new Vec3(nx, ny, nz),
                t = n.anyPerpendicular(),
                b = n.cross(t),
                w = t.times(r * Math.cos(phi)).plus(b.times(r * Math.sin(phi))).plus(n.times(z));
        float lx = (float) w.x(), ly = (float) w.y(), lz = (float) w.z();
        boolean taken = hitsPerformer(lx, ly, lz);
        float far = path.tracer.t;
        film.sum[Film.OPEN_COUNT][p]++;
        if (!taken || far > PixelSampler.AO_REACH) film.sum[Film.OPEN][p]++;
        if (film.contact != null && (!taken || far > contact)) film.contact[p]++;
        if (path.lights.environment != null && (taken || uneven) && !shaded(lx, ly, lz, 1e30f)) {
            float found = path.lights.environment.radianceAndDensity(lx, ly, lz, c),
                    k = (float) Math.PI * PathTracer.power(z / (float) Math.PI, found);
            light(path.lights.groups.map(), c, k);
            if (taken) take(path.lights.groups.map(), c, k);
        }
        if (pieces) piece(lx, ly, lz, taken);
        if (!taken) return;
        // Asking for shade has lost the hit.
        if (pieces) hitsPerformer(lx, ly, lz);
        returned(lx, ly, lz, z, far);
    }

    /** Another piece in that direction gives light, which the performer before it keeps away. */
    private void piece(float x, float y, float z, boolean taken) {
        if (!toldBehind(x, y, z) || !path.meshes[path.tracer.mesh].catches().bounce()) return;
        LightGroups g = path.lights.groups;
        light(g.map(), path.plate.byMap, (float) Math.PI);
        light(g.sun(), path.plate.bySun, (float) Math.PI);
        if (!taken) return;
        take(g.map(), path.plate.byMap, (float) Math.PI);
        take(g.sun(), path.plate.bySun, (float) Math.PI);
    }

    /** Whether the plate tells the light of a piece in that direction, behind performers. */
    private boolean toldBehind(float x, float y, float z) {
        Tracer t = path.tracer;
        if (!t.nearest(ox, oy, oz, x, y, z, 1e30f, s, Tracer.NEVER, Tracer.CATCHING, false)) return false;
        path.surface.placed(t, path.meshes[t.mesh], ox, oy, oz, x, y, z, s);
        return path.plate.at(path.surface);
    }

    /** Light that comes from the performer which the tracer holds, met in that direction. */
    private void returned(float lx, float ly, float lz, float cos, float far) {
        int hit = path.tracer.mesh, triangle = path.tracer.triangle;
        path.surface.begins = 0;
        path.surface.widens = PathTracer.SPREAD / (float) Math.sqrt(cos / Math.PI);
        path.surface.at(path.tracer, path.meshes[hit], ox, oy, oz, lx, ly, lz, s);
        float
                found =
                        path.lights.glows()
                                ? path.lights.glowDensity(hit, triangle, path.surface, lx, ly, lz, far, s)
                                : 0,
                less = found > 0 ? 1 - PathTracer.power(cos / (float) Math.PI, found) : 0;
        // Where light samples could have found its glow too, both share.
        for (int k = 0; k < 3; k++) c[k] = less * path.surface.emission[k];
        path.fromHit(s);
        int glow = 3 * path.lights.groups.glow();
        for (int k = 0; k < 3; k++) path.out[glow + k] -= c[k];
        path.clamp(PixelSampler.BRIGHTEST);
        ground.albedo(px, py, pz, nx, ny, nz, albedo);
        film.add(Film.BOUNCE, Film.OF_BOUNCE, p, path.out, albedo[0], albedo[1], albedo[2]);
    }

    /** Light that the ground had not, given back by its albedo. */
    private void give(int slot, float[] light, float k) {
        ground.albedo(px, py, pz, nx, ny, nz, albedo);
        film.add(
                Film.BOUNCE,
                Film.OF_BOUNCE,
                p,
                slot,
                k * light[0] * albedo[0],
                k * light[1] * albedo[1],
                k * light[2] * albedo[2]);
    }

    /** Light that performers keep away. */
    private void take(int slot, float[] light, float times) {
        for (int k = 0; k < 3; k++) {
            blocked[k] += times * light[k];
            if (film.light.length > 0) film.light[slot][Film.OF_BLOCKED + k][p] += times * light[k];
        }
    }

    private void light(int slot, float[] light, float times) {
        film.add(Film.LIGHT, Film.OF_LIGHT, p, slot, times * light[0], times * light[1], times * light[2]);
    }

    /**
     * Whether something that was really there keeps the light away already; flat ground alone keeps none from itself.
     */
    private boolean shaded(float x, float y, float z, float far) {
        return pieces && path.tracer.blocked(ox, oy, oz, x, y, z, far, s, Tracer.NEVER, Mesh.Role.CATCHER);
    }

    private boolean taken(float x, float y, float z, float far, float chance) {
        return path.tracer.blocked(ox, oy, oz, x, y, z, far, s, chance, Mesh.Role.PERFORMER);
    }

    private boolean hitsPerformer(float x, float y, float z) {
        return path.tracer.nearest(ox, oy, oz, x, y, z, 1e30f, s, path.random.v)
                && path.meshes[path.tracer.mesh].role() == Mesh.Role.PERFORMER;
    }

    /** What the film on the ground shows of performers instead of the sky behind them. Water's F0 is 0.02. */
    private void mirrored(float dx, float dy, float dz, float u, float v, Mesh.Catch does) {
        Vec3 n = new Vec3(nx, ny, nz), t = n.anyPerpendicular(), b = n.cross(t), view = new Vec3(-dx, -dy, -dz);
        float vx = (float) view.dot(t),
                vy = (float) view.dot(b),
                vz = (float) Math.max(view.dot(n), 1e-3),
                alpha = Ggx.alphaOf((float) (does.strength() > 0 ? does.roughness() : look.roughness()));
        Ggx.visibleNormal(vx, vy, vz, alpha, alpha, u, v, c);
        float vh = vx * c[0] + vy * c[1] + vz * c[2],
                lx = 2 * vh * c[0] - vx,
                ly = 2 * vh * c[1] - vy,
                lz = 2 * vh * c[2] - vz;
        if (lz <= 0) return;
        Vec3 w = t.times(lx).plus(b.times(ly)).plus(n.times(lz));
        float x = (float) w.x(), y = (float) w.y(), z = (float) w.z();
        if (!hitsPerformer(x, y, z)) return;
        float fresnel = 0.02f + 0.98f * (float) Math.pow(1 - vh, 5);
        float k = (float) strength(does) * fresnel * Ggx.g2(vz, lz, alpha) / Ggx.g1(vz, alpha);
        // By the density of the lobe's middle, 1 / (pi alpha^2).
        path.surface.begins = 0;
        path.surface.widens = PathTracer.SPREAD * (float) Math.sqrt(Math.PI) * alpha;
        path.surface.at(path.tracer, path.meshes[path.tracer.mesh], ox, oy, oz, x, y, z, s);
        path.fromHit(s);
        path.clamp(PixelSampler.BRIGHTEST);
        behind(x, y, z);
        film.add(Film.REFLECTION, Film.OF_REFLECTION, p, path.out, k, k, k);
    }

    /** What the film would mirror without the performer is no more there: another piece, or the sky. */
    private void behind(float x, float y, float z) {
        int map = 3 * path.lights.groups.map(), sun = 3 * path.lights.groups.sun();
        if (pieces && toldBehind(x, y, z)) {
            for (int i = 0; i < 3; i++) {
                path.out[map + i] -= path.plate.byMap[i];
                path.out[sun + i] -= path.plate.bySun[i];
            }
            return;
        }
        path.lights.sky(x, y, z, c);
        for (int i = 0; i < 3; i++) path.out[map + i] -= c[i];
    }
}

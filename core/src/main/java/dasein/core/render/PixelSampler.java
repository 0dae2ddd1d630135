package dasein.core.render;

import dasein.core.lens.RayGrid;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Sobol;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;
import java.util.List;

/**
 * Takes camera samples of a pixel and adds them to the film. At a catcher, light with and without performers is found
 * from the same random directions (differential rendering, Debevec 1998): only what performers block, return or mirror
 * is summed, so a pixel that no performer can reach stays exactly untouched. Catchers are taken to be convex: they do
 * not shade each other.
 */
final class PixelSampler {
    private static final int MOST_ADDED = 16;
    private static final float EPS = 2e-4f;
    /** Radiance of one indirect sample is clamped here: rarer, brighter ones would only be sparkle. */
    private static final float BRIGHTEST = 20;
    /** Distance in metres within which things count as occluding, for the ambient occlusion pass. */
    private static final float AO_REACH = 2;

    private final PathTracer path;
    private final Film film;
    private final View view;
    private final RayGrid rays;
    private final Ground ground;
    private final CatcherLook look;
    private final boolean background;
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

    PixelSampler(
            PathTracer path, Film film, View view, RayGrid rays, Ground ground, CatcherLook look, boolean background) {
        this.rays = rays;
        this.path = path;
        this.film = film;
        this.view = view;
        this.ground = ground;
        this.look = look;
        this.background = background;
        Catchers catchers = Catchers.among(List.of(path.meshes));
        pieces = !catchers.flat();
        uneven = pieces || path.lights.lampsReal();
        groundCatch = catchers.ground();
    }

    void take(int x, int y, int index, int seed) {
        Sobol rnd = path.random;
        rnd.start(index, Sobol.hash(seed ^ Sobol.hash(x + y * 65537)));
        rnd.next();
        float fx = x + rnd.u, fy = y + rnd.v;
        rnd.next();
        float s = (float) view.time(fy, rnd.u), chance = rnd.v;
        Pose pose = view.open() == view.close() ? view.open() : view.at(s);
        float[] looks = rays.at(fx, fy, d);
        Vec3 dir = pose.rotation().rotate(new Vec3(looks[0], looks[1], -1)).unit(), eye = pose.position();
        // Of a ray as long as it is deep.
        float stretch = (float) Math.sqrt(looks[0] * looks[0] + looks[1] * looks[1] + 1);
        float ox = (float) eye.x(),
                oy = (float) eye.y(),
                oz = (float) eye.z(),
                dx = (float) dir.x(),
                dy = (float) dir.y(),
                dz = (float) dir.z();
        int p = y * film.width + x;
        float[][] sum = film.sum;
        film.count[p]++;
        Tracer tracer = path.tracer;
        boolean met = seen(ox, oy, oz, dx, dy, dz, s, chance);
        if (tracer.adds()) added(p, index, ox, oy, oz, dx, dy, dz, s, met);
        if (!met) {
            if (background) {
                path.lights.sky(dx, dy, dz, true, c);
                add(Film.BEAUTY, p, c, 1);
                for (int k = 0; k < 3; k++) sum[Film.ALBEDO + k][p] += 1;
                sum[Film.ALPHA][p] += 1;
            }
            return;
        }
        Mesh mesh = path.meshes[tracer.mesh];
        float along = tracer.t / stretch;
        path.surface.at(tracer, mesh, ox, oy, oz, dx, dy, dz, s);
        if (mesh.role() == Mesh.Role.CATCHER) {
            Mesh.Catch does = mesh.catches();
            if (!does.shadow() && !(strength(does) > 0)) return;
            sum[Film.CATCHER_DEPTH][p] += along;
            atCatcher(p, index, s, dx, dy, dz, does);
        } else {
            sum[Film.DEPTH][p] += along;
            atPerformer(p, index, s, mesh, tracer.copy, tracer.triangle, tracer.b1, tracer.b2);
        }
    }

    /** Light of what is added before the thing that is seen, all of it along the ray; the tracer's hit is as it was. */
    private void added(
            int p, int index, float ox, float oy, float oz, float dx, float dy, float dz, float s, boolean met) {
        Tracer t = path.tracer;
        float far = met ? t.t : 1e30f, begin = 0;
        int mesh = t.mesh, copy = t.copy, triangle = t.triangle;
        float b1 = t.b1, b2 = t.b2;
        for (int k = 0;
                k < MOST_ADDED
                        && t.nearest(
                                ox + begin * dx,
                                oy + begin * dy,
                                oz + begin * dz,
                                dx,
                                dy,
                                dz,
                                far - begin,
                                s,
                                Tracer.NEVER,
                                Tracer.ADDED,
                                true);
                k++) {
            float at = begin + t.t;
            path.surface.at(t, path.meshes[t.mesh], ox + begin * dx, oy + begin * dy, oz + begin * dz, dx, dy, dz, s);
            clamp(path.surface.emission);
            add(Film.BEAUTY, p, path.surface.emission, 1);
            begin = at + EPS;
        }
        t.t = far;
        t.mesh = met ? mesh : -1;
        t.copy = copy;
        t.triangle = triangle;
        t.b1 = b1;
        t.b2 = b2;
    }

    /** What the camera sees: the nearest, but a stand-in that does not hide lets performers behind it through. */
    private boolean seen(float ox, float oy, float oz, float dx, float dy, float dz, float s, float chance) {
        Tracer t = path.tracer;
        if (!t.nearest(ox, oy, oz, dx, dy, dz, 1e30f, s, chance, Tracer.SEEN, true)) return false;
        Mesh.Catch first = path.meshes[t.mesh].catches();
        if (first == null || first.hide()) return true;
        if (t.nearest(ox, oy, oz, dx, dy, dz, 1e30f, s, chance, Tracer.HIDING, true)
                && path.meshes[t.mesh].role() == Mesh.Role.PERFORMER) return true;
        return t.nearest(ox, oy, oz, dx, dy, dz, 1e30f, s, chance, Tracer.SEEN, true);
    }

    /** How strongly a stand-in mirrors; the flat ground as the shot says. */
    private double strength(Mesh.Catch c) {
        return Math.max(c.strength(), c == groundCatch ? look.strength() : 0);
    }

    private void add(int plane, int p, float[] v, float w) {
        film.sum[plane][p] += v[0] * w;
        film.sum[plane + 1][p] += v[1] * w;
        film.sum[plane + 2][p] += v[2] * w;
    }

    private void atPerformer(int p, int index, float s, Mesh mesh, int copy, int triangle, float b1, float b2) {
        float[][] sum = film.sum;
        Surface at = path.surface;
        if (!(at.nx * at.nx + at.gx * at.gx < 4)) return;
        sum[Film.ALPHA][p] += 1;
        sum[Film.NORMAL][p] += at.nx;
        sum[Film.NORMAL + 1][p] += at.ny;
        sum[Film.NORMAL + 2][p] += at.nz;
        for (int k = 0; k < 3; k++) sum[Film.ALBEDO + k][p] += at.albedo(k);
        film.id[p] = mesh.performer();
        // Smooth, like openness: every fourth sample is enough.
        if ((index & 3) == 0) motion(p, mesh, copy, triangle, b1, b2);
        float ox = at.px + EPS * at.gx, oy = at.py + EPS * at.gy, oz = at.pz + EPS * at.gz;
        // Openness is smooth and only for looking: every fourth sample is enough.
        if (!background && (index & 3) == 0) openness(p, ox, oy, oz, at, s);
        path.fromHit(s);
        clamp(path.out);
        add(Film.BEAUTY, p, path.out, 1);
    }

    private void openness(int p, float ox, float oy, float oz, Surface at, float s) {
        path.random.next();
        float r = (float) Math.sqrt(path.random.u),
                phi = (float) (2 * Math.PI) * path.random.v,
                z = (float) Math.sqrt(1 - path.random.u);
        Vec3 n = new Vec3(at.nx, at.ny, at.nz),
                t = n.anyPerpendicular(),
                b = n.cross(t),
                w = t.times(r * Math.cos(phi)).plus(b.times(r * Math.sin(phi))).plus(n.times(z));
        film.sum[Film.OPEN_COUNT][p]++;
        if (!path.tracer.blocked(
                ox, oy, oz, (float) w.x(), (float) w.y(), (float) w.z(), AO_REACH, s, path.random.v, null))
            film.sum[Film.OPEN][p]++;
    }

    private void motion(int p, Mesh m, int copy, int tri, float b1, float b2) {
        int a = 3 * m.index()[3 * tri], b = 3 * m.index()[3 * tri + 1], c = 3 * m.index()[3 * tri + 2];
        double[] from = view.lens()
                .project(view.open()
                        .toLocal(placed(
                                m.copies() == null ? null : m.copies().open(),
                                copy,
                                corner(m.position0(), a, b, c, b1, b2))));
        double[] to = view.lens()
                .project(view.close()
                        .toLocal(placed(
                                m.copies() == null ? null : m.copies().close(),
                                copy,
                                corner(m.position1(), a, b, c, b1, b2))));
        if (from == null || to == null) return;
        film.sum[Film.MOTION_COUNT][p]++;
        // Over the exposure of one row, which with a readout is a part of the time of the whole picture.
        double part = 1 - Math.abs(view.rows());
        film.sum[Film.MOTION][p] += (float) (part * (to[0] - from[0]));
        film.sum[Film.MOTION + 1][p] += (float) (part * (to[1] - from[1]));
    }

    private static Vec3 placed(float[] m, int copy, Vec3 v) {
        if (m == null) return v;
        int o = 12 * copy;
        return new Vec3(
                m[o] * v.x() + m[o + 1] * v.y() + m[o + 2] * v.z() + m[o + 3],
                m[o + 4] * v.x() + m[o + 5] * v.y() + m[o + 6] * v.z() + m[o + 7],
                m[o + 8] * v.x() + m[o + 9] * v.y() + m[o + 10] * v.z() + m[o + 11]);
    }

    private static Vec3 corner(float[] v, int a, int b, int c, float b1, float b2) {
        float k = 1 - b1 - b2;
        return new Vec3(
                k * v[a] + b1 * v[b] + b2 * v[c],
                k * v[a + 1] + b1 * v[b + 1] + b2 * v[c + 1],
                k * v[a + 2] + b1 * v[b + 2] + b2 * v[c + 2]);
    }

    private void atCatcher(int p, int index, float s, float dx, float dy, float dz, Mesh.Catch does) {
        Surface at = path.surface;
        float px = at.px, py = at.py, pz = at.pz, nx = at.gx, ny = at.gy, nz = at.gz;
        float ox = px + EPS * nx, oy = py + EPS * ny, oz = pz + EPS * nz;
        float[][] sum = film.sum;
        sum[Film.CATCHER][p]++;
        Tracer tracer = path.tracer;
        Sobol rnd = path.random;
        if (does.shadow()) lit(p, index, s, ox, oy, oz, px, py, pz, nx, ny, nz);
        rnd.next();
        if (strength(does) > 0) mirrored(p, index, s, ox, oy, oz, nx, ny, nz, dx, dy, dz, rnd.u, rnd.v, does);
    }

    /** Light that arrives without performers, and what of it they take away and give, from the same samples. */
    private void lit(
            int p,
            int index,
            float s,
            float ox,
            float oy,
            float oz,
            float px,
            float py,
            float pz,
            float nx,
            float ny,
            float nz) {
        float[][] sum = film.sum;
        Tracer tracer = path.tracer;
        Sobol rnd = path.random;
        blocked[0] = blocked[1] = blocked[2] = 0;
        for (int i = 0; i < path.lights.suns.length; i++) {
            rnd.next();
            path.lights.sunDirection(i, rnd.u, rnd.v, d);
            float cos = d[0] * nx + d[1] * ny + d[2] * nz;
            if (!(cos > 0) || shaded(ox, oy, oz, d[0], d[1], d[2], s)) continue;
            float[] e = path.lights.suns[i].irradiance();
            light(p, cos * e[0], cos * e[1], cos * e[2]);
            if (tracer.blocked(ox, oy, oz, d[0], d[1], d[2], 1e30f, s, rnd.v, Mesh.Role.PERFORMER)) take(e, cos);
        }
        rnd.next();
        if (path.lights.environment != null) {
            path.lights.environment.sample(rnd.u, rnd.v, d);
            float cos = d[0] * nx + d[1] * ny + d[2] * nz;
            if (cos > 0 && !shaded(ox, oy, oz, d[0], d[1], d[2], s)) {
                float w = cos / d[3] * PathTracer.power(d[3], cos / (float) Math.PI);
                boolean taken = tracer.blocked(ox, oy, oz, d[0], d[1], d[2], 1e30f, s, rnd.v, Mesh.Role.PERFORMER);
                if (taken || uneven) {
                    path.lights.environment.radiance(d, c);
                    light(p, c[0] * w, c[1] * w, c[2] * w);
                }
                if (taken) take(c, w);
            }
        }
        for (int i = 0; i < path.lights.lamps.count(); i++) lamp(p, index, i, s, ox, oy, oz, px, py, pz, nx, ny, nz);
        if (path.lights.glows()) glow(p, index, s, ox, oy, oz, px, py, pz, nx, ny, nz);
        // A direction by the cosine: blocks sky, brings the performer's own light, and tells the openness.
        rnd.next();
        float r = (float) Math.sqrt(rnd.u), phi = (float) (2 * Math.PI) * rnd.v, z = (float) Math.sqrt(1 - rnd.u);
        Vec3 n = new Vec3(nx, ny, nz),
                t = n.anyPerpendicular(),
                b = n.cross(t),
                w = t.times(r * Math.cos(phi)).plus(b.times(r * Math.sin(phi))).plus(n.times(z));
        float lx = (float) w.x(), ly = (float) w.y(), lz = (float) w.z();
        sum[Film.OPEN_COUNT][p]++;
        boolean taken = hitsPerformer(ox, oy, oz, lx, ly, lz, s);
        float far = tracer.t;
        if (path.lights.environment != null && (taken || uneven) && !shaded(ox, oy, oz, lx, ly, lz, s)) {
            float found = path.lights.environment.radianceAndDensity(lx, ly, lz, c),
                    k = (float) Math.PI * PathTracer.power(z / (float) Math.PI, found);
            light(p, c[0] * k, c[1] * k, c[2] * k);
            if (taken) take(c, k);
        }
        if (taken) {
            if (far > AO_REACH) sum[Film.OPEN][p]++;
            if (pieces) hitsPerformer(ox, oy, oz, lx, ly, lz, s);
            int hit = tracer.mesh, triangle = tracer.triangle;
            path.surface.at(tracer, path.meshes[hit], ox, oy, oz, lx, ly, lz, s);
            float
                    found =
                            path.lights.glows()
                                    ? path.lights.glowDensity(hit, triangle, path.surface, lx, ly, lz, far, s)
                                    : 0,
                    less = found > 0 ? 1 - PathTracer.power(z / (float) Math.PI, found) : 0;
            // Where light samples could have found its glow too, both share.
            for (int k = 0; k < 3; k++) c[k] = less * path.surface.emission[k];
            path.fromHit(s);
            for (int k = 0; k < 3; k++) path.out[k] -= c[k];
            clamp(path.out);
            ground.albedo(px, py, pz, nx, ny, nz, albedo);
            for (int k = 0; k < 3; k++) sum[Film.BOUNCE + k][p] += albedo[k] * path.out[k];
        } else {
            sum[Film.OPEN][p]++;
        }
        for (int k = 0; k < 3; k++) sum[Film.BLOCKED + k][p] += blocked[k];
    }

    /** A lamp of the set is light that performers take away; one that is added gives the ground more than it had. */
    private void lamp(
            int p,
            int index,
            int i,
            float s,
            float ox,
            float oy,
            float oz,
            float px,
            float py,
            float pz,
            float nx,
            float ny,
            float nz) {
        Lamps lamps = path.lights.lamps;
        path.random.next();
        if (!lamps.sample(i, ox, oy, oz, path.random.u, path.random.v)) return;
        float x = lamps.dx, y = lamps.dy, z = lamps.dz, cos = x * nx + y * ny + z * nz, far = lamps.far;
        if (!(cos > 0)) return;
        float r = lamps.light[0], g = lamps.light[1], b = lamps.light[2], chance = path.random.v;
        if (pieces && path.tracer.blocked(ox, oy, oz, x, y, z, far, s, Tracer.NEVER, Mesh.Role.CATCHER)) return;
        boolean taken = path.tracer.blocked(ox, oy, oz, x, y, z, far, s, chance, Mesh.Role.PERFORMER);
        if (lamps.real(i)) {
            light(p, cos * r, cos * g, cos * b);
            c[0] = r;
            c[1] = g;
            c[2] = b;
            if (taken) take(c, cos);
            return;
        }
        if (taken) return;
        ground.albedo(px, py, pz, nx, ny, nz, albedo);
        give(p, index, cos / (float) Math.PI, r, g, b);
    }

    /** Light that the ground had not, given back by its {@link #albedo}. */
    private void give(int p, int index, float k, float r, float g, float b) {
        r *= k * albedo[0];
        g *= k * albedo[1];
        b *= k * albedo[2];
        film.sum[Film.BOUNCE][p] += r;
        film.sum[Film.BOUNCE + 1][p] += g;
        film.sum[Film.BOUNCE + 2][p] += b;
    }

    /** What glows lights the ground: one light sample for it. */
    private void glow(
            int p,
            int index,
            float s,
            float ox,
            float oy,
            float oz,
            float px,
            float py,
            float pz,
            float nx,
            float ny,
            float nz) {
        Lights l = path.lights;
        if (!l.glow(ox, oy, oz, s)) return;
        float x = l.dx, y = l.dy, z = l.dz, cos = x * nx + y * ny + z * nz, far = l.far, chance = path.random.u;
        if (!(cos > 0)) return;
        float w = PathTracer.power(l.density, cos / (float) Math.PI) * cos / (float) Math.PI;
        float r = l.light[0], g = l.light[1], b = l.light[2];
        if (pieces && path.tracer.blocked(ox, oy, oz, x, y, z, far, s, Tracer.NEVER, Mesh.Role.CATCHER)) return;
        if (path.tracer.blocked(ox, oy, oz, x, y, z, far, s, chance, Mesh.Role.PERFORMER)) return;
        ground.albedo(px, py, pz, nx, ny, nz, albedo);
        give(p, index, w, r, g, b);
    }

    /** Light that performers keep away. */
    private void take(float[] light, float times) {
        for (int k = 0; k < 3; k++) blocked[k] += times * light[k];
    }

    private void light(int p, float r, float g, float b) {
        film.sum[Film.LIGHT][p] += r;
        film.sum[Film.LIGHT + 1][p] += g;
        film.sum[Film.LIGHT + 2][p] += b;
    }

    /**
     * Whether something that was really there keeps the light away already; flat ground alone keeps none from itself.
     */
    private boolean shaded(float ox, float oy, float oz, float x, float y, float z, float s) {
        return pieces && path.tracer.blocked(ox, oy, oz, x, y, z, 1e30f, s, Tracer.NEVER, Mesh.Role.CATCHER);
    }

    private boolean hitsPerformer(float ox, float oy, float oz, float x, float y, float z, float s) {
        return path.tracer.nearest(ox, oy, oz, x, y, z, 1e30f, s, path.random.v)
                && path.meshes[path.tracer.mesh].role() == Mesh.Role.PERFORMER;
    }

    /** What the film on the ground shows of performers instead of the sky behind them. Water's F0 is 0.02. */
    private void mirrored(
            int p,
            int index,
            float s,
            float ox,
            float oy,
            float oz,
            float nx,
            float ny,
            float nz,
            float dx,
            float dy,
            float dz,
            float u,
            float v,
            Mesh.Catch does) {
        Vec3 n = new Vec3(nx, ny, nz), t = n.anyPerpendicular(), b = n.cross(t), view = new Vec3(-dx, -dy, -dz);
        float vx = (float) view.dot(t),
                vy = (float) view.dot(b),
                vz = (float) Math.max(view.dot(n), 1e-3),
                alpha = Ggx.alphaOf((float) (does.strength() > 0 ? does.roughness() : look.roughness()));
        Ggx.visibleNormal(vx, vy, vz, alpha, u, v, c);
        float vh = vx * c[0] + vy * c[1] + vz * c[2],
                lx = 2 * vh * c[0] - vx,
                ly = 2 * vh * c[1] - vy,
                lz = 2 * vh * c[2] - vz;
        if (lz <= 0) return;
        Vec3 w = t.times(lx).plus(b.times(ly)).plus(n.times(lz));
        float x = (float) w.x(), y = (float) w.y(), z = (float) w.z();
        if (!hitsPerformer(ox, oy, oz, x, y, z, s)) return;
        float fresnel = 0.02f + 0.98f * (float) Math.pow(1 - vh, 5);
        float k = (float) strength(does) * fresnel * Ggx.g2(vz, lz, alpha) / Ggx.g1(vz, alpha);
        path.surface.at(path.tracer, path.meshes[path.tracer.mesh], ox, oy, oz, x, y, z, s);
        path.fromHit(s);
        clamp(path.out);
        path.lights.sky(x, y, z, false, c);
        for (int i = 0; i < 3; i++) film.sum[Film.REFLECTION + i][p] += k * (path.out[i] - c[i]);
    }

    private static void clamp(float[] v) {
        float m = Math.max(v[0], Math.max(v[1], v[2]));
        // A degenerate triangle has no normal and gives no number; such a sample counts as dark.
        if (!(m < Float.POSITIVE_INFINITY)) v[0] = v[1] = v[2] = 0;
        else if (m > BRIGHTEST) for (int i = 0; i < 3; i++) v[i] *= BRIGHTEST / m;
    }
}

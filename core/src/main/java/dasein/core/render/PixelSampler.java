package dasein.core.render;

import dasein.core.lens.Aperture;
import dasein.core.lens.RayGrid;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Sobol;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;

/** Takes camera samples of a pixel and adds them to the film. */
final class PixelSampler {
    private static final int MOST_ADDED = 16;
    /** Part of a pixel that a ray stands for, when it comes to textures: there are several in each. */
    private static final double PIXEL = 0.5;

    static final float EPS = 2e-4f;
    /** Radiance of one indirect sample is clamped here: rarer, brighter ones would only be sparkle. */
    static final float BRIGHTEST = 20;
    /** Distance in metres within which things count as occluding, for the ambient occlusion pass. */
    static final float AO_REACH = 2;
    /** Makes the samples behind an edge others than those before it. */
    private static final int BEHIND = 0x5bd1e995, LOOK = 0x1b873593;

    private final PathTracer path;
    private final Film film;
    private final View view;
    private final RayGrid rays;
    private final CatcherSampler catchers;
    private final boolean background;
    private final float contact;
    /** Null where nobody asks for them. */
    private final MatteIds mattes;

    private final Aperture aperture;
    private final Neighbours neighbours;
    private final CardShade shade;
    /** Ground that hides what is sunk in it; null for none. */
    private final Beyond beyond;
    /** Pixels from the middle to a corner. */
    private final float corner;
    /** How much wider a ray gets a metre. */
    private final float pixel;

    private final float[] place = new float[2];
    private final float[] looks = new float[6], c = new float[3];
    /** The camera's ray: origin, unit direction, shutter time, and how much longer than deep it is. */
    private float ox, oy, oz, dx, dy, dz, s, stretch;

    /** By which what is partly clear lets the camera's ray through. */
    private float chance;

    /** @param contact metres; @param mattes names to be counted, or null; @param aperture null for a pinhole */
    PixelSampler(
            PathTracer path,
            Film film,
            View view,
            RayGrid rays,
            CatcherSampler catchers,
            boolean background,
            float contact,
            MatteIds mattes,
            Aperture aperture,
            Neighbours neighbours,
            Beyond beyond) {
        this.beyond = beyond;
        shade = new CardShade(path);
        this.neighbours = neighbours;
        this.aperture = aperture;
        corner = (float) (Math.hypot(view.width(), view.height()) / 2);
        pixel = (float) (PIXEL / view.lens().focalPx());
        this.rays = rays;
        this.path = path;
        this.film = film;
        this.view = view;
        this.catchers = catchers;
        this.background = background;
        this.contact = contact;
        this.mattes = mattes;
    }

    private void aim(int x, int y, int index, int seed) {
        Sobol rnd = path.random;
        rnd.start(index, Sobol.hash(seed ^ Sobol.hash(x + y * 65537)));
        rnd.next();
        float fx = x + rnd.u, fy = y + rnd.v;
        rnd.next();
        s = (float) view.time(fy, rnd.u);
        chance = rnd.v;
        Pose pose = view.open() == view.close() ? view.open() : view.at(s);
        rays.at(fx, fy, looks);
        Vec3 eye = pose.position();
        if (aperture != null) {
            rnd.next();
            aperture.at(rnd.u, rnd.v, (fx - 0.5f * film.width) / corner, (0.5f * film.height - fy) / corner, place);
            // From there to where the pinhole's ray meets the plane of focus.
            looks[0] -= place[0] / (float) aperture.focus();
            looks[1] -= place[1] / (float) aperture.focus();
            eye = eye.plus(pose.rotation().rotate(new Vec3(place[0], place[1], 0)));
        }
        Vec3 dir = pose.rotation().rotate(new Vec3(looks[0], looks[1], -1)).unit();
        stretch = (float) Math.sqrt(looks[0] * looks[0] + looks[1] * looks[1] + 1);
        ox = (float) eye.x();
        oy = (float) eye.y();
        oz = (float) eye.z();
        dx = (float) dir.x();
        dy = (float) dir.y();
        dz = (float) dir.z();
        path.surface.begins = 0;
        path.surface.widens = pixel;
    }

    void take(int x, int y, int index, int seed) {
        aim(x, y, index, seed);
        int p = y * film.width + x;
        film.count[p]++;
        Tracer tracer = path.tracer;
        boolean met = seen();
        if (tracer.adds()) added(p, met);
        if (!met) {
            if (background) sky(p);
            return;
        }
        Mesh mesh = path.meshes[tracer.mesh];
        float along = tracer.t / stretch;
        if (mesh.role() == Mesh.Role.CATCHER) {
            path.surface.placed(tracer, mesh, ox, oy, oz, dx, dy, dz, s);
            catchers.take(p, s, dx, dy, dz, along, mesh.catches());
            return;
        }
        path.surface.at(tracer, mesh, ox, oy, oz, dx, dy, dz, s);
        atPerformer(p, index, mesh, along);
    }

    /**
     * Of what stands behind performers at a pixel that they cover whole: what the comp may come to show beside an edge
     * that it softens.
     */
    void behind(int x, int y, int index, int seed) {
        aim(x, y, index, seed ^ BEHIND);
        Tracer t = path.tracer;
        if (!t.nearest(ox, oy, oz, dx, dy, dz, 1e30f, s, Tracer.NEVER, Tracer.CATCHING, true)) return;
        path.surface.placed(t, path.meshes[t.mesh], ox, oy, oz, dx, dy, dz, s);
        catchers.take(y * film.width + x, s, dx, dy, dz, t.t / stretch, path.meshes[t.mesh].catches());
    }

    /** Whether a performer is there, for how much of the pixel they cover; its light is found where none is known. */
    void look(int x, int y, int index, int seed) {
        aim(x, y, index, seed ^ LOOK);
        int p = y * film.width + x;
        film.sum[Film.LOOKED][p]++;
        if (!seen()) return;
        Tracer t = path.tracer;
        Mesh mesh = path.meshes[t.mesh];
        if (mesh.role() == Mesh.Role.CATCHER) return;
        film.sum[Film.MET][p]++;
        if (film.sum[Film.SHADED][p] > 0) return;
        path.surface.at(t, mesh, ox, oy, oz, dx, dy, dz, s);
        atPerformer(p, index, mesh, t.t / stretch);
        film.sum[Film.BESIDES][p] = film.sum[Film.SHADED][p];
    }

    private void sky(int p) {
        LightGroups g = path.lights.groups;
        path.lights.sky(dx, dy, dz, c);
        film.add(Film.BEAUTY, Film.OF_BEAUTY, p, g.map(), c[0], c[1], c[2]);
        path.lights.suns(dx, dy, dz, c);
        film.add(Film.BEAUTY, Film.OF_BEAUTY, p, g.sun(), c[0], c[1], c[2]);
        for (int k = 0; k < 3; k++) film.sum[Film.ALBEDO + k][p] += 1;
        film.sum[Film.SHADED][p] += 1;
    }

    /** Light of what is added before the thing that is seen, all of it along the ray; the tracer's hit is as it was. */
    private void added(int p, boolean met) {
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
            float[] e = path.surface.emission;
            clamp(e);
            film.add(Film.BEAUTY, Film.OF_BEAUTY, p, path.lights.groups.glow(), e[0], e[1], e[2]);
            if (film.lobes != null) for (int i = 0; i < 3; i++) film.lobes[PathTracer.EMISSION + i][p] += e[i];
            if (film.layers != null) film.layers.add(p, at / stretch, e, 0);
            begin = at + EPS;
        }
        t.t = far;
        t.mesh = met ? mesh : -1;
        t.copy = copy;
        t.triangle = triangle;
        t.b1 = b1;
        t.b2 = b2;
    }

    /** What the camera sees, unless the ground lies before it. */
    private boolean seen() {
        if (!meets()) return false;
        return beyond == null
                || path.meshes[path.tracer.mesh].role() == Mesh.Role.CATCHER
                || !beyond.hides(ox, oy, oz, dx, dy, dz, path.tracer.t);
    }

    /** What the camera meets: the nearest, but a stand-in that does not hide lets performers behind it through. */
    private boolean meets() {
        Tracer t = path.tracer;
        if (!t.nearest(ox, oy, oz, dx, dy, dz, 1e30f, s, chance, Tracer.SEEN, true)) return false;
        Mesh.Catch first = path.meshes[t.mesh].catches();
        if (first == null || first.hide()) return true;
        if (t.nearest(ox, oy, oz, dx, dy, dz, 1e30f, s, chance, Tracer.HIDING, true)
                && path.meshes[t.mesh].role() == Mesh.Role.PERFORMER) return true;
        return t.nearest(ox, oy, oz, dx, dy, dz, 1e30f, s, chance, Tracer.SEEN, true);
    }

    private void atPerformer(int p, int index, Mesh mesh, float along) {
        float[][] sum = film.sum;
        Surface at = path.surface;
        Tracer t = path.tracer;
        int number = t.mesh, copy = t.copy, triangle = t.triangle;
        float b1 = t.b1, b2 = t.b2;
        sum[Film.DEPTH][p] += along;
        if (!(at.nx * at.nx + at.gx * at.gx < 4)) return;
        sum[Film.SHADED][p] += 1;
        sum[Film.NORMAL][p] += at.nx;
        sum[Film.NORMAL + 1][p] += at.ny;
        sum[Film.NORMAL + 2][p] += at.nz;
        for (int k = 0; k < 3; k++) sum[Film.ALBEDO + k][p] += at.albedo(k);
        film.id[p] = mesh.performer();
        if (film.nearest != null && along < film.nearest[Film.NEAREST][p]) nearest(p, mesh, triangle, b1, b2, along);
        if (mattes != null) mattes.count(film.mattes, p, mesh, number, triangle, copy);
        // Smooth, like openness: every fourth sample is enough.
        if ((index & 3) == 0) motion(p, mesh, number, copy, triangle, b1, b2);
        float px = at.px + EPS * at.gx, py = at.py + EPS * at.gy, pz = at.pz + EPS * at.gz;
        // Openness is smooth and only for looking: every fourth sample is enough.
        if (!background && (index & 3) == 0) openness(p, px, py, pz, at);
        if (mesh.shows().shaded()) shade.on(mesh, s);
        path.fromHit(s);
        path.clamp(BRIGHTEST);
        film.add(Film.BEAUTY, Film.OF_BEAUTY, p, path.out, 1, 1, 1);
        if (film.layers != null) film.layers.add(p, along, path.out, 1);
        if (film.lobes != null) for (int k = 0; k < Film.LOBES; k++) film.lobes[k][p] += path.lobes[k];
    }

    private void nearest(int p, Mesh m, int triangle, float b1, float b2, float along) {
        Surface at = path.surface;
        float[][] to = film.nearest;
        to[Film.NEAREST][p] = along;
        to[Film.PLACE][p] = at.px;
        to[Film.PLACE + 1][p] = at.py;
        to[Film.PLACE + 2][p] = at.pz;
        if (m.uv() == null) return;
        for (int k = 0; k < 2; k++) {
            int[] i = m.index();
            float[] uv = m.uv();
            to[Film.UV + k][p] = (1 - b1 - b2) * uv[2 * i[3 * triangle] + k]
                    + b1 * uv[2 * i[3 * triangle + 1] + k]
                    + b2 * uv[2 * i[3 * triangle + 2] + k];
        }
    }

    private void openness(int p, float px, float py, float pz, Surface at) {
        path.random.next();
        float r = (float) Math.sqrt(path.random.u),
                phi = (float) (2 * Math.PI) * path.random.v,
                z = (float) Math.sqrt(1 - path.random.u);
        Vec3 n = new Vec3(at.nx, at.ny, at.nz),
                t = n.anyPerpendicular(),
                b = n.cross(t),
                w = t.times(r * Math.cos(phi)).plus(b.times(r * Math.sin(phi))).plus(n.times(z));
        film.sum[Film.OPEN_COUNT][p]++;
        float x = (float) w.x(), y = (float) w.y(), z1 = (float) w.z(), u = path.random.v;
        if (!path.tracer.blocked(px, py, pz, x, y, z1, AO_REACH, s, u, null)) film.sum[Film.OPEN][p]++;
        if (film.contact != null && !path.tracer.blocked(px, py, pz, x, y, z1, contact, s, u, null)) film.contact[p]++;
    }

    private void motion(int p, Mesh m, int number, int copy, int tri, float b1, float b2) {
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
        if (film.ways != null && neighbours != null) {
            double[] now = {(from[0] + to[0]) / 2, (from[1] + to[1]) / 2};
            Mesh after = Neighbours.same(neighbours.after(), number, m),
                    before = Neighbours.same(neighbours.before(), number, m);
            if (after != null) way(p, 0, neighbours.seenAfter(), after, copy, a, b, c, b1, b2, now);
            if (before != null) way(p, 2, neighbours.seenBefore(), before, copy, a, b, c, b1, b2, now);
        }
        // Over the exposure of one row, which with a readout is a part of the time of the whole picture.
        double part = 1 - Math.abs(view.rows());
        film.sum[Film.MOTION][p] += (float) (part * (to[0] - from[0]));
        film.sum[Film.MOTION + 1][p] += (float) (part * (to[1] - from[1]));
    }

    /** Adds the way from where a place is now to where it is in another frame. */
    private void way(
            int p, int at, View v, Mesh then, int copy, int a, int b, int c, float b1, float b2, double[] now) {
        float[] map = then.copies() == null ? null : then.copies().open();
        double[] q = v.lens().project(v.at(0.5).toLocal(placed(map, copy, corner(then.position0(), a, b, c, b1, b2))));
        if (q == null) return;
        film.ways[at][p] += (float) (q[0] - now[0]);
        film.ways[at + 1][p] += (float) (q[1] - now[1]);
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

    private static void clamp(float[] v) {
        float m = Math.max(v[0], Math.max(v[1], v[2]));
        // A degenerate triangle has no normal and gives no number; such a sample counts as dark.
        if (!(m < Float.POSITIVE_INFINITY)) v[0] = v[1] = v[2] = 0;
        else if (m > BRIGHTEST) for (int i = 0; i < 3; i++) v[i] *= BRIGHTEST / m;
    }
}

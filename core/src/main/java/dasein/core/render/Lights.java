package dasein.core.render;

import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.math.Sobol;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;

/**
 * All lights of a frame by number, to be sampled alike: suns, the environment if there is one, lamps, and what glows
 * among performers. One for each worker thread.
 */
final class Lights {
    /** What gives less than this part of all light is asked the more seldom the less it gives. */
    private static final float LITTLE = 0.05f, SELDOM = 0.02f;

    /** All there is to shine, and how far it is kept apart. */
    record Of(Lighting lighting, Glow glow, LightGroups groups) {}

    final LightGroups groups;
    final Environment environment;
    final Sun[] suns;
    final Lamps lamps;
    final int count;
    private final Glow glow;
    private final Tracer tracer;
    private final Mesh[] meshes;
    private final Sobol random;
    private final float[][] sunFrame;
    private final Surface shining;
    /** What level ground gets of sky and suns, luminance; asked for only where something glows. */
    private final float scale;

    /** Of the last sample: direction, metres to where it comes from. */
    float dx, dy, dz, far;
    /** Density of that direction for each unit of solid angle; 0 where no other way finds this light. */
    float density;
    /** Radiance over density: what a surface's f is multiplied by. */
    final float[] light = new float[3];

    private final float[] tmp = new float[6];

    Lights(Of of, Tracer tracer, Mesh[] meshes, Sobol random, float scale) {
        Lighting lighting = of.lighting;
        groups = of.groups;
        glow = of.glow;
        this.tracer = tracer;
        this.meshes = meshes;
        this.random = random;
        this.scale = scale;
        environment = lighting.environment();
        suns = lighting.suns().toArray(Sun[]::new);
        lamps = new Lamps(lighting.lamps());
        shining = glows() ? new Surface() : null;
        count = suns.length + (environment == null ? 0 : 1) + lamps.count() + (glows() ? 1 : 0);
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

    private int firstLamp() {
        return suns.length + (environment == null ? 0 : 1);
    }

    /** Where that one's light is kept. */
    int slot(int i) {
        if (i < suns.length) return groups.sun();
        if (i < firstLamp()) return groups.map();
        return lamp(i) ? groups.lamp(i - firstLamp()) : groups.glow();
    }

    boolean lamp(int i) {
        return i >= firstLamp() && i < firstLamp() + lamps.count();
    }

    /** Whether the plate shows the light of that one: a performer takes it away; what else shines is added. */
    boolean shownByPlate(int i) {
        return i < firstLamp() || lamp(i) && lamps.real(i - firstLamp());
    }

    /** @return false when nothing comes from there */
    boolean sample(int i, float ox, float oy, float oz, float s) {
        far = 1e30f;
        if (i < suns.length) {
            random.next();
            sunDirection(i, random.u, random.v, tmp);
            aim();
            density = sunFrame[i][10];
            System.arraycopy(suns[i].irradiance(), 0, light, 0, 3);
            return true;
        }
        if (i < firstLamp()) {
            random.next();
            environment.sample(random.u, random.v, tmp);
            environment.radiance(tmp, light);
            aim();
            density = tmp[3];
            for (int c = 0; c < 3; c++) light[c] /= density;
            return true;
        }
        if (lamp(i)) {
            random.next();
            if (!lamps.sample(i - firstLamp(), ox, oy, oz, random.u, random.v)) return false;
            dx = lamps.dx;
            dy = lamps.dy;
            dz = lamps.dz;
            far = lamps.far;
            density = lamps.density;
            System.arraycopy(lamps.light, 0, light, 0, 3);
            return true;
        }
        return glow(ox, oy, oz, s);
    }

    private void aim() {
        dx = tmp[0];
        dy = tmp[1];
        dz = tmp[2];
    }

    /** Direction within sun i's disc, into array d. */
    void sunDirection(int i, float u, float v, float[] d) {
        float[] f = sunFrame[i];
        float cos = 1 - u * (1 - f[9]),
                sin = (float) Math.sqrt(Math.max(0, 1 - cos * cos)),
                phi = (float) (2 * Math.PI) * v;
        float a = sin * (float) Math.cos(phi), b = sin * (float) Math.sin(phi);
        for (int k = 0; k < 3; k++) d[k] = a * f[k] + b * f[3 + k] + cos * f[6 + k];
    }

    /** Density with which a sample finds that direction in sun i's disc; 0 beside it. */
    float sunSeen(int i, float x, float y, float z) {
        float[] f = sunFrame[i];
        return x * f[6] + y * f[7] + z * f[8] < f[9] ? 0 : f[10];
    }

    /** Radiance of the map in a direction, into c. */
    void sky(float x, float y, float z, float[] c) {
        if (environment == null) c[0] = c[1] = c[2] = 0;
        else environment.radiance(x, y, z, c);
    }

    /** Radiance of the suns in a direction, into c. */
    void suns(float x, float y, float z, float[] c) {
        c[0] = c[1] = c[2] = 0;
        for (int i = 0; i < suns.length; i++) {
            float seen = sunSeen(i, x, y, z);
            for (int k = 0; k < 3; k++) c[k] += suns[i].irradiance()[k] * seen;
        }
    }

    boolean lampsReal() {
        for (int i = 0; i < lamps.count(); i++) if (lamps.real(i)) return true;
        return false;
    }

    boolean glows() {
        return glow.count > 0;
    }

    /** A place of what glows, and the way there; false when it is seen edge on. The tracer's hit is lost. */
    boolean glow(float ox, float oy, float oz, float s) {
        random.next();
        float often = scale > 0 ? Math.max(SELDOM, glow.most(ox, oy, oz) / (LITTLE * scale)) : 1;
        if (often < 1 && random.v >= often) return false;
        int at = glow.pick(random.u);
        int m = glow.mesh(at), t = glow.triangle(at);
        random.next();
        float root = (float) Math.sqrt(random.u), b1 = root * (1 - random.v), b2 = root * random.v;
        Mesh k = meshes[m];
        int[] i = k.index();
        dx = corner(k, i, t, 0, b1, b2, s) - ox;
        dy = corner(k, i, t, 1, b1, b2, s) - oy;
        dz = corner(k, i, t, 2, b1, b2, s) - oz;
        float metres = (float) Math.sqrt(dx * dx + dy * dy + dz * dz);
        if (!(metres > 1e-5f)) return false;
        dx /= metres;
        dy /= metres;
        dz /= metres;
        tracer.mesh = m;
        tracer.copy = 0;
        tracer.triangle = t;
        tracer.b1 = b1;
        tracer.b2 = b2;
        tracer.t = metres;
        shining.at(tracer, k, ox, oy, oz, dx, dy, dz, s);
        density = glowDensity(m, t, shining, dx, dy, dz, metres, s);
        if (!(density > 0)) return false;
        far = 0.999f * metres;
        for (int c = 0; c < 3; c++) light[c] = shining.emission[c] / (density * Math.min(1, often));
        return true;
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
}

package dasein.core.render;

import dasein.core.light.Environment;
import dasein.core.model.Mesh;
import dasein.core.render.ray.Tracer;

/**
 * Part of the set's light that reaches a card past other performers. What is filmed on it is no flat wall, so light
 * from all sides counts alike (fluence, not irradiance), however the card is turned. One for each worker thread.
 */
final class CardShade {
    private static final float EPS = Surface.EPS;
    /** Things of its own that a ray may pass. */
    private static final int MOST_PASSED = 8;
    /** Directions a side of the grid by which the map's fluence is found. */
    private static final int GRID = 64;

    private final PathTracer path;
    /** Of suns and map, three colours; worked out when first asked for. */
    private float[] all;

    private final float[] d = new float[6], light = new float[3], lost = new float[3];

    CardShade(PathTracer path) {
        this.path = path;
    }

    /** Darkens what the path's surface, which is of a card, shows of itself. @param s shutter time */
    void on(Mesh card, float s) {
        if (all == null) all = fluence();
        lost[0] = lost[1] = lost[2] = 0;
        Lights l = path.lights;
        for (int i = 0; i < l.suns.length; i++) {
            path.random.next();
            l.sunDirection(i, path.random.u, path.random.v, d);
            if (taken(card, s)) add(l.suns[i].irradiance(), 1);
        }
        if (l.environment != null) {
            path.random.next();
            l.environment.sample(path.random.u, path.random.v, d);
            if (taken(card, s)) {
                l.environment.radiance(d, light);
                add(light, 1 / d[3]);
            }
        }
        for (int c = 0; c < 3; c++) if (all[c] > 0) path.surface.emission[c] *= 1 - lost[c] / all[c];
    }

    private void add(float[] of, float times) {
        for (int c = 0; c < 3; c++) lost[c] += times * of[c];
    }

    private float[] fluence() {
        float[] sum = new float[3];
        for (var sun : path.lights.suns) for (int c = 0; c < 3; c++) sum[c] += sun.irradiance()[c];
        Environment map = path.lights.environment;
        float k = 1f / (GRID * GRID);
        for (int i = 0; i < GRID * GRID && map != null; i++) {
            map.sample((i % GRID + 0.5f) / GRID, (i / GRID + 0.5f) / GRID, d);
            map.radiance(d, light);
            for (int c = 0; c < 3; c++) sum[c] += k * light[c] / d[3];
        }
        return sum;
    }

    /** Whether another performer stands in direction d; of the set's own shadow the footage tells itself. */
    private boolean taken(Mesh card, float s) {
        Surface at = path.surface;
        float side = d[0] * at.gx + d[1] * at.gy + d[2] * at.gz < 0 ? -EPS : EPS;
        float x = at.px + side * at.gx, y = at.py + side * at.gy, z = at.pz + side * at.gz;
        Tracer t = path.tracer;
        float chance = path.random.u;
        for (int k = 0; k < MOST_PASSED; k++) {
            if (!t.nearest(x, y, z, d[0], d[1], d[2], 1e30f, s, chance, Tracer.SHADING, false)) return false;
            Mesh m = path.meshes[t.mesh];
            if (m.role() == Mesh.Role.PERFORMER && m.performer() != card.performer()) return true;
            float on = t.t + EPS;
            x += on * d[0];
            y += on * d[1];
            z += on * d[2];
        }
        return false;
    }
}

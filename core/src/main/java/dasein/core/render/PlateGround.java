package dasein.core.render;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import java.util.List;

/**
 * Albedo of what is in the plate, from the plate itself: what the camera sees there over what the light puts there. The
 * frame that is rendered tells first; what it does not see is taken from other frames. Level ground that none sees is
 * as the map shows it from where performers are, where such maps are taken; without such a map, and of all else, it is
 * as the lower part of the frame is in the mean.
 */
public final class PlateGround implements Ground {
    private static final float DARKEST = 0.02f;
    private static final float BRIGHTEST = 0.8f;

    private final List<Projection> frames;
    private final Irradiance irradiance;
    private final float[] mean = new float[3];
    /** Null where the map shows no ground. */
    private final Environment map;

    private final Vec3 from;

    /**
     * Below a map that shows ground there comes this part of what falls on level ground; an even sky gives all of it.
     */
    private static final double LEAST_BELOW = 0.02, MOST_BELOW = 0.6, LEVEL = 0.7;

    /**
     * @param frames of the plate, the rendered one first; @param irradiance of open surfaces by their normal; @param
     *     from where the map was taken, about; null when nobody is there who would tell
     */
    public PlateGround(List<Projection> frames, Irradiance irradiance, Vec3 from) {
        this.from = from;
        map = from == null || !showsGround(irradiance)
                ? null
                : irradiance.lighting().environment();
        this.frames = List.copyOf(frames);
        this.irradiance = irradiance;
        Image plate = frames.get(0).plate();
        float[] up = irradiance.on(0, 1, 0);
        for (int c = 0; c < 3; c++) {
            double sum = 0;
            int n = 0;
            for (int y = plate.height * 6 / 10; y < plate.height; y += 4) {
                for (int x = 0; x < plate.width; x += 4, n++) sum += plate.planes[c][y * plate.width + x];
            }
            mean[c] = settle((float) (sum / Math.max(n, 1)) * factor(up[c]));
        }
    }

    private static float factor(float e) {
        return (float) (Math.PI / Math.max(e, 1e-4));
    }

    private static float settle(float a) {
        return Math.max(DARKEST, Math.min(BRIGHTEST, a));
    }

    @Override
    public void albedo(float x, float y, float z, float nx, float ny, float nz, float[] out) {
        for (Projection f : frames) {
            if (!f.colour(x, y, z, nx, ny, nz, out)) continue;
            float[] e = irradiance.on(nx, ny, nz);
            for (int c = 0; c < 3; c++) out[c] = settle(out[c] * factor(e[c]));
            return;
        }
        if (map == null || ny < LEVEL) {
            System.arraycopy(mean, 0, out, 0, 3);
            return;
        }
        double dx = x - from.x(), dy = y - from.y(), dz = z - from.z(), far = Math.sqrt(dx * dx + dy * dy + dz * dz);
        map.radiance((float) (dx / far), (float) (dy / far), (float) (dz / far), out);
        float[] e = irradiance.on(nx, ny, nz);
        for (int c = 0; c < 3; c++) out[c] = settle(out[c] * factor(e[c]));
    }

    private static boolean showsGround(Irradiance i) {
        if (i.lighting().environment() == null) return false;
        float[] below = i.lighting().environment().irradiance(Vec3.Y.times(-1)), level = i.on(0, 1, 0);
        double part = Film.luminance(below[0], below[1], below[2]) / Film.luminance(level[0], level[1], level[2]);
        return part > LEAST_BELOW && part < MOST_BELOW;
    }

    /** The middle of the box around performers; null where there are none. */
    public static Vec3 middle(List<Mesh> meshes) {
        double[] least = {1e9, 1e9, 1e9}, most = {-1e9, -1e9, -1e9};
        for (Mesh m : meshes) {
            if (m.role() != Mesh.Role.PERFORMER) continue;
            float[] p = m.position0();
            for (int i = 0; i < p.length; i++) {
                least[i % 3] = Math.min(least[i % 3], p[i]);
                most[i % 3] = Math.max(most[i % 3], p[i]);
            }
        }
        return least[0] > most[0] ? null : Vec3.of(least).plus(Vec3.of(most)).times(0.5);
    }

    @Override
    public boolean radiance(float x, float y, float z, float nx, float ny, float nz, float[] out) {
        albedo(x, y, z, nx, ny, nz, out);
        float[] e = irradiance.on(nx, ny, nz);
        for (int c = 0; c < 3; c++) out[c] /= factor(e[c]);
        return true;
    }
}

package dasein.core.render;

import dasein.core.image.Image;
import java.util.List;

/**
 * Albedo of what is in the plate, from the plate itself: what the camera sees there over what the light puts there. The
 * frame that is rendered tells first; what it does not see is taken from other frames, and what none sees is as the
 * lower part of the frame is in the mean.
 */
public final class PlateGround implements Ground {
    private static final float DARKEST = 0.02f;
    private static final float BRIGHTEST = 0.8f;

    private final List<Projection> frames;
    private final Irradiance irradiance;
    private final float[] mean = new float[3];

    /** @param frames of the plate, the rendered one first; @param irradiance of open surfaces by their normal */
    public PlateGround(List<Projection> frames, Irradiance irradiance) {
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
        System.arraycopy(mean, 0, out, 0, 3);
    }

    @Override
    public boolean radiance(float x, float y, float z, float nx, float ny, float nz, float[] out) {
        albedo(x, y, z, nx, ny, nz, out);
        float[] e = irradiance.on(nx, ny, nz);
        for (int c = 0; c < 3; c++) out[c] /= factor(e[c]);
        return true;
    }
}

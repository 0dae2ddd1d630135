package dasein.core.render;

import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;

/**
 * The ground's albedo from the plate: the plate's colour where the camera sees a point, divided by the light that would be
 * there without performers (albedo = pi L / E). Out of sight of the camera it is the mean of what is seen.
 */
public final class PlateGround implements Ground {
    private static final float DARKEST = 0.02f;
    private static final float BRIGHTEST = 0.8f;

    private final Image plate;
    private final View view;
    /** Of the middle row; looked up for every hit. */
    private final Pose middle;
    private final Irradiance irradiance;
    private final float[] mean = new float[3];

    /** @param plate of any size, scene-linear; @param irradiance of open surfaces by their normal */
    public PlateGround(Image plate, View view, Irradiance irradiance) {
        this.irradiance = irradiance;
        float[] up = irradiance.on(0, 1, 0);
        this.plate = plate;
        // The same moment and lens, in pixels of the plate.
        this.view = new View(view.open(), view.close(), view.lens().scaled((double) plate.width / view.width()), plate.width, plate.height, view.rows());
        middle = view.at(0.5);
        for (int c = 0; c < 3; c++) {
            float factor = factor(up[c]);
            double sum = 0;
            int n = 0;
            for (int y = plate.height * 6 / 10; y < plate.height; y += 4) {
                for (int x = 0; x < plate.width; x += 4, n++) sum += plate.planes[c][y * plate.width + x];
            }
            mean[c] = settle((float) (sum / Math.max(n, 1)) * factor);
        }
    }

    private static float factor(float e) { return (float) (Math.PI / Math.max(e, 1e-4)); }

    private static float settle(float a) { return Math.max(DARKEST, Math.min(BRIGHTEST, a)); }

    @Override
    public void albedo(float x, float y, float z, float nx, float ny, float nz, float[] out) {
        Vec3 at = new Vec3(x, y, z);
        double[] p = view.rows() == 0 ? view.lens().project(middle.toLocal(at)) : view.project(at);
        if (p == null || p[0] < 0 || p[1] < 0 || p[0] >= plate.width || p[1] >= plate.height) {
            System.arraycopy(mean, 0, out, 0, 3);
            return;
        }
        float[] e = irradiance.on(nx, ny, nz);
        for (int c = 0; c < 3; c++) out[c] = settle(plate.sample(p[0], p[1], c) * factor(e[c]));
    }
}

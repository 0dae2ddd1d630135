package dasein.core.lens;

import dasein.core.image.Image;
import dasein.core.math.Vec3;

/**
 * A lens's rays over a picture, worked out on a grid and straight between: the inverse of a distortion takes long, and
 * a picture asks for it millions of times. Within a hundredth of a pixel of {@link Lens#ray} for lenses of pictures.
 */
public final class RayGrid {
    private static final int STEP = 2;

    private final int across;
    private final float[] x, y;

    /** @param width, height pixels of the picture */
    public RayGrid(Lens lens, int width, int height) {
        across = width / STEP + 2;
        int down = height / STEP + 2;
        x = new float[across * down];
        y = new float[across * down];
        Image.rows(down, j -> {
            for (int i = 0; i < across; i++) {
                Vec3 r = lens.ray(i * STEP, j * STEP);
                x[j * across + i] = (float) (r.x() / -r.z());
                y[j * across + i] = (float) (r.y() / -r.z());
            }
        });
    }

    /** The ray of a place within the picture as out = x, y; its z is -1. */
    public float[] at(float px, float py, float[] out) {
        float u = px / STEP, v = py / STEP;
        int i = (int) u, j = (int) v, k = j * across + i;
        float a = u - i, b = v - j;
        out[0] = (1 - b) * ((1 - a) * x[k] + a * x[k + 1]) + b * ((1 - a) * x[k + across] + a * x[k + across + 1]);
        out[1] = (1 - b) * ((1 - a) * y[k] + a * y[k + 1]) + b * ((1 - a) * y[k + across] + a * y[k + across + 1]);
        return out;
    }
}

package dasein.core.comp.step;

import dasein.core.image.Image;
import dasein.core.math.Sobol;

/**
 * Noise of unit variance in three colours, as grain is: what is common to the colours and what differs between them
 * each has a size of its own. It depends on place and frame alone, so that any part of a frame has the same grain.
 */
public final class GrainField {
    /** Beyond this many sizes nothing is left of a grain. */
    private static final double REACH = 3;

    private final int x0, y0, width, height, seed;

    /** @param x0, y0 corner in the frame; @param seed the frame's number */
    public GrainField(int x0, int y0, int width, int height, int seed) {
        this.x0 = x0;
        this.y0 = y0;
        this.width = width;
        this.height = height;
        this.seed = seed;
    }

    /**
     * @param size of grain in brightness, pixels: sigma of the Gaussian that white noise is filtered by, 0 for white;
     * @param colourSize of what differs between the colours
     * @param common correlation of two colours, 0 to 1
     * @return three planes
     */
    public float[][] planes(double size, double colourSize, double common) {
        // Of normalised colours the mean of all three and two differences, which know nothing of each other.
        double mean = 1 + 2 * common, apart = 1 - common;
        float[] a = noise(0, size, Math.sqrt(mean / 3)),
                b = apart > 0 ? noise(1, colourSize, Math.sqrt(apart / 2)) : new float[a.length],
                d = apart > 0 ? noise(2, colourSize, Math.sqrt(apart / 6)) : new float[a.length];
        float[][] out = new float[3][a.length];
        Image.rows(height, y -> {
            for (int i = y * width, end = i + width; i < end; i++) {
                out[0][i] = a[i] + b[i] + d[i];
                out[1][i] = a[i] - 2 * d[i];
                out[2][i] = a[i] - b[i] + d[i];
            }
        });
        return out;
    }

    /** Taps of a Gaussian whose squares add up to 1: white noise filtered by them keeps its variance. */
    static float[] taps(double size) {
        int r = size < 0.15 ? 0 : (int) Math.ceil(REACH * size);
        float[] k = new float[2 * r + 1];
        double sum = 0;
        for (int i = -r; i <= r; i++) {
            k[i + r] = r == 0 ? 1 : (float) Math.exp(-0.5 * i * i / (size * size));
            sum += k[i + r] * k[i + r];
        }
        for (int i = 0; i < k.length; i++) k[i] /= (float) Math.sqrt(sum);
        return k;
    }

    /** What two places of such noise that lie so far apart along a row or a column have in common. */
    public static double correlation(double size, int apart) {
        float[] k = taps(size);
        double sum = 0;
        for (int i = 0; i + apart < k.length; i++) sum += k[i] * k[i + apart];
        return sum;
    }

    private float[] noise(int which, double size, double level) {
        float[] k = taps(size), across = new float[width * (height + k.length - 1)], out = new float[width * height];
        int r = k.length / 2, wide = width + 2 * r;
        Image.bands(height + 2 * r, (from, to) -> {
            float[] white = new float[wide];
            for (int y = from; y < to; y++) {
                for (int x = 0; x < wide; x++) white[x] = white(x0 + x - r, y0 + y - r, which);
                for (int i = 0; i < k.length; i++) {
                    float f = k[i];
                    for (int x = 0, o = y * width; x < width; x++) across[o + x] += f * white[x + i];
                }
            }
        });
        Image.rows(height, y -> {
            for (int i = 0; i < k.length; i++) {
                float f = (float) level * k[i];
                for (int x = 0, o = y * width, p = (y + i) * width; x < width; x++) out[o + x] += f * across[p + x];
            }
        });
        return out;
    }

    private float white(int x, int y, int c) {
        int h = Sobol.hash(x * 0x9e3779b1 ^ Sobol.hash(y * 0x85ebca77 + c * 0x27d4eb2f ^ Sobol.hash(seed)));
        // Sum of four uniform bytes: near enough to a bell.
        int sum = (h & 255) + (h >>> 8 & 255) + (h >>> 16 & 255) + (h >>> 24);
        return (sum - 510) / 147.8f;
    }
}

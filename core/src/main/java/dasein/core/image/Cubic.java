package dasein.core.image;

/** Values between pixels (Catmull and Rom 1974), which blur less than straight lines. Mutable and reused. */
public final class Cubic {
    private final int w, h;
    private final float[] kx = new float[4], ky = new float[4];
    private final int[] column = new int[4], row = new int[4];

    public Cubic(int w, int h) {
        this.w = w;
        this.h = h;
    }

    /** @param x, y pixels, whole numbers in their middles */
    public void at(float x, float y) {
        int x0 = (int) Math.floor(x), y0 = (int) Math.floor(y);
        weights(x - x0, kx);
        weights(y - y0, ky);
        for (int i = 0; i < 4; i++) {
            column[i] = Math.max(0, Math.min(w - 1, x0 + i - 1));
            row[i] = w * Math.max(0, Math.min(h - 1, y0 + i - 1));
        }
    }

    private static void weights(float t, float[] k) {
        k[0] = 0.5f * t * (-1 + t * (2 - t));
        k[1] = 1 + 0.5f * t * t * (3 * t - 5);
        k[2] = 0.5f * t * (1 + t * (4 - 3 * t));
        k[3] = 0.5f * t * t * (t - 1);
    }

    /** What a plane has there. */
    public float of(float[] plane) {
        float sum = 0;
        for (int j = 0; j < 4; j++) {
            int r = row[j];
            sum += ky[j]
                    * (kx[0] * plane[r + column[0]]
                            + kx[1] * plane[r + column[1]]
                            + kx[2] * plane[r + column[2]]
                            + kx[3] * plane[r + column[3]]);
        }
        return sum;
    }

    /** The same, but no less and no more than the four around it have: of what is divided by. */
    public float within(float[] plane) {
        float a = plane[row[1] + column[1]],
                b = plane[row[1] + column[2]],
                c = plane[row[2] + column[1]],
                d = plane[row[2] + column[2]];
        float least = Math.min(Math.min(a, b), Math.min(c, d)), most = Math.max(Math.max(a, b), Math.max(c, d));
        return least == most ? least : Math.max(least, Math.min(most, of(plane)));
    }
}

package dasein.core.lens;

import dasein.core.BadInput;
import dasein.core.image.Image;

/**
 * Takes a lens's distortion out of pictures and puts it back. The straight picture has the lens's own focal length and
 * centre and is larger, so that nothing of the bent one is lost. Both ways are exact inverses of one another (the
 * inverse of the distortion is solved to far below a thousandth of a pixel); what filtering costs is Lanczos with three
 * lobes.
 */
public final class Straighten {
    private static final int LOBES = 3;
    /** A straight picture this many times larger than the bent one comes from a lens that cannot be right. */
    private static final double MOST_TIMES = 6;
    /** Room for the filter at the border, pixels. */
    private static final int MARGIN = LOBES;

    private final Lens lens;
    private final int width, height;
    /** Place of the straight picture's top-left corner in pixels of the bent one, and its size. */
    public final int left, top, wide, high;

    /** @param width of the bent picture, which is the plate's; {@code height} likewise */
    public Straighten(Lens lens, int width, int height) {
        this.lens = lens;
        this.width = width;
        this.height = height;
        double x0 = 0, y0 = 0, x1 = width, y1 = height;
        int steps = 200;
        for (int i = 0; i <= steps; i++) {
            double x = (double) width * i / steps, y = (double) height * i / steps;
            for (double[] b : new double[][] {{x, 0}, {x, height}, {0, y}, {width, y}}) {
                double[] q = straight(b[0], b[1]);
                x0 = Math.min(x0, q[0]);
                y0 = Math.min(y0, q[1]);
                x1 = Math.max(x1, q[0]);
                y1 = Math.max(y1, q[1]);
            }
        }
        if (!(x1 - x0 < MOST_TIMES * width && y1 - y0 < MOST_TIMES * height))
            throw new BadInput("this lens bends the picture's border to infinity; its distortion cannot be right");
        left = (int) Math.floor(x0) - MARGIN;
        top = (int) Math.floor(y0) - MARGIN;
        wide = (int) Math.ceil(x1) + MARGIN - left;
        high = (int) Math.ceil(y1) + MARGIN - top;
    }

    public int width() {
        return width;
    }

    public int height() {
        return height;
    }

    /** Where a pixel of the bent picture lies in the straight one, in the bent one's coordinates. */
    public double[] straight(double x, double y) {
        double[] q = lens.undistort(x, y);
        return new double[] {lens.centreX() + lens.focalPx() * q[0], lens.centreY() + lens.focalPx() * q[1]};
    }

    /** Where a place of the straight picture lies in the bent one; beyond what the lens sees it lies far outside. */
    public double[] bent(double x, double y) {
        double u = (x - lens.centreX()) / lens.focalPx(),
                v = (y - lens.centreY()) / lens.focalPx(),
                r2 = u * u + v * v,
                most = lens.maxUndistortedRadius2();
        if (r2 <= most) return lens.distortToPixel(u, v);
        return new double[] {-1e6, -1e6};
    }

    /**
     * @param bent the plate; @return the straight picture of size {@link #wide} x {@link #high}, black where the plate
     *     has nothing
     */
    public Image undistorted(Image bent) {
        checked(bent, width, height);
        return mapped(bent, wide, high, (x, y) -> bent(x + left, y + top), false);
    }

    /** The way back, of a picture as {@link #undistorted} gives it. */
    public Image distorted(Image straight) {
        checked(straight, wide, high);
        return mapped(
                straight,
                width,
                height,
                (x, y) -> {
                    double[] q = straight(x, y);
                    return new double[] {q[0] - left, q[1] - top};
                },
                true);
    }

    /** The way back for what cannot be filtered: each pixel is the nearest of the straight plane. */
    public float[] nearest(float[] plane) {
        float[] out = new float[width * height];
        Image.rows(height, y -> {
            for (int x = 0; x < width; x++) {
                double[] q = straight(x + 0.5, y + 0.5);
                int u = (int) Math.floor(q[0] - left), v = (int) Math.floor(q[1] - top);
                out[y * width + x] =
                        plane[Math.min(Math.max(v, 0), high - 1) * wide + Math.min(Math.max(u, 0), wide - 1)];
            }
        });
        return out;
    }

    private static void checked(Image im, int w, int h) {
        if (im.width != w || im.height != h)
            throw new BadInput("the picture is " + im.width + " x " + im.height + ", the lens's is " + w + " x " + h);
    }

    /**
     * Where each pixel of the straight picture is to be fetched from in the bent one, as parts of its width from the
     * left and of its height from below (ST map, common practice): planes s, t.
     */
    public float[][] undistortMap() {
        float[][] m = new float[2][wide * high];
        Image.rows(high, y -> {
            for (int x = 0; x < wide; x++) {
                double[] q = bent(x + 0.5 + left, y + 0.5 + top);
                m[0][y * wide + x] = (float) (q[0] / width);
                m[1][y * wide + x] = (float) (1 - q[1] / height);
            }
        });
        return m;
    }

    /** Where each pixel of the bent picture is to be fetched from in the straight one. */
    public float[][] redistortMap() {
        float[][] m = new float[2][width * height];
        Image.rows(height, y -> {
            for (int x = 0; x < width; x++) {
                double[] q = straight(x + 0.5, y + 0.5);
                m[0][y * width + x] = (float) ((q[0] - left) / wide);
                m[1][y * width + x] = (float) (1 - (q[1] - top) / high);
            }
        });
        return m;
    }

    private interface Way {
        double[] of(double x, double y);
    }

    private static Image mapped(Image im, int w, int h, Way way, boolean clamp) {
        Image out = new Image(w, h, im.channels());
        Image.rows(h, y -> {
            double[] wx = new double[2 * LOBES], wy = new double[2 * LOBES];
            for (int x = 0; x < w; x++) {
                double[] q = way.of(x + 0.5, y + 0.5);
                double u = q[0] - 0.5, v = q[1] - 0.5;
                if (!clamp && (u < -0.5 || v < -0.5 || u > im.width - 0.5 || v > im.height - 0.5)) continue;
                int x0 = (int) Math.floor(u) - LOBES + 1, y0 = (int) Math.floor(v) - LOBES + 1;
                double sx = weights(u - x0, wx), sy = weights(v - y0, wy), s = sx * sy;
                for (int c = 0; c < out.channels(); c++) {
                    float[] p = im.planes[c];
                    double sum = 0;
                    for (int j = 0; j < 2 * LOBES; j++) {
                        int row = Math.min(Math.max(y0 + j, 0), im.height - 1) * im.width;
                        double line = 0;
                        for (int i = 0; i < 2 * LOBES; i++)
                            line += wx[i] * p[row + Math.min(Math.max(x0 + i, 0), im.width - 1)];
                        sum += wy[j] * line;
                    }
                    out.planes[c][y * w + x] = (float) (sum / s);
                }
            }
        });
        return out;
    }

    /** Lanczos weights of the taps around a place that lies {@code at} after the first. */
    private static double weights(double at, double[] w) {
        double sum = 0;
        for (int i = 0; i < w.length; i++) {
            double t = Math.PI * (at - i);
            w[i] = Math.abs(t) < 1e-9
                    ? 1
                    : Math.abs(at - i) >= LOBES ? 0 : LOBES * Math.sin(t) * Math.sin(t / LOBES) / (t * t);
            sum += w[i];
        }
        return sum;
    }
}

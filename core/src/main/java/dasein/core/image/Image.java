package dasein.core.image;

import java.util.stream.IntStream;

/**
 * A planar float image: {@code planes[c][y * width + x]}. The arrays are the image; whoever holds them may write them.
 */
public final class Image {
    public final int width;
    public final int height;
    public final float[][] planes;

    public Image(int width, int height, int channels) {
        this(width, height, new float[channels][width * height]);
    }

    public Image(int width, int height, float[]... planes) {
        for (float[] p : planes) {
            if (p.length != width * height) throw new IllegalArgumentException("plane of wrong size");
        }
        this.width = width;
        this.height = height;
        this.planes = planes;
    }

    public int channels() {
        return planes.length;
    }

    public float get(int x, int y, int c) {
        return planes[c][y * width + x];
    }

    public Image copy() {
        float[][] p = new float[planes.length][];
        for (int c = 0; c < p.length; c++) p[c] = planes[c].clone();
        return new Image(width, height, p);
    }

    /** Half size by 2x2 box, each output pixel covering exactly four; an odd last row or column is dropped. */
    public Image half() {
        int w = width / 2, h = height / 2;
        if (w == 0 || h == 0) throw new IllegalArgumentException("too small to halve");
        Image out = new Image(w, h, planes.length);
        for (int c = 0; c < planes.length; c++) {
            float[] s = planes[c], d = out.planes[c];
            rows(h, y -> {
                for (int x = 0, i = 2 * y * width, o = y * w; x < w; x++, i += 2, o++) {
                    d[o] = 0.25f * (s[i] + s[i + 1] + s[i + width] + s[i + width + 1]);
                }
            });
        }
        return out;
    }

    /** Rec. 709 luminance of a colour image, or a copy of the only plane. */
    public float[] luminance() {
        if (planes.length < 3) return planes[0].clone();
        float[] l = new float[width * height], r = planes[0], g = planes[1], b = planes[2];
        for (int i = 0; i < l.length; i++) l[i] = 0.2126f * r[i] + 0.7152f * g[i] + 0.0722f * b[i];
        return l;
    }

    /** Of one pixel of such planes. */
    public static double luma(float[][] rgb, int i) {
        return 0.2126 * rgb[0][i] + 0.7152 * rgb[1][i] + 0.0722 * rgb[2][i];
    }

    /** Bilinear value at continuous pixel coordinates, clamped to the border. */
    public float sample(double x, double y, int c) {
        double fx = Math.min(Math.max(x - 0.5, 0), width - 1), fy = Math.min(Math.max(y - 0.5, 0), height - 1);
        int x0 = Math.min((int) fx, Math.max(width - 2, 0)), y0 = Math.min((int) fy, Math.max(height - 2, 0));
        float a = (float) (fx - x0), b = (float) (fy - y0);
        int x1 = Math.min(x0 + 1, width - 1), y1 = Math.min(y0 + 1, height - 1);
        float[] p = planes[c];
        float top = p[y0 * width + x0] * (1 - a) + p[y0 * width + x1] * a;
        float low = p[y1 * width + x0] * (1 - a) + p[y1 * width + x1] * a;
        return top * (1 - b) + low * b;
    }

    /**
     * Resized: halved while it is at least twice too large, then by the mean of four bilinear samples a pixel, which is
     * close to the mean of what a pixel covers but not equal to it; enlarged by the same.
     */
    public Image resize(int w, int h) {
        if (w == width && h == height) return this;
        if (w * 2 <= width && h * 2 <= height) return half().resize(w, h);
        Image out = new Image(w, h, planes.length);
        double sx = (double) width / w, sy = (double) height / h;
        rows(h, y -> {
            for (int x = 0; x < w; x++) {
                for (int c = 0; c < planes.length; c++) {
                    out.planes[c][y * w + x] = 0.25f
                            * (sample((x + 0.25) * sx, (y + 0.25) * sy, c)
                                    + sample((x + 0.75) * sx, (y + 0.25) * sy, c)
                                    + sample((x + 0.25) * sx, (y + 0.75) * sy, c)
                                    + sample((x + 0.75) * sx, (y + 0.75) * sy, c));
                }
            }
        });
        return out;
    }

    /** A part of it, all of which must lie within. */
    public Image part(int left, int top, int w, int h) {
        Image out = new Image(w, h, planes.length);
        for (int c = 0; c < planes.length; c++)
            for (int y = 0; y < h; y++) System.arraycopy(planes[c], (top + y) * width + left, out.planes[c], y * w, w);
        return out;
    }

    /** Runs {@code row} for 0..height-1 over the shared pool. */
    public static void rows(int height, java.util.function.IntConsumer row) {
        bands(height, (from, to) -> {
            for (int y = from; y < to; y++) row.accept(y);
        });
    }

    /** Rows from (with) to (without). */
    public interface Band {
        void of(int from, int to);
    }

    /**
     * Runs {@code band} over bands of rows that together are 0..height-1, on the shared pool; scratch arrays can be had
     * once a band.
     */
    public static void bands(int height, Band band) {
        if (height < 32) {
            band.of(0, height);
        } else {
            int n = Math.min(height, 4 * Runtime.getRuntime().availableProcessors());
            IntStream.range(0, n).parallel().forEach(b -> band.of(height * b / n, height * (b + 1) / n));
        }
    }
}

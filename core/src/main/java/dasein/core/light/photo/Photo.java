package dasein.core.light.photo;

import dasein.core.BadInput;
import dasein.core.format.Exif;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.awt.image.BufferedImage;
import java.awt.image.DataBuffer;
import java.awt.image.DataBufferByte;
import java.awt.image.Raster;
import java.nio.file.Path;
import java.util.Locale;

/**
 * A photograph as the camera stored it: codes, which only a {@link Response} turns into light, or light itself (EXR,
 * HDR, float TIFF). Codes are kept in 16 bit, which is a third of what floats would take.
 */
public final class Photo {
    public final String name;
    public final int width, height;
    public final Exif exif;
    private final short[][] codes;
    private final float[][] light;

    private Photo(String name, int width, int height, Exif exif, short[][] codes, float[][] light) {
        this.name = name;
        this.width = width;
        this.height = height;
        this.exif = exif;
        this.codes = codes;
        this.light = light;
    }

    /** Codes from 0 to 1, three planes. */
    public static Photo ofCodes(String name, Image codes) {
        short[][] c = new short[3][codes.width * codes.height];
        for (int k = 0; k < 3; k++)
            for (int i = 0; i < c[k].length; i++)
                c[k][i] = (short) Math.round(65535 * Math.max(0, Math.min(1, codes.planes[k][i])));
        return new Photo(name, codes.width, codes.height, Exif.NONE, c, null);
    }

    public static Photo ofLight(String name, Image light) {
        return new Photo(name, light.width, light.height, Exif.NONE, null, light.planes);
    }

    /** @throws BadInput when it is no picture, damaged or too large */
    public static Photo read(Path path) {
        String name = path.getFileName().toString(), n = name.toLowerCase(Locale.ROOT);
        if (n.endsWith(".exr") || n.endsWith(".hdr")) return ofLight(name, Stills.read(path, Encoding.LINEAR));
        BufferedImage b = Stills.buffered(path);
        int type = b.getRaster().getDataBuffer().getDataType();
        if (type == DataBuffer.TYPE_FLOAT) return ofLight(name, Stills.fromBuffered(b, Encoding.LINEAR));
        boolean deep = type == DataBuffer.TYPE_USHORT && b.getType() == BufferedImage.TYPE_CUSTOM
                || b.getType() == BufferedImage.TYPE_USHORT_GRAY;
        int w = b.getWidth(), h = b.getHeight();
        short[][] c = new short[3][w * h];
        byte[] bgr = type == DataBuffer.TYPE_BYTE && b.getType() == BufferedImage.TYPE_3BYTE_BGR
                ? ((DataBufferByte) b.getRaster().getDataBuffer()).getData()
                : null;
        if (bgr != null && bgr.length == 3 * w * h) {
            Image.rows(h, y -> {
                for (int i = y * w; i < (y + 1) * w; i++)
                    for (int k = 0; k < 3; k++) c[k][i] = (short) ((bgr[3 * i + 2 - k] & 0xff) * 257);
            });
            return new Photo(name, w, h, Exif.read(path), c, null);
        }
        Raster raster = b.getRaster();
        int bands = raster.getNumBands();
        Image.bands(h, (from, to) -> {
            int[] px = new int[w * Math.max(bands, 1)];
            for (int y = from; y < to; y++) {
                if (deep) raster.getPixels(0, y, w, 1, px);
                else b.getRGB(0, y, w, 1, px, 0, w);
                for (int x = 0; x < w; x++)
                    for (int k = 0; k < 3; k++)
                        c[k][y * w + x] = (short)
                                (deep ? px[x * bands + (bands < 3 ? 0 : k)] : (px[x] >> 16 - 8 * k & 0xff) * 257);
            }
        });
        return new Photo(name, w, h, Exif.read(path), c, null);
    }

    /** The same under the name that a person gave it. */
    public Photo named(String other) {
        return new Photo(other, width, height, exif, codes, light);
    }

    public boolean isLight() {
        return light != null;
    }

    /** Code from 0 to 1, or light. */
    public float at(int c, int i) {
        return light != null ? light[c][i] : (codes[c][i] & 0xffff) * (1 / 65535f);
    }

    /** Code from 0 to 65535; only of what {@link #isLight} is not. */
    int code(int c, int i) {
        return codes[c][i] & 0xffff;
    }

    /** Bilinear at continuous pixel coordinates, clamped to the border. */
    public float sample(double x, double y, int c) {
        double fx = Math.min(Math.max(x - 0.5, 0), width - 1), fy = Math.min(Math.max(y - 0.5, 0), height - 1);
        int x0 = Math.min((int) fx, Math.max(width - 2, 0)), y0 = Math.min((int) fy, Math.max(height - 2, 0));
        float a = (float) (fx - x0), b = (float) (fy - y0);
        int x1 = Math.min(x0 + 1, width - 1), y1 = Math.min(y0 + 1, height - 1);
        float top = at(c, y0 * width + x0) * (1 - a) + at(c, y0 * width + x1) * a,
                low = at(c, y1 * width + x0) * (1 - a) + at(c, y1 * width + x1) * a;
        return top * (1 - b) + low * b;
    }

    /** A part of it; it must lie within. */
    public Photo part(int left, int top, int w, int h) {
        short[][] c = codes == null ? null : new short[3][w * h];
        float[][] l = light == null ? null : new float[3][w * h];
        for (int k = 0; k < 3; k++)
            for (int y = 0; y < h; y++) {
                int from = (top + y) * width + left;
                if (c != null) System.arraycopy(codes[k], from, c[k], y * w, w);
                if (l != null) System.arraycopy(light[k], from, l[k], y * w, w);
            }
        return new Photo(name, w, h, exif, c, l);
    }

    /** Shifted and turned into another's pixels; the codes between pixels are interpolated. */
    Photo placed(Placing by) {
        if (by.none()) return this;
        short[][] c = codes == null ? null : new short[3][width * height];
        float[][] l = light == null ? null : new float[3][width * height];
        Image.rows(height, y -> {
            for (int x = 0; x < width; x++) {
                double sx = by.x(x + 0.5, y + 0.5, width, height), sy = by.y(x + 0.5, y + 0.5, width, height);
                for (int k = 0; k < 3; k++) {
                    float v = sample(sx, sy, k);
                    if (c != null) c[k][y * width + x] = (short) Math.round(65535 * v);
                    else l[k][y * width + x] = v;
                }
            }
        });
        return new Photo(name, width, height, exif, c, l);
    }

    /** Luminance of the codes, reduced by a whole factor: the mean of the pixels that are covered. */
    Image grey(int by) {
        int w = Math.max(1, width / by), h = Math.max(1, height / by);
        Image out = new Image(w, h, 1);
        Image.rows(h, y -> {
            for (int x = 0; x < w; x++) {
                double s = 0;
                for (int j = 0; j < by; j++)
                    for (int i = 0; i < by; i++) {
                        int p = (y * by + j) * width + x * by + i;
                        s += light != null
                                ? 0.2126f * light[0][p] + 0.7152f * light[1][p] + 0.0722f * light[2][p]
                                : (0.2126f * code(0, p) + 0.7152f * code(1, p) + 0.0722f * code(2, p)) * (1 / 65535f);
                    }
                out.planes[0][y * w + x] = (float) (s / (by * by));
            }
        });
        return out;
    }
}

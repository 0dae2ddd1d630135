package dasein.core.model;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Room;
import java.awt.image.BufferedImage;
import java.awt.image.DataBufferByte;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import javax.imageio.ImageIO;
import javax.imageio.stream.ImageInputStream;

/**
 * An 8-bit texture with alpha, repeated or clamped, bilinear, with smaller ones for what is seen from afar (Williams
 * 1983). Colour textures are decoded from sRGB; data textures are read as they are.
 */
public final class Texture {
    private final int width;
    private final int height;
    private final int[] argb;
    private final float[] decode;
    private final boolean clamp;
    private final int set;
    private final float[] map;
    /** Each half as large as the one before, this one first; made when first asked for. */
    private volatile Texture[] smaller;

    private static final double GREY = 0.18;
    private static final float[] LINEAR = new float[256];
    private static final float[] SRGB = new float[256];

    /** Codes of so many steps of light, within a twentieth of a code of the formula. */
    private static final int CODES = 1 << 16;

    private static final byte[] CODE_LINEAR = new byte[CODES], CODE_SRGB = new byte[CODES];

    static {
        for (int i = 0; i < 256; i++) {
            LINEAR[i] = i / 255f;
            SRGB[i] = Encoding.SRGB.decode8(i);
        }
        for (int i = 0; i < CODES; i++) {
            double v = i / (CODES - 1.0);
            CODE_LINEAR[i] = (byte) Math.round(255 * v);
            CODE_SRGB[i] = (byte) Math.round(255 * Encoding.SRGB.encode(v));
        }
    }

    public Texture(int width, int height, int[] argb, boolean colour, boolean clamp) {
        this(width, height, argb, colour, clamp, 0, null);
    }

    private Texture(int width, int height, int[] argb, boolean colour, boolean clamp, int set, float[] map) {
        this.width = width;
        this.height = height;
        this.argb = argb;
        this.clamp = clamp;
        this.set = set;
        this.map = map;
        decode = colour ? SRGB : LINEAR;
    }

    /**
     * The same picture, laid on a mesh otherwise. @param set which of the mesh's sets of places; @param map from these
     * to places in the picture (2x3, row-major), null where they are the same
     */
    public Texture placed(int set, float[] map) {
        if (set == 0 && map == null) return this;
        Texture t = new Texture(width, height, argb, decode == SRGB, clamp, set, map);
        t.smaller = smaller();
        return t;
    }

    private Texture with(int[] colours, boolean colour) {
        return new Texture(width, height, colours, colour, clamp, set, map);
    }

    /** Which of a mesh's sets of places it is laid on by: 0 or 1. */
    public int set() {
        return set;
    }

    /** From its set's places to those in the picture (2x3, row-major), null where they are the same. */
    public float[] map() {
        return map;
    }

    public static Texture of(BufferedImage bi, boolean colour, boolean clamp) {
        int w = bi.getWidth(), h = bi.getHeight(), kind = bi.getType();
        int wide = kind == BufferedImage.TYPE_3BYTE_BGR ? 3 : kind == BufferedImage.TYPE_4BYTE_ABGR ? 4 : 0;
        if (wide == 0 || bi.getRaster().getParent() != null)
            return new Texture(w, h, bi.getRGB(0, 0, w, h, null, 0, w), colour, clamp);
        // As most are read; asking for every pixel takes longer than decoding it.
        byte[] v = ((DataBufferByte) bi.getRaster().getDataBuffer()).getData();
        int[] out = new int[w * h];
        for (int i = 0, k = wide - 3; i < out.length; i++, k += wide)
            out[i] = (wide == 4 ? v[k - 1] : 255) << 24 | (v[k + 2] & 255) << 16 | (v[k + 1] & 255) << 8 | v[k] & 255;
        return new Texture(w, h, out, colour, clamp);
    }

    /** Another one, its colours through a factor, a contrast about middle grey and a tint, all on linear light. */
    public Texture graded(double brightness, double contrast, double[] tint) {
        int[][] to = new int[3][256];
        for (int c = 0; c < 3; c++) {
            for (int i = 0; i < 256; i++) {
                double v = decode[i] * brightness;
                v = tint[c] * (contrast == 1 ? v : GREY * Math.pow(v / GREY, contrast));
                to[c][i] = code(v);
            }
        }
        int[] out = new int[argb.length];
        for (int i = 0; i < out.length; i++)
            out[i] = argb[i] & 0xff000000
                    | to[0][argb[i] >> 16 & 255] << 16
                    | to[1][argb[i] >> 8 & 255] << 8
                    | to[2][argb[i] & 255];
        return with(out, decode == SRGB);
    }

    /**
     * White where this one is bright, or where it is dark, black elsewhere; soft between, against the brightest of all.
     */
    public Texture parts(boolean bright) {
        int most = 1;
        for (int v : argb) most = Math.max(most, luma(v));
        int[] out = new int[argb.length];
        for (int i = 0; i < out.length; i++) {
            double u = (double) luma(argb[i]) / most,
                    t = Math.max(0, Math.min(1, bright ? (u - 0.55) / 0.25 : (0.45 - u) / 0.25));
            out[i] = 0xff000000 | 0x010101 * (int) Math.round(255 * t * t * (3 - 2 * t));
        }
        return with(out, false);
    }

    /** Of what keeps light away: as it covers, or where none of it is clear, as dark as it is. */
    public Texture cutout() {
        if (clear()) return this;
        int[] out = new int[argb.length];
        for (int i = 0; i < out.length; i++) out[i] = 255 - luma(argb[i]) << 24;
        return with(out, decode == SRGB);
    }

    private static int luma(int v) {
        return (54 * (v >> 16 & 255) + 183 * (v >> 8 & 255) + 19 * (v & 255)) >> 8;
    }

    /** As an 8-bit picture, codes as they are. */
    public BufferedImage image() {
        BufferedImage bi = new BufferedImage(width, height, BufferedImage.TYPE_INT_ARGB);
        bi.setRGB(0, 0, width, height, argb, 0, width);
        return bi;
    }

    /** The same array for the same picture, however it is laid on; not to be written. */
    public Object codes() {
        return argb;
    }

    /** Whether any of it is not quite opaque. */
    public boolean clear() {
        for (int v : argb) if (v >>> 24 < 255) return true;
        return false;
    }

    public int width() {
        return width;
    }

    public int height() {
        return height;
    }

    /** What it takes in memory, with the smaller ones. */
    public long bytes() {
        return 4L * argb.length * 4 / 3;
    }

    public boolean clamp() {
        return clamp;
    }

    private static final int MAX_SIDE = 16384;

    /**
     * A picture file that Java or its plug-ins can read. @throws dasein.core.BadInput when it cannot be read or is too
     * large
     */
    public static Texture read(Path path, boolean colour, boolean clamp) {
        try (ImageInputStream in = ImageIO.createImageInputStream(path.toFile())) {
            return read(in, path.getFileName().toString(), colour, clamp);
        } catch (IOException | RuntimeException e) {
            if (e instanceof BadInput b) throw b;
            throw new BadInput("the picture " + path.getFileName() + " is damaged", e);
        }
    }

    /** @param named to say which it is */
    public static Texture read(ImageInputStream in, String named, boolean colour, boolean clamp) throws IOException {
        var readers = ImageIO.getImageReaders(in);
        if (!readers.hasNext())
            throw new BadInput(named
                    + " has a texture in a format that cannot be read here; PNG, JPEG, WebP, BMP, TIFF and TGA can");
        var reader = readers.next();
        try {
            reader.setInput(in);
            if (reader.getWidth(0) > MAX_SIDE || reader.getHeight(0) > MAX_SIDE)
                throw new BadInput(named + " has a texture larger than " + MAX_SIDE + " pixels");
            try (Room room = Room.take(named, reader.getWidth(0), reader.getHeight(0), 12)) {
                return of(reader.read(0), colour, clamp);
            }
        } finally {
            reader.dispose();
        }
    }

    /** What stands for a picture that is missing: nobody takes it for a colour. */
    public static Texture chequered() {
        int[] argb = new int[64];
        for (int i = 0; i < 64; i++) argb[i] = (i % 8 / 4 + i / 32) % 2 == 0 ? 0xffd24fb0 : 0xff2b2b2b;
        return new Texture(8, 8, argb, true, false);
    }

    /** Writes r, g, b, a at texture coordinates (origin top left, as glTF) into {@code out}. */
    public void sample(float u, float v, float[] out) {
        float x = u * width - 0.5f, y = v * height - 0.5f;
        int x0 = (int) Math.floor(x), y0 = (int) Math.floor(y);
        float a = x - x0, b = y - y0;
        int xa = wrap(x0, width),
                xb = wrap(x0 + 1, width),
                ya = wrap(y0, height) * width,
                yb = wrap(y0 + 1, height) * width;
        int p = argb[ya + xa], q = argb[ya + xb], r = argb[yb + xa], s = argb[yb + xb];
        float wp = (1 - a) * (1 - b), wq = a * (1 - b), wr = (1 - a) * b, ws = a * b;
        float[] d = decode;
        out[0] = d[p >> 16 & 255] * wp + d[q >> 16 & 255] * wq + d[r >> 16 & 255] * wr + d[s >> 16 & 255] * ws;
        out[1] = d[p >> 8 & 255] * wp + d[q >> 8 & 255] * wq + d[r >> 8 & 255] * wr + d[s >> 8 & 255] * ws;
        out[2] = d[p & 255] * wp + d[q & 255] * wq + d[r & 255] * wr + d[s & 255] * ws;
        out[3] = ((p >>> 24) * wp + (q >>> 24) * wq + (r >>> 24) * wr + (s >>> 24) * ws) * (1 / 255f);
    }

    /**
     * The same of a part of it instead of a place: between the two of the smaller ones whose texels are about as large.
     *
     * @param across of the part, in texture coordinates
     */
    public void sample(float u, float v, float across, float[] out) {
        float texels = across * (float) Math.sqrt((double) width * height);
        if (!(texels > 1)) {
            sample(u, v, out);
            return;
        }
        Texture[] all = smaller();
        float level = Math.min(all.length - 1, (float) (Math.log(texels) / Math.log(2)));
        int i = Math.min(all.length - 1, (int) level), j = Math.min(all.length - 1, i + 1);
        float k = level - i;
        all[i].sample(u, v, out);
        if (k == 0 || i == j) return;
        float r = out[0], g = out[1], b = out[2], a = out[3];
        all[j].sample(u, v, out);
        out[0] = r + k * (out[0] - r);
        out[1] = g + k * (out[1] - g);
        out[2] = b + k * (out[2] - b);
        out[3] = a + k * (out[3] - a);
    }

    private Texture[] smaller() {
        Texture[] all = smaller;
        if (all != null) return all;
        synchronized (this) {
            if (smaller != null) return smaller;
            List<Texture> made = new ArrayList<>(List.of(this));
            for (Texture t = this; t.width > 1 || t.height > 1; ) made.add(t = t.half());
            return smaller = made.toArray(Texture[]::new);
        }
    }

    /** Means of two by two, of linear light; what is clear has no colour to give. */
    private Texture half() {
        int w = Math.max(1, width / 2), h = Math.max(1, height / 2);
        int[] out = new int[w * h];
        byte[] codes = decode == SRGB ? CODE_SRGB : CODE_LINEAR;
        IntStream.range(0, h).parallel().forEach(y -> {
            int y0 = y * height / h, y1 = Math.max(y0 + 1, (y + 1) * height / h);
            for (int x = 0; x < w; x++) {
                int x0 = x * width / w, x1 = Math.max(x0 + 1, (x + 1) * width / w);
                int alpha = 0;
                float weights = 0, r = 0, g = 0, b = 0;
                for (int j = y0; j < y1; j++)
                    for (int i = x0; i < x1; i++) {
                        int p = argb[j * width + i];
                        // So little that it counts only where all is clear.
                        float k = (p >>> 24) + 1e-3f;
                        alpha += p >>> 24;
                        weights += k;
                        r += k * decode[p >> 16 & 255];
                        g += k * decode[p >> 8 & 255];
                        b += k * decode[p & 255];
                    }
                float full = (CODES - 1) / weights;
                out[y * w + x] = Math.round((float) alpha / ((y1 - y0) * (x1 - x0))) << 24
                        | (codes[(int) (r * full + 0.5f)] & 255) << 16
                        | (codes[(int) (g * full + 0.5f)] & 255) << 8
                        | codes[(int) (b * full + 0.5f)] & 255;
            }
        });
        return new Texture(w, h, out, decode == SRGB, clamp);
    }

    /** One whose longer side has at most so many texels: this one halved until it has. */
    public Texture within(int side) {
        Texture t = this;
        while (Math.max(t.width, t.height) > Math.max(1, side)) t = t.half();
        return t == this ? this : t.placed(set, map);
    }

    private int code(double v) {
        return Math.max(0, Math.min(255, (int) Math.round(255 * (decode == SRGB ? Encoding.SRGB.encode(v) : v))));
    }

    private int wrap(int i, int n) {
        if (i >= 0 && i < n) return i;
        return clamp ? Math.max(0, Math.min(n - 1, i)) : Math.floorMod(i, n);
    }
}

package dasein.core.format;

import static org.lwjgl.util.tinyexr.TinyEXR.*;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.image.Room;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.FloatBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.IntStream;
import java.util.zip.Deflater;
import org.lwjgl.PointerBuffer;
import org.lwjgl.system.MemoryStack;
import org.lwjgl.system.MemoryUtil;
import org.lwjgl.util.tinyexr.EXRBox2i;
import org.lwjgl.util.tinyexr.EXRHeader;
import org.lwjgl.util.tinyexr.EXRImage;
import org.lwjgl.util.tinyexr.EXRVersion;

/**
 * OpenEXR. Reading goes through tinyexr, but for the plain kind that passes are kept in ({@link ExrLines}). Writing
 * (scan lines, half or float) is our own after the published file layout ("OpenEXR File Layout", openexr.com): the
 * library's deflate takes 3 to 4 s for a frame with all passes, this under one.
 */
public final class Exr {
    /** How scan lines are packed: the number by which the format knows it, and how many lines lie in a block. */
    public enum Packing {
        /** Sixteen lines at a time: the smallest files. */
        ZIP(3, 16),
        /** Line by line: quicker to read a part of. */
        ZIPS(2, 1),
        /** By wavelets, thirty-two lines at a time: small where there is grain, slower. */
        PIZ(4, 32);

        final byte number;
        final int lines;

        Packing(int number, int lines) {
            this.number = (byte) number;
            this.lines = lines;
        }
    }

    private static final int DEFLATE_LEVEL = 2;
    /** Bit of the version field that says that pixels have lists of samples. */
    private static final int DEEP = 1 << 11;

    /** Standard attributes (openexr.com, "Standard Optional Attributes"): frames a second, and the frame's number. */
    public static final String RATE = "framesPerSecond", COUNTER = "imageCounter", TIMECODE = "timeCode";

    private static final int MAX_SIDE = 32_768;
    private static final long MAX_PIXELS = 1L << 28;

    private Exr() {}

    /**
     * Channel name to plane, in the file's order. All planes have the data window's size; {@code display}: x, y, width,
     * height of the display window.
     */
    public record Channels(
            int width, int height, int originX, int originY, int[] display, Map<String, float[]> planes) {
        public float[] plane(String name) {
            float[] p = planes.get(name);
            if (p == null) throw new BadInput("the picture has no channel " + name);
            return p;
        }
    }

    /** How channels are stored: FLOAT for names that need the range (depth, identity), HALF for the rest. */
    public static void write(
            Path path,
            int w,
            int h,
            Map<String, float[]> planes,
            java.util.Set<String> floatChannels,
            Map<String, String> text) {
        write(path, new int[] {0, 0, w, h}, new int[] {0, 0, w, h}, planes, floatChannels, text);
    }

    /**
     * @param window of the planes as x, y, width, height; @param display window likewise: larger data than display is
     *     overscan
     */
    public static void write(
            Path path,
            int[] window,
            int[] display,
            Map<String, float[]> planes,
            java.util.Set<String> floatChannels,
            Map<String, String> text) {
        write(path, window, display, planes, floatChannels, text, Map.of(), Packing.ZIP);
    }

    /** @param matrices attributes of 16 numbers in the order of the file (a point stands as a row before them) */
    public static void write(
            Path path,
            int[] window,
            int[] display,
            Map<String, float[]> planes,
            java.util.Set<String> floatChannels,
            Map<String, String> text,
            Map<String, float[]> matrices,
            Packing packing) {
        int w = window[2], h = window[3];
        TreeMap<String, float[]> sorted = new TreeMap<>(planes);
        String[] names = sorted.keySet().toArray(String[]::new);
        boolean[] full = new boolean[names.length];
        int bytesPerPixel = 0;
        for (int c = 0; c < names.length; c++) {
            full[c] = floatChannels.contains(names[c]);
            bytesPerPixel += full[c] ? 4 : 2;
        }
        float[][] data = sorted.values().toArray(float[][]::new);
        int lines = packing.lines, blocks = (h + lines - 1) / lines, perPixel = bytesPerPixel;
        byte[][] packed = new byte[blocks][];
        IntStream.range(0, blocks)
                .parallel()
                .forEach(b ->
                        packed[b] = pack(data, full, w, b * lines, Math.min(h, (b + 1) * lines), perPixel, packing));
        byte[] header = header(window, display, names, full, text, matrices, packing, Map.of());
        SafeWrite.to(path, tmp -> {
            try (OutputStream out = Files.newOutputStream(tmp)) {
                out.write(header);
                ByteBuffer table = ByteBuffer.allocate(8 * blocks).order(ByteOrder.LITTLE_ENDIAN);
                long at = header.length + 8L * blocks;
                for (byte[] p : packed) {
                    table.putLong(at);
                    at += 8 + p.length;
                }
                out.write(table.array());
                for (int b = 0; b < blocks; b++) {
                    out.write(ByteBuffer.allocate(8)
                            .order(ByteOrder.LITTLE_ENDIAN)
                            .putInt(window[1] + b * lines)
                            .putInt(packed[b].length)
                            .array());
                    out.write(packed[b]);
                }
            }
        });
    }

    /** RGB picture, half float. */
    public static void writeColour(Path path, Image im) {
        Map<String, float[]> m = new LinkedHashMap<>();
        m.put("R", im.planes[0]);
        m.put("G", im.planes[1]);
        m.put("B", im.planes[2]);
        write(path, im.width, im.height, m, java.util.Set.of(), Map.of());
    }

    /** @param deep what a deep file says besides: whole numbers by their attributes; empty for a flat one */
    static byte[] header(
            int[] data,
            int[] display,
            String[] names,
            boolean[] full,
            Map<String, String> text,
            Map<String, float[]> matrices,
            Packing packing,
            Map<String, Integer> deep) {
        ByteBuffer b = ByteBuffer.allocate(4096
                        + 200 * matrices.size()
                        + 64 * names.length
                        + text.values().stream()
                                .mapToInt(v -> v.length() * 3 + 200)
                                .sum())
                .order(ByteOrder.LITTLE_ENDIAN);
        b.putInt(20000630).putInt(deep.isEmpty() ? 2 : 2 | DEEP);
        ByteBuffer list = ByteBuffer.allocate(64 * names.length + 1).order(ByteOrder.LITTLE_ENDIAN);
        for (int c = 0; c < names.length; c++) {
            list.put(names[c].getBytes(StandardCharsets.US_ASCII))
                    .put((byte) 0)
                    .putInt(full[c] ? 2 : 1)
                    .putInt(0)
                    .putInt(1)
                    .putInt(1);
        }
        list.put((byte) 0);
        attribute(b, "channels", "chlist", java.util.Arrays.copyOf(list.array(), list.position()));
        attribute(b, "compression", "compression", new byte[] {packing.number});
        attribute(b, "dataWindow", "box2i", box(data));
        attribute(b, "displayWindow", "box2i", box(display));
        attribute(b, "lineOrder", "lineOrder", new byte[] {0});
        attribute(b, "pixelAspectRatio", "float", floats(1));
        attribute(b, "screenWindowCenter", "v2f", floats(0, 0));
        attribute(b, "screenWindowWidth", "float", floats(1));
        // Rec. 709 primaries and D65, as the standard attribute wants them.
        attribute(
                b,
                "chromaticities",
                "chromaticities",
                floats(0.64f, 0.33f, 0.30f, 0.60f, 0.15f, 0.06f, 0.3127f, 0.3290f));
        text.forEach((k, v) -> {
            // Two of the standard's own are no texts.
            if (k.equals(RATE)) attribute(b, k, "rational", rational(v));
            else if (k.equals(TIMECODE)) attribute(b, k, "timecode", integers(packed(v), 0));
            else if (k.equals(COUNTER)) attribute(b, k, "int", integers(Integer.parseInt(v)));
            else attribute(b, k, "string", v.getBytes(StandardCharsets.UTF_8));
        });
        if (!deep.isEmpty()) attribute(b, "type", "string", "deepscanline".getBytes(StandardCharsets.US_ASCII));
        deep.forEach((k, v) -> attribute(b, k, "int", integers(v)));
        matrices.forEach((k, v) -> attribute(b, k, "m44f", floats(v)));
        b.put((byte) 0);
        return java.util.Arrays.copyOf(b.array(), b.position());
    }

    private static byte[] box(int[] w) {
        return ByteBuffer.allocate(16)
                .order(ByteOrder.LITTLE_ENDIAN)
                .putInt(w[0])
                .putInt(w[1])
                .putInt(w[0] + w[2] - 1)
                .putInt(w[1] + w[3] - 1)
                .array();
    }

    /** @param v numerator and denominator with a stroke between */
    private static byte[] rational(String v) {
        String[] n = v.split("/");
        return integers(Integer.parseInt(n[0]), n.length > 1 ? Integer.parseInt(n[1]) : 1);
    }

    private static byte[] integers(int... v) {
        ByteBuffer b = ByteBuffer.allocate(4 * v.length).order(ByteOrder.LITTLE_ENDIAN);
        for (int i : v) b.putInt(i);
        return b.array();
    }

    private static byte[] floats(float... v) {
        ByteBuffer b = ByteBuffer.allocate(4 * v.length).order(ByteOrder.LITTLE_ENDIAN);
        for (float f : v) b.putFloat(f);
        return b.array();
    }

    private static void attribute(ByteBuffer b, String name, String type, byte[] value) {
        b.put(name.getBytes(StandardCharsets.US_ASCII))
                .put((byte) 0)
                .put(type.getBytes(StandardCharsets.US_ASCII))
                .put((byte) 0)
                .putInt(value.length)
                .put(value);
    }

    private static byte[] pack(
            float[][] data, boolean[] full, int w, int y0, int y1, int bytesPerPixel, Packing packing) {
        byte[] raw = new byte[bytesPerPixel * w * (y1 - y0)];
        int p = 0;
        for (int y = y0; y < y1; y++) for (int c = 0; c < data.length; c++) p = put(data[c], full[c], y * w, w, raw, p);
        if (packing != Packing.PIZ) return squeezed(raw);
        int[] words = new int[full.length];
        for (int c = 0; c < full.length; c++) words[c] = full[c] ? 2 : 1;
        byte[] packed = Piz.pack(raw, words, w, y1 - y0);
        return packed.length < raw.length ? packed : raw;
    }

    /** Writes {@code n} values from {@code from} on; where the next begins. */
    static int put(float[] d, boolean full, int from, int n, byte[] raw, int p) {
        for (int x = from; x < from + n; x++) {
            int v = full ? Float.floatToRawIntBits(d[x]) : Half.of(d[x]);
            raw[p++] = (byte) v;
            raw[p++] = (byte) (v >> 8);
            if (!full) continue;
            raw[p++] = (byte) (v >> 16);
            raw[p++] = (byte) (v >> 24);
        }
        return p;
    }

    /** As ZIP and ZIPS pack a block; as it is where it does not shrink. */
    static byte[] squeezed(byte[] raw) {
        int n = raw.length;
        if (n == 0) return raw;
        byte[] split = new byte[n], out = new byte[n];
        // The format's reordering: even bytes first, then odd, then differences.
        for (int i = 0, a = 0, b = (n + 1) / 2; i < n; ) {
            split[a++] = raw[i++];
            if (i < n) split[b++] = raw[i++];
        }
        int prev = split[0] & 0xff;
        for (int i = 1; i < n; i++) {
            int v = split[i] & 0xff;
            split[i] = (byte) (v - prev + 128);
            prev = v;
        }
        Deflater z = new Deflater(DEFLATE_LEVEL);
        z.setInput(split);
        z.finish();
        int got = z.deflate(out);
        boolean fits = z.finished();
        z.end();
        return fits && got < n ? java.util.Arrays.copyOf(out, got) : raw;
    }

    /** Eight decimal digits of a timecode, four bits each, and whether it drops frames (SMPTE ST 12-1). */
    private static int packed(String timecode) {
        return (int) Long.parseLong(timecode.replaceAll("\\D", ""), 16) | (timecode.contains(";") ? 0x40 : 0);
    }

    /** Reads every channel of a single-part scan-line or tiled picture (the data window) as float. */
    public static Channels read(Path path) {
        Channels plain = ExrLines.read(path);
        return plain != null ? plain : readByLibrary(path);
    }

    static Channels readByLibrary(Path path) {
        String name = path.getFileName().toString();
        try (MemoryStack stack = MemoryStack.stackPush()) {
            EXRHeader header = EXRHeader.calloc(stack);
            EXRImage image = EXRImage.calloc(stack);
            parse(path, header, stack);
            InitEXRImage(image);
            PointerBuffer err = stack.mallocPointer(1);
            try {
                for (int c = 0; c < header.num_channels(); c++)
                    if (header.pixel_types().get(c) == TINYEXR_PIXELTYPE_HALF)
                        header.requested_pixel_types().put(c, TINYEXR_PIXELTYPE_FLOAT);
                if (LoadEXRImageFromFile(image, header, path.toString(), err) != 0)
                    throw new BadInput(name + " is damaged, cut short, or packed in a way that cannot be read");
                return collect(header, image);
            } finally {
                FreeEXRImage(image);
                FreeEXRHeader(header);
            }
        }
    }

    private static Channels collect(EXRHeader header, EXRImage image) {
        int w = image.width(), h = image.height(), n = image.num_channels();
        Map<String, float[]> planes = new LinkedHashMap<>();
        for (int c = 0; c < n; c++) {
            float[] plane = new float[w * h];
            boolean uint = header.requested_pixel_types().get(c) == TINYEXR_PIXELTYPE_UINT;
            if (header.tiled()) {
                for (int t = 0; t < image.num_tiles(); t++) {
                    var tile = image.tiles().get(t);
                    FloatBuffer f = MemoryUtil.memFloatBuffer(
                            tile.images(header.num_channels()).get(c), header.tile_size_x() * header.tile_size_y());
                    for (int y = 0; y < tile.height(); y++) {
                        for (int x = 0; x < tile.width(); x++) {
                            float v = f.get(y * header.tile_size_x() + x);
                            plane[
                                            (tile.offset_y() * header.tile_size_y() + y) * w
                                                    + tile.offset_x() * header.tile_size_x()
                                                    + x] =
                                    uint ? Float.floatToRawIntBits(v) : v;
                        }
                    }
                }
            } else {
                MemoryUtil.memFloatBuffer(image.images().get(c), w * h).get(plane);
                if (uint) for (int i = 0; i < plane.length; i++) plane[i] = Float.floatToRawIntBits(plane[i]);
            }
            planes.put(header.channels().get(c).nameString(), plane);
        }
        return new Channels(
                w,
                h,
                header.data_window().min_x(),
                header.data_window().min_y(),
                window(header.display_window()),
                planes);
    }

    private static int[] window(EXRBox2i b) {
        return new int[] {b.min_x(), b.min_y(), b.max_x() - b.min_x() + 1, b.max_y() - b.min_y() + 1};
    }

    /** Width and height of the display window, from the head of the file. */
    public static double aspect(Path path) {
        try (MemoryStack stack = MemoryStack.stackPush()) {
            EXRHeader header = EXRHeader.calloc(stack);
            parse(path, header, stack);
            try {
                double a = header.pixel_aspect_ratio();
                return a >= 0.25 && a <= 4 ? a : 1;
            } finally {
                FreeEXRHeader(header);
            }
        }
    }

    public static int[] size(Path path) {
        try (MemoryStack stack = MemoryStack.stackPush()) {
            EXRHeader header = EXRHeader.calloc(stack);
            parse(path, header, stack);
            try {
                int[] d = window(header.display_window());
                return new int[] {d[2], d[3]};
            } finally {
                FreeEXRHeader(header);
            }
        }
    }

    /** Reads the head; refuses what would take too much memory before any is taken. */
    private static void parse(Path path, EXRHeader header, MemoryStack stack) {
        String name = path.getFileName().toString();
        EXRVersion version = EXRVersion.malloc(stack);
        InitEXRHeader(header);
        PointerBuffer err = stack.mallocPointer(1);
        if (ParseEXRVersionFromFile(version, path.toString()) != 0)
            throw new BadInput(name + " is not an EXR picture that can be read");
        if (version.multipart() || version.non_image())
            throw new BadInput(name + " is an EXR of several parts or of deep samples; write it as one flat part");
        if (ParseEXRHeaderFromFile(header, version, path.toString(), err) != 0)
            throw new BadInput(name + " is not an EXR picture that can be read");
        try {
            roomFor(name, window(header.data_window()), window(header.display_window()), header.num_channels());
        } catch (BadInput e) {
            FreeEXRHeader(header);
            throw e;
        }
    }

    /** Refuses what would take too much memory. */
    static void roomFor(String name, int[] data, int[] display, int channels) {
        for (int[] w : new int[][] {data, display}) {
            if (w[2] < 1 || w[3] < 1 || w[2] > MAX_SIDE || w[3] > MAX_SIDE || (long) w[2] * w[3] > MAX_PIXELS)
                throw new BadInput(
                        name + " says it is " + w[2] + " x " + w[3] + " pixels, which is too " + "large to read");
            // What is read is floats twice over: the library's, and ours.
            Room.ask(name, w[2], w[3], 8 * Math.max(1, channels));
        }
    }

    /**
     * R, G, B (or the one luminance channel Y thrice) as a colour image of the display window; black where there is no
     * data.
     */
    public static Image readColour(Path path) {
        Channels c = read(path);
        boolean grey = !c.planes.containsKey("R") && c.planes.containsKey("Y");
        if (!grey && !c.planes.containsKey("R"))
            throw new BadInput(path.getFileName() + " has no channels R, G, B; it has " + c.planes.keySet());
        float[][] p = grey
                ? new float[][] {
                    c.plane("Y"), c.plane("Y").clone(), c.plane("Y").clone()
                }
                : new float[][] {c.plane("R"), c.plane("G"), c.plane("B")};
        int[] d = c.display;
        if (d[0] == c.originX && d[1] == c.originY && d[2] == c.width && d[3] == c.height)
            return new Image(c.width, c.height, p);
        Image out = new Image(d[2], d[3], 3);
        int dx = c.originX - d[0], dy = c.originY - d[1], x0 = Math.max(0, dx), x1 = Math.min(d[2], dx + c.width);
        for (int y = Math.max(0, dy); y < Math.min(d[3], dy + c.height) && x1 > x0; y++) {
            for (int k = 0; k < 3; k++)
                System.arraycopy(p[k], (y - dy) * c.width + x0 - dx, out.planes[k], y * d[2] + x0, x1 - x0);
        }
        return out;
    }

    /** Colour, and alpha as a fourth plane where there is one over the whole picture. */
    public static Image readWithAlpha(Path path) {
        Channels c = read(path);
        int[] d = c.display;
        if (!c.planes.containsKey("A")
                || !c.planes.containsKey("R")
                || d[0] != c.originX
                || d[1] != c.originY
                || d[2] != c.width
                || d[3] != c.height) return readColour(path);
        return new Image(c.width, c.height, c.plane("R"), c.plane("G"), c.plane("B"), c.plane("A"));
    }

    /** Is this the beginning of an EXR file? */
    public static boolean looksLike(byte[] head) {
        return head.length >= 4
                && ByteBuffer.wrap(head).order(ByteOrder.LITTLE_ENDIAN).getInt() == 20000630;
    }
}

package dasein.core.plate;

import dasein.core.BadInput;
import dasein.core.format.MovieFacts;
import dasein.core.format.MovieReader;
import dasein.core.format.Stills;
import dasein.core.image.Cube;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.awt.image.BufferedImage;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * Footage of one take. A movie's frames are numbered from 1, a folder's by its file names. Frames are kept for a while (a few
 * hundred megabytes at most), so reading around the same place is quick. Safe for several threads.
 */
public final class Plate implements AutoCloseable {
    private static final Pattern NUMBERED = Pattern.compile("(.*?)(\\d+)\\.(png|jpe?g|exr|tiff?|dpx)", Pattern.CASE_INSENSITIVE);
    private static final long CACHE_BYTES = 200L << 20;

    private final Encoding encoding;
    /** Through which codes go before the encoding reads them; null for none. */
    private final Cube table;
    private final MovieReader movie;
    private final TreeMap<Integer, Path> files;
    private final int width;
    private final int height;
    private final Rate rate;
    private final Map<Integer, Image> cache;
    private boolean closed;

    private Plate(Encoding encoding, Cube table, MovieReader movie, TreeMap<Integer, Path> files, int width, int height, Rate rate) {
        this.encoding = encoding;
        this.table = table;
        this.movie = movie;
        this.files = files;
        this.width = width;
        this.height = height;
        this.rate = rate;
        int room = (int) Math.max(2, CACHE_BYTES / (12L * width * height));
        cache = new LinkedHashMap<>(16, 0.75f, true) {
            @Override
            protected boolean removeEldestEntry(Map.Entry<Integer, Image> e) {
                return size() > room;
            }
        };
    }

    /**
     * Opens a movie file or a folder of numbered frames.
     *
     * @param encoding null for the usual one: Rec. 709 for movies, sRGB for stills
     * @param rate null for the file's own; a folder has none and is taken at 24/1
     */
    public static Plate open(Path path, Encoding encoding, Rate rate) { return open(path, encoding, rate, null); }

    /** @param table colours go through it first, and then are what {@code encoding} says; null for none */
    public static Plate open(Path path, Encoding encoding, Rate rate, Cube table) {
        if (Files.isDirectory(path)) return folder(path, table, encoding == null ? Encoding.SRGB : encoding, rate == null ? new Rate(24, 1) : rate);
        if (!Files.isRegularFile(path)) throw new BadInput("there is no file or folder " + path);
        MovieReader m = new MovieReader(path);
        return new Plate(encoding == null ? Encoding.REC709 : encoding, table, m, null, m.width, m.height, rate == null ? new Rate(m.rateNum, m.rateDen) : rate);
    }

    private static Plate folder(Path dir, Cube table, Encoding encoding, Rate rate) {
        TreeMap<Integer, Path> files = new TreeMap<>();
        String stem = null;
        try (Stream<Path> list = Files.list(dir)) {
            for (Path p : list.sorted().toList()) {
                Matcher m = NUMBERED.matcher(p.getFileName().toString());
                if (!m.matches() || p.getFileName().toString().startsWith(".")) continue;
                String s = m.group(1) + "." + m.group(3).toLowerCase(java.util.Locale.ROOT);
                if (stem != null && !stem.equals(s)) throw new BadInput("the folder " + dir.getFileName() + " holds more than one series of frames: " + stem + " and " + s);
                stem = s;
                files.put(Integer.parseInt(m.group(2)), p);
            }
        } catch (IOException e) {
            throw new BadInput("the folder " + dir + " cannot be read", e);
        } catch (NumberFormatException e) {
            throw new BadInput("the folder " + dir.getFileName() + " has frame numbers that are too long");
        }
        if (files.isEmpty()) throw new BadInput("the folder " + dir.getFileName() + " holds no numbered PNG, JPEG, TIFF, DPX or EXR frames");
        int expect = files.firstKey();
        for (int n : files.keySet()) {
            if (n != expect) {
                throw new BadInput(n - expect == 1 ? "frame " + expect + " is missing in " + dir.getFileName()
                    : "frames " + expect + " to " + (n - 1) + " are missing in " + dir.getFileName());
            }
            expect++;
        }
        int[] size = null;
        for (Map.Entry<Integer, Path> e : files.entrySet()) {
            int[] s = Stills.size(e.getValue());
            if (size == null) size = s;
            if (s[0] != size[0] || s[1] != size[1]) throw new BadInput("frame " + e.getKey() + " is " + s[0] + " x " + s[1] + ", the first frame " + size[0] + " x " + size[1]);
        }
        if (size[0] < 16 || size[1] < 16) throw new BadInput("the frames are " + size[0] + " x " + size[1] + " pixels; 16 is the least");
        return new Plate(encoding, table, null, files, size[0], size[1], rate);
    }

    public int width() { return width; }

    public int height() { return height; }

    public Rate rate() { return rate; }

    public Encoding encoding() { return encoding; }

    public int first() { return movie != null ? 1 : files.firstKey(); }

    public int last() { return movie != null ? movie.frameCount : files.lastKey(); }

    public int count() { return last() - first() + 1; }

    /** What a movie's file says of itself; null for stills. */
    public MovieFacts facts() { return movie == null ? null : movie.facts; }

    /** "h264 movie", "png frames": for people. */
    public String kind() {
        if (movie != null) return movie.codec + " movie";
        String n = files.firstEntry().getValue().getFileName().toString();
        return n.substring(n.lastIndexOf('.') + 1).toLowerCase(java.util.Locale.ROOT) + " frames";
    }

    /** Frame by its own number, scene-linear. The image is shared: do not write into it. */
    public synchronized Image frame(int number) {
        Image im = cache.get(number);
        if (im != null) return im;
        inside(number);
        if (movie != null) {
            im = movie.read(number - 1, table == null ? encoding : Encoding.LINEAR);
        } else {
            im = Stills.read(files.get(number), table == null ? encoding : Encoding.LINEAR);
            if (im.width != width || im.height != height) {
                throw new BadInput("frame " + number + " is " + im.width + " x " + im.height + ", the first frame " + width + " x " + height);
            }
        }
        if (table != null) {
            table.apply(im);
            im = encoding.decode(im);
        }
        cache.put(number, im);
        return im;
    }

    /** A frame as it is looked at, 8-bit, in half size when {@code half}. Quick where the footage allows it; nothing is computed from it. */
    public BufferedImage preview(int number, boolean half) {
        if (half && movie != null && encoding.display && table == null) {
            synchronized (this) {
                inside(number);
                BufferedImage quick = movie.half(number - 1);
                if (quick != null) return quick;
            }
        }
        Image im = frame(number);
        return Stills.toBuffered(half ? im.half() : im, encoding.shown());
    }

    private void inside(int number) {
        if (number < first() || number > last()) throw new BadInput("the plate has frames " + first() + " to " + last() + ", not " + number);
        // A closed decoder must never be asked: its memory is gone.
        if (closed) throw new IllegalStateException("the plate is closed");
    }

    /**
     * Brightness codes of a frame, about 0 to 255, row by row: what a movie stores as luma, or the square root of luminance, in both
     * of which noise is about even. Costs no colour conversion. A new array each time.
     */
    public float[] grey(int number) {
        if (movie != null) {
            synchronized (this) {
                inside(number);
                float[] luma = movie.luma(number - 1);
                if (luma != null) return luma;
            }
        }
        float[] l = frame(number).luminance();
        for (int i = 0; i < l.length; i++) l[i] = 255 * (float) Math.sqrt(Math.max(l[i], 0));
        return l;
    }

    @Override
    public synchronized void close() {
        if (movie != null && !closed) movie.close();
        closed = true;
    }
}

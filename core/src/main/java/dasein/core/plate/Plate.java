package dasein.core.plate;

import dasein.core.BadInput;
import dasein.core.format.MovieFacts;
import dasein.core.format.MovieReader;
import dasein.core.format.Stills;
import dasein.core.image.Cube;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.image.Interlace;
import dasein.core.image.Widen;
import java.awt.image.BufferedImage;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * Footage of one take. A movie's frames are numbered from 1, a folder's by its file names. Frames are kept for a while,
 * so reading around the same place is quick. Safe for several threads.
 */
public final class Plate implements Span, AutoCloseable {
    private static final Pattern NUMBERED =
            Pattern.compile("(.*?)(\\d+)\\.(png|jpe?g|exr|tiff?|dpx)", Pattern.CASE_INSENSITIVE);
    private static final Pattern STILL = Pattern.compile(".*\\.(png|jpe?g|exr|tiff?|dpx)", Pattern.CASE_INSENSITIVE);

    private final Encoding encoding;
    /** Through which codes go before the encoding reads them; null for none. */
    private final Cube table;

    private final MovieReader movie;
    private final TreeMap<Integer, Path> files;
    private final int width;
    private final int height;
    private final Rate rate;
    private final Conform conform;
    /** Null for pixels that are square. */
    private final Widen widen;

    private final int first;
    /** Number of the stored frame for each frame: from 0 in a movie, by name in a folder. */
    private final int[] stored;

    /** Whether somebody, or the file, said how many frames a second there are. */
    private final boolean rateSaid;

    private boolean closed;

    private Plate(
            Encoding encoding,
            Cube table,
            MovieReader movie,
            TreeMap<Integer, Path> files,
            int storedWidth,
            int height,
            double aspect,
            Rate given,
            Conform conform) {
        Rate rate = given != null ? given : movie == null ? new Rate(24, 1) : new Rate(movie.rateNum, movie.rateDen);
        rateSaid = given != null || movie != null;
        this.encoding = encoding;
        this.table = table;
        this.movie = movie;
        this.files = files;
        this.width = Math.max(16, (int) Math.round(storedWidth * aspect));
        this.height = height;
        this.rate = rate;
        this.conform = conform;
        widen = width == storedWidth ? null : new Widen(storedWidth, width);
        first = movie != null ? 1 : files.firstKey();
        Set<Integer> left = Set.copyOf(conform.leftOut());
        if (movie != null) {
            stored = conform.frames(movie.frameCount, movie::seconds, movie.length(), rate, i -> left.contains(i + 1));
        } else {
            int[] names = files.keySet().stream().mapToInt(n -> n).toArray();
            int[] take = conform.frames(
                    names.length,
                    i -> (names[i] - first) / rate.perSecond(),
                    (names[names.length - 1] - first + 1) / rate.perSecond(),
                    rate,
                    i -> left.contains(names[i]));
            stored = IntStream.of(take).map(i -> names[i]).toArray();
        }
    }

    /**
     * Opens a movie file or a folder of numbered frames.
     *
     * @param encoding null for the usual one: Rec. 709 for movies, sRGB for stills
     * @param rate null for the file's own; a folder has none and is taken at 24/1
     */
    public static Plate open(Path path, Encoding encoding, Rate rate) {
        return open(path, encoding, rate, null);
    }

    public static Plate open(Path path, Encoding encoding, Rate rate, Cube table) {
        return open(path, encoding, rate, table, Conform.NONE);
    }

    /** @param table colours go through it first, and then are what {@code encoding} says; null for none */
    public static Plate open(Path path, Encoding encoding, Rate rate, Cube table, Conform conform) {
        if (Files.isDirectory(path))
            return folder(path, table, encoding == null ? Encoding.SRGB : encoding, rate, conform);
        if (!Files.isRegularFile(path)) throw new BadInput("there is no file or folder " + path);
        // A single picture is a plate of one frame, not a movie: with the colours of stills, and without a rate.
        if (STILL.matcher(path.getFileName().toString()).matches())
            return stills(
                    new TreeMap<>(Map.of(1, path)), table, encoding == null ? Encoding.SRGB : encoding, rate, conform);
        MovieReader m = new MovieReader(path);
        try {
            double aspect = conform.aspect() > 0 ? conform.aspect() : m.facts.aspect();
            return new Plate(
                    encoding == null ? Encoding.REC709 : encoding,
                    table,
                    m,
                    null,
                    m.width,
                    m.height,
                    aspect,
                    rate,
                    conform);
        } catch (BadInput e) {
            m.close();
            throw e;
        }
    }

    private static Plate folder(Path dir, Cube table, Encoding encoding, Rate rate, Conform conform) {
        TreeMap<Integer, Path> files = new TreeMap<>();
        String stem = null;
        try (Stream<Path> list = Files.list(dir)) {
            for (Path p : list.sorted().toList()) {
                Matcher m = NUMBERED.matcher(p.getFileName().toString());
                if (!m.matches() || p.getFileName().toString().startsWith(".")) continue;
                String s = m.group(1) + "." + m.group(3).toLowerCase(java.util.Locale.ROOT);
                if (stem != null && !stem.equals(s))
                    throw new BadInput("the folder " + dir.getFileName() + " holds more than one series of frames: "
                            + stem + " and " + s);
                stem = s;
                files.put(Integer.parseInt(m.group(2)), p);
            }
        } catch (IOException e) {
            throw new BadInput("the folder " + dir + " cannot be read", e);
        } catch (NumberFormatException e) {
            throw new BadInput("the folder " + dir.getFileName() + " has frame numbers that are too long");
        }
        if (files.isEmpty())
            throw new BadInput(
                    "the folder " + dir.getFileName() + " holds no numbered PNG, JPEG, TIFF, DPX or EXR frames");
        int expect = files.firstKey();
        for (int n : files.keySet()) {
            if (n != expect && conform.order() != Conform.Order.BY_TIME)
                throw new Gap((n - expect == 1
                                ? "frame " + expect + " is missing in "
                                : "frames " + expect + " to " + (n - 1) + " are missing in ")
                        + dir.getFileName() + "; taken by their times, the frame before stands in");
            expect = n + 1;
        }
        return stills(files, table, encoding, rate, conform);
    }

    private static Plate stills(
            TreeMap<Integer, Path> files, Cube table, Encoding encoding, Rate rate, Conform conform) {
        int[] size = null;
        for (Map.Entry<Integer, Path> e : files.entrySet()) {
            int[] s = Stills.size(e.getValue());
            if (size == null) size = s;
            if (s[0] != size[0] || s[1] != size[1])
                throw new BadInput("frame " + e.getKey() + " is " + s[0] + " x " + s[1] + ", the first frame " + size[0]
                        + " x " + size[1]);
        }
        if (size[0] < 16 || size[1] < 16)
            throw new BadInput("the frames are " + size[0] + " x " + size[1] + " pixels; 16 is the least");
        return new Plate(
                encoding,
                table,
                null,
                files,
                size[0],
                size[1],
                conform.aspect() > 0
                        ? conform.aspect()
                        : Stills.aspect(files.firstEntry().getValue()),
                rate,
                conform);
    }

    /** Numbered frames are missing. The frames can still be taken {@link Conform.Order#BY_TIME by their times}. */
    public static final class Gap extends BadInput {
        public Gap(String sentence) {
            super(sentence);
        }
    }

    public int width() {
        return width;
    }

    public int height() {
        return height;
    }

    public Rate rate() {
        return rate;
    }

    /** Whether the file or a person said how many frames a second there are; frames without either are taken at 24. */
    public boolean rateSaid() {
        return rateSaid;
    }

    public Encoding encoding() {
        return encoding;
    }

    @Override
    public int first() {
        return first;
    }

    @Override
    public int last() {
        return first + stored.length - 1;
    }

    @Override
    public int count() {
        return stored.length;
    }

    /** The number a frame has in the file: from 1 in a movie, by its name in a folder. */
    public int storedNumber(int frame) {
        return stored[frame - first] + (movie != null ? 1 : 0);
    }

    /** What a movie's file says of itself; null for stills. */
    public MovieFacts facts() {
        return movie == null ? null : movie.facts;
    }

    /** "h264 movie", "png frames": for people. */
    public String kind() {
        if (movie != null) return movie.codec + " movie";
        String n = files.firstEntry().getValue().getFileName().toString();
        return n.substring(n.lastIndexOf('.') + 1).toLowerCase(java.util.Locale.ROOT)
                + (files.size() == 1 ? " still" : " frames");
    }

    /** Frame by its own number, scene-linear. The image is shared: do not write into it. */
    public synchronized Image frame(int number) {
        Image im = FrameCache.ALL.get(this, number);
        if (im != null) return im;
        inside(number);
        int at = stored[number - first];
        im = movie != null
                ? movie.read(at, table == null ? encoding : Encoding.LINEAR)
                : Stills.read(files.get(at), table == null ? encoding : Encoding.LINEAR);
        if (table != null) {
            table.apply(im);
            im = encoding.decode(im);
        }
        if (conform.fields() != Conform.Fields.WHOLE)
            Interlace.keep(im.width, im.height, conform.fields() == Conform.Fields.UPPER, im.planes);
        if (widen != null) im = widen.apply(im);
        // A file may have been exchanged since its size was read.
        if (im.width != width || im.height != height)
            throw new BadInput("frame " + number + " is " + im.width + " x " + im.height + ", the first frame " + width
                    + " x " + height);
        FrameCache.ALL.put(this, number, im);
        return im;
    }

    /** Step of the quantiser that a frame was coded with, codes of 0 to 1; no number where its file does not tell. */
    public synchronized double quantiser(int number) {
        if (movie == null || number < first || number > last()) return Double.NaN;
        return movie.quantiser(stored[number - first]) / ((1 << movie.facts.bitDepth()) - 1);
    }

    /** Whether colours are stored at half the width or less: most movies are. */
    public boolean halfColour() {
        return movie != null && movie.facts.layout().matches(".*(420|422|411|410|nv12|p010).*");
    }

    /** How much of a movie's frame covers, 0 to 1, row by row; null when it has no alpha, or for stills. */
    public synchronized float[] alpha(int number) {
        inside(number);
        float[] a = movie == null ? null : movie.alpha(stored[number - first]);
        return a == null || widen == null ? a : widen.apply(a, height);
    }

    /**
     * A frame as it is looked at, 8-bit, in half size when {@code half}. Quick where the footage allows it; nothing is
     * computed from it.
     */
    public BufferedImage preview(int number, boolean half) {
        if (half
                && movie != null
                && encoding.display
                && table == null
                && widen == null
                && conform.fields() == Conform.Fields.WHOLE) {
            synchronized (this) {
                inside(number);
                BufferedImage quick = movie.half(stored[number - first]);
                if (quick != null) return quick;
            }
        }
        Image im = frame(number);
        return Stills.toBuffered(half ? im.half() : im, encoding.shown());
    }

    private void inside(int number) {
        if (number < first() || number > last())
            throw new BadInput("the plate has frames " + first() + " to " + last() + ", not " + number);
        // A closed decoder must never be asked: its memory is gone.
        if (closed) throw new IllegalStateException("the plate is closed");
    }

    /**
     * Brightness codes of a frame, about 0 to 255, row by row: what a movie stores as luma, or the square root of
     * luminance, in both of which noise is about even. Costs no colour conversion. A new array each time.
     */
    public float[] grey(int number) {
        if (movie != null) {
            synchronized (this) {
                inside(number);
                float[] luma = movie.luma(stored[number - first]);
                if (luma != null && conform.fields() != Conform.Fields.WHOLE)
                    Interlace.keep(movie.width, movie.height, conform.fields() == Conform.Fields.UPPER, luma);
                if (luma != null) return widen == null ? luma : widen.apply(luma, height);
            }
        }
        float[] l = frame(number).luminance();
        for (int i = 0; i < l.length; i++) l[i] = 255 * (float) Math.sqrt(Math.max(l[i], 0));
        return l;
    }

    /** The same for a weighted sum of red, green and blue. */
    public float[] grey(int number, double red, double green, double blue) {
        float[][] p = frame(number).planes;
        double sum = red + green + blue;
        float r = (float) (red / sum), g = (float) (green / sum), b = (float) (blue / sum);
        float[] out = new float[p[0].length];
        for (int i = 0; i < out.length; i++)
            out[i] = 255 * (float) Math.sqrt(Math.max(r * p[0][i] + g * p[1][i] + b * p[2][i], 0));
        return out;
    }

    @Override
    public synchronized void close() {
        if (movie != null && !closed) movie.close();
        closed = true;
        FrameCache.ALL.drop(this);
    }
}

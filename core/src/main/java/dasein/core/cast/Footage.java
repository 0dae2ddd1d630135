package dasein.core.cast;

import dasein.core.BadInput;
import dasein.core.format.Exr;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.model.Texture;
import dasein.core.plate.Plate;
import dasein.core.plate.PlateFacts;
import java.awt.image.BufferedImage;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * A movie, a PNG, JPEG, TIFF or EXR picture or a folder of them, for cards: frames as textures with what is not to be
 * seen taken out.
 */
public final class Footage implements AutoCloseable {
    private static final int KEPT = 6, SIDE = 2048;
    private static final String STILL = "(?i).+\\.(png|jpe?g|tiff?|exr)";

    /** Of a movie; null for pictures. */
    private final Path path;

    private final PlateFacts facts;
    /** Open while frames are being asked for; null while it rests. */
    private Plate movie;

    private final List<Path> files;
    private final double aspect;
    private final Map<String, Texture> lately = new LinkedHashMap<>(8, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Texture> e) {
            return size() > KEPT;
        }
    };

    private Footage(Path path, Plate movie, List<Path> files, double aspect) {
        this.path = path;
        this.movie = movie;
        facts = movie == null ? null : PlateFacts.of(movie);
        this.files = files;
        this.aspect = aspect;
    }

    /** Whether a file of that name is one picture. */
    public static boolean still(String name) {
        return name.matches(STILL);
    }

    public static Footage open(Path path) {
        if (Files.isRegularFile(path) && still(path.getFileName().toString())) {
            BufferedImage one = picture(path);
            return new Footage(null, null, List.of(path), (double) one.getWidth() / one.getHeight());
        }
        if (!Files.isDirectory(path)) {
            Plate p = Plate.open(path, null, null);
            return new Footage(path, p, List.of(), (double) p.width() / p.height());
        }
        try (var list = Files.list(path)) {
            List<Path> files = list.filter(f -> still(f.getFileName().toString())
                            && !f.getFileName().toString().startsWith("."))
                    .sorted()
                    .toList();
            if (files.isEmpty())
                throw new BadInput(path.getFileName() + " holds no frames a card can show: PNG, JPEG, TIFF or EXR");
            BufferedImage first = picture(files.get(0));
            return new Footage(null, null, files, (double) first.getWidth() / first.getHeight());
        } catch (IOException e) {
            throw new BadInput(path.getFileName() + " cannot be read", e);
        }
    }

    public int count() {
        return facts != null ? facts.count() : files.size();
    }

    /** Frames a second; 24 for frames, which do not say. */
    public double rate() {
        return facts != null ? facts.rate().perSecond() : 24;
    }

    public double aspect() {
        return aspect;
    }

    /** @param n from 0 */
    public Texture frame(int n, Card.Cut cut) {
        return frame(n, cut, Matte.NONE);
    }

    /** What a card of it shows, some seconds after the shot began. */
    public Texture shown(Card c, double seconds) {
        int n = c.frame(seconds, count(), rate());
        return c.added() ? frame(n, Card.Cut.NONE) : frame(n, c.cut(), c.matte());
    }

    /** The same, its edge mended. */
    public synchronized Texture frame(int n, Card.Cut cut, Matte matte) {
        return lately.computeIfAbsent(n + " " + cut + matte, k -> {
            BufferedImage b = facts != null ? picture(moving(facts.first() + n)) : picture(files.get(n));
            return Texture.of(matte.of(cut(b, cut)), true, true);
        });
    }

    private Image moving(int n) {
        if (movie == null) movie = Plate.open(path, null, null);
        Image im = movie.frame(n);
        float[] a = movie.alpha(n);
        return a == null
                ? im
                : new Image(im.width, im.height, new float[][] {im.planes[0], im.planes[1], im.planes[2], a});
    }

    private static BufferedImage picture(Path p) {
        return p.toString().toLowerCase(java.util.Locale.ROOT).endsWith(".exr")
                ? picture(Exr.readWithAlpha(p))
                : Stills.buffered(p);
    }

    private static BufferedImage picture(Image im) {
        double k = Math.min(1, (double) SIDE / Math.max(im.width, im.height));
        Image s = k < 1 ? im.resize((int) Math.round(k * im.width), (int) Math.round(k * im.height)) : im;
        BufferedImage b = new BufferedImage(s.width, s.height, BufferedImage.TYPE_INT_ARGB);
        for (int i = 0; i < s.width * s.height; i++) {
            int a = s.channels() > 3 ? code(s.planes[3][i]) : 255;
            b.setRGB(
                    i % s.width,
                    i / s.width,
                    a << 24 | srgb(s.planes[0][i]) << 16 | srgb(s.planes[1][i]) << 8 | srgb(s.planes[2][i]));
        }
        return b;
    }

    private static int code(double v) {
        return Math.max(0, Math.min(255, (int) Math.round(255 * v)));
    }

    private static int srgb(double linear) {
        return code(Encoding.SRGB.encode(Math.max(0, linear)));
    }

    /**
     * Colours are freed of what they were laid over, by the rule of laying over: c = a f + (1 - a) g with g black or
     * white.
     */
    static BufferedImage cut(BufferedImage from, Card.Cut cut) {
        if (cut == Card.Cut.NONE || cut == Card.Cut.ALPHA) return from;
        int w = from.getWidth(), h = from.getHeight();
        BufferedImage out = new BufferedImage(w, h, BufferedImage.TYPE_INT_ARGB);
        for (int y = 0; y < h; y++) {
            for (int x = 0; x < w; x++) {
                int v = from.getRGB(x, y);
                double[] c = {
                    Encoding.SRGB.decode((v >> 16 & 255) / 255.0),
                    Encoding.SRGB.decode((v >> 8 & 255) / 255.0),
                    Encoding.SRGB.decode((v & 255) / 255.0)
                };
                double
                        a =
                                cut == Card.Cut.PREMULTIPLIED
                                        ? (v >>> 24) / 255.0
                                        : cut == Card.Cut.BLACK
                                                ? Math.max(c[0], Math.max(c[1], c[2]))
                                                : 1 - Math.min(c[0], Math.min(c[1], c[2])),
                        behind = cut == Card.Cut.WHITE ? 1 : 0;
                int rgb = 0;
                for (int k = 0; k < 3; k++)
                    rgb = rgb << 8 | (a <= 0 ? 0 : srgb(Math.min(1, (c[k] - (1 - a) * behind) / a)));
                out.setRGB(x, y, code(a) << 24 | rgb);
            }
        }
        return out;
    }

    /** Lets go of the file and of the frames that are held. The next frame that is asked for opens it again. */
    @Override
    public synchronized void close() {
        if (movie != null) movie.close();
        movie = null;
        lately.clear();
    }
}

package dasein.core.output;

import dasein.core.BadInput;
import dasein.core.image.Image;
import java.util.Arrays;

/**
 * A finished frame in another shape or size.
 *
 * @param across, down where what is kept lies: 0 at the left or top, 1 at the right or bottom
 * @param width of what comes out, pixels; 0 for as many as there are
 */
public record Reframe(Shape shape, double across, double down, int width) {
    public static final Reframe NONE = new Reframe(Shape.WHOLE, 0.5, 0.5, 0);
    private static final int LEAST = 64, MOST = 8192;

    /** Width over height that are asked for where pictures are shown (common practice). */
    public enum Shape {
        WHOLE("whole", 0, 0),
        WIDE("16:9", 16, 9),
        SQUARE("1:1", 1, 1),
        PORTRAIT("4:5", 4, 5),
        TALL("9:16", 9, 16),
        SCOPE("2.39:1", 239, 100);

        public final String label;
        private final int wide, high;

        Shape(String label, int wide, int high) {
            this.label = label;
            this.wide = wide;
            this.high = high;
        }

        public static Shape of(String label) {
            return Arrays.stream(values())
                    .filter(s -> s.label.equals(label))
                    .findFirst()
                    .orElseThrow(() -> new BadInput("there is no shape " + label));
        }
    }

    public Reframe {
        if (!(across >= 0 && across <= 1 && down >= 0 && down <= 1))
            throw new BadInput("what is kept must lie within the picture");
        if (width != 0 && (width < LEAST || width > MOST))
            throw new BadInput("a width must lie between " + LEAST + " and " + MOST + " pixels");
    }

    public boolean none() {
        return shape == Shape.WHOLE && width == 0;
    }

    /** What is kept of a frame: its corner and size. */
    public int[] kept(int w, int h) {
        if (shape == Shape.WHOLE) return new int[] {0, 0, w, h};
        boolean wider = (long) w * shape.high > (long) h * shape.wide;
        int wide = wider ? (int) Math.round((double) h * shape.wide / shape.high) : w,
                high = wider ? h : (int) Math.round((double) w * shape.high / shape.wide);
        return new int[] {(int) Math.round(across * (w - wide)), (int) Math.round(down * (h - high)), wide, high};
    }

    /** Size of what comes out: sides are even, as movies want them, where they are set. */
    public int[] size(int w, int h) {
        int[] k = kept(w, h);
        if (none()) return new int[] {w, h};
        int wide = width == 0 ? k[2] : width, high = (int) Math.round((double) wide * k[3] / k[2]);
        return new int[] {wide + wide % 2, high + high % 2};
    }

    public Image of(Image im) {
        if (none()) return im;
        int[] k = kept(im.width, im.height), to = size(im.width, im.height);
        Image cut = im.part(k[0], k[1], k[2], k[3]);
        return cut.width == to[0] && cut.height == to[1] ? cut : cut.resize(to[0], to[1]);
    }
}

package dasein.core.comp.step;

import dasein.core.comp.Window;
import dasein.core.image.Cube;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;

/**
 * A frame in the making. All light is scene-linear and lies row by row, one array a channel.
 *
 * <p>The performer lies in a box of its own, premultiplied: there is nothing of it elsewhere.
 */
public final class Layers {
    /** Pixels that are looked at together, whether there is anything in them. */
    private static final int RUN = 64;

    /** At first the plate, at last the finished frame. */
    final Image frame;

    final Passes passes;
    /** Of the plate, in whose code values grain is laid. */
    final Encoding encoding;
    /** Pixels of this frame for one of the full-size plate. */
    final double scale;
    /** Of the grain: the frame number. */
    final int seed;

    /** The box: its corner in the frame, and its size; 0 wide where no performer shows. */
    final int x0, y0, width, height;
    /** What of the plate stands in front; null where nothing does. */
    final InFront.Held front;
    /** Of colours, that the grade ends with; or null. */
    final Cube table;
    /** What of the frame is worked on; the rest is left as it is. */
    private final Window window;
    /** The performer in its box: red, green, blue, alpha. */
    final float[][] cg = new float[4][];

    /**
     * @param margin how far beyond where it shows the performer may come to show; @param front what stands in front, or
     *     null; @param window what of the frame is worked on
     */
    public Layers(
            Image plate,
            Passes p,
            Encoding encoding,
            double scale,
            int seed,
            int margin,
            InFront.Held front,
            Cube table,
            Window window) {
        this.window = window;
        this.front = front;
        this.table = table;
        this.frame = (front == null ? plate : front.behind()).copy();
        this.passes = p;
        this.encoding = encoding;
        this.scale = scale;
        this.seed = seed;
        int w = p.width, h = p.height, left = w, top = h, right = 0, bottom = 0;
        int[] first = new int[h], end = new int[h];
        Image.rows(h, y -> {
            first[y] = w;
            for (int x = 0; x < w; x++) {
                if (x % RUN == 0 && !p.mayShow(y * w + x, y * w + Math.min(w, x + RUN))) {
                    x += RUN - 1;
                    continue;
                }
                if (!p.shows(y * w + x) || !window.holds(x, y)) continue;
                first[y] = Math.min(first[y], x);
                end[y] = x + 1;
            }
        });
        for (int y = 0; y < h; y++) {
            if (end[y] == 0) continue;
            left = Math.min(left, first[y]);
            right = Math.max(right, end[y]);
            top = Math.min(top, y);
            bottom = y + 1;
        }
        boolean none = right == 0;
        x0 = none ? 0 : Math.max(window.x(), left - margin);
        y0 = none ? 0 : Math.max(window.y(), top - margin);
        width = none ? 0 : Math.min(window.x() + window.width(), right + margin) - x0;
        height = none ? 0 : Math.min(window.y() + window.height(), bottom + margin) - y0;
        for (int c = 0; c < 4; c++) cg[c] = new float[width * height];
        Image.rows(height, y -> {
            for (int x = 0, i = (y + y0) * w + x0, o = y * width; x < width; x++, i++, o++) {
                if (!p.shows(i)) continue;
                for (int c = 0; c < 3; c++) cg[c][o] = p.beauty[c][i];
                cg[3][o] = p.alpha[i];
            }
        });
    }

    /** Of the same frame, with other performers in the same box. */
    private Layers(Layers of, Image frame, float[][] cg) {
        this.frame = frame;
        window = of.window;
        passes = of.passes;
        encoding = of.encoding;
        scale = of.scale;
        seed = of.seed;
        x0 = of.x0;
        y0 = of.y0;
        width = of.width;
        height = of.height;
        front = of.front;
        table = of.table;
        System.arraycopy(cg, 0, this.cg, 0, 4);
    }

    /** Takes a part of the performers out of it. @param part of each pixel of the frame */
    public Layers taken(float[] part) {
        float[][] mine = new float[4][width * height];
        int w = passes.width;
        Image.rows(height, y -> {
            for (int x = 0, i = (y + y0) * w + x0, o = y * width; x < width; x++, i++, o++)
                for (int c = 0; c < 4; c++) {
                    mine[c][o] = part[i] * cg[c][o];
                    cg[c][o] -= mine[c][o];
                }
        });
        return new Layers(this, frame, mine);
    }

    /** As they are now, whatever is done to these from here on. */
    public Layers copy() {
        float[][] performers = new float[4][];
        for (int c = 0; c < 4; c++) performers[c] = cg[c].clone();
        return new Layers(this, frame.copy(), performers);
    }

    /** Puts performers back that were taken out. */
    public void add(Layers other) {
        for (int c = 0; c < 4; c++) for (int o = 0; o < cg[c].length; o++) cg[c][o] += other.cg[c][o];
    }

    public Image frame() {
        return frame;
    }

    public Window window() {
        return window;
    }

    public int boxWidth() {
        return width;
    }

    public int boxHeight() {
        return height;
    }

    /** A row of the frame: what a step on the frame works on. */
    public Row row(int y) {
        return new Row(y);
    }

    /** Where something of the passes says nothing and no performer shows, the plate's own floats stay as they are. */
    public final class Row {
        final Layers of = Layers.this;
        final int y, first;
        /** Places of this row that the comp changes, by x; only the first {@link #count} of them. */
        final int[] changed;

        int count;

        private Row(int y) {
            this.y = y;
            this.first = y * passes.width;
            int w = passes.width;
            int[] at = new int[w];
            boolean beside = y < y0 || y >= y0 + height;
            int begin = window.x(), end = window.x() + window.width();
            for (int from = begin - begin % RUN; from < end; from += RUN) {
                int to = Math.min(w, from + RUN);
                boolean boxed = !beside && from < x0 + width && to > x0;
                if (!boxed && !passes.mayMatter(first + from, first + to)) continue;
                for (int x = from; x < to; x++)
                    if (boxed && shows(box(x)) || passes.matters(first + x)) at[count++] = x;
            }
            changed = at;
        }

        /** Light is never negative. */
        public void close() {
            for (float[] plane : frame.planes)
                for (int n = 0; n < count; n++) plane[first + changed[n]] = Math.max(plane[first + changed[n]], 0);
        }

        /** Where a place of this row lies in the performer's box; -1 outside. */
        int box(int x) {
            int bx = x - x0, by = y - y0;
            return bx < 0 || by < 0 || bx >= width || by >= height ? -1 : by * width + bx;
        }

        /** Whether any of the performer is there: softness carries its light beyond the pixels it was rendered in. */
        boolean shows(int o) {
            return o >= 0 && (cg[3][o] != 0 || cg[0][o] != 0 || cg[1][o] != 0 || cg[2][o] != 0);
        }
    }
}

package dasein.core.track;

import dasein.core.BadInput;
import dasein.core.image.Filters;
import java.awt.Color;
import java.awt.Graphics2D;
import java.awt.Rectangle;
import java.awt.RenderingHints;
import java.awt.geom.Path2D;
import java.awt.image.BufferedImage;
import java.awt.image.DataBufferByte;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * A drawn mask: a closed curve through points, smooth or (for surfaces) straight, keyed over time. Between keys its
 * points move evenly; before the first and after the last they stand still. Or it is drawn once and carried by the flat
 * surface under it, or by one or two marks.
 *
 * @param feather width over which the mask fades outward, pixels; tracking takes what is masked by more than half
 * @param feathers the same point by point, in the order of the points; empty where it is the same all around
 * @param carry what moves it
 * @param keys rising by frame, all with the same number of points (three or more)
 * @param use what it is for
 * @param corners which of its points are corners instead of round; a surface has nothing else
 * @param marks that carry it, one (shift) or two (shift, turn and size); or the one moving thing or performer
 */
public record DrawnMask(
        int id,
        String name,
        double feather,
        Carry carry,
        List<Key> keys,
        Use use,
        List<Integer> marks,
        List<Double> feathers,
        List<Integer> corners) {
    private static final int MOST_POINTS = 400, WIDEST = 500;

    public enum Carry {
        /** Its own keys. */
        KEYS,
        /** The flat surface under its first key, followed by {@link PlaneTracker}. */
        PLANE,
        /** Marks put by hand. */
        MARKS,
        /** The solved camera: it lies on the solved ground. Of these and all that follow only those for the comp. */
        GROUND,
        /** The solved camera: it stands upright on the ground, on its lowest point. */
        STANDING,
        /** A moving thing that was solved. */
        THING,
        /** A performer. */
        PERFORMER;

        /** Whether it is known only once the camera is solved. */
        public boolean bySolve() {
            return ordinal() >= GROUND.ordinal();
        }
    }

    public enum Use {
        /** No marks are looked for here. */
        AWAY,
        /** A surface, or a way, that others are to use: it keeps nothing away. */
        SURFACE,
        /** A part of the picture that the comp is to know: it keeps nothing away. */
        COMP
    }

    /** @param xy x, y of every point in continuous pixels, in order around the shape */
    public record Key(int frame, List<Double> xy) {}

    public DrawnMask(int id, String name, double feather, Carry carry, List<Key> keys) {
        this(id, name, feather, carry, keys, Use.AWAY, List.of());
    }

    public DrawnMask(int id, String name, double feather, Carry carry, List<Key> keys, Use use, List<Integer> marks) {
        this(id, name, feather, carry, keys, use, marks, List.of(), List.of());
    }

    public DrawnMask {
        if (use == null) use = Use.AWAY;
        if (marks == null) marks = List.of();
        if (carry == Carry.MARKS && (marks.isEmpty() || marks.size() > 2))
            throw new BadInput("a mask is carried by one mark or by two");
        if (carry == null) carry = Carry.KEYS;
        if ((carry == Carry.THING || carry == Carry.PERFORMER) && marks.size() != 1)
            throw new BadInput("say which thing or performer carries the mask");
        if (carry.bySolve() && use != Use.COMP)
            throw new BadInput("only a mask for the comp is carried by what the camera's solve knows");
        if (feathers == null) feathers = List.of();
        if (corners == null) corners = List.of();
        if (keys.isEmpty()) throw new BadInput("a mask needs a shape");
        int n = keys.get(0).xy().size();
        if (n < 6 || n % 2 != 0 || n > 2 * MOST_POINTS)
            throw new BadInput("a mask needs from 3 to " + MOST_POINTS + " points");
        if (!feathers.isEmpty() && feathers.size() != n / 2)
            throw new BadInput("a mask needs as many feathers as points, or none");
        for (int c : corners) if (c < 0 || c >= n / 2) throw new BadInput("a mask has no corner " + c);
        for (double v : feathers)
            if (!(v >= 0 && v <= WIDEST)) throw new BadInput("a feather must lie between 0 and " + WIDEST + " px");
        for (int i = 0; i < keys.size(); i++) {
            if (keys.get(i).xy().size() != n)
                throw new BadInput("every key of a mask must have the same number of points");
            for (double v : keys.get(i).xy())
                if (!(Math.abs(v) < 1e6)) throw new BadInput("a point of the mask lies nowhere");
            if (i > 0 && keys.get(i).frame() <= keys.get(i - 1).frame())
                throw new BadInput("the keys of a mask must rise");
        }
    }

    /** Points by the keys at a frame or between two, x and y in turn. */
    public double[] at(double frame) {
        int k = 0;
        while (k < keys.size() && keys.get(k).frame() <= frame) k++;
        Key a = keys.get(Math.max(0, k - 1)), b = keys.get(Math.min(k, keys.size() - 1));
        double t = a == b || frame <= a.frame() ? 0 : (frame - a.frame()) / (b.frame() - a.frame());
        double[] p = new double[a.xy().size()];
        for (int i = 0; i < p.length; i++) p[i] = a.xy().get(i) + t * (b.xy().get(i) - a.xy().get(i));
        return p;
    }

    /** With the shape of a frame set; a new key unless there is one. */
    public DrawnMask keyed(int frame, List<Double> xy) {
        List<Key> all = new ArrayList<>(keys);
        all.removeIf(k -> k.frame() == frame);
        all.add(new Key(frame, List.copyOf(xy)));
        all.sort(java.util.Comparator.comparingInt(Key::frame));
        return with(all);
    }

    private DrawnMask with(List<Key> all) {
        return new DrawnMask(id, name, feather, carry, List.copyOf(all), use, marks, feathers, corners);
    }

    /** Without the key of a frame. @throws BadInput where there is none, or no other */
    public DrawnMask unkeyed(int frame) {
        List<Key> all = new ArrayList<>(keys);
        if (!all.removeIf(k -> k.frame() == frame)) throw new BadInput(name + " has no key in frame " + frame);
        if (all.isEmpty()) throw new BadInput("this is the only shape of " + name + "; delete the mask instead");
        return with(all);
    }

    /** With a point made a corner, or round again. */
    public DrawnMask cornered(int point) {
        List<Integer> all = new ArrayList<>(corners);
        if (!all.remove((Integer) point)) all.add(point);
        all.sort(null);
        return new DrawnMask(id, name, feather, carry, keys, use, marks, feathers, List.copyOf(all));
    }

    /**
     * The closed curve through the points: straight for surfaces, else Catmull-Rom as Bezier pieces, which leave a
     * corner towards their other ends.
     */
    Path2D outline(double[] p) {
        int n = p.length / 2;
        Path2D path = new Path2D.Double();
        path.moveTo(p[0], p[1]);
        if (use == Use.SURFACE) {
            for (int i = 2; i < p.length; i += 2) path.lineTo(p[i], p[i + 1]);
            path.closePath();
            return path;
        }
        for (int i = 0; i < n; i++) {
            int a = 2 * ((i + n - 1) % n), b = 2 * i, c = 2 * ((i + 1) % n), d = 2 * ((i + 2) % n);
            double from = corners.contains(b / 2) ? 0 : 1.0 / 6, to = corners.contains(c / 2) ? 0 : 1.0 / 6;
            path.curveTo(
                    p[b] + from * (p[c] - p[a]),
                    p[b + 1] + from * (p[c + 1] - p[a + 1]),
                    p[c] - to * (p[d] - p[b]),
                    p[c + 1] - to * (p[d + 1] - p[b + 1]),
                    p[c],
                    p[c + 1]);
        }
        path.closePath();
        return path;
    }

    /**
     * Points at a frame when planes carry it, too; null where its plane was lost. {@code planes}: of
     * {@link PlaneTracker}.
     */
    public double[] at(int frame, Map<Integer, double[]> planes) {
        if (carry == Carry.KEYS) return at(frame);
        double[] h = planes == null ? null : planes.get(frame);
        return h == null ? null : PlaneTracker.mapped(h, at(keys.get(0).frame()));
    }

    /** The same between frames, where its points move evenly; null where it was lost in either. */
    public double[] at(double frame, Map<Integer, double[]> planes) {
        if (carry == Carry.KEYS) return at(frame);
        int before = (int) Math.floor(frame);
        double t = frame - before;
        double[] a = at(before, planes), b = t == 0 ? a : at(before + 1, planes);
        if (a == null || b == null) return null;
        double[] p = new double[a.length];
        for (int i = 0; i < p.length; i++) p[i] = a[i] + t * (b[i] - a[i]);
        return p;
    }

    /** How much each pixel is masked by a shape, [0, 1], row by row. */
    public float[] raster(double[] points, int width, int height) {
        return raster(points, width, height, 1);
    }

    /**
     * The same in a picture of another size.
     *
     * @param points in pixels of the plate; @param scale pixels of the picture for one of the plate
     */
    public float[] raster(double[] points, int width, int height, double scale) {
        if (scale != 1) {
            points = points.clone();
            for (int i = 0; i < points.length; i++) points[i] *= scale;
        }
        Path2D outline = outline(points);
        float[] m = new float[width * height];
        // Only where there is any of it.
        int margin = 2 + (int) Math.ceil(2 * scale * feather);
        Rectangle box = outline.getBounds();
        box.grow(margin, margin);
        box = box.intersection(new Rectangle(width, height));
        if (box.isEmpty()) return m;
        int w = box.width, h = box.height;
        BufferedImage bi = new BufferedImage(w, h, BufferedImage.TYPE_BYTE_GRAY);
        Graphics2D g = bi.createGraphics();
        g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
        g.setRenderingHint(RenderingHints.KEY_STROKE_CONTROL, RenderingHints.VALUE_STROKE_PURE);
        g.setColor(Color.WHITE);
        g.translate(-box.x, -box.y);
        g.fill(outline);
        g.dispose();
        byte[] b = ((DataBufferByte) bi.getRaster().getDataBuffer()).getData();
        float[] part = new float[w * h];
        for (int i = 0; i < part.length; i++) part[i] = (b[i] & 0xff) / 255f;
        if (feathers.isEmpty() && feather > 0) {
            float[] soft = Filters.gaussian(part, w, h, scale * feather / 2);
            for (int i = 0; i < part.length; i++) part[i] = Math.max(part[i], Math.min(1, 2 * soft[i]));
        }
        for (int y = 0; y < h; y++) System.arraycopy(part, y * w, m, (box.y + y) * width + box.x, w);
        if (!feathers.isEmpty()) new Feather(m, width, height).along(outline, points, feathers, scale);
        return m;
    }

    /**
     * Pixels that any of the shapes masks by more than half; null without shapes.
     *
     * @param planes by the number of the mask; may lack those that are keyed
     */
    public static boolean[] any(
            List<DrawnMask> shapes,
            Map<Integer, ? extends Map<Integer, double[]>> planes,
            int frame,
            int width,
            int height) {
        if (shapes.isEmpty()) return null;
        boolean[] all = new boolean[width * height];
        for (DrawnMask s : shapes) {
            double[] points = s.at(frame, planes.get(s.id()));
            if (points == null) continue;
            float[] m = s.raster(points, width, height);
            for (int i = 0; i < m.length; i++) all[i] |= m[i] > 0.5f;
        }
        return all;
    }
}

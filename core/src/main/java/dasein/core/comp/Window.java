package dasein.core.comp;

import dasein.core.image.Image;

/** The part of a frame that is asked for, pixels of the passes: its corner, and its size. */
public record Window(int x, int y, int width, int height) {
    /** @param left, top, right, bottom of the frame, 0 to 1; what is outside of it is left away, and a pixel stays */
    public static Window of(double left, double top, double right, double bottom, int width, int height) {
        int x = held(Math.floor(left * width), width - 1),
                y = held(Math.floor(top * height), height - 1),
                x1 = held(Math.ceil(right * width), width),
                y1 = held(Math.ceil(bottom * height), height);
        return new Window(x, y, Math.max(1, x1 - x), Math.max(1, y1 - y));
    }

    public static Window all(int width, int height) {
        return new Window(0, 0, width, height);
    }

    private static int held(double v, int most) {
        return (int) Math.max(0, Math.min(most, v));
    }

    /** With so many pixels more on every side, as far as the frame goes. */
    public Window grown(int by, int wide, int high) {
        int left = Math.max(0, x - by), top = Math.max(0, y - by);
        return new Window(
                left,
                top,
                (int) Math.min(wide, (long) x + width + by) - left,
                (int) Math.min(high, (long) y + height + by) - top);
    }

    public boolean holds(int px, int py) {
        return px >= x && py >= y && px < x + width && py < y + height;
    }

    /** This part of a frame, as a picture of its own. */
    public Image of(Image frame) {
        boolean all = x == 0 && y == 0 && width == frame.width && height == frame.height;
        return all ? frame : frame.part(x, y, width, height);
    }
}

package dasein.core.light.ball;

/** A circle in a picture, pixels; the top left corner of the picture is 0, 0. */
public record Circle(double x, double y, double r) {
    public boolean within(int width, int height) {
        return x - r >= -1 && y - r >= -1 && x + r <= width + 1 && y + r <= height + 1;
    }

    /** Of a row of pixels: the first within, and the one behind the last. */
    public int[] row(int at) {
        double d = r * r - (at + 0.5 - y) * (at + 0.5 - y);
        if (d <= 0) return new int[] {0, 0};
        return new int[] {(int) Math.floor(x - Math.sqrt(d)), (int) Math.ceil(x + Math.sqrt(d))};
    }
}

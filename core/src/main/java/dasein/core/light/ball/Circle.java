package dasein.core.light.ball;

/** A circle in a picture, pixels; the top left corner of the picture is 0, 0. */
public record Circle(double x, double y, double r) {
    public boolean within(int width, int height) {
        return x - r >= -1 && y - r >= -1 && x + r <= width + 1 && y + r <= height + 1;
    }
}

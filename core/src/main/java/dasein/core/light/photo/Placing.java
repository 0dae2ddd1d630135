package dasein.core.light.photo;

/**
 * How a hand-held photograph lies on another: what is at a pixel of that one is found in this one by a turn about the
 * picture's middle, then a shift.
 *
 * @param dx, dy pixels; @param turn radians
 */
public record Placing(double dx, double dy, double turn) {
    public static final Placing NONE = new Placing(0, 0, 0);

    public boolean none() {
        return dx == 0 && dy == 0 && turn == 0;
    }

    double x(double x, double y, int width, int height) {
        return width / 2.0 + Math.cos(turn) * (x - width / 2.0) - Math.sin(turn) * (y - height / 2.0) + dx;
    }

    double y(double x, double y, int width, int height) {
        return height / 2.0 + Math.sin(turn) * (x - width / 2.0) + Math.cos(turn) * (y - height / 2.0) + dy;
    }

    /** From where this leads on by another. */
    Placing then(Placing next) {
        double cos = Math.cos(next.turn), sin = Math.sin(next.turn);
        return new Placing(cos * dx - sin * dy + next.dx, sin * dx + cos * dy + next.dy, turn + next.turn);
    }

    /** The farthest that any pixel moves. */
    public double most(int width, int height) {
        return Math.hypot(dx, dy) + Math.abs(turn) * Math.hypot(width, height) / 2;
    }
}

package dasein.core.solve;

import dasein.core.BadInput;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;

/**
 * What a camera that stands still is matched by, beside lines along the set's axes.
 *
 * @param rectangle one of known proportions, or null
 * @param points of known places
 */
public record CameraMatch(Rectangle rectangle, List<Placed> points) {
    public static final CameraMatch NONE = new CameraMatch(null, List.of());
    private static final double EYE_HEIGHT = 1.6;

    /** A place in the set and its pixel. */
    public record Placed(double x, double y, Vec3 position) {}

    /**
     * @param corners x, y of near left, near right, far right, far left of one that lies on the ground; of one that
     *     stands: bottom left, bottom right, top right, top left
     * @param width from left to right; @param length from near to far, or its height
     * @param standing it stands upright; @param metres whether width and length are metres, else only proportions
     */
    public record Rectangle(List<Double> corners, double width, double length, boolean standing, boolean metres) {
        public Rectangle {
            if (corners.size() != 8 || corners.stream().anyMatch(v -> v == null || !(Math.abs(v) < 1e5)))
                throw new BadInput("a rectangle needs four corners");
            if (!(width > 0 && length > 0 && width < 1e5 && length < 1e5))
                throw new BadInput("the rectangle's width and length must be more than 0");
            double sign = 0;
            for (int i = 0; i < 4; i++) {
                int j = (i + 1) % 4, k = (i + 2) % 4;
                double turn = (corners.get(2 * j) - corners.get(2 * i))
                                * (corners.get(2 * k + 1) - corners.get(2 * j + 1))
                        - (corners.get(2 * j + 1) - corners.get(2 * i + 1)) * (corners.get(2 * k) - corners.get(2 * j));
                if (i > 0 && turn * sign <= 0)
                    throw new BadInput("the rectangle's corners must be set around it, one after the other");
                sign = turn;
            }
            if (sign > 0)
                throw new BadInput("the rectangle's corners go round the other way: begin at the near or bottom left, "
                        + "then right");
        }

        List<Placed> placed() {
            double[][] at = standing
                    ? new double[][] {{-0.5, 0, 0}, {0.5, 0, 0}, {0.5, 1, 0}, {-0.5, 1, 0}}
                    : new double[][] {{-0.5, 0, 0.5}, {0.5, 0, 0.5}, {0.5, 0, -0.5}, {-0.5, 0, -0.5}};
            List<Placed> out = new ArrayList<>();
            for (int i = 0; i < 4; i++)
                out.add(new Placed(
                        corners.get(2 * i),
                        corners.get(2 * i + 1),
                        new Vec3(at[i][0] * width, at[i][1] * length, at[i][2] * length)));
            return out;
        }
    }

    public CameraMatch with(Rectangle r) {
        return new CameraMatch(r, points);
    }

    public CameraMatch withPoints(List<Placed> p) {
        return new CameraMatch(rectangle, List.copyOf(p));
    }

    /**
     * Points by which it is matched; a rectangle's corners only where no points are placed, since both have their own
     * frame.
     */
    public List<Placed> placed() {
        return !points.isEmpty() ? points : rectangle == null ? List.of() : rectangle.placed();
    }

    /** Whether they give the true size. */
    boolean measured() {
        return !points.isEmpty() || rectangle != null && rectangle.metres;
    }

    /** Factor that brings the eye to a usual height where only proportions are known. */
    double scale(double eyeHeight) {
        return measured() || !(eyeHeight > 1e-9) ? 1 : EYE_HEIGHT / eyeHeight;
    }
}

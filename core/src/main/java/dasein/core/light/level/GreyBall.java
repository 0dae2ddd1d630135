package dasein.core.light.level;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.ball.Circle;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;

/** A dull ball of known reflectance in a picture, cut into swatches that look all ways. */
public final class GreyBall {
    private static final int CELLS = 15;
    /** The rim is blurred with what lies behind it. */
    private static final double USED = 0.93;
    /** Where the sun strikes at a slant its edge on the ball lies, softened. */
    private static final double EDGE = 0.06;

    private GreyBall() {}

    /** From the ball's own frame, whose -Z runs from the eye to its middle, to the set's. */
    public static Quat facing(SolvedCamera camera, int frame, Circle circle) {
        Vec3 ray = camera.view(frame, 0, 1).lens().ray(circle.x(), circle.y()).unit();
        return camera.frame(frame).pose().rotation().times(Quat.between(Vec3.Z.times(-1), ray));
    }

    /**
     * @param linear the picture, scene-linear; @param toWorld of the ball's frame ({@link #facing})
     * @param sun unit, towards it; null where no sun stands apart from the map
     */
    public static List<Swatch> swatches(Image linear, Circle circle, double albedo, Quat toWorld, Vec3 sun) {
        if (!circle.within(linear.width, linear.height))
            throw new BadInput("the ball is cut off by the picture's edge");
        if (circle.r() < 8)
            throw new BadInput("the ball is too small in the picture: its radius is under eight pixels");
        List<Swatch> out = new ArrayList<>();
        double cell = 2.0 / CELLS;
        for (int j = 0; j < CELLS; j++)
            for (int i = 0; i < CELLS; i++) {
                double x = (i + 0.5) * cell - 1, y = 1 - (j + 0.5) * cell;
                if (Math.hypot(x, y) > USED) continue;
                Vec3 n = toWorld.rotate(new Vec3(x, y, Math.sqrt(1 - x * x - y * y)));
                double facing = sun == null ? -1 : n.dot(sun);
                if (sun != null && Math.abs(facing) < EDGE) continue;
                double[] light = new double[3];
                int k = (int) Math.max(2, Math.min(12, cell * circle.r()));
                for (int s = 0; s < k * k; s++)
                    for (int c = 0; c < 3; c++)
                        light[c] += linear.sample(
                                        circle.x() + circle.r() * (x + cell * ((s % k + 0.5) / k - 0.5)),
                                        circle.y() - circle.r() * (y + cell * ((s / k + 0.5) / k - 0.5)),
                                        c)
                                / (k * k);
                for (int c = 0; c < 3; c++) light[c] = Math.max(light[c], 1e-6);
                out.add(new Swatch("the grey ball", light, n, new double[] {albedo, albedo, albedo}, facing > 0));
            }
        return out;
    }
}

package dasein.core.light.level;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.ball.BallProof;
import dasein.core.light.ball.Circle;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.Arrays;

/**
 * A grey ball of the plate photographed anew in the shot's light, beside the photograph.
 *
 * @param picture photograph, ball in this light, and their difference (grey is none, two stops to white or black)
 * @param medianStops by which this light is brighter than the photograph shows, over the ball
 */
public record GreyProof(Image picture, double medianStops) {
    private static final int SIDE = 120, LATTICE = 15;
    private static final double ROUND = 1.15, USED = 0.93;

    /**
     * @param linear the plate's frame; @param toWorld of the ball's own frame, as of {@link GreyBall#facing}
     * @param lit whether the suns reach it
     */
    public static GreyProof of(Image linear, Circle circle, double albedo, Quat toWorld, Lighting light, boolean lit) {
        Image out = new Image(3 * SIDE, SIDE, 3);
        double[][][] sky = sky(light.environment(), toWorld);
        double[] off = new double[SIDE * SIDE];
        int n = 0;
        float[] all = new float[SIDE * SIDE];
        for (int y = 0; y < SIDE; y++)
            for (int x = 0; x < SIDE; x++) {
                double u = ROUND * (2 * (x + 0.5) / SIDE - 1), v = -ROUND * (2 * (y + 0.5) / SIDE - 1);
                boolean on = Math.hypot(u, v) < 1;
                Vec3 normal = on ? toWorld.rotate(new Vec3(u, v, Math.sqrt(1 - u * u - v * v))) : null;
                double photo = 0, now = 0;
                for (int c = 0; c < 3; c++) {
                    double seen = linear.sample(circle.x() + circle.r() * u, circle.y() - circle.r() * v, c),
                            again = seen;
                    if (on) {
                        double e = at(sky, u, v, c);
                        if (lit)
                            for (Sun s : light.suns()) e += s.irradiance()[c] * Math.max(0, normal.dot(s.towards()));
                        again = albedo * e / Math.PI;
                    }
                    photo += seen;
                    now += again;
                    out.planes[c][y * 3 * SIDE + x] = (float) seen;
                    out.planes[c][y * 3 * SIDE + SIDE + x] = (float) again;
                }
                float grey = BallProof.shade(0);
                if (on && photo > 0 && now > 0) {
                    double stops = Math.log(now / photo) / Math.log(2);
                    grey = BallProof.shade(stops);
                    if (Math.hypot(u, v) < USED) off[n++] = stops;
                }
                for (int c = 0; c < 3; c++) out.planes[c][y * 3 * SIDE + 2 * SIDE + x] = grey;
                all[y * SIDE + x] = (float) (photo / 3);
            }
        Arrays.sort(all);
        // So that the ball shows whatever the plate's exposure was.
        float white = Math.max(1e-6f, 1.4f * all[(int) (0.95 * (all.length - 1))]);
        for (int c = 0; c < 3; c++)
            for (int y = 0; y < SIDE; y++) for (int x = 0; x < 2 * SIDE; x++) out.planes[c][y * 3 * SIDE + x] /= white;
        double[] sorted = Arrays.copyOf(off, n);
        Arrays.sort(sorted);
        return new GreyProof(out, n == 0 ? Double.NaN : sorted[n / 2]);
    }

    /** What the map gives the ball, at places of a lattice over it: it changes slowly. */
    private static double[][][] sky(Environment map, Quat toWorld) {
        double[][][] out = new double[LATTICE][LATTICE][3];
        if (map == null) return out;
        for (int j = 0; j < LATTICE; j++)
            for (int i = 0; i < LATTICE; i++) {
                double u = 2.0 * i / (LATTICE - 1) - 1, v = 2.0 * j / (LATTICE - 1) - 1, r = Math.hypot(u, v);
                // Beyond the rim as at the rim.
                if (r > 1) {
                    u /= r;
                    v /= r;
                }
                float[] e = map.irradiance(toWorld.rotate(new Vec3(u, v, Math.sqrt(Math.max(0, 1 - u * u - v * v)))));
                for (int c = 0; c < 3; c++) out[j][i][c] = e[c];
            }
        return out;
    }

    private static double at(double[][][] sky, double u, double v, int c) {
        double x = (u + 1) / 2 * (LATTICE - 1), y = (v + 1) / 2 * (LATTICE - 1);
        int i = (int) Math.max(0, Math.min(LATTICE - 2, x)), j = (int) Math.max(0, Math.min(LATTICE - 2, y));
        double a = x - i, b = y - j;
        return (1 - b) * ((1 - a) * sky[j][i][c] + a * sky[j][i + 1][c])
                + b * ((1 - a) * sky[j + 1][i][c] + a * sky[j + 1][i + 1][c]);
    }
}

package dasein.core.light.ball;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.math.Vec3;
import java.util.Arrays;

/**
 * The ball photographed anew under the map that was made of it, beside the photograph: what the map lost shows.
 *
 * @param picture photograph, ball under the map, and their difference (grey is none, two stops to white or black)
 * @param medianStops, worstStops difference over the ball, in the median and where 95 % are below
 */
public record BallProof(Image picture, double medianStops, double worstStops) {
    private static final int SIDE = 180;

    public static BallProof of(BallMap.Turned view, Image map, double[] tint) {
        BallPhotos p = view.photos();
        Environment e = new Environment(map, 0, 1);
        Image out = new Image(3 * SIDE, SIDE, 3);
        double[] off = new double[SIDE * SIDE];
        float[] in = new float[3];
        int n = 0;
        double white = white(p);
        for (int y = 0; y < SIDE; y++)
            for (int x = 0; x < SIDE; x++) {
                double px = p.circle().x() + p.circle().r() * 1.05 * (2 * (x + 0.5) / SIDE - 1),
                        py = p.circle().y() + p.circle().r() * 1.05 * (2 * (y + 0.5) / SIDE - 1);
                double u = px - p.left(), v = py - p.top();
                Vec3 d = p.view().direction(px, py);
                double photo = 0, now = 0;
                Vec3 m = d == null ? null : view.toView().conjugate().rotate(d);
                if (m != null) e.radiance((float) m.x(), (float) m.y(), (float) m.z(), in);
                for (int c = 0; c < 3; c++) {
                    float seen = p.light().sample(u, v, c);
                    double again = m == null ? 0 : in[c] * tint[c] / view.gain();
                    photo += seen;
                    now += again;
                    out.planes[c][y * 3 * SIDE + x] = (float) (seen / white);
                    out.planes[c][y * 3 * SIDE + SIDE + x] = (float) (again / white);
                }
                float grey = shade(0);
                if (m != null && photo > 0 && now > 0) {
                    double stops = Math.log(now / photo) / Math.log(2);
                    grey = shade(stops);
                    double[] at = new double[3];
                    boolean rim = !p.view().pixel(d, at) || at[2] < 1.5 * p.leastCos();
                    if (!rim && !p.clippedAt(new double[] {px, py})) off[n++] = Math.abs(stops);
                }
                for (int c = 0; c < 3; c++) out.planes[c][y * 3 * SIDE + 2 * SIDE + x] = grey;
            }
        double[] sorted = Arrays.copyOf(off, n);
        Arrays.sort(sorted);
        return new BallProof(
                out, n == 0 ? Double.NaN : sorted[n / 2], n == 0 ? Double.NaN : sorted[(int) (0.95 * (n - 1))]);
    }

    /** How a difference is shown: none as grey, two stops as white or black. */
    public static float shade(double stops) {
        return (float) Math.max(0, Math.min(1, 0.2 * Math.pow(2, 1.15 * stops)));
    }

    /** So that the brighter parts of the ball show, but for lamps and sun. */
    private static double white(BallPhotos p) {
        Image small = p.light();
        while (small.width > 400) small = small.half();
        float[] l = small.luminance();
        Arrays.sort(l);
        return Math.max(1e-6, 1.3 * l[(int) (0.9 * (l.length - 1))]);
    }
}

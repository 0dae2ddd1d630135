package dasein.core.light.pano;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.List;
import java.util.function.Function;

/** Lat-long maps laid anew, direction by direction. */
public final class Turned {
    private static final int SIDE = 2;

    private Turned() {}

    /** Where a direction is found: pixels of a picture, and how much that counts. */
    record Sample(Image of, double x, double y, double weight) {}

    /** Each texel the mean of four; where nothing is found it stays black. */
    static Image sampled(int width, Function<Vec3, Sample> find) {
        return blended(width, List.of(find));
    }

    /** The weighted mean of several sources. */
    static Image blended(int width, List<Function<Vec3, Sample>> sources) {
        int w = width, h = width / 2;
        Image out = new Image(w, h, 3);
        Image.rows(h, y -> {
            double[] sum = new double[3];
            for (int x = 0; x < w; x++) {
                double total = 0;
                sum[0] = sum[1] = sum[2] = 0;
                for (int k = 0; k < SIDE * SIDE; k++) {
                    Vec3 d = Environment.fromUv((x + (k % SIDE + 0.5) / SIDE) / w, (y + (k / SIDE + 0.5) / SIDE) / h);
                    for (Function<Vec3, Sample> f : sources) {
                        Sample s = f.apply(d);
                        if (s == null || !(s.weight > 0)) continue;
                        total += s.weight;
                        for (int c = 0; c < 3; c++) sum[c] += s.weight * s.of.sample(s.x, s.y, c);
                    }
                }
                if (total > 0) for (int c = 0; c < 3; c++) out.planes[c][y * w + x] = (float) (sum[c] / total);
            }
        });
        return out;
    }

    /** What lay at a direction lies at {@code turn} of it. */
    public static Image by(Image map, Quat turn) {
        Quat back = turn.conjugate();
        int w = map.width, h = map.height;
        // Columns wrap round: one more on either side.
        Image wide = new Image(w + 2, h, 3);
        for (int c = 0; c < 3; c++)
            for (int y = 0; y < h; y++) {
                System.arraycopy(map.planes[c], y * w, wide.planes[c], y * (w + 2) + 1, w);
                wide.planes[c][y * (w + 2)] = map.planes[c][y * w + w - 1];
                wide.planes[c][y * (w + 2) + w + 1] = map.planes[c][y * w];
            }
        return sampled(w, d -> {
            double[] uv = Environment.toUv(back.rotate(d));
            return new Sample(wide, uv[0] * w + 1, uv[1] * h, 1);
        });
    }
}

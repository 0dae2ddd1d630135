package dasein.core.light.sky;

import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.lens.View;
import dasein.core.light.Environment;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntFunction;

/**
 * The plate's frames joined into the part of the sphere they saw, as seen from where the performers stand: below the
 * horizon by the places on the ground, above it by direction. The exposure's drift is taken out.
 *
 * @param map lat-long in the set's frame, black where nothing was seen
 * @param weight how often each texel was seen
 * @param cut texels that the plate's white cuts off: they are at least so bright
 */
public record PlateSphere(Image map, float[] weight, boolean[] cut) {
    private static final int MOST_FRAMES = 24, ROUNDS = 3;
    private static final double FAR = 400;
    /** Of the plate's brightest code. */
    private static final double WHITE = 0.97;

    /**
     * @param frames of the plate, linear; @param white light of the plate's highest code
     * @param place from where the map is seen, metres; above the ground
     */
    public static PlateSphere of(
            IntFunction<Image> frames, double white, SolvedCamera camera, Vec3 place, int width, Progress progress) {
        int[] all = camera.frames().stream().mapToInt(SolvedCamera.Frame::frame).toArray();
        int n = Math.min(MOST_FRAMES, all.length), w = width, h = width / 2;
        List<Image> seen = new ArrayList<>();
        for (int k = 0; k < n; k++) {
            progress.at(0.8 * k / n, "laying the plate's frames onto the sphere");
            int f = all[n == 1 ? 0 : (int) Math.round((double) k * (all.length - 1) / (n - 1))];
            View v = camera.view(f, 0, 1);
            seen.add(laid(frames.apply(f), v, camera, place, w, h));
        }
        double[] gain = new double[n];
        Arrays.fill(gain, 1);
        Image mean = null;
        float[] weight = null;
        for (int round = 0; round < ROUNDS; round++) {
            mean = new Image(w, h, 3);
            weight = new float[w * h];
            for (int k = 0; k < n; k++)
                for (int i = 0; i < weight.length; i++) {
                    if (Float.isNaN(seen.get(k).planes[0][i])) continue;
                    weight[i]++;
                    for (int c = 0; c < 3; c++) mean.planes[c][i] += (float) (seen.get(k).planes[c][i] / gain[k]);
                }
            for (int i = 0; i < weight.length; i++)
                if (weight[i] > 0) for (int c = 0; c < 3; c++) mean.planes[c][i] /= weight[i];
            drift(seen, mean, weight, gain);
        }
        boolean[] cut = new boolean[w * h];
        for (int i = 0; i < cut.length; i++)
            for (int c = 0; c < 3; c++) cut[i] |= weight[i] > 0 && mean.planes[c][i] >= WHITE * white;
        return new PlateSphere(mean, weight, cut);
    }

    /** NaN where the frame does not see the texel. */
    private static Image laid(Image frame, View v, SolvedCamera camera, Vec3 place, int w, int h) {
        Image out = new Image(w, h, 3);
        Image.rows(h, y -> {
            for (int x = 0; x < w; x++) {
                Vec3 d = Environment.fromUv((x + 0.5) / w, (y + 0.5) / h);
                double t = d.y() < 0 ? Math.min(FAR, -place.y() / d.y()) : FAR;
                // What is far is seen by direction alone: then the camera may stand at the place.
                Vec3 p = t < FAR ? place.plus(d.times(t)) : v.at(0.5).position().plus(d.times(FAR));
                double[] q = v.project(p);
                boolean in = q != null && q[0] >= 1 && q[1] >= 1 && q[0] <= frame.width - 1 && q[1] <= frame.height - 1;
                for (int c = 0; c < 3; c++)
                    out.planes[c][y * w + x] = in ? mean(frame, q[0], q[1], c, camera, w) : Float.NaN;
            }
        });
        return out;
    }

    /** Over about what a texel covers. */
    private static float mean(Image frame, double x, double y, int c, SolvedCamera camera, int w) {
        double reach = camera.lens().focalPx() * 2 * Math.PI / w * frame.width / camera.width();
        int n = (int) Math.max(1, Math.min(6, reach / 1.5));
        float s = 0;
        for (int k = 0; k < n * n; k++)
            s += frame.sample(x + reach * ((k % n + 0.5) / n - 0.5), y + reach * ((k / n + 0.5) / n - 0.5), c);
        return s / (n * n);
    }

    /** Median ratio of each frame to what all show together; their geometric mean stays 1. */
    private static void drift(List<Image> seen, Image mean, float[] weight, double[] gain) {
        double log = 0;
        for (int k = 0; k < gain.length; k++) {
            double[] ratio = new double[weight.length];
            int n = 0;
            for (int i = 0; i < weight.length; i++) {
                float a = seen.get(k).planes[1][i], b = mean.planes[1][i];
                if (!Float.isNaN(a) && weight[i] > 1 && b > 1e-4) ratio[n++] = a / b;
            }
            if (n > 20) {
                Arrays.sort(ratio, 0, n);
                gain[k] = Math.max(0.05, Math.min(20, ratio[n / 2]));
            }
            log += Math.log(gain[k]) / gain.length;
        }
        for (int k = 0; k < gain.length; k++) gain[k] /= Math.exp(log);
    }
}

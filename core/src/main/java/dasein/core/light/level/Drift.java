package dasein.core.light.level;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.lens.View;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.math.Medians;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntFunction;

/**
 * How the plate's light changes over the shot: clouds that pass, an exposure that drifts. Places that stand still on
 * set are looked at in every frame that shows them; with a level for each place and a factor for each frame, both in
 * stops, what is seen is their sum, and the two are told apart by medians in turn (median polish: Tukey, Exploratory
 * Data Analysis, 1977), which somebody who walks across a place does not move.
 *
 * @param first frame of {@code stops}
 * @param stops by frame, over the first frame's; frames that show nothing are between their neighbours
 * @param spread of what single places say of a frame, over the root of their number: stops
 * @param places how many were of use
 */
public record Drift(int first, double[] stops, double spread, int places) {
    private static final int ROUNDS = 8, LEAST = 3;
    /** Half a side of what is looked at, pixels of a plate 1280 wide. */
    private static final double REACH = 3;

    /** Factor on the light of that frame against the reference frame's. */
    public double factor(int frame, int reference) {
        return Math.pow(2, at(frame) - at(reference));
    }

    private double at(int frame) {
        return stops[Math.max(0, Math.min(stops.length - 1, frame - first))];
    }

    /**
     * @param frames of the plate, linear; @param white light of its highest code: what is cut off tells nothing
     * @param places in the set, metres
     * @throws BadInput when too few of them are seen in more than one frame
     */
    public static Drift of(
            IntFunction<Image> frames, double white, SolvedCamera camera, List<Vec3> places, Progress progress) {
        int first = camera.first(), n = camera.last() - first + 1, m = places.size();
        double[][] seen = new double[n][m];
        for (int f = 0; f < n; f++) {
            Arrays.fill(seen[f], Double.NaN);
            if (!camera.has(first + f)) continue;
            progress.at((double) f / n, "reading the plate's light");
            Image im = frames.apply(first + f);
            View v = camera.view(first + f, 0, 1);
            int reach = (int) Math.max(1, Math.round(REACH * im.width / 1280));
            for (int k = 0; k < m; k++) {
                double[] q = v.project(places.get(k));
                if (q != null) seen[f][k] = light(im, q, reach, white);
            }
        }
        return polished(first, seen);
    }

    /** Stops of the mean about a place; no number when it is outside or cut off. */
    private static double light(Image im, double[] q, int reach, double white) {
        int x = (int) Math.round(q[0]), y = (int) Math.round(q[1]);
        if (x < reach || y < reach || x >= im.width - reach || y >= im.height - reach) return Double.NaN;
        double sum = 0;
        for (int j = y - reach; j <= y + reach; j++)
            for (int i = x - reach; i <= x + reach; i++)
                for (int c = 0; c < 3; c++) {
                    float l = im.get(i, j, c);
                    if (l > 0.97 * white) return Double.NaN;
                    sum += l;
                }
        sum /= 3.0 * (2 * reach + 1) * (2 * reach + 1);
        return sum > 1e-4 ? Math.log(sum) / Math.log(2) : Double.NaN;
    }

    /** @param seen stops by frame and place, no number where it was not seen */
    static Drift polished(int first, double[][] seen) {
        int n = seen.length, m = n == 0 ? 0 : seen[0].length;
        double[] frame = new double[n], place = new double[m];
        boolean[] told = new boolean[n];
        for (int round = 0; round < ROUNDS; round++) {
            for (int k = 0; k < m; k++) {
                double[] v = new double[n];
                int c = 0;
                for (int f = 0; f < n; f++) if (!Double.isNaN(seen[f][k])) v[c++] = seen[f][k] - frame[f];
                place[k] = c < 2 ? Double.NaN : Medians.sorting(v, c);
            }
            for (int f = 0; f < n; f++) {
                double[] v = new double[m];
                int c = 0;
                for (int k = 0; k < m; k++)
                    if (!Double.isNaN(seen[f][k]) && !Double.isNaN(place[k])) v[c++] = seen[f][k] - place[k];
                told[f] = c > 0;
                if (told[f]) frame[f] = Medians.sorting(v, c);
            }
        }
        int places = 0, frames = 0;
        for (double p : place) if (!Double.isNaN(p)) places++;
        for (boolean t : told) if (t) frames++;
        if (places < LEAST || frames < 2)
            throw new BadInput("too little of what was marked is seen in more than one frame");
        double spread = 0;
        for (int f = 0; f < n; f++) {
            double[] off = new double[m];
            int c = 0;
            for (int k = 0; k < m; k++)
                if (!Double.isNaN(seen[f][k]) && !Double.isNaN(place[k]))
                    off[c++] = Math.abs(seen[f][k] - place[k] - frame[f]);
            // 1.4826 medians of the distance make a standard deviation.
            if (c > 0) spread += 1.4826 * Medians.sorting(off, c) / Math.sqrt(c) / frames;
        }
        between(frame, told);
        double zero = frame[0];
        for (int f = 0; f < n; f++) frame[f] -= zero;
        return new Drift(first, frame, spread, places);
    }

    private static void between(double[] v, boolean[] told) {
        int last = -1;
        for (int i = 0; i < v.length; i++) {
            if (!told[i]) continue;
            for (int j = last + 1; j < i; j++)
                v[j] = last < 0 ? v[i] : v[last] + (v[i] - v[last]) * (j - last) / (i - last);
            last = i;
        }
        for (int j = last + 1; j < v.length; j++) v[j] = v[last];
    }

    /**
     * What sun and sky do when ground in the sun and ground in its shadow change by these factors: {@code lit = sky +
     * sun}, {@code shaded = sky}.
     *
     * @return factor of the sky, factor of the sun
     */
    public static double[] apart(Lighting at, double lit, double shaded) {
        double sky = mean(at.environment().irradiance(Vec3.Y)), sun = 0;
        for (Sun s : at.suns())
            sun += mean(s.irradiance()) * Math.max(0, s.towards().y());
        if (!(sun > 0)) return new double[] {shaded, shaded};
        return new double[] {shaded, Math.max(0, (lit * (sky + sun) - shaded * sky) / sun)};
    }

    private static double mean(float[] v) {
        return (v[0] + v[1] + v[2]) / 3.0;
    }
}

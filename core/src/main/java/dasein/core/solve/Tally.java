package dasein.core.solve;

import java.util.Arrays;

/**
 * What a solve leaves at the observations that count: of all, of each frame and of each track, root mean square in
 * pixels.
 */
final class Tally {
    /** Distance in pixels of observation i of track t from where the solve puts it. */
    interface Error {
        double of(int track, int i);
    }

    final int[] seen;
    /** NaN for a track of which nothing counts. */
    final double[] trackRms;

    private final double[] frameSum;
    private double sum;
    private long n;

    /** @param counts tracks that are looked at; @param used which of their observations count */
    Tally(Observations obs, boolean[] counts, boolean[][] used, Error error) {
        seen = new int[obs.frames];
        frameSum = new double[obs.frames];
        trackRms = new double[obs.tracks()];
        Arrays.fill(trackRms, Double.NaN);
        for (int t = 0; t < trackRms.length; t++) {
            if (!counts[t]) continue;
            double s = 0;
            int k = 0;
            for (int i = 0; i < obs.frame[t].length; i++) {
                if (!used[t][i]) continue;
                double e = error.of(t, i);
                s += e * e;
                k++;
                frameSum[obs.frame[t][i]] += e * e;
                seen[obs.frame[t][i]]++;
            }
            if (k == 0) continue;
            sum += s;
            n += k;
            trackRms[t] = Math.sqrt(s / k);
        }
    }

    boolean empty() {
        return n == 0;
    }

    double rms() {
        return Math.sqrt(sum / n);
    }

    /** 0 for a frame without marks. */
    double frameRms(int f) {
        return seen[f] == 0 ? 0 : Math.sqrt(frameSum[f] / seen[f]);
    }
}

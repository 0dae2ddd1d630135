package dasein.core.solve;

import dasein.core.track.Track;
import java.util.Arrays;
import java.util.List;

/** The tracks laid out for the solver: frames counted from 0, one row for each track. */
final class Observations {
    private static final int MOST_KEYFRAMES = 40;

    final int firstFrame;
    final int frames;
    final int[] id;
    final int[][] frame;
    final double[][] x;
    final double[][] y;
    /** Rows seen in each frame. */
    final int[][] seen;

    Observations(List<Track> tracks) {
        int lo = Integer.MAX_VALUE, hi = Integer.MIN_VALUE;
        for (Track t : tracks) {
            lo = Math.min(lo, t.frames()[0]);
            hi = Math.max(hi, t.frames()[t.length() - 1]);
        }
        firstFrame = lo;
        frames = hi - lo + 1;
        int n = tracks.size();
        id = new int[n];
        frame = new int[n][];
        x = new double[n][];
        y = new double[n][];
        int[] count = new int[frames];
        for (int t = 0; t < n; t++) {
            Track k = tracks.get(t);
            id[t] = k.id();
            frame[t] = new int[k.length()];
            for (int i = 0; i < k.length(); i++) count[frame[t][i] = k.frames()[i] - lo]++;
            x[t] = k.x();
            y[t] = k.y();
        }
        seen = new int[frames][];
        for (int f = 0; f < frames; f++) seen[f] = new int[count[f]];
        for (int t = 0; t < n; t++) for (int f : frame[t]) seen[f][--count[f]] = t;
        for (int[] s : seen) Arrays.sort(s);
    }

    int sightings() {
        return Arrays.stream(frame).mapToInt(f -> f.length).sum();
    }

    /** Frames from one keyframe to the next: few of them, but no further apart than a third of the median track. */
    int keyStep() {
        int[] lengths = Arrays.stream(frame).mapToInt(f -> f.length).sorted().toArray();
        return Math.max(1, Math.min((frames + MOST_KEYFRAMES - 1) / MOST_KEYFRAMES, lengths[lengths.length / 2] / 3));
    }

    int tracks() {
        return id.length;
    }

    /** Place of frame f in row t, or negative. */
    int at(int t, int f) {
        return Arrays.binarySearch(frame[t], f);
    }

    /** Whether the marks of every frame lie within half a percent of the picture's width of one line. */
    boolean onOneLine(int width) {
        for (int f = 0; f < frames; f++) {
            int[] tracks = seen[f];
            double mx = 0, my = 0, xx = 0, xy = 0, yy = 0, n = tracks.length;
            for (int t : tracks) {
                int i = at(t, f);
                mx += x[t][i] / n;
                my += y[t][i] / n;
            }
            if (n < 3) continue;
            for (int t : tracks) {
                int i = at(t, f);
                xx += (x[t][i] - mx) * (x[t][i] - mx) / n;
                xy += (x[t][i] - mx) * (y[t][i] - my) / n;
                yy += (y[t][i] - my) * (y[t][i] - my) / n;
            }
            double least = 0.5 * (xx + yy - Math.sqrt((xx - yy) * (xx - yy) + 4 * xy * xy));
            if (Math.sqrt(Math.max(0, least)) > 0.005 * width) return false;
        }
        return true;
    }

    int[] common(int f, int g) {
        return Arrays.stream(seen[f]).filter(t -> at(t, g) >= 0).toArray();
    }
}

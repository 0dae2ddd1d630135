package dasein.core.track;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** What is doubtful about tracks, before there is a solve: each with its reason in words, worst first. */
public final class TrackCheck {
    /** A mark matched worse than this is hardly the same. */
    private static final double POOR_MATCH = 0.85;
    /** A step is a jump when it is off its neighbours' by more than so many of their spreads, and pixels. */
    private static final double JUMP_SPREADS = 10, JUMP_PX = 1.5;

    private static final int NEAREST = 12;
    private static final int SHORT = 9;

    private TrackCheck() {}

    public enum Kind {
        /** It leaves what it was: cut there, its beginning is good. */
        JUMP,
        /** It does not look like its beginning any more. */
        UNLIKE,
        /** It was held briefly. */
        SHORT
    }

    /**
     * @param frame where to look; 0 for the whole track
     * @param badness what the list is sorted by: above 2 for a jump, above 1 for a poor match, and less the longer for
     *     one that was held briefly
     */
    public record Doubt(int track, int frame, Kind kind, double badness, String reason) {}

    public static List<Doubt> doubts(List<Track> tracks) {
        List<Doubt> out = new ArrayList<>();
        Map<Integer, Doubt> jumps = jumps(tracks);
        for (Track t : tracks) {
            Doubt j = jumps.get(t.id());
            if (j != null) {
                out.add(j);
                continue;
            }
            int worst = 0;
            double sum = 0;
            int n = 0;
            for (int i = 0; i < t.length(); i++) {
                if (Float.isNaN(t.match()[i])) continue;
                sum += t.match()[i];
                n++;
                if (!(t.match()[i] >= t.match()[worst])) worst = i;
            }
            if (n > 0 && sum / n < POOR_MATCH)
                out.add(new Doubt(
                        t.id(),
                        t.frames()[worst],
                        Kind.UNLIKE,
                        (1 - sum / n) / (1 - POOR_MATCH),
                        String.format(
                                Locale.ROOT,
                                "does not look like itself (match %.2f, worst at frame %d)",
                                sum / n,
                                t.frames()[worst])));
            else if (t.length() < SHORT)
                out.add(new Doubt(
                        t.id(),
                        0,
                        Kind.SHORT,
                        0.5 + 0.5 * SHORT / t.length() / 3,
                        "was held for only " + t.length() + " frames"));
        }
        out.sort(Comparator.comparingDouble(d -> -d.badness()));
        return out;
    }

    /**
     * The worst sudden change of motion of each track against those of its nearest neighbours in the same frame. The
     * change, not the motion: a mark at another depth moves otherwise than its neighbours all the time.
     */
    private static Map<Integer, Doubt> jumps(List<Track> tracks) {
        Map<Integer, List<double[]>> steps = new java.util.TreeMap<>();
        for (Track t : tracks) {
            for (int i = 2; i < t.length(); i++) {
                if (t.frames()[i] != t.frames()[i - 2] + 2) continue;
                steps.computeIfAbsent(t.frames()[i], k -> new ArrayList<>()).add(new double[] {
                    t.id(),
                    t.x()[i],
                    t.y()[i],
                    t.x()[i] - 2 * t.x()[i - 1] + t.x()[i - 2],
                    t.y()[i] - 2 * t.y()[i - 1] + t.y()[i - 2]
                });
            }
        }
        Map<Integer, Doubt> out = new HashMap<>();
        steps.forEach((frame, all) -> {
            if (all.size() < 2 * NEAREST) return;
            for (double[] s : all) {
                double[][] near = nearest(all, s);
                double mx = median(near, 3), my = median(near, 4);
                double[] off = new double[NEAREST];
                for (int k = 0; k < NEAREST; k++) off[k] = Math.hypot(near[k][3] - mx, near[k][4] - my);
                Arrays.sort(off);
                double mine = Math.hypot(s[3] - mx, s[4] - my), limit = JUMP_PX + JUMP_SPREADS * off[NEAREST / 2];
                if (mine <= limit) continue;
                int id = (int) s[0];
                Doubt known = out.get(id);
                if (known == null || known.badness() < 1 + mine / limit) {
                    out.put(
                            id,
                            new Doubt(
                                    id,
                                    frame,
                                    Kind.JUMP,
                                    1 + mine / limit,
                                    String.format(
                                            Locale.ROOT,
                                            "jumps by %.1f px against its neighbours at frame %d",
                                            mine,
                                            frame)));
                }
            }
        });
        return out;
    }

    private static double[][] nearest(List<double[]> all, double[] s) {
        double[][] near = new double[NEAREST][];
        double[] dist = new double[NEAREST];
        Arrays.fill(dist, Double.MAX_VALUE);
        for (double[] o : all) {
            double d = (o[1] - s[1]) * (o[1] - s[1]) + (o[2] - s[2]) * (o[2] - s[2]);
            if (o == s || d >= dist[NEAREST - 1]) continue;
            int k = NEAREST - 1;
            for (; k > 0 && dist[k - 1] > d; k--) {
                dist[k] = dist[k - 1];
                near[k] = near[k - 1];
            }
            dist[k] = d;
            near[k] = o;
        }
        return near;
    }

    private static double median(double[][] v, int k) {
        double[] s = new double[v.length];
        for (int i = 0; i < s.length; i++) s[i] = v[i][k];
        Arrays.sort(s);
        return s[s.length / 2];
    }
}

package dasein.core.solve;

import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;

/**
 * Things that move by themselves. Marks that stand still obey one epipolar geometry for each pair of frames; those that
 * break it again and again, lie together and move alike are one group.
 */
public final class Movers {
    private static final double TOLERANCE_PX = 1.2;
    private static final int PAIRS = 12;
    /** Parts across the picture. */
    private static final int CELLS = 10;

    private static final int FEWEST = 6;
    /** Part of its pairs in which a mark must break the geometry. */
    private static final double OFTEN = 0.5;
    /**
     * Motion that differs from what stands still around by this much in the mean is no tracking error, pixels a frame.
     */
    private static final double CLEARLY_PX = 1.5;

    private Movers() {}

    /** @param tracks their ids; @param breadth largest part of the picture's width or height it spans in one frame */
    public record Group(List<Integer> tracks, double breadth) {}

    public static List<Group> find(List<Track> tracks, int width, int height) {
        int first = tracks.stream().mapToInt(t -> t.frames()[0]).min().orElse(0),
                last =
                        tracks.stream()
                                .mapToInt(t -> t.frames()[t.length() - 1])
                                .max()
                                .orElse(0);
        Map<Integer, int[]> votes = new ConcurrentHashMap<>();
        int gap = Math.max(2, Math.min(10, (last - first) / 3));
        // Sums of whole numbers: the same in any order.
        IntStream.range(0, last - first >= gap ? PAIRS : 0).parallel().forEach(k -> {
            Random rnd = new Random(17 + k);
            int f = first + (last - first - gap) * k / Math.max(1, PAIRS - 1), g = f + gap;
            List<Track> both =
                    tracks.stream().filter(t -> t.at(f) >= 0 && t.at(g) >= 0).toList();
            if (both.size() < 20) return;
            double[][] a = new double[both.size()][], b = new double[both.size()][];
            for (int i = 0; i < a.length; i++) {
                Track t = both.get(i);
                a[i] = new double[] {(t.x()[t.at(f)] - 0.5 * width) / width, (t.y()[t.at(f)] - 0.5 * height) / width};
                b[i] = new double[] {(t.x()[t.at(g)] - 0.5 * width) / width, (t.y()[t.at(g)] - 0.5 * height) / width};
            }
            double[] e = Fundamental.ransac(a, b, spread(a), TOLERANCE_PX / width, rnd);
            if (e == null) return;
            for (int i = 0; i < a.length; i++) {
                // Twice the tolerance: a mark that is only poorly tracked is no mover.
                int odd = TwoView.sampson(e, a[i], b[i]) > Math.pow(2 * TOLERANCE_PX / width, 2) ? 1 : 0;
                votes.merge(both.get(i).id(), new int[] {1, odd}, (p, q) -> new int[] {p[0] + q[0], p[1] + q[1]});
            }
        });
        List<Track> odd = tracks.stream()
                .filter(t ->
                        votes.containsKey(t.id()) && votes.get(t.id())[1] >= Math.max(1, OFTEN * votes.get(t.id())[0]))
                .toList();
        List<List<Track>> found = groups(odd, width, height);
        Set<Integer> taken = new HashSet<>();
        for (List<Track> g : found) for (Track t : g) taken.add(t.id());
        List<Track> still = tracks.stream().filter(t -> !taken.contains(t.id())).toList();
        List<Group> out = new ArrayList<>();
        Map<Integer, List<Track>> standing = found.isEmpty() ? Map.of() : byFrame(still);
        for (List<Track> g : found) {
            List<Track> all = new ArrayList<>(g);
            Map<Integer, List<Track>> moving = byFrame(g);
            all.addAll(still.parallelStream()
                    .filter(t -> belongs(t, moving, standing, width, height))
                    .toList());
            out.add(new Group(all.stream().map(Track::id).sorted().distinct().toList(), breadth(all, width, height)));
        }
        return out;
    }

    /**
     * A part of the picture counts by the root of the marks it holds: what stands still is spread wide, a thing that
     * moves is in one place.
     */
    private static double[] spread(double[][] a) {
        Map<Integer, Integer> held = new HashMap<>();
        int[] cell = new int[a.length];
        for (int i = 0; i < a.length; i++) {
            cell[i] = (int) Math.floor((a[i][0] + 0.5) * CELLS) + 64 * (int) Math.floor((a[i][1] + 0.5) * CELLS);
            held.merge(cell[i], 1, Integer::sum);
        }
        double[] w = new double[a.length];
        for (int i = 0; i < w.length; i++) w[i] = 1 / Math.sqrt(held.get(cell[i]));
        return w;
    }

    /** The tracks that have a step from the frame before, by frame. */
    private static Map<Integer, List<Track>> byFrame(List<Track> tracks) {
        Map<Integer, List<Track>> by = new HashMap<>();
        for (Track t : tracks)
            for (int i = 1; i < t.length(); i++)
                if (t.frames()[i] == t.frames()[i - 1] + 1)
                    by.computeIfAbsent(t.frames()[i], k -> new ArrayList<>()).add(t);
        return by;
    }

    /**
     * A mark that was seen too shortly to break the geometry often, but moves with a group it lies in rather than with
     * what stands still around it.
     */
    private static boolean belongs(
            Track t, Map<Integer, List<Track>> group, Map<Integer, List<Track>> still, int width, int height) {
        double near = 0.1 * Math.hypot(width, height), mine = 0, others = 0;
        int n = 0;
        for (int i = 1; i < t.length(); i++) {
            if (t.frames()[i] != t.frames()[i - 1] + 1) continue;
            double[] g = motion(t, i, group.getOrDefault(t.frames()[i], List.of()), near);
            if (g == null) continue;
            double[] s = motion(t, i, still.getOrDefault(t.frames()[i], List.of()), near);
            if (s == null) continue;
            double vx = t.x()[i] - t.x()[i - 1], vy = t.y()[i] - t.y()[i - 1];
            mine += Math.hypot(vx - g[0], vy - g[1]);
            others += Math.hypot(vx - s[0], vy - s[1]);
            n++;
        }
        return n >= 3 && others > n * CLEARLY_PX && mine < 0.4 * others;
    }

    /**
     * Median step, from the frame before, of the tracks around a sighting that have one; null when fewer than two are
     * there.
     */
    private static double[] motion(Track t, int i, List<Track> of, double near) {
        int f = t.frames()[i];
        List<double[]> v = new ArrayList<>();
        for (Track o : of) {
            int j = o == t ? -1 : o.at(f);
            if (j < 1 || Math.abs(o.x()[j] - t.x()[i]) > near || Math.abs(o.y()[j] - t.y()[i]) > near) continue;
            v.add(new double[] {o.x()[j] - o.x()[j - 1], o.y()[j] - o.y()[j - 1]});
        }
        if (v.size() < 2) return null;
        return new double[] {
            Homography.median(v.stream().mapToDouble(q -> q[0]).toArray()),
            Homography.median(v.stream().mapToDouble(q -> q[1]).toArray())
        };
    }

    /** Odd marks that come near each other in some frame and keep their distance belong together. */
    private static List<List<Track>> groups(List<Track> odd, int width, int height) {
        int n = odd.size();
        int[] of = new int[n];
        for (int i = 0; i < n; i++) of[i] = i;
        double near = 0.12 * Math.hypot(width, height);
        for (int i = 0; i < n; i++)
            for (int j = 0; j < i; j++)
                if (root(of, i) != root(of, j) && together(odd.get(i), odd.get(j), near)) of[root(of, i)] = root(of, j);
        Map<Integer, List<Track>> by = new HashMap<>();
        for (int i = 0; i < n; i++)
            by.computeIfAbsent(root(of, i), k -> new ArrayList<>()).add(odd.get(i));
        return by.values().stream()
                .filter(g -> g.size() >= FEWEST)
                .sorted(Comparator.comparingInt(g -> -g.size()))
                .toList();
    }

    private static int root(int[] of, int i) {
        while (of[i] != i) i = of[i];
        return i;
    }

    private static boolean together(Track a, Track b, double near) {
        double least = Double.MAX_VALUE, most = 0;
        int n = 0;
        for (int i = 0; i < a.length(); i++) {
            int j = b.at(a.frames()[i]);
            if (j < 0) continue;
            double dx = a.x()[i] - b.x()[j], dy = a.y()[i] - b.y()[j], d = Math.hypot(dx, dy);
            least = Math.min(least, d);
            most = Math.max(most, d);
            n++;
        }
        return n >= 3 && least < near && most < least + 0.5 * near;
    }

    private static double breadth(List<Track> g, int width, int height) {
        Map<Integer, double[]> box = new HashMap<>();
        for (Track t : g) {
            for (int i = 0; i < t.length(); i++) {
                double[] b = box.computeIfAbsent(t.frames()[i], k -> new double[] {1e9, 1e9, -1e9, -1e9});
                b[0] = Math.min(b[0], t.x()[i]);
                b[1] = Math.min(b[1], t.y()[i]);
                b[2] = Math.max(b[2], t.x()[i]);
                b[3] = Math.max(b[3], t.y()[i]);
            }
        }
        return box.values().stream()
                .mapToDouble(b -> Math.max((b[2] - b[0]) / width, (b[3] - b[1]) / height))
                .max()
                .orElse(0);
    }
}

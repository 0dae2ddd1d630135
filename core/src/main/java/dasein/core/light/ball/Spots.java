package dasein.core.light.ball;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.math.Vec3;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/** Connected spots of a lat-long map, the largest first; specks are left out. */
public final class Spots {
    private static final int MOST = 8;
    private static final double LEAST = Math.toRadians(0.2);

    private Spots() {}

    /** @param towards its middle; @param across as a disc of the same solid angle, radians; @param texels by number */
    public record Spot(Vec3 towards, double across, int[] texels) {}

    public static List<Spot> of(boolean[] marked, Image map) {
        int w = map.width, h = map.height;
        boolean[] done = new boolean[marked.length];
        List<Spot> out = new ArrayList<>();
        for (int start = 0; start < marked.length; start++) {
            if (!marked[start] || done[start]) continue;
            ArrayDeque<Integer> open = new ArrayDeque<>();
            List<Integer> all = new ArrayList<>();
            Vec3 sum = Vec3.ZERO;
            double solid = 0;
            open.add(start);
            done[start] = true;
            while (!open.isEmpty()) {
                int i = open.poll(), x = i % w, y = i / w;
                double s = Environment.solid(y, w, h);
                sum = sum.plus(Environment.fromUv((x + 0.5) / w, (y + 0.5) / h).times(s));
                solid += s;
                all.add(i);
                for (int dy = -1; dy <= 1; dy++)
                    for (int dx = -1; dx <= 1; dx++) {
                        int ny = y + dy, k = ny * w + Math.floorMod(x + dx, w);
                        if (ny < 0 || ny >= h || !marked[k] || done[k]) continue;
                        done[k] = true;
                        open.add(k);
                    }
            }
            double across = 2 * Math.acos(Math.max(-1, 1 - solid / (2 * Math.PI)));
            if (across >= LEAST)
                out.add(new Spot(
                        sum.unit(),
                        across,
                        all.stream().mapToInt(Integer::intValue).toArray()));
        }
        out.sort(Comparator.comparingDouble(s -> -s.across));
        return List.copyOf(out.subList(0, Math.min(MOST, out.size())));
    }
}

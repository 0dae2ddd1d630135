package dasein.core.comp.front;

import dasein.core.math.Medians;
import java.util.ArrayList;
import java.util.List;

/** Frames in which what stands in front is suddenly larger or smaller than in both its neighbours. */
public final class Pops {
    /** Of its own size, and of how much it wavers anyhow. */
    private static final double SIZE = 0.06, WAVER = 6;

    private Pops() {}

    /** @param area by frame, from {@code first} on. @return numbers of frames */
    public static List<Integer> of(double[] area, int first) {
        List<Integer> out = new ArrayList<>();
        if (area.length < 3) return out;
        double[] off = new double[area.length];
        for (int i = 1; i < area.length - 1; i++) {
            double before = area[i] - area[i - 1], after = area[i] - area[i + 1];
            // What grows or shrinks on its way is no pop: it stands out to one side against both.
            off[i] = before * after > 0 ? Math.copySign(Math.min(Math.abs(before), Math.abs(after)), before) : 0;
        }
        double waver = Medians.spread(off), size = Medians.of(area);
        for (int i = 1; i < area.length - 1; i++)
            if (Math.abs(off[i]) > Math.max(SIZE * size, WAVER * waver)) out.add(first + i);
        return out;
    }
}

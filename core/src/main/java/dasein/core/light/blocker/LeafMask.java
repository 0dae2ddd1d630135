package dasein.core.light.blocker;

import dasein.core.model.Texture;
import java.util.SplittableRandom;

/** Leaves as a picture that can be laid edge to edge: opaque where one is, in clumps as on twigs. */
final class LeafMask {
    static final int SIZE = 512;
    /** Leaves' lengths in a side of the picture. */
    static final int LEAVES = 10;

    private static final int ON_A_TWIG = 7, MOST_TWIGS = 4000;

    private LeafMask() {}

    /** @param cover part of it that is opaque */
    static Texture of(double cover, int seed) {
        boolean[] on = new boolean[SIZE * SIZE];
        SplittableRandom r = new SplittableRandom(seed);
        double length = (double) SIZE / LEAVES, wanted = cover * on.length;
        int covered = 0;
        for (int twig = 0; twig < MOST_TWIGS && covered < wanted; twig++) {
            double x = r.nextDouble() * SIZE, y = r.nextDouble() * SIZE, way = r.nextDouble() * 2 * Math.PI;
            for (int k = 0; k < ON_A_TWIG && covered < wanted; k++) {
                double along = 0.45 * length * k, side = way + (k % 2 == 0 ? 0.8 : -0.8) + 0.6 * (r.nextDouble() - 0.5);
                double size = length * (0.7 + 0.5 * r.nextDouble());
                covered += leaf(
                        on,
                        x + along * Math.cos(way) + 0.5 * size * Math.cos(side),
                        y + along * Math.sin(way) + 0.5 * size * Math.sin(side),
                        side,
                        size);
            }
        }
        int[] argb = new int[on.length];
        for (int i = 0; i < argb.length; i++) argb[i] = on[i] ? 0xff303828 : 0x00303828;
        return new Texture(SIZE, SIZE, argb, true, false);
    }

    /** Two arcs that meet in points, half as wide as long. @return how many texels are newly covered */
    private static int leaf(boolean[] on, double cx, double cy, double turn, double length) {
        int reach = (int) Math.ceil(length / 2), covered = 0;
        double cos = Math.cos(turn), sin = Math.sin(turn);
        for (int y = (int) cy - reach; y <= (int) cy + reach; y++)
            for (int x = (int) cx - reach; x <= (int) cx + reach; x++) {
                double u = ((x - cx) * cos + (y - cy) * sin) / (length / 2),
                        v = (-(x - cx) * sin + (y - cy) * cos) / (length / 4);
                if (Math.abs(u) > 1 || Math.abs(v) > 1 - u * u) continue;
                int i = Math.floorMod(y, SIZE) * SIZE + Math.floorMod(x, SIZE);
                if (!on[i]) covered++;
                on[i] = true;
            }
        return covered;
    }
}

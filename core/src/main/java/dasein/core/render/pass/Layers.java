package dasein.core.render.pass;

import dasein.core.format.DeepExr;
import dasein.core.image.Image;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * Performers by depth: of each pixel up to {@link #COUNT} layers, the nearest first, premultiplied and side by side:
 * colours add up to the beauty, coverage to alpha. From Z to ZBack, metres along the view axis; both 0 where a layer
 * holds nothing.
 */
public final class Layers {
    public static final int COUNT = 4;
    /** Where each stands among a layer's channels. */
    public static final int A = 3, Z = 4, BACK = 5;

    private Layers() {}

    static Pass pass(int number) {
        String name = "layer" + number;
        List<String> channels = new ArrayList<>();
        for (String c : List.of("R", "G", "B", "A", "Z", "ZBack")) channels.add(name + "." + c);
        return new Pass(name, channels, true, 0, false, null, p -> {
            float[][] of = p.of(name);
            return new Image(p.width, p.height, new float[][] {of[0], of[1], of[2]});
        });
    }

    /** Planes of all layers; null where they were not kept. */
    public static float[][][] of(Passes p) {
        float[][][] all = new float[COUNT][][];
        for (int k = 0; k < COUNT; k++) {
            all[k] = p.of(PassSet.LAYERS.passes().get(k));
            if (all[k] == null) return null;
        }
        return all;
    }

    /** Scales the colours of layers so that they add up to the beauty, whose noise was filtered. */
    public static void fit(Passes p) {
        float[][][] all = of(p);
        if (all == null) return;
        Image.rows(p.height, y -> {
            for (int i = y * p.width, end = i + p.width; i < end; i++)
                for (int c = 0; c < 3; c++) {
                    float sum = 0, covered = 0;
                    for (float[][] l : all) {
                        sum += l[c][i];
                        covered += l[A][i];
                    }
                    // Where no sample found light, the filter may: each layer has of it what it covers.
                    for (float[][] l : all)
                        l[c][i] = sum > 0
                                ? l[c][i] * p.beauty[c][i] / sum
                                : covered > 0 ? p.beauty[c][i] * l[A][i] / covered : 0;
                }
        });
    }

    /**
     * As deep pixels, which are laid over each other: what is left open by those before it is what a layer covers a
     * part of.
     *
     * @param p with layers
     */
    public static void writeDeep(Passes p, Path path) {
        float[][][] all = of(p);
        int n = p.width * p.height, total = 0;
        int[] counts = new int[n];
        for (int i = 0; i < n; i++) {
            for (float[][] l : all) if (there(l, i)) counts[i]++;
            total += counts[i];
        }
        float[][] s = new float[6][total];
        for (int i = 0, at = 0; i < n; i++) {
            float open = 1;
            for (float[][] l : all) {
                if (!there(l, i)) continue;
                // What is covered wholly is left open no more: rounding must not make much of next to nothing.
                float k = 1 / Math.max(open, 1e-3f);
                s[0][at] = Math.min(1, k * l[A][i]);
                for (int c = 0; c < 3; c++) s[3 - c][at] = k * l[c][i];
                s[4][at] = l[Z][i];
                s[5][at] = l[BACK][i];
                at++;
                open -= l[A][i];
            }
        }
        DeepExr.write(
                path,
                new int[] {-p.overscanX, -p.overscanY, p.width, p.height},
                new int[] {0, 0, p.pictureWidth, p.pictureHeight},
                new DeepExr.Samples(counts, s[0], s[1], s[2], s[3], s[4], s[5]),
                p.attributes,
                p.view == null ? java.util.Map.of() : Passes.matrices(p.view));
    }

    private static boolean there(float[][] layer, int i) {
        return layer[BACK][i] > 0;
    }
}

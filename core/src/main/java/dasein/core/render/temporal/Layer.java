package dasein.core.render.temporal;

import dasein.core.image.Cubic;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.render.pass.Pass;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.PassSet;
import dasein.core.render.pass.Passes;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** Passes whose noise is judged together and that get the same weights, so that parts still add up to their whole. */
final class Layer {
    /** Of the patches that are compared, pixels. */
    private static final double PATCH = 2;
    /** How quickly a neighbour is forgotten whose patch differs more than its noise explains. */
    private static final float STRICT = 2;
    /** What counts for less than this is left out. */
    private static final float LEAST = 0.02f;
    /** What two pictures of the same may differ by, relative to their level, for being laid over one another. */
    private static final float LAID = 0.004f, DARK = 0.02f;
    /** Difference of coverage above which an edge lies elsewhere. */
    private static final float COVER = 0.1f;

    private static final float TINT_FLOOR = 0.02f;

    enum Of {
        /** Of performers: compared as far as they are covered, with the tint of their surfaces divided out. */
        BEAUTY,
        SHADOW,
        GIVEN
    }

    final Of of;
    private final Passes now;
    private final int w, h;
    private final List<Pass> passes = new ArrayList<>();
    /** Lights whose shadow is kept apart. That is a ratio: what is taken, and what there is, stand in its place. */
    private final List<String> taken = new ArrayList<>();

    private final float[][] sums;
    private final float[] weights, variances, level, noise;
    /** Where there may be anything. */
    private final boolean[] any;

    Layer(Of of, Passes now) {
        this.of = of;
        this.now = now;
        w = now.width;
        h = now.height;
        for (Pass p : now.list()) {
            String kind =
                    p.name().contains(".") ? p.name().substring(0, p.name().indexOf('.')) : p.name();
            boolean mine =
                    switch (of) {
                        case BEAUTY ->
                            kind.equals("beauty") || PassSet.MATERIAL.passes().contains(p);
                        case SHADOW -> kind.equals("shadow");
                        case GIVEN -> kind.equals("bounce") || kind.equals("reflection");
                    };
            if (!mine) continue;
            if (of == Of.SHADOW && p != PassList.SHADOW) taken.add(p.name().substring(kind.length() + 1));
            else passes.add(p);
        }
        float[][] planes = planes(now);
        sums = new float[planes.length][];
        for (int k = 0; k < planes.length; k++) sums[k] = planes[k].clone();
        weights = new float[w * h];
        Arrays.fill(weights, 1);
        variances = squared(now);
        noise = Filters.gaussian(variances, w, h, PATCH);
        level = level(now);
        any = new boolean[w * h];
        for (int i = 0; i < any.length; i++) any[i] = noise[i] > 0;
    }

    private float[][] planes(Passes p) {
        List<float[]> all = new ArrayList<>();
        for (Pass k : passes) all.addAll(List.of(p.of(k)));
        for (String l : taken) {
            float[][] there = p.of("light." + l), left = p.of("shadow." + l);
            for (int c = 0; c < 3; c++) {
                float[] t = new float[w * h];
                for (int i = 0; i < t.length; i++) t[i] = there[c][i] * (1 - left[c][i]);
                all.add(t);
                all.add(there[c]);
            }
        }
        return all.toArray(float[][]::new);
    }

    /** Luminance, by which patches are compared. */
    private float[] level(Passes p) {
        float[] y = luminance(of == Of.BEAUTY ? p.beauty : of == Of.SHADOW ? p.shadow : p.bounce);
        if (of == Of.GIVEN) {
            float[] mirrored = luminance(p.reflection);
            for (int i = 0; i < y.length; i++) y[i] += mirrored[i];
        }
        return y;
    }

    private static float[] luminance(float[][] c) {
        float[] y = new float[c[0].length];
        for (int i = 0; i < y.length; i++) y[i] = 0.2126f * c[0][i] + 0.7152f * c[1][i] + 0.0722f * c[2][i];
        return y;
    }

    private float[] squared(Passes p) {
        float[] s = p.of(PassList.SPREAD)[of.ordinal()], out = new float[s.length];
        for (int i = 0; i < s.length; i++) out[i] = s[i] * s[i];
        return out;
    }

    /** Adds another frame, where it shows the same. */
    void add(Passes other, Warp warp) {
        float[] there = level(other), theirs = squared(other), smooth = Filters.gaussian(theirs, w, h, PATCH);
        float[] off = new float[w * h], may = new float[w * h], share = new float[w * h];
        float[][] from = planes(other), tint = now.of(PassList.TINT), tintThere = other.of(PassList.TINT);
        boolean covers = of == Of.BEAUTY;
        Image.bands(h, (y0, y1) -> {
            Cubic c = new Cubic(w, h);
            float[] same = new float[3];
            for (int p = y0 * w; p < y1 * w; p++) {
                if (!any[p] || Float.isNaN(warp.x[p])) continue;
                c.at(warp.x[p], warp.y[p]);
                float k = 1, v = c.of(there);
                if (covers) {
                    float d = (c.within(other.alpha) - now.alpha[p]) / COVER;
                    k = 1 - d * d;
                    if (!(k > 0) || !asHere(c, p, other, tint, tintThere, same)) continue;
                    v *= same[1];
                }
                float laid = LAID * (Math.abs(level[p]) + DARK), d = v - level[p];
                off[p] = d * d;
                may[p] = noise[p] + smooth[warp.pixel(warp.x[p], warp.y[p])] + laid * laid;
                share[p] = k;
            }
        });
        float[] o = Filters.gaussian(off, w, h, PATCH), m = Filters.gaussian(may, w, h, PATCH);
        Image.bands(h, (y0, y1) -> {
            Cubic c = new Cubic(w, h);
            float[] same = {1, 1, 1};
            for (int p = y0 * w; p < y1 * w; p++) {
                if (!(share[p] > 0)) continue;
                float more = STRICT * Math.max(0, o[p] / m[p] - 1), k = share[p] / (1 + more * more);
                if (k < LEAST) continue;
                c.at(warp.x[p], warp.y[p]);
                if (covers) asHere(c, p, other, tint, tintThere, same);
                for (int i = 0; i < sums.length; i++) sums[i][p] += k * same[i % 3] * c.of(from[i]);
                weights[p] += k;
                variances[p] += k * k * same[1] * same[1] * theirs[warp.pixel(warp.x[p], warp.y[p])];
            }
        });
    }

    /** By what a colour there is to be multiplied to be one of here: covered as far, and of the same tint. */
    private boolean asHere(Cubic c, int p, Passes other, float[][] tint, float[][] tintThere, float[] out) {
        float a = c.within(other.alpha);
        if (!(a > 0)) return false;
        float k = now.alpha[p] / a;
        for (int i = 0; i < 3; i++) out[i] = k * (tint[i][p] + TINT_FLOOR) / (c.within(tintThere[i]) + TINT_FLOOR);
        return true;
    }

    /** Writes what came out, and the spread that is left, into a copy of the frame's passes. */
    void into(Passes out) {
        int at = 0;
        for (Pass k : passes)
            for (float[] to : out.of(k)) {
                float[] sum = sums[at++];
                for (int i = 0; i < to.length; i++) to[i] = sum[i] / weights[i];
            }
        for (String l : taken)
            for (int c = 0; c < 3; c++) {
                float[] t = sums[at++],
                        there = sums[at++],
                        ratio = out.of("shadow." + l)[c],
                        part = out.of("light." + l)[c];
                for (int i = 0; i < t.length; i++) {
                    part[i] = there[i] / weights[i];
                    ratio[i] = there[i] > 0 ? 1 - t[i] / there[i] : 1;
                }
            }
        float[] spread = out.of(PassList.SPREAD)[of.ordinal()];
        for (int i = 0; i < spread.length; i++) spread[i] = (float) Math.sqrt(variances[i]) / weights[i];
    }
}

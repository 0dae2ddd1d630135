package dasein.core.render;

import dasein.core.image.Image;
import dasein.core.render.pass.Layers;
import dasein.core.render.pass.Pass;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.PassSet;
import dasein.core.render.pass.Passes;
import java.util.Arrays;

/** Makes passes as they were sampled ready for the comp: filters their noise, and fades out what is next to nothing. */
public final class Finish {
    /**
     * Shadow or added light below the first figure is dropped, above the second kept, between faded: less than half an
     * 8-bit step.
     */
    private static final float DROP = 0.0006f, KEEP = 0.0018f;

    private Finish() {}

    /**
     * The same without what only filters need. The planes are the raw ones', which are lost.
     *
     * @param raw with {@link PassSet#FILTERS}; @param filter false leaves the noise in; @param keep what is asked for
     */
    public static Passes of(Passes raw, boolean filter, Keep keep) {
        ByLight lights = new ByLight(raw);
        if (filter) smooth(raw, lights);
        Layers.fit(raw);
        int w = raw.width;
        Image.rows(raw.height, y -> {
            for (int p = y * w, end = p + w; p < end; p++) {
                for (int c = 0; c < 3; c++) {
                    float s1 = settled(1 - raw.shadow[c][p]),
                            s2 = settled(raw.bounce[c][p]),
                            s3 = settled(raw.reflection[c][p]);
                    // Not before the filter: the mean of what was cut off would be another.
                    raw.shadow[c][p] = Math.max(0, 1 - s1 * (1 - raw.shadow[c][p]));
                    raw.bounce[c][p] *= s2;
                    raw.reflection[c][p] *= s3;
                    lights.settle(p, c, s1, s2, s3);
                }
            }
        });
        return raw.only(keep.asked(raw.list()));
    }

    private static void smooth(Passes raw, ByLight lights) {
        Denoise filter = new Denoise(raw.width, raw.height);
        float[][] shown = ByLight.together(raw.beauty, lights.of("beauty")), spread = raw.of(PassList.SPREAD);
        for (Pass p : PassSet.MATERIAL.passes()) if (raw.of(p) != null) shown = ByLight.together(shown, raw.of(p));
        filter.colour(shown, raw.alpha, raw.of(PassList.TINT), raw.normal, raw.depth, squared(spread[0]));
        float[] seen = raw.of(PassList.CATCHER)[0], blocked = squared(spread[1]), given = squared(spread[2]);
        for (Pass p : raw.list()) {
            Pass.Smoothing k = p.smoothing();
            if (k == null || p == PassList.REFLECTION && !any(raw.reflection)) continue;
            float[] noise =
                    switch (k.noise()) {
                        case SHADOW -> blocked;
                        case ADDED -> given;
                        case NEIGHBOURS -> null;
                    };
            float sigmas =
                    switch (k.noise()) {
                        case SHADOW -> Denoise.SHADOW;
                        case ADDED -> Denoise.GIVEN;
                        case NEIGHBOURS -> Denoise.COLOUR;
                    };
            boolean shadow = p == PassList.SHADOW;
            if (shadow) {
                inverse(raw.shadow);
                lights.taken();
            }
            filter.flat(
                    ByLight.together(raw.of(p), lights.of(p.name())),
                    k.over() == Pass.Over.CATCHERS ? seen : everywhere(seen.length),
                    noise,
                    sigmas,
                    k.levels());
            if (shadow) {
                inverse(raw.shadow);
                lights.left();
            }
        }
    }

    /** What is taken is 0 where nothing is, and so it is what can be filtered; what is left is its inverse. */
    private static void inverse(float[][] planes) {
        for (float[] p : planes) for (int i = 0; i < p.length; i++) p[i] = 1 - p[i];
    }

    private static boolean any(float[][] planes) {
        for (float[] p : planes) for (float v : p) if (v != 0) return true;
        return false;
    }

    private static float[] squared(float[] v) {
        float[] out = new float[v.length];
        for (int i = 0; i < v.length; i++) out[i] = v[i] * v[i];
        return out;
    }

    private static float[] everywhere(int n) {
        float[] w = new float[n];
        Arrays.fill(w, 1);
        return w;
    }

    /** How much of a value is kept. */
    private static float settled(float v) {
        float a = Math.abs(v);
        if (a >= KEEP) return 1;
        if (a <= DROP) return 0;
        float t = (a - DROP) / (KEEP - DROP);
        return t * t * (3 - 2 * t);
    }
}

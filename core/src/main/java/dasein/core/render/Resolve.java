package dasein.core.render;

import dasein.core.image.Image;
import dasein.core.render.pass.Mattes;
import dasein.core.render.pass.Pass;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.PassSet;
import dasein.core.render.pass.Passes;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;

/** Turns the film's sums into passes, filtering noise if asked. */
final class Resolve {
    /**
     * Shadow or added light below the first figure is dropped, above the second kept, between faded: less than half an
     * 8-bit step.
     */
    private static final float DROP = 0.0006f;

    private static final float KEEP = 0.0018f;

    private Resolve() {}

    /** @param last nobody needs the film any more: its planes of single lights become the passes' */
    static Passes passes(
            Film film, FrameRenderer.Job job, LightGroups groups, MatteIds mattes, float[] irradiance, boolean last) {
        int w = film.width, h = film.height, n = w * h;
        List<Pass> list = new ArrayList<>(PassList.ALL_PASSES);
        for (PassSet set : PassSet.values()) if (job.asked().keep().sets().contains(set)) list.addAll(set.passes());
        for (String light : groups.names()) list.addAll(PassList.ofLight(light));
        Passes out = new Passes(w, h, list, last ? ByLight.planes(film, groups) : Map.of());
        out.view = job.view();
        if (mattes != null) out.attributes.putAll(Mattes.attributes(mattes.names));
        float[][] s = film.sum;
        // Of shadow, until the end, what is blocked.
        float[][] albedo = new float[3][n], blocked = out.shadow;
        float[] beautyVar = new float[n], blockedVar = new float[n], extraVar = new float[n], seen = new float[n];
        float motionScale = (float) (1 / Math.max(job.shutterFraction(), 1e-3));
        float e0 = Film.luminance(irradiance[0], irradiance[1], irradiance[2]);
        boolean sampled = !Catchers.among(job.meshes()).flat() || job.lighting().uneven(),
                mirrors =
                        job.look().strength() > 0
                                || job.meshes().stream()
                                        .anyMatch(m -> m.catches() != null
                                                && m.catches().strength() > 0);
        Further further = new Further(film, out);
        double[] rows = new double[3 * h];
        Image.rows(h, y -> {
            for (int p = y * w, end = p + w; p < end; p++) {
                float k = film.count[p] == 0 ? 0 : 1f / film.count[p],
                        a = s[Film.ALPHA][p],
                        catcher = s[Film.CATCHER][p];
                out.alpha[p] = a * k;
                seen[p] = catcher * k;
                for (int c = 0; c < 3; c++) {
                    out.beauty[c][p] = s[Film.BEAUTY + c][p] * k;
                    out.normal[c][p] = s[Film.NORMAL + c][p] * k;
                    albedo[c][p] = a > 0 ? s[Film.ALBEDO + c][p] / a : 0;
                    // The flat ground alone gets what the whole sky gives it; among pieces the same samples tell what
                    // arrives.
                    float light = sampled ? s[Film.LIGHT + c][p] : catcher * irradiance[c];
                    blocked[c][p] = light > 0 ? Math.min(1, s[Film.BLOCKED + c][p] / light) : 0;
                    out.bounce[c][p] = catcher > 0 ? s[Film.BOUNCE + c][p] / catcher : 0;
                    out.reflection[c][p] = catcher > 0 ? s[Film.REFLECTION + c][p] / catcher : 0;
                }
                out.ao[p] = s[Film.OPEN_COUNT][p] > 0 ? s[Film.OPEN][p] / s[Film.OPEN_COUNT][p] : 1;
                float near = a - (job.background() && s[Film.DEPTH][p] == 0 ? a : 0);
                out.depth[p] = near > 0
                        ? s[Film.DEPTH][p] / near
                        : catcher > 0 ? s[Film.CATCHER_DEPTH][p] / catcher : Float.POSITIVE_INFINITY;
                float moves = s[Film.MOTION_COUNT][p];
                if (moves > 0)
                    for (int c = 0; c < 2; c++) out.motion[c][p] = s[Film.MOTION + c][p] / moves * motionScale;
                out.id[p] = a > 0 ? film.id[p] : 0;
                float lum = film.luminance(Film.BEAUTY, p) * k,
                        d = film.error(film.luminance(Film.BEAUTY, p), Film.EARLIER_BEAUTY, p);
                beautyVar[p] = d * d;
                float all = film.luminance(Film.BLOCKED, p),
                        b = e0 > 0 ? film.error(all, Film.EARLIER_BLOCKED, p) / e0 : 0;
                blockedVar[p] = b * b;
                float x = film.error(
                        film.luminance(Film.BOUNCE, p) + film.luminance(Film.REFLECTION, p), Film.EARLIER_ADDED, p);
                extraVar[p] = x * x;
                further.at(p, (float) Math.sqrt(d * d / ((lum + 0.05) * (lum + 0.05)) + b * b));
                if (a > 0 || all > 0) {
                    rows[3 * y] += d * d / ((lum + 0.05) * (lum + 0.05)) + b * b;
                    rows[3 * y + 1]++;
                }
                rows[3 * y + 2] += film.count[p];
            }
        });
        ByLight lights = new ByLight(film, out, groups, job, sampled);
        tell(out, rows);
        if (job.quality().denoise()) smooth(out, lights, albedo, seen, mirrors, beautyVar, blockedVar, extraVar);
        Image.rows(h, y -> {
            for (int p = y * w, end = p + w; p < end; p++) {
                for (int c = 0; c < 3; c++) {
                    float s1 = settled(blocked[c][p]),
                            s2 = settled(out.bounce[c][p]),
                            s3 = settled(out.reflection[c][p]);
                    out.shadow[c][p] = 1 - s1 * blocked[c][p];
                    out.bounce[c][p] *= s2;
                    out.reflection[c][p] *= s3;
                    lights.settle(p, c, s1, s2, s3);
                }
            }
        });
        return out;
    }

    /**
     * @param seen how much of a pixel is catcher; the variances are those of beauty, of what is blocked, of what is
     *     added
     */
    private static void smooth(
            Passes out,
            ByLight lights,
            float[][] albedo,
            float[] seen,
            boolean mirrors,
            float[] beautyVar,
            float[] blockedVar,
            float[] extraVar) {
        Denoise filter = new Denoise(out.width, out.height);
        float[][] shown = ByLight.together(out.beauty, lights.of("beauty"));
        for (Pass p : PassSet.MATERIAL.passes()) if (out.of(p) != null) shown = ByLight.together(shown, out.of(p));
        filter.colour(shown, out.alpha, albedo, out.normal, out.depth, beautyVar);
        for (Pass p : out.list()) {
            Pass.Smoothing k = p.smoothing();
            if (k == null || p == PassList.REFLECTION && !mirrors) continue;
            float[] noise =
                    switch (k.noise()) {
                        case SHADOW -> blockedVar;
                        case ADDED -> extraVar;
                        case NEIGHBOURS -> null;
                    };
            float sigmas =
                    switch (k.noise()) {
                        case SHADOW -> Denoise.SHADOW;
                        case ADDED -> Denoise.GIVEN;
                        case NEIGHBOURS -> Denoise.COLOUR;
                    };
            filter.flat(
                    ByLight.together(out.of(p), lights.of(p.name())),
                    k.over() == Pass.Over.CATCHERS ? seen : everywhere(seen.length),
                    noise,
                    sigmas,
                    k.levels());
        }
    }

    /** @param rows of each row its squared errors, the pixels they are of, and its samples */
    private static void tell(Passes out, double[] rows) {
        double err = 0, shown = 0, samples = 0;
        for (int y = 0; y < out.height; y++) {
            err += rows[3 * y];
            shown += rows[3 * y + 1];
            samples += rows[3 * y + 2];
        }
        out.noise = shown == 0 ? 0 : (float) Math.sqrt(err / shown);
        out.samples = (float) (samples / (out.width * out.height));
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

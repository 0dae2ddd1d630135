package dasein.core.render;

import dasein.core.image.Image;
import dasein.core.render.pass.Mattes;
import dasein.core.render.pass.Pass;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.PassSet;
import dasein.core.render.pass.Passes;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** Turns the film's sums into passes, with all the noise that is in them. */
final class Resolve {
    private Resolve() {}

    /**
     * The passes as they were sampled, with what {@link Finish} needs to know.
     *
     * @param last nobody needs the film any more: its planes of single lights become the passes'
     */
    static Passes passes(
            Film film, FrameRenderer.Job job, LightGroups groups, MatteIds mattes, float[] irradiance, boolean last) {
        int w = film.width, h = film.height;
        List<Pass> list = new ArrayList<>(PassList.ALL_PASSES);
        for (PassSet set : PassSet.values())
            if (set.offered() && job.asked().keep().sets().contains(set)) list.addAll(set.passes());
        for (String light : groups.names()) list.addAll(PassList.ofLight(light));
        for (Pass p : PassSet.FILTERS.passes())
            if (!list.contains(p)
                    && (film.ways != null || !PassSet.MOTION.passes().contains(p))) list.add(p);
        Passes out = new Passes(w, h, list, last ? ByLight.planes(film, groups) : Map.of());
        out.view = job.view();
        if (mattes != null) out.attributes.putAll(Mattes.attributes(mattes.names));
        float[][] s = film.sum, tint = out.of(PassList.TINT), spread = out.of(PassList.SPREAD);
        float[] seen = out.of(PassList.CATCHER)[0], ground = out.of(PassList.GROUND)[0];
        float motionScale = (float) (1 / Math.max(job.shutterFraction(), 1e-3));
        float e0 = Film.luminance(irradiance[0], irradiance[1], irradiance[2]);
        boolean sampled = !Catchers.among(job.meshes()).flat() || job.lighting().uneven();
        Further further = new Further(film, out);
        double[] rows = new double[3 * h];
        Image.rows(h, y -> {
            for (int p = y * w, end = p + w; p < end; p++) {
                float k = film.count[p] == 0 ? 0 : 1f / film.count[p],
                        a = s[Film.SHADED][p],
                        part = film.part(p),
                        catcher = s[Film.CATCHER][p];
                out.alpha[p] = film.alpha(p);
                seen[p] = catcher * k;
                for (int c = 0; c < 3; c++) {
                    out.beauty[c][p] = s[Film.BEAUTY + c][p] * part;
                    out.normal[c][p] = s[Film.NORMAL + c][p] * part;
                    tint[c][p] = a > 0 ? s[Film.ALBEDO + c][p] / a : 0;
                    // The flat ground alone gets what the whole sky gives it; among pieces the same samples tell what
                    // arrives.
                    float light = sampled ? s[Film.LIGHT + c][p] : catcher * irradiance[c];
                    out.shadow[c][p] = light > 0 ? 1 - s[Film.BLOCKED + c][p] / light : 1;
                    out.bounce[c][p] = catcher > 0 ? s[Film.BOUNCE + c][p] / catcher : 0;
                    out.reflection[c][p] = catcher > 0 ? s[Film.REFLECTION + c][p] / catcher : 0;
                }
                out.ao[p] = s[Film.OPEN_COUNT][p] > 0 ? s[Film.OPEN][p] / s[Film.OPEN_COUNT][p] : 1;
                float near = a - (job.background() && s[Film.DEPTH][p] == 0 ? a : 0);
                out.depth[p] = near > 0
                        ? s[Film.DEPTH][p] / near
                        : catcher > 0 ? s[Film.CATCHER_DEPTH][p] / catcher : Float.POSITIVE_INFINITY;
                if (catcher > 0) ground[p] = s[Film.CATCHER_DEPTH][p] / catcher;
                float moves = s[Film.MOTION_COUNT][p];
                if (moves > 0)
                    for (int c = 0; c < 2; c++) out.motion[c][p] = s[Film.MOTION + c][p] / moves * motionScale;
                out.id[p] = a > 0 ? film.id[p] : 0;
                float lum = film.luminance(Film.BEAUTY, p) * part,
                        d = film.beautyError(p),
                        all = film.luminance(Film.BLOCKED, p),
                        b = e0 > 0 ? film.error(all, Film.EARLIER_BLOCKED, p) / e0 : 0,
                        given = film.luminance(Film.BOUNCE, p) + film.luminance(Film.REFLECTION, p);
                spread[0][p] = Math.abs(d);
                spread[1][p] = Math.abs(b);
                spread[2][p] = Math.abs(film.error(given, Film.EARLIER_ADDED, p));
                further.at(p, (float) Math.sqrt(d * d / ((lum + 0.05) * (lum + 0.05)) + b * b));
                if (a > 0 || all > 0) {
                    rows[3 * y] += d * d / ((lum + 0.05) * (lum + 0.05)) + b * b;
                    rows[3 * y + 1]++;
                }
                rows[3 * y + 2] += film.count[p];
            }
        });
        if (groups.apart()) ByLight.fill(film, out, groups, job, sampled);
        tell(out, rows);
        return out;
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
}

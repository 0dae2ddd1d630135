package dasein.core.render;

import dasein.core.image.Image;
import dasein.core.light.Lighting;
import dasein.core.math.Vec3;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * The passes of single lights. They are filtered and faded by what the pass of all light asks for, so that they still
 * add up to it.
 */
final class ByLight {
    private final Passes out;
    private final List<String> names;

    ByLight(Passes out) {
        this.out = out;
        names = out.lights();
    }

    /** From the film, whose planes may be those of the passes. */
    static void fill(Film film, Passes out, LightGroups groups, FrameRenderer.Job job, boolean sampled) {
        Vec3 normal = Catchers.among(job.meshes()).normal(job.view().open().position());
        Lighting l = job.lighting();
        float[] map = new Lighting(l.environment(), List.of()).irradiance(normal),
                sun = new Lighting(null, l.suns()).irradiance(normal),
                all = l.irradiance(normal),
                none = new float[3];
        for (int g = 0; g < film.light.length; g++) {
            String name = groups.names().get(g);
            boolean straight = film.light[g].length == Film.OF_PLANES;
            float[] own = g == groups.map() ? map : g == groups.sun() ? sun : none;
            float[][] of = film.light[g];
            Image.rows(film.height, y -> {
                for (int p = y * film.width, end = p + film.width; p < end; p++) {
                    float part = film.part(p), catcher = film.sum[Film.CATCHER][p];
                    for (int c = 0; c < 3; c++) {
                        out.of("beauty." + name)[c][p] = of[Film.OF_BEAUTY + c][p] * part;
                        float[] left = straight ? out.of("shadow." + name)[c] : null;
                        if (!(catcher > 0)) {
                            if (straight) left[p] = 1;
                            continue;
                        }
                        out.of("bounce." + name)[c][p] = of[Film.OF_BOUNCE + c][p] / catcher;
                        out.of("reflection." + name)[c][p] = of[Film.OF_REFLECTION + c][p] / catcher;
                        if (!straight) continue;
                        float light = sampled ? film.sum[Film.LIGHT + c][p] : catcher * all[c];
                        float there = sampled ? of[Film.OF_LIGHT + c][p] : catcher * own[c];
                        left[p] = light > 0 && there > 0 ? 1 - of[Film.OF_BLOCKED + c][p] / there : 1;
                        out.of("light." + name)[c][p] = light > 0 ? there / light : 0;
                    }
                }
            });
        }
    }

    /** The film's own planes by the names of the passes that they are to become. */
    static Map<String, float[][]> planes(Film film, LightGroups groups) {
        Map<String, float[][]> all = new HashMap<>();
        for (int g = 0; g < film.light.length; g++) {
            float[][] of = film.light[g];
            String name = groups.names().get(g);
            all.put("beauty." + name, Arrays.copyOfRange(of, Film.OF_BEAUTY, Film.OF_BEAUTY + 3));
            all.put("bounce." + name, Arrays.copyOfRange(of, Film.OF_BOUNCE, Film.OF_BOUNCE + 3));
            all.put("reflection." + name, Arrays.copyOfRange(of, Film.OF_REFLECTION, Film.OF_REFLECTION + 3));
            if (of.length < Film.OF_PLANES) continue;
            all.put("shadow." + name, Arrays.copyOfRange(of, Film.OF_BLOCKED, Film.OF_BLOCKED + 3));
            all.put("light." + name, Arrays.copyOfRange(of, Film.OF_LIGHT, Film.OF_LIGHT + 3));
        }
        return all;
    }

    /** Of a pass, the planes of all lights; of shadow, too, what they give. */
    float[][] of(String pass) {
        float[][] all = {};
        for (String g : names) {
            if (out.of(pass + "." + g) != null) all = together(all, out.of(pass + "." + g));
            if (pass.equals("shadow") && out.of("light." + g) != null) all = together(all, out.of("light." + g));
        }
        return all;
    }

    static float[][] together(float[][] a, float[][] b) {
        float[][] out = Arrays.copyOf(a, a.length + b.length);
        System.arraycopy(b, 0, out, a.length, b.length);
        return out;
    }

    /** Makes shadow, of each light, the part of all light that is taken of it: these parts add up, ratios do not. */
    void taken() {
        each((ratio, there) -> there * (1 - ratio));
    }

    /** Makes what {@link #taken} made the ratio again. */
    void left() {
        each((taken, there) -> there > 0 ? 1 - taken / there : 1);
    }

    private interface Made {
        float of(float value, float there);
    }

    private void each(Made made) {
        for (String g : names) {
            float[][] v = out.of("shadow." + g), there = out.of("light." + g);
            if (v == null) continue;
            for (int c = 0; c < 3; c++) for (int p = 0; p < v[c].length; p++) v[c][p] = made.of(v[c][p], there[c][p]);
        }
    }

    /** Fades a colour of a pixel as all light's were. */
    void settle(int p, int c, float shadow, float bounce, float reflection) {
        for (String g : names) {
            out.of("bounce." + g)[c][p] *= bounce;
            out.of("reflection." + g)[c][p] *= reflection;
            float[][] left = out.of("shadow." + g);
            if (left != null) left[c][p] = 1 - shadow * (1 - left[c][p]);
        }
    }
}

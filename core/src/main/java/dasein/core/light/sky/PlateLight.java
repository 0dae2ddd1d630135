package dasein.core.light.sky;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.SoftFill;
import dasein.core.light.Sun;
import dasein.core.math.Vec3;
import java.util.Arrays;

/**
 * A whole sphere of light from the part that the plate saw: the rest of the sky is a sky model, scaled to what was seen
 * of it and carried on softly from its borders; the rest of the ground is the ground that was seen. How much light
 * comes from all of it follows from the ground itself: {@code E = pi L / albedo}, in the shade for the sky, and the sun
 * from how much brighter the ground is in the sun. A guess, and marked as one.
 */
public final class PlateLight {
    /** Reflectance of ground that nobody told: dry concrete, gravel, sand (common practice). */
    public static final double GROUND_ALBEDO = 0.3;
    /** And its colour: such ground reflects red a little better than blue. */
    private static final double[] GROUND_TINT = {1.07, 1, 0.9};

    private static final double[] TURBIDITIES = {2, 3, 4.5, 7, 10}, OVERCASTS = {0, 0.35, 0.7, 1};
    /** Only what stands above this is taken for sky rather than for hills and houses. */
    private static final double SKY_FROM = Math.sin(Math.toRadians(7));

    private static final int LEAST_SKY = 40;
    private static final double LEAST_SHARE = 0.25, MOST_SHARE = 6;

    /**
     * @param sun unit, towards it; null when it throws no shadow
     * @param sunAngle across, radians
     * @param lit, shaded light of level ground in the sun and in shadow, three colours; null when not marked
     * @param albedo of that ground; 0 when not known
     */
    public record Hints(Vec3 sun, double sunAngle, double[] lit, double[] shaded, double albedo) {
        public Hints {
            if (sun != null && sun.y() <= 0) throw new BadInput("the sun stands below the ground");
            if (!(albedo >= 0 && albedo <= 1)) throw new BadInput("the ground's reflectance must lie between 0 and 1");
            if (lit != null && shaded != null)
                for (int c = 0; c < 3; c++)
                    if (!(lit[c] > shaded[c]))
                        throw new BadInput("the ground that was marked as lit is not brighter than that in the shade");
        }
    }

    /**
     * @param map whole, with the sun in it; @param invented what no frame saw
     * @param sun null where none was put in; @param skySaid which model was taken; @param seen part of the sphere
     */
    public record Result(Image map, boolean[] invented, Sun sun, String skySaid, double seen) {}

    private PlateLight() {}

    public static Result of(PlateSphere sphere, Hints hints) {
        Image seen = sphere.map();
        int w = seen.width, h = seen.height;
        boolean[] invented = new boolean[w * h];
        for (int i = 0; i < invented.length; i++) invented[i] = sphere.weight()[i] == 0;
        Fitted sky = sky(sphere, hints.sun());
        Image map = seen.copy();
        ground(map, invented);
        above(map, sphere, invented, sky);
        double[] needed = needed(map, hints);
        level(map, sphere, invented, needed);
        Sun sun = sun(map, hints);
        if (sun != null) SunDisc.add(map, sun);
        return new Result(map, invented, sun, sky.said, 1 - Environment.part(invented, w));
    }

    private record Fitted(SkyModel model, double[] scale, String said) {}

    /** The model whose shape fits what was seen of the sky best; each colour has its own scale, the median's. */
    private static Fitted sky(PlateSphere s, Vec3 sun) {
        int w = s.map().width, h = s.map().height;
        int[] at = new int[w * h];
        int n = 0;
        for (int i = 0; i < at.length; i++) {
            Vec3 d = direction(i, w, h);
            if (s.weight()[i] > 0 && !s.cut()[i] && d.y() > SKY_FROM) at[n++] = i;
        }
        SkyModel plain = new SkyModel(Vec3.Y, 4, 1);
        if (n < LEAST_SKY) return new Fitted(plain, null, "no sky was seen: an overcast one is taken");
        Fitted best = null;
        double least = Double.MAX_VALUE;
        for (double o : OVERCASTS)
            for (double t : TURBIDITIES) {
                // Without a sun's direction only a closed sky can be meant.
                if (sun == null && o < 1 || o == 1 && t != TURBIDITIES[0]) continue;
                SkyModel m = new SkyModel(sun == null ? Vec3.Y : sun, t, o);
                double[][] ratio = new double[3][n];
                for (int k = 0; k < n; k++) {
                    double[] r = m.radiance(direction(at[k], w, h));
                    for (int c = 0; c < 3; c++)
                        ratio[c][k] = Math.log((s.map().planes[c][at[k]] + 1e-4) / (r[c] + 1e-4));
                }
                double[] scale = new double[3];
                double spread = 0;
                for (int c = 0; c < 3; c++) {
                    // The brighter half is sky; hills and houses are darker.
                    double[] sorted = ratio[c].clone();
                    Arrays.sort(sorted);
                    double middle = sorted[(int) (0.7 * (n - 1))];
                    scale[c] = Math.exp(middle);
                    spread += sorted[(int) (0.95 * (n - 1))] - sorted[(int) (0.45 * (n - 1))];
                }
                if (spread < least) {
                    least = spread;
                    String said = o == 1
                            ? "overcast"
                            : "turbidity " + t + (o == 0 ? ", clear" : ", " + Math.round(100 * o) + " % overcast");
                    best = new Fitted(m, scale, said);
                }
            }
        return best;
    }

    /** Unseen texels of the lower half get what was seen of it. */
    private static void ground(Image map, boolean[] invented) {
        int w = map.width, h = map.height, half = w * (h / 2);
        Image low = new Image(w, h - h / 2, 3);
        boolean[] missing = new boolean[low.width * low.height];
        boolean any = false;
        for (int c = 0; c < 3; c++) System.arraycopy(map.planes[c], half, low.planes[c], 0, missing.length);
        for (int i = 0; i < missing.length; i++) {
            missing[i] = invented[half + i];
            any |= !missing[i];
        }
        if (!any) throw new BadInput("the plate shows no ground: light cannot be guessed from it");
        SoftFill.fill(low, missing);
        for (int c = 0; c < 3; c++) System.arraycopy(low.planes[c], 0, map.planes[c], half, missing.length);
    }

    /** Of the upper half: the model, brought softly to what was seen of the sky at its borders. */
    private static void above(Image map, PlateSphere s, boolean[] invented, Fitted sky) {
        int w = map.width, h = map.height, rows = h / 2;
        Image ratio = new Image(w, rows, 3);
        boolean[] missing = new boolean[w * rows];
        double[] scale = sky.scale == null ? new double[] {0.5, 0.5, 0.5} : sky.scale;
        double[][] model = new double[w * rows][];
        for (int i = 0; i < missing.length; i++) {
            Vec3 d = direction(i, w, h);
            model[i] = sky.model.radiance(d);
            missing[i] = true;
            if (invented[i] || s.cut()[i] || d.y() < SKY_FROM || sky.scale == null) continue;
            double off = 0;
            for (int c = 0; c < 3; c++) {
                double r = map.planes[c][i] / (model[i][c] * scale[c] + 1e-6);
                ratio.planes[c][i] = (float) Math.max(0.3, Math.min(3, r));
                off += Math.abs(Math.log(Math.max(r, 1e-3))) / 3;
            }
            missing[i] = off > 0.5;
        }
        // Far from what was seen the model stands alone: the opposite side is held at its own level.
        for (int i = 0; i < missing.length; i++) {
            if (!missing[i] || nearSeen(missing, i, w, rows)) continue;
            missing[i] = false;
            for (int c = 0; c < 3; c++) ratio.planes[c][i] = 1;
        }
        SoftFill.fill(ratio, missing);
        for (int i = 0; i < missing.length; i++) {
            if (!invented[i] && !s.cut()[i]) continue;
            for (int c = 0; c < 3; c++) {
                float v = (float) (model[i][c] * scale[c] * ratio.planes[c][i]);
                map.planes[c][i] = invented[i] ? v : Math.max(v, map.planes[c][i]);
            }
        }
    }

    /** Whether sky was seen within a sixth of a turn. */
    private static boolean nearSeen(boolean[] missing, int at, int w, int rows) {
        int x = at % w, y = at / w, reach = w / 12, step = Math.max(1, w / 64);
        for (int j = -reach; j <= reach; j += step)
            for (int i = -reach; i <= reach; i += step) {
                int yy = y + j;
                if (yy < 0 || yy >= rows || missing[yy * w + Math.floorMod(x + i, w)]) continue;
                return true;
            }
        return false;
    }

    /** Irradiance that the sky gives level ground, by its light in the shade. */
    private static double[] needed(Image map, Hints k) {
        double albedo = k.albedo() > 0 ? k.albedo() : GROUND_ALBEDO;
        double[] light = k.shaded();
        if (light == null && k.lit() == null && k.sun() != null) return null;
        if (light == null) light = k.lit();
        if (light == null) light = mean(map);
        double[] e = new double[3];
        for (int c = 0; c < 3; c++) e[c] = Math.PI * light[c] / (albedo * GROUND_TINT[c]);
        return e;
    }

    /** Of the ground. */
    private static double[] mean(Image map) {
        int w = map.width, h = map.height;
        double[] sum = new double[3];
        double total = 0;
        for (int i = w * (h / 2); i < w * h; i++) {
            double k = Environment.solid(i / w, w, h);
            total += k;
            for (int c = 0; c < 3; c++) sum[c] += k * map.planes[c][i];
        }
        for (int c = 0; c < 3; c++) sum[c] /= total;
        return sum;
    }

    /** What was invented above is scaled until the ground receives what it shows, in each colour. */
    private static void level(Image map, PlateSphere s, boolean[] invented, double[] needed) {
        if (needed == null) return;
        int w = map.width, h = map.height;
        for (int c = 0; c < 3; c++) {
            double seen = 0, rest = 0;
            float[] p = map.planes[c];
            for (int i = 0; i < w * (h / 2); i++) {
                double v = Environment.solid(i / w, w, h) * direction(i, w, h).y() * p[i];
                if (invented[i] || s.cut()[i]) rest += v;
                else seen += v;
            }
            if (rest <= 0) continue;
            float share = (float) Math.max(LEAST_SHARE, Math.min(MOST_SHARE, (needed[c] - seen) / rest));
            for (int i = 0; i < w * (h / 2); i++)
                if (invented[i] || s.cut()[i]) p[i] = Math.max(invented[i] ? 0 : s.map().planes[c][i], share * p[i]);
        }
    }

    private static Sun sun(Image map, Hints k) {
        if (k.sun() == null || k.lit() == null || k.shaded() == null) return null;
        float[] sky = new Environment(map, 0, 1).irradiance(Vec3.Y), e = new float[3];
        for (int c = 0; c < 3; c++)
            e[c] = (float) ((k.lit()[c] / k.shaded()[c] - 1)
                    * sky[c]
                    / Math.max(0.03, k.sun().y()));
        return new Sun(k.sun(), k.sunAngle(), e);
    }

    private static Vec3 direction(int i, int w, int h) {
        return Environment.fromUv((i % w + 0.5) / w, (i / w + 0.5) / h);
    }
}

package dasein.shoot;

import dasein.core.cast.Performer;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Gain;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.key.Curve;
import dasein.core.lens.Lens;
import dasein.core.light.Clues;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.render.pass.Passes;
import dasein.core.solve.SolvedCamera;
import java.util.List;
import java.util.stream.IntStream;

/** What a shot is made wrong by. */
final class Wrong {
    private Wrong() {}

    private static SolvedCamera of(SolvedCamera c, List<SolvedCamera.Frame> frames, List<SolvedCamera.Point> points) {
        return new SolvedCamera(
                c.width(), c.height(), c.rate(), c.kind(), c.rmsPx(), c.parallaxPx(), c.lens(), frames, points);
    }

    /** Marks of a frame lie that far off. */
    static SolvedCamera offBy(SolvedCamera c, int frame, double px) {
        return of(
                c,
                c.frames().stream()
                        .map(f -> f.frame() != frame
                                ? f
                                : new SolvedCamera.Frame(f.frame(), f.pose(), f.focalPx(), px, f.tracks()))
                        .toList(),
                c.points());
    }

    static SolvedCamera without(SolvedCamera c, int frame) {
        return of(c, c.frames().stream().filter(f -> f.frame() != frame).toList(), c.points());
    }

    /** What is seen where it was in a frame, but nearer, so that it stands that high over the ground. */
    static SolvedCamera raised(SolvedCamera c, int frame, double metres) {
        Vec3 eye = c.frame(frame).pose().position();
        return of(
                c,
                c.frames(),
                c.points().stream()
                        .map(p -> {
                            double y = p.position().y(), k = (metres - eye.y()) / (y - eye.y());
                            return k <= 0 || k >= 1
                                    ? p
                                    : new SolvedCamera.Point(
                                            p.id(),
                                            eye.plus(p.position().minus(eye).times(k)),
                                            p.rmsPx(),
                                            p.off());
                        })
                        .toList());
    }

    static Passes noisy(Passes p, float noise) {
        Passes out = p.only(p.list());
        out.noise = noise;
        return out;
    }

    static Passes farther(Passes p, float by) {
        Passes out = p.keeping(p.list());
        for (int i = 0; i < out.depth.length; i++) out.depth[i] *= by;
        return out;
    }

    /** Around the performer, whose shadow is longer. */
    static void smallGround(Made m) {
        Performer p = m.shot.performers().get(0);
        m.shot = m.shot.with(
                new SetRecipe(List.of(), 0, 0, 0, List.of(), new SetRecipe.Catcher(p.x(), p.z(), 3, 3), 0, 0.3));
    }

    /** The performer gets brighter from the middle frame to the last, and was darker in the first. */
    static CompRecipe drifting(CompRecipe c, List<Integer> frames, double stops) {
        double at = c.get(Gain.GAIN);
        int first = frames.get(0), last = frames.get(frames.size() - 1);
        return c.with(
                Gain.GAIN.name(),
                new Curve(
                        List.of(
                                new Curve.Key(first, at * Math.pow(2, -stops), Curve.Ease.LINEAR),
                                new Curve.Key(last, at * Math.pow(2, stops), Curve.Ease.LINEAR)),
                        List.of()));
    }

    /** Shadow laid over ground that was marked as lying in one, where it is seen in that frame. */
    static Passes shadowOver(Passes p, Made m, int frame, double left) {
        Passes out = p.keeping(p.list());
        SolvedCamera c = m.solved;
        double part = (double) p.width / c.width();
        int r = (int) (32 * part);
        for (Clues.Patch d : m.clues.patches()) {
            if (d.lit()) continue;
            Vec3 eye = c.frame(d.frame()).pose().position(),
                    ray =
                            c.frame(d.frame())
                                    .pose()
                                    .rotation()
                                    .rotate(c.lens(d.frame()).ray(d.x(), d.y()));
            double[] q = c.lens(frame).project(c.frame(frame).pose().toLocal(eye.plus(ray.times(-eye.y() / ray.y()))));
            if (q == null) continue;
            for (int y = (int) (part * q[1]) - r; y <= part * q[1] + r; y++)
                for (int x = (int) (part * q[0]) - r; x <= part * q[0] + r; x++) {
                    if (x < 0 || y < 0 || x >= p.width || y >= p.height) continue;
                    int i = y * p.width + x;
                    if (p.alpha[i] == 0) for (float[] s : out.shadow) s[i] = (float) Math.min(s[i], left);
                }
        }
        return out;
    }

    /** The plate of wet ground: what a mirror there would show of the picture itself, laid over it. */
    static Image mirroring(Image plate, SolvedCamera c, int frame, double strength) {
        Image out = new Image(plate.width, plate.height, 3);
        Vec3 eye = c.frame(frame).pose().position();
        Quat turn = c.frame(frame).pose().rotation();
        Lens lens = c.lens(frame);
        for (int i = 0; i < plate.width * plate.height; i++) {
            for (int k = 0; k < 3; k++) out.planes[k][i] = plate.planes[k][i];
            Vec3 d = turn.rotate(lens.ray(i % plate.width + 0.5, i / plate.width + 0.5));
            if (!(d.y() < 0) || eye.y() < 0) continue;
            double[] q = lens.project(turn.conjugate().rotate(new Vec3(d.x(), -d.y(), d.z())));
            if (q == null || q[0] < 0 || q[1] < 0 || q[0] >= plate.width || q[1] >= plate.height) continue;
            int o = (int) q[1] * plate.width + (int) q[0];
            for (int k = 0; k < 3; k++)
                out.planes[k][i] += (float) (strength * (plate.planes[k][o] - plate.planes[k][i]));
        }
        return out;
    }

    /** A line along the outline that is darker than both its sides by a part of white, as a bad edge draws it. */
    static void line(Image comp, Passes p, Encoding e, double darker) {
        int w = p.width, step = 3;
        double[] least = new double[w * p.height];
        for (int y = step; y < p.height - step; y++)
            for (int x = step; x < w - step; x++) {
                int i = y * w + x;
                if (p.alpha[i] < 0.15f || p.alpha[i] > 0.85f) continue;
                double gx = p.alpha[i + 1] - p.alpha[i - 1], gy = p.alpha[i + w] - p.alpha[i - w];
                double g = Math.max(1e-6, Math.hypot(gx, gy));
                int far = (int) Math.round(step * gy / g) * w + (int) Math.round(step * gx / g);
                least[i] = Math.min(code(comp, e, i + far), code(comp, e, i - far));
            }
        for (int i = 0; i < least.length; i++) {
            if (least[i] == 0) continue;
            double now = Image.luma(comp.planes, i), want = e.decode(Math.max(0, least[i] - darker));
            for (float[] c : comp.planes) c[i] *= (float) (want / Math.max(1e-6, now));
        }
    }

    private static double code(Image im, Encoding e, int i) {
        return e.encode(Math.max(0, Image.luma(im.planes, i)));
    }

    /**
     * Performers' colours drawn from grey until a twentieth of them is by a part stronger than all but a hundredth of
     * the plate, and than was rendered; codes between the strongest and the weakest colour.
     */
    static void painted(Image comp, Image plate, Passes p, Encoding e, double stronger) {
        double most = Math.max(
                strongest(plate, e, p, false, 0.99, 1),
                strongest(new Image(p.width, p.height, p.beauty), e, p, true, 0.95, 1));
        double low = 1, high = 64;
        for (int k = 0; k < 20; k++) {
            double mid = Math.sqrt(low * high);
            if (strongest(comp, e, p, true, 0.95, mid) > (1 + stronger) * most) high = mid;
            else low = mid;
        }
        for (int i = 0; i < p.alpha.length; i++) {
            if (p.alpha[i] == 0) continue;
            double y = Image.luma(comp.planes, i);
            for (float[] c : comp.planes) c[i] = (float) Math.max(0, y + high * (c[i] - y));
        }
    }

    private static double strongest(Image im, Encoding e, Passes p, boolean own, double part, double drawn) {
        return IntStream.range(0, p.alpha.length)
                .filter(i -> own ? p.alpha[i] > 0.98f : i % 5 == 0)
                .mapToDouble(i -> {
                    double y = Image.luma(im.planes, i), most = 0, least = Double.MAX_VALUE;
                    for (float[] c : im.planes) {
                        double v = e.encode(Math.max(0, y + drawn * (c[i] - y)));
                        most = Math.max(most, v);
                        least = Math.min(least, v);
                    }
                    return most - least;
                })
                .sorted()
                .skip(Math.max(0, (long) (part * (own ? count(p) : p.alpha.length / 5)) - 1))
                .findFirst()
                .orElse(0);
    }

    private static int count(Passes p) {
        int n = 0;
        for (float a : p.alpha) if (a > 0.98f) n++;
        return n;
    }
}

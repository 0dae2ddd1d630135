package dasein.core.presence.picture;

import dasein.core.ground.Piece;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import java.util.Locale;

/**
 * Whether ground that mirrors in the plate mirrors performers, too: how much what is seen on the ground is like what a
 * mirror there would show of the far picture, of which fine structure alone counts.
 */
public final class WetGround implements Check {
    private static final double LIMIT = 0.35;
    private static final int STEP = 2;
    /** Part of the picture in which ground and what it would mirror are seen. */
    private static final double LEAST = 0.02;

    /** Structure between these, pixels for a picture 1280 wide. */
    private static final double FINE = 2, COARSE = 14;

    private static final Finding.About ABOUT = new Finding.About(
            "wet",
            "Mirroring ground",
            "set",
            "correlation",
            LIMIT,
            "dry ground is no more like its mirror image than chance makes it (measured: under 0.15)");

    private final Worst worst = new Worst(LIMIT);
    private boolean mirrors;

    @Override
    public void look(Frame f, Subject s) {
        mirrors |= s.set().wet() > 0
                || s.set().pieces().stream().anyMatch(p -> p.does(Piece.Role.REFLECTION) && p.strength() > 0);
        if (s.camera() == null || !s.camera().has(f.frame()) || f.graded()) return;
        Image im = f.plate();
        double k = im.width / 1280.0;
        float[] y = im.luminance(), fine = Filters.gaussian(y, im.width, im.height, FINE * k);
        float[] coarse = Filters.gaussian(y, im.width, im.height, COARSE * k);
        for (int i = 0; i < y.length; i++) y[i] = fine[i] - coarse[i];
        Pose eye = s.camera().frame(f.frame()).pose();
        var lens =
                s.camera().lens(f.frame()).scaled((double) im.width / s.plate().width());
        var c = s.set().catcher();
        Passes p = f.passes();
        double aa = 0, bb = 0, ab = 0;
        int n = 0;
        for (int v = 0; v < im.height; v += STEP)
            for (int u = 0; u < im.width; u += STEP) {
                int i = v * im.width + u;
                if (p.matters(i)) continue;
                Vec3 d = eye.rotation().rotate(lens.ray(u + 0.5, v + 0.5));
                double t = -eye.position().y() / d.y();
                if (!(t > 0)) continue;
                Vec3 g = eye.position().plus(d.times(t));
                if (Math.abs(g.x() - c.x()) > c.width() / 2 || Math.abs(g.z() - c.z()) > c.depth() / 2) continue;
                // Thrown up by level ground: seen far off, where it would come from.
                double[] q = lens.project(eye.rotation().conjugate().rotate(new Vec3(d.x(), -d.y(), d.z())));
                if (q == null || q[0] < 0 || q[1] < 0 || q[0] >= im.width || q[1] >= im.height) continue;
                int o = (int) q[1] * im.width + (int) q[0];
                aa += y[i] * y[i];
                bb += y[o] * y[o];
                ab += y[i] * y[o];
                n++;
            }
        if (n >= LEAST * im.width * im.height / (STEP * STEP) && aa > 0 && bb > 0)
            worst.add(f.frame(), ab / Math.sqrt(aa * bb), null);
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (worst.frames == 0) return ABOUT.unseen("Too little ground is seen together with what it would mirror.");
        if (mirrors) return ABOUT.good(worst.figure, "The set mirrors performers.");
        return worst.found()
                ? worst.on(ABOUT.found(
                        worst.figure,
                        "The ground mirrors what stands behind it, but not the performers: say in Set how wet it is."))
                : ABOUT.good(
                        worst.figure,
                        String.format(Locale.ROOT, "The ground does not mirror (%.2f).", Math.max(0, worst.figure)));
    }
}

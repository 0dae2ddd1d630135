package dasein.core.presence.picture;

import dasein.core.ground.Piece;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * Whether shadow is drawn flat over something that stands up: solved points well above the ground, seen where the
 * ground behind them is shaded, with no piece of the set to take the shadow instead.
 */
public final class UnbuiltSurface implements Check {
    private static final double LIMIT = 3;
    /** Metres over the ground, at least; light that is kept away. */
    private static final double HIGH = 0.15, SHADED = 0.1;

    private static final double NEAR_PIECE = 0.3, SURE = 3;
    private static final Finding.About ABOUT = new Finding.About(
            "unbuilt",
            "Shadow on what stands there",
            "set",
            "points shaded",
            LIMIT,
            "a few solved points may be wrong themselves (common practice)");

    private final Worst worst = new Worst(LIMIT);

    @Override
    public void look(Frame f, Subject s) {
        if (s.camera() == null
                || !s.camera().has(f.frame())
                || s.camera().points().isEmpty()) return;
        Passes p = f.passes();
        Pose eye = s.camera().frame(f.frame()).pose();
        double part = (double) p.width / s.plate().width();
        List<double[]> bad = new ArrayList<>();
        for (SolvedCamera.Point q : s.camera().points()) {
            Vec3 at = q.position();
            if (at.y() < Math.max(HIGH, Double.isNaN(q.off()) ? 0 : SURE * q.off()) || built(s, at)) continue;
            double[] u = s.camera().lens(f.frame()).project(eye.toLocal(at));
            if (u == null) continue;
            int x = (int) (u[0] * part), y = (int) (u[1] * part), i = y * p.width + x;
            if (x < 0 || y < 0 || x >= p.width || y >= p.height) continue;
            // Only what lies before the ground that is shaded there, not what the performer itself covers.
            if (p.alpha[i] < 0.02f && p.shadow[1][i] < 1 - SHADED && onGround(s, eye, at)) bad.add(u);
        }
        Finding.Place at = bad.isEmpty() ? null : new Finding.Place(bad.get(0)[0], bad.get(0)[1], 60);
        worst.add(f.frame(), bad.size(), at);
    }

    /** Whether behind it the ground that takes shadow is met. */
    private static boolean onGround(Subject s, Pose eye, Vec3 at) {
        Vec3 o = eye.position(), d = at.minus(o);
        double t = -o.y() / d.y();
        if (!(t > 1)) return false;
        Vec3 g = o.plus(d.times(t));
        var c = s.set().catcher();
        return Math.abs(g.x() - c.x()) < c.width() / 2 && Math.abs(g.z() - c.z()) < c.depth() / 2;
    }

    private static boolean built(Subject s, Vec3 at) {
        return s.set().pieces().stream().anyMatch(p -> near(p, at));
    }

    /** Within the box about a piece, as it is turned; of what has none of its own, within a circle about it. */
    private static boolean near(Piece p, Vec3 at) {
        double dx = at.x() - p.x(), dz = at.z() - p.z(), w = p.width() / 2, d = p.depth() / 2;
        if (at.y() > p.y() + p.height() + NEAR_PIECE) return false;
        if (p.kind() == Piece.Kind.TERRAIN || p.kind() == Piece.Kind.MODEL || p.kind() == Piece.Kind.POLYGON)
            return Math.hypot(dx, dz) < Math.hypot(w, d) + NEAR_PIECE;
        Vec3 own = Quat.axisAngle(Vec3.Y, -Math.toRadians(p.headingDeg())).rotate(new Vec3(dx, 0, dz));
        return Math.abs(own.x()) < w + NEAR_PIECE && Math.abs(own.z()) < d + NEAR_PIECE;
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (worst.frames == 0) return ABOUT.unseen("No rendered frame with solved points to look at yet.");
        return worst.found()
                ? worst.on(ABOUT.found(
                        worst.figure,
                        String.format(
                                Locale.ROOT,
                                "In frame %d the shadow is laid flat over %.0f solved points that stand above the "
                                        + "ground: build what is there in Set.",
                                worst.frame,
                                worst.figure)))
                : ABOUT.good(worst.figure, "Nothing solved above the ground lies in a shadow that is laid flat.");
    }
}

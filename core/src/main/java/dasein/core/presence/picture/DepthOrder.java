package dasein.core.presence.picture;

import dasein.core.math.Pose;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * Whether performers cover what stands in front of them: solved points that are seen in a frame, nearer than the
 * performer that is laid over them.
 */
public final class DepthOrder implements Check {
    private static final double LIMIT = 2;
    /** A point counts when it is nearer by this part, and this many times less sure than that. */
    private static final double NEARER = 0.95, SURE = 3;

    private static final Finding.About ABOUT = new Finding.About(
            "order",
            "In front and behind",
            "comp",
            "points covered",
            LIMIT,
            "one or two solved points may be wrong themselves (common practice)");

    private final Worst worst = new Worst(LIMIT);
    private Map<Integer, Track> tracks;

    @Override
    public void look(Frame f, Subject s) {
        if (s.camera() == null || !s.camera().has(f.frame()) || s.tracks().isEmpty()) return;
        if (tracks == null) tracks = s.tracksByNumber();
        Passes p = f.passes();
        Pose eye = s.camera().frame(f.frame()).pose();
        double part = (double) p.width / s.plate().width();
        List<double[]> bad = new ArrayList<>();
        for (SolvedCamera.Point q : s.camera().points()) {
            Track t = tracks.get(q.id());
            int at = t == null ? -1 : t.at(f.frame());
            if (at < 0) continue;
            int x = (int) (t.x()[at] * part), y = (int) (t.y()[at] * part), i = y * p.width + x;
            if (x < 0 || y < 0 || x >= p.width || y >= p.height || p.alpha[i] < 0.9f) continue;
            double z = -eye.toLocal(q.position()).z();
            boolean sure = Double.isNaN(q.off()) || SURE * q.off() < p.depth[i] - z;
            if (z > 0 && z < NEARER * p.depth[i] && sure) bad.add(new double[] {t.x()[at], t.y()[at]});
        }
        Finding.Place at = bad.isEmpty() ? null : new Finding.Place(bad.get(0)[0], bad.get(0)[1], 50);
        worst.add(f.frame(), bad.size(), at);
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (worst.frames == 0) return ABOUT.unseen("No rendered frame that is solved and tracked to look at yet.");
        return worst.found()
                ? worst.on(ABOUT.found(
                        worst.figure,
                        String.format(
                                Locale.ROOT,
                                "In frame %d performers cover %.0f solved points that are nearer than they are: "
                                        + "something that stands in front is missing in the set, or in front in Comp.",
                                worst.frame,
                                worst.figure)))
                : ABOUT.good(worst.figure, "Performers cover nothing that is solved to be nearer.");
    }
}

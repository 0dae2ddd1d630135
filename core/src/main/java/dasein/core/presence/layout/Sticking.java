package dasein.core.presence.layout;

import dasein.core.cast.Performer;
import dasein.core.math.Vec3;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * Whether performers will stick to the plate where they stand: by how much the solved points around their feet drift,
 * all together, against where they are seen.
 */
public final class Sticking implements Check {
    private static final double LIMIT = 0.5;
    private static final int NEAREST = 24, LEAST = 4;

    private static final Finding.About ABOUT = new Finding.About(
            "stick",
            "Sticking to the plate",
            "camera",
            "px",
            LIMIT,
            "half a pixel is not seen to move against the ground (common practice)");

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        int[] span = s.solved();
        if (span == null || s.blocking() == null) return ABOUT.unseen("The camera is not solved yet.");
        if (s.performers().isEmpty()) return ABOUT.unseen("Nobody is there who could stick.");
        Map<Integer, Track> tracks = s.tracksByNumber();
        double worst = -1;
        int frame = 0;
        Vec3 where = null;
        List<Integer> frames = new ArrayList<>();
        for (int f = span[0]; f <= span[1]; f++) {
            double here = -1;
            for (Performer p : s.performers()) {
                Vec3 foot = s.blocking().foot(p.id(), f);
                double d = drift(s, tracks, foot, f);
                if (d > worst) {
                    worst = d;
                    frame = f;
                    where = foot;
                }
                here = Math.max(here, d);
            }
            if (here > LIMIT) frames.add(f);
        }
        if (worst < 0) return ABOUT.unseen("Too few solved points are near the performers.");
        if (worst <= LIMIT)
            return ABOUT.good(
                    worst, String.format(Locale.ROOT, "Solved points near the performers stay within %.2f px.", worst));
        return ABOUT.found(
                        worst,
                        String.format(
                                Locale.ROOT,
                                "Around the performers the solved points drift by up to %.1f px: whoever stands there "
                                        + "will slide over the plate.",
                                worst))
                .in(frames, frame)
                .at(s.seen(frame, where, 60));
    }

    /** Length of the mean way from where points are solved to where they are seen; -1 where too few are. */
    private static double drift(Subject s, Map<Integer, Track> tracks, Vec3 foot, int f) {
        if (!s.camera().has(f)) return -1;
        record Near(double far, double x, double y) {}
        List<Near> all = new ArrayList<>();
        for (SolvedCamera.Point p : s.camera().points()) {
            Track t = tracks.get(p.id());
            int at = t == null ? -1 : t.at(f);
            if (at < 0) continue;
            double[] q = s.camera().lens(f).project(s.camera().frame(f).pose().toLocal(p.position()));
            if (q != null) all.add(new Near(p.position().distance(foot), t.x()[at] - q[0], t.y()[at] - q[1]));
        }
        List<Near> near = all.stream()
                .sorted(Comparator.comparingDouble(Near::far))
                .limit(NEAREST)
                .toList();
        if (near.size() < LEAST) return -1;
        return Math.hypot(
                near.stream().mapToDouble(Near::x).average().orElseThrow(),
                near.stream().mapToDouble(Near::y).average().orElseThrow());
    }
}

package dasein.core.presence.layout;

import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.solve.SolvedCamera;
import java.util.List;
import java.util.Locale;

/** Whether the camera is solved well in every frame that is delivered. */
public final class SolveError implements Check {
    private static final double LIMIT = 1;
    private static final Finding.About ABOUT = new Finding.About(
            "solve",
            "Camera error",
            "camera",
            "px",
            LIMIT,
            "under a pixel a solve is usable, about 0.7 is a good first try (common practice)");

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (s.camera() == null) return ABOUT.unseen("The camera is not solved yet.");
        List<SolvedCamera.Frame> all = s.camera().frames().stream()
                .filter(f -> f.frame() >= s.cutFirst() && f.frame() <= s.cutLast())
                .toList();
        int missing = s.cutLast() - s.cutFirst() + 1 - all.size();
        if (missing > 0)
            return ABOUT.found(
                    0,
                    String.format(
                            Locale.ROOT,
                            "%d of the frames that are delivered have no camera: nobody can be put into them.",
                            missing));
        SolvedCamera.Frame worst = all.get(0);
        for (SolvedCamera.Frame f : all) if (f.rmsPx() > worst.rmsPx()) worst = f;
        if (worst.rmsPx() <= LIMIT)
            return ABOUT.good(
                    worst.rmsPx(), String.format(Locale.ROOT, "No frame is off by more than %.2f px.", worst.rmsPx()));
        return ABOUT.found(
                        worst.rmsPx(),
                        String.format(
                                Locale.ROOT,
                                "In frame %d marks are off by %.1f px: take wrong ones out, or track it again.",
                                worst.frame(),
                                worst.rmsPx()))
                .in(
                        all.stream()
                                .filter(f -> f.rmsPx() > LIMIT)
                                .map(SolvedCamera.Frame::frame)
                                .toList(),
                        worst.frame());
    }
}

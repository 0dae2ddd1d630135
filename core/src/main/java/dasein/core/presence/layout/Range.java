package dasein.core.presence.layout;

import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;

/** Whether every frame that is delivered is rendered as the shot is now, at full size. */
public final class Range implements Check {
    private static final Finding.About ABOUT = new Finding.About(
            "frames", "Missing frames", "passes", "frames missing", 0, "a delivered shot has all of its frames");

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (s.performers().isEmpty()) return ABOUT.unseen("Nobody is there to be rendered.");
        List<Integer> missing = IntStream.rangeClosed(s.cutFirst(), s.cutLast())
                .filter(f -> !s.rendered().contains(f))
                .boxed()
                .toList();
        if (s.rendered().isEmpty()) return ABOUT.unseen("No frame is rendered yet.");
        if (!missing.isEmpty())
            return ABOUT.found(
                            missing.size(),
                            String.format(
                                    Locale.ROOT,
                                    "%d of %d frames are missing, or older than the last change.",
                                    missing.size(),
                                    s.cutLast() - s.cutFirst() + 1))
                    .in(missing, missing.get(0));
        return s.size() < 1
                ? ABOUT.found(
                        0,
                        String.format(
                                Locale.ROOT,
                                "All frames are rendered at %.0f %% of the plate's size only; render them at full "
                                        + "size before they are delivered.",
                                100 * s.size()))
                : ABOUT.good(0, "All " + s.rendered().size() + " frames are there, as the shot is now.");
    }
}

package dasein.core.presence.layout;

import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;

/** Whether the camera is known in the handles, too: who cuts the shot later may move its ends that far. */
public final class Handles implements Check {
    private static final Finding.About ABOUT = new Finding.About(
            "handles",
            "Handles",
            "camera",
            "frames without a camera",
            0,
            "handles that were asked for are to be of use (common practice)");

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        int before = s.cutFirst() - s.first(), after = s.last() - s.cutLast();
        if (before + after == 0)
            return ABOUT.unseen("The plate has no frames before and after the cut that are asked for.");
        if (s.camera() == null) return ABOUT.unseen("The camera is not solved yet.");
        List<Integer> missing = IntStream.rangeClosed(s.first(), s.last())
                .filter(f ->
                        (f < s.cutFirst() || f > s.cutLast()) && !s.camera().has(f))
                .boxed()
                .toList();
        return missing.isEmpty()
                ? ABOUT.good(
                        0,
                        String.format(
                                Locale.ROOT, "All %d frames before the cut and %d after it are solved.", before, after))
                : ABOUT.found(
                                missing.size(),
                                String.format(
                                        Locale.ROOT,
                                        "%d of %d handle frames have no camera: solve again over the whole range.",
                                        missing.size(),
                                        before + after))
                        .in(missing, missing.get(0));
    }
}

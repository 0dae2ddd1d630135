package dasein.core.solve;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/** What is to be said of a solve that lies in the frame of measured places. */
final class Survey {
    private Survey() {}

    /** How far the measured places lie from the solved points, and which is the worst. */
    static String said(List<Hints.Measured> measured, List<SolvedCamera.Point> points) {
        double worst = -1, sum = 0;
        int id = 0, n = 0;
        List<Integer> lost = new ArrayList<>();
        for (Hints.Measured k : measured) {
            if (points.stream().noneMatch(p -> p.id() == k.track())) lost.add(k.track());
            for (SolvedCamera.Point p : points) {
                if (p.id() != k.track()) continue;
                double d = p.position().distance(k.position());
                sum += d * d;
                n++;
                if (d / k.off() > worst) {
                    worst = d / k.off();
                    id = k.track();
                }
            }
        }
        String said = String.format(
                Locale.ROOT,
                "In the frame of %d measured places, met within %.1f cm.",
                n,
                100 * Math.sqrt(sum / Math.max(1, n)));
        if (!lost.isEmpty())
            said += (lost.size() == 1 ? " Track " : " Tracks ")
                    + lost.stream().map(String::valueOf).collect(Collectors.joining(", "))
                    + " did not go with the measured place, or could not be solved: look at its numbers.";
        return worst > 4
                ? said
                        + String.format(
                                Locale.ROOT,
                                " Track %d lies %.0f times further off than it was measured: look at its numbers.",
                                id,
                                worst)
                : said;
    }
}

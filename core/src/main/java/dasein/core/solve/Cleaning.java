package dasein.core.solve;

import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.BiFunction;

/** Takes the worst tracks out and solves again, until that stops helping. */
public final class Cleaning {
    private static final int ROUNDS = 8;
    /** Far above the rest, in parts of the solve's own error, and in pixels. */
    private static final double FAR = 1.6, LEAST_PX = 0.45;
    /** Of all points a round takes out at most this part; all rounds together leave at least that part. */
    private static final double ROUND_PART = 0.1, LEFT_PART = 0.6;
    /** A round that lowers the error by less does not help. */
    private static final double HELPS = 0.985;

    private Cleaning() {}

    /** @param removed tracks that were taken out; @param log a sentence for each round */
    public record Cleaned(SolvedCamera camera, List<Integer> removed, List<String> log) {}

    /** Error above which a track stands out, pixels. */
    public static double limit(SolvedCamera c) {
        return Math.max(FAR * c.rmsPx(), LEAST_PX);
    }

    /** @param again solves the tracks that are left, from where the solve stands */
    public static Cleaned clean(
            SolvedCamera start, List<Track> tracks, BiFunction<SolvedCamera, List<Track>, SolvedCamera> again) {
        SolvedCamera c = start;
        Set<Integer> removed = new HashSet<>();
        List<String> log = new ArrayList<>();
        for (int round = 1; round <= ROUNDS; round++) {
            double limit = limit(c);
            List<SolvedCamera.Point> worst = c.points().stream()
                    .filter(p -> p.rmsPx() > limit)
                    .sorted(Comparator.comparingDouble(p -> -p.rmsPx()))
                    .limit(Math.max(5, (int) (ROUND_PART * c.points().size())))
                    .toList();
            if (worst.isEmpty()) break;
            Set<Integer> next = new HashSet<>(removed);
            worst.forEach(p -> next.add(p.id()));
            if (tracks.size() - next.size() < LEFT_PART * tracks.size()) break;
            SolvedCamera then = again.apply(
                    c, tracks.stream().filter(t -> !next.contains(t.id())).toList());
            if (then.frames().size() < c.frames().size() || then.rmsPx() > HELPS * c.rmsPx()) {
                log.add(String.format(
                        Locale.ROOT,
                        "Round %d: %d more would not help (%.3f to %.3f px); they stay.",
                        round,
                        worst.size(),
                        c.rmsPx(),
                        then.rmsPx()));
                break;
            }
            log.add(String.format(
                    Locale.ROOT,
                    "Round %d: %d tracks above %.2f px out, the worst %.2f px; %.3f to %.3f px.",
                    round,
                    worst.size(),
                    limit,
                    worst.get(0).rmsPx(),
                    c.rmsPx(),
                    then.rmsPx()));
            removed.addAll(next);
            c = then;
        }
        return new Cleaned(c, removed.stream().sorted().toList(), log);
    }
}

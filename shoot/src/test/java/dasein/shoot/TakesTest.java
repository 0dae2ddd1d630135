package dasein.shoot;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.Progress;
import dasein.core.plate.Plate;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.Movers;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.AutoTracker;
import dasein.core.track.Track;
import dasein.core.track.TrackSettings;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * Two takes with something that moves by itself: its tracks end in their own group, and without it the camera is the
 * true one.
 */
class TakesTest {

    /** Part of a track's sightings that lie in the mover's rectangle, [0, 1]. */
    private static double inside(Track t, JsonNode boxes) {
        int n = 0;
        for (int i = 0; i < t.length(); i++) {
            JsonNode b = boxes.get(t.frames()[i] - 1);
            if (t.x()[i] > b.get(0).asDouble()
                    && t.y()[i] > b.get(1).asDouble()
                    && t.x()[i] < b.get(2).asDouble()
                    && t.y()[i] < b.get(3).asDouble()) n++;
        }
        return (double) n / t.length();
    }

    private static void check(String take, TrackSettings.Quality quality, double pathLimit) throws Exception {
        TrueCamera real = TrueCamera.of(take);
        JsonNode boxes = real.truth().path("mover");
        try (Plate p = Plate.open(Path.of("demo/" + take + ".mp4"), null, null)) {
            List<Track> all = AutoTracker.track(
                    p, p.first(), p.last(), null, new TrackSettings(400, 0.02, 7, 0, 6, quality), Progress.NONE);
            List<Movers.Group> groups = Movers.find(all, p.width(), p.height());
            Set<Integer> moving = new HashSet<>();
            groups.forEach(g -> moving.addAll(g.tracks()));
            List<Track> still =
                    all.stream().filter(t -> !moving.contains(t.id())).toList();
            // Ground is seen between and beside the wheels, so the rectangle holds marks that stand still, too: what
            // counts is which are in a group.
            long right = all.stream()
                    .filter(t -> moving.contains(t.id()) && inside(t, boxes) > 0.8)
                    .count();
            double breadth =
                    groups.stream().mapToDouble(Movers.Group::breadth).max().orElse(0);
            SolvedCamera solved = real.aligned(ShotSteps.camera(Shot.BLANK, still, p, null, null, Progress.NONE));
            TrueCamera.Difference d = real.from(solved);
            System.out.printf(
                    "%s: %d tracks, %d in %d moving groups (%d of them on the mover, %.0f %% of the "
                            + "picture); camera without them: path %.2f %%, rotation %.3f deg, focal %+.2f "
                            + "%%, %.3f px RMS%n",
                    take,
                    all.size(),
                    moving.size(),
                    groups.size(),
                    right,
                    100 * breadth,
                    100 * d.path(),
                    d.turnDeg(),
                    100 * d.focal(),
                    solved.rmsPx());
            assertThat(right).as("tracks of the mover found as a group").isGreaterThan(20);
            assertThat((double) right / moving.size())
                    .as("part of the groups that is the mover")
                    .isGreaterThan(0.8);
            assertThat(breadth).isGreaterThan(0.15);
            assertThat(d.path()).isLessThan(pathLimit);
            assertThat(solved.rmsPx()).isLessThan(0.8);
        }
    }

    @Test
    void theCarrierThatCrossesADarkeningShotIsItsOwnGroup() throws Exception {
        check("LW_020", TrackSettings.Quality.STANDARD, 0.01);
    }

    @Test
    void soItIsWhenTheCameraIsShakenAndBlurred() throws Exception {
        check("LW_030", TrackSettings.Quality.THOROUGH, 0.02);
    }
}

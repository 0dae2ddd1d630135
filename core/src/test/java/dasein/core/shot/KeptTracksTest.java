package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.track.Track;
import java.util.List;
import org.junit.jupiter.api.Test;

/** What a person did to tracks is done to what was computed, never in it. */
class KeptTracksTest {
    private static final List<Track> FOUND = List.of(
            new Track(1, new int[] {1, 2, 3, 4}, new double[] {10, 11, 12, 13}, new double[] {1, 1, 1, 1}),
            new Track(2, new int[] {4, 5, 6}, new double[] {99, 14, 15}, new double[] {2, 2, 2}),
            new Track(3, new int[] {1, 2}, new double[] {5, 5}, new double[] {5, 5}));

    @Test
    void deletedCutAndJoined() {
        TrackRecipe r = Shot.BLANK.tracks().withDeleted(List.of(3)).withJoins(List.of(new TrackRecipe.Join(1, 2)));
        List<Track> kept = ShotSteps.kept(r, FOUND);
        assertThat(kept).hasSize(1);
        // Where both have a place, the first one's stays.
        assertThat(kept.get(0).frames()).containsExactly(1, 2, 3, 4, 5, 6);
        assertThat(kept.get(0).x()).containsExactly(10, 11, 12, 13, 14, 15);
        List<Track> cut = ShotSteps.kept(r.withCuts(List.of(new TrackRecipe.Cut(1, 3, 4))), FOUND);
        assertThat(cut.get(0).x()).containsExactly(10, 11, 99, 14, 15);
        assertThat(FOUND.get(0).length()).isEqualTo(4);
    }

    @Test
    void whatLiesOutsideTheRangeGoes() {
        List<Track> in = ShotSteps.inRange(FOUND, 3, 5);
        assertThat(in).extracting(Track::id).containsExactly(1, 2);
        assertThat(in.get(1).frames()).containsExactly(4, 5);
    }
}

package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.plate.Rate;
import org.junit.jupiter.api.Test;

/**
 * Solves of shots with known truth. Limits are the project's own aims: path 0.5 %, rotation 0.1 degree, focal 1 %,
 * held-out 1 px.
 */
class CameraSolverTest {
    private static final Rate RATE = new Rate(24, 1);

    @Test
    void findsCameraLensAndPointsAmongLyingTracks() {
        KnownShot shot = new KnownShot(96, 400, 0.15, 0.3, 1, 5);
        SolvedCamera s =
                CameraSolver.solve(shot.tracks, shot.width, shot.height, RATE, SolveSettings.UNKNOWN, Progress.NONE);
        KnownShot.Error e = shot.compare(s);
        System.out.println("96 frames, 30 % lying: " + e + " rms " + s.rmsPx() + " k1 " + s.k1());
        assertThat(s.frames()).hasSize(96);
        assertThat(e.pathPart()).isLessThan(0.005);
        assertThat(e.rotationDeg()).isLessThan(0.1);
        assertThat(e.focalPart()).isLessThan(0.01);
        assertThat(e.heldOutPx()).isLessThan(1);
        assertThat(s.rmsPx()).isLessThan(0.6);
        assertThat(s.k1()).isBetween(-0.10, -0.08);
    }

    @Test
    void chainSurvivesThreeHundredFrames() {
        KnownShot shot = new KnownShot(300, 1500, 0.3, 0.1, 0.4, 9);
        SolvedCamera s =
                CameraSolver.solve(shot.tracks, shot.width, shot.height, RATE, SolveSettings.UNKNOWN, Progress.NONE);
        KnownShot.Error e = shot.compare(s);
        System.out.println("300 frames: " + e + " rms " + s.rmsPx());
        assertThat(s.frames()).hasSize(300);
        assertThat(e.pathPart()).isLessThan(0.005);
        assertThat(e.heldOutPx()).isLessThan(1);
    }

    @Test
    void aKnownFocalLengthIsHeld() {
        KnownShot shot = new KnownShot(60, 200, 0.3, 0.1, 1, 3);
        SolvedCamera s = CameraSolver.solve(
                shot.tracks, shot.width, shot.height, RATE, SolveSettings.UNKNOWN.withFocal(1100), Progress.NONE);
        assertThat(s.frames().get(30).focalPx()).isEqualTo(1100);
        assertThat(shot.compare(s).pathPart()).isLessThan(0.005);
    }

    @Test
    void sameTracksSameSolve() {
        KnownShot shot = new KnownShot(40, 150, 0.3, 0.1, 1, 4);
        SolvedCamera a =
                CameraSolver.solve(shot.tracks, shot.width, shot.height, RATE, SolveSettings.UNKNOWN, Progress.NONE);
        SolvedCamera b =
                CameraSolver.solve(shot.tracks, shot.width, shot.height, RATE, SolveSettings.UNKNOWN, Progress.NONE);
        assertThat(b).isEqualTo(a);
    }

    @Test
    void aCameraThatOnlyTurnsIsRefusedWithTheReason() {
        KnownShot shot = new KnownShot(60, 200, 0.2, 0, 0, 6);
        assertThatThrownBy(() -> CameraSolver.solve(
                        shot.tracks,
                        shot.width,
                        shot.height,
                        RATE,
                        SolveSettings.UNKNOWN.with(SolveSettings.Kind.MOVING),
                        Progress.NONE))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("parallax");
    }

    @Test
    void tooFewFramesIsSaid() {
        KnownShot shot = new KnownShot(3, 0, 0, 0, 1, 1);
        java.util.List<dasein.core.track.Track> few = new java.util.ArrayList<>();
        for (int i = 1; i <= 30; i++)
            few.add(new dasein.core.track.Track(
                    i, new int[] {1, 2, 3}, new double[] {i, i + 1, i + 2}, new double[] {i, i, i}));
        assertThatThrownBy(() ->
                        CameraSolver.solve(few, shot.width, shot.height, RATE, SolveSettings.UNKNOWN, Progress.NONE))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("3 frames");
    }
}

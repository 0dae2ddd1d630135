package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.comp.Variant;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Of which pixels a piece of the set is seen, against where its corners are projected. */
class PieceCoverTest {
    private static final int W = 120, H = 90;
    private static final Pose EYE = Pose.lookAt(new Vec3(0, 1, 5), new Vec3(0, 1, 0), Vec3.Y);
    private static final View VIEW = new View(EYE, EYE, new Lens(100, 60, 45, 0, 0), W, H);

    private static Piece box(int id, double z, double size) {
        return new Piece(
                id,
                "box " + id,
                Piece.Kind.BOX,
                new Piece.Stand(0, 0, z, 0),
                new Piece.Size(size, size, 0.1),
                0,
                List.of(),
                List.of(Piece.Role.SHADOW, Piece.Role.HIDE),
                new Piece.Mirror(0, 1),
                "",
                0,
                1,
                Map.of());
    }

    private static float[] cover(int piece, Piece... all) {
        SetPieces set = new SetPieces(SetRecipe.BLANK.withPieces(List.of(all)), null, Map.of(), Map.of(), 24);
        return PieceCover.of(set.there(1), piece, VIEW, W, H);
    }

    private static double sum(float[] part) {
        double n = 0;
        for (float v : part) n += v;
        return n;
    }

    @Test
    void aWallIsSeenWhereItsFrontIsProjected() {
        float[] part = cover(1, box(1, 0, 2));
        // Its front, 2 m square, is 4.95 m away.
        double side = 100 * 2 / 4.95;
        assertThat(sum(part)).isCloseTo(side * side, within(0.03 * side * side));
        assertThat(part[45 * W + 60]).isEqualTo(1, within(1e-4f));
        assertThat(part[45 * W + 60 + (int) side / 2 + 3]).isZero();
    }

    @Test
    void whatStandsBeforeItHidesIt() {
        float[] far = cover(1, box(1, -2, 2), box(2, 1, 1)), near = cover(2, box(1, -2, 2), box(2, 1, 1));
        assertThat(far[50 * W + 60]).as("behind the nearer").isZero();
        assertThat(near[50 * W + 60]).isEqualTo(1, within(1e-4f));
        assertThat(cover(1, box(1, -40, 0.2), box(2, 1, 2)))
                .as("hidden altogether")
                .isNull();
        assertThat(cover(7, box(1, 0, 2))).as("none of that number").isNull();
    }

    @Test
    void groundAndWallShareThePictureBelowTheHorizon() {
        float[] ground = cover(Variant.GROUND, box(1, 0, 2)), wall = cover(1, box(1, 0, 2));
        for (int i = 0; i < W * H; i++) assertThat(ground[i] + wall[i]).isLessThanOrEqualTo(1.0001f);
        assertThat(ground[85 * W + 60]).isEqualTo(1, within(1e-4f));
        assertThat(ground[45 * W + 60]).isZero();
    }
}

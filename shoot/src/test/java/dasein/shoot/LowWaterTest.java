package dasein.shoot;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.ground.GroundFit;
import dasein.core.ground.PickedPoint;
import dasein.core.ground.Piece;
import dasein.core.ground.PieceFit;
import dasein.core.ground.SetRecipe;
import dasein.core.ground.Shape;
import dasein.core.math.Vec3;
import dasein.core.plate.Plate;
import dasein.core.solve.SolvedCamera;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * The whole chain on LW_010 against what only the simulated shoot knows. The limits are the ones the project set
 * itself.
 */
class LowWaterTest {
    private static TrueCamera real;
    private static Plate plate;
    private static SolvedCamera solved;
    /** The same in its own frame. */
    private static SolvedCamera own;

    @BeforeAll
    static void solve() throws Exception {
        real = TrueCamera.of("LW_010");
        plate = Plate.open(Path.of("demo/LW_010.mp4"), null, null);
        SolvedCamera s = LowWaterSolve.get().camera();
        own = s;
        solved = real.aligned(s);
    }

    @Test
    void theSolvedCameraIsTheTrueOne() {
        double held = 0;
        int n = 0;
        for (SolvedCamera.Frame f : solved.frames()) {
            for (JsonNode q : real.truth().path("heldOut")) {
                Vec3 p = Vec3.of(TrueCamera.numbers(q));
                double[] a = real.lens().project(real.pose(f.frame()).toLocal(p)),
                        b = solved.lens(f.frame()).project(f.pose().toLocal(p));
                if (a == null || b == null || a[0] < 0 || a[1] < 0 || a[0] >= plate.width() || a[1] >= plate.height())
                    continue;
                held += Math.pow(a[0] - b[0], 2) + Math.pow(a[1] - b[1], 2);
                n++;
            }
        }
        TrueCamera.Difference d = real.from(solved);
        double heldPx = Math.sqrt(held / n);
        System.out.printf(
                "LW_010 against its truth: path %.3f %% of its length, rotation %.4f deg RMS, focal %+.2f "
                        + "%%, k1 %.4f (true %.4f), %d held-out sightings %.3f px RMS, solve %.3f px RMS%n",
                100 * d.path(),
                d.turnDeg(),
                100 * d.focal(),
                solved.k1(),
                real.lens().k1(),
                n,
                heldPx,
                solved.rmsPx());
        assertThat(solved.frames()).hasSize(96);
        assertThat(d.path()).isLessThan(0.005);
        assertThat(d.turnDeg()).isLessThan(0.1);
        assertThat(Math.abs(d.focal())).isLessThan(0.01);
        assertThat(heldPx).isLessThan(1);
        assertThat(solved.rmsPx()).isLessThan(0.6);
    }

    /**
     * Ground as proposed, size from two taped distances between points picked as a hand picks them (0.3 px), and the
     * taped crate built around six of its corners.
     */
    @Test
    void theSetLaidByHandIsWhereItTrulyIs() {
        Random r = new Random(3);
        JsonNode named = real.truth().path("named");
        Vec3 foot = Vec3.of(TrueCamera.numbers(named.path("survey pole foot"))),
                crate = Vec3.of(TrueCamera.numbers(named.path("crate corner, near left")));
        Vec3[] corner = new Vec3[8];
        for (int i = 0; i < 8; i++)
            corner[i] = crate.plus(new Vec3((i & 1) * 0.55, (i >> 1 & 1) * 0.4, -(i >> 2) * 0.55));
        List<PickedPoint> points = new java.util.ArrayList<>(List.of(
                real.picked(0, foot, 0, r, 1, 50, 96),
                real.picked(1, foot.plus(new Vec3(0, 2.4, 0)), 0, r, 1, 50, 96)));
        int[] seen = {0, 1, 2, 3, 6, 7};
        for (int k = 0; k < seen.length; k++) points.add(real.picked(2 + k, corner[seen[k]], 0, r, 1, 40, 96));
        int first = PickedPoint.FIRST_ID;
        SetRecipe recipe = new SetRecipe(
                        List.of(),
                        first,
                        first,
                        first + 2,
                        List.of(
                                new SetRecipe.Yardstick("pole", first + 1, SetRecipe.Yardstick.GROUND, 2.4),
                                new SetRecipe.Yardstick("pole to crate", first, first + 2, foot.distance(crate))),
                        SetRecipe.BLANK.catcher(),
                        0,
                        0)
                .withPoints(points);
        GroundFit.Result g = GroundFit.fit(own, recipe);
        SolvedCamera c = own.in(g.toSet());
        Vec3 up = c.frame(48).pose().rotation().conjugate().rotate(Vec3.Y),
                trueUp = real.pose(48).rotation().conjugate().rotate(Vec3.Y);
        double tilt = Math.toDegrees(Math.acos(Math.min(1, up.dot(trueUp)))),
                scale =
                        c.frame(1).pose().position().distance(c.frame(96).pose().position())
                                / real.pose(1).position().distance(real.pose(96).position());
        List<Vec3> around = new java.util.ArrayList<>();
        for (int k = 0; k < seen.length; k++) around.add(g.places().get(first + 2 + k));
        Piece box = PieceFit.around(
                new Piece(1, "crate", Piece.Kind.BOX, 0, 0, 0, 0, 1, 1, 1, 0, List.of(), List.of(), 0, 0), around);
        float[] xyz = Shape.of(box, null).xyz();
        double sum = 0, worst = 0;
        int n = 0;
        for (int f = 1; f <= 96; f += 5) {
            for (Vec3 q : corner) {
                double near = real.cornerOff(c, f, xyz, q);
                sum += near * near;
                n++;
                worst = Math.max(worst, near);
            }
        }
        System.out.printf(
                "set of LW_010 laid by hand: tilt %.3f deg, scale off by %.2f %%, crate %.3f x %.3f x %.3f "
                        + "m (true 0.55 x 0.4 x 0.55), its corners %.2f px RMS, worst %.2f px; %s%n",
                tilt, 100 * (scale - 1), box.width(), box.height(), box.depth(), Math.sqrt(sum / n), worst, g.checks());
        assertThat(tilt).isLessThan(0.1);
        assertThat(scale).isCloseTo(1, org.assertj.core.api.Assertions.within(0.005));
        assertThat(Math.sqrt(sum / n)).isLessThan(1);
        assertThat(g.checks()).noneMatch(GroundFit.Check::contradicts);
    }
}

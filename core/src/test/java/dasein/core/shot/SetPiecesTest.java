package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.ground.Cut;
import dasein.core.ground.Piece;
import dasein.core.ground.Piece.Kind;
import dasein.core.ground.Piece.Role;
import dasein.core.ground.SetRecipe;
import dasein.core.key.Curve;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.render.Beyond;
import dasein.core.render.ray.Tracer;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

/** Stand-ins in time: what is keyed, what is carried by a moving thing, and a ground that opens. */
class SetPiecesTest {
    private static Piece box(Map<String, Curve> curves, int follows) {
        return new Piece(
                1,
                "door",
                Kind.BOX,
                new Piece.Stand(1, 0, -2, 0),
                new Piece.Size(1, 2, 0.1),
                0,
                List.of(),
                List.of(Role.SHADOW, Role.HIDE),
                new Piece.Mirror(0.3, 1),
                "",
                follows,
                10,
                curves);
    }

    /** Straight from frame 1 to frame 11. */
    private static Curve line(double from, double to) {
        return new Curve(
                List.of(new Curve.Key(1, from, Curve.Ease.LINEAR), new Curve.Key(11, to, Curve.Ease.LINEAR)),
                List.of());
    }

    private static Vec3 middle(float[] p) {
        Vec3 m = Vec3.ZERO;
        for (int i = 0; i < p.length; i += 3) m = m.plus(new Vec3(p[i], p[i + 1], p[i + 2]).times(3.0 / p.length));
        return m;
    }

    private static Mesh door(Piece p, Map<Integer, NavigableMap<Integer, Pose>> moved, double open, double close) {
        return new SetPieces(SetRecipe.BLANK.withPieces(List.of(p)), null, Map.of(), moved, 24)
                .at(open, close)
                .get(1);
    }

    @Test
    void keyedAndCarriedPiecesMoveWithinTheShutter() {
        Map<String, Curve> keys = Map.of("x", line(1, 3), "heading", line(0, 90));
        Mesh m = door(box(keys, 0), Map.of(), 5.5, 6.5);
        assertThat(middle(m.position0()).distance(new Vec3(1.9, 1, -2))).isLessThan(1e-5);
        assertThat(middle(m.position1()).distance(new Vec3(2.1, 1, -2))).isLessThan(1e-5);
        assertThat(middle(door(box(keys, 0), Map.of(), 40, 40).position0()).distance(new Vec3(3, 1, -2)))
                .isLessThan(1e-5);
        // A thing that goes a metre a frame and turns; the piece was built on it in frame 10.
        NavigableMap<Integer, Pose> way = new TreeMap<>();
        for (int f = 5; f <= 20; f++)
            way.put(f, new Pose(Quat.axisAngle(Vec3.Y, 0.1 * (f - 10)), new Vec3(f - 10, 0, 0)));
        Vec3 at = middle(door(box(Map.of(), 4), Map.of(4, way), 12, 12).position0()),
                want = new Pose(Quat.axisAngle(Vec3.Y, 0.2), new Vec3(2, 0, 0)).toWorld(new Vec3(1, 1, -2));
        assertThat(at.distance(want)).isLessThan(1e-5);
        assertThat(new SetPieces(
                                SetRecipe.BLANK.withPieces(List.of(box(Map.of(), 4))),
                                null,
                                Map.of(),
                                Map.of(4, way),
                                24)
                        .at(30, 30))
                .hasSize(1);
        assertThatThrownBy(() -> door(box(Map.of(), 5), Map.of(4, way), 12, 12))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("door");
    }

    @Test
    void aHoleOpensTheGroundOnlyWhereItIs() {
        Piece hole = new Piece(2, "shaft", Kind.HOLE, 2, 0, -1, 30, 1, 0, 2, 0, List.of(), List.of(), 0, 0);
        Mesh ground = new SetPieces(SetRecipe.BLANK.withPieces(List.of(hole)), null, Map.of(), Map.of(), 24)
                .at(1, 1)
                .get(0);
        Tracer t = Tracer.of(List.of(ground));
        double c = Math.cos(Math.toRadians(30)), s = Math.sin(Math.toRadians(30));
        for (double[] q :
                new double[][] {{0, 0}, {0.48, 0.98}, {-0.48, -0.98}, {0.52, 0}, {0, 1.02}, {-0.52, 0.5}, {3, 3}}) {
            float x = (float) (2 + c * q[0] + s * q[1]), z = (float) (-1 - s * q[0] + c * q[1]);
            boolean open = Math.abs(q[0]) < 0.5 && Math.abs(q[1]) < 1;
            assertThat(t.nearest(x, 2, z, 0, -1, 0, 10, 0.5f, 0.5f))
                    .as(q[0] + ", " + q[1])
                    .isEqualTo(!open);
        }
        double area = 0;
        float[] p = ground.position0();
        for (int k = 0; k < ground.index().length; k += 3) {
            Vec3[] v = new Vec3[3];
            for (int i = 0; i < 3; i++)
                v[i] = new Vec3(p[3 * ground.index()[k + i]], 0, p[3 * ground.index()[k + i] + 2]);
            Vec3 n = v[1].minus(v[0]).cross(v[2].minus(v[0]));
            assertThat(n.y()).isNotNegative();
            area += n.length() / 2;
        }
        assertThat(area).isCloseTo(14 * 14 - 2, within(1e-3));
    }

    /** Beyond the catcher the ground is open at holes and at what stands deeper than it. */
    @Test
    void theGroundBeyondIsOpenWhereSomethingIsBelow() {
        List<Piece.Role> does = List.of(Piece.Role.SHADOW);
        Piece hole = new Piece(2, "shaft", Kind.HOLE, 20, 0, 0, 0, 2, 0, 2, 0, List.of(), List.of(), 0, 0),
                water = new Piece(3, "water", Kind.FLOOR, 0, -1, -30, 0, 20, 0, 10, 0, List.of(), does, 0, 0),
                kerb = new Piece(4, "kerb", Kind.BOX, -20, 0, 0, 0, 4, 0.2, 4, 0, List.of(), does, 0, 0);
        SetRecipe set = SetRecipe.BLANK.withPieces(List.of(hole, water, kerb));
        Beyond b = new SetPieces(set, null, Map.of(), Map.of(), 24).beyond();
        double[][] asked = {{20.5, 0.5}, {9, -26}, {-20, 0}, {30, 30}, {0, 0}};
        boolean[] open = {true, true, false, false, true};
        for (int i = 0; i < asked.length; i++) {
            double x = asked[i][0], z = asked[i][1];
            assertThat(b.open().stream().anyMatch(o -> Cut.inside(o, x, z)))
                    .as(x + ", " + z)
                    .isEqualTo(open[i]);
        }
        SetRecipe ends = set.with(new SetRecipe.Catcher(0, 0, 14, 14));
        assertThat(new SetPieces(ends, null, Map.of(), Map.of(), 24).beyond()).isNull();
    }
}

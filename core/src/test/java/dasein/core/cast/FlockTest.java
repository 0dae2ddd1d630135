package dasein.core.cast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.cast.Flock.Layout;
import dasein.core.cast.Flock.Motion;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.shot.OnSet;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/**
 * Flocks: the same on every machine whatever frame is asked for first, falling by the formulas of free fall, at rest on
 * what lies below.
 */
class FlockTest {
    private static final double RATE = 24;

    /** A box of 0.4 x 0.2 x 0.6, resting on the ground. */
    private static Model box() {
        float[] p = new float[24];
        for (int i = 0; i < 8; i++) {
            p[3 * i] = (i & 1) * 0.4f - 0.2f;
            p[3 * i + 1] = (i >> 1 & 1) * 0.2f;
            p[3 * i + 2] = (i >> 2) * 0.6f - 0.3f;
        }
        int[] index = {
            0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5
        };
        return new Model(
                "box",
                List.of(new Model.Node(
                        "box", -1, new float[3], new float[] {0, 0, 0, 1}, new float[] {1, 1, 1}, new float[0])),
                List.of(new Model.Part(
                        0,
                        -1,
                        p,
                        new float[24],
                        new float[16],
                        index,
                        0,
                        new int[0],
                        new float[0],
                        new float[0][],
                        new float[0][])),
                List.of(),
                List.of(),
                new Material[] {Material.matt(0.5f, 0.5f, 0.5f)});
    }

    private static Flock flock(int count, int seed, Layout layout, Motion motion, double push, double drag) {
        return new Flock(
                count,
                seed,
                new Flock.Room(layout, 6, 4, motion == Motion.FALL ? 0 : 1),
                new Flock.Differences(0.2, 180, 0, 0, 0.2),
                motion,
                0.5,
                new Flock.Fall(1, 0, push, 9.81, drag, 0.5, motion == Motion.FALL && push > 0 ? 300 : 0));
    }

    private static Blocking of(Flock f, double y, Blocking.Around around, Route r) {
        Performer p = new Performer(1, "box", "b", 1, y, -2, 0, 0.2, "", 0, 1, true)
                .with(f)
                .with(r);
        return new Blocking(List.of(p.standing(Performer.Feet.REST, y == 0)), Map.of("b", box()), 1, RATE, around);
    }

    private static double[] xyz(Blocking.Copy c) {
        return new double[] {c.toSet()[3], c.toSet()[7], c.toSet()[11]};
    }

    /** Of all copies, one after the other. */
    private static float[] corners(Blocking b, double frame) {
        Mesh m = b.meshes(frame, frame).get(0);
        float[] p = m.position0(),
                to = m.copies().open(),
                out = new float[m.copies().count() * p.length];
        for (int c = 0, at = 0; c < m.copies().count(); c++) {
            for (int v = 0; v < p.length; v += 3)
                for (int r = 12 * c; r < 12 * c + 12; r += 4)
                    out[at++] = to[r] * p[v] + to[r + 1] * p[v + 1] + to[r + 2] * p[v + 2] + to[r + 3];
        }
        return out;
    }

    @Test
    void theSameWhateverIsAskedForFirst() {
        for (Motion m : Motion.values()) {
            Flock f = flock(30, 5, Layout.AREA, m, 2, 0.1);
            Blocking a = of(f, 3, Blocking.Around.NOTHING, null),
                    b = of(f, 3, Blocking.Around.NOTHING, null),
                    other = of(flock(30, 6, Layout.AREA, m, 2, 0.1), 3, Blocking.Around.NOTHING, null);
            a.copies(1, 90);
            for (double frame : new double[] {20.25, 90, 3}) {
                for (int i = 0; i < 30; i++)
                    assertThat(a.copies(1, frame).get(i).toSet())
                            .containsExactly(b.copies(1, frame).get(i).toSet());
                assertThat(a.copies(1, frame).get(4).toSet())
                        .isNotEqualTo(other.copies(1, frame).get(4).toSet());
            }
        }
    }

    /** No two touch, none stands in somebody else's way, over the edge of a step, or in a wall. */
    @Test
    void keptClearOfOthersAndOfPieces() {
        List<Piece.Role> does = List.of(Piece.Role.SHADOW);
        Piece step = new Piece(1, "step", Piece.Kind.BOX, 3, 0, -2, 0, 2, 0.5, 10, 0, List.of(), does, 0, 0),
                wall = new Piece(2, "wall", Piece.Kind.WALL, -0.5, 0, -2, 90, 9, 2, 0, 0, List.of(), does, 0, 0);
        OnSet set = new OnSet(
                SetRecipe.BLANK.withPieces(List.of(step, wall)), null, Map.of(), Map.of(), List.of(), Map.of());
        Flock f = new Flock(
                60,
                2,
                new Flock.Room(Layout.AREA, 6, 4, 0),
                new Flock.Differences(0.2, 180, 0, 0, 0),
                Motion.STAND,
                0,
                new Flock.Fall(1, 0, 0, 9.81, 0, 0, 0),
                true);
        Performer walks = new Performer(2, "walks", "b", 0, 0, 0, 0, 0.4, "", 0, 1, true)
                .with(new Route(List.of(0.5, -4.0, 0.5, 0.0), 1, 1, false));
        Blocking b = new Blocking(
                List.of(
                        new Performer(1, "box", "b", 1, 0, -2, 0, 0.2, "", 0, 1, true)
                                .with(f)
                                .standing(Performer.Feet.REST, true),
                        walks),
                Map.of("b", box()),
                1,
                RATE,
                set);
        List<Blocking.Copy> all = b.copies(1, 10);
        assertThat(all).hasSize(b.found(1));
        assertThat(all.size()).isBetween(20, 60);
        for (int i = 0; i < all.size(); i++) {
            double[] p = xyz(all.get(i));
            double r = radius(all.get(i));
            for (int k = 0; k < i; k++) {
                double[] q = xyz(all.get(k));
                assertThat(Math.hypot(p[0] - q[0], p[2] - q[2])).isGreaterThan(r + radius(all.get(k)) - 1e-6);
            }
            assertThat(Math.abs(p[0] - 2)).as("edge of the step").isGreaterThan(0.7 * r);
            assertThat(Math.abs(p[0] + 0.5)).as("wall").isGreaterThan(0.7 * r);
            assertThat(Math.abs(p[0] - 0.5)).as("way of another").isGreaterThan(r);
        }
        // Where they stand they stay, and what finds no room is left out.
        assertThat(b.copies(1, 50).get(3).toSet()).containsExactly(all.get(3).toSet());
        Flock many = new Flock(2000, 2, f.room(), f.differences(), Motion.STAND, 0, f.fall(), true);
        assertThat(of(many, 0, set, null).found(1)).isBetween(40, 1500);
    }

    /** Of the circle about a copy's box. */
    private static double radius(Blocking.Copy c) {
        double[] m = c.toSet();
        float[] b = box().bounds();
        return Math.sqrt(m[0] * m[0] + m[4] * m[4] + m[8] * m[8]) * Math.max(b[3] - b[0], b[5] - b[2]) / 2;
    }

    @Test
    void scatteredOverTheAreaOnWhatLiesThere() {
        Piece step = new Piece(
                1, "step", Piece.Kind.BOX, 3, 0, -2, 0, 2, 0.5, 10, 0, List.of(), List.of(Piece.Role.SHADOW), 0, 0);
        OnSet set = new OnSet(SetRecipe.BLANK.withPieces(List.of(step)), null, Map.of(), Map.of(), List.of(), Map.of());
        Flock f = new Flock(
                200,
                2,
                new Flock.Room(Layout.AREA, 6, 4, 0),
                new Flock.Differences(0.2, 180, 0, 0, 0),
                Motion.STAND,
                0,
                new Flock.Fall(1, 0, 0, 9.81, 0, 0, 0));
        List<Blocking.Copy> all = of(f, 0, set, null).copies(1, 10);
        int[] quarter = new int[4];
        for (Blocking.Copy c : all) {
            double[] p = xyz(c);
            assertThat(Math.abs(p[0] - 1)).isLessThan(3.1);
            assertThat(Math.abs(p[2] + 2)).isLessThan(2.1);
            assertThat(p[1]).isCloseTo(p[0] > 2 ? 0.5 : 0, within(1e-6));
            double size =
                    Math.sqrt(c.toSet()[1] * c.toSet()[1] + c.toSet()[5] * c.toSet()[5] + c.toSet()[9] * c.toSet()[9]);
            assertThat(size).isBetween(0.8, 1.2);
            quarter[(p[0] > 1 ? 1 : 0) + (p[2] > -2 ? 2 : 0)]++;
        }
        // Evenly: a random scatter would leave a quarter with 50 +- 6.
        for (int n : quarter) assertThat(n).isBetween(43, 57);
        Mesh m = of(flock(50, 2, Layout.AREA, Motion.STAND, 0, 0), 0, set, null)
                .meshes(5, 5)
                .get(0);
        // All are one box in fifty places.
        assertThat(m.triangles()).isEqualTo(12);
        assertThat(m.copies().count()).isEqualTo(50);
        assertThat(Arrays.stream(m.copies().firstMaterial()).distinct().count()).isGreaterThan(3);
        assertThatThrownBy(() -> Flock.of(5000)).isInstanceOf(BadInput.class);
    }

    @Test
    void fallsFreelyBouncesAndLiesStill() {
        // No push, no air: y = h - g t^2 / 2 until the box touches, then back up by the square of what it keeps.
        Blocking b = of(flock(1, 1, Layout.POINT, Motion.FALL, 0, 0), 4, Blocking.Around.NOTHING, null);
        double size = b.copies(1, 1).get(0).toSet()[5], top = xyz(b.copies(1, 1).get(0))[1];
        assertThat(top).isCloseTo(4, within(1e-6));
        for (int f = 1; f < 21; f++) {
            double t = (f - 1) / RATE;
            assertThat(xyz(b.copies(1, f).get(0))[1]).isCloseTo(4 - 9.81 * t * t / 2, within(0.03));
        }
        double hit = 1 + RATE * Math.sqrt(2 * 4 / 9.81), high = 0;
        for (double f = hit + 1; f < hit + 24; f++)
            high = Math.max(high, xyz(b.copies(1, f).get(0))[1]);
        assertThat(high).isCloseTo(4 * 0.25, within(0.12));
        assertThat(size).isPositive();
        // Many, thrown about and tumbling: in the end each lies flat on the ground, still, and never was below it.
        Blocking many = of(flock(60, 4, Layout.POINT, Motion.FALL, 3, 0.2), 2, Blocking.Around.NOTHING, null);
        for (int f = 1; f < 200; f += 3) {
            float[] p = corners(many, f);
            for (int i = 1; i < p.length; i += 3) assertThat(p[i]).isGreaterThan(-0.012f);
        }
        float[] now = corners(many, 300), later = corners(many, 330);
        for (int i = 0; i < 60; i++) {
            double low = 1e9;
            int down = 0;
            for (int v = 0; v < 8; v++) low = Math.min(low, now[24 * i + 3 * v + 1]);
            for (int v = 0; v < 8; v++) if (now[24 * i + 3 * v + 1] < low + 0.002) down++;
            assertThat(low).isCloseTo(0, within(0.002));
            assertThat(down).isEqualTo(4);
        }
        assertThat(later).usingComparatorWithPrecision(1e-5f).isEqualTo(now);
    }

    @Test
    void fliesNoseFirstAlongTheRoute() {
        Blocking b = of(
                flock(40, 3, Layout.AREA, Motion.FLY, 0, 0),
                5,
                Blocking.Around.NOTHING,
                new Route(List.of(0.0, 0.0, 20.0, 0.0, 40.0, -15.0), 1, 6, false));
        double along = 0;
        for (int i = 0; i < 40; i++) {
            double[] a = xyz(b.copies(1, 39.5).get(i)),
                    c = xyz(b.copies(1, 40.5).get(i)),
                    m = b.copies(1, 40).get(i).toSet();
            double dx = c[0] - a[0], dz = c[2] - a[2], l = Math.hypot(dx, dz), n = Math.hypot(m[2], m[10]);
            assertThat((dx * m[2] + dz * m[10]) / (l * n)).isGreaterThan(0.999);
            along += dx * RATE / 40;
        }
        assertThat(along).isCloseTo(6, within(0.6));
    }
}

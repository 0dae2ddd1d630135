package dasein.core.light.sun;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import dasein.core.light.Sun;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** A box's shadow on level ground is the hull of its corners' shadows: its edge is known without casting a ray. */
class OutlineSunTest {
    private static final Vec3 SUN = Sun.direction(Math.toRadians(35), Math.toRadians(-50));
    private static final double W = 2.4, H = 1.7, D = 1.1;

    /** By where the ray enters and leaves its slabs. */
    private static boolean box(Vec3 p, Vec3 d) {
        double near = 1e-6, far = 1e9;
        double[] o = p.array(), v = d.array(), low = {-W / 2, 0, -D / 2}, high = {W / 2, H, D / 2};
        for (int k = 0; k < 3; k++) {
            double a = (low[k] - o[k]) / v[k], b = (high[k] - o[k]) / v[k];
            near = Math.max(near, Math.min(a, b));
            far = Math.min(far, Math.max(a, b));
        }
        return near < far;
    }

    /** The shadow's outline, going round it: its lit side is to the right. */
    private static List<Vec3> outline() {
        List<Vec3> all = new ArrayList<>();
        for (int k = 0; k < 8; k++) {
            Vec3 c = new Vec3((k & 1) == 0 ? -W / 2 : W / 2, (k & 2) == 0 ? 0 : H, (k & 4) == 0 ? -D / 2 : D / 2);
            all.add(c.minus(SUN.times(c.y() / SUN.y())));
        }
        List<Vec3> hull = new ArrayList<>();
        Vec3 at = all.stream().min((a, b) -> Double.compare(a.x(), b.x())).orElseThrow();
        do {
            hull.add(at);
            Vec3 next = all.get(0);
            for (Vec3 c : all) if (next.distance(at) < 1e-9 || side(at, next, c) < 0) next = c;
            at = next;
        } while (at.distance(hull.get(0)) > 1e-9);
        return hull;
    }

    private static double side(Vec3 a, Vec3 b, Vec3 c) {
        return (b.x() - a.x()) * (c.z() - a.z()) - (b.z() - a.z()) * (c.x() - a.x());
    }

    /** Half way along sides of the outline, off by noise. @param pixel metres */
    private static List<OutlineSun.Stroke> strokes(double pixel, double noise, Random r) {
        List<Vec3> o = outline();
        List<OutlineSun.Stroke> out = new ArrayList<>();
        Vec3 middle = Vec3.ZERO;
        for (Vec3 p : o) middle = middle.plus(p.times(1.0 / o.size()));
        for (int k = 0; k < o.size(); k++) {
            Vec3 a = o.get(k), b = o.get((k + 1) % o.size());
            Vec3 edge = a.plus(b).times(0.5);
            // Beside the box itself there is no shadow's edge to see.
            if (Math.abs(edge.x()) < W / 2 + 0.05 && Math.abs(edge.z()) < D / 2 + 0.05) continue;
            Vec3 run = b.minus(a).unit(), in = new Vec3(-run.z(), 0, run.x());
            if (in.dot(middle.minus(edge)) < 0) in = in.times(-1);
            edge = edge.plus(in.times(pixel * noise * r.nextGaussian()));
            out.add(new OutlineSun.Stroke("edge " + k, edge, in, pixel));
        }
        return out;
    }

    @Test
    void aBoxsShadowHoldsTheSunWithinHalfADegree() {
        double worst = 0;
        for (int seed = 0; seed < 10; seed++) {
            ShadowSun.Result r = OutlineSun.of(strokes(0.012, 0.5, new Random(seed)), OutlineSunTest::box);
            double off = Math.toDegrees(Math.acos(Math.min(1, r.towards().dot(SUN))));
            worst = Math.max(worst, off);
            assertThat(off).isLessThan(Math.max(0.2, 4 * r.spreadDeg()));
            assertThat(r.lines()).noneMatch(ShadowSun.Drawn::contradicts);
        }
        System.out.printf("outline of a box: worst of ten %.2f deg%n", worst);
        assertThat(worst).isLessThan(0.5);
    }

    @Test
    void aStrokeThatBelongsToAnotherShadowIsNamed() {
        List<OutlineSun.Stroke> all = new ArrayList<>(strokes(0.012, 0.2, new Random(1)));
        OutlineSun.Stroke s = all.get(0);
        all.set(0, new OutlineSun.Stroke("stray", s.edge().plus(s.way().times(0.2)), s.way(), s.pixel()));
        ShadowSun.Result r = OutlineSun.of(all, OutlineSunTest::box);
        assertThat(r.lines())
                .filteredOn(ShadowSun.Drawn::contradicts)
                .extracting(ShadowSun.Drawn::name)
                .containsExactly("stray");
        assertThat(Math.toDegrees(Math.acos(Math.min(1, r.towards().dot(SUN))))).isLessThan(0.7);
    }

    @Test
    void whatCannotBeSolvedIsSaid() {
        List<OutlineSun.Stroke> all = strokes(0.012, 0, new Random(1));
        assertThatThrownBy(() -> OutlineSun.of(all.subList(0, 1), OutlineSunTest::box))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("two places or more");
        // Twice along one side: the sun is free along it.
        Vec3 run = new Vec3(-all.get(1).way().z(), 0, all.get(1).way().x());
        List<OutlineSun.Stroke> same = List.of(
                all.get(1),
                new OutlineSun.Stroke(
                        "again",
                        all.get(1).edge().plus(run.times(0.1)),
                        all.get(1).way(),
                        0.012));
        assertThatThrownBy(() -> OutlineSun.of(same, OutlineSunTest::box))
                .hasMessageContaining("free in one direction");
        assertThatThrownBy(() -> OutlineSun.of(all, (p, d) -> false)).hasMessageContaining("no sun throws the outline");
    }
}

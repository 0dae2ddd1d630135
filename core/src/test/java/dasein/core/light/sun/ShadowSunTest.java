package dasein.core.light.sun;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.lens.Lens;
import dasein.core.light.Sun;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

class ShadowSunTest {
    private static final Vec3 SUN = Sun.direction(Math.toRadians(38), Math.toRadians(-62));

    private static final Lens LENS = new Lens(1400, 640, 360, -0.06, 0);

    /** Walks by two metres and turns a little. */
    private static final SolvedCamera CAMERA = camera();

    private static SolvedCamera camera() {
        List<SolvedCamera.Frame> f = new ArrayList<>();
        for (int k = 1; k <= 20; k++) {
            Vec3 at = new Vec3(-1 + 0.1 * k, 1.6, 1.5);
            f.add(new SolvedCamera.Frame(k, Pose.lookAt(at, new Vec3(0.2, 0.8, -6), Vec3.Y), 1400, 0.2, 100));
        }
        return new SolvedCamera(1280, 720, new Rate(24, 1), "moving", 0.2, 10, LENS, f, List.of(), 1, List.of());
    }

    private static double[] px(int frame, Vec3 p, Random r) {
        double[] q = LENS.project(CAMERA.pose(frame).toLocal(p));
        return new double[] {q[0] + 0.5 * r.nextGaussian(), q[1] + 0.5 * r.nextGaussian()};
    }

    /** Of something upright, its shadow as the sun throws it on the ground. */
    private static ShadowLine line(String name, Vec3 foot, double height, int frame, boolean withFoot, Random r) {
        Vec3 top = foot.plus(new Vec3(0, height, 0)), tip = top.minus(SUN.times(height / SUN.y()));
        return new ShadowLine(name, frame, withFoot ? px(frame, foot, r) : null, px(frame, top, r), px(frame, tip, r));
    }

    private static double off(ShadowSun.Result r) {
        return Math.toDegrees(Math.acos(Math.min(1, r.towards().dot(SUN))));
    }

    @Test
    void threeLinesHoldTheSunWithinHalfADegree() {
        List<Double> off = new ArrayList<>();
        for (int seed = 0; seed < 20; seed++) {
            Random r = new Random(seed);
            ShadowSun.Result s = ShadowSun.of(
                    CAMERA,
                    List.of(
                            line("pole", new Vec3(-1.9, 0, -6.2), 2.4, 3, true, r),
                            line("bollard", new Vec3(2.3, 0, -5), 0.9, 10, true, r),
                            line("box", new Vec3(0.9, 0, -4.5), 0.8, 18, false, r)));
            off.add(off(s));
            assertThat(s.lines()).noneMatch(ShadowSun.Drawn::contradicts);
            assertThat(s.residualDeg()).isLessThan(1);
        }
        assertThat(off).allSatisfy(o -> assertThat(o).isLessThan(0.9));
        assertThat(off.stream().sorted().toList().get(10)).isLessThan(0.4);
    }

    /** Foot, top, tip: three clicks on one shadow. */
    @Test
    void threeClicksAreEnough() {
        ShadowSun.Result s =
                ShadowSun.of(CAMERA, List.of(line("pole", new Vec3(-1.9, 0, -6.2), 2.4, 3, true, new Random(1))));
        assertThat(off(s)).isLessThan(1);
        assertThat(s.spreadDeg()).isGreaterThan(0.05).isLessThan(1.5);
        assertThat(s.elevationDeg()).isCloseTo(38, within(1.0));
        assertThat(s.azimuthDeg()).isCloseTo(-62, within(1.0));
    }

    @Test
    void heightOfWhatCastsAShadowIsToldByItsFootAndTop() {
        Vec3 foot = new Vec3(-1.9, 0, -6.2);
        Random still = new Random(1) {
            @Override
            public double nextGaussian() {
                return 0;
            }
        };
        ShadowLine l = line("pole", foot, 2.4, 3, true, still);
        assertThat(ShadowSun.height(CAMERA, l)).isCloseTo(2.4, within(1e-6));
        Vec3 run = SUN.times(-2.4 / SUN.y());
        Vec3 along = foot.plus(new Vec3(run.x(), 0, run.z()).times(0.4));
        assertThat(ShadowSun.heightAt(CAMERA, l, along)).isCloseTo(0.4 * 2.4, within(1e-6));
        assertThat(ShadowSun.heightAt(CAMERA, l, along.plus(new Vec3(0, 0, 2)))).isNaN();
    }

    @Test
    void topsAloneHoldItWhenTheyStandApart() {
        Random r = new Random(2);
        ShadowSun.Result s = ShadowSun.of(
                CAMERA,
                List.of(
                        line("pole", new Vec3(-1.9, 0, -6.2), 2.4, 3, false, r),
                        line("bollard", new Vec3(2.3, 0, -5), 0.9, 10, false, r),
                        line("box", new Vec3(0.9, 0, -4.5), 0.8, 18, false, r)));
        assertThat(off(s)).isLessThan(1.5);
    }

    @Test
    void aLineThatContradictsIsNamed() {
        Random r = new Random(3);
        ShadowLine good = line("crate", new Vec3(0.9, 0, -4.5), 0.8, 18, true, r);
        ShadowLine wrong = new ShadowLine(
                "wrong", good.frame(), good.foot(), good.top(), new double[] {good.tip()[0] - 60, good.tip()[1] + 25});
        ShadowSun.Result s = ShadowSun.of(
                CAMERA,
                List.of(
                        line("pole", new Vec3(-1.9, 0, -6.2), 2.4, 3, true, r),
                        line("bollard", new Vec3(2.3, 0, -5), 0.9, 10, true, r),
                        wrong));
        assertThat(s.lines().stream().filter(ShadowSun.Drawn::contradicts).map(ShadowSun.Drawn::name))
                .containsExactly("wrong");
        assertThat(off(s)).isLessThan(1);
    }

    @Test
    void whatHoldsNoSunIsSaid() {
        Random r = new Random(4);
        ShadowLine alone = line("pole", new Vec3(-1.9, 0, -6.2), 2.4, 3, false, r);
        assertThatThrownBy(() -> ShadowSun.of(CAMERA, List.of(alone)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("free in a plane");
        ShadowLine near = line("pole", new Vec3(-1.9, 0, -6.3), 2.4, 3, false, r);
        assertThatThrownBy(() -> ShadowSun.of(CAMERA, List.of(alone, near)))
                .hasMessageContaining("nearly the same plane");
        ShadowLine sky = new ShadowLine("sky", 3, null, new double[] {600, 100}, new double[] {600, 20});
        assertThatThrownBy(() -> ShadowSun.of(CAMERA, List.of(sky))).hasMessageContaining("horizon");
        // The tip where the sun stands: foot and tip exchanged in their roles.
        Vec3 foot = new Vec3(0.9, 0, -5), top = foot.plus(new Vec3(0, -0.8, 0));
        Vec3 tip = foot.plus(new Vec3(SUN.x(), 0, SUN.z()).times(0.8 / SUN.y()));
        ShadowLine below = new ShadowLine("hole", 10, px(10, foot, r), px(10, top, r), px(10, tip, r));
        assertThatThrownBy(() -> ShadowSun.of(CAMERA, List.of(below))).hasMessageContaining("below the ground");
        assertThatThrownBy(() ->
                        ShadowSun.of(CAMERA, List.of(new ShadowLine("late", 40, null, new double[2], new double[2]))))
                .hasMessageContaining("is not known");
    }
}

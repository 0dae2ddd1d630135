package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.track.DrawnMask;
import dasein.core.track.PlaneTracker;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.IntFunction;
import org.junit.jupiter.api.Test;

/** A mask that the solve carries lies where the drawn places of the set lie in every other frame. */
class MaskCarryTest {
    private static final Lens LENS = new Lens(900, 320, 180, 0, 0);

    /** Moves to the side and turns a little. */
    private static View view(int f) {
        Pose p = new Pose(
                Quat.axisAngle(Vec3.Y, 0.02 * f).times(Quat.axisAngle(Vec3.X, -0.2)), new Vec3(0.1 * f, 1.6, 0.05 * f));
        return new View(p, p, LENS, 640, 360);
    }

    private static DrawnMask mask(DrawnMask.Carry carry, List<Integer> by, Vec3... places) {
        List<Double> xy = new ArrayList<>();
        for (Vec3 p : places) for (double v : view(1).project(p)) xy.add(v);
        return new DrawnMask(1, "m", 0, carry, List.of(new DrawnMask.Key(1, xy)), DrawnMask.Use.COMP, by);
    }

    private static void follows(DrawnMask m, IntFunction<Pose> carrier, Vec3... places) {
        Pose then = carrier.apply(1);
        TreeMap<Integer, double[]> way = MaskCarry.way(m, MaskCarryTest::view, carrier, 1, 8);
        assertThat(way).hasSize(8);
        for (int f = 1; f <= 8; f++) {
            double[] got = PlaneTracker.mapped(way.get(f), m.at(1.0));
            for (int i = 0; i < places.length; i++) {
                double[] is = view(f).project(carrier.apply(f).toWorld(then.toLocal(places[i])));
                assertThat(Math.hypot(got[2 * i] - is[0], got[2 * i + 1] - is[1]))
                        .as("point " + i + " in frame " + f)
                        .isLessThan(0.01);
            }
        }
    }

    @Test
    void onTheGround() {
        Vec3[] p = {new Vec3(-1, 0, -5), new Vec3(1, 0, -5), new Vec3(1, 0, -7), new Vec3(-1, 0, -7)};
        follows(mask(DrawnMask.Carry.GROUND, List.of(), p), f -> Pose.IDENTITY, p);
    }

    @Test
    void standingOnIt() {
        // A board that faces the eye of frame 1, whose lower edge stands on the ground.
        Vec3 foot = new Vec3(0.4, 0, -6), eye = view(1).at(0.5).position();
        Vec3 to = new Vec3(eye.x() - foot.x(), 0, eye.z() - foot.z()).unit(), side = to.cross(Vec3.Y);
        Vec3[] p = {
            foot,
            foot.plus(side.times(0.5)).plus(Vec3.Y.times(0.4)),
            foot.plus(side.times(0.3)).plus(Vec3.Y.times(1.8)),
            foot.minus(side.times(0.4)).plus(Vec3.Y.times(1.2))
        };
        follows(mask(DrawnMask.Carry.STANDING, List.of(), p), f -> Pose.IDENTITY, p);
    }

    @Test
    void withAThingThatMoves() {
        IntFunction<Pose> thing =
                f -> new Pose(Quat.axisAngle(Vec3.Y, 0.1 * f), new Vec3(-0.5 + 0.2 * f, 0.8, -6 + 0.1 * f));
        Vec3 at = thing.apply(1).position(),
                to = view(1).at(0.5).position().minus(at).unit();
        Vec3 side = to.cross(Vec3.Y).unit(), up = side.cross(to);
        Vec3[] p = {at.plus(side.times(0.4)), at.plus(up.times(0.5)), at.minus(side.times(0.4)), at.minus(up.times(0.5))
        };
        follows(mask(DrawnMask.Carry.THING, List.of(4), p), thing, p);
    }

    @Test
    void whatIsAboveTheHorizonLiesOnNoGround() {
        DrawnMask m = new DrawnMask(
                1,
                "sky",
                0,
                DrawnMask.Carry.GROUND,
                List.of(new DrawnMask.Key(1, List.of(10.0, 2.0, 60.0, 2.0, 40.0, 1.0))),
                DrawnMask.Use.COMP,
                List.of());
        IntFunction<View> level = f -> new View(
                new Pose(Quat.IDENTITY, new Vec3(0, 1.6, 0)),
                new Pose(Quat.IDENTITY, new Vec3(0, 1.6, 0)),
                LENS,
                640,
                360);
        assertThat(MaskCarry.way(m, level, f -> Pose.IDENTITY, 1, 3)).isEmpty();
        assertThat(MaskCarry.way(m, f -> null, f -> Pose.IDENTITY, 1, 3))
                .as("not solved")
                .isEqualTo(Map.of());
    }
}

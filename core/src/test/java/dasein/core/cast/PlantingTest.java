package dasein.core.cast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.key.Curve;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.Moment;
import dasein.core.model.Posing;
import dasein.core.model.file.ModelReader;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Where a foot stands on a route: at one place from set down to lift, which is that of the middle of its stand. */
class PlantingTest {
    private static final double RATE = 24, HEIGHT = 2.4;
    private static Model strider;
    private static Legs legs;
    private static Footing footing;

    @BeforeAll
    static void read() {
        strider = ModelReader.read(Path.of("demo/models/strider.glb"));
        footing = Footing.of(strider, strider.clip("walk"), Set.of());
        legs = Legs.of(strider, strider.clip("walk"), footing);
    }

    private static Blocking on(boolean steps, double speed, Double... route) {
        Performer p = new Performer(1, "strider", "w", 0, 0, 0, 0, HEIGHT, "walk", 0, 1, true)
                .with(new Route(List.of(route), 1, speed, steps));
        return new Blocking(List.of(p), Map.of("w", strider), 1, RATE, Blocking.Around.NOTHING);
    }

    private static Vec3 foot(Blocking b, Legs.Leg leg, double frame) {
        Moment m = b.at(1, frame);
        Posing p = new Posing(strider);
        p.at(m);
        double[] j = p.node(leg.foot()), t = m.toSet();
        return new Vec3(
                t[0] * j[3] + t[1] * j[7] + t[2] * j[11] + t[3],
                t[4] * j[3] + t[5] * j[7] + t[6] * j[11] + t[7],
                t[8] * j[3] + t[9] * j[7] + t[10] * j[11] + t[11]);
    }

    /** Times at which a foot stands in the clip, with a margin at both ends. */
    private static boolean stands(Legs.Leg leg, double seconds, double length) {
        double in = 0.02 * length;
        for (Legs.Stand s : leg.stands())
            for (double t : new double[] {seconds, seconds + length})
                if (t > s.from() + in && t < s.to() - in) return true;
        return false;
    }

    /** How far the foot joints go over the ground within one stand, at most. */
    private static double slide(Blocking b, int frames) {
        double worst = 0;
        int stood = 0;
        for (Legs.Leg leg : legs.all()) {
            Vec3 down = null;
            for (double f = 2; f < frames; f += 0.5) {
                Moment m = b.at(1, f);
                if (!stands(leg, m.seconds(), m.clip().seconds())) {
                    down = null;
                    continue;
                }
                Vec3 now = foot(b, leg, f);
                if (down == null) down = now;
                worst = Math.max(worst, Math.hypot(now.x() - down.x(), now.z() - down.z()));
                stood++;
            }
        }
        assertThat(stood).isGreaterThan(frames / 2);
        return worst;
    }

    @Test
    void onABendAFootStaysWhereItIsSetDown() {
        Double[] bend = {0.0, 0.0, 1.5, -1.5, 3.0, 0.0, 1.5, 1.5, 0.0, 0.2};
        double planted = slide(on(true, 1, bend), 110), loose = slide(on(false, 1, bend), 110);
        // A leg that is nearly straight gives way softly, on so tight a bend by some centimetres over a whole stand.
        assertThat(planted).as("metres").isLessThan(0.05);
        assertThat(loose).as("metres, as the clip has them").isGreaterThan(10 * planted);
    }

    @Test
    void atAnyPaceOnAStraightWay() {
        for (double speed : new double[] {0.5, 1, 1.7})
            assertThat(slide(on(true, speed, 0.0, 0.0, 0.0, -40.0), 90))
                    .as("at " + speed + " m/s")
                    .isLessThan(0.012);
    }

    /** Straight on and at the clip's own pace there is nothing to do. */
    @Test
    void whatStandsByItselfIsLeftAlone() {
        double pace = footing.stepSpeed() * HEIGHT / footing.height();
        Blocking b = on(true, pace, 0.0, 0.0, 0.0, -40.0), plain = on(false, pace, 0.0, 0.0, 0.0, -40.0);
        double most = 0;
        for (double f = 2; f < 60; f += 0.5)
            for (Legs.Leg leg : legs.all())
                most = Math.max(most, foot(b, leg, f).distance(foot(plain, leg, f)));
        // The clip's own feet slide by as much as its pace is not even.
        assertThat(most).isLessThan(0.04 * HEIGHT);
    }

    /** Between two stands it goes on without a jump. */
    @Test
    void nothingJumps() {
        Blocking b = on(true, 1, 0.0, 0.0, 1.5, -1.5, 3.0, 0.0);
        List<Double> steps = new ArrayList<>();
        for (Legs.Leg leg : legs.all()) {
            Vec3 last = foot(b, leg, 2);
            for (double f = 2.25; f < 90; f += 0.25) {
                Vec3 now = foot(b, leg, f);
                steps.add(now.distance(last));
                last = now;
            }
        }
        double
                median =
                        steps.stream()
                                .sorted()
                                .skip(steps.size() / 2)
                                .findFirst()
                                .orElseThrow(),
                most = steps.stream().mapToDouble(d -> d).max().orElseThrow();
        assertThat(most).isLessThan(0.12);
        assertThat(median).isCloseTo(0, within(0.03));
    }

    /** It walks, stops over ten frames and looks around, and walks on: what is on the ground does not move over it. */
    @Test
    void fromOneClipToAnotherFeetStepInsteadOfSliding() {
        Curve way = new Curve(
                List.of(
                        new Curve.Key(1, 0, Curve.Ease.LINEAR),
                        new Curve.Key(41, 1.6, Curve.Ease.LINEAR),
                        new Curve.Key(80, 1.6, Curve.Ease.LINEAR),
                        new Curve.Key(120, 3.2, Curve.Ease.LINEAR)),
                List.of());
        Performer p = new Performer(1, "strider", "w", 0, 0, 0, 0, HEIGHT, "walk", 0, 1, true)
                .with(new Route(List.of(0.0, 0.0, 0.0, -9.0), 1, 1, true))
                .with("way", way)
                .withClips(List.of(
                        new ClipUse("walk", 0, 0, 0, 0, 1, ClipUse.Repeat.LOOP, 0),
                        new ClipUse("look around", 41, 0, 0, 0, 1, ClipUse.Repeat.LOOP, 10),
                        new ClipUse("walk", 70, 0, 0, 0, 1, ClipUse.Repeat.LOOP, 10)));
        Blocking b = new Blocking(List.of(p), Map.of("w", strider), 1, RATE, Blocking.Around.NOTHING);
        double worst = 0, sunk = 0, jump = 0;
        Vec3[] last = new Vec3[legs.all().size()];
        for (double f = 39; f < 84; f += 0.5) {
            Moment m = b.at(1, f);
            float[] now = footing.places(m), next = footing.places(b.at(1, f + 0.5));
            for (int i = 0; i < now.length; i += 3) {
                sunk = Math.min(sunk, now[i + 1]);
                if (now[i + 1] < 0.01 && next[i + 1] < 0.01)
                    worst = Math.max(worst, Math.hypot(next[i] - now[i], next[i + 2] - now[i + 2]));
            }
            for (int i = 0; i < last.length; i++) {
                Vec3 at = foot(b, legs.all().get(i), f);
                if (last[i] != null) jump = Math.max(jump, at.distance(last[i]));
                last[i] = at;
            }
        }
        System.out.printf(
                "through blends: slides %.4f m in half a frame, sinks %.4f m, steps %.3f m%n", worst, sunk, jump);
        assertThat(worst).isLessThan(0.01);
        assertThat(sunk).isGreaterThan(-0.03);
        assertThat(jump).isLessThan(0.15);
    }

    /** Up a slope of one in six, and over a kerb of 12 cm: what stands does so on the ground, and nothing jumps. */
    @Test
    void feetFindUnevenGround() {
        for (Uneven ground : List.of(new Uneven(z -> Math.max(0, -z / 6)), new Uneven(z -> z < -1.5 ? 0.12 : 0))) {
            Performer p = new Performer(1, "strider", "w", 0, 0, 0, 0, HEIGHT, "walk", 0, 1, true)
                    .with(new Route(List.of(0.0, 0.0, 0.0, -9.0), 1, 1, true))
                    .standing(Performer.Feet.REST, true);
            Blocking b = new Blocking(List.of(p), Map.of("w", strider), 1, RATE, ground);
            double off = 0, jump = 0, body = Double.NaN;
            int stood = 0;
            for (double f = 2; f < 90; f += 0.5) {
                Moment m = b.at(1, f);
                for (Legs.Leg leg : legs.all()) {
                    if (!stands(leg, m.seconds(), m.clip().seconds())) continue;
                    Vec3 at = foot(b, leg, f);
                    double rest = leg.stands().get(0).middle().y() * HEIGHT / footing.height()
                            - footing.lowest() * HEIGHT / footing.height();
                    off = Math.max(off, Math.abs(at.y() - rest - ground.ground(at.x(), at.z(), 9)));
                    stood++;
                }
                if (!Double.isNaN(body)) jump = Math.max(jump, Math.abs(m.toSet()[7] - body));
                body = m.toSet()[7];
            }
            System.out.printf("uneven: feet off by %.3f m, the body jumps by %.3f m%n", off, jump);
            assertThat(stood).isGreaterThan(100);
            assertThat(off).isLessThan(0.04);
            assertThat(jump).isLessThan(0.03);
        }
    }

    private record Uneven(java.util.function.DoubleUnaryOperator height) implements Blocking.Around {
        @Override
        public double ground(double x, double z, double under) {
            return height.applyAsDouble(z);
        }

        @Override
        public Pose moved(int object, double frame) {
            return null;
        }

        @Override
        public Vec3 onGround(int track, double frame) {
            return null;
        }
    }
}

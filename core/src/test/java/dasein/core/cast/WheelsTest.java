package dasein.core.cast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.key.Curve;
import dasein.core.key.Curve.Ease;
import dasein.core.key.Curve.Key;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.model.Moment;
import dasein.core.model.Posing;
import dasein.core.model.file.ModelReader;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/**
 * Wheels on a bend against the geometry of Ackermann's steering (Gillespie, Fundamentals of Vehicle Dynamics, 1992,
 * chapter 6: all axles point at one centre, which lies on the line of the axle that does not steer), and over a slope.
 */
class WheelsTest {
    private static final int RATE = 24;
    private static final double RADIUS = 0.25, TRACK = 1, BASE = 1.6, BEND = 4;

    /** Four discs; their middle is the cart's point. */
    private static Model cart() {
        float[] disc = new float[3 * 240];
        for (int i = 0; i < 240; i++) {
            disc[3 * i + 1] = (float) (RADIUS * Math.cos(i * Math.PI / 120));
            disc[3 * i + 2] = (float) (RADIUS * Math.sin(i * Math.PI / 120));
        }
        List<Model.Node> nodes = new ArrayList<>();
        List<Model.Part> parts = new ArrayList<>();
        nodes.add(node("cart", -1, 0, 0, 0));
        parts.add(part(0, 0, 0, 0, 0, 1, 0, 0, 1, 1));
        for (int i = 0; i < 4; i++) {
            nodes.add(node(
                    (i < 2 ? "front " : "rear ") + (i % 2 == 0 ? "left wheel" : "right wheel"),
                    0,
                    (i % 2 == 0 ? 0.5f : -0.5f) * (float) TRACK,
                    (float) RADIUS,
                    (i < 2 ? 0.5f : -0.5f) * (float) BASE));
            parts.add(part(1 + i, disc));
        }
        // Wheels that turn once a second, whatever the way.
        float[] times = {0, 0.25f, 0.5f, 0.75f, 1}, turns = new float[20];
        for (int i = 0; i < 5; i++) {
            turns[4 * i] = (float) Math.sin(i * Math.PI / 4);
            turns[4 * i + 3] = (float) Math.cos(i * Math.PI / 4);
        }
        List<Model.Channel> spin = IntStream.rangeClosed(1, 4)
                .mapToObj(
                        n -> new Model.Channel(n, Model.Property.ROTATION, times, turns, 4, Model.Interpolation.LINEAR))
                .toList();
        return new Model("cart", nodes, parts, List.of(), List.of(new Model.Clip("spin", 1, spin)), new Material[] {
            Material.matt(1, 1, 1)
        });
    }

    private static Model.Node node(String name, int parent, float x, float y, float z) {
        return new Model.Node(
                name, parent, new float[] {x, y, z}, new float[] {0, 0, 0, 1}, new float[] {1, 1, 1}, new float[0]);
    }

    private static Model.Part part(int node, float... xyz) {
        int n = xyz.length / 3;
        return new Model.Part(
                node,
                -1,
                xyz,
                new float[xyz.length],
                new float[2 * n],
                IntStream.range(0, n / 3 * 3).toArray(),
                0,
                new int[0],
                new float[0],
                new float[0][],
                new float[0][]);
    }

    private static List<String> wheels(Model m) {
        return m.nodes().stream()
                .map(Model.Node::name)
                .filter(n -> n.endsWith("wheel"))
                .toList();
    }

    /** Half a circle to the left, at a metre a second. */
    private static Route bend() {
        List<Double> points = new ArrayList<>();
        for (int deg = 0; deg <= 180; deg += 10) {
            points.add(BEND * Math.cos(Math.toRadians(deg)));
            points.add(-BEND * Math.sin(Math.toRadians(deg)));
        }
        return new Route(points, 1, 1, false);
    }

    private static Performer driving(Model m, String clip) {
        return new Performer(1, "cart", "w", 0, 0, 0, 0, 1, clip, 0, 1, true)
                .withParts(Wheels.of(m, wheels(m)))
                .with(bend());
    }

    private static Quat[] wheelTurns(Model m, Performer p, double frame) {
        Moment at = Blocking.alone(p, m, RATE).at(1, frame);
        Posing posed = new Posing(m);
        posed.at(at);
        return IntStream.rangeClosed(1, 4)
                .mapToObj(n -> {
                    float[] r = posed.local(n, Model.Property.ROTATION);
                    return new Quat(r[0], r[1], r[2], r[3]);
                })
                .toArray(Quat[]::new);
    }

    /** Degrees to the left in which an axle along x points. */
    private static double aside(Quat q) {
        Vec3 axle = q.rotate(Vec3.X);
        return Math.toDegrees(Math.atan2(-axle.z(), axle.x()));
    }

    @Test
    void axlesPointAtOneCentre() {
        Model m = cart();
        assertThat(Wheels.of(m, wheels(m)).stream().filter(PartTurn::steers).map(PartTurn::node))
                .containsExactly("front left wheel", "front right wheel");
        Quat[] q = wheelTurns(m, driving(m, ""), 100);
        // The centre lies on the side to which the front wheels point.
        double sign = Math.signum(aside(q[0]));
        double left = Math.toDegrees(Math.atan2(BASE, BEND - sign * TRACK / 2)),
                right = Math.toDegrees(Math.atan2(BASE, BEND + sign * TRACK / 2));
        assertThat(Math.abs(aside(q[0]))).isCloseTo(left, within(0.15));
        assertThat(Math.abs(aside(q[1]))).isCloseTo(right, within(0.15));
        assertThat(aside(q[2])).isCloseTo(0, within(1e-6));
        assertThat(aside(q[3])).isCloseTo(0, within(1e-6));
    }

    /** Each wheel turns by its own way, not by the middle's. */
    @Test
    void theOuterWheelTurnsFurther() {
        Model m = cart();
        Performer p = driving(m, "");
        Blocking b = Blocking.alone(p, m, RATE);
        double[] way = new double[4];
        for (int k = 0; k < 4; k++) {
            Vec3 hub = hub(m, 1 + k);
            // The hub's own path, by far finer steps than frames.
            for (int i = 0; i < 2000; i++) {
                way[k] += at(b, 60 + i * 0.02, hub).distance(at(b, 60 + (i + 1) * 0.02, hub));
            }
        }
        Quat[] from = wheelTurns(m, p, 60), to = wheelTurns(m, p, 100);
        for (int k = 0; k < 4; k++) {
            double turned = rolled(to[k]) - rolled(from[k]), whole = 2 * Math.PI;
            assertThat(Math.IEEEremainder(turned - way[k] / RADIUS, whole)).isCloseTo(0, within(0.01));
        }
        assertThat(Math.abs(way[2] - way[3])).isGreaterThan(0.3);
    }

    private static Vec3 hub(Model m, int node) {
        double[] w = new Posing(m).node(node);
        return new Vec3(w[3], w[7], w[11]);
    }

    private static Vec3 at(Blocking b, double frame, Vec3 p) {
        double[] m = b.at(1, frame).toSet();
        return new Vec3(
                m[0] * p.x() + m[1] * p.y() + m[2] * p.z() + m[3],
                m[4] * p.x() + m[5] * p.y() + m[6] * p.z() + m[7],
                m[8] * p.x() + m[9] * p.y() + m[10] * p.z() + m[11]);
    }

    /** About its axle, whichever way that points. */
    private static double rolled(Quat q) {
        Vec3 axle = q.rotate(Vec3.X), up = q.rotate(Vec3.Y);
        Vec3 ahead = axle.cross(Vec3.Y).unit();
        return Math.atan2(up.dot(ahead), up.y());
    }

    @Test
    void aClipsOwnTurningOfWheelsIsLeftOut() {
        Model m = cart();
        Quat[] with = wheelTurns(m, driving(m, "spin"), 73.4), without = wheelTurns(m, driving(m, ""), 73.4);
        for (int k = 0; k < 4; k++) assertThat(with[k].angleTo(without[k])).isLessThan(1e-3);
        // Without wheels the clip does as it likes.
        assertThat(wheelTurns(m, driving(m, "spin").withParts(List.of()), 73.4)[0].angleTo(Quat.IDENTITY))
                .isGreaterThan(0.1);
    }

    /** The demo's six wheels with their clip of turning wheels, on a bend of 4 m: what touches the ground stays. */
    @Test
    void nothingSlidesOnABend() throws Exception {
        Model m = ModelReader.read(Path.of("demo/models/mule.glb"));
        Performer p = new Performer(1, "mule", "w", 0, 0, 0, 0, 1.15, "rolling", 0, 1, true)
                .withParts(Wheels.of(m, wheels(m)))
                .with(bend());
        double[] cm = Blocking.alone(p, m, RATE).slide(1, 200).centimetres();
        // From straight on into a bend no wheel turns within a frame; it is dragged there for two.
        assertThat(Arrays.stream(cm).skip(15).max().orElseThrow()).isBetween(1e-9, 0.2);
        assertThat(Arrays.stream(cm).max().orElseThrow()).isLessThan(0.4);
        Route corner = new Route(List.of(0.0, 0.0, 0.0, 4.0, 1.2, 6.8, 4.0, 8.0, 8.0, 8.0), 1, 1, false);
        assertThat(Arrays.stream(Blocking.alone(p.with(corner), m, RATE)
                                .slide(1, 290)
                                .centimetres())
                        .max()
                        .orElseThrow())
                .isLessThan(0.2);
        // Wheels that only roll are dragged across by what the bend takes them round.
        double[] scrubbed = Blocking.alone(
                        p.withParts(p.parts().stream()
                                .map(t -> new PartTurn(t.node(), "x", 0, true, false))
                                .toList()),
                        m,
                        RATE)
                .slide(1, 60)
                .centimetres();
        double reach = 0.96 * Blocking.alone(p, m, RATE).scale(p, 1);
        assertThat(scrubbed[50]).isCloseTo(100.0 / RATE * reach / BEND, within(0.03));
    }

    @Test
    void oneNumberSteersAllAndAnotherSpinsThem() {
        Model m = cart();
        Performer p = new Performer(1, "cart", "w", 0, 0, 0, 0, 1, "", 0, 1, true)
                .withParts(Wheels.of(m, wheels(m)))
                .with("steer", Curve.NONE.with(new Key(1, 0, Ease.LINEAR)).with(new Key(11, 30, Ease.LINEAR)))
                .with(new Wheels(0, 40));
        Quat[] q = wheelTurns(m, p, 6);
        assertThat(aside(q[0])).isCloseTo(15, within(1e-4));
        assertThat(aside(q[3])).isCloseTo(0, within(1e-4));
        for (Quat w : q) assertThat(Math.toDegrees(rolled(w))).isCloseTo(40, within(1e-4));
    }

    /** A slope of one in five, 30 degrees across the way: all four wheels touch it. */
    @Test
    void whatHasWheelsLiesOnASlope() {
        Model m = cart();
        Performer p = new Performer(1, "cart", "w", 3, 0, 2, 30, 1, "", 0, 1, true)
                .withParts(Wheels.of(m, wheels(m)))
                .standing(Performer.Feet.REST, true);
        Blocking b = new Blocking(List.of(p), Map.of("w", m), 1, RATE, new Slope());
        Vec3 up = at(b, 1, Vec3.Y).minus(at(b, 1, Vec3.ZERO)).unit();
        assertThat(up.dot(new Vec3(0, 1, -0.2).unit())).isCloseTo(1, within(1e-9));
        for (int n = 1; n <= 4; n++) {
            Vec3 under = at(b, 1, hub(m, n).minus(Vec3.Y.times(RADIUS)));
            assertThat(under.y()).isCloseTo(0.2 * under.z(), within(1e-6));
        }
        // On flat ground nothing changes.
        assertThat(Blocking.alone(p, m, RATE).foot(1, 1)).isEqualTo(new Vec3(3, 0, 2));
    }

    private record Slope() implements Blocking.Around {
        @Override
        public double ground(double x, double z, double under) {
            return 0.2 * z;
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

package dasein.core.cast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.ground.Piece;
import dasein.core.ground.Piece.Role;
import dasein.core.ground.SetRecipe;
import dasein.core.key.Curve;
import dasein.core.key.Curve.Ease;
import dasein.core.key.Curve.Key;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.model.Model.Channel;
import dasein.core.model.Model.Interpolation;
import dasein.core.model.Model.Property;
import dasein.core.model.Moment;
import dasein.core.model.Texture;
import dasein.core.model.file.ModelReader;
import dasein.core.shot.OnSet;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

/**
 * Performers over time against closed forms: a walker whose foot goes back at a metre a second, a wheel of half a
 * metre, riders and surfaces.
 */
class BlockingTest {
    private static final int RATE = 25;

    private static Model.Node node(String name, int parent, float x, float y, float z) {
        return new Model.Node(
                name, parent, new float[] {x, y, z}, new float[] {0, 0, 0, 1}, new float[] {1, 1, 1}, new float[0]);
    }

    private static Model.Part part(int node, float... xyz) {
        int n = xyz.length / 3;
        int[] index = new int[n / 3 * 3];
        for (int i = 0; i < index.length; i++) index[i] = i;
        return new Model.Part(
                node,
                -1,
                xyz,
                new float[xyz.length],
                new float[2 * n],
                index,
                0,
                new int[0],
                new float[0],
                new float[0][],
                new float[0][]);
    }

    /**
     * Two metres high. Two feet take turns: a second each going back by a metre on the ground, then a second in the air
     * going forwards; a hand that waves.
     */
    private static Model walker() {
        float[] times = {0, 1, 1.5f, 2};
        float[] left = {0, 0, 0.5f, 0, 0, -0.5f, 0, 0.3f, 0, 0, 0, 0.5f},
                right = {0, 0, -0.5f, 0, 0.3f, 0, 0, 0, 0.5f, 0, 0, -0.5f};
        float[] rightTimes = {0, 0.5f, 1, 2};
        Model.Clip walk = new Model.Clip(
                "walk",
                2,
                List.of(
                        new Channel(1, Property.TRANSLATION, times, left, 3, Interpolation.LINEAR),
                        new Channel(2, Property.TRANSLATION, rightTimes, right, 3, Interpolation.LINEAR)));
        float h = (float) Math.sqrt(0.5);
        Model.Clip wave = new Model.Clip(
                "wave",
                1,
                List.of(
                        new Channel(
                                3,
                                Property.ROTATION,
                                new float[] {0, 1},
                                new float[] {0, 0, h, h, 0, 0, h, h},
                                4,
                                Interpolation.LINEAR),
                        new Channel(
                                3,
                                Property.TRANSLATION,
                                new float[] {0, 1},
                                new float[] {0, 3, 0, 0, 3, 0},
                                3,
                                Interpolation.LINEAR)));
        float[] foot = {-0.1f, 0, 0.1f, 0.1f, 0, 0.1f, 0, 0, -0.1f, -0.1f, 0.1f, 0.1f, 0.1f, 0.1f, 0.1f, 0, 0.1f, -0.1f
        };
        return new Model(
                "walker",
                List.of(
                        node("body", -1, 0, 0, 0),
                        node("left", 0, 0, 0, 0),
                        node("right", 0, 0, 0, 0),
                        node("hand", 0, 0, 1, 0)),
                List.of(part(0, -0.2f, 1, 0, 0.2f, 1, 0, 0, 2, 0), part(1, foot), part(2, foot)),
                List.of(),
                List.of(walk, wave),
                new Material[] {Material.matt(0.5f, 0.5f, 0.5f)});
    }

    private static Performer walker(String clip) {
        return new Performer(1, "walker", "w", 0, 0, 0, 0, 2, clip, 0, 1, true);
    }

    private static Blocking of(Blocking.Around around, Model m, Performer... p) {
        return new Blocking(List.of(p), Map.of("w", m), 1, RATE, around);
    }

    private static Vec3 foot(Moment m) {
        return new Vec3(m.toSet()[3], m.toSet()[7], m.toSet()[11]);
    }

    @Test
    void stepsAreAsFastAsTheGroundGoesBy() {
        Performer p = walker("walk").sized(3);
        for (double speed : new double[] {1.5, 0.9, 2.1}) {
            Route way = new Route(List.of(0.0, 0.0, 0.0, -30.0), 1, speed, true);
            Blocking steps = of(Blocking.Around.NOTHING, walker(), p.with(way)),
                    slides = of(Blocking.Around.NOTHING, walker(), p.with(new Route(way.points(), 1, speed, false)));
            // One metre in a second at two metres' height is one and a half at three.
            assertThat(steps.slide(1, 100).stepSpeed()).isCloseTo(1.5, within(0.01));
            assertThat(steps.slide(1, 100).median()).isLessThan(0.1);
            assertThat(slides.slide(1, 100).median()).isCloseTo(100 * Math.abs(speed - 1.5) / RATE, within(0.1));
            // It heads along the route, -Z, and is as far as its speed says.
            assertThat(foot(steps.at(1, 51)).distance(new Vec3(0, 0, -2 * speed)))
                    .isLessThan(1e-6);
            assertThat(steps.at(1, 51).toSet()[10]).isCloseTo(-1.5, within(1e-9));
        }
        assertThat(of(Blocking.Around.NOTHING, walker(), walker("wave"))
                        .slide(1, 20)
                        .stepSpeed())
                .isZero();
    }

    /**
     * On a tight bend, and while it comes to a stop over a blend: what touches the ground stays, nothing jumps, and no
     * foot leaves its height.
     */
    @Test
    void feetStayWhereTheyAreSetDown() {
        Model strider = ModelReader.read(java.nio.file.Path.of("demo/models/strider.glb"));
        Performer p = new Performer(1, "strider", "w", 0, 0, 0, 0, 2.4, "walk", 0, 1, true)
                .with(new Route(List.of(0.0, 0.0, 1.5, -1.5, 3.0, 0.0, 1.5, 1.5, 0.0, 0.2), 1, 1, true));
        Blocking b = of(Blocking.Around.NOTHING, strider, p);
        double[] slid = Arrays.stream(b.slide(1, 150).centimetres())
                .filter(v -> !Double.isNaN(v))
                .toArray();
        assertThat(slid.length).isGreaterThan(140);
        assertThat(Arrays.stream(slid).max().getAsDouble()).isLessThan(0.4);
        assertThat(Arrays.stream(of(
                                        Blocking.Around.NOTHING,
                                        strider,
                                        p.with(new Route(p.route().points(), 1, 1, false)))
                                .slide(1, 150)
                                .centimetres())
                        .filter(v -> !Double.isNaN(v))
                        .max()
                        .getAsDouble())
                .isGreaterThan(3);
        // Turned against its way over some frames, and pushed to the side.
        Performer turned = p.with(new Route(List.of(0.0, 0.0, 0.0, -9.0), 1, 1, true))
                .with("heading", Curve.NONE.with(new Key(20, 0, Ease.EASED)).with(new Key(70, 35, Ease.EASED)))
                .with("x", Curve.NONE.with(new Key(30, 0, Ease.EASED)).with(new Key(80, 0.6, Ease.EASED)));
        assertThat(Arrays.stream(of(Blocking.Around.NOTHING, strider, turned)
                                .slide(1, 110)
                                .centimetres())
                        .filter(v -> !Double.isNaN(v))
                        .max()
                        .getAsDouble())
                .isLessThan(0.4);
        Performer stops = p.withClips(
                        List.of(p.clips().get(0), new ClipUse("look around", 60, 0, 0, 0, 1, ClipUse.Repeat.LOOP, 16)))
                .with("way", Curve.NONE.with(new Key(1, 0, Ease.LINEAR)).with(new Key(60, 2, Ease.EASED)));
        // On the same way, but feet as the clip has them: how far a vertex goes in half a frame at most.
        double usual = 0, pace = b.slide(1, 10).stepSpeed();
        for (Performer q : List.of(
                p.with(new Route(p.route().points(), 1, pace, false)),
                p.with(new Route(p.route().points(), 1, pace, true)),
                stops)) {
            Blocking one = of(Blocking.Around.NOTHING, strider, q);
            float[] last = one.meshes(1, 1).get(0).position0();
            double most = 0;
            for (double f = 1.5; f < 100; f += 0.5) {
                float[] now = one.meshes(f, f).get(0).position0();
                double jump = 0, low = 1;
                for (int i = 0; i < now.length; i += 3) {
                    jump = Math.max(jump, Math.hypot(now[i] - last[i], now[i + 2] - last[i + 2]));
                    low = Math.min(low, now[i + 1]);
                }
                most = Math.max(most, jump);
                assertThat(low).isBetween(-0.015, 0.015);
                last = now;
            }
            if (usual == 0) usual = most;
            assertThat(most).isLessThan(1.4 * usual);
        }
    }

    @Test
    void oneClipTakesOverFromAnother() {
        Performer p = walker("walk")
                .withClips(List.of(
                        new ClipUse("walk", 0, 0, 0, 0, 1, ClipUse.Repeat.LOOP, 0),
                        new ClipUse("wave", 26, 0, 0, 0, 1, ClipUse.Repeat.HOLD, 10)));
        Blocking b = of(Blocking.Around.NOTHING, walker(), p);
        assertThat(b.at(1, 25).before()).isNull();
        Moment half = b.at(1, 31);
        assertThat(half.share()).isCloseTo(0.5, within(1e-12));
        assertThat(half.beforeSeconds()).isCloseTo(1.2, within(1e-9));
        assertThat(half.seconds()).isCloseTo(0.2, within(1e-9));
        // A rider on the hand: half way between 1 m up at rest and 3 m, half of the quarter turn.
        Performer rider = new Performer(2, "lamp", "w", 0.4, 0, 0, 0, 0.2, "", 0, 1, true)
                .with(new Tie(Tie.To.PERFORMER, 1, "hand", true));
        Moment lamp = of(Blocking.Around.NOTHING, walker(), p, rider).at(2, 31);
        double s = Math.sqrt(0.5);
        assertThat(foot(lamp).distance(new Vec3(0.4 * s, 2 + 0.4 * s, 0))).isLessThan(1e-6);
        // The seam of a loop does not run back through the shutter.
        Mesh seam = of(Blocking.Around.NOTHING, walker(), walker("walk"))
                .meshes(50.9, 51.1)
                .get(0);
        for (int i = 0; i < seam.position0().length; i++)
            assertThat(seam.position1()[i]).isCloseTo(seam.position0()[i], within(0.15f));
    }

    @Test
    void wheelsRollByTheWayAndSteerOnTheirOwn() {
        float[] disc = new float[3 * 240];
        for (int i = 0; i < 240; i++) {
            disc[3 * i + 1] = (float) (0.25 * Math.cos(i * Math.PI / 120));
            disc[3 * i + 2] = (float) (0.25 * Math.sin(i * Math.PI / 120));
        }
        Model cart = new Model(
                "cart",
                List.of(node("cart", -1, 0, 0, 0), node("axle", 0, 0.4f, 0.25f, 0.5f)),
                List.of(part(1, disc), part(0, 0, 0, 0, 0, 1, 0, 0, 1, 1)),
                List.of(),
                List.of(),
                new Material[] {Material.matt(1, 1, 1)});
        PartTurn wheel = new PartTurn("axle", "x", 0, true, false), steer = new PartTurn("axle", "y", 20);
        // Twice as large: half a metre of radius. Keyed from 0 to 3 m towards -X, facing there.
        Performer p = new Performer(1, "cart", "w", 0, 0, 0, -90, 2, "", 0, 1, true)
                .withParts(List.of(wheel))
                .with("x", Curve.NONE.with(new Key(1, 0, Ease.LINEAR)).with(new Key(76, -3, Ease.LINEAR)));
        assertThat(angle(of(Blocking.Around.NOTHING, cart, p).at(1, 26).turns().get(1), Vec3.X))
                .isCloseTo(1 / 0.5, within(1e-6));
        assertThat(angle(
                        of(Blocking.Around.NOTHING, cart, p.turned(90, 0, 0))
                                .at(1, 13.5)
                                .turns()
                                .get(1),
                        Vec3.X))
                .isCloseTo(-0.5 / 0.5, within(1e-6));
        // Rolling, what touches the ground stays there but for the few degrees it leans on; locked, it is dragged along
        // by 4 cm a frame.
        assertThat(of(Blocking.Around.NOTHING, cart, p).slide(1, 60).median()).isLessThan(0.9);
        assertThat(of(Blocking.Around.NOTHING, cart, p.withParts(List.of()))
                        .slide(1, 60)
                        .median())
                .isCloseTo(4, within(0.01));
        Performer both = p.withParts(List.of(steer, wheel))
                .with(
                        steer.channel(),
                        Curve.NONE.with(new Key(1, 0, Ease.LINEAR)).with(new Key(11, 30, Ease.LINEAR)));
        Quat q = of(Blocking.Around.NOTHING, cart, both).at(1, 6).turns().get(1);
        Vec3 axle = q.rotate(Vec3.X);
        assertThat(Math.toDegrees(Math.atan2(-axle.z(), axle.x()))).isCloseTo(15, within(1e-6));
    }

    /** Both roll: how far the trailer has gone asks how far the cart has, in the middle of asking. */
    @Test
    void aTrailerThatRollsIsCarriedByACartThatRolls() {
        float[] disc = new float[3 * 240];
        for (int i = 0; i < 240; i++) {
            disc[3 * i + 1] = (float) (0.25 * Math.cos(i * Math.PI / 120));
            disc[3 * i + 2] = (float) (0.25 * Math.sin(i * Math.PI / 120));
        }
        Model cart = new Model(
                "cart",
                List.of(node("cart", -1, 0, 0, 0), node("axle", 0, 0.4f, 0.25f, 0.5f)),
                List.of(part(1, disc), part(0, 0, 0, 0, 0, 1, 0, 0, 1, 1)),
                List.of(),
                List.of(),
                new Material[] {Material.matt(1, 1, 1)});
        PartTurn wheel = new PartTurn("axle", "x", 0, true, false);
        Performer
                first =
                        new Performer(1, "cart", "w", 0, 0, 0, 0, 2, "", 0, 1, true)
                                .withParts(List.of(wheel))
                                .with(
                                        "z",
                                        Curve.NONE
                                                .with(new Key(1, 0, Ease.LINEAR))
                                                .with(new Key(76, 3, Ease.LINEAR))),
                second =
                        new Performer(2, "trailer", "w", 0, 0, -2, 0, 2, "", 0, 1, true)
                                .withParts(List.of(wheel))
                                .with(new Tie(Tie.To.PERFORMER, 1, "", true));
        Blocking b = new Blocking(List.of(first, second), Map.of("w", cart), 1, RATE, Blocking.Around.NOTHING);
        assertThat(angle(b.at(2, 26).turns().get(1), Vec3.X)).isCloseTo(1 / 0.5, within(1e-6));
        assertThat(angle(b.at(1, 26).turns().get(1), Vec3.X)).isCloseTo(1 / 0.5, within(1e-6));
    }

    private static double angle(Quat q, Vec3 axis) {
        return 2 * Math.atan2(new Vec3(q.x(), q.y(), q.z()).dot(axis), q.w());
    }

    @Test
    void standsOnWhatIsThereAndGoesAlong() {
        Piece
                box =
                        new Piece(
                                1,
                                "step",
                                Piece.Kind.BOX,
                                0,
                                0,
                                -5,
                                0,
                                2,
                                0.4,
                                2,
                                0,
                                List.of(),
                                List.of(Role.SHADOW),
                                0,
                                0),
                over =
                        new Piece(
                                2,
                                "roof",
                                Piece.Kind.FLOOR,
                                0,
                                3.5,
                                -5,
                                0,
                                4,
                                0,
                                4,
                                0,
                                List.of(),
                                List.of(Role.SHADOW),
                                0,
                                0);
        TreeMap<Integer, Pose> way = new TreeMap<>();
        for (int f = 1; f <= 40; f++)
            way.put(f, new Pose(Quat.axisAngle(Vec3.Y, Math.PI / 2), new Vec3(0.1 * f, 1, 0)));
        OnSet set = new OnSet(
                SetRecipe.BLANK.withPieces(List.of(box, over)), null, Map.of(), Map.of(3, way), List.of(), Map.of());
        Performer p = walker("")
                .standing(Performer.Feet.REST, true)
                .with("z", Curve.NONE.with(new Key(1, 0, Ease.LINEAR)).with(new Key(101, -10, Ease.LINEAR)));
        Blocking b = of(set, walker(), p);
        assertThat(foot(b.at(1, 31)).y()).isCloseTo(0, within(1e-6));
        assertThat(foot(b.at(1, 51)).y()).isCloseTo(0.4, within(1e-6));
        Moment with = of(set, walker(), walker("").at(0, 0, 2).with(new Tie(Tie.To.OBJECT, 3, "", true)))
                .at(1, 20.5);
        assertThat(foot(with).distance(new Vec3(4.05, 1, 0))).isLessThan(1e-6);
        assertThatThrownBy(() -> of(set, walker(), walker("").with(new Tie(Tie.To.OBJECT, 4, "", true)))
                        .at(1, 5))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("not solved");
        Performer a = walker("").with(new Tie(Tie.To.PERFORMER, 2, "", true)),
                c = walker("").as(2, "other").with(new Tie(Tie.To.PERFORMER, 1, "", true));
        assertThatThrownBy(() -> of(set, walker(), a, c).at(1, 5))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("tied to itself");
    }

    /** The lowest point may be lower in the clip than at rest, and in each frame another. */
    @Test
    void feetReachTheGround() {
        Model.Clip sink = new Model.Clip(
                "sink",
                1,
                List.of(new Channel(
                        1,
                        Property.TRANSLATION,
                        new float[] {0, 1},
                        new float[] {0, 0, 0, 0, -0.5f, 0},
                        3,
                        Interpolation.LINEAR)));
        Model w = walker(), m = new Model("w", w.nodes(), w.parts(), w.skins(), List.of(sink), w.materials());
        for (Performer.Feet f : Performer.Feet.values()) {
            Mesh at = of(Blocking.Around.NOTHING, m, walker("sink").standing(f, false))
                    .meshes(13.5, 13.5)
                    .get(0);
            double low = Double.MAX_VALUE;
            for (int i = 1; i < at.position0().length; i += 3) low = Math.min(low, at.position0()[i]);
            assertThat(low)
                    .as(f.name())
                    .isCloseTo(f == Performer.Feet.REST ? -0.25 : f == Performer.Feet.CLIP ? 0.25 : 0, within(1e-5));
        }
    }

    /** A texture, half black and half white, and a picture of the other halves: each glows where it is said to. */
    @Test
    void glowsWhereItIsSaidTo() {
        Texture halves = new Texture(2, 1, new int[] {0xff101010, 0xfff0f0f0}, true, true),
                other = new Texture(1, 2, new int[] {0xff000000, 0xffffffff}, true, true);
        Material m = new Material(
                "skin", new float[] {1, 1, 1, 1}, halves, 0, 1, null, null, 1, new float[3], null, 0, false, true);
        float[] at = new float[4];
        for (String mask : new String[] {Look.BRIGHT, Look.DARK, "windows"}) {
            Look l = new Look(
                    "skin", null, null, null, List.of(3.0, 2.0, 1.0), null, null, null, null, null, null, null, mask);
            Material on = l.on(m, n -> n.equals("windows") ? other : null);
            assertThat(on.emissive()).containsExactly(3, 2, 1);
            float[][] wanted = mask.equals("windows")
                    ? new float[][] {{0.5f, 0.1f, 0}, {0.5f, 0.9f, 1}}
                    : new float[][] {
                        {0.1f, 0.5f, mask.equals(Look.DARK) ? 1 : 0}, {0.9f, 0.5f, mask.equals(Look.DARK) ? 0 : 1}
                    };
            for (float[] w : wanted) {
                on.emissiveTexture().sample(w[0], w[1], at);
                assertThat(at[0]).isCloseTo(w[2], within(1e-3f));
            }
        }
    }

    @Test
    void looksAreKeptApartFromTheModel() {
        Performer p = walker("")
                .withLooks(List.of(
                        new Look(
                                "matt",
                                List.of(0.1, 0.2, 0.3),
                                0.35,
                                1.0,
                                null,
                                null,
                                null,
                                null,
                                null,
                                0.5,
                                false,
                                4.0,
                                null),
                        Look.none("")));
        Material m =
                of(Blocking.Around.NOTHING, walker(), p).meshes(1, 1).get(0).materials()[0];
        assertThat(m.baseColor()).containsExactly(0.1f, 0.2f, 0.3f, 0.5f);
        assertThat(m.roughness()).isEqualTo(0.35f);
        assertThat(m.blend()).isTrue();
        assertThat(m.layers().scatter()).isEqualTo(0.004f);
        assertThat(walker().materials()[0].baseColor()).containsExactly(0.5f, 0.5f, 0.5f, 1);
        // The short form and a long one both come back as they were.
        Shot s = ShotJson.read("{\"performers\": [{\"model\": \"w\", \"clip\": \"walk\", \"clipSpeed\": 2, \"curves\": "
                + "{\"x\": {\"keys\": [{\"frame\": 3, \"value\": 1, \"ease\": \"HOLD\", \"in\": 0, "
                + "\"out\": 0}], \"waves\": []}}}]}");
        assertThat(s.performers().get(0).clips())
                .containsExactly(new ClipUse("walk", 0, 0, 0, 0, 2, ClipUse.Repeat.LOOP, 0));
        Shot full = Shot.BLANK.with(new ArrayList<>(List.of(p.with(new Route(List.of(0.0, 0.0, 1.0, 1.0), 1, 2, true))
                .with(new Tie(Tie.To.TRACK, 5, "", false))
                .withParts(List.of(new PartTurn("hand", "y", 3)))
                .with("x", s.performers().get(0).curve("x")))));
        assertThat(ShotJson.read(ShotJson.write(full))).isEqualTo(full);
    }
}

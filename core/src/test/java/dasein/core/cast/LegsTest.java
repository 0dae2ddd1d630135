package dasein.core.cast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.math.Affine;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.Moment;
import dasein.core.model.Posing;
import dasein.core.model.file.ModelReader;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Legs that are found in a model, when their feet stand, and a foot that is brought elsewhere. */
class LegsTest {
    private static Model strider;
    private static Model.Clip walk;
    private static Footing footing;
    private static Legs legs;

    @BeforeAll
    static void find() {
        strider = ModelReader.read(Path.of("demo/models/strider.glb"));
        walk = strider.clip("walk");
        footing = Footing.of(strider, walk, Set.of());
        legs = Legs.of(strider, walk, footing);
    }

    private static Posing posed(double seconds, Map<Integer, Quat> turns) {
        Posing p = new Posing(strider);
        p.at(new Moment(Affine.identity(), walk, seconds, null, 0, 1, turns));
        return p;
    }

    private static Vec3 at(Posing p, int node) {
        double[] m = p.node(node);
        return new Vec3(m[3], m[7], m[11]);
    }

    @Test
    void everyLegHasJointsOfItsOwnInAChain() {
        assertThat(legs.all()).hasSizeGreaterThanOrEqualTo(2);
        Set<Integer> joints = new HashSet<>();
        for (Legs.Leg l : legs.all()) {
            assertThat(strider.nodes().get(l.foot()).parent()).isEqualTo(l.knee());
            assertThat(strider.nodes().get(l.knee()).parent()).isEqualTo(l.hip());
            assertThat(joints.add(l.knee()) && joints.add(l.foot())).isTrue();
        }
    }

    /** What stands goes backwards under the body as fast as the clip's steps say, and hardly up or down. */
    @Test
    void aFootThatStandsGoesBackEvenly() {
        for (Legs.Leg l : legs.all()) {
            assertThat(l.stands()).isNotEmpty();
            double last = -1;
            for (Legs.Stand s : l.stands()) {
                assertThat(s.from()).isGreaterThan(last);
                last = s.from();
                double seconds = s.to() - s.from();
                assertThat(seconds).isBetween(0.05 * walk.seconds(), 0.95 * walk.seconds());
                assertThat((s.first().z() - s.last().z()) / seconds)
                        .isCloseTo(footing.stepSpeed(), within(0.15 * footing.stepSpeed()));
                assertThat(s.middle().z()).isBetween(s.last().z(), s.first().z());
                assertThat(Math.abs(s.first().y() - s.last().y())).isLessThan(0.05 * footing.height());
            }
        }
    }

    /** Law of cosines, read from the outside: bones keep their length, and the joint is where it was asked to be. */
    @Test
    void aFootWithinReachGoesWhereItIsAskedAndBonesKeepTheirLength() {
        Random r = new Random(3);
        int reached = 0;
        for (int k = 0; k < 40; k++) {
            Legs.Leg l = legs.all().get(k % legs.all().size());
            double seconds = walk.seconds() * r.nextDouble(), twist = 0.4 * r.nextGaussian();
            Posing before = posed(seconds, Map.of());
            Vec3 by = new Vec3(r.nextGaussian(), 0, r.nextGaussian()).times(0.04 * footing.height());
            Map<Integer, Quat> turns = new HashMap<>();
            Legs.reach(l, before, by, twist, turns);
            assertThat(turns.keySet()).containsExactlyInAnyOrder(l.hip(), l.knee(), l.foot());
            Posing after = posed(seconds, turns);
            Vec3 hip = at(after, l.hip()), knee = at(after, l.knee()), foot = at(after, l.foot());
            assertThat(hip.distance(at(before, l.hip()))).isLessThan(1e-6);
            assertThat(knee.distance(hip)).isCloseTo(at(before, l.knee()).distance(at(before, l.hip())), within(1e-5));
            assertThat(foot.distance(knee))
                    .isCloseTo(at(before, l.foot()).distance(at(before, l.knee())), within(1e-5));
            Vec3 wanted = at(before, l.foot()).plus(by);
            double whole = knee.distance(hip) + foot.distance(knee);
            // Near its full length it gives way, and the foot comes a little less far.
            if (wanted.distance(hip) < 0.95 * whole) {
                assertThat(foot.distance(wanted)).isLessThan(1e-4 * footing.height());
                reached++;
            } else assertThat(foot.distance(wanted)).isLessThan(0.2 * footing.height());
            // The foot itself turns about the upright, as it was asked to.
            Quat own = Affine.rotation(before.node(l.foot())), now = Affine.rotation(after.node(l.foot()));
            assertThat(now.angleTo(Quat.axisAngle(Vec3.Y, twist).times(own))).isLessThan(1e-4);
        }
        assertThat(reached).as("asked for within reach").isGreaterThan(10);
    }

    @Test
    void notMovedMeansNotTurned() {
        Map<Integer, Quat> turns = new HashMap<>();
        Legs.Leg l = legs.all().get(0);
        // In the middle of a stand the leg is bent enough not to give way.
        Posing p = posed(l.stands().get(0).half(), Map.of());
        double hip = at(p, l.hip()).distance(at(p, l.foot())),
                whole =
                        at(p, l.hip()).distance(at(p, l.knee()))
                                + at(p, l.knee()).distance(at(p, l.foot()));
        assertThat(hip).isLessThan(whole);
        Legs.reach(l, p, Vec3.ZERO, 0, turns);
        for (Quat q : turns.values()) assertThat(q.angleTo(Quat.IDENTITY)).isLessThan(0.02);
    }

    @Test
    void whatHasNoLegsHasNone() {
        Model crate = ModelReader.read(Path.of("demo/models/crate.glb"));
        Footing f = Footing.of(crate, null, Set.of());
        assertThat(f.stepSpeed()).isZero();
        assertThat(f.lowest()).isCloseTo(crate.bounds()[1], within(1e-6));
        assertThat(f.height()).isCloseTo(crate.bounds()[4] - crate.bounds()[1], within(1e-6));
        // The lowest vertices, and no others, touch the ground.
        float[] at = f.places(Moment.still(Affine.identity(), null, 0));
        assertThat(at.length).isPositive();
        for (int i = 1; i < at.length; i += 3)
            assertThat(at[i] - (float) f.lowest()).isLessThan((float) (0.013 * f.height()));
    }
}

package dasein.core.math;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Turns, rigid motions and similarities by what must be true of all of them. */
class TurnsTest {
    private final Random r = new Random(5);

    private Vec3 some() {
        return new Vec3(r.nextGaussian(), r.nextGaussian(), r.nextGaussian());
    }

    private Quat turn() {
        return Quat.axisAngle(some(), 6 * r.nextDouble() - 3);
    }

    private static void same(Vec3 a, Vec3 b) {
        assertThat(a.distance(b)).isLessThan(1e-9);
    }

    /** Rodrigues' rotation formula, written out. */
    @Test
    void aTurnAboutAnAxisIsRodrigues() {
        for (int k = 0; k < 100; k++) {
            Vec3 axis = some().unit(), v = some();
            double a = 6 * r.nextDouble() - 3;
            Vec3 want = v.times(Math.cos(a))
                    .plus(axis.cross(v).times(Math.sin(a)))
                    .plus(axis.times(axis.dot(v) * (1 - Math.cos(a))));
            same(Quat.axisAngle(axis, a).rotate(v), want);
            same(
                    Quat.fromRotationVector(a * axis.x(), a * axis.y(), a * axis.z())
                            .rotate(v),
                    want);
        }
        same(Quat.axisAngle(Vec3.Y, Math.PI / 2).rotate(Vec3.Z), Vec3.X);
    }

    @Test
    void productsMatricesAndInversesAgree() {
        for (int k = 0; k < 100; k++) {
            Quat a = turn(), b = turn();
            Vec3 v = some();
            same(a.times(b).rotate(v), a.rotate(b.rotate(v)));
            same(a.conjugate().rotate(a.rotate(v)), v);
            double[] m = a.matrix();
            same(
                    new Vec3(
                            m[0] * v.x() + m[1] * v.y() + m[2] * v.z(),
                            m[3] * v.x() + m[4] * v.y() + m[5] * v.z(),
                            m[6] * v.x() + m[7] * v.y() + m[8] * v.z()),
                    a.rotate(v));
            assertThat(Quat.fromMatrix(m).angleTo(a)).isLessThan(1e-7);
            assertThat(a.rotate(v).length()).isCloseTo(v.length(), within(1e-12));
        }
        // Half turns are where a choice of the wrong pivot would divide by nothing.
        for (Vec3 axis : List.of(Vec3.X, Vec3.Y, Vec3.Z, new Vec3(1, 1, 0), new Vec3(0, 1, -1)))
            assertThat(Quat.fromMatrix(Quat.axisAngle(axis, Math.PI).matrix()).angleTo(Quat.axisAngle(axis, Math.PI)))
                    .isLessThan(1e-7);
    }

    @Test
    void theTurnBetweenTwoDirectionsIsTheShortestOne() {
        for (int k = 0; k < 100; k++) {
            Vec3 a = some().unit(), b = some().unit();
            Quat q = Quat.between(a, b);
            same(q.rotate(a), b);
            assertThat(q.angleTo(Quat.IDENTITY)).isCloseTo(Math.acos(a.dot(b)), within(1e-6));
        }
        // Straight back there is no shortest one, but it must get there.
        same(Quat.between(Vec3.X, Vec3.X.times(-1)).rotate(Vec3.X), Vec3.X.times(-1));
        assertThat(Quat.between(Vec3.Z, Vec3.Z).angleTo(Quat.IDENTITY)).isLessThan(1e-9);
    }

    /** Even speed along the shorter arc (Shoemake 1985), whichever sign the quaternions have. */
    @Test
    void interpolationTurnsEvenlyTheShortWay() {
        for (int k = 0; k < 100; k++) {
            Quat a = turn(), b = turn();
            double whole = a.angleTo(b);
            Quat minus = new Quat(-b.x(), -b.y(), -b.z(), -b.w());
            for (double t : new double[] {0, 0.25, 0.5, 1}) {
                assertThat(a.angleTo(a.slerp(b, t))).isCloseTo(t * whole, within(1e-6));
                assertThat(a.slerp(minus, t).angleTo(a.slerp(b, t))).isLessThan(1e-6);
            }
        }
        Quat near = Quat.axisAngle(Vec3.X, 1e-9);
        assertThat(Quat.IDENTITY.slerp(near, 0.5).angleTo(near)).isLessThan(1e-8);
    }

    @Test
    void rigidMotionsAreDoneUndoneAndWrittenAsMatrices() {
        for (int k = 0; k < 50; k++) {
            Pose a = new Pose(turn(), some()), b = new Pose(turn(), some());
            Vec3 v = some();
            same(a.toLocal(a.toWorld(v)), v);
            same(a.inverse().toWorld(v), a.toLocal(v));
            same(a.times(b).toWorld(v), a.toWorld(b.toWorld(v)));
            Pose m = Pose.fromMatrix(a.matrix());
            same(m.toWorld(v), a.toWorld(v));
            same(a.interpolate(b, 0).toWorld(v), a.toWorld(v));
            same(a.interpolate(b, 1).toWorld(v), b.toWorld(v));
        }
    }

    @Test
    void aCameraLooksWhereItIsTold() {
        for (int k = 0; k < 50; k++) {
            Vec3 eye = some(), target = some();
            Pose p = Pose.lookAt(eye, target, Vec3.Y);
            Vec3 seen = p.toLocal(target);
            // Down its -Z, and what is above it in the world is above it in the picture.
            assertThat(seen.x()).isCloseTo(0, within(1e-9));
            assertThat(seen.y()).isCloseTo(0, within(1e-9));
            assertThat(seen.z()).isCloseTo(-eye.distance(target), within(1e-9));
            assertThat(p.rotation().conjugate().rotate(Vec3.Y).y()).isPositive();
            assertThat(p.rotation().conjugate().rotate(Vec3.Y).x()).isCloseTo(0, within(1e-9));
        }
    }

    /** Umeyama 1991: exact on exact points, also where a fit without its sign rule would give a mirror. */
    @Test
    void aSimilarityIsFoundFromPointsBeforeAndAfter() {
        for (int k = 0; k < 50; k++) {
            Similarity true_ = new Similarity(0.2 + 3 * r.nextDouble(), turn(), some());
            List<Vec3> from = new ArrayList<>(), to = new ArrayList<>();
            for (int i = 0; i < 7; i++) {
                // Every other set lies in a plane, where a mirror fits as well.
                Vec3 p = k % 2 == 0 ? some() : new Vec3(r.nextGaussian(), 0, r.nextGaussian());
                from.add(p);
                to.add(true_.apply(p));
            }
            Similarity s = Similarity.fit(from, to);
            assertThat(s.scale()).isCloseTo(true_.scale(), within(1e-9));
            assertThat(s.rotation().angleTo(true_.rotation())).isLessThan(1e-6);
            Vec3 q = some();
            same(s.apply(q), true_.apply(q));
            same(s.inverse().apply(s.apply(q)), q);
            Pose camera = new Pose(turn(), some());
            // What a camera saw straight ahead it still sees straight ahead.
            Vec3 ahead = camera.toWorld(new Vec3(0, 0, -2));
            Vec3 then = s.apply(camera).toLocal(s.apply(ahead));
            assertThat(Math.hypot(then.x(), then.y())).isLessThan(1e-9);
            assertThat(then.z()).isCloseTo(-2 * s.scale(), within(1e-9));
        }
    }

    @Test
    void nothingHasNoDirection() {
        assertThatThrownBy(Vec3.ZERO::unit).isInstanceOf(ArithmeticException.class);
        for (int k = 0; k < 30; k++) {
            Vec3 v = some();
            assertThat(v.anyPerpendicular().dot(v)).isCloseTo(0, within(1e-9));
            assertThat(v.anyPerpendicular().length()).isCloseTo(1, within(1e-12));
            same(v.cross(v), Vec3.ZERO);
            same(v.lerp(some(), 0), v);
        }
    }
}

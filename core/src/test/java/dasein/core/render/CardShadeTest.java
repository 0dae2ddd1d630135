package dasein.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.pass.Passes;
import java.util.List;
import org.junit.jupiter.api.Test;

/** A card that shows its footage as it is, in another performer's shadow. */
class CardShadeTest {
    private static final Pose FRONT = Pose.lookAt(new Vec3(0, 0, 6), new Vec3(0, 0, 0), Vec3.Y);

    private static Mesh card(boolean shaded) {
        Mesh q = Shapes.quad(
                new Vec3(-3, -3, 0),
                new Vec3(3, -3, 0),
                new Vec3(3, 3, 0),
                new Vec3(-3, 3, 0),
                Mesh.Role.PERFORMER,
                null);
        Material m = Material.matt(0.5f, 0.5f, 0.5f).with(new Material.Layers(new float[3], 0, 0, 0, true));
        return Shapes.as(q, m, 7, Mesh.Role.PERFORMER, null).with(new Mesh.Shows(true, true, true, false, shaded));
    }

    /** Of another performer, or of the card's own. */
    private static Mesh ball(Vec3 at, double r, int performer) {
        Material m = Material.matt(0.2f, 0.2f, 0.2f);
        return Shapes.as(Shapes.sphere(at, r, m, Mesh.Role.PERFORMER), m, performer, Mesh.Role.PERFORMER, null)
                .with(new Mesh.Shows(false, true, false, false));
    }

    private static float middle(Mesh card, Mesh ball, Lighting l) {
        Passes p = Shapes.render(List.of(card, ball), l, FRONT, 256, 1, false, null);
        return Shapes.middle(p, 1);
    }

    @Test
    void sunIsTakenWhereverTheCardFaces() {
        for (double z : new double[] {1, -1}) {
            Sun sun = new Sun(new Vec3(0, 0.5, z).unit(), Math.toRadians(0.5), new float[] {3, 3, 3});
            Lighting l = new Lighting(null, List.of(sun));
            Mesh before = ball(new Vec3(0, 1, 2 * z), 0.8, 2), own = ball(new Vec3(0, 1, 2 * z), 0.8, 7);
            assertThat(middle(card(true), before, l)).as("sun at %s", z).isZero();
            assertThat(middle(card(false), before, l)).isCloseTo(0.5f, within(1e-4f));
            assertThat(middle(card(true), own, l)).as("nothing shades itself").isCloseTo(0.5f, within(1e-4f));
        }
    }

    /** In even light a ball takes the part of all directions that it fills: (1 - cos) / 2 of its half angle. */
    @Test
    void ofEvenLightAsMuchAsTheBallIsSeen() {
        double r = 0.8, far = 1.2, cos = Math.sqrt(1 - r * r / (far * far)), part = (1 - cos) / 2;
        float v = middle(card(true), ball(new Vec3(0, 0, far), r, 2), new Lighting(Shapes.even(1), List.of()));
        assertThat((double) v).isCloseTo(0.5 * (1 - part), within(0.006));
    }
}

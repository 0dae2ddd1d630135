package dasein.core.render;

import static dasein.core.render.Shapes.floor;
import static dasein.core.render.Shapes.render;
import static dasein.core.render.Shapes.sphere;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.light.Lighting;
import dasein.core.light.lamp.Lamp;
import dasein.core.light.lamp.Lamp.Kind;
import dasein.core.math.Pose;
import dasein.core.math.Sobol;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Texture;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Lamps against the closed forms of radiometry (as in Howell's catalogue of configuration factors). */
class LampsTest {
    private static final double H = 1.5;

    /** Over a place, shining down, of intensity 2. */
    private static Lamp lamp(Kind kind, double width, double height, boolean real) {
        return new Lamp(
                kind,
                new Vec3(0, H, 0),
                kind == Kind.LINE ? Vec3.X : new Vec3(0, -1, 0),
                kind == Kind.LINE ? Vec3.Y : Vec3.X,
                width,
                height,
                Math.cos(Math.toRadians(30)),
                Math.cos(Math.toRadians(20)),
                new float[] {2, 2, 2},
                real);
    }

    /** Irradiance on level ground at x, by many light samples. */
    private static double sampled(Lamp l, double x, int samples) {
        Lamps lamps = new Lamps(List.of(l));
        Sobol r = new Sobol();
        double sum = 0;
        for (int i = 0; i < samples; i++) {
            r.start(i, 77);
            r.next();
            if (lamps.sample(0, (float) x, 0, 0, r.u, r.v)) sum += lamps.light[0] * Math.max(0, lamps.dy) / samples;
        }
        return sum;
    }

    @Test
    void irradianceIsTheClosedForms() {
        int n = 1 << 14;
        // A point and a small spot: inverse squares.
        assertThat(sampled(lamp(Kind.POINT, 1, 1, false), 0, 4)).isCloseTo(2 / (H * H), within(1e-5));
        double d2 = H * H + 1;
        assertThat(sampled(lamp(Kind.POINT, 1, 1, false), 1, 4)).isCloseTo(2 / d2 * H / Math.sqrt(d2), within(1e-5));
        assertThat(sampled(lamp(Kind.SPOT, 1, 1, false), 0, 4)).isCloseTo(2 / (H * H), within(1e-5));
        assertThat(sampled(lamp(Kind.SPOT, 1, 1, false), H * Math.tan(Math.toRadians(31)), 4))
                .isZero();
        // A sphere is as a point in its middle, wherever all of it stands over the horizon.
        for (double x : new double[] {0, 0.7}) {
            double q = H * H + x * x;
            assertThat(sampled(lamp(Kind.SPHERE, 1, 1, false), x, n)).isCloseTo(2 / q * H / Math.sqrt(q), close(2 / q));
        }
        // A disc right above: L pi R^2 / (R^2 + h^2).
        assertThat(sampled(lamp(Kind.DISC, 1.2, 1, false), 0, n)).isCloseTo(2 / (0.36 + H * H), close(1));
        // A rectangle above its middle: four times that above a corner of a quarter.
        double a = 0.6 / H, b = 0.3 / H, l = 2 / (1.2 * 0.6), sa = Math.sqrt(1 + a * a), sb = Math.sqrt(1 + b * b);
        double corner = l / 2 * (a / sa * Math.atan(b / sa) + b / sb * Math.atan(a / sb));
        assertThat(sampled(lamp(Kind.RECTANGLE, 1.2, 0.6, false), 0, n)).isCloseTo(4 * corner, close(1));
        // A tube: intensity by the sine, integrated along it.
        double half = 0.8, tube = 2 / 1.6 * (half / (H * H + half * half) + Math.atan(half / H) / H);
        assertThat(sampled(lamp(Kind.LINE, 1.6, 1, false), 0, n)).isCloseTo(tube, close(1));
    }

    /** A picture that is black on its left: what is left is the right half, as a rectangle of its own. */
    @Test
    void aPictureShinesAsWhatItShows() {
        int n = 1 << 14;
        Lamp l = lamp(Kind.RECTANGLE, 1.2, 0.6, false);
        int[] argb = new int[2 * 64];
        for (int i = 0; i < argb.length; i++) argb[i] = i % 64 < 32 ? 0xff000000 : 0xffffffff;
        Lamp half = l.showing(new Texture(64, 2, argb, true, true));
        // Facing down with its right along +X, who looks up at it sees +X on the right: the lit half lies there.
        Lamp own = new Lamp(
                Kind.RECTANGLE,
                new Vec3(0.3, H, 0),
                l.towards(),
                l.right(),
                0.6,
                0.6,
                l.cosCone(),
                l.cosFull(),
                new float[] {1, 1, 1},
                false);
        for (double x : new double[] {-0.5, 0, 0.8})
            assertThat(sampled(half, x, n)).isCloseTo(sampled(own, x, n), within(0.02 * sampled(own, x, n)));
        // Met by a ray straight up from under either half.
        Lamps lamps = new Lamps(List.of(half));
        assertThat(lamps.met(0, 0.3f, 0, 0, 0, 1, 0, 10)).isTrue();
        assertThat(lamps.light[0]).isCloseTo((float) (2 / half.area()), within(1e-3f));
        assertThat(lamps.met(0, -0.3f, 0, 0, 0, 1, 0, 10)).isFalse();
    }

    /** Half a percent. */
    private static org.assertj.core.data.Offset<Double> close(double of) {
        return within(0.005 * of);
    }

    private static final Pose ABOVE = Pose.lookAt(new Vec3(0, 4, 0.001), Vec3.ZERO, new Vec3(0, 0, -1));

    private static final Ground GREY = (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.4f);

    private static double middle(float[] plane) {
        double s = 0;
        for (int y = 28; y < 32; y++) for (int x = 38; x < 42; x++) s += plane[y * 80 + x] / 16;
        return s;
    }

    /** A performer's skin, lit by light samples and by its own directions together, is albedo / pi of it. */
    @Test
    void performersAreLitByIt() {
        Mesh floor = floor(3, Material.matt(0.5f, 0.5f, 0.5f), Mesh.Role.PERFORMER);
        for (Kind k : new Kind[] {Kind.DISC, Kind.SPHERE, Kind.POINT}) {
            Lamp l = lamp(k, 1.2, 1, false);
            Passes p = render(List.of(floor), new Lighting(null, List.of(), List.of(l)), ABOVE, 96, 1, false, null);
            double want = 0.5 / Math.PI * sampled(l, 0, 1 << 14);
            assertThat(middle(p.beauty[0])).as(k.name()).isCloseTo(want, within(0.02 * want));
        }
    }

    /** An added lamp gives the ground what it had not; a performer's shadow lies in that light alone. */
    @Test
    void addedLightFallsOnTheGroundAndRoundPerformers() {
        Mesh ground = floor(30, Material.matt(0.5f, 0.5f, 0.5f), Mesh.Role.CATCHER),
                ball = sphere(new Vec3(0, 0.5, 0), 0.2, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.PERFORMER);
        Lamp l = lamp(Kind.POINT, 1, 1, false);
        Lighting light = new Lighting(Shapes.even(0.5f), List.of(), List.of(l));
        Pose side = Pose.lookAt(new Vec3(0, 2, 3), Vec3.ZERO, Vec3.Y);
        Passes open = render(List.of(ground), light, ABOVE, 32, 1, false, GREY);
        assertThat(middle(open.bounce[0])).isCloseTo(0.4 / Math.PI * 2 / (H * H), within(0.01));
        assertThat(middle(open.shadow[0])).isEqualTo(1);
        // Seen from the side, the ground in front of the ball lies in the light, that under it does not.
        Passes p = render(List.of(ground, ball), light, side, 64, 1, false, GREY);
        double[] at = Shapes.LENS.project(side.toLocal(new Vec3(0, 0, 0.05)));
        int i = (int) at[1] * 80 + (int) at[0];
        double[] off = Shapes.LENS.project(side.toLocal(new Vec3(0.9, 0, 0.05)));
        int j = (int) off[1] * 80 + (int) off[0];
        assertThat(p.bounce[0][i]).isLessThan(0.3f * p.bounce[0][j]);
        Passes dark = render(List.of(ground), new Lighting(Shapes.even(0.5f), List.of()), ABOVE, 32, 1, false, GREY);
        assertThat(middle(dark.bounce[0])).isZero();
    }

    /** A lamp that stood on set is in the plate: performers take it away, and nothing is given. */
    @Test
    void realLampsThrowShadows() {
        Mesh ground = floor(30, Material.matt(0.5f, 0.5f, 0.5f), Mesh.Role.CATCHER),
                ball = sphere(new Vec3(0, 0.75, 0), 0.25, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.PERFORMER);
        Lamp l = lamp(Kind.POINT, 1, 1, true);
        Lighting light = new Lighting(Shapes.even(0.2f), List.of(), List.of(l));
        Pose side = Pose.lookAt(new Vec3(0, 2.5, 3), Vec3.ZERO, Vec3.Y);
        Passes p = render(List.of(ground, ball), light, side, 96, 1, false, GREY);
        double[] at = Shapes.LENS.project(side.toLocal(new Vec3(0.3, 0, 0.2)));
        int i = (int) at[1] * 80 + (int) at[0];
        // What is left is the sky's share, less what the ball hides of it: pi 0.2 of that and 2 cos^3 / h^2.
        double r2 = 0.3 * 0.3 + 0.2 * 0.2 + H * H, lamp = 2 / r2 * H / Math.sqrt(r2), sky = Math.PI * 0.2;
        assertThat(p.shadow[0][i]).isBetween((float) (0.7 * sky / (sky + lamp)), (float) (sky / (sky + lamp) + 0.02));
        double[] far = Shapes.LENS.project(side.toLocal(new Vec3(1.3, 0, 0)));
        assertThat(p.shadow[0][(int) far[1] * 80 + (int) far[0]]).isGreaterThan(0.97f);
        double given = 0;
        for (float v : p.bounce[0]) given = Math.max(given, v);
        assertThat(given).isLessThan(0.05);
    }
}

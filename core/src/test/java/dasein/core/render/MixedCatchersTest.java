package dasein.core.render;

import static dasein.core.render.Shapes.quad;
import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.lens.View;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.pass.Passes;
import java.util.List;
import org.junit.jupiter.api.Test;

/**
 * Several stand-ins at once: wet ground, a wall that mirrors nothing, one that only mirrors. The plate with the passes
 * on it must be the scene rendered whole with the performer in it (Debevec 1998).
 */
class MixedCatchersTest {
    private static final int W = 80, H = 60, SIDE = 4;
    private static final Pose FROM = Pose.lookAt(new Vec3(0.4, 1.1, 4.2), new Vec3(-0.2, 0.45, 0), Vec3.Y);
    private static final View VIEW = new View(FROM, FROM, Shapes.LENS, W, H);
    private static final Lighting LIGHT = new Lighting(
            Shapes.even(0.5f),
            List.of(new Sun(new Vec3(0.8, 0.9, 0.5).unit(), Math.toRadians(3), new float[] {1.5f, 1.5f, 1.5f})));

    private static Material real(float grey, float f0, float rough) {
        return Shapes.material(grey, 0, rough, null, new Material.Layers(new float[] {f0, f0, f0}, 0, 0, 0, false));
    }

    /** The ground, and a wall behind the ball on which its shadow falls. */
    private static Mesh piece(boolean wall, Material m, Mesh.Catch does) {
        Mesh q = wall
                ? quad(
                        new Vec3(-6, 0, -1.2),
                        new Vec3(6, 0, -1.2),
                        new Vec3(6, 4, -1.2),
                        new Vec3(-6, 4, -1.2),
                        does == null ? Mesh.Role.PERFORMER : Mesh.Role.CATCHER,
                        does)
                : quad(
                        new Vec3(-30, 0, 30),
                        new Vec3(30, 0, 30),
                        new Vec3(30, 0, -30),
                        new Vec3(-30, 0, -30),
                        does == null ? Mesh.Role.PERFORMER : Mesh.Role.CATCHER,
                        does);
        return Shapes.as(q, m, wall ? 2 : 3, q.role(), does);
    }

    private static Mesh ball() {
        Mesh b = Shapes.sphere(new Vec3(-0.1, 0.55, -0.4), 0.5, real(0.6f, 0, 1), Mesh.Role.PERFORMER);
        return b.with(new Mesh.Shows(false, true, true, false));
    }

    private static Passes seen(List<Mesh> scene, Ground ground, int samples) {
        return FrameRenderer.render(
                new FrameRenderer.Job(
                        scene,
                        LIGHT,
                        VIEW,
                        ground,
                        CatcherLook.DRY,
                        new Quality(samples, samples, 0, 3, false),
                        false,
                        0.5,
                        5),
                Progress.NONE,
                null);
    }

    /** Root mean square and mean difference of plate with passes from the whole, over its level. */
    private static double[] against(
            float wet, float rough, Mesh.Catch onGround, Mesh.Catch onWall, float glass, float smooth, int rows) {
        Material floor = real(0.3f, wet, rough), wall = real(glass > 0 ? 0 : 0.5f, glass, smooth);
        List<Mesh> set = List.of(piece(false, floor, null), piece(true, wall, null)),
                whole = List.of(set.get(0), set.get(1), ball()),
                stand = List.of(piece(false, floor, onGround), piece(true, wall, onWall), ball());
        Passes without = seen(set, null, 64), with = seen(whole, null, 96);
        Image plate = new Image(W, H, 3);
        for (int c = 0; c < 3; c++) System.arraycopy(without.beauty[c], 0, plate.planes[c], 0, W * H);
        Ground told =
                new PlateGround(List.of(new Projection(plate, VIEW, stand.subList(0, 2))), new Irradiance(LIGHT), null);
        Passes p = seen(stand, told, 96);
        double off = 0, mean = 0, level = 0;
        int n = 0;
        // By blocks, so that noise is not taken for a difference.
        for (int by = 0; by + SIDE <= rows; by += SIDE)
            for (int bx = 0; bx + SIDE <= W; bx += SIDE) {
                double d = 0;
                int in = 0;
                for (int k = 0; k < SIDE * SIDE; k++) {
                    int i = (by + k / SIDE) * W + bx + k % SIDE;
                    if (with.alpha[i] < 1) continue;
                    d += without.beauty[1][i] * p.shadow[1][i]
                            + p.bounce[1][i]
                            + p.reflection[1][i]
                            - with.beauty[1][i];
                    level += with.beauty[1][i];
                    in++;
                }
                if (in == 0) continue;
                mean += d;
                off += d / in * d;
                n += in;
            }
        return new double[] {Math.sqrt(off / n) / (level / n), mean / level};
    }

    private static final Mesh.Catch DRY = new Mesh.Catch(true, true, true, 0, 0.3),
            WET = new Mesh.Catch(true, true, true, 1, 0.25),
            MIRROR = new Mesh.Catch(false, true, true, 1, 0.2);

    /** Each gives light to the other, which the ball takes away: without that the difference is 3.7 %. */
    @Test
    void dryPiecesTakeShadowAndLightFromEachOther() {
        double[] d = against(0, 1, DRY, DRY, 0, 1, H);
        System.out.printf("dry: %.4f, mean %.4f%n", d[0], d[1]);
        assertThat(d[0]).isLessThan(0.03);
    }

    /** In the film the ball stands before the wall: with the sky's light taken off instead it is 5.9 %. */
    @Test
    void wetGroundMirrorsInsteadOfTheWallBehindThePerformer() {
        double[] d = against(0.02f, 0.25f, WET, DRY, 0, 1, H);
        System.out.printf("wet: %.4f, mean %.4f%n", d[0], d[1]);
        assertThat(d[0]).isLessThan(0.04);
    }

    /** A dark wall as of glass, which takes no shadow and only mirrors: of its own light, which is little. */
    @Test
    void aPieceThatOnlyMirrors() {
        double[] d = against(0, 1, DRY, MIRROR, 0.02f, 0.2f, H / 2);
        System.out.printf("mirror: %.4f, mean %.4f%n", d[0], d[1]);
        assertThat(d[0]).isLessThan(0.06);
    }

    /**
     * The underside of a slab near bright ground has the light that the ground returns: on a catcher as on real ground,
     * where its own shadow lies too.
     */
    @Test
    void undersidesHaveTheReturnOfTheGround() {
        Material slab = real(0.5f, 0, 1);
        double y = 0.5;
        Mesh under = quad(
                new Vec3(-1, y, 1),
                new Vec3(1, y, 1),
                new Vec3(1, y, -1),
                new Vec3(-1, y, -1),
                Mesh.Role.PERFORMER,
                null);
        Pose low = Pose.lookAt(new Vec3(0, 0.2, 3), new Vec3(0, 0.45, 0), Vec3.Y);
        Material bright = real(0.7f, 0, 1);
        Mesh plain = Shapes.as(under, slab, 1, Mesh.Role.PERFORMER, null);
        Passes[] p = new Passes[2];
        for (int k = 0; k < 2; k++) {
            Ground g = new Ground() {
                @Override
                public void albedo(float x, float y, float z, float nx, float ny, float nz, float[] out) {
                    java.util.Arrays.fill(out, 0.7f);
                }

                @Override
                public boolean radiance(float x, float y, float z, float nx, float ny, float nz, float[] out) {
                    float[] e = LIGHT.irradiance(new Vec3(nx, ny, nz));
                    for (int c = 0; c < 3; c++) out[c] = (float) (0.7 / Math.PI * e[c]);
                    return true;
                }
            };
            p[k] = FrameRenderer.render(
                    new FrameRenderer.Job(
                            List.of(plain, piece(false, bright, k == 0 ? null : DRY)),
                            LIGHT,
                            new View(low, low, Shapes.LENS, W, H),
                            g,
                            CatcherLook.DRY,
                            new Quality(64, 64, 0, 3, false),
                            false,
                            0.5,
                            5),
                    Progress.NONE,
                    null);
        }
        double real = 0, caught = 0;
        int n = 0;
        for (int i = 0; i < W * H; i++) {
            if (p[1].alpha[i] < 1) continue;
            real += p[0].beauty[1][i];
            caught += p[1].beauty[1][i];
            n++;
        }
        assertThat(n).isGreaterThan(150);
        System.out.printf("underside: %.4f on a catcher, %.4f on real ground%n", caught / n, real / n);
        assertThat(caught / n).isCloseTo(real / n, org.assertj.core.api.Assertions.within(0.03 * real / n));
    }
}

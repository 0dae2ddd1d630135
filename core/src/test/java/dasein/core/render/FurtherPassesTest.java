package dasein.core.render;

import static dasein.core.render.Shapes.floor;
import static dasein.core.render.Shapes.sphere;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.lens.View;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.PassSet;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** Passes that are kept only when asked for, and what is known of the ground behind an edge. */
class FurtherPassesTest {
    private static final int W = 80, N = 80 * 60;
    private static final Pose FROM = Pose.lookAt(new Vec3(0, 1.1, 3), new Vec3(0, 0.5, 0), Vec3.Y);

    private static Lighting light() {
        Sun sun = new Sun(
                Sun.direction(Math.toRadians(35), Math.toRadians(60)), Math.toRadians(1), new float[] {2, 2, 2});
        return new Lighting(Shapes.even(0.4f), List.of(sun));
    }

    private static Passes seen(List<Mesh> scene, Keep keep, int samples, boolean denoise) {
        return FrameRenderer.render(
                new FrameRenderer.Job(
                                scene,
                                light(),
                                new View(FROM, FROM, Shapes.LENS, W, 60),
                                (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.3f),
                                CatcherLook.DRY,
                                new Quality(samples, samples, 0, 3, denoise),
                                false,
                                0.5,
                                5)
                        .keeping(keep),
                Progress.NONE,
                null);
    }

    private static Mesh ball(Material m) {
        return sphere(new Vec3(0, 0.5, 0), 0.5, m, Mesh.Role.PERFORMER);
    }

    private static Mesh ground() {
        return floor(40, Material.matt(0.3f, 0.3f, 0.3f), Mesh.Role.CATCHER);
    }

    private static Material glowing(Material.Layers l) {
        return new Material(
                        "both",
                        new float[] {0.5f, 0.4f, 0.3f, 1},
                        null,
                        0.3f,
                        0.4f,
                        null,
                        null,
                        1,
                        new float[] {0.1f, 0.2f, 0},
                        null,
                        0,
                        false,
                        true)
                .with(l);
    }

    private static double sum(Passes p, String pass) {
        double s = 0;
        for (float[] plane : p.of(pass)) for (float v : plane) s += v;
        return s;
    }

    @Test
    void whatASurfaceDoesAddsUpToTheBeauty() {
        float[] f0 = {0.04f, 0.04f, 0.04f};
        List<Material.Layers> all = List.of(
                Material.Layers.PLAIN,
                new Material.Layers(f0, 0.8f, 0.1f, 0, false),
                Material.Layers.PLAIN.scattering(0.05f),
                new Material.Layers(
                        f0, 0, 0, 0.7f, false, 0, null, new Material.Glass(1.4f, new float[] {0.1f, 0.2f, 0.3f})),
                new Material.Layers(
                        f0, 0, 0, 0, false, 0, new Material.Sheen(new float[] {0.3f, 0.3f, 0.5f}, 0.4f), null));
        for (Material.Layers l : all)
            for (boolean denoise : new boolean[] {false, true}) {
                Passes p = seen(List.of(ball(glowing(l)), ground()), new Keep(Set.of(PassSet.MATERIAL)), 8, denoise);
                for (int c = 0; c < 3; c++)
                    for (int i = 0; i < N; i++) {
                        float parts = 0;
                        for (var k : PassSet.MATERIAL.passes()) parts += p.of(k)[c][i];
                        assertThat(parts).isCloseTo(p.beauty[c][i], within(1e-4f * Math.max(0.1f, parts)));
                    }
                assertThat(sum(p, "transmission") > 0).isEqualTo(l.glass() != null);
                assertThat(sum(p, "subsurface") > 0).isEqualTo(l.scatter() > 0);
                assertThat(sum(p, "emission")).isPositive();
            }
    }

    /** Of what only scatters evenly nothing is mirrored, and of a metal nothing scattered. */
    @Test
    void mattIsDiffuseAndMetalIsSpecular() {
        Keep keep = new Keep(Set.of(PassSet.MATERIAL));
        Material.Layers none = new Material.Layers(new float[3], 0, 0, 0, false);
        Passes matt = seen(List.of(ball(Material.matt(0.6f, 0.6f, 0.6f).with(none)), ground()), keep, 8, false);
        assertThat(sum(matt, "specular")).isCloseTo(0, within(1e-3));
        assertThat(sum(matt, "diffuse")).isGreaterThan(10);
        Material metal = new Material(
                "metal",
                new float[] {0.9f, 0.8f, 0.7f, 1},
                null,
                1,
                0.3f,
                null,
                null,
                1,
                new float[3],
                null,
                0,
                false,
                true);
        Passes mirror = seen(List.of(ball(metal), ground()), keep, 8, false);
        assertThat(sum(mirror, "diffuse")).isZero();
        assertThat(sum(mirror, "specular")).isGreaterThan(10);
    }

    /** Of a sphere its place is on it, and the nearest distance is that of the place along the view axis. */
    @Test
    void theNearestSampleTellsPlaceAndDistance() {
        Passes p = seen(
                List.of(ball(Material.matt(0.5f, 0.5f, 0.5f)), ground()), new Keep(Set.of(PassSet.SURFACE)), 8, false);
        float[][] at = p.of(PassList.POSITION);
        int n = 0;
        for (int i = 0; i < N; i++) {
            float z = p.of(PassList.NEAREST)[0][i];
            if (p.alpha[i] == 0) {
                assertThat(z).isEqualTo(Float.POSITIVE_INFINITY);
                continue;
            }
            Vec3 q = new Vec3(at[0][i], at[1][i], at[2][i]);
            // The sphere is of facets.
            assertThat(q.minus(new Vec3(0, 0.5, 0)).length()).isCloseTo(0.5, within(0.002));
            assertThat(-FROM.toLocal(q).z()).isCloseTo(z, within(1e-3));
            assertThat(z).isLessThanOrEqualTo(p.depth[i] + 1e-4f);
            n++;
        }
        assertThat(n).isGreaterThan(100);
    }

    /** Contact is what is near: it ends where the reach does, while openness goes on. */
    @Test
    void contactEndsWhereItsReachDoes() {
        Keep keep = new Keep(LightGroups.Apart.TOGETHER, List.of(), Set.of(PassSet.CONTACT), 0.1, Map.of());
        Passes p = seen(List.of(ball(Material.matt(0.5f, 0.5f, 0.5f)), ground()), keep, 32, false);
        float[] contact = p.of(PassList.CONTACT)[0];
        int closed = 0, openOnly = 0;
        for (int i = 0; i < N; i++) {
            assertThat(contact[i]).isGreaterThanOrEqualTo(p.ao[i]);
            if (contact[i] < 0.7f) closed++;
            if (contact[i] == 1 && p.ao[i] < 0.95f) openOnly++;
        }
        assertThat(closed).isPositive();
        assertThat(openOnly).isGreaterThan(closed);
    }

    /** A ball that comes from the left and goes on faster: its ways are those of its places through the lens. */
    @Test
    void motionBothWaysIsTheWayOfThePlaces() {
        Material grey = Material.matt(0.5f, 0.5f, 0.5f);
        Mesh now = ball(grey),
                before = sphere(new Vec3(-0.1, 0.5, 0), 0.5, grey, Mesh.Role.PERFORMER),
                after = sphere(new Vec3(0.2, 0.5, 0.3), 0.5, grey, Mesh.Role.PERFORMER);
        View v = new View(FROM, FROM, Shapes.LENS, W, 60);
        FrameRenderer.Job job = new FrameRenderer.Job(
                        List.of(now, ground()),
                        light(),
                        v,
                        (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.3f),
                        CatcherLook.DRY,
                        new Quality(16, 16, 0, 0, false),
                        false,
                        0.5,
                        5)
                .keeping(new Keep(Set.of(PassSet.MOTION, PassSet.SURFACE)));
        Passes p = FrameRenderer.render(
                job.between(new Neighbours(List.of(before), List.of(after), v, v)), Progress.NONE, null);
        int n = 0;
        for (int i = 0; i < N; i++) {
            if (p.alpha[i] < 1) continue;
            float[][] at = p.of(PassList.POSITION);
            Vec3 q = new Vec3(at[0][i], at[1][i], at[2][i]);
            double[] here = v.project(q),
                    then = v.project(q.plus(new Vec3(-0.1, 0, 0))),
                    next = v.project(q.plus(new Vec3(0.2, 0, 0.3)));
            for (int c = 0; c < 2; c++) {
                // The place is that of one sample of the pixel, the way the mean of several.
                assertThat((double) p.of(PassList.BACK)[c][i]).isCloseTo(then[c] - here[c], within(0.25));
                assertThat((double) p.of(PassList.FORWARD)[c][i]).isCloseTo(next[c] - here[c], within(0.6));
            }
            n++;
        }
        assertThat(n).isGreaterThan(300);
        // Where there is no frame after it, or another thing stands in its place, nothing is said.
        Passes last = FrameRenderer.render(
                job.between(new Neighbours(List.of(ground()), null, v, null)), Progress.NONE, null);
        for (float[] plane : last.of(PassList.BACK)) assertThat(plane).containsOnly(0);
        for (float[] plane : last.of(PassList.FORWARD)) assertThat(plane).containsOnly(0);
    }

    /**
     * Debevec 1998: a plate times shadow plus what is given is the scene rendered whole with the performer in it, minus
     * nothing: the ground is rendered as a real thing without and with the ball, and the first comes to be the second.
     */
    @Test
    void thePlateWithPassesIsTheSceneRenderedWhole() {
        Material.Layers none = new Material.Layers(new float[3], 0, 0, 0, false);
        Mesh ball = ball(Material.matt(0.7f, 0.4f, 0.2f).with(none)).with(new Mesh.Shows(false, true, true, false)),
                floor = floor(40, Material.matt(0.3f, 0.3f, 0.3f).with(none), Mesh.Role.PERFORMER);
        Passes without = seen(List.of(floor), Keep.PLAIN, 64, false),
                with = seen(List.of(floor, ball), Keep.PLAIN, 512, false),
                passes = seen(List.of(ball, ground()), Keep.PLAIN, 512, false);
        double off = 0, mean = 0, level = 0, dark = 0, given = 0;
        int n = 0;
        for (int y = 30; y < 60; y++)
            for (int x = 0; x < W; x++) {
                int i = y * W + x;
                if (with.alpha[i] < 1) continue;
                for (int c = 0; c < 3; c++) {
                    double made = without.beauty[c][i] * passes.shadow[c][i] + passes.bounce[c][i],
                            d = made - with.beauty[c][i];
                    off += d * d;
                    mean += d;
                    level += with.beauty[c][i];
                    n++;
                }
                dark = Math.max(dark, 1 - passes.shadow[1][i]);
                given = Math.max(given, passes.bounce[0][i]);
            }
        assertThat(dark).isGreaterThan(0.8);
        assertThat(given).isGreaterThan(0.01);
        System.out.printf(
                "catcher against the whole scene: error %.4f, mean %.5f of %.3f%n",
                Math.sqrt(off / n), mean / n, level / n);
        assertThat(Math.abs(mean / n)).isLessThan(0.004 * level / n);
        assertThat(Math.sqrt(off / n)).isLessThan(0.02 * level / n);
    }

    @Test
    void samplesAndNoiseAreWhatWasTaken() {
        Passes p = seen(
                List.of(ball(Material.matt(0.5f, 0.5f, 0.5f)), ground()), new Keep(Set.of(PassSet.FIGURES)), 8, false);
        double squares = 0;
        int shown = 0;
        for (int i = 0; i < N; i++) {
            float taken = p.of(PassList.SAMPLES)[0][i];
            assertThat(taken).isBetween(2f, 8f);
            if (!p.matters(i)) continue;
            squares += Math.pow(p.of(PassList.NOISE)[0][i], 2);
            shown++;
        }
        assertThat(Math.sqrt(squares / shown)).isCloseTo(p.noise, within(0.3 * p.noise));
    }

    /**
     * The shadow behind a performer's edge is the one that is found when the camera does not see the performer at all,
     * and pixels far behind an edge cost nothing.
     */
    @Test
    void theShadowGoesOnBehindAnEdge() {
        Mesh ball = ball(Material.matt(0.5f, 0.5f, 0.5f));
        Passes p = seen(List.of(ball, ground()), Keep.PLAIN, 64, false),
                bare =
                        seen(
                                List.of(ball.with(new Mesh.Shows(false, true, true, false)), ground()),
                                Keep.PLAIN,
                                64,
                                false);
        double off = 0, dark = 0;
        int n = 0, deep = 0;
        for (int i = 0; i < N; i++) {
            if (p.alpha[i] < 1) continue;
            if (p.shadow[1][i] == 1) {
                deep++;
                continue;
            }
            off += Math.abs(p.shadow[1][i] - bare.shadow[1][i]);
            dark += 1 - bare.shadow[1][i];
            n++;
        }
        assertThat(n).isGreaterThan(60);
        assertThat(deep).isGreaterThan(200);
        assertThat(dark / n).as("there is shadow").isGreaterThan(0.2);
        assertThat(off / n).isLessThan(0.05);
    }
}

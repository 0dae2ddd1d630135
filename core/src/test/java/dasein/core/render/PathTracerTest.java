package dasein.core.render;

import static dasein.core.render.Shapes.LENS;
import static dasein.core.render.Shapes.even;
import static dasein.core.render.Shapes.floor;
import static dasein.core.render.Shapes.mean;
import static dasein.core.render.Shapes.render;
import static dasein.core.render.Shapes.sphere;
import static dasein.core.render.Shapes.wall;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.lens.Straighten;
import dasein.core.lens.View;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.pass.Passes;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Light, shadow and views of simple scenes against closed forms and against each other. */
class PathTracerTest {

    /**
     * What one frame does not see, since a wall hides it or the picture ends, another that does tells; what none sees
     * is as the mean.
     */
    @Test
    void thePlateIsProjectedFromTheFramesThatSee() {
        Image red = new Image(80, 60, 3), green = new Image(80, 60, 3);
        Arrays.fill(red.planes[0], 0.4f);
        Arrays.fill(green.planes[1], 0.4f);
        Irradiance sky = new Irradiance(new Lighting(even(1), List.of()));
        List<Mesh> catchers = List.of(
                floor(50, Material.matt(0.5f, 0.5f, 0.5f), Mesh.Role.CATCHER),
                wall(0, -3, new Mesh.Catch(true, true, true, 0, 0.3)));
        Pose here = Pose.lookAt(new Vec3(0, 1.5, 4), new Vec3(0, 1, -4), Vec3.Y),
                there = Pose.lookAt(new Vec3(6, 2.5, -6), new Vec3(0, 0, -4.5), Vec3.Y);
        PlateGround g = new PlateGround(
                List.of(
                        new Projection(red, new View(here, here, LENS, 80, 60), catchers),
                        new Projection(green, new View(there, there, LENS, 80, 60), catchers)),
                sky,
                new Vec3(0, 1, 0));
        float[] out = new float[3];
        // Light of radiance 1 all around: albedo is pi times the plate's colour over pi.
        g.albedo(0, 0, 0, 0, 1, 0, out);
        assertThat(out[0]).isCloseTo(0.4f, within(0.02f));
        g.albedo(0, 1.5f, -3, 0, 0, 1, out);
        assertThat(out[0]).isCloseTo(0.4f, within(0.02f));
        // On the ground behind the wall: hidden from here, seen from there.
        g.albedo(0, 0, -4.5f, 0, 1, 0, out);
        assertThat(out[1]).isCloseTo(0.4f, within(0.02f));
        // Behind both cameras.
        g.albedo(20, 0, 30, 0, 1, 0, out);
        assertThat(out[0]).isCloseTo(0.4f, within(0.02f));
        assertThat(out[1]).isCloseTo(0.02f, within(1e-6f));
    }

    /**
     * What stands in the plate: a ball's shadow falls on a wall as sharply as on the ground; a performer's light that
     * the wall keeps away already is not taken a second time; a piece that hides covers the performer, one that does
     * not lets it through.
     */
    /** Level ground that no frame sees is as the map shows it from where it was taken; above an even sky nothing is. */
    @Test
    void groundThatNoFrameSeesIsAsTheMapShowsIt() {
        Image map = new Image(64, 32, 3);
        for (int i = 0; i < 64 * 32; i++)
            for (int c = 0; c < 3; c++) map.planes[c][i] = i < 64 * 16 ? 1 : i % 64 < 32 ? 0.1f : 0.3f;
        Irradiance light = new Irradiance(new Lighting(new Environment(map, 0, 1), List.of()));
        Image plate = new Image(80, 60, 3);
        for (float[] p : plate.planes) Arrays.fill(p, 0.25f);
        Pose eye = Pose.lookAt(new Vec3(0, 1.5, 4), new Vec3(0, 1, -4), Vec3.Y);
        List<Projection> seen = List.of(new Projection(plate, new View(eye, eye, LENS, 80, 60), null));
        PlateGround g = new PlateGround(seen, light, new Vec3(0, 1, 0)), plain = new PlateGround(seen, light, null);
        float[] left = new float[3], right = new float[3], mean = new float[3], wall = new float[3];
        g.albedo(-3, 0, 6, 0, 1, 0, left);
        g.albedo(3, 0, 6, 0, 1, 0, right);
        float bright = Environment.toUv(new Vec3(-3, -1, 6).unit())[0] < 0.5 ? 0.1f : 0.3f;
        // Level ground under such a sky gets pi of light: what it radiates is its albedo.
        assertThat(left[1]).isCloseTo(bright, within(0.01f));
        assertThat(right[1]).isCloseTo(0.4f - bright, within(0.01f));
        plain.albedo(-3, 0, 6, 0, 1, 0, mean);
        assertThat(mean[1]).isCloseTo(0.25f, within(0.01f));
        g.albedo(-3, 1, 6, 0, 0, 1, wall);
        assertThat(wall[1])
                .as("what stands up the map would show from another side")
                .isEqualTo(mean[1]);
        PlateGround even = new PlateGround(seen, new Irradiance(new Lighting(even(1), List.of())), new Vec3(0, 1, 0));
        even.albedo(-3, 0, 6, 0, 1, 0, wall);
        assertThat(wall[1]).isCloseTo(0.25f, within(0.01f));
    }

    @Test
    void setPiecesTakeShadowHideAndKeepLightAway() {
        Sun sun = new Sun(new Vec3(0, 1, 1).unit(), Math.toRadians(0.4), new float[] {3, 3, 3});
        Ground g = (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.5f);
        Pose eye = Pose.lookAt(new Vec3(0, 1.5, 4), new Vec3(0, 1.5, -4), Vec3.Y);
        Mesh.Catch all = new Mesh.Catch(true, true, true, 0, 0.3),
                soft = new Mesh.Catch(true, true, false, 0, 0.3),
                only = new Mesh.Catch(false, false, true, 0, 0.3);
        Mesh ground = floor(50, Material.matt(0.5f, 0.5f, 0.5f), Mesh.Role.CATCHER),
                ball = sphere(new Vec3(0, 2.5, -2), 0.4, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.PERFORMER);
        // The sun comes from above behind the camera at 45 degrees: the ball at z -2, y 2.5 shades the wall at z -3
        // around y 1.5.
        Passes p =
                render(List.of(ball, ground, wall(0, -3, all)), new Lighting(null, List.of(sun)), eye, 64, 0, false, g);
        assertThat(p.shadow[0][30 * 80 + 40]).isLessThan(0.02f);
        assertThat(p.shadow[0][30 * 80 + 28]).isEqualTo(1);
        // Behind the wall its own shadow lies on the ground: a ball there takes nothing away any more.
        Mesh behind = sphere(new Vec3(0, 0.6, -3.6), 0.35, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.PERFORMER);
        Pose above = Pose.lookAt(new Vec3(0, 6, -4.1), new Vec3(0, 0, -4.2), Vec3.Z.times(-1));
        Passes
                under =
                        render(
                                List.of(behind, ground, wall(0, -3, all)),
                                new Lighting(null, List.of(sun)),
                                above,
                                64,
                                0,
                                false,
                                g),
                open =
                        render(
                                List.of(behind, ground, wall(40, -3, all)),
                                new Lighting(null, List.of(sun)),
                                above,
                                64,
                                0,
                                false,
                                g);
        double taken = 0, free = 0;
        for (int i = 0; i < under.alpha.length; i++) {
            taken += 1 - under.shadow[0][i];
            free += 1 - open.shadow[0][i];
        }
        assertThat(free).isGreaterThan(20);
        assertThat(taken).isLessThan(0.02 * free);
        // A performer behind the wall: hidden, or seen through it.
        Pose far = eye;
        Mesh hidden = sphere(new Vec3(0, 1.5, -5), 0.5, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.PERFORMER);
        Lighting sky = new Lighting(even(1), List.of());
        assertThat(render(List.of(hidden, ground, wall(0, -3, all)), sky, far, 16, 0, false, g).alpha[30 * 80 + 40])
                .isZero();
        assertThat(render(List.of(hidden, ground, wall(0, -3, only)), sky, far, 16, 0, false, g).alpha[30 * 80 + 40])
                .isZero();
        assertThat(render(List.of(hidden, ground, wall(0, -3, soft)), sky, far, 16, 0, false, g).alpha[30 * 80 + 40])
                .isEqualTo(1);
    }

    /** Rendered for the straight picture and bent again is the same picture, and its overscan stands in the file. */
    @Test
    void straightPassesBendBackToThePicture(@TempDir Path folder) {
        Lens bent = new Lens(200, 122, 88, -0.25, 0.03);
        Straighten st = new Straighten(bent, 240, 180);
        List<Mesh> ball =
                List.of(sphere(new Vec3(-0.9, 0.5, -4), 1, Material.matt(0.7f, 0.5f, 0.3f), Mesh.Role.PERFORMER));
        View v = new View(Pose.IDENTITY, Pose.IDENTITY, bent, 240, 180),
                w =
                        new View(
                                Pose.IDENTITY,
                                Pose.IDENTITY,
                                new Lens(200, 122 - st.left, 88 - st.top, 0, 0),
                                st.wide,
                                st.high);
        Quality fine = new Quality(64, 64, 0, 1, false);
        Passes direct = FrameRenderer.render(
                new FrameRenderer.Job(
                        ball, new Lighting(even(1), List.of()), v, null, CatcherLook.DRY, fine, false, 0, 1),
                Progress.NONE,
                null);
        Passes straight = FrameRenderer.render(
                new FrameRenderer.Job(
                        ball, new Lighting(even(1), List.of()), w, null, CatcherLook.DRY, fine, false, 0, 1),
                Progress.NONE,
                null);
        straight.overscan(st);
        straight.write(folder.resolve("straight.exr"));
        Passes read = Passes.read(folder.resolve("straight.exr"));
        assertThat(read.straight()).isTrue();
        assertThat(read.overscanX).isEqualTo(-st.left).isPositive();
        Passes back = read.bent(st);
        double alpha = 0, mass = 0, wrong = 0;
        for (int i = 0; i < back.alpha.length; i++) {
            alpha += Math.abs(back.alpha[i] - direct.alpha[i]);
            mass += direct.alpha[i];
            if (direct.alpha[i] == 1
                    && back.alpha[i] > 0.99
                    && Math.abs(back.beauty[0][i] - direct.beauty[0][i]) > 0.08) wrong++;
        }
        // What differs are edge pixels, by a part of each.
        assertThat(alpha / mass).isLessThan(0.015);
        assertThat(wrong / mass).isLessThan(0.02);
    }

    /**
     * Rows that are read later lean an upright edge: by the turn of the camera over the readout, times the focal
     * length.
     */
    @Test
    void rowsReadLaterLeanAnUprightEdge() {
        double turn = 0.1, readout = 0.8, half = readout / 2;
        Material white = Material.matt(0.8f, 0.8f, 0.8f);
        float[] p = {-1.5f, -9, -6, 3, -9, -6, 3, 9, -6, -1.5f, 9, -6}, n = {0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1};
        Mesh wall = new Mesh(
                p,
                p,
                n,
                n,
                new float[8],
                new int[] {0, 1, 2, 0, 2, 3},
                new int[2],
                new Material[] {white},
                0,
                Mesh.Role.PERFORMER);
        View v = new View(
                new Pose(Quat.axisAngle(Vec3.Y, -turn * half), Vec3.ZERO),
                new Pose(Quat.axisAngle(Vec3.Y, turn * half), Vec3.ZERO),
                LENS,
                80,
                60,
                1);
        Passes r = FrameRenderer.render(
                new FrameRenderer.Job(
                        List.of(wall),
                        new Lighting(even(1), List.of()),
                        v,
                        null,
                        CatcherLook.DRY,
                        new Quality(64, 64, 0, 0, false),
                        false,
                        0,
                        1),
                Progress.NONE,
                null);
        double[] width = new double[60];
        for (int y = 0; y < 60; y++) for (int x = 0; x < 40; x++) width[y] += r.alpha[80 * y + x];
        // The left edge, seen at -14 degrees, moves to the right while the camera turns to the left.
        double first = Math.atan(0.25) - turn * half * (1 - 1 / 60.0),
                last = Math.atan(0.25) + turn * half * (1 - 1 / 60.0);
        assertThat(width[0] - width[59]).isCloseTo(120 * (Math.tan(last) - Math.tan(first)), within(0.3));
        assertThat(v.project(new Vec3(-1.5, 0, -6))[0]).isCloseTo(40 - 30, within(1e-6));
    }

    @Test
    void mattFloorUnderSun() {
        Sun sun = new Sun(Sun.direction(Math.toRadians(30), 0), Math.toRadians(0.5), new float[] {3, 3, 3});
        Pose down = Pose.lookAt(new Vec3(0, 3, 0), Vec3.ZERO, Vec3.Z);
        Passes p = render(
                List.of(floor(10, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.PERFORMER)),
                new Lighting(null, List.of(sun)),
                down,
                16,
                0,
                false,
                null);
        double f0 = 0.04, expected = 0.4 * 3 * 0.5 / Math.PI;
        // Roughness 1 with F0 0.04 takes a little from the diffuse and gives a little specular; both are below a tenth.
        assertThat(mean(p.beauty[0], p.alpha, 1)).isCloseTo(expected, within(expected * 2.5 * f0));
    }

    /**
     * Shadow of a ball on a catcher under an even sky: below its middle the ball covers (r / h)^2 of the
     * cosine-weighted hemisphere (view factor from a differential element to a sphere, handbooks of heat transfer, e.g.
     * Howell B-27).
     */
    @Test
    void skyShadowIsTheViewFactorOfTheBall() {
        double r = 0.5, h = 1.2;
        Pose look = Pose.lookAt(new Vec3(0, 0.9, 2), new Vec3(0, 0, 0), Vec3.Y);
        Passes p = render(
                List.of(
                        sphere(new Vec3(0, h, 0), r, Material.matt(0, 0, 0), Mesh.Role.PERFORMER),
                        floor(50, Material.matt(0.5f, 0.5f, 0.5f), Mesh.Role.CATCHER)),
                new Lighting(even(1), List.of()),
                look,
                1024,
                1,
                false,
                (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.5f));
        double[] q = LENS.project(look.toLocal(Vec3.ZERO));
        double sum = 0;
        int n = 0;
        for (int y = (int) q[1] - 1; y <= (int) q[1] + 1; y++)
            for (int x = (int) q[0] - 1; x <= (int) q[0] + 1; x++, n++) sum += p.shadow[0][y * 80 + x];
        assertThat(sum / n).isCloseTo(1 - r * r / (h * h), within(0.012));
    }

    /** Where no performer can matter the passes say exactly nothing. */
    @Test
    void farFromThePerformerThePassesAreExactlyNothing() {
        Sun sun = new Sun(
                Sun.direction(Math.toRadians(45), Math.toRadians(90)), Math.toRadians(1), new float[] {2, 2, 2});
        Pose look = Pose.lookAt(new Vec3(0, 2, 6), new Vec3(0, 0, -3), Vec3.Y);
        Passes p = render(
                List.of(
                        sphere(new Vec3(-1.5, 0.3, -2), 0.3, Material.matt(0.5f, 0.5f, 0.5f), Mesh.Role.PERFORMER),
                        floor(50, Material.matt(0.5f, 0.5f, 0.5f), Mesh.Role.CATCHER)),
                new Lighting(null, List.of(sun)),
                look,
                16,
                2,
                false,
                (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.5f));
        int untouched = 0, dark = 0;
        for (int i = 0; i < 80 * 60; i++) {
            if (p.shadow[0][i] == 1 && p.bounce[0][i] == 0 && p.reflection[0][i] == 0 && p.alpha[i] == 0) untouched++;
            if (p.shadow[0][i] < 0.2) dark++;
        }
        assertThat(untouched).isGreaterThan(3000);
        assertThat(dark).as("pixels in the core of the shadow").isPositive();
    }

    /**
     * Copies are where their maps say: the same picture, motion and shadow as the same triangles written out one by
     * one.
     */
    @Test
    void copiesLookLikeTheSameTrianglesWrittenOut() {
        Material[] shades = {Material.matt(0.6f, 0.4f, 0.2f), Material.matt(0.2f, 0.4f, 0.6f)};
        Mesh one = small(shades);
        java.util.Random random = new java.util.Random(4);
        int n = 30;
        for (double way : new double[] {0, 0.2}) {
            float[] open = new float[12 * n], close = way == 0 ? open : new float[12 * n];
            int[] shade = new int[n];
            Mesh floor = floor(20, Material.matt(0.5f, 0.5f, 0.5f), Mesh.Role.CATCHER);
            List<Mesh> written = new ArrayList<>(List.of(floor));
            for (int i = 0; i < n; i++) {
                Vec3 at = new Vec3(
                        6 * random.nextDouble() - 3, 0.3 + 1.5 * random.nextDouble(), -3 - 4 * random.nextDouble());
                double size = 0.6 + random.nextDouble(), turn = 3 * random.nextDouble();
                shade[i] = i % 2;
                for (float[] m : new float[][] {open, close})
                    lay(
                            m,
                            i,
                            Quat.axisAngle(Vec3.X, turn).times(Quat.axisAngle(Vec3.Y, m == open ? 0 : way)),
                            size,
                            m == open ? at : at.plus(new Vec3(way, 0, -way)));
                written.add(new Mesh(
                        through(open, i, one.position0(), 1),
                        way == 0 ? null : through(close, i, one.position0(), 1),
                        through(open, i, one.normal0(), 0),
                        through(close, i, one.normal0(), 0),
                        one.uv(),
                        one.index(),
                        one.materialOf(),
                        new Material[] {shades[shade[i]]},
                        1,
                        Mesh.Role.PERFORMER));
            }
            written.replaceAll(m -> m.position1() != null
                    ? m
                    : new Mesh(
                            m.position0(),
                            m.position0(),
                            m.normal0(),
                            m.normal0(),
                            m.uv(),
                            m.index(),
                            m.materialOf(),
                            m.materials(),
                            1,
                            m.role()));
            Lighting light = new Lighting(
                    even(0.5f),
                    List.of(new Sun(
                            Sun.direction(Math.toRadians(45), Math.toRadians(60)),
                            Math.toRadians(1),
                            new float[] {2, 2, 2})));
            Pose pose = Pose.lookAt(new Vec3(0, 1.6, 3), new Vec3(0, 0.6, -5), Vec3.Y);
            Ground grey = (x, y, z, nx, ny, nz, c) -> Arrays.fill(c, 0.3f);
            Passes a = render(written, light, pose, 16, 2, false, grey),
                    b =
                            render(
                                    List.of(floor, one.with(new Mesh.Copies(open, close, shade))),
                                    light,
                                    pose,
                                    16,
                                    2,
                                    false,
                                    grey);
            same(a, b, way);
        }
    }

    /** A ball of one of several shades. */
    private static Mesh small(Material[] shades) {
        Mesh b = sphere(Vec3.ZERO, 0.3, shades[0], Mesh.Role.PERFORMER);
        return new Mesh(
                b.position0(),
                b.position1(),
                b.normal0(),
                b.normal1(),
                b.uv(),
                b.index(),
                b.materialOf(),
                shades,
                1,
                Mesh.Role.PERFORMER);
    }

    private static void lay(float[] m, int i, Quat turn, double size, Vec3 to) {
        double[] r = turn.matrix();
        for (int k = 0; k < 3; k++) {
            for (int c = 0; c < 3; c++) m[12 * i + 4 * k + c] = (float) (size * r[3 * k + c]);
            m[12 * i + 4 * k + 3] = (float) to.array()[k];
        }
    }

    private static void same(Passes a, Passes b, double way) {
        float[][] wanted = {a.beauty[0], a.beauty[2], a.alpha, a.shadow[0], a.motion[0]},
                got = {b.beauty[0], b.beauty[2], b.alpha, b.shadow[0], b.motion[0]};
        for (int k = 0; k < (way == 0 ? 4 : 5); k++) {
            // Rays that graze an edge may fall on either side of it by rounding.
            float[] p = wanted[k], q = got[k];
            int off = 0;
            double sum = 0;
            for (int i = 0; i < p.length; i++) {
                if (Math.abs(p[i] - q[i]) > 0.01) off++;
                sum += Math.abs(p[i]);
            }
            assertThat(sum).isPositive();
            assertThat(off).as("plane " + k + ", way " + way).isLessThan(p.length / 200);
        }
    }

    private static float[] through(float[] m, int copy, float[] v, int moved) {
        float[] out = new float[v.length];
        for (int i = 0; i < v.length; i++) {
            int r = 12 * copy + 4 * (i % 3), o = i - i % 3;
            out[i] = m[r] * v[o] + m[r + 1] * v[o + 1] + m[r + 2] * v[o + 2] + moved * m[r + 3];
        }
        return out;
    }

    @Test
    void sameSeedSamePicture() {
        List<Mesh> m = new ArrayList<>(List.of(
                sphere(new Vec3(0, 0.5, -4), 0.5, Material.matt(0.6f, 0.4f, 0.2f), Mesh.Role.PERFORMER),
                floor(20, Material.matt(0.5f, 0.5f, 0.5f), Mesh.Role.CATCHER)));
        Ground g = (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.5f);
        Passes a = render(m, new Lighting(even(1), List.of()), Pose.IDENTITY, 8, 2, false, g),
                b = render(m, new Lighting(even(1), List.of()), Pose.IDENTITY, 8, 2, false, g);
        assertThat(a.beauty).isDeepEqualTo(b.beauty);
        assertThat(a.shadow).isDeepEqualTo(b.shadow);
    }

    /** Directions drawn from a map estimate the irradiance that summing over its texels gives. */
    @Test
    void environmentSamplingIsUnbiased() {
        Image im = new Image(64, 32, 3);
        for (int i = 0; i < im.planes[0].length; i++)
            for (int c = 0; c < 3; c++) im.planes[c][i] = 0.2f + (i % 7) * 0.05f + (i == 64 * 8 + 20 ? 900 : 0);
        Environment e = new Environment(im, 0.7, 1.3);
        Vec3 n = new Vec3(0.3, 0.9, -0.2).unit();
        float[] d = new float[6], c = new float[3];
        dasein.core.math.Sobol rnd = new dasein.core.math.Sobol();
        double sum = 0;
        int count = 1 << 16;
        for (int i = 0; i < count; i++) {
            rnd.start(i, 17);
            rnd.next();
            e.sample(rnd.u, rnd.v, d);
            e.radiance(d[0], d[1], d[2], c);
            sum += Math.max(0, d[0] * n.x() + d[1] * n.y() + d[2] * n.z()) * c[1] / d[3];
        }
        assertThat(sum / count).isCloseTo(e.irradiance(n)[1], within(0.03 * e.irradiance(n)[1]));
    }

    /**
     * The matrices written with a frame put a point where the camera's own projection does (OpenEXR: rows before
     * matrices, NDC from -1 to 1).
     */
    @Test
    void writtenMatricesProjectAsTheCameraDoes() {
        dasein.core.math.Pose pose = dasein.core.math.Pose.lookAt(new Vec3(1, 2, 3), new Vec3(0, 0.5, -2), Vec3.Y);
        dasein.core.lens.View v = new dasein.core.lens.View(pose, pose, new Lens(120, 43, 28, 0, 0), 80, 60);
        float[] m = Passes.matrices(v).get("worldToNDC");
        double[] p = {0.4, 0.9, -1.5, 1}, q = new double[4], want = v.project(new Vec3(p[0], p[1], p[2]));
        for (int j = 0; j < 4; j++) for (int i = 0; i < 4; i++) q[j] += p[i] * m[4 * i + j];
        assertThat((q[0] / q[3] + 1) / 2 * 80).isCloseTo(want[0], org.assertj.core.api.Assertions.within(1e-3));
        assertThat((1 - q[1] / q[3]) / 2 * 60).isCloseTo(want[1], org.assertj.core.api.Assertions.within(1e-3));
    }
}

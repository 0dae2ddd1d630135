package dasein.core.render;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Texture;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.List;

/** Simple scenes for tests of the renderer, and what is read off their passes. */
final class Shapes {
    private Shapes() {}

    static final Lens LENS = new Lens(120, 40, 30, 0, 0);

    static Mesh sphere(Vec3 c, double radius, Material m, Mesh.Role role) {
        int rows = 48, sides = 96;
        float[] p = new float[3 * (rows + 1) * (sides + 1)], n = new float[p.length];
        int[] index = new int[6 * rows * sides];
        for (int j = 0, v = 0; j <= rows; j++) {
            for (int i = 0; i <= sides; i++, v += 3) {
                double th = Math.PI * j / rows, ph = 2 * Math.PI * i / sides;
                double[] d = {Math.sin(th) * Math.cos(ph), Math.cos(th), Math.sin(th) * Math.sin(ph)}, o = c.array();
                for (int k = 0; k < 3; k++) {
                    n[v + k] = (float) d[k];
                    p[v + k] = (float) (o[k] + radius * d[k]);
                }
            }
        }
        for (int j = 0, t = 0; j < rows; j++) {
            for (int i = 0; i < sides; i++) {
                int a = j * (sides + 1) + i, b = a + sides + 1;
                int[] q = {a, a + 1, b, a + 1, b + 1, b};
                for (int k : q) index[t++] = k;
            }
        }
        return new Mesh(
                p, p, n, n, new float[2 * p.length / 3], index, new int[index.length / 3], new Material[] {m}, 1, role);
    }

    static Mesh floor(double half, Material m, Mesh.Role role) {
        float h = (float) half;
        float[] p = {-h, 0, -h, -h, 0, h, h, 0, h, h, 0, -h}, n = {0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0};
        return new Mesh(
                p, p, n, n, new float[8], new int[] {0, 1, 2, 0, 2, 3}, new int[2], new Material[] {m}, 0, role);
    }

    static Environment even(float radiance) {
        Image im = new Image(32, 16, 3);
        for (float[] p : im.planes) Arrays.fill(p, radiance);
        return new Environment(im, 0, 1);
    }

    static Passes render(
            List<Mesh> meshes, Lighting light, Pose pose, int samples, int bounces, boolean background, Ground ground) {
        View v = new View(pose, pose, LENS, 80, 60);
        return FrameRenderer.render(
                new FrameRenderer.Job(
                        meshes,
                        light,
                        v,
                        ground,
                        CatcherLook.DRY,
                        new Quality(samples, samples, 0, bounces, false),
                        background,
                        0.5,
                        5),
                Progress.NONE,
                null);
    }

    static Mesh quad(Vec3 a, Vec3 b, Vec3 c, Vec3 d, Mesh.Role role, Mesh.Catch does) {
        float[] p = new float[12];
        int k = 0;
        for (Vec3 v : List.of(a, b, c, d)) for (double q : v.array()) p[k++] = (float) q;
        return new Mesh(
                p,
                p,
                new float[12],
                new float[12],
                new float[8],
                new int[] {0, 1, 2, 0, 2, 3},
                new int[2],
                new Material[] {Material.matt(0.4f, 0.4f, 0.4f)},
                1,
                role,
                does);
    }

    static Mesh wall(double x, double z, Mesh.Catch does) {
        return quad(
                new Vec3(x - 1, 0, z),
                new Vec3(x + 1, 0, z),
                new Vec3(x + 1, 3, z),
                new Vec3(x - 1, 3, z),
                Mesh.Role.CATCHER,
                does);
    }

    static double mean(float[] plane, float[] where, double least) {
        double s = 0;
        int n = 0;
        for (int i = 0; i < plane.length; i++) {
            if (where[i] < least) continue;
            s += plane[i];
            n++;
        }
        assertThat(n).isPositive();
        return s / n;
    }

    /** Of one grey. @param picture of its colour, null for none */
    static Material material(float grey, float metal, float rough, Texture picture, Material.Layers l) {
        return new Material(
                        "m",
                        new float[] {grey, grey, grey, 1},
                        picture,
                        metal,
                        rough,
                        null,
                        null,
                        1,
                        new float[3],
                        null,
                        0,
                        false,
                        true)
                .with(l);
    }

    /** The same triangles as another thing. */
    static Mesh as(Mesh m, Material of, int performer, Mesh.Role role, Mesh.Catch does) {
        return new Mesh(
                m.position0(),
                m.position1(),
                m.normal0(),
                m.normal1(),
                m.uv(),
                m.index(),
                m.materialOf(),
                new Material[] {of},
                performer,
                role,
                does);
    }

    /** A matt floor under a sun at 60 degrees from its normal returns albedo E cos / pi (Lambert). */
    static Material of(float grey, Material.Layers l) {
        return material(grey, 0, 0, null, l);
    }

    static float middle(Passes p, int channel) {
        double sum = 0;
        for (int y = 26; y < 34; y++) for (int x = 36; x < 44; x++) sum += p.beauty[channel][80 * y + x] / 64;
        return (float) sum;
    }

    static Mesh slab(double thick, Material m) {
        Mesh
                front =
                        quad(
                                new Vec3(-9, -9, 0),
                                new Vec3(9, -9, 0),
                                new Vec3(9, 9, 0),
                                new Vec3(-9, 9, 0),
                                Mesh.Role.PERFORMER,
                                null),
                back =
                        quad(
                                new Vec3(-9, -9, -thick),
                                new Vec3(-9, 9, -thick),
                                new Vec3(9, 9, -thick),
                                new Vec3(9, -9, -thick),
                                Mesh.Role.PERFORMER,
                                null);
        float[] p = Arrays.copyOf(front.position0(), 24);
        System.arraycopy(back.position0(), 0, p, 12, 12);
        return new Mesh(
                p,
                p,
                null,
                null,
                new float[16],
                new int[] {0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7},
                new int[4],
                new Material[] {m},
                1,
                Mesh.Role.PERFORMER);
    }
}

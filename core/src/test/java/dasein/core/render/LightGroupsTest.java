package dasein.core.render;

import static dasein.core.render.Shapes.floor;
import static dasein.core.render.Shapes.sphere;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.lens.View;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.lamp.Lamp;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.pass.Balance;
import dasein.core.render.pass.Pass;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Light kept apart: the lights add up to all of it, and given other levels they are what those would have rendered. */
class LightGroupsTest {
    private static final Pose FROM = Pose.lookAt(new Vec3(0, 1.3, 3), new Vec3(0, 0.5, 0), Vec3.Y);
    private static final float[] AS_IS = {1, 1, 1, 1, 1};
    /** Of map, sun, the lamp of the set, the lamp that is added, and what glows. */
    private static final float[] OTHER = {0.55f, 1.8f, 2.5f, 0.3f, 1.6f};

    private static Lighting light(float[] level) {
        Image im = new Image(64, 32, 3);
        for (int y = 0; y < 32; y++)
            for (int x = 0; x < 64; x++)
                for (int c = 0; c < 3; c++) im.planes[c][y * 64 + x] = y < 16 ? 0.3f + 0.03f * (16 - y) : 0.1f;
        float s = level[1];
        Sun sun = new Sun(Sun.direction(Math.toRadians(40), Math.toRadians(35)), Math.toRadians(1), new float[] {
            2.4f * s, 2.2f * s, 1.9f * s
        });
        return new Lighting(
                new Environment(im, 0, level[0]),
                List.of(sun),
                List.of(lamp(new Vec3(1.1, 1.4, 0.4), level[2], true), lamp(new Vec3(-1, 0.8, 0.9), level[3], false)));
    }

    private static Lamp lamp(Vec3 at, float level, boolean real) {
        return new Lamp(
                Lamp.Kind.SPHERE,
                at,
                Vec3.Y.times(-1),
                Vec3.X,
                0.2,
                0,
                0,
                0,
                new float[] {0.9f * level, 0.8f * level, 0.7f * level},
                real);
    }

    private static List<Mesh> scene(float glow) {
        // Rough enough that no sample is so bright that it is clamped: that would not be linear.
        Material
                shiny =
                        material(0.5f, 0.6f, 0)
                                .with(new Material.Layers(new float[] {0.04f, 0.04f, 0.04f}, 0.6f, 0.5f, 0, false)),
                lit = material(0.2f, 1, glow);
        return List.of(
                sphere(new Vec3(0, 0.5, 0), 0.45, shiny, Mesh.Role.PERFORMER),
                sphere(new Vec3(0.7, 0.15, 0.5), 0.12, lit, Mesh.Role.PERFORMER),
                floor(40, Material.matt(0.3f, 0.3f, 0.3f), Mesh.Role.CATCHER));
    }

    private static Material material(float grey, float roughness, float glow) {
        float[] base = {grey, grey, grey, 1}, emission = {3 * glow, 2 * glow, glow};
        return new Material("of " + grey, base, null, 0, roughness, null, null, 1, emission, null, 0, false, true);
    }

    private static Passes seen(float[] level, LightGroups.Apart apart, int samples, boolean denoise) {
        Lighting light = light(level);
        float[] e = light.irradiance(Vec3.Y);
        Ground ground = new Ground() {
            @Override
            public void albedo(float x, float y, float z, float nx, float ny, float nz, float[] out) {
                Arrays.fill(out, 0.3f);
            }

            @Override
            public boolean radiance(float x, float y, float z, float nx, float ny, float nz, float[] out) {
                for (int c = 0; c < 3; c++) out[c] = 0.3f * e[c] / (float) Math.PI;
                return true;
            }
        };
        return FrameRenderer.render(
                new FrameRenderer.Job(
                                scene(level[4]),
                                light,
                                new View(FROM, FROM, Shapes.LENS, 80, 60),
                                ground,
                                new CatcherLook(0.7, 0.2),
                                new Quality(samples, samples, 0, 2, denoise),
                                false,
                                0.5,
                                5)
                        .keeping(new Keep(apart)),
                Progress.NONE,
                null);
    }

    private static Map<String, float[]> levels(float[] k) {
        Map<String, float[]> m = new HashMap<>();
        List<String> names = List.of("map", "sun", "lamp1", "lamp2", "glow");
        for (int i = 0; i < k.length; i++) m.put(names.get(i), new float[] {k[i], k[i], k[i]});
        return m;
    }

    /** Light is linear in its sources, so that no other figure than rounding may be left between the two. */
    @Test
    void balancedAfterwardsIsWhatOtherLevelsRender() {
        for (LightGroups.Apart apart : List.of(LightGroups.Apart.LIGHTS, LightGroups.Apart.INDIRECT)) {
            Passes there = seen(OTHER, apart, 24, false), was = seen(AS_IS, apart, 24, false);
            Passes made = Balance.of(was, levels(OTHER));
            double changed = 0;
            for (Pass p : List.of(PassList.BEAUTY, PassList.BOUNCE, PassList.REFLECTION, PassList.SHADOW)) {
                for (int c = 0; c < 3; c++)
                    for (int i = 0; i < 80 * 60; i++) {
                        float a = made.of(p)[c][i], b = there.of(p)[c][i], before = was.of(p)[c][i];
                        // What is less than half a code of eight bits is faded out, by its own size in either.
                        float faint = 0.0018f, none = p == PassList.SHADOW ? 1 : 0;
                        boolean whole =
                                p == PassList.BEAUTY || Math.abs(b - none) >= faint && Math.abs(before - none) >= faint;
                        float least = whole ? 2e-5f * Math.max(1, b) : 8 * faint;
                        assertThat(a).as("%s %s", p.name(), apart).isCloseTo(b, within(least));
                        changed = Math.max(changed, Math.abs(before - b));
                    }
            }
            assertThat(changed).as("the levels matter").isGreaterThan(0.5);
        }
    }

    @Test
    void theLightsAddUpToAllOfItFilteredToo() {
        for (boolean denoise : new boolean[] {false, true}) {
            Passes p = seen(AS_IS, LightGroups.Apart.INDIRECT, 8, denoise);
            assertThat(p.lights()).contains("map", "map_indirect", "sun", "lamp1", "lamp2", "glow_indirect");
            for (int c = 0; c < 3; c++)
                for (int i = 0; i < 80 * 60; i++) {
                    for (String pass : List.of("beauty", "bounce", "reflection")) {
                        float sum = 0;
                        for (String l : p.lights()) sum += p.of(pass + "." + l)[c][i];
                        assertThat(sum)
                                .as(pass)
                                .isCloseTo(p.of(pass)[c][i], within(1e-4f * Math.max(0.05f, Math.abs(sum))));
                    }
                    if (p.shadow[c][i] == 1) continue;
                    float taken = 0, there = 0;
                    for (String l : List.of("map", "sun", "lamp1", "lamp2", "glow")) {
                        taken += p.of("light." + l)[c][i] * (1 - p.of("shadow." + l)[c][i]);
                        there += p.of("light." + l)[c][i];
                    }
                    assertThat(there).isCloseTo(1, within(1e-4f));
                    assertThat(Math.min(1, taken)).isCloseTo(1 - p.shadow[c][i], within(2e-4f));
                }
        }
    }

    /** Asking every light at every hit is another estimate of the same picture. */
    @Test
    void keptApartTheMeanIsTheSame() {
        Passes a = seen(AS_IS, LightGroups.Apart.TOGETHER, 256, false),
                b = seen(AS_IS, LightGroups.Apart.INDIRECT, 256, false);
        for (Pass p : List.of(PassList.BEAUTY, PassList.SHADOW)) {
            double x = 0, y = 0;
            for (int i = 0; i < 80 * 60; i++) {
                x += a.of(p)[1][i];
                y += b.of(p)[1][i];
            }
            assertThat(y).as(p.name()).isCloseTo(x, within(0.003 * x));
        }
        // What only glows gives the sphere light by way of the ground too.
        assertThat(b.of("beauty.glow_indirect")[0]).isNotEqualTo(new float[80 * 60]);
    }
}

package dasein.shoot;

import dasein.core.image.Encoding;
import dasein.core.model.Texture;
import java.awt.image.BufferedImage;
import java.awt.image.DataBufferInt;
import java.util.stream.IntStream;

/** A set of textures for one material, painted by a function of (u, v): colour, roughness, metalness, height. */
final class Paint {
    /** What a painter fills in: linear colour, roughness, metalness, height (in units of one texture width). */
    static final class Dab {
        float r, g, b, roughness = 0.8f, metal, height;
        final float[] scratch = new float[3];

        void colour(float r, float g, float b) {
            this.r = r;
            this.g = g;
            this.b = b;
        }

        void mix(float r, float g, float b, float t) {
            this.r += (r - this.r) * t;
            this.g += (g - this.g) * t;
            this.b += (b - this.b) * t;
        }

        void scale(float s) {
            r *= s;
            g *= s;
            b *= s;
        }
    }

    interface Painter {
        void paint(double u, double v, Dab dab);
    }

    final BufferedImage colour;
    final BufferedImage metalRough;
    final BufferedImage normal;

    Paint(int size, Painter painter) {
        colour = new BufferedImage(size, size, BufferedImage.TYPE_INT_RGB);
        metalRough = new BufferedImage(size, size, BufferedImage.TYPE_INT_RGB);
        normal = new BufferedImage(size, size, BufferedImage.TYPE_INT_RGB);
        int[] col = pixels(colour), mr = pixels(metalRough), nor = pixels(normal);
        float[] height = new float[size * size];
        IntStream.range(0, size).parallel().forEach(y -> {
            Dab d = new Dab();
            for (int x = 0; x < size; x++) {
                d.metal = 0;
                d.height = 0;
                d.roughness = 0.8f;
                painter.paint((x + 0.5) / size, (y + 0.5) / size, d);
                int i = y * size + x;
                col[i] = code(d.r) << 16 | code(d.g) << 8 | code(d.b);
                mr[i] = linear(d.roughness) << 8 | linear(d.metal);
                height[i] = d.height;
            }
        });
        IntStream.range(0, size).parallel().forEach(y -> {
            for (int x = 0; x < size; x++) {
                float dx = (height[y * size + (x + 1) % size] - height[y * size + (x + size - 1) % size]) * size / 2;
                float dy = (height[(y + 1) % size * size + x] - height[(y + size - 1) % size * size + x]) * size / 2;
                float inv = (float) (1 / Math.sqrt(dx * dx + dy * dy + 1));
                nor[y * size + x] = linear(0.5f - 0.5f * dx * inv) << 16
                        | linear(0.5f + 0.5f * dy * inv) << 8
                        | linear(0.5f + 0.5f * inv);
            }
        });
    }

    private static int[] pixels(BufferedImage b) {
        return ((DataBufferInt) b.getRaster().getDataBuffer()).getData();
    }

    private static int code(float l) {
        return Encoding.SRGB.encode8(l);
    }

    private static int linear(float v) {
        return Math.max(0, Math.min(255, Math.round(255 * v)));
    }

    dasein.core.model.Material material(String name) {
        return new dasein.core.model.Material(
                name,
                new float[] {1, 1, 1, 1},
                Texture.of(colour, true, false),
                1,
                1,
                Texture.of(metalRough, false, false),
                Texture.of(normal, false, false),
                1,
                new float[3],
                null,
                0,
                false,
                true);
    }
}

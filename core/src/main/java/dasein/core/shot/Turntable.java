package dasein.core.shot;

import dasein.core.Progress;
import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.image.Encoding;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.light.LightRecipe;
import dasein.core.light.LightRig;
import dasein.core.light.Lighting;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.render.CatcherLook;
import dasein.core.render.FrameRenderer;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import java.awt.image.BufferedImage;
import java.util.List;

/**
 * Small pictures of a model from all sides, side by side, as the renderer shows it under an even sky and a soft sun.
 */
public final class Turntable {
    /** Sides, and the size of one, on the shelf. */
    public static final int VIEWS = 8, WIDTH = 112, HEIGHT = 84;

    private static final int MOST_TRIANGLES = 400_000;
    private static final double GREY = 0.074;
    /** Distance of what is slender, and pixels that are left about what is not. */
    private static final double NEAREST = 2.6, BORDER = 1.5;

    private static final int AROUND = 24;
    private static final Quality QUALITY = new Quality(8, 8, 0, 1, true);

    private Turntable() {}

    /** @param views how many sides; @return {@code views} pictures of {@code width} in a row */
    public static BufferedImage strip(Model m, int views, int width, int height) {
        // A scan of millions of triangles is looked at from one side only: each side costs a tree of its own.
        return strip(m, views, m.triangles() > MOST_TRIANGLES ? 1 : views, width, height);
    }

    /** The same with only the first {@code made} sides looked at; the first stands for the others. */
    public static BufferedImage strip(Model m, int views, int made, int width, int height) {
        BufferedImage out = new BufferedImage(views * width, height, BufferedImage.TYPE_INT_RGB);
        Lighting light = new LightRig(
                        new LightRecipe(
                                "",
                                0,
                                1.4,
                                new LightRecipe.SunRecipe("own", 140, 42, 14, 2.4, List.of(1.04, 1.0, 0.96))),
                        null)
                .at(0, 24);
        for (int k = 0; k < made; k++) {
            Mesh mesh = Blocking.alone(
                            new Performer(1, m.name(), "m", 0, 0, 0, 30 + 360.0 * k / views, 1, "", 0, 1, true), m, 24)
                    .meshes(1, 1)
                    .get(0);
            double reach = 0;
            for (int i = 0; i < mesh.position0().length; i += 3)
                reach = Math.max(reach, Math.hypot(mesh.position0()[i], mesh.position0()[i + 2]));
            Lens lens = new Lens(2.3 * height, width / 2.0, height / 2.0, 0, 0);
            double far = NEAREST;
            while (!fits(lens, eye(far), reach, width, height)) far *= 1.05;
            Pose eye = eye(far);
            View v = new View(eye, eye, lens, width, height, 0);
            Passes p = FrameRenderer.render(
                    new FrameRenderer.Job(List.of(mesh), light, v, null, new CatcherLook(0, 0.3), QUALITY, false, 0, 1),
                    Progress.NONE,
                    null);
            for (int i = 0; i < width * height; i++) {
                int rgb = 0;
                for (int c = 0; c < 3; c++)
                    rgb = rgb << 8
                            | Math.max(0, Math.min(255, (int)
                                    Math.round(255 * Encoding.SRGB.encode(p.beauty[c][i] + (1 - p.alpha[i]) * GREY))));
                out.setRGB(k * width + i % width, i / width, rgb);
            }
        }
        for (int k = made; k < views; k++)
            out.getRaster().setRect(k * width, 0, out.getRaster().createChild(0, 0, width, height, 0, 0, null));
        return out;
    }

    /** A little from above, at something one metre high. */
    private static Pose eye(double far) {
        return Pose.lookAt(new Vec3(0, 0.5 + 0.22 * far, far), new Vec3(0, 0.5, 0), Vec3.Y);
    }

    /** Whether all that can turn within this reach about the middle is in the picture. */
    private static boolean fits(Lens lens, Pose eye, double reach, int width, int height) {
        for (int k = 0; k < AROUND; k++) {
            double a = 2 * Math.PI * k / AROUND;
            for (int y = 0; y <= 1; y++) {
                double[] q = lens.project(eye.toLocal(new Vec3(reach * Math.sin(a), y, reach * Math.cos(a))));
                if (q == null || q[0] < BORDER || q[1] < BORDER || q[0] > width - BORDER || q[1] > height - BORDER)
                    return false;
            }
        }
        return true;
    }
}

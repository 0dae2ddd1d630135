package dasein.shoot;

import dasein.core.light.Clues;
import dasein.core.math.Vec3;
import dasein.core.render.ray.Tracer;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;

/** Ground in the sun and in the shadow of what stands there, marked as a careful hand does. */
final class RealShadows {
    /** Metres: step of what is tried, about a place all is to be alike, how far sun and shadow may lie apart. */
    private static final double STEP = 0.2, ALIKE = 0.15, APART = 1.5;

    private static final int MOST = 3, MARGIN = 30;
    private static final double[][] AROUND = {{0, 0}, {ALIKE, 0}, {-ALIKE, 0}, {0, ALIKE}, {0, -ALIKE}};

    private final Tracer set;
    private final Vec3 sun;

    RealShadows(Stage stage, Vec3 sun) {
        set = Tracer.of(List.of(stage.set));
        this.sun = sun;
    }

    /** Pairs beside each other that a frame shows; none where it shows no shadow. */
    Clues marked(SolvedCamera camera, int frame) {
        List<Vec3> lit = new ArrayList<>(), dark = new ArrayList<>();
        for (double z = -3; z > -11; z -= STEP)
            for (double x = -4; x < 4; x += STEP) {
                Vec3 p = new Vec3(x, 0, z);
                if (!seen(camera, frame, p)) continue;
                int shaded = 0;
                for (double[] a : AROUND) if (blocked(p.plus(new Vec3(a[0], 0.02, a[1])), sun, 50)) shaded++;
                if (shaded == 0) lit.add(p);
                if (shaded == AROUND.length) dark.add(p);
            }
        Clues c = Clues.NONE;
        int n = 0;
        for (Vec3 d : dark) {
            Vec3 near = null;
            for (Vec3 l : lit) if (near == null || l.distance(d) < near.distance(d)) near = l;
            if (near == null || near.distance(d) > APART || n == MOST) continue;
            double[] a = pixel(camera, frame, d), b = pixel(camera, frame, near);
            c = c.with(new Clues.Patch(2 * ++n, frame, a[0], a[1], false))
                    .with(new Clues.Patch(2 * n + 1, frame, b[0], b[1], true));
            lit.remove(near);
        }
        return c;
    }

    private static double[] pixel(SolvedCamera c, int frame, Vec3 p) {
        return c.lens(frame).project(c.frame(frame).pose().toLocal(p));
    }

    private boolean seen(SolvedCamera c, int frame, Vec3 p) {
        double[] q = pixel(c, frame, p);
        if (q == null || q[0] < MARGIN || q[1] < MARGIN || q[0] > c.width() - MARGIN || q[1] > c.height() - MARGIN)
            return false;
        Vec3 eye = c.frame(frame).pose().position(), up = p.plus(new Vec3(0, 0.02, 0)), way = eye.minus(up);
        return !blocked(up, way.unit(), way.length());
    }

    private boolean blocked(Vec3 from, Vec3 d, double far) {
        return set.blocked(
                (float) from.x(),
                (float) from.y(),
                (float) from.z(),
                (float) d.x(),
                (float) d.y(),
                (float) d.z(),
                (float) far,
                0.5f,
                Tracer.NEVER,
                null);
    }
}

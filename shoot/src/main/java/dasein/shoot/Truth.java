package dasein.shoot;

import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Random;

/** Writes down what nobody knows on a real set: for the tests, never read by the application. */
final class Truth {
    /** The strider as it stood in the truth frames. */
    static final Performer STRIDER =
            new Performer(1, "strider", "strider.glb", 0.6, 0, -6.2, -28, 2.4, "look around", 0, 1, true);
    /** Frames of the two films in which it was there, moving. */
    static final int FILMED_FIRST = 37, FILMED = 24;

    private static final int HELD_OUT = 160;

    private Truth() {}

    static void write(Mesh set, Path file) throws Exception {
        Lens l = Walk.lens();
        StringBuilder b = new StringBuilder();
        b.append(String.format(
                Locale.ROOT,
                "{\"width\": %d, \"height\": %d, \"focalPx\": %.6f, \"k1\": %.4f, \"shutter\": %.2f,%n "
                        + "\"sun\": %s,%n \"cameraToWorld\": [",
                Walk.WIDTH,
                Walk.HEIGHT,
                l.focalPx(),
                l.k1(),
                Walk.SHUTTER,
                list(Sky.MORNING.sunDirection().array())));
        for (int f = 1; f <= Walk.FRAMES; f++)
            b.append(f == 1 ? "\n  " : ",\n  ").append(list(Walk.pose(f).matrix()));
        b.append("],\n \"heldOut\": [");
        String sep = "\n  ";
        for (Vec3 p : surfacePoints(set)) {
            b.append(sep).append(list(p.array()));
            sep = ",\n  ";
        }
        b.append("],\n \"named\": {");
        sep = "\n  ";
        for (var e : Slipway.POINTS.entrySet()) {
            b.append(sep)
                    .append('"')
                    .append(e.getKey())
                    .append("\": ")
                    .append(list(e.getValue().array()));
            sep = ",\n  ";
        }
        Performer s = STRIDER;
        b.append(String.format(
                Locale.ROOT,
                "},%n \"strider\": {\"x\": %.3f, \"z\": %.3f, \"headingDeg\": %.1f, \"heightMetres\": %.2f, "
                        + "\"clip\": \"%s\"}}%n",
                s.x(),
                s.z(),
                s.headingDeg(),
                s.heightMetres(),
                s.clips().get(0).clip()));
        Files.writeString(file, b);
    }

    /** A take's camera, and in which rectangle of each frame its mover is (x0, y0, x1, y1 in pixels). */
    static void write(Take t, Model mover, Path file) throws Exception {
        Lens l = t.lens();
        StringBuilder b = new StringBuilder(String.format(
                Locale.ROOT,
                "{\"width\": %d, \"height\": %d, \"focalPx\": %.6f, \"k1\": %.4f,%n \"cameraToWorld\": [",
                t.width(),
                t.height(),
                l.focalPx(),
                l.k1()));
        for (int f = 1; f <= t.frames(); f++)
            b.append(f == 1 ? "\n  " : ",\n  ").append(list(t.way().at(f).matrix()));
        if (t.landing()) {
            b.append("],\n \"named\": {");
            String sep = "\n  ";
            for (var e : Slipway.LANDING.entrySet()) {
                b.append(sep)
                        .append('"')
                        .append(e.getKey())
                        .append("\": ")
                        .append(list(e.getValue().array()));
                sep = ",\n  ";
            }
            Files.writeString(file, b.append("}}\n"));
            return;
        }
        b.append("],\n \"mover\": [");
        for (int f = 1; f <= t.frames(); f++) {
            Mesh m = Blocking.alone(t.moverAt(f), mover, Walk.RATE).meshes(f, f).get(0);
            double[] box = {1e9, 1e9, -1e9, -1e9};
            for (int i = 0; i < m.position0().length; i += 3) {
                double[] q = l.project(
                        t.way().at(f).toLocal(new Vec3(m.position0()[i], m.position0()[i + 1], m.position0()[i + 2])));
                if (q == null) continue;
                box[0] = Math.min(box[0], q[0]);
                box[1] = Math.min(box[1], q[1]);
                box[2] = Math.max(box[2], q[0]);
                box[3] = Math.max(box[3], q[1]);
            }
            b.append(f == 1 ? "\n  " : ",\n  ").append(list(box));
        }
        Files.writeString(file, b.append("]}\n"));
    }

    private static String list(double[] v) {
        StringBuilder b = new StringBuilder("[");
        for (int i = 0; i < v.length; i++)
            b.append(i == 0 ? "" : ", ").append(String.format(Locale.ROOT, "%.8f", v[i]));
        return b.append(']').toString();
    }

    /** Points on what the camera sees, nearer than 25 m. */
    private static List<Vec3> surfacePoints(Mesh set) {
        var tracer = dasein.core.render.ray.Tracer.of(List.of(set));
        Random r = new Random(41);
        List<Vec3> out = new java.util.ArrayList<>();
        while (out.size() < HELD_OUT) {
            Pose pose = Walk.pose(1 + r.nextInt(Walk.FRAMES));
            Vec3 eye = pose.position(),
                    d =
                            pose.rotation()
                                    .rotate(Walk.lens()
                                            .ray(
                                                    20 + r.nextDouble() * (Walk.WIDTH - 40),
                                                    20 + r.nextDouble() * (Walk.HEIGHT - 40)))
                                    .unit();
            if (tracer.nearest(
                    (float) eye.x(),
                    (float) eye.y(),
                    (float) eye.z(),
                    (float) d.x(),
                    (float) d.y(),
                    (float) d.z(),
                    25,
                    0.5f,
                    0.5f)) out.add(eye.plus(d.times(tracer.t)));
        }
        return out;
    }
}

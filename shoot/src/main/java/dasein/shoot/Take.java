package dasein.shoot;

import dasein.core.cast.Performer;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.List;

/**
 * One take: a camera's way, and perhaps something that crosses its picture. Time in frames from 1.
 *
 * @param mover what really moved there, or null; it stands at its place in frame 1
 * @param drive metres it moves along x in the whole take
 * @param landing stairs and the corner of two walls stand there
 * @param stops by which the exposure drifts over the take
 */
record Take(
        String name,
        int frames,
        int width,
        int height,
        Way way,
        Performer mover,
        double drive,
        double stops,
        boolean landing) {
    interface Way {
        Pose at(double frame);
    }

    static final int FRAMES = 36, WIDTH = 960, HEIGHT = 540;

    /** The carrier drives through the picture while the light goes. */
    static final Take CROSSING = new Take(
            "LW_020",
            FRAMES,
            WIDTH,
            HEIGHT,
            f -> dolly(f, 1),
            new Performer(1, "mule", "mule", 2.5, 0, -4.4, -90, 1.15, "rolling", 0, 1, true),
            -3.4,
            -0.7,
            false);
    /** Somebody runs with the camera. */
    static final Take RUNNING = new Take(
            "LW_030",
            FRAMES,
            WIDTH,
            HEIGHT,
            f -> dolly(f, 18),
            new Performer(1, "mule", "mule", 2.0, 0, -4.8, -90, 1.05, "rolling", 0, 1, true),
            -2.6,
            0,
            false);
    /** Past stairs and the corner of two walls. */
    static final Take STAIRS = new Take("LW_040", FRAMES, WIDTH, HEIGHT, f -> dolly(f, 1), null, 0, 0, true);
    /** The same from a tripod that nobody touches. */
    static final Take LOCKED = new Take(
            "LW_050",
            8,
            WIDTH,
            HEIGHT,
            f -> Pose.lookAt(new Vec3(1.5, 1.7, -1.2), new Vec3(-0.3, 0.6, -6.6), Vec3.Y),
            null,
            0,
            0,
            true);

    static final List<Take> ALL = List.of(CROSSING, RUNNING, STAIRS, LOCKED);

    Lens lens() {
        return new Lens(Walk.FOCAL_MM / Walk.SENSOR_MM * width, width / 2.0, height / 2.0, Walk.K1, 0);
    }

    View view(double frame) {
        return new View(way.at(frame - Walk.SHUTTER / 2), way.at(frame + Walk.SHUTTER / 2), lens(), width, height);
    }

    double exposure(int frame) {
        return Math.pow(2, stops * (frame - 1) / (frames - 1));
    }

    /** Where the mover is at a frame. */
    Performer moverAt(double frame) {
        Performer m = mover;
        return m.at(m.x() + drive * (frame - 1) / (frames - 1), m.y(), m.z());
    }

    private static Pose dolly(double frame, double shake) {
        double t = (frame - 1) / (FRAMES - 1), s = frame / Walk.RATE * 2 * Math.PI;
        Vec3 eye = new Vec3(-1.1 + 1.5 * t, 1.55 + 0.004 * shake * Math.sin(2.1 * s), 0.9 - 0.7 * t);
        Pose p = Pose.lookAt(eye, new Vec3(0.2 + 0.2 * t, 0.9, -7), Vec3.Y);
        Quat q = Quat.fromRotationVector(
                0.0022 * shake * Walk.wobble(frame, 13),
                0.0028 * shake * Walk.wobble(frame, 14),
                0.002 * shake * Walk.wobble(frame, 15));
        return new Pose(p.rotation().times(q).unit(), p.position());
    }
}

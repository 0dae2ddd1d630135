package dasein.shoot;

import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;

/**
 * The camera of LW_010: somebody walks a few steps along the slipway with it on the shoulder. Time in frames from 1.
 */
final class Walk {
    static final int FRAMES = 96;
    static final int RATE = 24;
    static final int WIDTH = 1280;
    static final int HEIGHT = 720;
    static final double SENSOR_MM = 24.9;
    static final double FOCAL_MM = 28;
    static final double K1 = -0.08;
    /** 180 degrees: half of the frame's time. */
    static final double SHUTTER = 0.5;

    private Walk() {}

    static Lens lens() {
        return new Lens(FOCAL_MM / SENSOR_MM * WIDTH, WIDTH / 2.0, HEIGHT / 2.0, K1, 0);
    }

    static Pose pose(double frame) {
        double t = (frame - 1) / (FRAMES - 1), ease = t + 0.04 * Math.sin(2 * Math.PI * t);
        Vec3 eye = new Vec3(-1.35 + 2.5 * ease, 1.62 - 0.10 * ease, 1.6 - 1.5 * ease);
        // Steps of about two a second, and the slower sway of the body.
        double s = frame / RATE * 2 * Math.PI;
        eye = eye.plus(new Vec3(
                0.018 * Math.sin(0.93 * s + 1) + 0.012 * wobble(frame, 1),
                0.014 * Math.sin(1.9 * s) + 0.008 * wobble(frame, 2),
                0.012 * Math.sin(1.1 * s + 2)));
        Vec3 target = new Vec3(-0.15 + 0.5 * ease, 0.95, -7);
        Pose p = Pose.lookAt(eye, target, Vec3.Y);
        Quat shake = Quat.fromRotationVector(
                0.0045 * wobble(frame, 3) + 0.002 * Math.sin(1.9 * s + 0.7),
                0.0055 * wobble(frame, 4),
                0.006 * wobble(frame, 5) + 0.004 * Math.sin(0.95 * s));
        return new Pose(p.rotation().times(shake).unit(), p.position());
    }

    /** Band-limited shake, about [-1, 1]. */
    static double wobble(double frame, int seed) {
        double sum = 0;
        for (int k = 0; k < 4; k++) {
            double f = 0.6 * Math.pow(1.9, k), a = Math.pow(0.55, k);
            sum += a * Math.sin(2 * Math.PI * (f * frame / RATE + Noise.hash(k, seed, 77)));
        }
        return sum / 1.6;
    }
}

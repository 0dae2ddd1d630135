package dasein.core.math;

/** A rigid motion: rotate, then move. For cameras always camera-to-world (looks along -Z, +Y up). Immutable. */
public record Pose(Quat rotation, Vec3 position) {
    public static final Pose IDENTITY = new Pose(Quat.IDENTITY, Vec3.ZERO);

    public Vec3 toWorld(Vec3 local) {
        return rotation.rotate(local).plus(position);
    }

    public Vec3 toLocal(Vec3 world) {
        return rotation.conjugate().rotate(world.minus(position));
    }

    /** The motion "first o, then this". */
    public Pose times(Pose o) {
        return new Pose(rotation.times(o.rotation).unit(), toWorld(o.position));
    }

    public Pose inverse() {
        Quat q = rotation.conjugate();
        return new Pose(q, q.rotate(position).times(-1));
    }

    public Pose interpolate(Pose o, double t) {
        return new Pose(rotation.slerp(o.rotation, t), position.lerp(o.position, t));
    }

    /** Row-major 3x4 matrix. */
    public double[] matrix() {
        double[] r = rotation.matrix();
        return new double[] {
            r[0], r[1], r[2], position.x(), r[3], r[4], r[5], position.y(), r[6], r[7], r[8], position.z()
        };
    }

    /** From a row-major 3x4 matrix whose left part is a rotation. */
    public static Pose fromMatrix(double[] m) {
        return new Pose(
                Quat.fromMatrix(new double[] {m[0], m[1], m[2], m[4], m[5], m[6], m[8], m[9], m[10]}),
                new Vec3(m[3], m[7], m[11]));
    }

    /** Camera at {@code eye} that looks at {@code target}; up must not be parallel to the view. */
    public static Pose lookAt(Vec3 eye, Vec3 target, Vec3 up) {
        Vec3 z = eye.minus(target).unit(), x = up.cross(z).unit(), y = z.cross(x);
        return new Pose(
                Quat.fromMatrix(new double[] {x.x(), y.x(), z.x(), x.y(), y.y(), z.y(), x.z(), y.z(), z.z()}), eye);
    }
}

package dasein.core.math;

/** A unit quaternion (x, y, z, w), w the scalar part, as in glTF. Rotates by q v q*. Immutable. */
public record Quat(double x, double y, double z, double w) {
    public static final Quat IDENTITY = new Quat(0, 0, 0, 1);
    /**
     * Below this angle between two rotations the great-arc weights lose digits; the straight blend is exact to 1e-9
     * there.
     */
    private static final double NEARLY_SAME_COSINE = 0.99999;

    public static Quat axisAngle(Vec3 axis, double radians) {
        Vec3 a = axis.unit();
        double s = Math.sin(radians / 2);
        return new Quat(a.x() * s, a.y() * s, a.z() * s, Math.cos(radians / 2));
    }

    /** Rotation vector (axis times angle) to quaternion. */
    public static Quat fromRotationVector(double rx, double ry, double rz) {
        double angle = Math.sqrt(rx * rx + ry * ry + rz * rz);
        double k = angle < 1e-8 ? 0.5 - angle * angle / 48 : Math.sin(angle / 2) / angle;
        return new Quat(rx * k, ry * k, rz * k, Math.cos(angle / 2));
    }

    /**
     * Rotation of least angle that takes unit vector a to unit vector b; opposite vectors turn about some
     * perpendicular.
     */
    public static Quat between(Vec3 a, Vec3 b) {
        double d = a.dot(b);
        if (d < -1 + 1e-12) return axisAngle(a.anyPerpendicular(), Math.PI);
        Vec3 c = a.cross(b);
        return new Quat(c.x(), c.y(), c.z(), 1 + d).unit();
    }

    /** From a row-major rotation matrix (9 numbers), Shepperd's choice of the largest pivot. */
    public static Quat fromMatrix(double[] m) {
        double t = m[0] + m[4] + m[8];
        if (t > 0) {
            double s = Math.sqrt(t + 1) * 2;
            return new Quat((m[7] - m[5]) / s, (m[2] - m[6]) / s, (m[3] - m[1]) / s, s / 4).unit();
        } else if (m[0] > m[4] && m[0] > m[8]) {
            double s = Math.sqrt(1 + m[0] - m[4] - m[8]) * 2;
            return new Quat(s / 4, (m[1] + m[3]) / s, (m[2] + m[6]) / s, (m[7] - m[5]) / s).unit();
        } else if (m[4] > m[8]) {
            double s = Math.sqrt(1 + m[4] - m[0] - m[8]) * 2;
            return new Quat((m[1] + m[3]) / s, s / 4, (m[5] + m[7]) / s, (m[2] - m[6]) / s).unit();
        }
        double s = Math.sqrt(1 + m[8] - m[0] - m[4]) * 2;
        return new Quat((m[2] + m[6]) / s, (m[5] + m[7]) / s, s / 4, (m[3] - m[1]) / s).unit();
    }

    /** Row-major 3x3 rotation matrix. */
    public double[] matrix() {
        double xx = x * x,
                yy = y * y,
                zz = z * z,
                xy = x * y,
                xz = x * z,
                yz = y * z,
                wx = w * x,
                wy = w * y,
                wz = w * z;
        return new double[] {
            1 - 2 * (yy + zz),
            2 * (xy - wz),
            2 * (xz + wy),
            2 * (xy + wz),
            1 - 2 * (xx + zz),
            2 * (yz - wx),
            2 * (xz - wy),
            2 * (yz + wx),
            1 - 2 * (xx + yy)
        };
    }

    public Quat unit() {
        double n = Math.sqrt(x * x + y * y + z * z + w * w);
        return new Quat(x / n, y / n, z / n, w / n);
    }

    public Quat conjugate() {
        return new Quat(-x, -y, -z, w);
    }

    /** The rotation "first o, then this". */
    public Quat times(Quat o) {
        return new Quat(
                w * o.x + x * o.w + y * o.z - z * o.y,
                w * o.y - x * o.z + y * o.w + z * o.x,
                w * o.z + x * o.y - y * o.x + z * o.w,
                w * o.w - x * o.x - y * o.y - z * o.z);
    }

    public Vec3 rotate(Vec3 v) {
        double tx = 2 * (y * v.z() - z * v.y()), ty = 2 * (z * v.x() - x * v.z()), tz = 2 * (x * v.y() - y * v.x());
        return new Vec3(
                v.x() + w * tx + y * tz - z * ty, v.y() + w * ty + z * tx - x * tz, v.z() + w * tz + x * ty - y * tx);
    }

    /** Shortest-arc spherical interpolation (Shoemake 1985). */
    public Quat slerp(Quat o, double t) {
        double d = x * o.x + y * o.y + z * o.z + w * o.w, sign = d < 0 ? -1 : 1;
        d = Math.abs(d);
        double a, b;
        if (d > NEARLY_SAME_COSINE) {
            a = 1 - t;
            b = t;
        } else {
            double th = Math.acos(d), s = Math.sin(th);
            a = Math.sin((1 - t) * th) / s;
            b = Math.sin(t * th) / s;
        }
        b *= sign;
        return new Quat(a * x + b * o.x, a * y + b * o.y, a * z + b * o.z, a * w + b * o.w).unit();
    }

    /** Angle in radians of the rotation between this and o, in [0, pi]. */
    public double angleTo(Quat o) {
        Quat d = conjugate().times(o);
        return 2 * Math.atan2(Math.sqrt(d.x * d.x + d.y * d.y + d.z * d.z), Math.abs(d.w));
    }
}

package dasein.core.math;

/** A point or direction in space (double precision). Immutable. */
public record Vec3(double x, double y, double z) {
    public static final Vec3 ZERO = new Vec3(0, 0, 0);
    public static final Vec3 X = new Vec3(1, 0, 0);
    public static final Vec3 Y = new Vec3(0, 1, 0);
    public static final Vec3 Z = new Vec3(0, 0, 1);

    public Vec3 plus(Vec3 o) {
        return new Vec3(x + o.x, y + o.y, z + o.z);
    }

    public Vec3 minus(Vec3 o) {
        return new Vec3(x - o.x, y - o.y, z - o.z);
    }

    public Vec3 times(double s) {
        return new Vec3(x * s, y * s, z * s);
    }

    public double dot(Vec3 o) {
        return x * o.x + y * o.y + z * o.z;
    }

    public Vec3 cross(Vec3 o) {
        return new Vec3(y * o.z - z * o.y, z * o.x - x * o.z, x * o.y - y * o.x);
    }

    public double length() {
        return Math.sqrt(dot(this));
    }

    public double distance(Vec3 o) {
        return minus(o).length();
    }

    /** Unit vector of the same direction. The zero vector has none: {@link ArithmeticException}. */
    public Vec3 unit() {
        double n = length();
        if (n == 0) throw new ArithmeticException("the zero vector has no direction");
        return times(1 / n);
    }

    public Vec3 lerp(Vec3 o, double t) {
        return plus(o.minus(this).times(t));
    }

    /** Some unit vector at right angles to this (non-zero) one. */
    public Vec3 anyPerpendicular() {
        Vec3 a = Math.abs(x) < 0.6 * length() ? X : Y;
        return cross(a).unit();
    }

    public double[] array() {
        return new double[] {x, y, z};
    }

    public static Vec3 of(double[] a) {
        return new Vec3(a[0], a[1], a[2]);
    }
}

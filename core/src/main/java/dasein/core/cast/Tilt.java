package dasein.core.cast;

import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.List;

/** What has wheels lies as the ground under them does: on the plane nearest to it by least squares. */
final class Tilt {
    /** Of the ground under all wheels, in metres. */
    private static final double LEVEL = 1e-6;
    /** Of the wheels' spread: keeps what stands on wheels in one line from falling over. */
    private static final double NARROW = 1e-6;

    private Tilt() {}

    /** @param lift of it over the ground; @param under height from which ground is looked for downwards */
    static Blocking.Place of(
            Blocking.Around around, List<Wheel> wheels, Blocking.Place flat, double scale, double lift, double under) {
        int n = wheels.size();
        double[] x = new double[n], z = new double[n], h = new double[n];
        double mx = 0, mz = 0, mh = 0, low = Double.MAX_VALUE, high = -Double.MAX_VALUE;
        for (int i = 0; i < n; i++) {
            Vec3 d = flat.turn().rotate(wheels.get(i).hub().times(scale));
            x[i] = d.x();
            z[i] = d.z();
            h[i] = around.ground(flat.at().x() + x[i], flat.at().z() + z[i], under);
            mx += x[i] / n;
            mz += z[i] / n;
            mh += h[i] / n;
            low = Math.min(low, h[i]);
            high = Math.max(high, h[i]);
        }
        double xx = 0, xz = 0, zz = 0, xh = 0, zh = 0;
        for (int i = 0; i < n; i++) {
            double dx = x[i] - mx, dz = z[i] - mz, dh = h[i] - mh;
            xx += dx * dx;
            xz += dx * dz;
            zz += dz * dz;
            xh += dx * dh;
            zh += dz * dh;
        }
        double spread = xx + zz;
        if (high - low < LEVEL || spread < 1e-9)
            return new Blocking.Place(
                    new Vec3(flat.at().x(), mh + lift, flat.at().z()), flat.turn());
        xx += NARROW * spread;
        zz += NARROW * spread;
        double det = xx * zz - xz * xz, gx = (xh * zz - zh * xz) / det, gz = (zh * xx - xh * xz) / det;
        return new Blocking.Place(
                new Vec3(flat.at().x(), mh - gx * mx - gz * mz + lift, flat.at().z()),
                Quat.between(Vec3.Y, new Vec3(-gx, 1, -gz).unit())
                        .times(flat.turn())
                        .unit());
    }
}

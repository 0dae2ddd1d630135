package dasein.core.render;

import dasein.core.light.lamp.Lamp;
import dasein.core.math.Vec3;
import java.util.List;

/**
 * The lamps of a frame as light samplers: a direction from a place towards each, and the light that comes that way. A
 * sphere is sampled over the cone it fills (Shirley, Wang and Zimmerman 1996), a disc and a rectangle over their area;
 * points, spots and lines are found by light samples alone. One for each worker thread.
 */
final class Lamps {
    /** Light this near to a point or a line counts as if from here: metres. */
    private static final float NEAREST = 0.01f;

    private final Lamp[] lamps;
    private final float[][] frames;
    /** Of the last sample: direction, and metres to what shines. */
    float dx, dy, dz, far;
    /** Irradiance it gives what faces that way, one sample's estimate; three colours. */
    final float[] light = new float[3];
    /** Density of the direction for each unit of solid angle; 0 where no other way finds this lamp. */
    float density;

    private final float[] texel = new float[4];

    Lamps(List<Lamp> all) {
        lamps = all.toArray(Lamp[]::new);
        frames = new float[lamps.length][];
        for (int i = 0; i < lamps.length; i++) {
            Vec3 n = lamps[i].towards(), u = lamps[i].right(), v = n.cross(u), p = lamps[i].at();
            frames[i] = new float[] {
                (float) p.x(), (float) p.y(), (float) p.z(),
                (float) n.x(), (float) n.y(), (float) n.z(),
                (float) u.x(), (float) u.y(), (float) u.z(),
                (float) v.x(), (float) v.y(), (float) v.z()
            };
        }
    }

    int count() {
        return lamps.length;
    }

    boolean real(int i) {
        return lamps[i].real();
    }

    /** @return false when nothing comes from there */
    boolean sample(int i, float ox, float oy, float oz, float u, float v) {
        float[] f = frames[i];
        float x = f[0] - ox, y = f[1] - oy, z = f[2] - oz;
        return switch (lamps[i].kind()) {
            case SPHERE -> sphere(i, x, y, z, u, v);
            case DISC -> {
                float r = (float) (lamps[i].width() / 2 * Math.sqrt(u)), phi = (float) (2 * Math.PI) * v;
                float a = r * (float) Math.cos(phi), b = r * (float) Math.sin(phi);
                yield shown(i, a, b)
                        && face(i, x + a * f[6] + b * f[9], y + a * f[7] + b * f[10], z + a * f[8] + b * f[11]);
            }
            case RECTANGLE -> {
                float a = (float) (lamps[i].width() * (u - 0.5)), b = (float) (lamps[i].height() * (v - 0.5));
                yield shown(i, a, b)
                        && face(i, x + a * f[6] + b * f[9], y + a * f[7] + b * f[10], z + a * f[8] + b * f[11]);
            }
            case LINE -> {
                float a = (float) (lamps[i].width() * (u - 0.5));
                yield line(i, x + a * f[3], y + a * f[4], z + a * f[5]);
            }
            case POINT, SPOT -> point(i, x, y, z);
        };
    }

    private float aim(float x, float y, float z) {
        far = (float) Math.sqrt(x * x + y * y + z * z);
        dx = x / far;
        dy = y / far;
        dz = z / far;
        return far * far;
    }

    private void give(int i, float k) {
        float[] e = lamps[i].intensity();
        boolean picture = lamps[i].picture() != null;
        for (int c = 0; c < 3; c++) light[c] = e[c] * k * (picture ? texel[c] * texel[3] : 1);
    }

    /**
     * Looks up what its picture shows at a place of a face: metres to the right, as whom it faces sees it, and upwards
     * from its middle. False where that is black.
     */
    private boolean shown(int i, double a, double b) {
        Lamp l = lamps[i];
        if (l.picture() == null) return true;
        double high = l.kind() == Lamp.Kind.DISC ? l.width() : l.height();
        l.picture().sample((float) (0.5 + a / l.width()), (float) (0.5 - b / high), texel);
        return texel[0] + texel[1] + texel[2] > 0 && texel[3] > 0;
    }

    private boolean point(int i, float x, float y, float z) {
        float d2 = Math.max(aim(x, y, z), NEAREST * NEAREST), k = 1;
        density = 0;
        if (!(far > 1e-6f)) return false;
        if (lamps[i].kind() == Lamp.Kind.SPOT) {
            k = cone(i);
            if (k <= 0) return false;
        }
        give(i, k / d2);
        return true;
    }

    /** Full within, dark beyond, smooth between. */
    private float cone(int i) {
        float[] f = frames[i];
        double cos = -(dx * f[3] + dy * f[4] + dz * f[5]), dark = lamps[i].cosCone(), full = lamps[i].cosFull();
        if (cos <= dark) return 0;
        if (cos >= full) return 1;
        double t = (cos - dark) / (full - dark);
        return (float) (t * t * (3 - 2 * t));
    }

    /** A thin tube gives by the sine against its run. */
    private boolean line(int i, float x, float y, float z) {
        float d2 = Math.max(aim(x, y, z), NEAREST * NEAREST);
        density = 0;
        if (!(far > 1e-6f)) return false;
        float[] f = frames[i];
        float cos = dx * f[3] + dy * f[4] + dz * f[5];
        give(i, (float) Math.sqrt(Math.max(0, 1 - cos * cos)) / d2);
        return true;
    }

    /** Radiance is intensity over area; only the side that it faces shines. */
    private boolean face(int i, float x, float y, float z) {
        float d2 = aim(x, y, z);
        float[] f = frames[i];
        float cos = -(dx * f[3] + dy * f[4] + dz * f[5]);
        if (!(cos > 1e-5f) || !(far > 1e-6f)) return false;
        give(i, cos / d2);
        density = (float) (d2 / (cos * lamps[i].area()));
        return true;
    }

    private boolean sphere(int i, float x, float y, float z, float u, float v) {
        double r = lamps[i].width() / 2, d2 = (double) x * x + (double) y * y + (double) z * z;
        if (d2 <= r * r * 1.0001) return false;
        double sin2 = r * r / d2, cosMax = Math.sqrt(1 - sin2);
        // 1 - cosMax loses its digits far off.
        double left = sin2 < 1e-4 ? sin2 / 2 : 1 - cosMax, cos = 1 - u * left;
        double sin = Math.sqrt(Math.max(0, 1 - cos * cos)), phi = 2 * Math.PI * v, d = Math.sqrt(d2);
        Vec3 w = new Vec3(x / d, y / d, z / d), a = w.anyPerpendicular(), b = w.cross(a);
        Vec3 q = a.times(sin * Math.cos(phi)).plus(b.times(sin * Math.sin(phi))).plus(w.times(cos));
        dx = (float) q.x();
        dy = (float) q.y();
        dz = (float) q.z();
        double solid = 2 * Math.PI * left;
        far = (float) (d * cos - Math.sqrt(Math.max(0, r * r - d2 * (1 - cos * cos))));
        density = (float) (1 / solid);
        give(i, (float) (solid / (Math.PI * r * r)));
        return true;
    }

    /**
     * Radiance of a lamp that a ray meets before {@code most} metres, into {@link #light}, with {@link #density} that
     * of its light samples there; false where it misses. Only kinds with an area can be met.
     */
    boolean met(int i, float ox, float oy, float oz, float x, float y, float z, float most) {
        Lamp l = lamps[i];
        if (!l.kind().area()) return false;
        float[] f = frames[i];
        double px = f[0] - ox, py = f[1] - oy, pz = f[2] - oz;
        if (l.kind() == Lamp.Kind.SPHERE) {
            double b = px * x + py * y + pz * z, d2 = px * px + py * py + pz * pz, r = l.width() / 2;
            double disc = b * b - d2 + r * r;
            if (disc <= 0 || b <= 0 || d2 <= r * r || b - Math.sqrt(disc) > most) return false;
            double sin2 = r * r / d2, left = sin2 < 1e-4 ? sin2 / 2 : 1 - Math.sqrt(1 - sin2);
            density = (float) (1 / (2 * Math.PI * left));
        } else {
            double cos = -(x * f[3] + y * f[4] + z * f[5]);
            if (cos <= 1e-5) return false;
            double t = -(px * f[3] + py * f[4] + pz * f[5]) / cos;
            if (t <= 0 || t > most) return false;
            double qx = t * x - px, qy = t * y - py, qz = t * z - pz;
            double a = qx * f[6] + qy * f[7] + qz * f[8], b = qx * f[9] + qy * f[10] + qz * f[11];
            boolean in = l.kind() == Lamp.Kind.DISC
                    ? a * a + b * b <= l.width() * l.width() / 4
                    : Math.abs(a) <= l.width() / 2 && Math.abs(b) <= l.height() / 2;
            if (!in || !shown(i, a, b)) return false;
            density = (float) (t * t / (cos * l.area()));
        }
        give(i, (float) (1 / l.area()));
        return true;
    }
}

package dasein.core.light.pano;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.math.Vec3;
import java.util.List;
import java.util.Locale;

/**
 * Six square pictures of a right angle each. Front looks along -Z, right along +X; up and down are as somebody sees
 * them who looks to the front and lifts or lowers the head.
 */
public final class CubeFaces {
    /** Names by which faces are known, in the order front, right, back, left, up, down. */
    private static final String[][] NAMES = {
        {"front", "nz", "negz"}, {"right", "px", "posx"}, {"back", "pz", "posz"},
        {"left", "nx", "negx"}, {"up", "top", "py", "posy"}, {"down", "bottom", "ny", "negy"}
    };

    private CubeFaces() {}

    /** Which face a file's name says; -1 when none. */
    public static int face(String fileName) {
        String n = fileName.toLowerCase(Locale.ROOT).replaceAll("\\.[a-z]+$", "");
        for (int k = 0; k < NAMES.length; k++)
            for (String name : NAMES[k]) if (n.equals(name) || n.matches(".*[_\\-. ]" + name)) return k;
        return -1;
    }

    /** @param faces front, right, back, left, up, down, all of one size */
    public static Image latLong(List<Image> faces, int width) {
        if (faces.size() != 6) throw new BadInput("a cube has six faces, not " + faces.size());
        int side = faces.get(0).width;
        for (Image f : faces)
            if (f.width != side || f.height != side)
                throw new BadInput("the faces of a cube must be squares of one size");
        return Turned.sampled(width, d -> {
            double x = d.x(), y = d.y(), z = d.z(), ax = Math.abs(x), ay = Math.abs(y), az = Math.abs(z);
            int k;
            double u, v;
            if (az >= ax && az >= ay) {
                k = z < 0 ? 0 : 2;
                u = z < 0 ? x / az : -x / az;
                v = -y / az;
            } else if (ax >= ay) {
                k = x > 0 ? 1 : 3;
                u = x > 0 ? z / ax : -z / ax;
                v = -y / ax;
            } else {
                k = y > 0 ? 4 : 5;
                u = x / ay;
                v = y > 0 ? -z / ay : z / ay;
            }
            return new Turned.Sample(faces.get(k), (u + 1) / 2 * side, (v + 1) / 2 * side, 1);
        });
    }

    /** The direction in the middle of a face. */
    static Vec3 middle(int face) {
        return List.of(Vec3.Z.times(-1), Vec3.X, Vec3.Z, Vec3.X.times(-1), Vec3.Y, Vec3.Y.times(-1))
                .get(face);
    }

    /** For tests and for looking: a face of a map. */
    static Image of(Image map, int face, int side) {
        Vec3 m = middle(face);
        Vec3 up = face == 4 ? Vec3.Z : face == 5 ? Vec3.Z.times(-1) : Vec3.Y, right = m.cross(up);
        Environment e = new Environment(map, 0, 1);
        Image out = new Image(side, side, 3);
        float[] c = new float[3];
        for (int y = 0; y < side; y++)
            for (int x = 0; x < side; x++) {
                Vec3 d = m.plus(right.times(2 * (x + 0.5) / side - 1))
                        .plus(up.times(1 - 2 * (y + 0.5) / side))
                        .unit();
                e.radiance((float) d.x(), (float) d.y(), (float) d.z(), c);
                for (int k = 0; k < 3; k++) out.planes[k][y * side + x] = c[k];
            }
        return out;
    }
}

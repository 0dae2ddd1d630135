package dasein.core.light.pano;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.SoftFill;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import org.ejml.simple.SimpleEVD;
import org.ejml.simple.SimpleMatrix;

/**
 * The turn that brings a map upright: what stands upright in the world runs through the zenith, and the horizon lies
 * square to it. Either gives the zenith as the direction that is square to most normals, or places.
 */
public final class Levelling {
    private static final double VAGUE = 0.02;

    private Levelling() {}

    /** @param offDeg root mean square by which the drawn lines or places miss it */
    public record Result(Quat turn, double tiltDeg, double offDeg) {}

    /**
     * @param lines ends of things that stand upright, x, y, x, y in the map's pixels
     * @throws BadInput when there are fewer than two, or all hold one plane
     */
    public static Result byVerticals(double[][] lines, int width, int height) {
        Vec3[] n = new Vec3[lines.length];
        for (int i = 0; i < n.length; i++) {
            Vec3 c = at(lines[i][0], lines[i][1], width, height).cross(at(lines[i][2], lines[i][3], width, height));
            if (c.length() < 1e-4) throw new BadInput("an upright line is too short to tell anything");
            n[i] = c.unit();
        }
        return of(n, 2, "two upright lines that stand apart are needed");
    }

    /** @param places on the horizon, x, y in the map's pixels */
    public static Result byHorizon(double[][] places, int width, int height) {
        Vec3[] n = new Vec3[places.length];
        for (int i = 0; i < n.length; i++) n[i] = at(places[i][0], places[i][1], width, height);
        return of(n, 2, "two places of the horizon that lie apart are needed");
    }

    private static Vec3 at(double x, double y, int width, int height) {
        return Environment.fromUv(x / width, y / height);
    }

    private static Result of(Vec3[] square, int least, String wanted) {
        if (square.length < least) throw new BadInput(wanted);
        SimpleMatrix m = new SimpleMatrix(3, 3);
        for (Vec3 s : square) {
            double[] v = s.array();
            for (int i = 0; i < 3; i++)
                for (int j = 0; j < 3; j++) m.set(i, j, m.get(i, j) + v[i] * v[j] / square.length);
        }
        SimpleEVD<SimpleMatrix> e = m.eig();
        int at = 0;
        for (int k = 1; k < 3; k++)
            if (e.getEigenvalue(k).getReal() < e.getEigenvalue(at).getReal()) at = k;
        double second = Double.MAX_VALUE;
        for (int k = 0; k < 3; k++)
            if (k != at) second = Math.min(second, e.getEigenvalue(k).getReal());
        if (second < VAGUE * VAGUE) throw new BadInput(wanted);
        SimpleMatrix v = e.getEigenVector(at);
        Vec3 zenith = new Vec3(v.get(0), v.get(1), v.get(2)).unit();
        if (zenith.y() < 0) zenith = zenith.times(-1);
        double sum = 0;
        for (Vec3 s : square) sum += Math.pow(Math.asin(Math.max(-1, Math.min(1, s.dot(zenith)))), 2);
        return new Result(
                Quat.between(zenith, Vec3.Y),
                Math.toDegrees(Math.acos(Math.min(1, zenith.y()))),
                Math.toDegrees(Math.sqrt(sum / square.length)));
    }

    /** The map with what lies within an angle of straight down filled in softly: where the tripod stood. */
    public static Image patched(Image map, double degrees) {
        if (!(degrees > 0 && degrees < 80)) throw new BadInput("the tripod's angle must lie between 0 and 80 degrees");
        Image out = map.copy();
        boolean[] missing = new boolean[map.width * map.height];
        int from = (int) Math.floor(map.height * (180 - degrees) / 180);
        for (int i = from * map.width; i < missing.length; i++) missing[i] = true;
        SoftFill.fill(out, missing);
        return out;
    }

    /** Black texels, which no photograph saw, filled in softly. @return part of the sphere that was */
    public static double filled(Image map) {
        boolean[] missing = new boolean[map.width * map.height];
        for (int i = 0; i < missing.length; i++)
            missing[i] = map.planes[0][i] == 0 && map.planes[1][i] == 0 && map.planes[2][i] == 0;
        double part = Environment.part(missing, map.width);
        if (part > 0.98) throw new BadInput("the panorama is black");
        SoftFill.fill(map, missing);
        return part;
    }
}

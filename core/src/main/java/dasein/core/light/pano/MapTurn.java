package dasein.core.light.pano;

import dasein.core.BadInput;
import dasein.core.light.Clues;
import dasein.core.light.Sun;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;

/**
 * A map's turn about the vertical by far things that are seen both in it and in the plate.
 *
 * @param turnDeg as in the light recipe: added to what the map's azimuth was
 * @param offDeg by how much each pair then misses: also what the map leans or what stands too near
 */
public record MapTurn(double turnDeg, List<Double> offDeg) {
    /** Root mean square of the misses, degrees. */
    public double residualDeg() {
        double s = 0;
        for (double d : offDeg) s += d * d / offDeg.size();
        return Math.sqrt(s);
    }

    /** @throws BadInput when there are none, or all stand straight above */
    public static MapTurn of(SolvedCamera camera, List<Clues.Pair> pairs) {
        if (pairs.isEmpty()) throw new BadInput("no thing is marked in both plate and map yet");
        double sin = 0, cos = 0;
        List<Vec3> plate = new ArrayList<>(), map = new ArrayList<>();
        for (Clues.Pair p : pairs) {
            if (!camera.has(p.frame())) throw new BadInput("the camera of frame " + p.frame() + " is not known");
            Vec3 a = camera.frame(p.frame())
                    .pose()
                    .rotation()
                    .rotate(camera.view(p.frame(), 0, 1)
                            .lens()
                            .ray(p.x(), p.y())
                            .unit());
            Vec3 b = Sun.direction(Math.toRadians(p.elevationDeg()), Math.toRadians(p.azimuthDeg()));
            plate.add(a);
            map.add(b);
            // Rotation about the vertical that brings the level parts together, by least squares.
            cos += a.x() * b.x() + a.z() * b.z();
            sin += a.x() * -b.z() - -a.z() * b.x();
        }
        if (Math.hypot(sin, cos) < 1e-3) throw new BadInput("what is marked stands straight above: it tells no turn");
        double turn = Math.atan2(sin, cos);
        List<Double> off = new ArrayList<>();
        for (int k = 0; k < pairs.size(); k++) {
            Vec3 b = map.get(k);
            Vec3 turned = new Vec3(
                    b.x() * Math.cos(turn) - b.z() * Math.sin(turn),
                    b.y(),
                    b.x() * Math.sin(turn) + b.z() * Math.cos(turn));
            off.add(Math.toDegrees(Math.atan2(turned.cross(plate.get(k)).length(), turned.dot(plate.get(k)))));
        }
        return new MapTurn(Math.toDegrees(turn), off);
    }
}

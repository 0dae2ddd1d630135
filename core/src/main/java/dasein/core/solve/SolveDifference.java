package dasein.core.solve;

import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;

/**
 * How one solve differs from another of the same shot, once it is laid over it as well as may be: two solves share
 * neither frame nor size.
 *
 * @param path root mean square distance of the places, as a part of the first one's path length; 0 where it has none
 * @param turnDeg root mean square difference of the directions; @param focal largest difference of the focal lengths,
 *     as a part
 * @param lay brings the second into the first one's frame; @param frames that both have
 */
public record SolveDifference(double path, double turnDeg, double focal, Similarity lay, int frames) {

    /** @return null when fewer than three frames are solved in both */
    public static SolveDifference of(SolvedCamera a, SolvedCamera b) {
        List<SolvedCamera.Frame> both =
                b.frames().stream().filter(f -> a.has(f.frame())).toList();
        if (both.size() < 3) return null;
        List<Vec3> from = new ArrayList<>(), to = new ArrayList<>();
        for (SolvedCamera.Frame f : both) {
            from.add(f.pose().position());
            to.add(a.frame(f.frame()).pose().position());
        }
        double length = length(to), own = length(from), scale = own > 1e-9 && length > 1e-9 ? length / own : 1;
        // A straight path leaves the turn about itself open: tips of the cameras' axes count as well.
        double tip = length > 1e-9 ? length / both.size() : 1;
        for (SolvedCamera.Frame f : both) {
            for (Vec3 axis : List.of(Vec3.X, Vec3.Y, Vec3.Z)) {
                from.add(f.pose().toWorld(axis.times(tip / scale)));
                to.add(a.frame(f.frame()).pose().toWorld(axis.times(tip)));
            }
        }
        Similarity lay = Similarity.fit(from, to);
        double path = 0, turn = 0, focal = 0;
        for (SolvedCamera.Frame f : both) {
            SolvedCamera.Frame g = a.frame(f.frame());
            path += Math.pow(lay.apply(f.pose().position()).distance(g.pose().position()), 2) / both.size();
            turn += Math.pow(
                            Math.toDegrees(lay.rotation()
                                    .times(f.pose().rotation())
                                    .unit()
                                    .angleTo(g.pose().rotation())),
                            2)
                    / both.size();
            focal = Math.max(focal, Math.abs(f.focalPx() / g.focalPx() - 1));
        }
        return new SolveDifference(
                length > 1e-9 ? Math.sqrt(path) / length : 0, Math.sqrt(turn), focal, lay, both.size());
    }

    private static double length(List<Vec3> p) {
        double s = 0;
        for (int i = 1; i < p.size(); i++) s += p.get(i).distance(p.get(i - 1));
        return s;
    }
}

package dasein.shoot;

import dasein.core.ground.PickedPoint;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The camera of a take as it really was, and how a solve differs from it. Frames from 1. */
record TrueCamera(JsonNode truth, List<Pose> poses, Lens lens) {

    static TrueCamera of(String take) throws Exception {
        JsonNode t = new JsonMapper().readTree(Files.readString(Path.of("shoot/truth/" + take + ".json")));
        List<Pose> poses = new ArrayList<>();
        for (JsonNode m : t.path("cameraToWorld")) poses.add(Pose.fromMatrix(numbers(m)));
        return new TrueCamera(
                t,
                poses,
                new Lens(
                        t.path("focalPx").asDouble(),
                        t.path("width").asDouble() / 2,
                        t.path("height").asDouble() / 2,
                        t.path("k1").asDouble(),
                        0));
    }

    static double[] numbers(JsonNode n) {
        double[] v = new double[n.size()];
        for (int i = 0; i < v.length; i++) v[i] = n.get(i).asDouble();
        return v;
    }

    Pose pose(int frame) {
        return poses.get(frame - 1);
    }

    double[] pixel(int frame, Vec3 p) {
        return lens.project(pose(frame).toLocal(p));
    }

    /** A true place, picked in some frames as a hand does, off by 0.3 px. */
    PickedPoint picked(int k, Vec3 p, int above, Random r, int... frames) {
        PickedPoint out = new PickedPoint(PickedPoint.FIRST_ID + k, "p" + k, List.of(), above);
        for (int f : frames)
            out = out.with(new PickedPoint.Pick(
                    f, pixel(f, p)[0] + 0.3 * r.nextGaussian(), pixel(f, p)[1] + 0.3 * r.nextGaussian()));
        return out;
    }

    /**
     * How far a true place's image lies from the nearest of a shape's corners as a solve sees them: which corner is
     * meant is the nearest.
     */
    double cornerOff(SolvedCamera c, int frame, float[] xyz, Vec3 p) {
        double[] want = pixel(frame, p);
        double near = 1e9;
        for (int i = 0; i < xyz.length; i += 3) {
            double[] got =
                    c.lens(frame).project(c.frame(frame).pose().toLocal(new Vec3(xyz[i], xyz[i + 1], xyz[i + 2])));
            near = Math.min(near, Math.hypot(got[0] - want[0], got[1] - want[1]));
        }
        return near;
    }

    /**
     * Brings a solve onto the truth by path and axis tips (a metre out), so that a nearly straight path does not leave
     * the turn about itself open.
     */
    SolvedCamera aligned(SolvedCamera s) {
        List<Vec3> a = new ArrayList<>(), b = new ArrayList<>();
        for (SolvedCamera.Frame f : s.frames()) {
            a.add(f.pose().position());
            b.add(pose(f.frame()).position());
        }
        double scale = Similarity.fit(a, b).scale();
        for (SolvedCamera.Frame f : s.frames()) {
            for (Vec3 axis : List.of(Vec3.X, Vec3.Y, Vec3.Z)) {
                a.add(f.pose().toWorld(axis.times(1 / scale)));
                b.add(pose(f.frame()).toWorld(axis));
            }
        }
        return s.in(Similarity.fit(a, b));
    }

    /**
     * Brings a solve onto the truth by places in front of the camera, each found from where it truly is seen in every
     * twelfth frame: what stands among them lies right in the picture, which {@link #aligned} leaves open by 0.3 px.
     */
    SolvedCamera surveyed(SolvedCamera s) {
        List<Vec3> a = new ArrayList<>(), b = new ArrayList<>();
        for (JsonNode q : truth.path("heldOut")) {
            Vec3 p = Vec3.of(numbers(q)), found = met(s, p);
            if (found == null) continue;
            a.add(found);
            b.add(p);
        }
        return s.in(Similarity.fit(a, b));
    }

    /** Where the rays through a true place's images meet best in a solve; null where too few frames show it. */
    private Vec3 met(SolvedCamera s, Vec3 p) {
        double[][] m = new double[3][3];
        Vec3 right = Vec3.ZERO;
        int n = 0;
        for (SolvedCamera.Frame f : s.frames()) {
            double[] at = f.frame() % 12 == 0 ? pixel(f.frame(), p) : null;
            if (at == null || at[0] < 0 || at[1] < 0 || at[0] >= 2 * lens.centreX() || at[1] >= 2 * lens.centreY())
                continue;
            Vec3
                    d =
                            f.pose()
                                    .rotation()
                                    .rotate(s.lens(f.frame()).ray(at[0], at[1]))
                                    .unit(),
                    o = f.pose().position();
            double[] k = d.array();
            for (int i = 0; i < 3; i++) for (int j = 0; j < 3; j++) m[i][j] += (i == j ? 1 : 0) - k[i] * k[j];
            right = right.plus(o.minus(d.times(d.dot(o))));
            n++;
        }
        if (n < 4) return null;
        Vec3 c0 = new Vec3(m[0][0], m[1][0], m[2][0]),
                c1 = new Vec3(m[0][1], m[1][1], m[2][1]),
                c2 = new Vec3(m[0][2], m[1][2], m[2][2]);
        double det = c0.dot(c1.cross(c2));
        return new Vec3(right.dot(c1.cross(c2)) / det, c0.dot(right.cross(c2)) / det, c0.dot(c1.cross(right)) / det);
    }

    /**
     * @param path RMS of the positions as a part of the path's length
     * @param turnDeg RMS of the rotations
     * @param focal relative error of the focal length
     */
    record Difference(double path, double turnDeg, double focal) {}

    /** @param s aligned */
    Difference from(SolvedCamera s) {
        double path = 0, turn = 0, length = 0;
        for (SolvedCamera.Frame f : s.frames()) {
            path += Math.pow(f.pose().position().distance(pose(f.frame()).position()), 2);
            turn += Math.pow(
                    Math.toDegrees(f.pose().rotation().angleTo(pose(f.frame()).rotation())), 2);
            if (f.frame() > 1)
                length +=
                        pose(f.frame()).position().distance(pose(f.frame() - 1).position());
        }
        int n = s.frames().size();
        return new Difference(
                Math.sqrt(path / n) / length,
                Math.sqrt(turn / n),
                s.frames().get(0).focalPx() / lens.focalPx() - 1);
    }
}

package dasein.shoot;

import dasein.core.ground.PickedPoint;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.ejml.simple.SimpleMatrix;
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

    /** Itself, as if it had been found: of a tripod that nobody touched. */
    SolvedCamera known(Rate rate) {
        List<SolvedCamera.Frame> frames = IntStream.rangeClosed(1, poses.size())
                .mapToObj(f -> new SolvedCamera.Frame(f, pose(f), lens.focalPx(), 0, 0))
                .toList();
        return new SolvedCamera(
                (int) (2 * lens.centreX()), (int) (2 * lens.centreY()), rate, "still", 0, 0, lens, frames, List.of());
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
     * Brings a solve onto the truth by places in front of the camera, each by where it truly is seen in every twelfth
     * frame (Gauss-Newton on the pixels): what stands among them lies right in the picture, which {@link #aligned}
     * leaves open by 0.3 px.
     */
    SolvedCamera surveyed(SolvedCamera raw) {
        SolvedCamera s = aligned(raw);
        if (truth.path("heldOut").isEmpty()) return s;
        List<Vec3> places = new ArrayList<>();
        for (JsonNode q : truth.path("heldOut")) places.add(Vec3.of(numbers(q)));
        double[] x = new double[7];
        for (int round = 0; round < 8; round++) {
            SimpleMatrix r = off(s, places, x), j = new SimpleMatrix(r.getNumRows(), 7);
            for (int k = 0; k < 7; k++) {
                double[] more = x.clone();
                more[k] += 1e-5;
                j.insertIntoThis(0, k, off(s, places, more).minus(r).divide(1e-5));
            }
            SimpleMatrix step = j.transpose().mult(j).solve(j.transpose().mult(r));
            for (int k = 0; k < 7; k++) x[k] -= step.get(k);
        }
        double[] found = x;
        return s.in(Similarity.fit(places.stream().map(p -> moved(p, found)).toList(), places));
    }

    /** @param x turned by the first three (radians), moved by the next (metres), larger by the last (its logarithm) */
    private static Vec3 moved(Vec3 p, double[] x) {
        return Quat.fromRotationVector(x[0], x[1], x[2])
                .rotate(p)
                .times(Math.exp(x[6]))
                .plus(new Vec3(x[3], x[4], x[5]));
    }

    /** Pixels by which places that were so moved are seen elsewhere than they truly are. */
    private SimpleMatrix off(SolvedCamera s, List<Vec3> places, double[] x) {
        List<Double> out = new ArrayList<>();
        for (SolvedCamera.Frame f : s.frames()) {
            if (f.frame() % 12 != 0) continue;
            for (Vec3 p : places) {
                double[] want = pixel(f.frame(), p);
                if (want == null
                        || want[0] < 0
                        || want[1] < 0
                        || want[0] >= 2 * lens.centreX()
                        || want[1] >= 2 * lens.centreY()) continue;
                double[] is = s.lens(f.frame()).project(f.pose().toLocal(moved(p, x)));
                out.add(is[0] - want[0]);
                out.add(is[1] - want[1]);
            }
        }
        SimpleMatrix m = new SimpleMatrix(out.size(), 1);
        for (int i = 0; i < out.size(); i++) m.set(i, out.get(i));
        return m;
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

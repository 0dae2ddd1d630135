package dasein.core.ground;

import dasein.core.BadInput;
import dasein.core.math.Quat;
import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.Function;
import java.util.function.ToDoubleFunction;
import org.ejml.simple.SimpleMatrix;

/**
 * Least squares over turn, height and size of a set's frame, of all that is said of it: every part is a residual in
 * standard deviations, and a {@link GroundFit.Check} of what is left of it.
 */
final class FrameFit {
    private static final int ROUNDS = 8, STEPS = 12;
    /** Where performers are first put before a camera without depth, metres. */
    private static final double AHEAD = 6;
    /**
     * One standard deviation of what is said: directions in radians, lengths as a part, and how well the solve's own
     * upright is known.
     */
    private static final double DIRECTION = 0.004, LENGTH = 0.005, OWN_UP = 0.03, LEVEL = 0.005;
    /** What is off by more contradicts the rest: radians, and parts of a length. */
    private static final double CONTRADICTS_ANGLE = Math.toRadians(1), CONTRADICTS_LENGTH = 0.03;

    /** Turn to the set's axes, height of the solve's origin over the ground and logarithm of the scale. */
    private record State(Quat turn, double h, double logScale) {
        Vec3 up() {
            return turn.conjugate().rotate(Vec3.Y);
        }

        State moved(double[] d) {
            return new State(
                    Quat.fromRotationVector(d[0], d[1], d[2]).times(turn).unit(), h + d[3], logScale + d[4]);
        }
    }

    /** One residual in standard deviations. */
    private interface Residual {
        double of(State s);
    }

    private final SetPoints points;
    private final SetRecipe recipe;
    private final double cameraHeight;
    private final List<Integer> ground;
    private final Vec3 eye, look;
    private final double size;
    private final List<Residual> said = new ArrayList<>();
    private final List<Residual> flat = new ArrayList<>();
    private final List<Function<State, GroundFit.Check>> checks = new ArrayList<>();
    private final List<ToDoubleFunction<State>> lengths = new ArrayList<>();
    private boolean scaled;

    FrameFit(SetPoints points, SetRecipe recipe, double cameraHeight) {
        this.points = points;
        this.recipe = recipe;
        this.cameraHeight = cameraHeight;
        SolvedCamera.Frame first = points.solve.frames().get(0);
        eye = first.pose().position();
        look = first.pose().rotation().rotate(Vec3.Z).times(-1);
        ground = !points.depth
                ? List.of()
                : recipe.groundPoints().isEmpty()
                        ? PlaneSearch.ground(points.solve)
                        : recipe.groundPoints().stream().filter(points::isFixed).toList();
        if (points.depth && ground.size() < 3)
            throw new BadInput(
                    "the ground needs three solved points; " + ground.size() + " of the chosen ones are solved");
        size = points.depth
                ? Math.max(
                        1e-9,
                        median(ground.stream()
                                .map(i -> points.at(i, Vec3.Y, 0, "the ground").distance(eye))
                                .toList()))
                : Math.max(1e-9, Math.abs(eye.y()));
    }

    private static double median(List<Double> v) {
        return v.stream().sorted().toList().get(v.size() / 2);
    }

    /** From the plane alone, looking ahead; a camera without depth stands as its own upright says. */
    private State start() {
        if (!points.depth) return new State(Quat.IDENTITY, 0, 0);
        Vec3[] plane = GroundFit.plane(
                ground.stream().map(i -> points.at(i, Vec3.Y, 0, "the ground")).toList());
        Vec3 up = eye.minus(plane[0]).dot(plane[1]) < 0 ? plane[1].times(-1) : plane[1],
                ahead = look.minus(up.times(look.dot(up)));
        if (ahead.length() < 1e-9) ahead = up.anyPerpendicular();
        Vec3 z = ahead.unit().times(-1), x = up.cross(z);
        return new State(
                Quat.fromMatrix(new double[] {x.x(), x.y(), x.z(), up.x(), up.y(), up.z(), z.x(), z.y(), z.z()}),
                -plane[0].dot(up),
                0);
    }

    private void collect() {
        for (int id : ground)
            flat.add(s -> points.at(id, s.up(), s.h, "the ground").dot(s.up()) + s.h);
        if (!points.depth) {
            // Nothing says where the ground lies: it stays at the height the solve gave it, and level by its
            // upright unless edges say more.
            said.add(s -> s.h / (1e-6 * size));
            said.add(s -> s.up().x() / OWN_UP);
            said.add(s -> s.up().z() / OWN_UP);
        }
        boolean heading = false;
        if (recipe.axes().headingFrom() != 0 && recipe.axes().headingTo() != 0) {
            heading = true;
            Residual off =
                    s -> sideways(s, recipe.axes().headingFrom(), recipe.axes().headingTo());
            said.add(s -> off.of(s) / DIRECTION);
            checks.add(s -> new GroundFit.Check(
                    "heading along two points",
                    0,
                    Math.toDegrees(off.of(s)),
                    "deg",
                    Math.abs(off.of(s)) > CONTRADICTS_ANGLE));
        }
        int n = 0;
        for (SetRecipe.Edge e : recipe.edges()) {
            heading |= e.axis() != SetRecipe.Axis.Y;
            Vec3 across = SetPoints.ray(points.solve, e.frame(), e.fromX(), e.fromY())
                    .towards()
                    .cross(SetPoints.ray(points.solve, e.frame(), e.toX(), e.toY())
                            .towards())
                    .unit();
            Residual off = s ->
                    Math.asin(Math.max(-1, Math.min(1, s.turn.rotate(across).dot(axis(e.axis())))));
            said.add(s -> off.of(s) / DIRECTION);
            String name = (e.axis() == SetRecipe.Axis.Y
                            ? "upright edge "
                            : e.axis() == SetRecipe.Axis.X ? "edge to the right " : "edge in depth ")
                    + ++n;
            checks.add(s -> new GroundFit.Check(
                    name, 0, Math.toDegrees(off.of(s)), "deg", Math.abs(off.of(s)) > CONTRADICTS_ANGLE));
        }
        for (SetRecipe.Upright u : recipe.uprights()) upright(u);
        for (SetRecipe.Level l : recipe.levels()) level(l);
        for (SetRecipe.Yardstick y : recipe.yardsticks()) yardstick(y);
        if (recipe.yardsticks().isEmpty() && cameraHeight > 0)
            yardstick(new SetRecipe.Yardstick(
                    "camera height", SetRecipe.Yardstick.CAMERA, SetRecipe.Yardstick.GROUND, cameraHeight));
        if (!scaled) said.add(s -> s.logScale);
        // With nothing said of the heading it is the way the first camera looks; lines that were drawn along the axes
        // have said it.
        Vec3 ahead =
                points.solve.kind().equals("locked") || points.solve.kind().equals("surface") ? Vec3.Z.times(-1) : look;
        if (!heading)
            said.add(s -> {
                Vec3 v = s.turn.rotate(ahead);
                return Math.hypot(v.x(), v.z()) < 1e-6 ? 0 : Math.atan2(v.x(), -v.z()) / DIRECTION;
            });
    }

    private static Vec3 axis(SetRecipe.Axis a) {
        return a == SetRecipe.Axis.X ? Vec3.X : a == SetRecipe.Axis.Y ? Vec3.Y : Vec3.Z;
    }

    /** Angle by which the way from one point to another leaves -Z, seen from above. */
    private double sideways(State s, int from, int to) {
        Vec3 a = points.at(from, s.up(), s.h, "the heading"), b = points.at(to, s.up(), s.h, "the heading");
        if (a == null || b == null)
            throw new BadInput("the heading names a point above the horizon; choose points on the ground");
        Vec3 d = s.turn.rotate(b.minus(a));
        if (Math.hypot(d.x(), d.z()) < 1e-6 * size)
            throw new BadInput("the heading runs straight up; choose two points that lie apart on the ground");
        return Math.atan2(d.x(), -d.z());
    }

    /** A point above another: both its leanings where both are known, else only that seen across the picture. */
    private void upright(SetRecipe.Upright u) {
        for (int id : new int[] {u.above(), u.below()})
            if (!points.knows(id))
                throw new BadInput("an upright names point " + id + ", which is not solved; choose " + "another point");
        String name = "upright of " + u.above() + " over " + u.below();
        if (points.isFixed(u.above()) && points.isFixed(u.below())) {
            Vec3 d = points.at(u.above(), Vec3.Y, 0, name)
                    .minus(points.at(u.below(), Vec3.Y, 0, name))
                    .unit();
            said.add(s -> s.turn.rotate(d).x() / DIRECTION);
            said.add(s -> s.turn.rotate(d).z() / DIRECTION);
            checks.add(s -> {
                Vec3 v = s.turn.rotate(d);
                double off = Math.acos(Math.max(-1, Math.min(1, v.y())));
                return new GroundFit.Check(name, 0, Math.toDegrees(off), "deg", off > CONTRADICTS_ANGLE);
            });
            return;
        }
        SetPoints.Ray a = seen(u.above()), b = seen(u.below());
        if (a.eye().distance(b.eye()) > 1e-9 * size)
            throw new BadInput("the two points of an upright must be picked in the same frame, or in several");
        Vec3 across = a.towards().cross(b.towards()).unit();
        Residual off =
                s -> Math.asin(Math.max(-1, Math.min(1, s.turn.rotate(across).y())));
        said.add(s -> off.of(s) / DIRECTION);
        checks.add(s -> new GroundFit.Check(
                name, 0, Math.toDegrees(off.of(s)), "deg", Math.abs(off.of(s)) > CONTRADICTS_ANGLE));
    }

    /** Roll and tilt as they were noted: how the camera's sides, its top and its view lean. */
    private void level(SetRecipe.Level l) {
        if (!points.solve.has(l.frame()))
            throw new BadInput("frame " + l.frame() + ", in which the camera's level was noted, is not solved");
        Quat camera = points.solve.frame(l.frame()).pose().rotation();
        Vec3 right = camera.rotate(Vec3.X),
                top = camera.rotate(Vec3.Y),
                view = camera.rotate(Vec3.Z).times(-1);
        ToDoubleFunction<State> roll = s -> Math.toDegrees(
                Math.atan2(-s.turn.rotate(right).y(), s.turn.rotate(top).y()));
        angle("roll in frame " + l.frame(), l.rollDeg(), roll);
        if (l.tiltDeg() != null)
            angle(
                    "tilt in frame " + l.frame(),
                    l.tiltDeg(),
                    s -> Math.toDegrees(Math.asin(
                            Math.max(-1, Math.min(1, s.turn.rotate(view).y())))));
    }

    private void angle(String name, double wanted, ToDoubleFunction<State> deg) {
        ToDoubleFunction<State> off = s -> Math.toRadians(Math.IEEEremainder(deg.applyAsDouble(s) - wanted, 360));
        said.add(s -> off.applyAsDouble(s) / LEVEL);
        checks.add(s -> new GroundFit.Check(
                name,
                wanted,
                wanted + Math.toDegrees(off.applyAsDouble(s)),
                "deg",
                Math.abs(off.applyAsDouble(s)) > CONTRADICTS_ANGLE));
    }

    private SetPoints.Ray seen(int id) {
        SetPoints.Ray r = points.ray(id);
        if (r == null)
            throw new BadInput("the two points of an upright must be picked in the same frame, or in several");
        return r;
    }

    private void yardstick(SetRecipe.Yardstick y) {
        if (y.metres() <= 0) throw new BadInput("the yardstick " + y.name() + " must be longer than zero");
        String what = "the yardstick " + y.name();
        ToDoubleFunction<State> length = s -> {
            Vec3 a = y.from() == SetRecipe.Yardstick.CAMERA ? eye : points.at(y.from(), s.up(), s.h, what);
            if (a == null)
                throw new BadInput(what
                        + " names a point above the horizon, picked in one frame only; pick it "
                        + "in another, or above a point");
            double d;
            if (y.to() == SetRecipe.Yardstick.GROUND) {
                d = Math.abs(a.dot(s.up()) + s.h);
            } else {
                Vec3 b = points.at(y.to(), s.up(), s.h, what);
                if (b == null)
                    throw new BadInput(what
                            + " names a point above the horizon, picked in one frame only; pick "
                            + "it in another, or above a point");
                d = a.distance(b);
            }
            if (d < 1e-9 * size) throw new BadInput(what + " runs from a point to itself");
            return d * Math.exp(s.logScale);
        };
        scaled = true;
        lengths.add(length);
        said.add(s -> Math.sqrt(y.weight()) * Math.log(length.applyAsDouble(s) / y.metres()) / LENGTH);
        checks.add(s -> new GroundFit.Check(
                y.name(),
                y.metres(),
                length.applyAsDouble(s),
                "m",
                Math.abs(Math.log(length.applyAsDouble(s) / y.metres())) > CONTRADICTS_LENGTH));
    }

    GroundFit.Result solved() {
        State s = start();
        collect();
        // The first size is that of the first known length, so that the steps begin near.
        if (scaled)
            s = new State(
                    s.turn,
                    s.h,
                    s.logScale
                            + Math.log((recipe.yardsticks().isEmpty()
                                            ? cameraHeight
                                            : recipe.yardsticks().get(0).metres())
                                    / lengths.get(0).applyAsDouble(s)));
        double[] weight = new double[flat.size()];
        for (int round = 0; round < ROUNDS; round++) {
            State now = s;
            double[] off = flat.stream().mapToDouble(r -> Math.abs(r.of(now))).toArray(), sorted = off.clone();
            Arrays.sort(sorted);
            double sigma = sorted.length == 0 ? 1 : Math.max(1.4826 * sorted[sorted.length / 2], 1e-7 * size);
            // Three points lie on their plane exactly; only against what else is said does it matter how well.
            if (sorted.length == 3) sigma = 0.002 * size;
            for (int i = 0; i < weight.length; i++)
                weight[i] = 1 / (sigma * (weight.length == 3 ? 1 : Math.sqrt(1 + Math.pow(off[i] / (2 * sigma), 2))));
            s = stepped(s, weight);
        }
        return result(s);
    }

    private double[] residuals(State s, double[] weight) {
        double[] e = new double[flat.size() + said.size()];
        for (int i = 0; i < flat.size(); i++) e[i] = weight[i] * flat.get(i).of(s);
        for (int i = 0; i < said.size(); i++) e[flat.size() + i] = said.get(i).of(s);
        return e;
    }

    private State stepped(State start, double[] weight) {
        State s = start;
        double[] e = residuals(s, weight), unit = {1, 1, 1, size, 1};
        double cost = Arrays.stream(e).map(v -> v * v).sum(), lambda = 1e-6;
        for (int step = 0; step < STEPS; step++) {
            SimpleMatrix j = new SimpleMatrix(e.length, 5);
            for (int k = 0; k < 5; k++) {
                double[] up = new double[5], down = new double[5];
                up[k] = 1e-6 * unit[k];
                down[k] = -up[k];
                double[] a = residuals(s.moved(up), weight), b = residuals(s.moved(down), weight);
                for (int i = 0; i < e.length; i++) j.set(i, k, (a[i] - b[i]) / 2e-6);
            }
            SimpleMatrix h = j.transpose().mult(j), g = j.transpose().mult(new SimpleMatrix(e.length, 1, true, e));
            for (int k = 0; k < 5; k++) h.set(k, k, h.get(k, k) * (1 + lambda) + 1e-9);
            SimpleMatrix x = h.solve(g);
            double[] d = new double[5];
            for (int k = 0; k < 5; k++) d[k] = -x.get(k) * unit[k];
            State next = s.moved(d);
            double[] f = residuals(next, weight);
            double c = Arrays.stream(f).map(v -> v * v).sum();
            if (!(c < cost)) {
                lambda *= 20;
                if (lambda > 1e6) break;
                continue;
            }
            boolean still = cost - c < 1e-12 * cost;
            s = next;
            e = f;
            cost = c;
            lambda *= 0.2;
            if (still) break;
        }
        return s;
    }

    private GroundFit.Result result(State s) {
        double scale = Math.exp(s.logScale);
        double[] off =
                flat.stream().mapToDouble(r -> Math.abs(r.of(s))).sorted().toArray();
        // One in ten of the picked points may lie; the flatness is that of the others.
        int n = recipe.groundPoints().isEmpty() ? off.length : Math.min(off.length, Math.max(3, off.length * 9 / 10));
        double sum = 0;
        for (int i = 0; i < n; i++) sum += off[i] * off[i] / n;
        Vec3 up = s.up(), origin = origin(s);
        Quat turn = Quat.axisAngle(Vec3.Y, Math.toRadians(recipe.axes().turnDeg()))
                .times(s.turn)
                .unit();
        Similarity to = new Similarity(scale, turn, turn.rotate(origin).times(-scale));
        List<Double> left = new ArrayList<>();
        for (int i = 0; i < recipe.yardsticks().size(); i++)
            left.add(recipe.yardsticks().get(i).metres() - lengths.get(i).applyAsDouble(s));
        return new GroundFit.Result(
                to,
                Math.sqrt(sum) * scale,
                ground,
                left,
                scaled,
                checks.stream().map(c -> c.apply(s)).toList(),
                GroundFit.places(points, recipe, up, s.h, to));
    }

    /** On the ground, in the solve's frame. */
    private Vec3 origin(State s) {
        Vec3 up = s.up();
        if (recipe.axes().originPoint() != 0) {
            Vec3 p = points.at(recipe.axes().originPoint(), up, s.h, "the origin");
            if (p == null) throw new BadInput("the origin is a point above the horizon; choose one on " + "the ground");
            return p.minus(up.times(p.dot(up) + s.h));
        }
        Vec3 foot = eye.minus(up.times(eye.dot(up) + s.h));
        if (!points.depth) {
            Vec3 flat = look.minus(up.times(look.dot(up)));
            return flat.length() < 1e-6 ? foot : foot.plus(flat.unit().times(AHEAD / Math.exp(s.logScale)));
        }
        // Where the first camera's lower middle meets the ground, or its foot when it looks above the horizon.
        SolvedCamera.Frame f = points.solve.frames().get(0);
        Vec3 d = f.pose()
                .rotation()
                .rotate(points.solve.lens(f.frame()).ray(points.solve.width() / 2.0, points.solve.height() * 0.75));
        double down = d.dot(up);
        return down < -1e-6 ? eye.plus(d.times(-(eye.dot(up) + s.h) / down)) : foot;
    }
}

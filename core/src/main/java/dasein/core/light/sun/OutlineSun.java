package dasein.core.light.sun;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.Sun;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * The sun's direction from the outline of the shadow that a known thing throws: at places along the shadow's edge the
 * sun's middle is just hidden by that thing. All directions are tried coarsely, then the best are bettered; a stroke
 * counts by how far from it the shadow's edge would lie, in pixels, and one that lies far off counts no further.
 */
public final class OutlineSun {
    /** Pixels by which an edge that was measured is off, and from which on it says no more. */
    private static final double HAND = 0.7, CAP = 25;

    private static final int STEPS = 40, KEPT = 4;
    private static final double COARSE = Math.toRadians(4), FINE = Math.toRadians(0.004);
    private static final double LOWEST = Math.toRadians(3), VAGUE_DEG = 6, CONTRADICTS_PX = 5;

    private OutlineSun() {}

    /** What throws the shadow. */
    public interface Caster {
        /** Whether it stands in the way of light from that direction (unit) to that place, metres. */
        boolean hides(Vec3 place, Vec3 towards);
    }

    /**
     * Across the shadow's edge on the ground.
     *
     * @param edge where the light is half gone, metres; @param way unit and level, into the shadow; @param pixel what a
     *     pixel covers that way, metres
     */
    public record Stroke(String name, Vec3 edge, Vec3 way, double pixel) {}

    /**
     * A stroke that was drawn across the edge, out of the sun into the shade.
     *
     * @param linear the plate's frame
     * @throws BadInput as {@link Penumbra#measure}
     */
    public static Stroke stroke(String name, Image linear, SolvedCamera camera, ShadowsFile.Edge drawn) {
        Penumbra.Edge e = Penumbra.measure(linear, drawn.from(), drawn.to(), drawn.blur());
        double dx = drawn.to()[0] - drawn.from()[0], dy = drawn.to()[1] - drawn.from()[1], length = Math.hypot(dx, dy);
        double x = drawn.from()[0] + dx * e.centre(), y = drawn.from()[1] + dy * e.centre();
        Vec3 edge = ShadowSun.ground(camera, drawn.frame(), new double[] {x, y}, 0, name),
                on = ShadowSun.ground(camera, drawn.frame(), new double[] {x + dx / length, y + dy / length}, 0, name);
        return new Stroke(name, edge, on.minus(edge).unit(), on.distance(edge));
    }

    /** @throws BadInput when there are fewer than two strokes, no direction fits, or they leave it free */
    public static ShadowSun.Result of(List<Stroke> strokes, Caster caster) {
        if (strokes.size() < 2)
            throw new BadInput("mark the edge of that shadow at two places or more, on different sides of it");
        List<double[]> starts = new ArrayList<>();
        for (double up = COARSE; up < Math.PI / 2; up += COARSE)
            for (double round = 0; round < 2 * Math.PI; round += COARSE / Math.max(0.2, Math.cos(up)))
                starts.add(new double[] {round, up, cost(strokes, caster, round, up)});
        starts.sort((a, b) -> Double.compare(a[2], b[2]));
        double[] best = null;
        for (double[] s : starts.subList(0, KEPT)) {
            double[] b = bettered(strokes, caster, s);
            if (best == null || b[2] < best[2]) best = b;
        }
        return result(strokes, caster, best);
    }

    private static double[] bettered(List<Stroke> strokes, Caster caster, double[] start) {
        double[] at = start.clone();
        for (double step = COARSE; step > FINE; ) {
            double[] next = null;
            for (int k = 0; k < 8; k++) {
                double turn = k * Math.PI / 4,
                        up = Math.max(LOWEST, Math.min(Math.PI / 2 - 1e-3, at[1] + step * Math.sin(turn))),
                        round = at[0] + step * Math.cos(turn) / Math.cos(at[1]),
                        c = cost(strokes, caster, round, up);
                if (c < at[2] && (next == null || c < next[2])) next = new double[] {round, up, c};
            }
            if (next == null) step /= 2;
            else at = next;
        }
        return at;
    }

    private static ShadowSun.Result result(List<Stroke> strokes, Caster caster, double[] at) {
        Vec3 s = Sun.direction(at[1], at[0]), a = s.anyPerpendicular().unit(), b = s.cross(a);
        double h = Math.toRadians(0.25), rms = 0, aa = 0, ab = 0, bb = 0;
        List<ShadowSun.Drawn> out = new ArrayList<>();
        double[] off = new double[strokes.size()], slope = new double[strokes.size()];
        for (int k = 0; k < off.length; k++) {
            Stroke t = strokes.get(k);
            off[k] = off(t, caster, s);
            double da = (off(t, caster, s.plus(a.times(h)).unit())
                            - off(t, caster, s.minus(a.times(h)).unit()))
                    / (2 * h);
            double db = (off(t, caster, s.plus(b.times(h)).unit())
                            - off(t, caster, s.minus(b.times(h)).unit()))
                    / (2 * h);
            slope[k] = Math.hypot(da, db);
            rms += off[k] * off[k] / off.length;
            if (Math.abs(off[k]) >= CAP) continue;
            aa += da * da;
            ab += da * db;
            bb += db * db;
        }
        long far = Arrays.stream(off).filter(o -> Math.abs(o) > CONTRADICTS_PX).count();
        if (2 * far > off.length)
            throw new BadInput("no sun throws the outline of that piece there: is it the piece that casts this shadow, "
                    + "and is it built as large as it was?");
        double least = (aa + bb - Math.hypot(aa - bb, 2 * ab)) / 2;
        double sigma = Math.max(HAND, Math.sqrt(rms)),
                spread = Math.toDegrees(sigma / Math.sqrt(Math.max(least, 1e-12)));
        if (spread > VAGUE_DEG)
            throw new BadInput("these strokes leave the sun free in one direction: mark the shadow's edge on another "
                    + "side of it, too");
        double square = 0;
        for (int k = 0; k < off.length; k++) {
            double deg = Math.toDegrees(Math.abs(off[k]) / Math.max(slope[k], 1e-6));
            square += deg * deg / off.length;
            out.add(new ShadowSun.Drawn(strokes.get(k).name(), deg, Math.abs(off[k]) > CONTRADICTS_PX));
        }
        return new ShadowSun.Result(s, Math.sqrt(square), spread, out);
    }

    private static double cost(List<Stroke> strokes, Caster caster, double round, double up) {
        Vec3 s = Sun.direction(up, round);
        double sum = 0;
        for (Stroke t : strokes) {
            double o = off(t, caster, s);
            // One that is far off does not pull the others.
            sum += Math.log1p(o * o / (4 * HAND * HAND));
        }
        return sum;
    }

    /** Pixels from the stroke's edge into the shadow to where that sun would have it. */
    private static double off(Stroke t, Caster caster, Vec3 s) {
        double step = 2 * CAP / STEPS, best = Double.NaN;
        boolean was = hidden(t, caster, s, -CAP);
        boolean any = was;
        for (int k = 1; k <= STEPS; k++) {
            boolean is = hidden(t, caster, s, -CAP + k * step);
            any |= is;
            if (is && !was) {
                double low = -CAP + (k - 1) * step, high = low + step;
                for (int i = 0; i < 9; i++) {
                    double middle = (low + high) / 2;
                    if (hidden(t, caster, s, middle)) high = middle;
                    else low = middle;
                }
                double here = (low + high) / 2;
                if (Double.isNaN(best) || Math.abs(here) < Math.abs(best)) best = here;
            }
            was = is;
        }
        return Double.isNaN(best) ? any ? -CAP : CAP : best;
    }

    private static boolean hidden(Stroke t, Caster caster, Vec3 s, double pixels) {
        return caster.hides(t.edge().plus(t.way().times(pixels * t.pixel())), s);
    }
}

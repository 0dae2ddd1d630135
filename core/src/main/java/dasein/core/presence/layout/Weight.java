package dasein.core.presence.layout;

import dasein.core.cast.Feet;
import dasein.core.cast.Performer;
import dasein.core.model.Mesh;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.List;
import java.util.Locale;
import org.ejml.simple.SimpleMatrix;

/**
 * Whether performers move as heavy things of their size do. Off the ground everything falls with g. On it, a leg that
 * carries is a pendulum turned upside down: whoever walks faster than v^2 = g l leaves the ground (Alexander 1989,
 * Physiological Reviews 69; from memory), so that a clip made for something small, on something large, looks too fast.
 */
public final class Weight implements Check {
    private static final double G = 9.81, LIMIT = 1.5;
    /** Length of legs, as a part of the height. */
    private static final double LEGS = 0.5;

    private static final int LEAST_AIRBORNE = 5;
    /** Of its height: higher than this it is off the ground. */
    private static final double OFF = 0.02;

    private static final Finding.About ABOUT = new Finding.About(
            "weight",
            "Weight",
            "blocking",
            "x",
            LIMIT,
            "half as much again as bodies fall, or as legs of that length can walk (Alexander 1989)");

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        int[] span = s.solved();
        if (span == null || s.blocking() == null) return ABOUT.unseen("The camera is not solved yet.");
        Finding worst = null;
        for (Performer p : s.standing()) {
            Finding f = of(s, p, span[0], span[1]);
            if (f != null && (worst == null || f.figure() > worst.figure())) worst = f;
        }
        return worst == null ? ABOUT.unseen("Nobody walks or jumps in the delivered frames.") : worst;
    }

    private static Finding of(Subject s, Performer p, int first, int last) {
        boolean everOff = false;
        double most = 0;
        int frame = 0, from = first;
        for (int f = first; f <= last + 1; f++) {
            boolean off = f <= last && Feet.lowest(s.blocking(), p, f).above() > OFF * p.heightMetres();
            everOff |= off;
            if (off) continue;
            // Those before this one were in the air, from the one after the last that was not.
            if (f - from > LEAST_AIRBORNE) {
                double g = fall(s, p, from, f - 1), ratio = g > 0 ? Math.max(g / G, G / g) : Double.NaN;
                if (ratio > most) {
                    most = ratio;
                    frame = (from + f) / 2;
                }
            }
            from = f + 1;
        }
        if (most > 0 && most <= LIMIT)
            return ABOUT.good(most, String.format(Locale.ROOT, "%s falls as bodies do.", p.name()));
        if (most > LIMIT)
            return ABOUT.found(
                            most,
                            String.format(
                                    Locale.ROOT,
                                    "In the air %s does not fall as things of %.1f m do: its time runs %.1f times too "
                                            + "fast or too slow.",
                                    p.name(),
                                    p.heightMetres(),
                                    Math.sqrt(most)))
                    .in(List.of(frame), frame);
        double v = speed(s, p, first, last);
        if (everOff || !(v > 0.05)) return null;
        double froude = v * v / (G * LEGS * p.heightMetres());
        if (froude <= LIMIT)
            return ABOUT.good(froude, String.format(Locale.ROOT, "%s walks as legs of its length can.", p.name()));
        return ABOUT.found(
                froude,
                String.format(
                        Locale.ROOT,
                        "%s walks at %.1f m/s and never leaves the ground: legs of something %.1f m high cannot. Slow "
                                + "its clip down to %.0f %%.",
                        p.name(),
                        v,
                        p.heightMetres(),
                        100 / Math.sqrt(froude)));
    }

    /** How fast it goes: over the ground, or as its clip steps on the spot; metres a second. */
    private static double speed(Subject s, Performer p, int first, int last) {
        double rate = s.plate().rate().perSecond(), way = 0;
        for (int f = first; f < last; f++)
            way += s.blocking().foot(p.id(), f).distance(s.blocking().foot(p.id(), f + 1));
        double over = last > first ? way * rate / (last - first) : 0;
        double steps = p.clips().isEmpty()
                ? 0
                : Math.abs(s.blocking().slide(p.id(), first + 1).stepSpeed()
                        * p.clips().get(0).speed());
        return Math.max(over, steps);
    }

    /** Acceleration downwards of its middle between two frames, m/s^2, by the parabola that fits best. */
    private static double fall(Subject s, Performer p, int first, int last) {
        int n = last - first + 1;
        SimpleMatrix a = new SimpleMatrix(n, 3), y = new SimpleMatrix(n, 1);
        for (int k = 0; k < n; k++) {
            double t = k / s.plate().rate().perSecond();
            a.setRow(k, 0, 1, t, t * t);
            y.set(k, middle(s.blocking().meshes(first + k, first + k), p.id()));
        }
        return -2 * a.solve(y).get(2);
    }

    private static double middle(List<Mesh> meshes, int performer) {
        double sum = 0;
        int n = 0;
        for (Mesh m : meshes) {
            if (m.performer() != performer) continue;
            float[] q = m.position0();
            for (int i = 1; i < q.length; i += 3, n++) sum += q[i];
        }
        return n == 0 ? 0 : sum / n;
    }
}

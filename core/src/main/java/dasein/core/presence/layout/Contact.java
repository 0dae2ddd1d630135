package dasein.core.presence.layout;

import dasein.core.cast.Feet;
import dasein.core.cast.Performer;
import dasein.core.math.Vec3;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/**
 * Whether performers stand on the ground: neither over it, nor in it. Who runs or jumps leaves it now and then; who is
 * never down in a quarter of the frames floats.
 */
public final class Contact implements Check {
    private static final double DOWN = 0.25;
    /** Metres, and pixels of the plate: the larger counts. */
    private static final double METRES = 0.01, PIXELS = 1;

    private static final Finding.About ABOUT = new Finding.About(
            "contact",
            "Contact with the ground",
            "blocking",
            "cm",
            100 * METRES,
            "a centimetre, or a pixel where that is more: less is not seen (common practice)");

    private record Off(Performer who, double metres, double limit, int frame, Vec3 at, List<Integer> frames) {}

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        int[] span = s.solved();
        if (span == null || s.blocking() == null) return ABOUT.unseen("The camera is not solved yet.");
        List<Performer> those = s.standing();
        if (those.isEmpty()) return ABOUT.unseen("Nobody is there who could stand on the ground.");
        Off worst = null;
        for (Performer p : those) {
            Off o = off(s, p, span[0], span[1]);
            if (worst == null || Math.abs(o.metres) / o.limit > Math.abs(worst.metres) / worst.limit) worst = o;
        }
        double cm = 100 * worst.metres;
        Finding.About about = ABOUT.limit(100 * worst.limit);
        if (Math.abs(worst.metres) <= worst.limit)
            return about.good(
                    Math.abs(cm), String.format(Locale.ROOT, "Feet meet the ground within %.1f cm.", Math.abs(cm)));
        return about.found(
                        Math.abs(cm),
                        String.format(
                                Locale.ROOT,
                                cm > 0 ? "%s floats %.1f cm above the ground." : "%s sinks %.1f cm into the ground.",
                                worst.who.name(),
                                Math.abs(cm)))
                .in(worst.frames, worst.frame)
                .at(s.seen(worst.frame, worst.at, 40));
    }

    private static Off off(Subject s, Performer p, int first, int last) {
        int n = last - first + 1;
        Feet.Stand[] low = new Feet.Stand[n];
        double[] gap = new double[n];
        double limit = METRES;
        for (int k = 0; k < n; k++) {
            low[k] = Feet.lowest(s.blocking(), p, first + k);
            gap[k] = low[k].above();
            double px = s.pixels(first + k, place(low[k]));
            if (k == n / 2 && px > 0) limit = Math.max(METRES, PIXELS / px);
        }
        double[] sorted = gap.clone();
        Arrays.sort(sorted);
        double sinks = sorted[0], floats = sorted[(int) (DOWN * (n - 1))];
        boolean in = -sinks > Math.max(floats, limit);
        List<Integer> frames = new ArrayList<>();
        int worst = 0;
        for (int k = 0; k < n; k++) {
            if (in ? -gap[k] > limit : floats > limit && gap[k] > limit) frames.add(first + k);
            if (in ? gap[k] < gap[worst] : Math.abs(gap[k] - floats) < Math.abs(gap[worst] - floats)) worst = k;
        }
        double metres = in ? sinks : Math.abs(floats) < -sinks ? sinks : floats;
        return new Off(p, metres, limit, first + worst, place(low[worst]), frames);
    }

    private static Vec3 place(Feet.Stand s) {
        return new Vec3(s.x(), s.y(), s.z());
    }
}

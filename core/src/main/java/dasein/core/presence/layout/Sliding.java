package dasein.core.presence.layout;

import dasein.core.cast.Feet;
import dasein.core.cast.PartTurn;
import dasein.core.cast.Performer;
import dasein.core.math.Vec3;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Whether what touches the ground stays where it is: how far it moves over it from frame to frame, in the picture. */
public final class Sliding implements Check {
    private static final double LIMIT = 0.5;
    /** What nine of ten frames keep to: a foot that is set down, or lifted, moves in one. */
    private static final double OF_TEN = 0.9;

    private static final Finding.About ABOUT = new Finding.About(
            "slide",
            "Sliding feet",
            "blocking",
            "px a frame",
            LIMIT,
            "half a pixel a frame is what solved cameras themselves slide by (common practice)");

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
        return worst == null ? ABOUT.unseen("Nobody touches the ground for two frames in a row.") : worst;
    }

    private static Finding of(Subject s, Performer p, int first, int last) {
        double[] cm = s.blocking().slide(p.id(), last).centimetres();
        List<double[]> all = new ArrayList<>();
        int from = s.camera().first();
        for (int k = 0; k < cm.length; k++) {
            int f = from + k;
            if (Double.isNaN(cm[k]) || f < first || f > last) continue;
            Feet.Stand at = Feet.lowest(s.blocking(), p, f);
            all.add(new double[] {
                cm[k] / 100 * s.pixels(f, new Vec3(at.x(), at.y(), at.z())), f, cm[k], at.x(), at.y(), at.z()
            });
        }
        if (all.size() < 2) return null;
        List<double[]> rising =
                all.stream().sorted((a, b) -> Double.compare(a[0], b[0])).toList();
        double[] w = rising.get((int) (OF_TEN * (rising.size() - 1)));
        if (w[0] <= LIMIT)
            return ABOUT.good(w[0], String.format(Locale.ROOT, "What stands stays, within %.2f px a frame.", w[0]));
        List<Integer> frames =
                all.stream().filter(a -> a[0] > LIMIT).map(a -> (int) a[1]).toList();
        return ABOUT.found(
                        w[0],
                        String.format(
                                Locale.ROOT,
                                p.parts().stream().anyMatch(PartTurn::rolls)
                                        ? "Wheels of %s are dragged by %.1f cm a frame; let them roll, and those "
                                                + "before or behind its fixed axle steer."
                                        : "Feet of %s slide by %.1f cm a frame; let its clip run as fast as it "
                                                + "moves, or plant its feet.",
                                p.name(),
                                w[2]))
                .in(frames, (int) w[1])
                .at(s.seen((int) w[1], new Vec3(w[3], w[4], w[5]), 40));
    }
}

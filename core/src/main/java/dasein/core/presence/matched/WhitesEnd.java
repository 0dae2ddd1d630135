package dasein.core.presence.matched;

import dasein.core.NoSolution;
import dasein.core.comp.step.Whites;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/** Whether performers get brighter than the plate's camera could show. */
public final class WhitesEnd implements Check {
    private static final double LIMIT = 5;
    /** A thousandth may be grain. */
    private static final double BRIGHTEST = 0.999;

    private static final int LEAST = 500;
    private static final Finding.About ABOUT = new Finding.About(
            "whites",
            "Whites",
            "comp",
            "% over the plate's",
            LIMIT,
            "a thirteenth of a stop over what is cut off is seen beside it (common practice)");

    private final Outcomes outcomes;
    private double most;
    private int frame;

    public WhitesEnd(Outcomes outcomes) {
        this.outcomes = outcomes;
    }

    @Override
    public void look(Frame f, Subject s) {
        float[] alpha = f.passes().alpha, v = new float[alpha.length];
        int n = 0;
        float[][] c = f.comp().planes;
        for (int i = 0; i < v.length; i++) if (alpha[i] > 0.98f) v[n++] = Math.max(c[0][i], Math.max(c[1][i], c[2][i]));
        if (n < LEAST) return;
        v = Arrays.copyOf(v, n);
        Arrays.sort(v);
        double top = v[(int) (BRIGHTEST * (n - 1))];
        if (frame > 0 && top <= most) return;
        most = top;
        frame = f.frame();
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (s.taken() == null || frame == 0) return ABOUT.unseen("No finished frame shows enough of a performer.");
        double end;
        String plate;
        try {
            var o = outcomes.of("whites", s.taken());
            end = o.recipe().get(Whites.WHITES);
            plate = o.plate();
        } catch (NoSolution e) {
            return ABOUT.unseen("It is not known: " + e.getMessage() + ".");
        }
        if (end == 0) return ABOUT.unseen("The plate " + plate + ": it does not tell where its whites end.");
        double over = Math.max(0, 100 * (most / end - 1));
        String sides = String.format(Locale.ROOT, "The plate is %s; performers reach %.2f.", plate, most);
        return over <= LIMIT
                ? ABOUT.good(over, sides)
                : ABOUT.found(over, sides)
                        .in(List.of(frame), frame)
                        .mendedBy(Finding.Mend.match("whites", s.taken().frame()));
    }
}

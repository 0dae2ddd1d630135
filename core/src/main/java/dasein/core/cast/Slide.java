package dasein.core.cast;

import dasein.core.model.Moment;
import java.util.Arrays;

/**
 * What of a performer slides, and how fast its clip's steps are. @param centimetres for each frame from the first: how
 * far what touches the ground moves over it until the next, of wheels the one that is dragged most; NaN where nothing
 * touches it. @param stepSpeed metres a second, 0 for a clip without steps
 */
public record Slide(double[] centimetres, double stepSpeed) {
    /** Median over the frames in which something touches the ground; NaN when nothing ever does. */
    public double median() {
        double[] s = Arrays.stream(centimetres)
                .filter(v -> !Double.isNaN(v))
                .sorted()
                .toArray();
        return s.length == 0 ? Double.NaN : s[s.length / 2];
    }

    static Slide of(Blocking b, Performer p, int first, int last) {
        double[] out = new double[Math.max(0, last - first)];
        double touch = 0.02 * p.heightMetres();
        WheelSlip wheels = new WheelSlip(b.model(p), b.wheels(p), b.scale(p, first));
        if (wheels.measures()) {
            for (int n = 0; n < out.length; n++)
                out[n] = wheels.between(b.at(p.id(), first + n), b.at(p.id(), first + n + 1), b.around, touch);
            return new Slide(out, 0);
        }
        Footing f = b.footing(p, p.clips().isEmpty() ? "" : p.clips().get(0).clip());
        float[] a = null;
        for (int n = 0; n <= out.length; n++) {
            Moment m = b.at(p.id(), first + n);
            Footing here = b.footing(p, m.clip() == null ? "" : m.clip().name());
            if (here != f) a = null;
            f = here;
            float[] now = f.places(m);
            if (n > 0) out[n - 1] = a == null ? Double.NaN : slid(b.around, a, now, touch);
            a = now;
        }
        return new Slide(
                out,
                b.footing(p, p.clips().isEmpty() ? "" : p.clips().get(0).clip()).stepSpeed() * b.scale(p, first));
    }

    /** Median way over the ground, in centimetres, of what touches it in both. */
    private static double slid(Blocking.Around around, float[] a, float[] b, double touch) {
        double[] way = new double[a.length / 3];
        int n = 0;
        for (int i = 0; i < a.length; i += 3) {
            if (a[i + 1] > around.ground(a[i], a[i + 2], a[i + 1] + touch) + touch
                    || b[i + 1] > around.ground(b[i], b[i + 2], b[i + 1] + touch) + touch) continue;
            way[n++] = 100 * Math.hypot(b[i] - a[i], b[i + 2] - a[i + 2]);
        }
        if (n == 0) return Double.NaN;
        Arrays.sort(way, 0, n);
        return way[n / 2];
    }
}

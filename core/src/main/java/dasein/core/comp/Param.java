package dasein.core.comp;

/**
 * A number of the comp, declared once: from here come what the document holds, which values are accepted, and the
 * slider on the page.
 *
 * @param name in the document and in forms
 * @param label on the page
 * @param rest where nothing is said
 * @param accepted least and most that may be typed; {@code sliding}: what the slider reaches, of which it takes
 *     {@code by}
 * @param shown what the page shows for 1, such as 100 for a share shown in percent; ranges are in what is shown
 */
public record Param(String name, String label, double rest, Range accepted, Range sliding, double by, double shown) {
    public record Range(double least, double most) {}

    /** Accepted from 0 to {@code most}. */
    public static Param of(String name, String label, double rest, double most) {
        return new Param(name, label, rest, new Range(0, most), new Range(0, most), most / 100, 1);
    }

    public Param sliding(double least, double most, double step) {
        return new Param(name, label, rest, accepted, new Range(least, most), step, shown);
    }

    public Param percent() {
        return new Param(name, label, rest, accepted, sliding, by, 100);
    }

    /** The nearest to a value, in the document's unit, that is accepted. */
    public double held(double v) {
        return Math.max(accepted.least() / shown, Math.min(accepted.most() / shown, v));
    }
}

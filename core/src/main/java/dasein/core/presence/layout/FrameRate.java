package dasein.core.presence.layout;

import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.Locale;

/** Whether it is known how fast the footage runs: a wrong rate makes everybody too fast or too slow. */
public final class FrameRate implements Check {
    private static final Finding.About ABOUT = new Finding.About(
            "rate", "Frame rate", "plate", "frames/s", 0, "it has to be what the footage was shot at");

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        double rate = s.plate().rate().perSecond();
        return s.plate().rateSaid()
                ? ABOUT.good(rate, String.format(Locale.ROOT, "%.3f frames a second, as the footage says.", rate))
                : ABOUT.found(
                        rate,
                        String.format(
                                Locale.ROOT,
                                "Nothing says how fast the footage runs; %.3f frames a second is only assumed. Set it "
                                        + "in Plate.",
                                rate));
    }
}

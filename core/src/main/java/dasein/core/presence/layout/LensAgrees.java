package dasein.core.presence.layout;

import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.Locale;

/** Whether the solved lens is the one that was noted: perspective of performers is its alone. */
public final class LensAgrees implements Check {
    private static final double LIMIT = 4;
    private static final Finding.About ABOUT = new Finding.About(
            "lens",
            "Lens as noted",
            "camera",
            "%",
            LIMIT,
            "what is written on lenses is rounded, and they breathe, by a few percent (common practice)");

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (s.camera() == null) return ABOUT.unseen("The camera is not solved yet.");
        if (!(s.focalMm() > 0) || !(s.sensorMm() > 0))
            return ABOUT.unseen("No focal length and sensor were noted on set to hold the solved lens against.");
        int f = s.camera().first();
        double mm = s.camera().lens(f).focalPx() * s.sensorMm() / s.plate().width(),
                off = 100 * Math.abs(mm / s.focalMm() - 1);
        if (off <= LIMIT)
            return ABOUT.good(off, String.format(Locale.ROOT, "Solved %.1f mm, noted %.1f mm.", mm, s.focalMm()));
        return ABOUT.found(
                        off,
                        String.format(
                                Locale.ROOT,
                                "The solve has a lens of %.1f mm, but %.1f mm was noted: sensor, crop or solve is not "
                                        + "right, and performers have another perspective than the plate.",
                                mm,
                                s.focalMm()))
                .in(java.util.List.of(f), f);
    }
}

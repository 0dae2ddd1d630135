package dasein.core.presence.picture;

import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;

/** Whether what stands in front pops: comes, goes or jumps from one frame to the next. */
public final class MaskPops implements Check {
    private static final Finding.About ABOUT = new Finding.About(
            "pops", "Masks that pop", "comp", "frames", 0, "a mask that jumps for one frame is always seen");

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (s.pops() == null) return ABOUT.unseen("Nothing stands in front.");
        return s.pops().isEmpty()
                ? ABOUT.good(0, "What stands in front moves evenly.")
                : ABOUT.found(
                                s.pops().size(),
                                "What stands in front pops in " + s.pops().size() + " frames.")
                        .in(s.pops(), s.pops().get(0));
    }
}

package dasein.core.track;

import dasein.core.BadInput;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/**
 * A mark put by hand: where it is in some frames, and how it is to be followed between and beyond them.
 *
 * @param region half size of the followed region, pixels
 * @param search how far it may move against its prediction from frame to frame, pixels
 * @param fixes places given by hand, rising by frame; never moved by tracking
 * @param first frame to follow to backward, {@code last} forward
 * @param sameLight the region's brightness does not change: neither gain nor bias is taken out
 * @param weights of red, green and blue in what is looked at; empty for brightness
 */
public record HandMark(
        int id,
        String name,
        int region,
        int search,
        Motion motion,
        List<Fix> fixes,
        int first,
        int last,
        boolean sameLight,
        List<Double> weights) {
    /** So many marks by hand stand on their own: nobody need have others found. */
    public static final int ENOUGH = 3;

    /** Hand marks and found ones share one list; theirs begin here. */
    public static final int FIRST_ID = 1_000_000;

    /** What the region may do beside moving, and from frame to frame with it. */
    public enum Motion {
        SHIFT("shift", 2),
        TURN("turn and size", 4),
        AFFINE("affine", 6),
        PERSPECTIVE("perspective", 8);

        public final String label;
        final int parameters;

        Motion(String label, int parameters) {
            this.label = label;
            this.parameters = parameters;
        }
    }

    /**
     * @param aside of the region's middle from the mark, {@code asideY} likewise, pixels: from here on the region
     *     beside the mark is followed and carries it, where the mark itself is hidden or outside the picture
     */
    public record Fix(int frame, double x, double y, double aside, double asideY) {
        public Fix(int frame, double x, double y) {
            this(frame, x, y, 0, 0);
        }
    }

    public HandMark(int id, String name, int region, int search, Motion motion, List<Fix> fixes, int first, int last) {
        this(id, name, region, search, motion, fixes, first, last, false, List.of());
    }

    public HandMark {
        if (weights == null) weights = List.of();
        if (!weights.isEmpty()
                && (weights.size() != 3
                        || weights.stream().anyMatch(w -> !(w >= 0 && w <= 1))
                        || weights.stream().mapToDouble(w -> w).sum() <= 0))
            throw new BadInput("the weights of red, green and blue must lie between 0 and 1, one of them above 0");
        if (fixes.isEmpty()) throw new BadInput("a mark needs a place");
        if (region < 4 || region > 60) throw new BadInput("the region must lie between 4 and 60 px");
        if (search < 1 || search > 200) throw new BadInput("the search area must lie between 1 and 200 px");
        for (int i = 1; i < fixes.size(); i++)
            if (fixes.get(i).frame() <= fixes.get(i - 1).frame()) throw new BadInput("the fixes of a mark must rise");
    }

    /** The fix that decides what is followed in a frame: the nearest, the earlier of two. */
    public Fix deciding(int frame) {
        return fixes.stream()
                .min(Comparator.comparingInt(f -> Math.abs(f.frame() - frame)))
                .orElseThrow();
    }

    /** With its place in a frame set; what is followed stays what it was. */
    public HandMark fixed(int frame, double x, double y) {
        Fix near = deciding(frame);
        return fixed(new Fix(frame, x, y, near.aside(), near.asideY()));
    }

    public HandMark fixed(Fix fix) {
        List<Fix> all = new ArrayList<>(fixes);
        int frame = fix.frame();
        all.removeIf(f -> f.frame() == frame);
        all.add(fix);
        all.sort(Comparator.comparingInt(Fix::frame));
        return new HandMark(
                id,
                name,
                region,
                search,
                motion,
                List.copyOf(all),
                Math.min(first, frame),
                Math.max(last, frame),
                sameLight,
                weights);
    }

    public HandMark to(int from, int until) {
        return new HandMark(id, name, region, search, motion, fixes, from, until, sameLight, weights);
    }
}

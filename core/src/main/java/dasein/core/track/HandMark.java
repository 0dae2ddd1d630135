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
 */
public record HandMark(int id, String name, int region, int search, Motion motion, List<Fix> fixes, int first, int last) {
    /** Hand marks and found ones share one list; theirs begin here. */
    public static final int FIRST_ID = 1_000_000;

    /** What the region may do beside moving, and from frame to frame with it. */
    public enum Motion {
        SHIFT("shift", 2), TURN("turn and size", 4), AFFINE("affine", 6), PERSPECTIVE("perspective", 8);

        public final String label;
        final int parameters;

        Motion(String label, int parameters) {
            this.label = label;
            this.parameters = parameters;
        }
    }

    public record Fix(int frame, double x, double y) {}

    public HandMark {
        if (fixes.isEmpty()) throw new BadInput("a mark needs a place");
        if (region < 4 || region > 60) throw new BadInput("the region must lie between 4 and 60 px");
        if (search < 1 || search > 200) throw new BadInput("the search area must lie between 1 and 200 px");
        for (int i = 1; i < fixes.size(); i++) if (fixes.get(i).frame() <= fixes.get(i - 1).frame()) throw new BadInput("the fixes of a mark must rise");
    }

    /** With its place in a frame set. */
    public HandMark fixed(int frame, double x, double y) {
        List<Fix> all = new ArrayList<>(fixes);
        all.removeIf(f -> f.frame() == frame);
        all.add(new Fix(frame, x, y));
        all.sort(Comparator.comparingInt(Fix::frame));
        return new HandMark(id, name, region, search, motion, List.copyOf(all), Math.min(first, frame), Math.max(last, frame));
    }

    public HandMark to(int from, int until) { return new HandMark(id, name, region, search, motion, fixes, from, until); }
}

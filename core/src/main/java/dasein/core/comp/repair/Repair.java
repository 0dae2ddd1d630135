package dasein.core.comp.repair;

import dasein.core.BadInput;
import java.util.List;

/**
 * A part of the plate that is covered by other plate: of the same frame, or of others.
 *
 * @param mask number of the drawn mask that is covered, 0 when it is discs about tracks
 * @param tracks whose marks are covered, each by a disc of {@code radius} pixels of the plate
 * @param dx, dy where the same frame is copied from, pixels of the plate from what is covered; both 0: from where the
 *     surroundings are most alike
 * @param moves how the picture moves behind what is covered: {@link #STILL}, {@link #GROUND}, or the number of a mask
 *     that is carried
 * @param from frame that is copied from
 * @param feather pixels of the plate over which it fades outward
 * @param clean it is not covered in the shot: only keys know, that look for what differs from the clean plate
 * @param feeds what is mirrored, and what the ground gives back, are of the mended plate, too
 */
public record Repair(
        int id,
        String name,
        boolean on,
        Source source,
        int mask,
        List<Integer> tracks,
        double radius,
        double dx,
        double dy,
        int moves,
        int from,
        double feather,
        boolean clean,
        boolean feeds) {
    public static final int STILL = 0, GROUND = -1;
    private static final int MOST_TRACKS = 200;

    public enum Source {
        /** From beside it in the same frame. */
        BESIDE("from beside it"),
        /** From one other frame. */
        FRAME("from one frame"),
        /** From the nearest frame, place by place, in which nothing covers it. */
        FREE("from frames where it is free");

        private final String label;

        Source(String label) {
            this.label = label;
        }

        public String label() {
            return label;
        }
    }

    public Repair {
        if (source == null) source = Source.BESIDE;
        tracks = tracks == null ? List.of() : List.copyOf(tracks);
        if (mask == 0 && tracks.isEmpty()) throw new BadInput("say what is to be covered: a mask, or marks");
        if (tracks.size() > MOST_TRACKS)
            throw new BadInput("more than " + MOST_TRACKS + " marks are not covered at once");
        if (!(radius >= 1 && radius <= 500)) throw new BadInput("the radius must lie between 1 and 500 px");
        if (!(Math.abs(dx) <= 5000 && Math.abs(dy) <= 5000))
            throw new BadInput("what is copied must lie within 5000 px of what is covered");
        if (!(feather >= 0 && feather <= 200)) throw new BadInput("the feather must lie between 0 and 200 px");
        if (source == Source.FREE && mask == 0)
            throw new BadInput("what is free in other frames is told by a mask that covers it in each");
    }
}

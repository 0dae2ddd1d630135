package dasein.core.comp.front;

import dasein.core.BadInput;
import java.util.List;

/**
 * Something in the plate that stands in front of the performers: all within a drawn mask, or what a key finds there.
 *
 * @param within number of the mask in which it is looked for, 0 for the whole frame; @param hold number of a mask all
 *     of which stands in front whatever the key says, @param away of one none of which does; 0 for none
 * @param low, high of what the key measures, in code values of 0 to 1: nothing is found below low, all above high; of
 *     what is dark the other way round
 * @param colour of a colour key, three code values of 0 to 1
 * @param turned what the key finds lies behind, and all else in front
 */
public record Front(
        int id,
        String name,
        boolean on,
        Key key,
        int within,
        int hold,
        int away,
        double low,
        double high,
        List<Double> colour,
        boolean turned) {
    public enum Key {
        /** All that the mask covers. */
        SHAPE("all in the mask"),
        /** What is brighter. */
        BRIGHT("what is brighter"),
        /** What is darker. */
        DARK("what is darker"),
        /** What differs from a colour, such as that of a screen or of the sky behind. */
        COLOUR("what is not of a colour"),
        /** What differs from the clean plate. */
        DIFFERENCE("what differs from the clean plate");

        private final String label;

        Key(String label) {
            this.label = label;
        }

        public String label() {
            return label;
        }
    }

    public Front {
        if (key == null) key = Key.SHAPE;
        if (colour == null || colour.isEmpty()) colour = List.of(0.0, 0.0, 0.0);
        if (colour.size() != 3) throw new BadInput("a colour has three parts");
        for (double c : colour)
            if (!(c >= 0 && c <= 1)) throw new BadInput("a colour's parts must lie between 0 and 100 %");
        if (!(low >= 0 && high <= 2 && low < high))
            throw new BadInput("a key must find nothing at a lower value than it finds all: low must lie below high");
        if (key == Key.SHAPE && within == 0 && hold == 0)
            throw new BadInput("choose the mask that stands in front, or a key that finds it");
    }

    /** Whether it uses a drawn mask. */
    public boolean uses(int mask) {
        return mask != 0 && (within == mask || hold == mask || away == mask);
    }
}
